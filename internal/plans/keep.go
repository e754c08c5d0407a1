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
	err = s.Together(ctx, func(s *store.Store) error {
		version, err = keep(ctx, s, p, p, seen, plan)
		return err
	})
	return version, err
}

// ChangePicture gives a project another picture to draw from. A kept plan is
// made again for it; where it cannot be, nothing changes and the error, which
// wraps grid's Problems, says why.
func ChangePicture(ctx context.Context, s *store.Store, p store.Project, picture store.Picture) error {
	return s.Together(ctx, func(s *store.Store) error {
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
	file, err := grid.Encode(plan)
	if err != nil {
		return 0, err
	}
	carry, err := carryTo(ctx, s, before, after, plan)
	if err != nil {
		return 0, err
	}
	return s.SavePlan(ctx, after.TeacherID, after.ID, seen, cmp.Or(plan.Name, after.Name), string(file), carry)
}

// carryTo returns how ticks come over to a new plan, nil where they stay.
func carryTo(ctx context.Context, s *store.Store, before, after store.Project, plan grid.Plan) (store.Carry, error) {
	old, err := Kept(ctx, s, before)
	if err != nil || old == nil || before.Picture == after.Picture && old.Alike(plan) {
		return nil, err
	}
	from, err := Load(ctx, s, before, *old)
	if err != nil {
		return nil, err
	}
	to, err := Load(ctx, s, after, plan)
	if err != nil {
		return nil, err
	}
	return Carry(from, to), nil
}
