package press

import (
	"context"
	"errors"
	"fmt"
	"slices"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/page"
	"zestysketch/internal/plans"
	"zestysketch/internal/store"
)

// ErrPlan is wrapped by the error of a plan that must not be drawn.
var ErrPlan = errors.New("nothing to print by")

// Load fetches what the sets of a teacher's project need; plans.ErrNone where it has no plan yet.
func Load(ctx context.Context, s *store.Store, p store.Project, spec Spec) (Set, error) {
	set := Set{Project: p}
	plan, err := plans.Needed(ctx, s, p)
	if err != nil {
		return set, err
	}
	set.Class = plan
	if err := plans.Fits(plan, p.Picture); err != nil {
		return set, fmt.Errorf("%w: %w", ErrPlan, err)
	}
	if f, stopped := set.Class.Stopped(); stopped {
		return set, fmt.Errorf("%w: %s %s", ErrPlan, f.Message, f.Fix)
	}
	if set.Printer, err = printer(ctx, s, p.TeacherID, spec); err != nil {
		return set, err
	}
	planned, err := plans.Shown(ctx, s, p, set.Class)
	if err != nil {
		return set, err
	}
	set.Own = func(student uint64) (grid.Plan, *store.Picture) {
		return planned.Of(student), planned.PictureOf(student)
	}
	set.Link = func(ctx context.Context, student uint64) (string, error) { return s.Link(ctx, p, student) }
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
func printer(ctx context.Context, s *store.Store, teacher uint64, spec Spec) (page.Printer, error) {
	size, err := spec.Size()
	if err != nil {
		return page.Printer{}, err
	}
	pr := page.On(size)
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
