package plans

import (
	"context"
	"maps"
	"time"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/lesson"
	"zestysketch/internal/store"
)

// Carry returns how ticks come over from the plans by which a class drew to
// those by which it will: of boxes by their places, and not at all to another picture; of
// parts with names as they are.
func Carry(before, after Set) store.Carry {
	return func(student uint64, done map[string]time.Time) map[string]time.Time {
		parts := ofParts(student, done)
		boxes := maps.Clone(done)
		maps.DeleteFunc(boxes, func(label string, _ time.Time) bool { return lesson.IsPart(label) })
		maps.Copy(parts, carryBoxes(before, after, student, boxes))
		return parts
	}
}

// ofParts leaves the ticks of parts with names, which no grid changes.
func ofParts(_ uint64, done map[string]time.Time) map[string]time.Time {
	parts := maps.Clone(done)
	maps.DeleteFunc(parts, func(label string, _ time.Time) bool { return !lesson.IsPart(label) })
	return parts
}

func carryBoxes(before, after Set, student uint64, done map[string]time.Time) map[string]time.Time {
	switch {
	case before.alike(after, student):
		return done
	case before.picture(student) != after.picture(student):
		return nil
	}
	return grid.Carry(before.Of(student), after.Of(student), done, func(a, b time.Time) time.Time {
		if a.After(b) {
			return a
		}
		return b
	})
}

// Refit makes a change to what students of projects draw from, or need, and
// carries the ticks of those whose plan is another afterwards: all of it or nothing.
func Refit(ctx context.Context, s *store.Store, projects []store.Project, change func(*store.Store) error) error {
	return s.Transaction(ctx, func(s *store.Store) error {
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

func refit(ctx context.Context, s *store.Store, p store.Project, before, after Set) error {
	ticks, err := s.Ticks(ctx, p.ID)
	if err != nil {
		return err
	}
	for student := range ticks {
		if before.alike(after, student) {
			continue
		}
		if err := s.CarryTicks(ctx, p, student, Carry(before, after)); err != nil {
			return err
		}
	}
	return nil
}

func plansOf(ctx context.Context, s *store.Store, projects []store.Project) (map[uint64]Set, error) {
	all := map[uint64]Set{}
	for _, p := range projects {
		class, err := Kept(ctx, s, p)
		if err != nil {
			return nil, err
		}
		if class == nil {
			continue
		}
		if all[p.ID], err = Load(ctx, s, p, *class); err != nil {
			return nil, err
		}
	}
	return all, nil
}
