package store

import (
	"context"
	"errors"
	"time"

	"gorm.io/gorm/clause"
)

// touchStep is how exactly it is known when a project was last at work.
const touchStep = 24 * time.Hour

// YearMove is what becomes of a class in a new school year: it goes on under a
// name, or is put away where that is empty.
type YearMove struct {
	Class uint64
	Name  string
}

// YearUndo is how long a new school year may be taken back.
const YearUndo = 7 * 24 * time.Hour

// YearBegun is what a new school year changed: the names that classes had, and the projects that were put away.
type YearBegun struct {
	At       time.Time
	Classes  []YearMove
	Projects []uint64
}

// Undo returns until when a new school year may be taken back, false where there is none or its time is over.
func (b *YearBegun) Undo(now time.Time) (until time.Time, ok bool) {
	if b == nil || b.At.IsZero() {
		return until, false
	}
	until = b.At.Add(YearUndo)
	return until, now.Before(until)
}

// NewYear moves a teacher's classes into a new school year, and puts projects
// away; all of it or nothing. ErrNotFound for a class or a project of another's.
func (s *Store) NewYear(ctx context.Context, teacher uint64, moves []YearMove, away []uint64) error {
	return s.Transaction(ctx, func(s *Store) error {
		begun := YearBegun{At: time.Now().UTC(), Projects: away}
		for _, m := range moves {
			var was Class
			if err := s.with(ctx).Where("id = ? AND teacher_id = ?", m.Class, teacher).Take(&was).Error; err != nil {
				return known(err)
			}
			begun.Classes = append(begun.Classes, YearMove{m.Class, was.Name})
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
		return s.with(ctx).Model(&Teacher{ID: teacher}).Select("YearBegun").Updates(Teacher{YearBegun: &begun}).Error
	})
}

// UndoYear takes a new school year back: classes have their names again, what was put away is there again. What was
// deleted since stays so. ErrNotFound where there is none, or its time is over.
func (s *Store) UndoYear(ctx context.Context, teacher uint64, now time.Time) error {
	return s.Transaction(ctx, func(s *Store) error {
		var me Teacher
		if err := s.with(ctx).Clauses(clause.Locking{Strength: "UPDATE"}).Take(&me, teacher).Error; err != nil {
			return known(err)
		}
		if _, ok := me.YearBegun.Undo(now); !ok {
			return ErrNotFound
		}
		for _, c := range me.YearBegun.Classes {
			err := s.changeClass(ctx, teacher, c.Class, map[string]any{"name": c.Name, "put_away_at": nil})
			if err != nil && !errors.Is(err, ErrNotFound) {
				return err
			}
		}
		for _, id := range me.YearBegun.Projects {
			if err := s.shelve(ctx, teacher, id, map[string]any{"put_away_at": nil}); err != nil && !errors.Is(err, ErrNotFound) {
				return err
			}
		}
		return s.with(ctx).Model(&Teacher{}).Where("id = ?", teacher).Update("year_begun", nil).Error
	})
}

// mostHits bounds what is found of each kind.
const mostHits = 8
