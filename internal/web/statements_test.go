package web

import (
	"context"
	"fmt"
	"io"
	"log/slog"
	"math"
	"net/http"
	"net/http/httptest"
	"net/url"
	"testing"
	"time"

	"zestysketch/internal/core/accuracy"
	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/store"
)

// mostStatements is what a page may ask of the database (design.md, section 7).
const mostStatements = 12

// Pages ask the database a fixed number of times, whatever the number of
// projects, students and photos.
func TestStatements(t *testing.T) {
	h := newHouse(t)
	counted, n := h.db.Counted()
	routes, err := New(counted, slog.New(slog.NewTextHandler(io.Discard, nil)), Options{})
	if err != nil {
		t.Fatal(err)
	}
	c := h.signIn("owner@quay.example")
	site, err := url.Parse(h.url)
	if err != nil {
		t.Fatal(err)
	}
	ask := func(path string) int64 {
		t.Helper()
		r := httptest.NewRequest("GET", path, nil)
		for _, cookie := range c.http.Jar.Cookies(site) {
			r.AddCookie(cookie)
		}
		routes.ServeHTTP(httptest.NewRecorder(), r.Clone(context.Background())) // pictures are decoded once
		least := int64(math.MaxInt64)
		for range 3 { // once a minute a session is written again
			n.Store(0)
			w := httptest.NewRecorder()
			routes.ServeHTTP(w, r.Clone(context.Background()))
			if w.Code != http.StatusOK {
				t.Fatalf("%s answers %d", path, w.Code)
			}
			least = min(least, n.Load())
		}
		return least
	}
	paths := []string{"/", "/classes", "/library", "/projects/{project}/wall", "/projects/{project}/check", "/projects/{project}/report",
		"/projects/{project}/students/{student}/report", "/projects/{project}/log", "/projects/{project}/report.pdf",
		"/projects/{project}/projector", "/projects/{project}/demonstration", "/projects/{project}/eyes",
		"/projects/{project}/round", "/s/{link}/train",
		"/projects/{project}", "/projects/{project}?step=picture", "/projects/{project}/print", "/projects/{project}/links/screen", "/projects/{project}/finish", "/s/{link}",
		"/school/people", "/school/deeds", "/search?q=a", "/classes/year", "/shelf", "/account", "/projects/{project}/shares", "/classes/{class}/shares", "/students/{student}"}
	few := map[string]int64{}
	for _, p := range paths {
		few[p] = ask(h.address(p))
	}
	h.grow(8, 20)
	for _, p := range paths {
		many := ask(h.address(p))
		t.Logf("%-50s %2d statements", p, many)
		if many > mostStatements || many > few[p]+1 {
			t.Errorf("%s: %d statements, %d with little in the school; want %d at most, whatever there is", p, many, few[p], mostStatements)
		}
	}
}

// grow adds projects of the class, and students with photos, ticks and verdicts.
func (h *house) grow(projects, students int) {
	h.t.Helper()
	ctx, teacher := context.Background(), h.project.TeacherID
	must := func(err error) {
		h.t.Helper()
		if err != nil {
			h.t.Fatal(err)
		}
	}
	var names []string
	for i := range students {
		names = append(names, fmt.Sprintf("Student %02d", i))
	}
	err := h.db.AddStudents(ctx, teacher, h.class.ID, names)
	must(err)
	class, err := h.db.Class(ctx, teacher, h.class.ID)
	must(err)
	text, err := grid.Encode(h.sample.Plan)
	must(err)
	for i := range projects {
		p := store.Project{TeacherID: teacher, ClassID: &h.class.ID, PictureID: h.project.PictureID, Name: fmt.Sprint("More ", i), Looseness: accuracy.Normal}
		must(h.db.AddProject(ctx, &p))
		_, err := h.db.SavePlan(ctx, teacher, p.ID, 0, p.Name, string(text), nil, nil)
		must(err)
	}
	for i, s := range class.Students {
		must(h.db.TickBoxes(ctx, teacher, h.project.ID, s.ID, []string{"A1", "B1", "C1"}, true, time.Now()))
		must(h.db.RaiseHand(ctx, teacher, h.project.ID, s.ID, i%2 == 0))
		must(h.db.AddNote(ctx, teacher, &store.Note{ProjectID: h.project.ID, StudentID: &s.ID, Words: "Well begun."}))
		c := store.CheckIn{ProjectID: h.project.ID, StudentID: s.ID, PictureID: *h.project.PictureID}
		c.Settle(accuracy.Report{Measured: true, Corners: plane.Quad{plane.Pt(1, 1), plane.Pt(9, 1), plane.Pt(9, 9), plane.Pt(1, 9)}, Cells: []accuracy.Cell{{Label: "A1", Sure: accuracy.Both}}})
		must(h.db.AddCheckIn(ctx, teacher, &c))
	}
}
