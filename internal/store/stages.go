package store

import (
	"context"
	"time"

	"gorm.io/gorm/clause"

	"zestysketch/internal/core/lesson"
)

// DoStages records for many students of one of the teacher's projects that they have done a
// stage, or have not, in a few statements however many they are, and returns for whom that
// was news. ErrNotFound where one of them does not draw the project.
func (s *Store) DoStages(ctx context.Context, teacher, project uint64, students []uint64, stage lesson.StageID, done bool) (news []uint64, err error) {
	if len(students) == 0 {
		return nil, nil
	}
	err = s.Transaction(ctx, func(s *Store) error {
		tx := s.with(ctx)
		err := allBelong(tx, teacher, project, students)
		if err != nil {
			return err
		}
		var had []uint64
		if err := tx.Model(&StageRecord{}).Where("project_id = ? AND stage = ? AND student_id IN ?", project, stage, students).Pluck("student_id", &had).Error; err != nil {
			return err
		}
		known := map[uint64]bool{}
		for _, id := range had {
			known[id] = true
		}
		var records []StageRecord
		var changes []Change
		now := time.Now().UTC()
		for _, id := range students {
			if known[id] == done {
				continue
			}
			news = append(news, id)
			records = append(records, StageRecord{ProjectID: project, StudentID: id, Stage: stage, DoneAt: now})
			changes = append(changes, Change{ProjectID: project, StudentID: id})
		}
		if len(news) == 0 {
			return nil
		}
		if done {
			err = tx.Clauses(clause.OnConflict{DoNothing: true}).Create(&records).Error
		} else {
			err = tx.Delete(&StageRecord{}, "project_id = ? AND stage = ? AND student_id IN ?", project, stage, news).Error
		}
		if err != nil {
			return err
		}
		return tx.Create(&changes).Error
	})
	return news, err
}
