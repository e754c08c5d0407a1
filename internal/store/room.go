package store

import (
	"context"
	"time"

	"gorm.io/gorm/clause"
)

// Call is what a teacher calls to a class at work, shown on the projector and on every tablet:
// words, a time that runs, or both.
type Call struct {
	ProjectID uint64     `gorm:"primaryKey" json:"-"`
	ClassID   uint64     `gorm:"primaryKey" json:"-"`
	Words     string     `json:"words"`
	Until     *time.Time `json:"until,omitempty"` // nil for no time
}

// OfCall is what a change is about that calls something to a class.
const OfCall = "call"

// calledFor is how long a time that has run out is still shown.
const calledFor = 10 * time.Minute

// Call returns what is called to a class in a project that the caller has fetched, nothing
// where its words are empty and it has no time.
func (s *Store) Call(ctx context.Context, project, class uint64) (c Call, err error) {
	err = s.with(ctx).Where("project_id = ? AND class_id = ? AND (until IS NULL OR until > ?)", project, class, time.Now().UTC().Add(-calledFor)).Limit(1).Find(&c).Error
	return c, err
}

// SetCall calls something to a class of a project of which the caller is sure, or nothing
// more, and tells the screens that look.
func (s *Store) SetCall(ctx context.Context, c Call) error {
	return s.Transaction(ctx, func(s *Store) (err error) {
		tx := s.with(ctx)
		if c.Words == "" && c.Until == nil {
			err = tx.Delete(&c).Error
		} else {
			err = tx.Clauses(clause.OnConflict{UpdateAll: true}).Create(&c).Error
		}
		if err != nil {
			return err
		}
		return tx.Create(&Change{ProjectID: c.ProjectID, About: OfCall}).Error
	})
}

// Demonstration is what is shown of a box in front of a class, the same on every screen
// that shows it.
type Demonstration struct {
	ProjectID uint64 `gorm:"primaryKey" json:"-"`
	Box       string `json:"box"`
	Step      int    `json:"step"` // 0 quarter marks, 1 dots, then a line more each
	Upside    bool   `json:"upside"`
	Covered   bool   `json:"covered"` // all of the picture but the box
}

// MostSteps bounds the steps of a demonstration.
const MostSteps = 200

// OfDemonstration is what a change is about that is of no student.
const OfDemonstration = "demonstration"

// Demonstration returns what a project that the caller has fetched shows: nothing yet
// where its box is "".
func (s *Store) Demonstration(ctx context.Context, project uint64) (d Demonstration, err error) {
	err = s.with(ctx).Where("project_id = ?", project).Limit(1).Find(&d).Error
	return d, err
}

// Demonstrate shows something else of a project of which the caller is sure, and tells the
// screens that look.
func (s *Store) Demonstrate(ctx context.Context, d Demonstration) error {
	return s.Transaction(ctx, func(s *Store) error {
		tx := s.with(ctx)
		if err := tx.Clauses(clause.OnConflict{UpdateAll: true}).Create(&d).Error; err != nil {
			return err
		}
		return tx.Create(&Change{ProjectID: d.ProjectID, About: OfDemonstration}).Error
	})
}

// Seat is a student's raised hand and the teacher's flag.
type Seat struct {
	ProjectID uint64 `gorm:"primaryKey"`
	StudentID uint64 `gorm:"primaryKey"`
	HandAt    *time.Time
	Flag      string
}

// Absence is a student missing on a day.
type Absence struct {
	StudentID uint64 `gorm:"primaryKey"`
	Day       string `gorm:"primaryKey"` // 2006-01-02
}

// Change says that something of a student in a project has changed, or how far
// one of its jobs is, for pages that look.
type Change struct {
	ID        uint64
	ProjectID uint64
	StudentID uint64
	JobID     uint64 // 0 where it is of a student
	About     string // empty where it is of a student or a job
	CreatedAt time.Time
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
