package store

import (
	"context"
	"fmt"
	"time"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"

	"zestysketch/internal/letters"
)

// Printers returns the teacher's printers with their corrections.
func (s *Store) Printers(ctx context.Context, teacher uint64) (list []Printer, err error) {
	err = s.with(ctx).Preload("Corrections").Where("teacher_id = ?", teacher).Order("id").Find(&list).Error
	return list, err
}

// Printer returns one of the teacher's printers.
func (s *Store) Printer(ctx context.Context, teacher, id uint64) (Printer, error) {
	var p Printer
	err := s.with(ctx).Preload("Corrections").Where("teacher_id = ?", teacher).First(&p, id).Error
	return p, known(err)
}

// AddPrinter keeps a printer.
func (s *Store) AddPrinter(ctx context.Context, p *Printer) error {
	return s.with(ctx).Omit("Corrections").Create(p).Error
}

// RemovePrinter forgets one of the teacher's printers.
func (s *Store) RemovePrinter(ctx context.Context, teacher, id uint64) error {
	res := s.with(ctx).Where("teacher_id = ?", teacher).Delete(&Printer{}, id)
	if res.Error == nil && res.RowsAffected == 0 {
		return ErrNotFound
	}
	return res.Error
}

// Correct keeps what was measured of a printer that the caller has fetched.
func (s *Store) Correct(ctx context.Context, c Correction) error {
	return s.with(ctx).Clauses(clause.OnConflict{UpdateAll: true}).Create(&c).Error
}

// PrintSets returns the teacher's saved sets.
func (s *Store) PrintSets(ctx context.Context, teacher uint64) (list []PrintSet, err error) {
	err = s.with(ctx).Where("teacher_id = ?", teacher).Order("id").Find(&list).Error
	return list, err
}

// AddPrintSet keeps a set.
func (s *Store) AddPrintSet(ctx context.Context, p *PrintSet) error {
	return s.with(ctx).Create(p).Error
}

// RemovePrintSet forgets one of the teacher's sets.
func (s *Store) RemovePrintSet(ctx context.Context, teacher, id uint64) error {
	res := s.with(ctx).Where("teacher_id = ?", teacher).Delete(&PrintSet{}, id)
	if res.Error == nil && res.RowsAffected == 0 {
		return ErrNotFound
	}
	return res.Error
}

// AddJob queues a job for one of the teacher's projects.
func (s *Store) AddJob(ctx context.Context, teacher uint64, j *PrintJob) error {
	if err := s.owns(ctx, teacher, j.ProjectID); err != nil {
		return err
	}
	j.State = Queued
	return s.with(ctx).Create(j).Error
}

// Jobs returns a project's latest jobs, the newest first, 10 at most.
func (s *Store) Jobs(ctx context.Context, project uint64) (list []PrintJob, err error) {
	err = s.with(ctx).Where("project_id = ?", project).Order("id DESC").Limit(10).Find(&list).Error
	return list, err
}

// Job returns a job of one of the teacher's projects.
func (s *Store) Job(ctx context.Context, teacher, id uint64) (PrintJob, error) {
	var j PrintJob
	err := s.with(ctx).Joins("JOIN projects ON projects.id = print_jobs.project_id").
		Where("projects.teacher_id = ?", teacher).First(&j, "print_jobs.id = ?", id).Error
	return j, known(err)
}

// CancelJob ends a job of one of the teacher's projects that has not ended yet.
func (s *Store) CancelJob(ctx context.Context, teacher, id uint64) error {
	if _, err := s.Job(ctx, teacher, id); err != nil {
		return err
	}
	return s.with(ctx).Model(&PrintJob{}).Where("id = ? AND state IN ?", id, []JobState{Queued, Running}).
		Updates(map[string]any{"state": Cancelled, "message": "Cancelled."}).Error
}

// abandoned is how long a job's maker may be silent before another takes it.
const abandoned = 20 * time.Second

// mostTries is how often a job is taken before it fails: one that takes its
// maker down each time must not do so for ever.
const mostTries = 3

// longestMessage bounds a job's message, in letters.
const longestMessage = 1000

// TakeJob takes the oldest job that waits, or whose maker has fallen silent, or
// says to have been alive in time to come; ok is false where there is none. No
// two takers get the same one, and one that was taken three times fails.
func (s *Store) TakeJob(ctx context.Context) (j PrintJob, ok bool, err error) {
	err = s.change(ctx, func(tx *gorm.DB) error {
		now := time.Now().UTC()
		var found []PrintJob
		q := tx.Clauses(clause.Locking{Strength: "UPDATE", Options: "SKIP LOCKED"}).
			Where("state = ? OR state = ? AND beat_at NOT BETWEEN ? AND ?", Queued, Running, now.Add(-abandoned), now.Add(abandoned)).Order("id").Limit(1)
		if err := q.Find(&found).Error; err != nil {
			return err
		}
		if ok = len(found) > 0; !ok {
			return nil
		}
		j = found[0]
		if j.Tries >= mostTries {
			ok = false
			why := letters.Cut(fmt.Sprintf("It was tried %d times and did not come through. %s", mostTries, j.Message), longestMessage)
			return tx.Model(&PrintJob{ID: j.ID}).Updates(map[string]any{"state": Failed, "message": why}).Error
		}
		j.State, j.BeatAt, j.Done, j.Tries = Running, &now, 0, j.Tries+1
		return tx.Model(&PrintJob{ID: j.ID}).Select("State", "BeatAt", "Done", "Tries").Updates(j).Error
	})
	return j, ok, err
}

// Progress says how far a running job is, and that its maker lives; going is
// false once the job was cancelled.
func (s *Store) Progress(ctx context.Context, id uint64, done, total int) (going bool, err error) {
	now := time.Now().UTC()
	res := s.with(ctx).Model(&PrintJob{}).Where("id = ? AND state = ?", id, Running).Updates(map[string]any{"done": done, "total": total, "beat_at": now})
	return res.RowsAffected > 0, res.Error
}

// FinishJob keeps a running job's file and ends it; a job that was cancelled
// meanwhile keeps no file.
func (s *Store) FinishJob(ctx context.Context, id uint64, file []byte, message string) error {
	return s.change(ctx, func(tx *gorm.DB) error {
		res := tx.Model(&PrintJob{}).Where("id = ? AND state = ?", id, Running).Updates(map[string]any{"state": Done, "message": letters.Cut(message, longestMessage)})
		if res.Error != nil || res.RowsAffected == 0 {
			return res.Error
		}
		return tx.Clauses(clause.OnConflict{UpdateAll: true}).Create(&PrintFile{id, file}).Error
	})
}

// FailJob ends a job with the reason.
func (s *Store) FailJob(ctx context.Context, id uint64, why string) error {
	return s.with(ctx).Model(&PrintJob{}).Where("id = ? AND state = ?", id, Running).Updates(map[string]any{"state": Failed, "message": letters.Cut(why, longestMessage)}).Error
}

// RequeueJob lets a running job wait again, with the reason.
func (s *Store) RequeueJob(ctx context.Context, id uint64, why string) error {
	return s.with(ctx).Model(&PrintJob{}).Where("id = ? AND state = ?", id, Running).Updates(map[string]any{"state": Queued, "message": letters.Cut(why, longestMessage)}).Error
}

// SweepJobs forgets jobs that were made before a moment, with their files.
func (s *Store) SweepJobs(ctx context.Context, before time.Time) error {
	return s.with(ctx).Where("created_at < ? AND state NOT IN ?", before, []JobState{Queued, Running}).Delete(&PrintJob{}).Error
}
