package store

import (
	"context"
	"time"

	"zestysketch/internal/letters"
)

// AuditKept is how long it is kept who did what.
const AuditKept = 366 * 24 * time.Hour

// AuditEntry is something that somebody did. It names students by number alone: who is
// forgotten is forgotten here too.
type AuditEntry struct {
	ID                            uint64
	SchoolID                      uint64
	TeacherID                     *uint64
	Who, Address                  string
	Kind                          AuditKind
	Words                         string `gorm:"column:deed"`
	ProjectID, ClassID, StudentID uint64 // 0 where it was about none
	At                            time.Time
}

// TableName returns where the log is kept.
func (AuditEntry) TableName() string { return "deeds" }

// AuditKind is what kind of thing was done.
type AuditKind string

// The kinds of what is done.
const (
	SignedIn AuditKind = "sign-in"
	Looked   AuditKind = "look"   // at something of a student
	Gave     AuditKind = "give"   // something out: a file, a list, links
	Changed  AuditKind = "change" // something
	Ticked   AuditKind = "tick"   // boxes or stages, which is most of all that is done
)

// ListedEntry is an entry with the names of what it was about, empty for what is gone.
type ListedEntry struct {
	AuditEntry
	Project, Class, Student string
}

// longestAudited bounds an entry's words, in letters.
const longestAudited = 80

// Audit keeps an entry; of a student who was forgotten meanwhile without their number.
func (s *Store) Audit(ctx context.Context, d AuditEntry) error {
	d.ID, d.At = 0, time.Now().UTC()
	d.Words, d.Who, d.Address = letters.Cut(d.Words, longestAudited), letters.Cut(d.Who, LongestPerson), letters.Cut(d.Address, longestAddress)
	return s.Transaction(ctx, func(s *Store) error {
		tx := s.with(ctx)
		d.ID = 0
		if d.StudentID > 0 {
			if err := tx.Raw("SELECT COALESCE((SELECT id FROM students WHERE id = ? LOCK IN SHARE MODE), 0)", d.StudentID).Scan(&d.StudentID).Error; err != nil {
				return err
			}
		}
		return tx.Create(&d).Error
	})
}

// AuditWish says which entries are wanted: those before one, of one teacher, of a kind and with words; all
// where it says nothing. Most is how many at most.
type AuditWish struct {
	Before, Teacher uint64
	Kind            AuditKind
	Words           string
	Ticks           bool // they too, where no kind is named
	Most            int
}

// AuditLog returns what was done at a school, the latest first.
func (s *Store) AuditLog(ctx context.Context, school uint64, w AuditWish) (list []ListedEntry, err error) {
	q := s.with(ctx).Model(&AuditEntry{}).Select("deeds.*, projects.name AS project, classes.name AS class, students.name AS student").
		Joins("LEFT JOIN projects ON projects.id = deeds.project_id").Joins("LEFT JOIN students ON students.id = deeds.student_id").
		Joins("LEFT JOIN classes ON classes.id = COALESCE(NULLIF(deeds.class_id, 0), students.class_id)").Where("deeds.school_id = ?", school)
	if w.Before > 0 {
		q = q.Where("deeds.id < ?", w.Before)
	}
	if w.Teacher > 0 {
		q = q.Where("deeds.teacher_id = ?", w.Teacher)
	}
	switch {
	case w.Kind != "":
		q = q.Where("deeds.kind = ?", w.Kind)
	case !w.Ticks:
		q = q.Where("deeds.kind <> ?", Ticked)
	}
	for _, like := range likes(w.Words) {
		q = q.Where("deeds.deed LIKE ? OR projects.name LIKE ? OR students.name COLLATE "+looked+" LIKE ?", like, like, like)
	}
	err = q.Order("deeds.id DESC").Limit(w.Most).Find(&list).Error
	return list, err
}

// mostInLog bounds what a project's log says of who did what.
const mostInLog = 2000

// AuditLogIn returns what was done in a project that the caller has fetched, the latest
// first; what was only looked at is left out.
func (s *Store) AuditLogIn(ctx context.Context, project uint64) (list []AuditEntry, err error) {
	err = s.with(ctx).Where("project_id = ? AND kind <> ?", project, Looked).Order("id DESC").Limit(mostInLog).Find(&list).Error
	return list, err
}

// SweepAuditLog forgets what was done before a moment.
func (s *Store) SweepAuditLog(ctx context.Context, before time.Time) error {
	return s.with(ctx).Where("at < ?", before).Delete(&AuditEntry{}).Error
}
