package wall

import (
	"fmt"
	"net/http"
	"slices"
	"strconv"

	"zestysketch/internal/core/lesson"
	"zestysketch/internal/room"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

// many is what was done for many students at once, and how to take it back.
type many struct {
	Project string
	Stage   lesson.Stage
	Done    bool
	News    []uint64 // for whom it was news
	Closed  int      // left out, for the stage is still closed to them
}

// stageForMany records for everybody, for a group, or for some students, that a stage is
// done, or that it is not after all. Those to whom it is closed are left out, and counted.
func (a area) stageForMany(w http.ResponseWriter, r *http.Request, work *room.Room) (err error) {
	m := many{Project: work.Project.Key(), Done: r.FormValue("on") != "0"}
	known := false
	if m.Stage, known = work.Road.Find(lesson.StageID(r.FormValue("stage"))); !known || !m.Stage.On {
		return kit.Ask("Choose a stage of this project’s road.")
	}
	var ids []uint64
	for _, s := range who(work, r) {
		if m.Done && !work.Road.Open(m.Stage.ID, work.Stages(s.ID), work.State.VerdictsOf(s.ID)) {
			m.Closed++
			continue
		}
		ids = append(ids, s.ID)
	}
	if len(ids)+m.Closed == 0 {
		return kit.Ask("Choose for whom: everybody, a group, or some students.")
	}
	if m.News, err = a.Store.DoStages(r.Context(), work.Project.TeacherID, work.Project.ID, ids, m.Stage.ID, m.Done); err != nil {
		return err
	}
	if !kit.IsFragment(r) {
		return kit.Go(w, r, kit.ProjectPath(work.Project)+"/wall")
	}
	return pages.Part(w, r, "wall.html", "many", http.StatusOK, m)
}

// begin says at which stage of the road the project's students begin, newcomers too.
func (a area) begin(w http.ResponseWriter, r *http.Request, p store.Project) error {
	road := p.EffectiveRoad()
	stage, known := road.Find(lesson.StageID(r.FormValue("stage")))
	if !known || !stage.On {
		return kit.Ask("Choose a stage of this project’s road.")
	}
	road.Begins = stage.ID
	if err := a.Store.SetRoad(r.Context(), p.TeacherID, p.ID, road); err != nil {
		return err
	}
	return kit.Go(w, r, kit.ProjectPath(p)+"/wall")
}

// who returns the students that a form means: those it names, a group, or all who are here.
func who(work *room.Room, r *http.Request) (list []store.Student) {
	named, team := r.Form["student"], r.FormValue("team")
	for _, s := range work.Students {
		switch {
		case len(named) > 0:
			if !slices.Contains(named, strconv.FormatUint(s.ID, 10)) {
				continue
			}
		case team != "" && s.Team != team, work.Seats[s.ID].Absent:
			continue
		}
		list = append(list, s)
	}
	return list
}

// Says says in words what was done.
func (m many) Says() string {
	words := map[bool]string{true: "is done", false: "is not done after all"}[m.Done]
	say := fmt.Sprintf("“%s” %s for %d.", m.Stage.Name(), words, len(m.News))
	if m.Closed > 0 {
		say += fmt.Sprintf(" %d left out: what comes before is not done, or not looked at yet.", m.Closed)
	}
	return say
}

// round is one student after another, for a walk through the class.
type round struct {
	Project  store.Project
	Tile     tile
	Last     store.Verdict
	Number   int // from 1
	Of       int
	Previous uint64 // 0 at the ends
	Next     uint64
	Photo    uint64 // the last one's picture, 0 for none
	CheckIn  uint64
}

// showRound shows the student whose turn it is.
func (a area) showRound(w http.ResponseWriter, r *http.Request, work *room.Room) (err error) {
	if len(work.Students) == 0 {
		return kit.Ask("This project has no students yet. Choose a class on the wall first.")
	}
	slices.SortStableFunc(work.Students, store.BySeat) // as one walks
	wanted, _ := strconv.ParseUint(r.FormValue("student"), 10, 63)
	at := max(0, slices.IndexFunc(work.Students, func(s store.Student) bool { return s.ID == wanted }))
	s := work.Students[at]
	v := round{Project: work.Project, Tile: a.newTile(work, s, needs(work)[s.ID]), Number: at + 1, Of: len(work.Students)}
	v.Last = work.State.Last(s.ID, v.Tile.Place.Stage.ID)
	if at > 0 {
		v.Previous = work.Students[at-1].ID
	}
	if at+1 < len(work.Students) {
		v.Next = work.Students[at+1].ID
	}
	photos, err := a.Store.CheckInsEverywhere(r.Context(), work.Project.TeacherID, []uint64{s.ID})
	if err != nil {
		return err
	}
	for _, c := range photos { // the oldest first
		if c.ProjectID == work.Project.ID {
			v.Photo, v.CheckIn = c.PictureID, c.ID
		}
	}
	return pages.Whole(w, r, "round.html", work.Project.Name+" · round", v)
}
