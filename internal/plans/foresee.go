package plans

import (
	"context"
	"errors"
	"maps"
	"slices"
	"time"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/lesson"
	"zestysketch/internal/store"
)

// Step is a change of a project's plan, worked out and not kept yet.
type Step struct {
	plan  grid.Plan
	carry store.Carry // nil where every box stays what it is
	back  []store.OldTick
	Done  map[uint64]Done // by student
}

// Done is how many of how many boxes a student has done now, and would have.
type Done struct{ Now, NowOf, Then, ThenOf int }

// Loses returns the students of whose drawing less would count as done, by number.
func (step Step) Loses() (students []uint64) {
	for id, d := range step.Done {
		if d.Then*d.NowOf < d.Now*d.ThenOf {
			students = append(students, id)
		}
	}
	slices.Sort(students)
	return students
}

// Foresee works out what keeping a plan of a project would do to what students
// have ticked. It comes over as far as it lies in the same places of the same
// picture, and what was ticked on such a grid before counts again.
func Foresee(ctx context.Context, s *store.Store, p store.Project, plan grid.Plan) (Step, error) {
	return foresee(ctx, s, p, p, plan, false)
}

// foresee is Foresee for a project whose picture may change with it. exactly
// takes the ticks of the earlier grid alone.
func foresee(ctx context.Context, s *store.Store, before, after store.Project, plan grid.Plan, exactly bool) (step Step, err error) {
	step = Step{plan: plan, Done: map[uint64]Done{}}
	old, err := Kept(ctx, s, before)
	if err != nil || old == nil {
		return step, err
	}
	if before.Picture == after.Picture && old.Alike(plan) {
		return step, nil
	}
	ticks, err := s.TickTimes(ctx, after.ID)
	if err != nil {
		return step, err
	}
	from, err := Load(ctx, s, before, *old)
	if err != nil {
		return step, err
	}
	to, err := Load(ctx, s, after, plan)
	if err != nil {
		return step, err
	}
	step.carry = Carry(from, to)
	if exactly {
		step.carry = ofParts
	}
	if step.back, err = earlier(ctx, s, after, to); err != nil {
		return step, err
	}
	step.count(ticks, from, to)
	return step, nil
}

// count says how many boxes each student would have done.
func (step *Step) count(ticks map[uint64][]store.Tick, from, to Set) {
	before, after := map[uint64]map[string]time.Time{}, map[uint64]map[string]time.Time{}
	for student, list := range ticks {
		done := map[string]time.Time{}
		for _, t := range list {
			done[t.Label] = t.TickedAt
		}
		before[student], after[student] = done, maps.Clone(step.carry(student, done))
	}
	for _, t := range step.back {
		if after[t.StudentID] == nil {
			after[t.StudentID] = map[string]time.Time{}
		}
		after[t.StudentID][t.Label] = t.TickedAt
	}
	for student, done := range after {
		step.Done[student] = Done{counted(from, student, before[student]), from.Count(student), counted(to, student, done), to.Count(student)}
	}
}

// counted returns how many of a student's ticks a set of plans counts.
func counted(set Set, student uint64, ticked map[string]time.Time) (n int) {
	counts := set.Counter(student)
	for label := range ticked {
		if counts(label) {
			n++
		}
	}
	return n
}

// earlier returns what students had ticked when they last drew by a grid such
// as theirs of these plans; each student's own version of it.
func earlier(ctx context.Context, s *store.Store, p store.Project, to Set) (back []store.OldTick, err error) {
	versions, err := s.TickedVersions(ctx, p.ID)
	if err != nil {
		return nil, err
	}
	found := map[uint64]bool{}
	for _, v := range versions { // the latest first
		plan, err := version(ctx, s, p, v)
		if err != nil {
			return nil, err
		}
		was, err := Load(ctx, s, p, plan)
		if err != nil {
			return nil, err
		}
		ticks, err := s.OldTicks(ctx, p.ID, v)
		if err != nil {
			return nil, err
		}
		here := map[uint64]bool{}
		for _, t := range ticks {
			if !found[t.StudentID] && was.alike(to, t.StudentID) {
				here[t.StudentID] = true
				back = append(back, t)
			}
		}
		maps.Copy(found, here)
	}
	return back, nil
}

// version returns one of a project's plans.
func version(ctx context.Context, s *store.Store, p store.Project, v int) (grid.Plan, error) {
	saved, err := s.PlanVersion(ctx, p.ID, v)
	if err != nil {
		return grid.Plan{}, err
	}
	return grid.Decode([]byte(saved.JSON))
}

// Restore keeps an earlier plan of a project again, with the ticks that were
// made on such a grid and no others; those of now are kept with the plan of now.
func Restore(ctx context.Context, s *store.Store, p store.Project, v int) error {
	return s.Transaction(ctx, func(s *store.Store) error {
		plan, err := version(ctx, s, p, v)
		if err != nil {
			return err
		}
		if err := Fits(plan, p.Picture); err != nil {
			return err
		}
		step, err := foresee(ctx, s, p, p, plan, true)
		if err != nil {
			return err
		}
		_, err = step.keep(ctx, s, p, p.PlanVersion)
		return err
	})
}

// ErrOlder is the error of a tick taken back on a grid that is no more.
var ErrOlder = errors.New("the grid has changed since")

// Tick records boxes of a student, done or not, as a page knew them: version is
// the plan that it showed, 0 for the present one. A box of another grid is kept
// with that grid, and what now lies wholly within such boxes is done.
func Tick(ctx context.Context, s *store.Store, p store.Project, set Set, student uint64, shown int, labels []string, done bool, at time.Time) error {
	if shown == 0 || shown == p.PlanVersion || lesson.IsPart(labels[0]) {
		return s.TickBoxes(ctx, p.TeacherID, p.ID, student, labels, done, at)
	}
	plan, err := version(ctx, s, p, shown)
	if errors.Is(err, store.ErrNotFound) {
		return ErrOlder
	}
	if err != nil {
		return err
	}
	was, err := Load(ctx, s, p, plan)
	if err != nil {
		return err
	}
	if was.alike(set, student) {
		return s.TickBoxes(ctx, p.TeacherID, p.ID, student, labels, done, at)
	}
	if !done {
		return ErrOlder
	}
	return s.Transaction(ctx, func(s *store.Store) error {
		all, err := s.TickOld(ctx, p, shown, student, labels, at)
		if err != nil {
			return err
		}
		for label, when := range Carry(was, set)(student, all) {
			if err := s.TickBoxes(ctx, p.TeacherID, p.ID, student, []string{label}, true, when); err != nil {
				return err
			}
		}
		return nil
	})
}

// Has reports whether a box is of the grid that a page showed to a student.
func Has(ctx context.Context, s *store.Store, p store.Project, set Set, student uint64, shown int, label string) bool {
	if lesson.IsPart(label) {
		return set.Counts(student, label) // whatever the grid
	}
	if _, ok := set.Of(student).Find(label); ok && (shown == 0 || shown == p.PlanVersion) {
		return true
	}
	plan, err := version(ctx, s, p, shown)
	if err != nil {
		return false
	}
	was, err := Load(ctx, s, p, plan)
	if err != nil {
		return false
	}
	_, ok := was.Of(student).Find(label)
	return ok
}
