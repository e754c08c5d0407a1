package store

import (
	"context"
	"time"

	"gorm.io/gorm/clause"

	"zestysketch/internal/core/training"
)

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
