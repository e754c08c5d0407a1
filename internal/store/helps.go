package store

import (
	"context"
	"time"

	"gorm.io/gorm"
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

// SetHelp changes from which step a project's students are helped, and the finest fraction
// that is used in words.
func (s *Store) SetHelp(ctx context.Context, teacher, project uint64, from reading.Help, finest reading.Finest) error {
	return s.update(ctx, teacher, project, map[string]any{"help": from, "finest": finest})
}

// Help records that a student of one of the teacher's projects was helped so far in a box.
// The furthest step stays.
func (s *Store) Help(ctx context.Context, teacher, project, student uint64, label string, help reading.Help) error {
	return s.change(ctx, func(tx *gorm.DB) error {
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

// Learnt returns, in one statement, the objectives that students have reached in a project
// that the caller has fetched, and in how many boxes each was helped, by the furthest step.
func (s *Store) Learnt(ctx context.Context, project uint64) (reached map[uint64]map[string]bool, helped map[uint64]map[reading.Help]int, err error) {
	var rows []struct {
		StudentID uint64
		Objective string
		Help      reading.Help
		Boxes     int
	}
	err = s.with(ctx).Raw(`SELECT student_id, objective, '' AS help, 0 AS boxes FROM reached WHERE project_id = ?
		UNION ALL SELECT student_id, '', help, COUNT(*) FROM helps WHERE project_id = ? GROUP BY student_id, help`, project, project).Scan(&rows).Error
	reached, helped = map[uint64]map[string]bool{}, map[uint64]map[reading.Help]int{}
	for _, r := range rows {
		if r.Objective != "" {
			if reached[r.StudentID] == nil {
				reached[r.StudentID] = map[string]bool{}
			}
			reached[r.StudentID][r.Objective] = true
			continue
		}
		if helped[r.StudentID] == nil {
			helped[r.StudentID] = map[reading.Help]int{}
		}
		helped[r.StudentID][r.Help] = r.Boxes
	}
	return reached, helped, err
}
