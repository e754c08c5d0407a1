package press

import (
	"context"
	"errors"
	"fmt"
	"slices"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/sheet"
	"zestysketch/internal/store"
)

// ErrPlan is the error of a project that has no plan yet, or one that must not be drawn.
var ErrPlan = errors.New("no plan to print")

// Load fetches what the sets of a teacher's project need.
func Load(ctx context.Context, s *store.Store, p store.Project, spec Spec) (Set, error) {
	set := Set{Project: p}
	plan, err := PlanOf(ctx, s, p)
	if err != nil {
		return set, err
	}
	if plan == nil {
		return set, fmt.Errorf("%w: open the project, choose the sizes and keep the plan", ErrPlan)
	}
	set.Class = *plan
	if f, stopped := set.Class.Stopped(); stopped {
		return set, fmt.Errorf("%w: %s %s", ErrPlan, f.Message, f.Fix)
	}
	if set.Printer, err = printer(ctx, s, p.TeacherID, spec); err != nil {
		return set, err
	}
	plans, err := LoadPlans(ctx, s, p, set.Class)
	if err != nil {
		return set, err
	}
	set.Own = func(student uint64) (grid.Plan, *store.Picture) { return plans.Of(student), plans.PictureOf(student) }
	set.Link = func(ctx context.Context, student uint64) (string, error) { return s.AddLink(ctx, p.ID, student) }
	return set, set.extras(ctx, s)
}

func (set *Set) extras(ctx context.Context, s *store.Store) error {
	marks, err := s.Landmarks(ctx, set.Project.ID, set.Project.PictureID)
	if err != nil {
		return err
	}
	slices.SortStableFunc(marks, func(a, b store.Landmark) int { return b.Weight - a.Weight })
	for _, m := range marks {
		set.Landmarks = append(set.Landmarks, m.Name)
	}
	return nil
}

// printer returns the printer of a spec with what was measured of it.
func printer(ctx context.Context, s *store.Store, teacher uint64, spec Spec) (sheet.Printer, error) {
	size, err := spec.Size()
	if err != nil {
		return sheet.Printer{}, err
	}
	pr := sheet.On(size)
	if spec.Printer == 0 {
		return pr, nil
	}
	known, err := s.Printer(ctx, teacher, spec.Printer)
	if err != nil {
		return pr, err
	}
	pr.Margin = known.Margin
	for _, c := range known.Corrections {
		if c.Paper == spec.Paper {
			pr.Across, pr.Down = c.Across, c.Down
		}
	}
	return pr, nil
}

// Plans are the plans by which a class draws.
type Plans struct {
	Class grid.Plan // the project's
	main  *store.Picture
	own   map[uint64]grid.Plan // of students with a picture or frame of their own
	given map[uint64]store.Assignment
}

// Of returns the plan by which a student draws.
func (p Plans) Of(student uint64) grid.Plan {
	if own, ok := p.own[student]; ok {
		return own
	}
	return p.Class
}

// IsClass reports whether a student draws by the class's own plan.
func (p Plans) IsClass(student uint64) bool {
	_, own := p.own[student]
	return !own
}

// PictureOf returns the picture that a student draws from; nil for none.
func (p Plans) PictureOf(student uint64) *store.Picture {
	if a := p.given[student]; a.Picture != nil {
		return a.Picture
	}
	return p.main
}

// picture returns the number of the picture that a student draws from, 0 for none.
func (p Plans) picture(student uint64) uint64 {
	if pic := p.PictureOf(student); pic != nil {
		return pic.ID
	}
	return 0
}

// LoadPlans returns the plans of a project. A student's own is made from the
// same wishes; where they cannot be met with that picture, the class's plan
// stands in.
func LoadPlans(ctx context.Context, s *store.Store, p store.Project, class grid.Plan) (Plans, error) {
	given, err := s.Assignments(ctx, p.ID)
	if err != nil {
		return Plans{}, err
	}
	plans := Plans{class, p.Picture, map[uint64]grid.Plan{}, given}
	for student, a := range given {
		if a.Picture == nil {
			continue
		}
		if own, err := grid.Make(ownAsk(class.Typed, a)); err == nil {
			own.Line = class.Line // measured under the class's picture
			plans.own[student] = own
		}
	}
	students, err := s.InNeed(ctx, p.ID)
	plans.needs(students)
	return plans, err
}

// boldLine is the grid's width for students who need more contrast, in millimetres (ours).
const boldLine = 0.6

// needs fits plans to what students need: half as many boxes each way, and a
// grid that is seen easily.
func (p *Plans) needs(students []store.Student) {
	for _, s := range students {
		plan, changed := p.Of(s.ID), false
		if s.Has(store.NeedFewer) {
			if fewer, err := grid.Make(plan.Coarser()); err == nil {
				fewer.Line, plan, changed = plan.Line, fewer, true
			}
		}
		if s.Has(store.NeedContrast) {
			plan.Line.Width, plan.Line.Cased, changed = max(plan.Line.Width, boldLine), true, true
		}
		if changed {
			p.own[s.ID] = plan
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
