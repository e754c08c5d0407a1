package store

import (
	"context"
	"errors"
	"slices"
	"testing"
	"time"
)

// What is put away is off the first page and opens still; what is deleted opens
// no more, comes back for a while, and is gone for good with its photos after it.
func TestShelf(t *testing.T) {
	s, ctx := open(t), context.Background()
	teacher, class, p := room(t, s, "a@quay.example")
	other, _, _ := room(t, s, "b@quay.example")
	atWork(t, s, teacher, p, class.Students[0])
	state := func(where string, used, shelf int, opens bool) {
		t.Helper()
		a, err1 := s.Projects(ctx, teacher.ID)
		b, err2 := s.Shelf(ctx, teacher.ID)
		_, err := s.Project(ctx, teacher.ID, p.ID)
		if len(a) != used || len(b) != shelf || (err == nil) != opens || errors.Join(err1, err2) != nil {
			t.Errorf("%s: %d in use, %d put away, opening it: %v, %v; want %d, %d, %v", where, len(a), len(b), err, errors.Join(err1, err2), used, shelf, opens)
		}
	}
	for name, do := range map[string]func(uint64) error{"put away": func(by uint64) error {
		return s.PutAway(ctx, by,
			p.ID)
	}, "delete": func(by uint64) error { return s.DeleteProject(ctx, by, p.ID) },
		"bring back": func(by uint64) error { return s.BringBack(ctx, by, p.ID) }, "copy": func(by uint64) error { _, err := s.CopyProject(ctx, by, p.ID, true); return err }} {
		if err := do(other.ID); !errors.Is(err, ErrNotFound) {
			t.Errorf("%s by another teacher: %v", name, err)
		}
	}
	link, err := s.Link(ctx, p, class.Students[0].ID)
	if err != nil {
		t.Fatal(err)
	}
	state("at first", 1, 0, true)
	must := func(err error) {
		t.Helper()
		if err != nil {
			t.Fatal(err)
		}
	}
	must(s.PutAway(ctx, teacher.ID, p.ID))
	state("put away", 0, 1, true)
	if _, _, err := s.Linked(ctx, link); err != nil {
		t.Errorf("put away, its students' links end: %v", err)
	}
	must(s.DeleteProject(ctx, teacher.ID, p.ID))
	state("deleted", 0, 1, false)
	if _, _, err := s.Linked(ctx, link); !errors.Is(err, ErrNotFound) {
		t.Errorf("deleted, a student's link: %v", err)
	}
	must(s.PurgeProjects(ctx, time.Now().Add(-KeptDeleted)))
	must(s.BringBack(ctx, teacher.ID, p.ID))
	state("brought back", 1, 0, true)
	if ticks, err := s.StudentTicks(ctx, p.ID, class.Students[0].ID); err != nil || len(ticks) != 2 {
		t.Errorf("brought back with %d ticks, %v", len(ticks), err)
	}
	must(s.DeleteProject(ctx, teacher.ID, p.ID))
	must(s.PurgeProjects(ctx, time.Now().Add(time.Second)))
	state("purged", 0, 0, false)
	var photos int64
	must(s.db.Model(&Picture{}).Where("teacher_id = ? AND purpose = ?", teacher.ID, ForCheckIn).Count(&photos).Error)
	if photos > 0 {
		t.Errorf("%d photos are left", photos)
	}
}

// A copy has the pictures, frames, landmarks, plan and road, and nobody's work;
// pictures are not doubled.
func TestCopies(t *testing.T) {
	s, ctx := open(t), context.Background()
	teacher, class, p := room(t, s, "a@quay.example")
	pic := Picture{TeacherID: teacher.ID, Name: "lamp", Width: 4, Height: 3, Hash: []byte("lamp"), Purpose: ForReference}
	must := func(err error) {
		t.Helper()
		if err != nil {
			t.Fatal(err)
		}
	}
	must(s.AddPicture(ctx, &pic, []PictureFile{{Role: Full, Kind: "image/png", Bytes: []byte("x")}}))
	must(s.SetPicture(ctx, teacher.ID, p.ID, pic.ID))
	must(s.AddFrame(ctx, teacher.ID, &Frame{ProjectID: p.ID, PictureID: pic.ID, Name: "the head", Frame: "2,1 2x2 0"}))
	must(s.AddLandmark(ctx, &Landmark{ProjectID: p.ID, PictureID: &pic.ID, Name: "tip", Weight: 2, X: 1, Y: 2}))
	if _, err := s.SavePlan(ctx, teacher.ID, p.ID, 0, "Lamp", `{"format":"zesty-plan/1"}`, nil, nil); err != nil {
		t.Fatal(err)
	}
	atWork(t, s, teacher, p, class.Students[0])
	for _, with := range []bool{true, false} {
		id, err := s.CopyProject(ctx, teacher.ID, p.ID, with)
		must(err)
		c, err := s.Project(ctx, teacher.ID, id)
		must(err)
		frames, err1 := s.Frames(ctx, id)
		marks, err2 := s.Landmarks(ctx, id, &pic.ID)
		offered, err3 := s.ProjectPictures(ctx, id)
		ticks, err4 := s.Ticks(ctx, id)
		plan, err5 := s.CurrentPlan(ctx, c)
		must(errors.Join(err1, err2, err3, err4, err5))
		if c.Name != "Lamp (copy)" || (c.ClassID != nil) != with || len(frames) != 1 || len(marks) != 1 ||
			len(offered) != 1 || len(ticks) != 0 || plan.JSON != `{"format":"zesty-plan/1"}` ||
			*c.PictureID != pic.ID {
			t.Errorf("with its class %v: %+v, %d frames, %d landmarks, %d pictures, %d at work, plan %q", with, c, len(frames), len(marks), len(offered), len(ticks), plan.JSON)
		}
	}
	if n, err := s.CountPictures(ctx, teacher.ID, ForReference); err != nil || n != 1 {
		t.Errorf("%d pictures, %v; want the one", n, err)
	}
}

// A class is renamed, and put away off the lists until it is brought back.
func TestClassesAway(t *testing.T) {
	s, ctx := open(t), context.Background()
	teacher, class, p := room(t, s, "a@quay.example")
	other, _, _ := room(t, s, "b@quay.example")
	if err := errors.Join(s.RenameClass(ctx, teacher.ID, class.ID, "8b"), s.PutClassAway(ctx, teacher.ID, class.ID, true)); err != nil {
		t.Fatal(err)
	}
	list, err1 := s.Classes(ctx, teacher.ID)
	away, err2 := s.ClassesAway(ctx, teacher.ID)
	choices, err3 := s.ClassChoices(ctx, teacher.ID, p.ID)
	q, err4 := s.Project(ctx, teacher.ID, p.ID)
	if err := errors.Join(err1, err2, err3, err4); err != nil || len(list) != 0 || len(away) != 1 || away[0].Name != "8b" || len(choices) != 0 || len(q.Class.Students) != 2 {
		t.Errorf("%v, %v, %v, %d students, %v", list, away, choices, len(q.Class.Students), err)
	}
	for _, err := range []error{s.RenameClass(ctx, other.ID, class.ID, "x"), s.PutClassAway(ctx, other.ID, class.ID, false)} {
		if !errors.Is(err, ErrNotFound) {
			t.Errorf("by another teacher: %v", err)
		}
	}
	if err := s.PutClassAway(ctx, teacher.ID, class.ID, false); err != nil {
		t.Fatal(err)
	}
	if list, err := s.Classes(ctx, teacher.ID); err != nil || !slices.ContainsFunc(list, func(c Class) bool { return c.ID == class.ID }) {
		t.Errorf("brought back: %v, %v", list, err)
	}
}
