package store

import (
	"context"
	"errors"
	"time"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"

	"zestysketch/internal/core/lesson"
)

// RoadState is how far every student is on a project's road.
type RoadState struct {
	Done     map[uint64]map[lesson.StageKind]bool
	Verdicts map[uint64]map[lesson.StageKind]Verdict // the last of each
}

// VerdictsOf returns a student's last verdicts by stage, as the road reads them.
func (r RoadState) VerdictsOf(student uint64) map[lesson.StageKind]lesson.Verdict {
	out := map[lesson.StageKind]lesson.Verdict{}
	for stage, v := range r.Verdicts[student] {
		out[stage] = v.Verdict
	}
	return out
}

// RoadState returns how far students are in a project that the caller has fetched.
func (s *Store) RoadState(ctx context.Context, project uint64) (RoadState, error) {
	state := RoadState{map[uint64]map[lesson.StageKind]bool{}, map[uint64]map[lesson.StageKind]Verdict{}}
	var records []StageRecord
	if err := s.with(ctx).Where("project_id = ?", project).Find(&records).Error; err != nil {
		return state, err
	}
	for _, r := range records {
		if state.Done[r.StudentID] == nil {
			state.Done[r.StudentID] = map[lesson.StageKind]bool{}
		}
		state.Done[r.StudentID][r.Stage] = true
	}
	var verdicts []Verdict
	if err := s.with(ctx).Where("project_id = ?", project).Order("id").Find(&verdicts).Error; err != nil {
		return state, err
	}
	for _, v := range verdicts {
		if state.Verdicts[v.StudentID] == nil {
			state.Verdicts[v.StudentID] = map[lesson.StageKind]Verdict{}
		}
		state.Verdicts[v.StudentID][v.Stage] = v
	}
	return state, nil
}

// DoStage records that a student has, or has not, done a stage.
func (s *Store) DoStage(ctx context.Context, teacher, project, student uint64, stage lesson.StageKind, done bool) error {
	return s.change(ctx, func(tx *gorm.DB) error {
		if err := belongs(tx, teacher, project, student); err != nil {
			return err
		}
		r := StageRecord{ProjectID: project, StudentID: student, Stage: stage, DoneAt: time.Now().UTC()}
		var err error
		if done {
			err = tx.Clauses(clause.OnConflict{DoNothing: true}).Create(&r).Error
		} else {
			err = tx.Delete(&r).Error
		}
		if err != nil {
			return err
		}
		return changed(tx, project, student)
	})
}

// AddVerdict keeps what was said at a checkpoint. v.Seen is the verdict that
// its giver saw: ErrConflict if somebody else decided meanwhile. The same
// verdict sent twice is kept once.
func (s *Store) AddVerdict(ctx context.Context, teacher uint64, v *Verdict) error {
	err := s.change(ctx, func(tx *gorm.DB) error {
		if err := belongs(tx, teacher, v.ProjectID, v.StudentID); err != nil {
			return err
		}
		var last Verdict
		err := tx.Where("project_id = ? AND student_id = ? AND stage = ?", v.ProjectID, v.StudentID, v.Stage).Order("id DESC").Limit(1).Find(&last).Error
		if err != nil {
			return err
		}
		if last.ID != v.Seen {
			if last.Seen == v.Seen && last.Verdict == v.Verdict && last.ByWhom == v.ByWhom && last.Note == v.Note {
				*v = last // sent twice
				return nil
			}
			return ErrConflict
		}
		v.ID = 0
		if err := tx.Create(v).Error; err != nil {
			return err
		}
		return changed(tx, v.ProjectID, v.StudentID)
	})
	if errors.Is(err, ErrTaken) {
		return ErrConflict // decided in the very same moment
	}
	return err
}

// Verdicts returns everything said at a student's checkpoints, oldest first, in
// a project that the caller has fetched.
func (s *Store) Verdicts(ctx context.Context, project, student uint64) (list []Verdict, err error) {
	err = s.with(ctx).Where("project_id = ? AND student_id = ?", project, student).Order("id").Find(&list).Error
	return list, err
}

// Seats returns hands and flags in a project that the caller has fetched.
func (s *Store) Seats(ctx context.Context, project uint64) (map[uint64]Seat, error) {
	var list []Seat
	err := s.with(ctx).Where("project_id = ?", project).Find(&list).Error
	by := map[uint64]Seat{}
	for _, seat := range list {
		by[seat.StudentID] = seat
	}
	return by, err
}

// RaiseHand puts a student's hand up or down; a hand that is up keeps its time.
func (s *Store) RaiseHand(ctx context.Context, teacher, project, student uint64, up bool) error {
	return s.seat(ctx, teacher, project, student, func(seat *Seat) {
		switch now := time.Now().UTC(); {
		case !up:
			seat.HandAt = nil
		case seat.HandAt == nil:
			seat.HandAt = &now
		}
	})
}

// Flag writes the teacher's flag for a student; empty takes it away.
func (s *Store) Flag(ctx context.Context, teacher, project, student uint64, words string) error {
	return s.seat(ctx, teacher, project, student, func(seat *Seat) { seat.Flag = words })
}

func (s *Store) seat(ctx context.Context, teacher, project, student uint64, change func(*Seat)) error {
	return s.change(ctx, func(tx *gorm.DB) error {
		if err := belongs(tx, teacher, project, student); err != nil {
			return err
		}
		seat := Seat{ProjectID: project, StudentID: student}
		if err := tx.Where("project_id = ? AND student_id = ?", project, student).Limit(1).Find(&seat).Error; err != nil {
			return err
		}
		change(&seat)
		if err := tx.Clauses(clause.OnConflict{UpdateAll: true}).Create(&seat).Error; err != nil {
			return err
		}
		return changed(tx, project, student)
	})
}

// MarkAbsent records that a student of the teacher's is missing on a day, or is not.
func (s *Store) MarkAbsent(ctx context.Context, teacher, project, student uint64, day string, absent bool) error {
	return s.change(ctx, func(tx *gorm.DB) error {
		if err := belongs(tx, teacher, project, student); err != nil {
			return err
		}
		a := Absence{student, day}
		var err error
		if absent {
			err = tx.Clauses(clause.OnConflict{DoNothing: true}).Create(&a).Error
		} else {
			err = tx.Delete(&a).Error
		}
		if err != nil {
			return err
		}
		return changed(tx, project, student)
	})
}

// Absent returns who of the students is missing on a day.
func (s *Store) Absent(ctx context.Context, students []uint64, day string) (map[uint64]bool, error) {
	var list []Absence
	err := s.with(ctx).Where("student_id IN ? AND day = ?", students, day).Find(&list).Error
	by := map[uint64]bool{}
	for _, a := range list {
		by[a.StudentID] = true
	}
	return by, err
}

// AddNote keeps a note of one of the teacher's projects.
func (s *Store) AddNote(ctx context.Context, teacher uint64, n *Note) error {
	return s.change(ctx, func(tx *gorm.DB) error {
		if n.StudentID != nil {
			if err := belongs(tx, teacher, n.ProjectID, *n.StudentID); err != nil {
				return err
			}
		} else if err := s.owns(ctx, teacher, n.ProjectID); err != nil {
			return err
		}
		n.ID = 0
		return tx.Create(n).Error
	})
}

// Notes returns a project's notes, the newest first, those with every word
// looked for, 200 at most; student 0 is everybody.
func (s *Store) Notes(ctx context.Context, project, student uint64, words string) (list []Note, err error) {
	q := s.with(ctx).Where("project_id = ?", project)
	if student != 0 {
		q = q.Where("student_id = ?", student)
	}
	for _, like := range likes(words) {
		q = q.Where("words LIKE ?", like)
	}
	err = q.Order("id DESC").Limit(mostListed).Find(&list).Error
	return list, err
}

// Calendar returns the calendar of one of the teacher's classes; ErrNotFound
// where it has none yet.
func (s *Store) Calendar(ctx context.Context, teacher, class uint64) (Calendar, error) {
	if _, err := s.Class(ctx, teacher, class); err != nil {
		return Calendar{}, err
	}
	var c Calendar
	return c, known(s.with(ctx).First(&c, "class_id = ?", class).Error)
}

// SetCalendar keeps the calendar of one of the teacher's classes; its feed
// stays where it is.
func (s *Store) SetCalendar(ctx context.Context, teacher, class uint64, c lesson.Calendar) error {
	if _, err := s.Class(ctx, teacher, class); err != nil {
		return err
	}
	one := Calendar{class, c, secret()}
	return s.with(ctx).Clauses(clause.OnConflict{DoUpdates: clause.AssignmentColumns([]string{"calendar"})}).Create(&one).Error
}

// Feed returns the class and calendar that a feed's secret opens.
func (s *Store) Feed(ctx context.Context, secret string) (Class, Calendar, error) {
	var c Calendar
	if err := s.with(ctx).First(&c, "feed = ?", secret).Error; err != nil {
		return Class{}, c, known(err)
	}
	var class Class
	return class, c, known(s.with(ctx).First(&class, c.ClassID).Error)
}

// Absences returns the days on which students were missing.
func (s *Store) Absences(ctx context.Context, students []uint64) (map[uint64][]string, error) {
	var list []struct {
		StudentID uint64
		Day       time.Time
	}
	err := s.with(ctx).Model(&Absence{}).Where("student_id IN ?", students).Order("day").Find(&list).Error
	by := map[uint64][]string{}
	for _, a := range list {
		by[a.StudentID] = append(by[a.StudentID], a.Day.Format(time.DateOnly))
	}
	return by, err
}
