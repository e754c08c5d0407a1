package plans

import (
	"cmp"
	"context"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/store"
)

// Keep keeps a plan of a project and returns its version. seen is the version
// that the teacher looked at; store.ErrConflict if there is a newer one. What
// students have ticked is carried over as far as it lies in the same places of
// the same picture.
func Keep(ctx context.Context, s *store.Store, p store.Project, seen int, plan grid.Plan) (version int, err error) {
	err = s.Transaction(ctx, func(s *store.Store) error {
		version, err = keep(ctx, s, p, p, seen, plan)
		return err
	})
	return version, err
}

// ChangePicture gives a project another picture to draw from. A kept plan is
// made again for it; where it cannot be, nothing changes and the error, which
// wraps grid's Problems, says why.
func ChangePicture(ctx context.Context, s *store.Store, p store.Project, picture store.Picture) error {
	return s.Transaction(ctx, func(s *store.Store) error {
		if err := s.SetPicture(ctx, p.TeacherID, p.ID, picture.ID); err != nil {
			return err
		}
		kept, err := Kept(ctx, s, p)
		if err != nil || kept == nil {
			return err
		}
		plan, err := kept.For([2]int{picture.Width, picture.Height})
		if err != nil {
			return err
		}
		after := p
		after.Picture, after.PictureID = &picture, &picture.ID
		_, err = keep(ctx, s, p, after, p.PlanVersion, plan)
		return err
	})
}

// keep keeps a plan of a project whose picture may have changed with it.
func keep(ctx context.Context, s *store.Store, before, after store.Project, seen int, plan grid.Plan) (int, error) {
	step, err := foresee(ctx, s, before, after, plan, false)
	if err != nil {
		return 0, err
	}
	return step.keep(ctx, s, after, seen)
}

// keep keeps the plan of a step and returns its version.
func (step Step) keep(ctx context.Context, s *store.Store, p store.Project, seen int) (int, error) {
	file, err := grid.Encode(step.plan)
	if err != nil {
		return 0, err
	}
	return s.SavePlan(ctx, p.TeacherID, p.ID, seen, cmp.Or(step.plan.Name, p.Name), string(file), step.carry, step.back)
}
