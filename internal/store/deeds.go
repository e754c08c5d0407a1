package store

import (
	"context"
	"time"

	"zestysketch/internal/letters"
)

// KeptDeeds is how long it is kept who did what.
const KeptDeeds = 366 * 24 * time.Hour

// Deed is something that somebody did. It names students by number alone: who is
// forgotten is forgotten here too.
type Deed struct {
	ID                            uint64
	SchoolID                      uint64
	TeacherID                     *uint64
	Who, Address, Deed            string
	ProjectID, ClassID, StudentID uint64 // 0 where it was about none
	At                            time.Time
}

// ListedDeed is a deed with the names of what it was about, empty for what is gone.
type ListedDeed struct {
	Deed
	Project, Class, Student string
}

// longestDeed bounds a deed's words, in letters.
const longestDeed = 80

// KeepDeed keeps a deed; of a student who was forgotten meanwhile without their number.
func (s *Store) KeepDeed(ctx context.Context, d Deed) error {
	d.ID, d.At = 0, time.Now().UTC()
	d.Deed, d.Who, d.Address = letters.Cut(d.Deed, longestDeed), letters.Cut(d.Who, LongestPerson), letters.Cut(d.Address, longestAddress)
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

// Deeds returns what was done at a school, the latest first, before a deed, 0 for
// all, and by one teacher, 0 for everybody; so many at most.
func (s *Store) Deeds(ctx context.Context, school, before, teacher uint64, words string, most int) (list []ListedDeed, err error) {
	q := s.with(ctx).Model(&Deed{}).Select("deeds.*, projects.name AS project, classes.name AS class, students.name AS student").
		Joins("LEFT JOIN projects ON projects.id = deeds.project_id").Joins("LEFT JOIN students ON students.id = deeds.student_id").
		Joins("LEFT JOIN classes ON classes.id = COALESCE(NULLIF(deeds.class_id, 0), students.class_id)").Where("deeds.school_id = ?", school)
	if before > 0 {
		q = q.Where("deeds.id < ?", before)
	}
	if teacher > 0 {
		q = q.Where("deeds.teacher_id = ?", teacher)
	}
	for _, like := range likes(words) {
		q = q.Where("deeds.deed LIKE ? OR projects.name LIKE ? OR students.name COLLATE "+looked+" LIKE ?", like, like, like)
	}
	err = q.Order("deeds.id DESC").Limit(most).Find(&list).Error
	return list, err
}

// mostInLog bounds what a project's log says of who did what.
const mostInLog = 2000

// DeedsIn returns what was done in a project that the caller has fetched, the latest
// first; what was only looked at is left out.
func (s *Store) DeedsIn(ctx context.Context, project uint64) (list []Deed, err error) {
	err = s.with(ctx).Where("project_id = ? AND deed NOT LIKE 'saw %' AND deed NOT LIKE 'got %'", project).Order("id DESC").Limit(mostInLog).Find(&list).Error
	return list, err
}

// SweepDeeds forgets what was done before a moment.
func (s *Store) SweepDeeds(ctx context.Context, before time.Time) error {
	return s.with(ctx).Where("at < ?", before).Delete(&Deed{}).Error
}
