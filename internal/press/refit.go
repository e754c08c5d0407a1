package press

import (
	"context"
	"errors"
	"fmt"
	"time"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/store"
)

// PlanOf returns the plan of a project, nil where it has none yet.
func PlanOf(ctx context.Context, s *store.Store, p store.Project) (*grid.Plan, error) {
	saved, err := s.Plan(ctx, p)
	if errors.Is(err, store.ErrNotFound) {
		return nil, nil
	}
	if err != nil {
		return nil, err
	}
	plan, err := grid.Decode([]byte(saved.JSON))
	if err != nil {
		return nil, fmt.Errorf("plan %d of project %d: %w", saved.Version, p.ID, err)
	}
	return &plan, nil
}

// Carry returns how ticks come over from the plans by which a class drew to
// those by which it will: by their places, and not at all to another picture.
func Carry(before, after Plans) store.Carry {
	return func(student uint64, done map[string]time.Time) map[string]time.Time {
		switch {
		case before.picture(student) != after.picture(student):
			return nil
		case before.Of(student).Alike(after.Of(student)):
			return done
		}
		return grid.Carry(before.Of(student), after.Of(student), done, func(a, b time.Time) time.Time {
			if a.After(b) {
				return a
			}
			return b
		})
	}
}

// Refit makes a change to what students of projects draw from, or need, and
// carries the ticks of those whose plan is another afterwards: all of it or nothing.
func Refit(ctx context.Context, s *store.Store, projects []store.Project, change func(*store.Store) error) error {
	return s.Together(ctx, func(s *store.Store) error {
		before, err := plansOf(ctx, s, projects)
		if err != nil {
			return err
		}
		if err := change(s); err != nil {
			return err
		}
		after, err := plansOf(ctx, s, projects)
		if err != nil {
			return err
		}
		for _, p := range projects {
			if err := refit(ctx, s, p, before[p.ID], after[p.ID]); err != nil {
				return err
			}
		}
		return nil
	})
}

func refit(ctx context.Context, s *store.Store, p store.Project, before, after Plans) error {
	ticks, err := s.Ticks(ctx, p.ID)
	if err != nil {
		return err
	}
	for student := range ticks {
		if before.picture(student) == after.picture(student) && before.Of(student).Alike(after.Of(student)) {
			continue
		}
		if err := s.CarryTicks(ctx, p, student, Carry(before, after)); err != nil {
			return err
		}
	}
	return nil
}

func plansOf(ctx context.Context, s *store.Store, projects []store.Project) (map[uint64]Plans, error) {
	all := map[uint64]Plans{}
	for _, p := range projects {
		class, err := PlanOf(ctx, s, p)
		if err != nil {
			return nil, err
		}
		if class == nil {
			continue
		}
		if all[p.ID], err = LoadPlans(ctx, s, p, *class); err != nil {
			return nil, err
		}
	}
	return all, nil
}
