// Package storetest makes small schools in a real database for tests.
package storetest

import (
	"context"
	"testing"

	"zestysketch/internal/core/accuracy"
	"zestysketch/internal/core/grid"
	"zestysketch/internal/mariadb/mariadbtest"
	"zestysketch/internal/store"
)

// School is a teacher with one class, in a database of its own.
type School struct {
	DB      *store.Store
	Teacher store.Teacher
	Class   store.Class
}

// empty is a database with tables and nothing in them.
var empty mariadbtest.Template

// DSN returns the address of a new database with this program's tables.
func DSN(t testing.TB) string {
	t.Helper()
	return empty.Copy(t, func(dsn string) error {
		s, err := store.Open(context.Background(), dsn)
		if err != nil {
			return err
		}
		return s.Close()
	})
}

// New returns a school with students of the given names.
func New(t testing.TB, students ...string) School {
	t.Helper()
	ctx := context.Background()
	db, err := store.Open(ctx, DSN(t))
	Must(t, err)
	t.Cleanup(func() { db.Close() })
	s := School{DB: db}
	s.Teacher, err = db.AddTeacher(ctx, "Quay", "a@quay.example", "A", "a long password")
	Must(t, err)
	s.Class, err = db.AddClass(ctx, s.Teacher.ID, "7 Quay")
	Must(t, err)
	err = db.AddStudents(ctx, s.Teacher.ID, s.Class.ID, students)
	Must(t, err)
	s.Class, err = db.Class(ctx, s.Teacher.ID, s.Class.ID)
	Must(t, err)
	return s
}

// Picture keeps a picture of the given pixels. Its files are the bytes given,
// as full and as view.
func (s School) Picture(t testing.TB, name string, w, h int, jpeg []byte) store.Picture {
	t.Helper()
	pic := store.Picture{TeacherID: s.Teacher.ID, Name: name, Width: w, Height: h, Hash: make([]byte, 32), Purpose: store.ForReference}
	Must(t, s.DB.AddPicture(context.Background(), &pic, []store.PictureFile{
		{Role: store.Full, Kind: "image/jpeg", Bytes: jpeg}, {Role: store.View, Kind: "image/jpeg", Bytes: jpeg}}))
	return pic
}

// Project makes a project of the class with its first plan.
func (s School) Project(t testing.TB, name string, pic store.Picture, plan grid.Plan) store.Project {
	t.Helper()
	ctx := context.Background()
	p := store.Project{TeacherID: s.Teacher.ID, ClassID: &s.Class.ID, PictureID: &pic.ID, Name: name, Looseness: accuracy.Normal}
	Must(t, s.DB.AddProject(ctx, &p))
	file, err := grid.Encode(plan)
	Must(t, err)
	_, err = s.DB.SavePlan(ctx, s.Teacher.ID, p.ID, 0, name, string(file), nil, nil)
	Must(t, err)
	return s.Reload(t, p)
}

// Reload fetches a project again.
func (s School) Reload(t testing.TB, p store.Project) store.Project {
	t.Helper()
	p, err := s.DB.Project(context.Background(), s.Teacher.ID, p.ID)
	Must(t, err)
	return p
}

// Must ends a test that cannot go on.
func Must(t testing.TB, err error) {
	t.Helper()
	if err != nil {
		t.Fatal(err)
	}
}
