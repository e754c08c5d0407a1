package store

import (
	"context"
	"time"

	"gorm.io/gorm/clause"

	"zestysketch/internal/core/reading"
)

// Helped is how far a student was helped to see what is in a box.
type Helped struct {
	ProjectID uint64 `gorm:"primaryKey"`
	StudentID uint64 `gorm:"primaryKey"`
	Label     string `gorm:"primaryKey"`
	Help      reading.Help
	HelpedAt  time.Time
}

// TableName is that of the migration.
func (Helped) TableName() string { return "helps" }

// SetHelp changes from which step a project's students are helped, the finest fraction that
// is used in words, and which lines of the picture are read.
func (s *Store) SetHelp(ctx context.Context, teacher, project uint64, from reading.Help, finest reading.Finest, by reading.Source) error {
	return s.update(ctx, teacher, project, map[string]any{"help": from, "finest": finest, "read_by": by})
}

// Help records that a student of one of the teacher's projects was helped so far in a box.
// The furthest step stays.
func (s *Store) Help(ctx context.Context, teacher, project, student uint64, label string, help reading.Help) error {
	return s.Transaction(ctx, func(s *Store) error {
		tx := s.with(ctx)
		if err := belongs(tx, teacher, project, student); err != nil {
			return err
		}
		had := Helped{ProjectID: project, StudentID: student, Label: label}
		if err := tx.Where(&had).Limit(1).Find(&had).Error; err != nil || had.Help.Step() >= help.Step() {
			return err
		}
		had.Help, had.HelpedAt = help, time.Now().UTC()
		return tx.Clauses(clause.OnConflict{UpdateAll: true}).Create(&had).Error
	})
}
