// Package plans knows who draws by which plan: the project's, or a student's
// own where they have another picture, frame or need. It keeps plans, carries
// ticks over from one to the next, and changes pictures, each as one change of
// the store. The plans themselves are made by core/grid.
package plans

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"slices"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/lesson"
	"zestysketch/internal/store"
)

// ErrPicture is wrapped by the error of a plan that was made for a picture of
// another shape than its project has: it would show the picture stretched.
var ErrPicture = errors.New("the plan is for another picture")

// ErrNone is the error of a project that has no plan yet.
var ErrNone = errors.New("no plan yet: open the project, choose the sizes and keep the plan")

// ErrUnreadable is the error of a project whose plan cannot be read: it has none to go by.
var ErrUnreadable = fmt.Errorf("the plan there was cannot be read; %w", ErrNone)

// Set is the plans by which a class draws.
type Set struct {
	Class grid.Plan // the project's
	main  *store.Picture
	parts []lesson.Counted // what progress is counted in; none for boxes
	// The boxes of students who draw a part of them; others are not there.
	within map[uint64]map[string]bool
	own    map[uint64]grid.Plan // of students with a picture, frame or need of their own
	given  map[uint64]store.Assignment
}

// Kept returns the plan of a project, nil where it has none yet, or one that cannot be
// read: such a project is planned anew.
func Kept(ctx context.Context, s *store.Store, p store.Project) (*grid.Plan, error) {
	saved, err := s.CurrentPlan(ctx, p)
	if errors.Is(err, store.ErrNotFound) {
		return nil, nil
	}
	if err != nil {
		return nil, err
	}
	plan, err := grid.Decode([]byte(saved.JSON))
	if err != nil {
		slog.WarnContext(ctx, "a plan cannot be read", "project", p.ID, "version", saved.Version, "error", err)
		return nil, nil
	}
	return &plan, nil
}

// Unreadable reports whether a project has a plan that Kept could not read.
func Unreadable(p store.Project, kept *grid.Plan) bool { return kept == nil && p.PlanVersion > 0 }

// Needed is Kept for work that cannot be done without a plan: then the error is ErrNone, or
// ErrUnreadable.
func Needed(ctx context.Context, s *store.Store, p store.Project) (grid.Plan, error) {
	plan, err := Kept(ctx, s, p)
	switch {
	case err != nil:
		return grid.Plan{}, err
	case Unreadable(p, plan):
		return grid.Plan{}, ErrUnreadable
	case plan == nil:
		return grid.Plan{}, ErrNone
	}
	return *plan, nil
}

// Load returns the plans of a project whose own plan is class. A student's own
// is made from the same wishes; where they cannot be met with that picture, the
// class's plan stands in.
func Load(ctx context.Context, s *store.Store, p store.Project, class grid.Plan) (Set, error) {
	given, err := s.Assignments(ctx, p.ID)
	if err != nil {
		return Set{}, err
	}
	inNeed, err := s.InNeed(ctx, p.ID)
	if err != nil {
		return Set{}, err
	}
	return New(p, class, given, inNeed), nil
}

// Shown is Load for the class that a project shows, fetched with its students:
// those of other classes that draw it are taken to need nothing of their own.
func Shown(ctx context.Context, s *store.Store, p store.Project, class grid.Plan) (Set, error) {
	given, err := s.Assignments(ctx, p.ID)
	if err != nil {
		return Set{}, err
	}
	var students []store.Student
	if p.Class != nil {
		students = p.Class.Students
	}
	return New(p, class, given, students), nil
}

// New is Load for callers that have fetched what students were given, and the
// students, of whom those in need get what they need.
func New(p store.Project, class grid.Plan, given map[uint64]store.Assignment, students []store.Student) Set {
	set := Set{class, p.Picture, p.EffectiveRoad().Counts(), map[uint64]map[string]bool{}, map[uint64]grid.Plan{}, given}
	for student, a := range given {
		if a.Picture == nil {
			continue
		}
		if own, err := grid.Make(ownAsk(class.Asked(), a)); err == nil {
			own.Line = class.Line // measured under the class's picture
			set.own[student] = own
		}
	}
	set.needs(students)
	for student, a := range given {
		if boxes, ok := set.Of(student).Block(a.Part); ok && set.parts == nil {
			within := map[string]bool{}
			for _, c := range boxes {
				within[c.Label] = true
			}
			set.within[student] = within
		}
	}
	return set
}

// Of returns the plan by which a student draws.
func (set Set) Of(student uint64) grid.Plan {
	if own, ok := set.own[student]; ok {
		return own
	}
	return set.Class
}

// Count returns how many boxes, or parts with names, a student is to do.
func (set Set) Count(student uint64) int {
	if set.parts != nil {
		return len(set.parts)
	}
	if within, part := set.within[student]; part {
		return len(within)
	}
	return set.Of(student).Count()
}

// Parts returns the parts with names that progress is counted in, none for boxes.
func (set Set) Parts() []lesson.Counted { return set.parts }

// Counts reports whether a label is of a box of the student's plan, or of a part, and such
// are counted.
func (set Set) Counts(student uint64, label string) bool { return set.Counter(student)(label) }

// Counter is Counts for many labels of one student.
func (set Set) Counter(student uint64) func(label string) bool {
	if set.parts != nil {
		return func(label string) bool {
			return slices.ContainsFunc(set.parts, func(p lesson.Counted) bool { return p.Label == label })
		}
	}
	if within, part := set.within[student]; part {
		return func(label string) bool { return within[label] }
	}
	plan := set.Of(student)
	labels, columns, rows := plan.Grid.Labels, plan.Grid.Columns, plan.Grid.Rows // a wall asks thousands of times
	return func(label string) bool {
		column, row, ok := labels.Place(label)
		return ok && column < columns && row < rows
	}
}

// Part returns the part of the boxes that a student draws, empty for all of them.
func (set Set) Part(student uint64) string {
	if set.within[student] == nil {
		return ""
	}
	return set.given[student].Part
}

// Done returns what of a student's ticks is counted: boxes that only an earlier plan had are
// not, nor what another way of working counts.
func (set Set) Done(student uint64, ticked map[string]bool) map[string]bool {
	done, counts := map[string]bool{}, set.Counter(student)
	for label := range ticked {
		if counts(label) {
			done[label] = true
		}
	}
	return done
}

// IsClass reports whether a student draws by the class's own plan.
func (set Set) IsClass(student uint64) bool {
	_, own := set.own[student]
	return !own
}

// PictureOf returns the picture that a student draws from; nil for none.
func (set Set) PictureOf(student uint64) *store.Picture {
	if a := set.given[student]; a.Picture != nil {
		return a.Picture
	}
	return set.main
}

// picture returns the number of the picture that a student draws from, 0 for none.
func (set Set) picture(student uint64) uint64 {
	if pic := set.PictureOf(student); pic != nil {
		return pic.ID
	}
	return 0
}

// alike reports whether a student's boxes are the same in both: of one picture,
// in the same places.
func (set Set) alike(other Set, student uint64) bool {
	return set.picture(student) == other.picture(student) && set.Of(student).Alike(other.Of(student))
}

// boldLine is the grid's width for students who need more contrast, in millimetres (ours).
const boldLine = 0.6

// needs fits plans to what students need: half as many boxes each way, and a
// grid that is seen easily.
func (set *Set) needs(students []store.Student) {
	for _, s := range students {
		plan, changed := set.Of(s.ID), false
		var ask func() grid.Request
		switch {
		case s.Has(store.NeedFewer):
			ask = plan.Coarser
		case s.Has(store.NeedMore):
			ask = plan.Finer
		}
		if ask != nil {
			again, err := grid.Make(ask())
			if _, stopped := again.Stopped(); err == nil && !stopped {
				again.Line, plan, changed = plan.Line, again, true
			}
		}
		if s.Has(store.NeedContrast) {
			plan.Line.Width, plan.Line.Cased, changed = max(plan.Line.Width, boldLine), true, true
		}
		if changed {
			set.own[s.ID] = plan
		}
	}
}

func ownAsk(ask grid.Request, a store.Assignment) grid.Request {
	ask.Picture, ask.Frame = [2]int{a.Picture.Width, a.Picture.Height}, ""
	if a.Frame != nil {
		ask.Frame = a.Frame.Frame
	}
	ask.Split = "" // those boxes were crowded in another picture
	return ask
}

// Fits says, in an error that wraps ErrPicture, that a plan was made for a
// picture of another size than the one given; nil where it was not.
func Fits(plan grid.Plan, pic *store.Picture) error {
	f := plan.Frame
	if f == nil || pic == nil || f.Picture == [2]int{pic.Width, pic.Height} {
		return nil
	}
	return fmt.Errorf("%w: it was made for %d × %d pixels, and “%s” has %d × %d; open the project, look at its sizes and keep the plan again",
		ErrPicture, f.Picture[0], f.Picture[1], pic.Name, pic.Width, pic.Height)
}

// Fitted returns a plan for a picture: as it is where it fits, else made again. The
// error wraps grid's Problems where it cannot be.
func Fitted(plan grid.Plan, pic *store.Picture) (grid.Plan, error) {
	if Fits(plan, pic) == nil {
		return plan, nil
	}
	return plan.For(pic.Pixels())
}
