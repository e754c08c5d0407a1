// Package wall shows the room: a tile per student with a map of boxes done,
// and one student's map large enough to tick.
package wall

import (
	"embed"
	"net/http"
	"strconv"

	"github.com/go-chi/chi/v5"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/press"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

//go:embed *.html
var files embed.FS

var pages = kit.NewPages(files)

type area struct{ *kit.Kit }

// Routes adds the area's addresses.
func Routes(r chi.Router, k *kit.Kit) {
	a := area{k}
	r.Get("/projects/{project}/wall", k.Handle(a.show))
	r.Post("/projects/{project}/class", k.Handle(a.chooseClass))
	r.Get("/projects/{project}/students/{student}/desk", k.Handle(a.desk))
	r.Post("/projects/{project}/students/{student}/ticks", k.Handle(a.tick))
}

// room is what the wall shows.
type room struct {
	Project store.Project
	Rail    kit.Rail
	Tiles   []tile
	Desk    *tile
	Classes []store.Class
}

// tile is one student's progress.
type tile struct {
	Project   uint64
	Student   store.Student
	Rows      []row
	Columns   []string
	Width     int // of the map's drawing, in tenths of a box
	Height    int
	Done, All int
	Shown     bool
	Previous  uint64 // neighbours on the wall, 0 at the ends
	Next      uint64
}

type row struct {
	Head  string
	Boxes []box
}

type box struct {
	grid.Cell
	Done bool
	X, Y int // in the map's drawing
}

func newTile(project uint64, plan grid.Plan, s store.Student, ticks map[string]bool) tile {
	t := tile{Project: project, Student: s, All: plan.Count(), Done: kit.CountDone(plan, ticks),
		Width: 10 * plan.Grid.Columns, Height: 10 * plan.Grid.Rows}
	for c := range plan.Grid.Columns {
		t.Columns = append(t.Columns, plan.Grid.Labels.Column(c))
	}
	for y := range plan.Grid.Rows {
		r := row{Head: plan.Grid.Labels.Row(y)}
		for x := range plan.Grid.Columns {
			cell := plan.Cell(x, y)
			r.Boxes = append(r.Boxes, box{cell, ticks[cell.Label], 10 * x, 10 * y})
		}
		t.Rows = append(t.Rows, r)
	}
	return t
}

func (a area) show(w http.ResponseWriter, r *http.Request) error {
	p, plan, err := a.Planned(r)
	if err != nil {
		return err
	}
	view := room{Project: p, Rail: kit.Rail{Project: p, Here: kit.StepDraw, Planned: true}}
	if view.Classes, err = a.Store.Classes(r.Context(), p.TeacherID); err != nil {
		return err
	}
	ticks, err := a.Store.Ticks(r.Context(), p.ID)
	if err != nil {
		return err
	}
	plans, err := press.LoadPlans(r.Context(), a.Store, p, plan)
	if err != nil {
		return err
	}
	if p.Class != nil {
		wanted, _ := strconv.ParseUint(r.URL.Query().Get("student"), 10, 63)
		view.fill(plans, p.Class.Students, ticks, wanted)
	}
	return pages.Whole(w, r, "wall.html", p.Name+" · wall", view)
}

func (v *room) fill(plans press.Plans, students []store.Student, ticks map[uint64]map[string]bool, wanted uint64) {
	shown := 0
	for i, s := range students {
		t := newTile(v.Project.ID, plans.Of(s.ID), s, ticks[s.ID])
		t.Previous, t.Next = neighbours(students, i)
		v.Tiles = append(v.Tiles, t)
		if s.ID == wanted {
			shown = i
		}
	}
	if len(v.Tiles) > 0 {
		v.Desk = &v.Tiles[shown]
		v.Desk.Shown = true
	}
}

func neighbours(students []store.Student, i int) (previous, next uint64) {
	if i > 0 {
		previous = students[i-1].ID
	}
	if i+1 < len(students) {
		next = students[i+1].ID
	}
	return previous, next
}

func (a area) chooseClass(w http.ResponseWriter, r *http.Request) error {
	if err := kit.ReadForm(w, r); err != nil {
		return err
	}
	p, err := a.Project(r)
	if err != nil {
		return err
	}
	class, err := a.Chosen(r)
	if err != nil {
		return err
	}
	if class == nil {
		return kit.Ask("Choose a class from the list, or make one under Classes.")
	}
	if err := a.Store.SetClass(r.Context(), p.TeacherID, p.ID, *class); err != nil {
		return err
	}
	return kit.Go(w, r, kit.ProjectPath(p.ID)+"/wall")
}

// one returns the tile of the student in the address.
func (a area) one(r *http.Request, p store.Project, plan grid.Plan) (tile, error) {
	id, err := kit.ID(r, "student")
	if err != nil {
		return tile{}, err
	}
	if p.Class == nil {
		return tile{}, store.ErrNotFound
	}
	for i, s := range p.Class.Students {
		if s.ID != id {
			continue
		}
		plans, err := press.LoadPlans(r.Context(), a.Store, p, plan)
		if err != nil {
			return tile{}, err
		}
		plan = plans.Of(s.ID)
		ticks, err := a.Store.StudentTicks(r.Context(), p.ID, s.ID)
		t := newTile(p.ID, plan, s, ticks)
		t.Previous, t.Next = neighbours(p.Class.Students, i)
		t.Shown = true
		return t, err
	}
	return tile{}, store.ErrNotFound
}

func (a area) desk(w http.ResponseWriter, r *http.Request) error {
	p, plan, err := a.Planned(r)
	if err != nil {
		return err
	}
	t, err := a.one(r, p, plan)
	if err != nil {
		return err
	}
	if !kit.IsFragment(r) {
		return kit.Go(w, r, kit.ProjectPath(p.ID)+"/wall?student="+strconv.FormatUint(t.Student.ID, 10))
	}
	return pages.Part(w, r, "wall.html", "desk", http.StatusOK, t)
}

// tick saves one box, done or not, and answers with the student's tile and desk.
func (a area) tick(w http.ResponseWriter, r *http.Request) error {
	if err := kit.ReadForm(w, r); err != nil {
		return err
	}
	p, plan, err := a.Planned(r)
	if err != nil {
		return err
	}
	student, err := kit.ID(r, "student")
	if err != nil {
		return err
	}
	plans, err := press.LoadPlans(r.Context(), a.Store, p, plan)
	if err != nil {
		return err
	}
	cell, ok := plans.Of(student).Find(r.FormValue("label"))
	done, known := map[string]bool{"1": true, "0": false}[r.FormValue("on")]
	if !ok || !known {
		return kit.Ask("That box is not in the present plan. Open the wall again to see the new grid.")
	}
	if err := a.Store.Tick(r.Context(), p.TeacherID, p.ID, student, cell.Label, done); err != nil {
		return err
	}
	if !kit.IsFragment(r) {
		return kit.Go(w, r, kit.ProjectPath(p.ID)+"/wall?student="+strconv.FormatUint(student, 10))
	}
	t, err := a.one(r, p, plan)
	if err != nil {
		return err
	}
	return pages.Part(w, r, "wall.html", "ticked", http.StatusOK, t)
}
