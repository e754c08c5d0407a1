package store

import (
	"context"
	"encoding/json"
	"fmt"
	"maps"
	"slices"
	"time"

	"gorm.io/gorm/clause"

	"zestysketch/internal/core/reading"
	"zestysketch/internal/core/training"
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

// Learnt is what the students of a project learnt, by student.
type Learnt struct {
	Reached map[uint64]map[string]bool      // objectives
	Helped  map[uint64]map[reading.Help]int // in how many boxes, by the furthest step
	Trained []Training                      // exercises of the eye, the latest first
	Own     map[uint64]map[string]string    // what they say themselves, by its name
}

// Learnt returns, in one statement, what students learnt in a project that the caller has
// fetched.
func (s *Store) Learnt(ctx context.Context, project uint64) (Learnt, error) {
	var rows []struct {
		StudentID uint64
		Objective string
		Help      reading.Help
		Boxes     int
		Kind      training.Kind
		DoneAt    *time.Time
		Result    string
		What      string
	}
	out := Learnt{Reached: map[uint64]map[string]bool{}, Helped: map[uint64]map[reading.Help]int{}, Own: map[uint64]map[string]string{}}
	err := s.with(ctx).Raw(`SELECT student_id, objective, '' AS help, 0 AS boxes, '' AS kind, NULL AS done_at, '' AS result, '' AS what FROM reached WHERE project_id = ?
		UNION ALL SELECT student_id, '', help, COUNT(*), '', NULL, '', '' FROM helps WHERE project_id = ? GROUP BY student_id, help
		UNION ALL SELECT student_id, '', '', 0, kind, done_at, result, '' FROM trainings WHERE project_id = ?
		UNION ALL SELECT student_id, '', '', 0, '', NULL, value, what FROM own_marks WHERE project_id = ? AND (what IN ('differs', 'glad') OR what LIKE 'goal:%')
		ORDER BY done_at DESC`, project, project, project, project).Scan(&rows).Error
	if err != nil {
		return out, err
	}
	for _, r := range rows {
		switch {
		case r.Objective != "":
			put(out.Reached, r.StudentID, r.Objective, true)
		case r.What != "":
			put(out.Own, r.StudentID, r.What, r.Result)
		case r.Help != "":
			put(out.Helped, r.StudentID, r.Help, r.Boxes)
		case r.DoneAt != nil && len(out.Trained) < mostTrainings:
			t := Training{ProjectID: project, StudentID: r.StudentID, Kind: r.Kind, DoneAt: *r.DoneAt}
			if err := json.Unmarshal([]byte(r.Result), &t.Result); err != nil {
				return out, fmt.Errorf("an exercise that was kept is damaged: %w", err)
			}
			out.Trained = append(out.Trained, t)
		}
	}
	return out, nil
}

// put puts a value into a map of maps.
func put[K comparable, V any](into map[uint64]map[K]V, first uint64, key K, value V) {
	if into[first] == nil {
		into[first] = map[K]V{}
	}
	into[first][key] = value
}

// TableName names the table of Reached.
func (Reached) TableName() string { return "reached" }

// Stock is how much of a material a school has, and what one costs.
type Stock struct {
	SchoolID   uint64 `gorm:"primaryKey"`
	Item       string `gorm:"primaryKey"`
	Have       int
	PriceCents int
}

// Training is what one exercise of a student's eye told.
type Training struct {
	ProjectID uint64          `gorm:"primaryKey"`
	StudentID uint64          `gorm:"primaryKey"`
	Kind      training.Kind   `gorm:"primaryKey"`
	DoneAt    time.Time       `gorm:"primaryKey"`
	Result    training.Result `gorm:"serializer:json"`
}

// Train keeps what an exercise told of a student of one of the teacher's projects. Saying
// it twice changes nothing.
func (s *Store) Train(ctx context.Context, teacher uint64, t Training) error {
	return s.Transaction(ctx, func(s *Store) error {
		tx := s.with(ctx)
		if err := belongs(tx, teacher, t.ProjectID, t.StudentID); err != nil {
			return err
		}
		return tx.Clauses(clause.OnConflict{DoNothing: true}).Create(&t).Error
	})
}

// mostTrainings is how many exercises are fetched.
const mostTrainings = 3000

// Trainings returns a student's exercises in a project that the caller has fetched, the
// latest first.
func (s *Store) Trainings(ctx context.Context, project, student uint64) (list []Training, err error) {
	err = s.with(ctx).Where("project_id = ? AND student_id = ?", project, student).Order("done_at DESC").Limit(mostTrainings).Find(&list).Error
	return list, err
}
