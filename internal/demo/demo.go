// Package demo is a made-up school in a made-up harbour town: its class, its
// pictures, and pretend students whose drawings a pretend camera photographs.
package demo

import (
	"bytes"
	"context"
	"fmt"
	"image/png"
	"math/rand/v2"
	"slices"
	"time"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/core/survey"
	"zestysketch/internal/intake"
	"zestysketch/internal/render"
	"zestysketch/internal/store"
)

// The demo teacher's sign-in.
const (
	Email    = "venn@quay.example"
	Password = "look-twice-draw-once"
)

const school = "Quay Lane Middle School, Port Osmere"

var names = []string{
	"Ada", "Amir", "Bryn", "Cleo", "Dario", "Edda", "Émile", "Farah", "Goran", "Hana", "Inês", "Jonas",
	"Kaya", "Lena", "Mira", "Noor", "Otis", "Petra", "Quinn", "Rosa", "Søren", "Tove", "Uma", "Ζωή",
}

// Load fills an empty database. One that has a teacher is left alone.
func Load(ctx context.Context, s *store.Store) error {
	if n, err := s.CountTeachers(ctx); err != nil || n > 0 {
		return err
	}
	l := loader{ctx, s, store.Teacher{}, store.Class{}, rand.New(rand.NewPCG(7, 24))}
	if err := l.people(); err != nil {
		return fmt.Errorf("loading the demo class: %w", err)
	}
	for _, one := range []struct {
		scene scene
		ask   grid.Request
	}{
		{bicycle(), grid.Request{Reference: "9 in", Paper: "18 x 24 in", Fit: "inside", ReferenceSquare: "1 in", Scale: "2"}},
		{jugAndLemons(), grid.Request{Units: "cm", Reference: "24 cm", Paper: "A3", Method: "parts", Parts: "4 x 4"}},
		{harbourLight(), grid.Request{Reference: "7 in", Paper: "12 x 18 in", ReferenceSquare: "1 in", SheetSquare: "1 1/2 in"}},
	} {
		if err := l.project(one.scene, one.ask); err != nil {
			return fmt.Errorf("loading the demo project %q: %w", one.scene.page.Title, err)
		}
	}
	return nil
}

type loader struct {
	ctx     context.Context
	s       *store.Store
	teacher store.Teacher
	class   store.Class
	rng     *rand.Rand
}

func (l *loader) people() (err error) {
	if l.teacher, err = l.s.AddTeacher(l.ctx, school, Email, "Ms Venn", Password); err != nil {
		return err
	}
	if l.class, err = l.s.AddClass(l.ctx, l.teacher.ID, "7 Quay"); err != nil {
		return err
	}
	if _, err = l.s.AddStudents(l.ctx, l.teacher.ID, l.class.ID, names); err != nil {
		return err
	}
	if l.class, err = l.s.Class(l.ctx, l.teacher.ID, l.class.ID); err != nil {
		return err
	}
	tables := []string{"Buoy table", "Mole table", "Pier table", "Tide table"}
	for i, s := range l.class.Students {
		traits := store.Traits{Hand: "right", Team: tables[i*len(tables)/len(l.class.Students)]}
		if slices.Contains(leftHanded, i) {
			traits.Hand = "left"
		}
		if i == slow {
			traits.Pace, traits.Home = "slow", "window, baking paper"
		}
		if err := l.s.DescribeStudent(l.ctx, l.teacher.ID, s.ID, traits); err != nil {
			return err
		}
	}
	return l.printer()
}

// Students of the demo, by their place in the class.
var leftHanded = []int{3, 11, 17}

const slow = 4

// printer keeps the staff room's, as a ruler on its check page told.
func (l *loader) printer() error {
	p := store.Printer{TeacherID: l.teacher.ID, Name: "Staff room", Margin: 5}
	if err := l.s.AddPrinter(l.ctx, &p); err != nil {
		return err
	}
	return l.s.Correct(l.ctx, store.Correction{PrinterID: p.ID, Paper: "Letter", Across: StaffRoom.Across, Down: StaffRoom.Down})
}

// keep stores a picture as an upload would be.
func (l *loader) keep(name string, b []byte, purpose store.Purpose) (store.Picture, error) {
	p, files, err := intake.Take(name, b, purpose)
	if err != nil {
		return p, err
	}
	p.TeacherID = l.teacher.ID
	return p, l.s.AddPicture(l.ctx, &p, files)
}

// perMM is the resolution of the demo's pictures: 250 pixels an inch.
const perMM = 10

func (l *loader) project(sc scene, ask grid.Request) error {
	var file bytes.Buffer
	img := render.Pixels(sc.page, perMM, nil)
	if err := png.Encode(&file, img); err != nil {
		return err
	}
	pic, err := l.keep(sc.page.Title+".png", file.Bytes(), store.ForReference)
	if err != nil {
		return err
	}
	p := store.Project{TeacherID: l.teacher.ID, ClassID: &l.class.ID, PictureID: &pic.ID, Name: sc.page.Title, Looseness: store.Normal}
	if err := l.s.AddProject(l.ctx, &p); err != nil {
		return err
	}
	ask.Name, ask.Picture = p.Name, [2]int{pic.Width, pic.Height}
	plan, err := grid.Make(ask)
	if err != nil {
		return err
	}
	plan = plan.WithContrast(survey.Contrast(img, plan), pic.Facts.Drawing)
	text, err := grid.Encode(plan)
	if err != nil {
		return err
	}
	if _, err := l.s.SavePlan(l.ctx, l.teacher.ID, p.ID, 0, p.Name, string(text), nil); err != nil {
		return err
	}
	for _, m := range sc.landmarks {
		mark := store.Landmark{ProjectID: p.ID, PictureID: p.PictureID, Name: m.name, Weight: m.weight, X: m.at.X * perMM, Y: m.at.Y * perMM}
		if err := l.s.AddLandmark(l.ctx, &mark); err != nil {
			return err
		}
	}
	if sc.page.Title != harbourLight().page.Title {
		return nil
	}
	return l.halfWay(p, plan, sc)
}

// halfWay has the class at work, and checks three drawings in.
func (l *loader) halfWay(p store.Project, plan grid.Plan, sc scene) error {
	now := time.Now()
	if err := l.calendar(now); err != nil {
		return err
	}
	if err := l.draw(p, plan, now); err != nil {
		return err
	}
	if err := l.stages(p); err != nil {
		return err
	}
	marks, err := l.s.Landmarks(l.ctx, p.ID, p.PictureID)
	if err != nil {
		return err
	}
	for i, d := range drawings(plan) {
		if err := l.checkIn(p, plan, sc, marks, l.class.Students[d.by].ID, d, i < 2); err != nil {
			return err
		}
	}
	return nil
}

// drawing is one student's drawing as one camera sees it.
type drawing struct {
	by     int // in the class, by name
	hand   student
	camera camera
}

func drawings(p grid.Plan) []drawing {
	cell := p.Grid.SheetCell[0]
	return []drawing{
		{2, student{Turn: 0.2, Size: 1.002, Unsteady: 0.25, PencilWeight: 1.2, Slips: map[string]grid.Point{"Tip of the mast": {X: 0.3 * cell}}},
			camera{1500, 2000, picture.Quad{{X: 231, Y: 245}, {X: 1268, Y: 228}, {X: 1333, Y: 1630}, {X: 166, Y: 1603}}, 0.25, 3}},
		{5, student{Turn: 1.6, Size: 1.03, Unsteady: 0.3, PencilWeight: 1.3, Slips: map[string]grid.Point{"Top of the door": {X: -0.45 * cell, Y: -0.2 * cell}}},
			camera{1500, 2000, picture.Quad{{X: 176, Y: 272}, {X: 1304, Y: 216}, {X: 1252, Y: 1668}, {X: 205, Y: 1590}}, 0.35, 4}},
		{9, student{Size: 1, Unsteady: 0.35, PencilWeight: 1.1, Rows: 5},
			camera{1500, 2000, picture.Quad{{X: 214, Y: 301}, {X: 1281, Y: 262}, {X: 1360, Y: 1612}, {X: 143, Y: 1655}}, 0.4, 4}},
	}
}

// checkIn photographs a drawing. Where placed is set, corners and landmarks
// are where the camera knows them to be; else the teacher has yet to place them.
func (l *loader) checkIn(p store.Project, plan grid.Plan, sc scene, marks []store.Landmark, studentID uint64, d drawing, placed bool) error {
	const fine = 5.0 // pixels a millimetre of the pretend sheet
	jpg, err := d.camera.shoot(plan, d.hand.draw(plan, sc, fine, l.rng), fine, l.rng)
	if err != nil {
		return err
	}
	pic, err := l.keep("photo.jpg", jpg, store.ForCheckIn)
	if err != nil {
		return err
	}
	c := store.CheckIn{ProjectID: p.ID, StudentID: studentID, PictureID: pic.ID}
	if placed {
		corners, known, err := truth(plan, sc, d)
		if err != nil {
			return err
		}
		c.Corners, c.Marks = &corners, map[uint64][2]float64{}
		for i, m := range marks { // kept in the scene's order
			c.Marks[m.ID] = known[i].Photo
		}
	}
	return l.s.AddCheckIn(l.ctx, l.teacher.ID, &c)
}
