// Package demo is a made-up school in a made-up harbour town: its class, its
// pictures, and pretend students whose drawings a pretend camera photographs.
package demo

import (
	"bytes"
	"context"
	"fmt"
	"image"
	"image/png"
	"math/rand/v2"
	"slices"
	"time"

	"zestysketch/internal/core/accuracy"
	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/core/survey"
	"zestysketch/internal/intake"
	"zestysketch/internal/render"
	"zestysketch/internal/starters"
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
	for _, code := range []string{"bicycle", "jug"} {
		if err := l.starter(code); err != nil {
			return fmt.Errorf("loading the demo project %q: %w", code, err)
		}
	}
	for _, one := range []struct {
		Scene Scene
		ask   grid.Request
	}{
		{harbourLight(), grid.Request{Reference: "7 in", Paper: "12 x 18 in", ReferenceSquare: "1 in", SheetSquare: "1 1/2 in"}},
		{quaySheds(), grid.Request{Units: "cm", Reference: "20 cm", Paper: "A3", Method: "parts", Parts: "8 x 6"}},
	} {
		if err := l.project(one.Scene, one.ask); err != nil {
			return fmt.Errorf("loading the demo project %q: %w", one.Scene.Page.Title, err)
		}
	}
	if err := l.colleague(); err != nil {
		return fmt.Errorf("loading the demo's colleague: %w", err)
	}
	return nil
}

// colleague is somebody who may cover what the class is drawing, which was printed.
func (l *loader) colleague() error {
	mate, err := l.s.AddTeacher(l.ctx, school, "holm@quay.example", "Mr Holm", Password)
	if err != nil {
		return err
	}
	list, err := l.s.Projects(l.ctx, l.teacher.ID)
	if err != nil {
		return err
	}
	for _, p := range list {
		if p.Name != harbourLight().Page.Title {
			continue
		}
		if err := l.s.Share(l.ctx, l.teacher.ID, store.Share{ProjectID: &p.ID, TeacherID: mate.ID, Level: store.ToCover}); err != nil {
			return err
		}
		return l.s.Printed(l.ctx, p)
	}
	return fmt.Errorf("no project %q", harbourLight().Page.Title)
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
	if err = l.s.AddStudents(l.ctx, l.teacher.ID, l.class.ID, names); err != nil {
		return err
	}
	if l.class, err = l.s.Class(l.ctx, l.teacher.ID, l.class.ID); err != nil {
		return err
	}
	tables := []string{"Buoy table", "Mole table", "Pier table", "Tide table"}
	for i, s := range l.class.Students {
		traits := store.Traits{Hand: grid.RightHand, Team: tables[i*len(tables)/len(l.class.Students)]}
		if slices.Contains(leftHanded, i) {
			traits.Hand = grid.LeftHand
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
	p, files, err := intake.Take(l.ctx, name, b, purpose)
	if err != nil {
		return p, err
	}
	p.TeacherID = l.teacher.ID
	err = l.s.AddPicture(l.ctx, &p, files)
	return p, err
}

// perMM is the resolution of the demo's pictures: 250 pixels an inch.
const perMM = 10

// starter begins a project with a picture that every school has.
func (l *loader) starter(code string) error {
	one, ok := starters.Find(code)
	if !ok {
		return fmt.Errorf("no starter %q", code)
	}
	marks := make([]Landmark, len(one.Landmarks))
	pic, err := l.keep(one.Name, one.Bytes(), store.ForReference)
	if err != nil {
		return err
	}
	for i, m := range one.Landmarks {
		marks[i] = Landmark{m.Name, m.Weight, plane.Pt(m.At.X*float64(pic.Width), m.At.Y*float64(pic.Height))}
	}
	img, _, err := image.Decode(bytes.NewReader(one.Bytes()))
	if err != nil {
		return err
	}
	_, _, err = l.begin(one.Name, pic, one.Ask(one.Name, pic.Pixels(), measure.Centimetre), picture.OnWhite(img), marks)
	return err
}

func (l *loader) project(sc Scene, ask grid.Request) error {
	var file bytes.Buffer
	img := render.Pixels(sc.Page, perMM, nil)
	if err := png.Encode(&file, img); err != nil {
		return err
	}
	pic, err := l.keep(sc.Page.Title+".png", file.Bytes(), store.ForReference)
	if err != nil {
		return err
	}
	ask.Name, ask.Picture = sc.Page.Title, pic.Pixels()
	marks := make([]Landmark, len(sc.Landmarks))
	for i, m := range sc.Landmarks {
		marks[i] = Landmark{m.Name, m.Weight, plane.Pt(m.At.X*perMM, m.At.Y*perMM)}
	}
	p, plan, err := l.begin(sc.Page.Title, pic, ask, img, marks)
	if err != nil || sc.Page.Title != harbourLight().Page.Title {
		return err
	}
	return l.halfWay(p, plan, sc)
}

// begin begins the class's project with a picture, its plan, and landmarks in its pixels.
func (l *loader) begin(name string, pic store.Picture, ask grid.Request, img *image.RGBA, marks []Landmark) (p store.Project, plan grid.Plan, err error) {
	p = store.Project{TeacherID: l.teacher.ID, ClassID: &l.class.ID, PictureID: &pic.ID, Name: name, Looseness: accuracy.Normal}
	if err := l.s.AddProject(l.ctx, &p); err != nil {
		return p, plan, err
	}
	if plan, err = grid.Make(ask); err != nil {
		return p, plan, err
	}
	plan = plan.WithContrast(survey.Contrast(img, plan), pic.Facts.Drawing)
	text, err := grid.Encode(plan)
	if err != nil {
		return p, plan, err
	}
	if _, err := l.s.SavePlan(l.ctx, l.teacher.ID, p.ID, 0, p.Name, string(text), nil, nil); err != nil {
		return p, plan, err
	}
	for _, m := range marks {
		mark := store.Landmark{ProjectID: p.ID, PictureID: p.PictureID, Name: m.Name, Weight: m.Weight, X: m.At.X, Y: m.At.Y}
		if err := l.s.AddLandmark(l.ctx, &mark); err != nil {
			return p, plan, err
		}
	}
	return p, plan, nil
}

// halfWay has the class at work, and checks three drawings in.
func (l *loader) halfWay(p store.Project, plan grid.Plan, sc Scene) error {
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
	if err := l.checkIns(p, plan, sc); err != nil {
		return err
	}
	return l.train(p, now)
}
