package store

import (
	"bytes"
	"context"
	"errors"
	"math/rand/v2"
	"time"

	"gorm.io/gorm/clause"

	"zestysketch/internal/core/lesson"
)

// RoadState is how far every student is on a project's road.
type RoadState struct {
	Done     map[uint64]map[lesson.StageID]bool
	Verdicts map[uint64][]Verdict // everything said at checkpoints, oldest first
}

// VerdictsOf returns a student's last verdicts by stage, as the road reads them.
func (r RoadState) VerdictsOf(student uint64) map[lesson.StageID]lesson.Verdict {
	out := map[lesson.StageID]lesson.Verdict{}
	for _, v := range r.Verdicts[student] {
		out[v.Stage] = v.Verdict
	}
	return out
}

// Last returns what was said last to a student at a stage's checkpoint.
func (r RoadState) Last(student uint64, stage lesson.StageID) (last Verdict) {
	for _, v := range r.Verdicts[student] {
		if v.Stage == stage {
			last = v
		}
	}
	return last
}

// RoadState returns how far students are in a project that the caller has
// fetched; student 0 is everybody.
func (s *Store) RoadState(ctx context.Context, project, student uint64) (RoadState, error) {
	state := RoadState{map[uint64]map[lesson.StageID]bool{}, map[uint64][]Verdict{}}
	of, args := "project_id = ?", []any{project}
	if student != 0 {
		of, args = of+" AND student_id = ?", append(args, student)
	}
	// In one statement: stages that are done come as verdicts without a number.
	var rows []Verdict
	err := s.with(ctx).Raw(`SELECT id, student_id, stage, verdict, by_whom, note, seen, created_at FROM verdicts WHERE `+of+`
		UNION ALL SELECT 0, student_id, stage, '', '', '', 0, done_at FROM stage_records WHERE `+of+` ORDER BY id`, append(args, args...)...).Scan(&rows).Error
	for _, r := range rows {
		if r.ID != 0 {
			r.ProjectID = project
			state.Verdicts[r.StudentID] = append(state.Verdicts[r.StudentID], r)
			continue
		}
		if state.Done[r.StudentID] == nil {
			state.Done[r.StudentID] = map[lesson.StageID]bool{}
		}
		state.Done[r.StudentID][r.Stage] = true
	}
	return state, err
}

// DoStage records that a student has, or has not, done a stage.
func (s *Store) DoStage(ctx context.Context, teacher, project, student uint64, stage lesson.StageID, done bool) error {
	_, err := s.DoStages(ctx, teacher, project, []uint64{student}, stage, done)
	return err
}

// AddVerdict keeps what was said at a checkpoint. v.Seen is the verdict that
// its giver saw: ErrConflict if somebody else decided meanwhile. The same
// verdict sent twice is kept once.
func (s *Store) AddVerdict(ctx context.Context, teacher uint64, v *Verdict) error {
	err := s.Transaction(ctx, func(s *Store) error {
		tx := s.with(ctx)
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

// Seated is where a student is just now: their raised hand, the teacher's flag,
// and whether they are missing today.
type Seated struct {
	StudentID uint64
	HandAt    *time.Time
	Flag      string
	Absent    bool
}

// Seats returns where the students of a class are on a day, in a project that
// the caller has fetched, by student; those of whom nothing is known are left out.
func (s *Store) Seats(ctx context.Context, project, class uint64, day string) (map[uint64]Seated, error) {
	var list []Seated
	err := s.with(ctx).Model(&Student{}).
		Select("students.id AS student_id, seats.hand_at, COALESCE(seats.flag, '') AS flag, absences.day IS NOT NULL AS absent").
		Joins("LEFT JOIN seats ON seats.student_id = students.id AND seats.project_id = ?", project).
		Joins("LEFT JOIN absences ON absences.student_id = students.id AND absences.day = ?", day).
		Where("students.class_id = ? AND (seats.student_id IS NOT NULL OR absences.day IS NOT NULL)", class).Find(&list).Error
	by := map[uint64]Seated{}
	for _, seat := range list {
		by[seat.StudentID] = seat
	}
	return by, err
}

// Hand returns when a student raised their hand in a project that the caller
// has fetched, nil where it is down.
func (s *Store) Hand(ctx context.Context, project, student uint64) (*time.Time, error) {
	var seat Seat
	err := s.with(ctx).Where("project_id = ? AND student_id = ?", project, student).Limit(1).Find(&seat).Error
	return seat.HandAt, err
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
	return s.Transaction(ctx, func(s *Store) error {
		tx := s.with(ctx)
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
	return s.Transaction(ctx, func(s *Store) error {
		tx := s.with(ctx)
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

// AddNote keeps a note of one of the teacher's projects.
func (s *Store) AddNote(ctx context.Context, teacher uint64, n *Note) error {
	return s.Transaction(ctx, func(s *Store) error {
		tx := s.with(ctx)
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
	if err := s.with(ctx).First(&c, "class_id = ?", class).Error; err != nil {
		return c, known(err)
	}
	school, err := secretOf(s.with(ctx), teacher)
	if feed := lettersOf(school, forFeed, class, uint64(c.Number)); bytes.Equal(linkHash(feed), c.FeedHash) {
		c.Feed = feed
	}
	return c, err
}

// SetCalendar keeps the calendar of one of the teacher's classes; its feed
// stays where it is.
func (s *Store) SetCalendar(ctx context.Context, teacher, class uint64, c lesson.Calendar) error {
	one, err := s.feedOf(ctx, teacher, class)
	if err != nil {
		return err
	}
	one.Calendar = c
	return s.with(ctx).Clauses(clause.OnConflict{DoUpdates: clause.AssignmentColumns([]string{"calendar"})}).Create(&one).Error
}

// RenewFeed gives the calendar of one of the teacher's classes a new address;
// the old one opens nothing any more.
func (s *Store) RenewFeed(ctx context.Context, teacher, class uint64) error {
	one, err := s.feedOf(ctx, teacher, class)
	if err != nil {
		return err
	}
	return s.with(ctx).Model(&Calendar{}).Where("class_id = ?", class).Select("Number", "FeedHash").Updates(one).Error
}

// feedOf returns a class's calendar with a new feed and nothing else.
func (s *Store) feedOf(ctx context.Context, teacher, class uint64) (Calendar, error) {
	if _, err := s.Class(ctx, teacher, class); err != nil {
		return Calendar{}, err
	}
	school, err := secretOf(s.with(ctx), teacher)
	one := Calendar{ClassID: class, Number: rand.Uint32()}
	one.FeedHash = linkHash(lettersOf(school, forFeed, class, uint64(one.Number)))
	return one, err
}

// Feed returns the class and calendar that a feed's letters open: it ends with its teacher's
// signing in.
func (s *Store) Feed(ctx context.Context, feed string) (Class, Calendar, error) {
	var c Calendar
	err := s.with(ctx).Joins("JOIN classes ON classes.id = calendars.class_id").Joins("JOIN teachers ON teachers.id = classes.teacher_id").
		Where("teachers.disabled_at IS NULL").First(&c, "calendars.feed_hash = ?", linkHash(feed)).Error
	if err != nil {
		return Class{}, c, known(err)
	}
	var class Class
	err = known(s.with(ctx).First(&class, c.ClassID).Error)
	return class, c, err
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
