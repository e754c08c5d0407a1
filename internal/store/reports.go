package store

import (
	"context"
	"maps"
	"slices"

	"gorm.io/gorm/clause"
)

// Reached returns the objectives that students have reached in a project that
// the caller has fetched.
func (s *Store) Reached(ctx context.Context, project uint64) (map[uint64]map[string]bool, error) {
	var list []Reached
	err := s.with(ctx).Where("project_id = ?", project).Find(&list).Error
	by := map[uint64]map[string]bool{}
	for _, r := range list {
		if by[r.StudentID] == nil {
			by[r.StudentID] = map[string]bool{}
		}
		by[r.StudentID][r.Objective] = true
	}
	return by, err
}

// SetReached records that a student has, or has not, reached an objective.
func (s *Store) SetReached(ctx context.Context, teacher, project, student uint64, objective string, reached bool) error {
	return s.Transaction(ctx, func(s *Store) error {
		tx := s.with(ctx)
		if err := belongs(tx, teacher, project, student); err != nil {
			return err
		}
		r := Reached{project, student, objective}
		if reached {
			return tx.Clauses(clause.OnConflict{DoNothing: true}).Create(&r).Error
		}
		return tx.Delete(&r).Error
	})
}

// AddReached records of many students of one of the teacher's projects what they have
// reached, in a few statements however many they are.
func (s *Store) AddReached(ctx context.Context, teacher, project uint64, reached []Reached) error {
	if len(reached) == 0 {
		return nil
	}
	return s.Transaction(ctx, func(s *Store) error {
		tx := s.with(ctx)
		students := map[uint64]bool{}
		for _, r := range reached {
			students[r.StudentID] = true
		}
		if err := allBelong(tx, teacher, project, slices.Collect(maps.Keys(students))); err != nil {
			return err
		}
		return tx.Clauses(clause.OnConflict{DoNothing: true}).Create(&reached).Error
	})
}

// Cupboard returns what a school has, by item.
func (s *Store) Cupboard(ctx context.Context, school uint64) (map[string]Stock, error) {
	var list []Stock
	err := s.with(ctx).Where("school_id = ?", school).Find(&list).Error
	by := map[string]Stock{}
	for _, c := range list {
		by[c.Item] = c
	}
	return by, err
}

// SetStock keeps how much a school has of something, and its price.
func (s *Store) SetStock(ctx context.Context, c Stock) error {
	return s.with(ctx).Clauses(clause.OnConflict{UpdateAll: true}).Create(&c).Error
}
