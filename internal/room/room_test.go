package room

import (
	"context"
	"errors"
	"os"
	"testing"
	"time"

	"zestysketch/internal/core/accuracy"
	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/lesson"
	"zestysketch/internal/mariadb/mariadbtest"
	"zestysketch/internal/plans"
	"zestysketch/internal/store"
	"zestysketch/internal/store/storetest"
)

func TestMain(m *testing.M) { os.Exit(mariadbtest.Run(m)) }

// class is a school with a project of 6 × 8 boxes, a lesson every Wednesday from
// 9:00 to 9:50 by the clock of Auckland, of which 10 minutes set up and 10 clear away.
type class struct {
	storetest.School
	p     store.Project
	clock Clock
	ids   []uint64
}

func newClass(t *testing.T) class {
	t.Helper()
	s := storetest.New(t, "Ada", "Bryn", "Cem")
	plan, err := grid.Make(grid.Request{Name: "Pier", Picture: [2]int{600, 800}, Reference: "6x8in", Paper: "12x18in", ReferenceSquare: "1in"})
	storetest.Must(t, err)
	p := s.Project(t, "Pier", s.Picture(t, "Pier", 600, 800, []byte("bytes")), plan)
	calendar := lesson.Calendar{From: DayOf(date(2026, 11, 2)), Until: DayOf(date(2026, 11, 30)), Setup: 10, Clear: 10,
		Weekly: []lesson.Weekly{{Weekday: 2, Start: 9 * 60, Minutes: 50}}}
	storetest.Must(t, s.DB.SetCalendar(context.Background(), s.Teacher.ID, s.Class.ID, calendar))
	c := class{s, s.Reload(t, p), ClockOf(store.School{Zone: "Pacific/Auckland"}), nil}
	for _, one := range s.Class.Students {
		c.ids = append(c.ids, one.ID)
	}
	return c
}

func date(y int, m time.Month, d int) time.Time { return time.Date(y, m, d, 0, 0, 0, 0, time.UTC) }

// lesson returns a moment of the lesson of 4 November, minutes after its bell.
func (c class) lesson(minutes float64) time.Time {
	return time.Date(2026, 11, 4, 9, 0, 0, 0, c.clock.zone).Add(time.Duration(minutes * float64(time.Minute)))
}

func (c class) tick(t *testing.T, student uint64, label string, at time.Time) {
	t.Helper()
	storetest.Must(t, c.DB.Tick(context.Background(), c.Teacher.ID, c.p.ID, student, label, true, at))
}

func (c class) at(t *testing.T, now time.Time) *Room {
	t.Helper()
	r, err := NewReader(c.DB, nil).Load(context.Background(), c.p, c.clock, now)
	storetest.Must(t, err)
	return r
}

// Only drawing time counts: neither setting up nor clearing away is pace,
// silence or time left, and all of it is by the school's clock.
func TestDrawingTimeAlone(t *testing.T) {
	c := newClass(t)
	ada := c.ids[0]
	c.tick(t, ada, "A1", c.lesson(14))
	c.tick(t, ada, "B1", c.lesson(18))
	for _, one := range []struct{ minutes, silence, left float64 }{
		{5, 0, 120},  // setting up: nobody is silent, and all four lessons of 30 minutes are left
		{20, 2, 110}, // since the box of minute 18
		{32, 14, 98},
		{45, 0, 90}, // clearing away
		{600, 0, 90},
		{-600, 0, 120},
	} {
		r := c.at(t, c.lesson(one.minutes))
		if left, known := r.MinutesLeft(); !known || left != one.left-after(r.Road) {
			t.Errorf("minute %g: %g left to draw, %v; want %g less what comes after drawing", one.minutes, left, known, one.left)
		}
		if got := r.Silence(ada); got != one.silence {
			t.Errorf("minute %g: silent for %g; want %g", one.minutes, got, one.silence)
		}
	}
	r := c.at(t, c.lesson(30))
	// The first box took 4 minutes from the end of setting up, as the others did.
	for _, w := range lesson.WorkOf(r.ticked(ada), r.spans()) {
		if w.Minutes != 4 {
			t.Errorf("a box took %g minutes; want 4", w.Minutes)
		}
	}
	if s := r.Silence(c.ids[1]); s != 20 {
		t.Errorf("without a box, silent for %g minutes; want 20, since setting up ended", s)
	}
}

// after returns the minutes of the stages that come after drawing.
func after(road lesson.Road) (m float64) {
	seen := false
	for _, s := range road.On() {
		if seen {
			m += s.Minutes
		}
		seen = seen || s.Kind == lesson.Draw
	}
	return m
}

// The wall's room and Today's overview count alike, with students who have
// plans of their own and boxes ticked twice.
func TestOverviewAgrees(t *testing.T) {
	c := newClass(t)
	ctx := context.Background()
	projects, err := c.DB.ProjectsOf(ctx, c.Teacher.ID, c.ids[1])
	storetest.Must(t, err)
	for _, label := range []string{"A1", "B1", "A2", "B2", "C3"} {
		c.tick(t, c.ids[0], label, c.lesson(15))
		c.tick(t, c.ids[0], label, c.lesson(16))
		c.tick(t, c.ids[1], label, c.lesson(15))
	}
	storetest.Must(t, plans.Refit(ctx, c.DB, projects, func(s *store.Store) error {
		return s.DescribeStudent(ctx, c.Teacher.ID, c.ids[1], store.Traits{Hand: "right", Needs: store.NeedFewer})
	}))
	c.p = c.Reload(t, c.p)
	now := c.lesson(30)
	r := c.at(t, now)
	standings, coming, _, err := NewReader(c.DB, nil).Overview(ctx, c.Teacher.ID, c.clock, now)
	storetest.Must(t, err)
	if len(standings) != 1 {
		t.Fatalf("%d projects; want 1", len(standings))
	}
	done, all := 0, 0
	for _, s := range r.Students {
		done, all = done+len(r.Done(s.ID)), all+r.Plans.Of(s.ID).Count()
	}
	st := standings[0]
	if st.Done != done || st.All != all || done != 6 || all != 48+12+48 {
		t.Errorf("Today counts %d of %d, the wall %d of %d; want 6 of 108", st.Done, st.All, done, all)
	}
	if st.Students != 3 || st.Finished != 0 || len(st.Behind) != 3 || st.Behind[0].Name != "Cem" {
		t.Errorf("%d students, %d finished, behind %v; want three, none, Cem first", st.Students, st.Finished, st.Behind)
	}
	if len(coming) != 1 || !coming[0].On || !coming[0].Today || coming[0].Left != 10 {
		t.Errorf("lessons %+v; want the one that is on, with 10 minutes to draw", coming)
	}
}

// Who needs the teacher: a hand, silence in drawing time, and nobody who is away.
func TestNeeds(t *testing.T) {
	c := newClass(t)
	ctx := context.Background()
	storetest.Must(t, c.DB.RaiseHand(ctx, c.Teacher.ID, c.p.ID, c.ids[2], true))
	storetest.Must(t, c.DB.MarkAbsent(ctx, c.Teacher.ID, c.p.ID, c.ids[0], "2026-11-04", true))
	r := c.at(t, c.lesson(35))
	needs := r.Needs()
	if needs[0].ID != c.ids[2] || needs[len(needs)-1].Score != 0 {
		t.Errorf("needs %+v; want the hand first", needs)
	}
	if !r.Seats[c.ids[0]].Absent || c.at(t, c.lesson(35+24*60)).Seats[c.ids[0]].Absent {
		t.Error("absent on the school's fourth of November, and on no other day")
	}
	if _, err := r.Student(c.ids[2] + 99); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("a student of another class: %v; want ErrNotFound", err)
	}
	bare := store.Project{TeacherID: c.Teacher.ID, Name: "Bare", Looseness: accuracy.Normal}
	storetest.Must(t, c.DB.AddProject(ctx, &bare))
	if _, err := NewReader(c.DB, nil).Load(ctx, bare, c.clock, time.Now()); !errors.Is(err, plans.ErrNone) {
		t.Errorf("without a plan: %v; want ErrNone", err)
	}
}
