package wall

import (
	"net/http"
	"strconv"

	"zestysketch/internal/core/lesson"
	"zestysketch/internal/room"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

// projector is the wall for the class to see: maps without names, the clock,
// the stage, and the box that everyone does.
func (a area) projector(w http.ResponseWriter, r *http.Request, work *room.Room) (err error) {
	v := projection{Project: work.Project, Stage: mostAt(work), Unit: work.Road.Unit()}
	if v.Called, err = a.calledNow(r, work.Project); err != nil {
		return err
	}
	for i, s := range work.Students {
		t := a.newTile(work, s, lesson.Need{})
		t.Twice = false // the teacher is told, not the class
		t.Student.Name = strconv.Itoa(i + 1)
		v.Tiles = append(v.Tiles, t)
		v.Done, v.All = v.Done+t.Done, v.All+t.All
	}
	if cell, ok := work.Plans.Class.Find(r.URL.Query().Get("box")); ok {
		v.Box = cell.Label
	} else if asked := kit.Tidy(r.URL.Query().Get("box")); asked != "" {
		v.Asked = asked
	}
	return pages.Whole(w, r, "projector.html", work.Project.Name, v)
}

// projection is what the projector shows.
type projection struct {
	Project   store.Project
	Tiles     []tile
	Done, All int
	Stage     lesson.Stage
	Box       string
	Asked     string // a box that there is not
	Called    called
	Unit      lesson.Unit
}

// mostAt returns the stage at which most of a class is.
func mostAt(work *room.Room) (stage lesson.Stage) {
	at, most := map[lesson.StageID]int{}, 0
	for _, s := range work.Students {
		at[work.Place(s.ID).Stage.ID]++
	}
	for _, s := range work.Road.On() {
		if at[s.ID] > most {
			most, stage = at[s.ID], s
		}
	}
	return stage
}
