package wall

import (
	"errors"
	"net/http"
	"strconv"
	"time"

	"zestysketch/internal/core/lesson"
	"zestysketch/internal/room"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

// roadView is what the road's page shows.
type roadView struct {
	Project store.Project
	Rail    kit.Rail
	Road    lesson.Road
	Laid    []laidView
	Over    float64
	Left    float64 // minutes to draw, where the lessons are Known
	Known   bool
	Problem string
}

// laidView is one lesson with what is done in it.
type laidView struct {
	lesson.Laid
	Date string
}

// newRoadView lays the road over the class's lessons to come.
func newRoadView(r *http.Request, p store.Project, road lesson.Road) roadView {
	v := roadView{Project: p, Rail: kit.Rail{Project: p, Here: kit.StepDraw, Planned: true}, Road: road}
	laid, over := lesson.Lay(road.On(), room.LessonsOf(p.Class))
	v.Over = over
	v.Left, v.Known = room.TimeToDraw(p, kit.Clock(r), time.Now())
	for _, l := range laid {
		if len(l.Parts) > 0 {
			v.Laid = append(v.Laid, laidView{l, kit.Clock(r).Weekday(l.Day)})
		}
	}
	return v
}

func (a area) showRoad(w http.ResponseWriter, r *http.Request) error {
	p, err := a.Project(r)
	if err != nil {
		return err
	}
	return pages.Whole(w, r, "road.html", p.Name+" · road", newRoadView(r, p, p.EffectiveRoad()))
}

func (a area) setRoad(w http.ResponseWriter, r *http.Request) error {
	p, err := a.Posted(w, r)
	if err != nil {
		return err
	}
	road := lesson.NewRoad()
	road.Outline, road.Darks, road.Helpers = r.FormValue("outline"), r.FormValue("darks"), r.FormValue("helpers") != ""
	for i := range road.Stages {
		s := &road.Stages[i]
		field := string(s.Kind)
		s.On = r.FormValue("on_"+field) != ""
		s.Checkpoint = kit.Tidy(r.FormValue("check_" + field))
		if s.Minutes, err = strconv.ParseFloat(r.FormValue("minutes_"+field), 64); err != nil {
			s.Minutes = -1 // said below, if the stage is on
		}
	}
	checked, err := road.Check()
	if err != nil {
		v := newRoadView(r, p, road)
		v.Problem = kit.Said(err)
		if kit.IsFragment(r) {
			return kit.AskAt(fieldOf(err), "%s", v.Problem) // what was typed stays where it is
		}
		return pages.WholeStatus(w, r, "road.html", p.Name+" · road", http.StatusUnprocessableEntity, v)
	}
	if err := a.Store.SetRoad(r.Context(), p.TeacherID, p.ID, checked); err != nil {
		return err
	}
	return kit.Go(w, r, kit.ProjectPath(p)+"/road")
}

// fieldOf names the road's field that an error is about, empty for none.
func fieldOf(err error) string {
	var at lesson.StageError
	switch {
	case !errors.As(err, &at):
		return ""
	case at.Checkpoint:
		return "check_" + string(at.Kind)
	}
	return "minutes_" + string(at.Kind)
}

// projector is the wall for the class to see: maps without names, the clock,
// the stage, and the box that everyone does.
func (a area) projector(w http.ResponseWriter, r *http.Request) error {
	work, err := a.load(r)
	if err != nil {
		return err
	}
	v := projection{Project: work.Project}
	kinds := map[lesson.StageKind]int{}
	for i, s := range work.Students {
		t := newTile(work, s, "")
		t.Student.Name = strconv.Itoa(i + 1)
		v.Tiles = append(v.Tiles, t)
		v.Done, v.All = v.Done+t.Done, v.All+t.All
		kinds[t.Place.Stage.Kind]++
	}
	most := 0
	for _, s := range work.Road.On() {
		if kinds[s.Kind] > most {
			most, v.Stage = kinds[s.Kind], s
		}
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
}
