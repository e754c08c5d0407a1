package press

import (
	"context"
	"errors"
	"maps"
	"slices"
	"strings"
	"testing"
	"time"

	"zestysketch/internal/store"
)

// A change of what somebody draws by carries their ticks, theirs alone, and
// all of it or nothing.
func TestRefit(t *testing.T) {
	s := newSchool(t, 2, 900, 1100)
	ctx, teacher, students := context.Background(), s.project.TeacherID, s.project.Class.Students
	done := func(i int) string {
		t.Helper()
		ticks, err := s.db.StudentTicks(ctx, s.project.ID, students[i].ID)
		if err != nil {
			t.Fatal(err)
		}
		return strings.Join(slices.Sorted(maps.Keys(ticks)), " ")
	}
	for _, one := range students {
		for _, label := range []string{"A1", "B1", "A2", "B2", "F1"} {
			if err := s.db.Tick(ctx, teacher, s.project.ID, one.ID, label, true, time.Now()); err != nil {
				t.Fatal(err)
			}
		}
	}
	projects, err := s.db.ProjectsOf(ctx, teacher, students[0].ID)
	if err != nil || len(projects) != 1 || projects[0].ID != s.project.ID {
		t.Fatalf("the student draws %v, %v", projects, err)
	}
	if others, err := s.db.ProjectsOf(ctx, teacher+1, students[0].ID); err != nil || len(others) != 0 {
		t.Errorf("for another teacher the student draws %v, %v", others, err)
	}
	needs := func(words string, after error) error {
		return Refit(ctx, s.db, projects, func(db *store.Store) error {
			if err := db.DescribeStudent(ctx, teacher, students[0].ID, store.Traits{Hand: "right", Needs: words}); err != nil {
				return err
			}
			return after
		})
	}
	if err := needs(store.NeedFewer, context.Canceled); !errors.Is(err, context.Canceled) || done(0) != "A1 A2 B1 B2 F1" {
		t.Errorf("a change that failed: %v, done are %s", err, done(0))
	}
	if in, err := s.db.InNeed(ctx, s.project.ID); err != nil || len(in) != 0 {
		t.Errorf("after it failed, %d are in need, %v", len(in), err)
	}
	if err := needs(store.NeedFewer, nil); err != nil || done(0) != "A1" || done(1) != "A1 A2 B1 B2 F1" {
		t.Errorf("%v, done are %s and %s; want A1 and the second's as they were", err, done(0), done(1))
	}
	if old, err := s.db.History(ctx, s.project.ID, students[0].ID); err != nil || old[1] != 5 {
		t.Errorf("history %v, %v; want five of the first plan", old, err)
	}
	if err := needs("", nil); err != nil || done(0) != "A1 A2 B1 B2" {
		t.Errorf("back to the class's boxes, %v, done are %s", err, done(0))
	}
}
