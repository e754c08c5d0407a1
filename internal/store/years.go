package store

import (
	"context"
	"time"
)

// touchStep is how exactly it is known when a project was last at work.
const touchStep = 24 * time.Hour

// YearMove is what becomes of a class in a new school year: it goes on under a
// name, or is put away where that is empty.
type YearMove struct {
	Class uint64
	Name  string
}

// NewYear moves a teacher's classes into a new school year, and puts projects
// away; all of it or nothing. ErrNotFound for a class or a project of another's.
func (s *Store) NewYear(ctx context.Context, teacher uint64, moves []YearMove, away []uint64) error {
	return s.Transaction(ctx, func(s *Store) error {
		for _, m := range moves {
			values := map[string]any{"name": m.Name}
			if m.Name == "" {
				values = map[string]any{"put_away_at": time.Now()}
			}
			if err := s.changeClass(ctx, teacher, m.Class, values); err != nil {
				return err
			}
		}
		for _, id := range away {
			if err := s.PutAway(ctx, teacher, id); err != nil {
				return err
			}
		}
		return nil
	})
}

// mostHits bounds what is found of each kind.
const mostHits = 8
