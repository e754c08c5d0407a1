package store

import (
	"context"
	"time"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

// Tick records that a student has, or has not, done a box of one of the
// teacher's projects. Saying it twice changes nothing.
func (s *Store) Tick(ctx context.Context, teacher, project, student uint64, label string, done bool) error {
	return s.change(ctx, func(tx *gorm.DB) error {
		if err := belongs(tx, teacher, project, student); err != nil {
			return err
		}
		t := Tick{ProjectID: project, StudentID: student, Label: label, TickedAt: time.Now().UTC()}
		if done {
			return tx.Clauses(clause.OnConflict{DoNothing: true}).Create(&t).Error
		}
		return tx.Delete(&t).Error
	})
}

// belongs returns ErrNotFound unless the student is in the class of the teacher's project.
func belongs(tx *gorm.DB, teacher, project, student uint64) error {
	var n int64
	err := tx.Model(&Project{}).Joins("JOIN students ON students.class_id = projects.class_id").
		Where("projects.id = ? AND projects.teacher_id = ? AND students.id = ?", project, teacher, student).Count(&n).Error
	if err == nil && n == 0 {
		return ErrNotFound
	}
	return err
}

// Ticks returns the labels done in a project that the caller has fetched, by student.
func (s *Store) Ticks(ctx context.Context, project uint64) (map[uint64]map[string]bool, error) {
	var ticks []Tick
	if err := s.with(ctx).Where("project_id = ?", project).Find(&ticks).Error; err != nil {
		return nil, err
	}
	return byStudent(ticks), nil
}

// StudentTicks is Ticks for one student.
func (s *Store) StudentTicks(ctx context.Context, project, student uint64) (map[string]bool, error) {
	var ticks []Tick
	err := s.with(ctx).Where("project_id = ? AND student_id = ?", project, student).Find(&ticks).Error
	return byStudent(ticks)[student], err
}

func byStudent(ticks []Tick) map[uint64]map[string]bool {
	done := map[uint64]map[string]bool{}
	for _, t := range ticks {
		if done[t.StudentID] == nil {
			done[t.StudentID] = map[string]bool{}
		}
		done[t.StudentID][t.Label] = true
	}
	return done
}
