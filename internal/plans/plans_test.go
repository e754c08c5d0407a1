package plans

import (
	"context"
	"errors"
	"fmt"
	"maps"
	"math"
	"os"
	"slices"
	"strings"
	"testing"
	"time"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/lesson"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/mariadb/mariadbtest"
	"zestysketch/internal/store"
	"zestysketch/internal/store/storetest"
)

func TestMain(m *testing.M) { os.Exit(mariadbtest.Run(m)) }

// newSchool returns a school with three students and a project of a picture of
// w × h pixels, printed at the given size in squares of 1 in.
func newSchool(t testing.TB, w, h int, printed string) (storetest.School, store.Project) {
	t.Helper()
	s := storetest.New(t, "Ada", "Bryn", "Cem")
	plan, err := grid.Make(grid.Request{Name: "Pier", Picture: [2]int{w, h}, Reference: printed, Paper: "12x18in", ReferenceSquare: "1in"})
	storetest.Must(t, err)
	return s, s.Project(t, "Pier", s.Picture(t, "Pier", w, h, []byte("bytes")), plan)
}

// A change of what somebody draws by carries their ticks, theirs alone, and
// all of it or nothing.
func TestRefit(t *testing.T) {
	s, p := newSchool(t, 900, 1100, "6in")
	ctx, teacher, students := context.Background(), p.TeacherID, p.Class.Students
	done := func(i int) string {
		t.Helper()
		ticks, err := s.DB.StudentTicks(ctx, p.ID, students[i].ID)
		if err != nil {
			t.Fatal(err)
		}
		return strings.Join(slices.Sorted(maps.Keys(ticks)), " ")
	}
	for _, one := range students {
		for _, label := range []string{"A1", "B1", "A2", "B2", "F1"} {
			if err := s.DB.Tick(ctx, teacher, p.ID, one.ID, label, true, time.Now()); err != nil {
				t.Fatal(err)
			}
		}
	}
	projects, err := s.DB.ProjectsOf(ctx, teacher, students[0].ID)
	if err != nil || len(projects) != 1 || projects[0].ID != p.ID {
		t.Fatalf("the student draws %v, %v", projects, err)
	}
	if others, err := s.DB.ProjectsOf(ctx, teacher+1, students[0].ID); err != nil || len(others) != 0 {
		t.Errorf("for another teacher the student draws %v, %v", others, err)
	}
	needs := func(words string, after error) error {
		return Refit(ctx, s.DB, projects, func(db *store.Store) error {
			if err := db.DescribeStudent(ctx, teacher, students[0].ID, store.Traits{Hand: "right", Needs: words}); err != nil {
				return err
			}
			return after
		})
	}
	if err := needs(store.NeedFewer, context.Canceled); !errors.Is(err, context.Canceled) || done(0) != "A1 A2 B1 B2 F1" {
		t.Errorf("a change that failed: %v, done are %s", err, done(0))
	}
	if in, err := s.DB.InNeed(ctx, p.ID); err != nil || len(in) != 0 {
		t.Errorf("after it failed, %d are in need, %v", len(in), err)
	}
	if err := needs(store.NeedFewer, nil); err != nil || done(0) != "A1" || done(1) != "A1 A2 B1 B2 F1" {
		t.Errorf("%v, done are %s and %s; want A1 and the second's as they were", err, done(0), done(1))
	}
	if old, err := s.DB.History(ctx, p.ID, students[0].ID); err != nil || old[1] != 5 {
		t.Errorf("history %v, %v; want five of the first plan", old, err)
	}
	if err := needs("", nil); err != nil || done(0) != "A1 A2 B1 B2" {
		t.Errorf("back to the class's boxes, %v, done are %s", err, done(0))
	}
}

// Students with needs get larger boxes and a grid that is seen easily; the
// others keep the class's plan.
func TestNeeds(t *testing.T) {
	s, p := newSchool(t, 900, 1100, "6in")
	ctx, teacher, students := context.Background(), p.TeacherID, p.Class.Students
	for i, needs := range []string{store.NeedFewer, store.NeedContrast, store.NeedMore + ", " + store.NeedDots} {
		if err := s.DB.DescribeStudent(ctx, teacher, students[i].ID, store.Traits{Hand: "right", Needs: needs}); err != nil {
			t.Fatal(err)
		}
	}
	class, err := Kept(ctx, s.DB, p)
	storetest.Must(t, err)
	set, err := Load(ctx, s.DB, p, *class)
	storetest.Must(t, err)
	plan := func(i int) grid.Plan { return set.Of(students[i].ID) }
	if fewer := plan(0); fewer.Grid.Columns != (class.Grid.Columns+1)/2 || fewer.Grid.SheetCell[0] != 2*class.Grid.SheetCell[0] {
		t.Errorf("fewer boxes: %d columns of %g mm; the class has %d of %g", fewer.Grid.Columns, fewer.Grid.SheetCell[0], class.Grid.Columns, class.Grid.SheetCell[0])
	}
	if bold := plan(1); !bold.Line.Cased || bold.Line.Width != boldLine || bold.Grid.Columns != class.Grid.Columns {
		t.Errorf("high contrast: a line of %+v in %d columns", bold.Line, bold.Grid.Columns)
	}
	if more := plan(2); more.Grid.Columns != 2*class.Grid.Columns || more.Grid.SheetCell[0]*2 != class.Grid.SheetCell[0] || more.Line != class.Line {
		t.Errorf("more boxes: %d columns of %g mm; the class has %d of %g", more.Grid.Columns, more.Grid.SheetCell[0], class.Grid.Columns, class.Grid.SheetCell[0])
	}
	if same := set.Of(0); same.Line != class.Line || same.Count() != class.Count() {
		t.Errorf("who needs nothing does not draw by the class's plan: %+v", same.Line)
	}
}

// A project never shows a picture by a plan of another shape: the plan is made
// again with the picture, all in one change, whatever the shapes; where it
// cannot be, both stay as they were.
func TestChangePicture(t *testing.T) {
	ctx := context.Background()
	for _, c := range []struct {
		name, printed string
		w, h          int
	}{
		{"the same shape", "7 x 9in", 1400, 1800},
		{"wider, by its width", "7in", 1200, 900},
		{"very wide, under both sides", "7 x 9in", 3600, 300},
		{"very wide, by its width", "7in", 3600, 300},
		{"very tall", "7 x 9in", 300, 3600},
	} {
		t.Run(c.name, func(t *testing.T) {
			s, p := newSchool(t, 700, 900, c.printed)
			storetest.Must(t, s.DB.Tick(ctx, p.TeacherID, p.ID, p.Class.Students[0].ID, "A1", true, time.Now()))
			pic := s.Picture(t, "Other", c.w, c.h, []byte("other"))
			storetest.Must(t, ChangePicture(ctx, s.DB, p, pic))
			p = s.Reload(t, p)
			plan, err := Kept(ctx, s.DB, p)
			storetest.Must(t, err)
			if p.PlanVersion != 2 || *p.PictureID != pic.ID || Fits(*plan, p.Picture) != nil {
				t.Errorf("plan %d of picture %d: %v; want a second plan, made for the new picture", p.PlanVersion, *p.PictureID, Fits(*plan, p.Picture))
			}
			frame := plan.Frame.Size[0] / plan.Frame.Size[1]
			if shape := plan.Reference.Width / plan.Reference.Height; math.Abs(shape/frame-1) > 0.005 || math.Abs(plan.SquashPercent) > 0.5 {
				t.Errorf("a frame of ratio %.3f printed at %.3f, squash %.2f %%: stretched", frame, shape, plan.SquashPercent)
			}
			shown := plan.Frame.Size[0] * plan.Frame.Size[1] / float64(c.w*c.h)
			if shown < 0.6 {
				t.Errorf("only %.0f %% of the picture is left in the frame", 100*shown)
			}
			if ticks, err := s.DB.Ticks(ctx, p.ID); err != nil || len(ticks) != 0 {
				t.Errorf("ticks of the other picture stand: %v, %v", ticks, err)
			}
		})
	}
	s, p := newSchool(t, 700, 900, "7 x 9in")
	hair := s.Picture(t, "Hair", 16000, 17, []byte("hair"))
	if err := ChangePicture(ctx, s.DB, p, hair); grid.ProblemsOf(err) == nil {
		t.Errorf("a picture too thin for any plan: %v; want the reason", err)
	}
	if after := s.Reload(t, p); after.PlanVersion != 1 || *after.PictureID != *p.PictureID {
		t.Errorf("after a refusal the project has plan %d of picture %d; want both as they were", after.PlanVersion, *after.PictureID)
	}
}

// One inch to two and back: every tick is there again, also of who had none on
// the way; whoever loses something is told before; a tablet that still shows the
// inch grid ticks what is wholly done of the other, or is kept with its own.
func TestThereAndBack(t *testing.T) {
	s, p := newSchool(t, 900, 1200, "6in")
	ctx, ada, bo := context.Background(), p.Class.Students[0].ID, p.Class.Students[1].ID
	inch := func(square string) grid.Plan {
		plan, err := grid.Make(grid.Request{Picture: [2]int{900, 1200}, Reference: "6in", Paper: "A2", ReferenceSquare: square, Scale: "2", Units: "in"})
		storetest.Must(t, err)
		return plan
	}
	done := func(student uint64) string {
		t.Helper()
		ticks, err := s.DB.StudentTicks(ctx, p.ID, student)
		storetest.Must(t, err)
		return strings.Join(slices.Sorted(maps.Keys(ticks)), " ")
	}
	keep := func(plan grid.Plan) {
		t.Helper()
		p = s.Reload(t, p)
		_, err := Keep(ctx, s.DB, p, p.PlanVersion, plan)
		storetest.Must(t, err)
		p = s.Reload(t, p)
	}
	tick := func(student uint64, shown int, label string, done bool) error {
		class, err := Kept(ctx, s.DB, p)
		storetest.Must(t, err)
		set, err := Load(ctx, s.DB, p, *class)
		storetest.Must(t, err)
		return Tick(ctx, s.DB, p, set, student, shown, []string{label}, done, time.Now())
	}
	keep(inch("1in"))
	first := p.PlanVersion
	for _, label := range []string{"A1", "B1", "A2", "B2", "C1"} {
		storetest.Must(t, tick(ada, 0, label, true))
	}
	storetest.Must(t, tick(bo, 0, "F8", true))
	step, err := Foresee(ctx, s.DB, p, inch("2in"))
	if want := (Done{5, 48, 1, 12}); err != nil || step.Done[ada] != want || !slices.Equal(step.Loses(), []uint64{ada, bo}) {
		t.Errorf("foreseen %+v, %v; want %+v and both to lose", step.Done, err, want)
	}
	keep(inch("2in"))
	if done(ada) != "A1" || done(bo) != "" {
		t.Fatalf("on two inches: %q and %q", done(ada), done(bo))
	}
	// A tablet with the inch grid fills C1 to D2, which is B1 of the new one.
	for i, label := range []string{"D1", "C2", "D2"} {
		if err := tick(ada, first, label, true); err != nil || (done(ada) == "A1 B1") != (i == 2) {
			t.Errorf("%s of the old grid: %v, done are %q", label, err, done(ada))
		}
	}
	if err := tick(ada, first, "A1", false); !errors.Is(err, ErrOlder) || done(ada) != "A1 B1" {
		t.Errorf("taken back on the old grid: %v, done are %q", err, done(ada))
	}
	if err := tick(ada, p.PlanVersion+7, "A1", true); !errors.Is(err, ErrOlder) {
		t.Errorf("of a plan that never was: %v", err)
	}
	keep(inch("1in"))
	if got := done(ada); got != "A1 A2 B1 B2 C1 C2 D1 D2" || done(bo) != "F8" {
		t.Errorf("back on one inch: %q and %q", got, done(bo))
	}
	storetest.Must(t, tick(bo, 0, "A1", true))
	storetest.Must(t, Restore(ctx, s.DB, p, first+1))
	p = s.Reload(t, p)
	if done(ada) != "A1 B1" || done(bo) != "" {
		t.Errorf("two inches brought back: %q and %q; want them as they were", done(ada), done(bo))
	}
	storetest.Must(t, Restore(ctx, s.DB, p, first))
	if done(ada) != "A1 A2 B1 B2 C1 C2 D1 D2" || done(bo) != "A1 F8" {
		t.Errorf("one inch brought back: %q and %q", done(ada), done(bo))
	}
	if err := Restore(ctx, s.DB, p, 99); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("a plan that never was: %v", err)
	}
}

// Every way of working has a plan to begin with, for pictures of any shape and in every
// unit, in the parts that it names; who works at the same size draws at the same size.
func TestWaysBegin(t *testing.T) {
	for _, way := range lesson.Ways() {
		for _, picture := range [][2]int{{1600, 1200}, {900, 1600}, {3000, 1000}, {700, 700}} {
			for _, units := range []measure.Unit{measure.Inch, measure.Centimetre, measure.Millimetre} {
				plan, err := grid.Make(First("Boats", picture, units, way, 0))
				if err != nil {
					t.Fatalf("%s, %v, %s: %v", way.Name(), picture, units, err)
				}
				if f, stopped := plan.Stopped(); stopped {
					t.Errorf("%s, %v, %s: %s", way.Name(), picture, units, f.Message)
				}
				want := way.PlanFor(plan.Reference.Height)
				if parts := fmt.Sprintf("%dx%d", plan.Grid.Columns, plan.Grid.Rows); want["parts"] != "" && way != lesson.ByQuarters && parts != want["parts"] {
					t.Errorf("%s, %v, %s begins with %s parts, not %s", way.Name(), picture, units, parts, want["parts"])
				}
				if strip := plan.Reference.Height / float64(plan.Grid.Rows); way == lesson.ByStrips && (strip < 20 || strip > 31) {
					t.Errorf("%v, %s begins with strips of %.1f mm, not about an inch", picture, units, strip)
				}
				if want["scale"] == "1" && (math.Abs(plan.Scale[0]-1) > 1e-9 || math.Abs(plan.Scale[1]-1) > 1e-9) {
					t.Errorf("%s, %v, %s begins at ×%g", way.Name(), picture, units, plan.Scale)
				}
			}
		}
	}
}

// A change of needs and an earlier plan brought back are made once and whole, at
// whatever statement a deadlock comes.
func TestDeadlocks(t *testing.T) {
	s, p := newSchool(t, 900, 1100, "6in")
	ctx, ada := context.Background(), p.Class.Students[0].ID
	tick := func() {
		for _, label := range []string{"A1", "B1", "A2", "B2", "F1"} {
			storetest.Must(t, s.DB.Tick(ctx, p.TeacherID, p.ID, ada, label, true, time.Now()))
		}
	}
	needs := func(db *store.Store, words string) error {
		return Refit(ctx, db, []store.Project{p}, func(db *store.Store) error {
			return db.DescribeStudent(ctx, p.TeacherID, ada, store.Traits{Hand: "right", Needs: words})
		})
	}
	t.Run("refit", func(t *testing.T) {
		storetest.Deadlocks(t, s.DB, func() func(*store.Store) error {
			storetest.Must(t, needs(s.DB, ""))
			tick()
			return func(db *store.Store) error { return needs(db, store.NeedFewer) }
		})
	})
	coarse, err := grid.Make(grid.Request{Name: "Pier", Picture: [2]int{900, 1100}, Reference: "6in", Paper: "12x18in", ReferenceSquare: "2in"})
	storetest.Must(t, err)
	fine, err := Kept(ctx, s.DB, p)
	storetest.Must(t, err)
	t.Run("restore", func(t *testing.T) {
		storetest.Deadlocks(t, s.DB, func() func(*store.Store) error {
			p = s.Project(t, "Pier", *p.Picture, *fine) // anew: every plan there was is looked through
			tick()
			_, err := Keep(ctx, s.DB, p, p.PlanVersion, coarse)
			storetest.Must(t, err)
			p = s.Reload(t, p)
			return func(db *store.Store) error { return Restore(ctx, db, p, 1) }
		})
	})
}
