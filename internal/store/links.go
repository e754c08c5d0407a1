package store

import (
	"context"
	"crypto/hmac"
	"crypto/rand"
	"crypto/sha256"
	"encoding/base32"
	"errors"
	"fmt"
	mathrand "math/rand/v2"
	"strings"
	"time"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"

	"zestysketch/internal/core/grid"
)

// linkBytes is how long a link is: not to be guessed.
const linkBytes = 16

// What a link opens is part of what it is made of.
const (
	forStudent = "student's page"
	forFeed    = "calendar feed"
)

// lettersOf returns the letters of a link: made from the school's secret, what it
// opens and a number that changes with each renewal (HMAC: RFC 2104). They are
// kept nowhere; who prints a page again gets the same ones.
func lettersOf(school []byte, what string, ids ...uint64) string {
	h := hmac.New(sha256.New, school)
	fmt.Fprintln(h, what, ids)
	return strings.ToLower(base32.StdEncoding.WithPadding(base32.NoPadding).EncodeToString(h.Sum(nil)[:linkBytes]))
}

func linkHash(link string) []byte {
	h := sha256.Sum256([]byte(link))
	return h[:]
}

// secretOf returns the secret that a teacher's school makes its links from, 32
// bytes; the first who asks makes it. It lies in the database and travels with it.
func secretOf(tx *gorm.DB, teacher uint64) ([]byte, error) {
	var place School
	ofTeacher := tx.Select("schools.id", "schools.secret").Joins("JOIN teachers ON teachers.school_id = schools.id").Where("teachers.id = ?", teacher)
	if err := ofTeacher.First(&place).Error; err != nil || place.Secret != nil {
		return place.Secret, err
	}
	fresh := make([]byte, sha256.Size)
	rand.Read(fresh) // never fails
	if err := tx.Model(&School{}).Where("id = ? AND secret IS NULL", place.ID).Update("secret", fresh).Error; err != nil {
		return nil, err
	}
	err := tx.Clauses(clause.Locking{Strength: "SHARE"}).Select("secret").First(&place, place.ID).Error // another may have been quicker
	return place.Secret, err
}

// Link returns the letters of a student's one live link to a project that the
// caller has fetched: those of the last time, or new ones where it has none.
func (s *Store) Link(ctx context.Context, p Project, student uint64) (string, error) {
	links, err := s.Links(ctx, p, []uint64{student})
	return links[student], err
}

// Links is Link for several students.
func (s *Store) Links(ctx context.Context, p Project, students []uint64) (links map[uint64]string, err error) {
	err = s.Transaction(ctx, func(s *Store) error {
		tx := s.with(ctx)
		links = map[uint64]string{}
		school, err := secretOf(tx, p.TeacherID)
		if err != nil {
			return err
		}
		letters := func(l StudentLink) string { return lettersOf(school, forStudent, p.ID, l.StudentID, uint64(l.Number)) }
		var there []StudentLink
		if err := tx.Where("project_id = ? AND student_id IN ? AND live = 1", p.ID, students).Find(&there).Error; err != nil {
			return err
		}
		for _, l := range there {
			links[l.StudentID] = letters(l)
		}
		live := true
		var fresh []StudentLink
		for _, student := range students {
			if _, has := links[student]; has {
				continue
			}
			l := StudentLink{ProjectID: p.ID, StudentID: student, Number: mathrand.Uint32(), Live: &live}
			links[student] = letters(l)
			l.Hash = linkHash(links[student])
			fresh = append(fresh, l)
		}
		if len(fresh) == 0 {
			return nil
		}
		return tx.Create(&fresh).Error
	})
	if errors.Is(err, ErrTaken) && s.attempt() == nil {
		return s.Links(ctx, p, students) // somebody made one at the same moment
	}
	return links, err
}

// CountLinks returns how many links open a project that the caller has fetched.
func (s *Store) CountLinks(ctx context.Context, project uint64) (n int64, err error) {
	err = s.with(ctx).Model(&StudentLink{}).Where("project_id = ?", project).Count(&n).Error
	return n, err
}

// EndLinks ends every link to one of the teacher's projects.
func (s *Store) EndLinks(ctx context.Context, teacher, project uint64) error {
	return s.Transaction(ctx, func(s *Store) error {
		tx := s.with(ctx)
		if err := s.owns(ctx, teacher, project); err != nil {
			return err
		}
		return endLinks(tx.Where("project_id = ?", project))
	})
}

// LinksUntil lets the links to one of the teacher's projects open until the end
// of a day, or for as long as there is the project where it is nil.
func (s *Store) LinksUntil(ctx context.Context, teacher, project uint64, day *time.Time) error {
	return s.update(ctx, teacher, project, map[string]any{"links_until": day})
}

// inTime is what the links of a project need: its last day is over when it has
// ended everywhere on Earth.
const inTime = "projects.links_until IS NULL OR projects.links_until >= DATE(UTC_TIMESTAMP() - INTERVAL 12 HOUR)"

// Linked returns the project and student that a link opens;
// ErrNotFound for one that was never made, was ended, or whose last day is over.
func (s *Store) Linked(ctx context.Context, link string) (p Project, student Student, err error) {
	err = s.with(ctx).Joins("JOIN student_links ON student_links.student_id = students.id").First(&student, "student_links.hash = ?", linkHash(link)).Error
	if err != nil {
		return p, student, known(err)
	}
	err = s.projects(ctx).Joins("JOIN student_links ON student_links.project_id = projects.id").Where(inTime).First(&p, "student_links.hash = ?", linkHash(link)).Error
	return p, student, known(err)
}

// RevokeLinks ends every link of a student in one of the teacher's classes.
func (s *Store) RevokeLinks(ctx context.Context, teacher, student uint64) error {
	return s.Transaction(ctx, func(s *Store) error {
		tx := s.with(ctx)
		if err := ofTeacher(tx, teacher, student); err != nil {
			return err
		}
		return endLinks(tx.Where("student_id = ?", student))
	})
}

// endLinks ends links by which something of students is seen without signing in: their own,
// and those of their helpers at home.
func endLinks(of *gorm.DB) error {
	of = of.Session(&gorm.Session{})
	if err := of.Delete(&HelperLink{}).Error; err != nil {
		return err
	}
	return of.Delete(&StudentLink{}).Error
}

// ofTeacher returns ErrNotFound unless the student is in one of the teacher's classes.
func ofTeacher(tx *gorm.DB, teacher, student uint64) error {
	return tx.Joins("JOIN classes ON classes.id = students.class_id").
		Where("classes.teacher_id = ?", teacher).First(&Student{}, "students.id = ?", student).Error
}

// InNeed returns the students of a project that the caller has fetched, in any
// of its classes, who need pages of their own.
func (s *Store) InNeed(ctx context.Context, project uint64) (students []Student, err error) {
	err = s.with(ctx).Joins("JOIN project_classes ON project_classes.class_id = students.class_id").
		Where("project_classes.project_id = ? AND students.needs <> '' AND students.left_at IS NULL", project).Find(&students).Error
	return students, err
}

// ProjectsOf returns the teacher's projects that a student draws.
func (s *Store) ProjectsOf(ctx context.Context, teacher, student uint64) (projects []Project, err error) {
	err = s.with(ctx).Preload("Picture").Joins("JOIN project_classes ON project_classes.project_id = projects.id").
		Joins("JOIN students ON students.class_id = project_classes.class_id").
		Where("projects.teacher_id = ? AND students.id = ?", teacher, student).Find(&projects).Error
	return projects, err
}

// Traits are what a teacher knows of a student, beside the name.
type Traits struct {
	Hand                           grid.Hand
	Units, Team, Pace, Home, Needs string
}

// DescribeStudent keeps what the teacher knows of a student.
func (s *Store) DescribeStudent(ctx context.Context, teacher, student uint64, t Traits) error {
	return s.Transaction(ctx, func(s *Store) error {
		tx := s.with(ctx)
		if err := ofTeacher(tx, teacher, student); err != nil {
			return err
		}
		return tx.Model(&Student{ID: student}).Select("Hand", "Units", "Team", "Pace", "Home", "Needs").
			Updates(Student{Hand: t.Hand, Units: t.Units, Team: t.Team, Pace: t.Pace, Home: t.Home, Needs: t.Needs}).Error
	})
}

// LessonCode opens the pages of a class's project for a lesson, typed on any tablet.
type LessonCode struct {
	Code      string `gorm:"primaryKey"`
	ProjectID uint64
	ClassID   uint64
	Until     time.Time
}

// codeLetters are capitals none of which looks like another, or like a digit.
const codeLetters = "ABCDEFGHJKMNPRSTUWXYZ"

const codeLength = 6

// newCode returns a code, each letter of which is as likely as any.
func newCode() string {
	code := make([]byte, 0, codeLength)
	for len(code) < codeLength {
		var b [1]byte
		rand.Read(b[:]) // never fails
		if at := int(b[0]); at < 256/len(codeLetters)*len(codeLetters) {
			code = append(code, codeLetters[at%len(codeLetters)])
		}
	}
	return string(code)
}

// ReadCode returns what was typed as a code is kept: capitals, without what people
// put between letters.
func ReadCode(typed string) string {
	return strings.Map(func(r rune) rune {
		if r == ' ' || r == '-' || r == '.' {
			return -1
		}
		return r
	}, strings.ToUpper(strings.TrimSpace(typed)))
}

// MakeCode gives the class of a project that the caller has fetched a new code until
// a moment, in place of the one it had.
func (s *Store) MakeCode(ctx context.Context, p Project, until time.Time) (c LessonCode, err error) {
	if p.ClassID == nil {
		return c, ErrNotFound
	}
	for range 5 { // where somebody has the same letters
		err = s.Transaction(ctx, func(s *Store) error {
			tx := s.with(ctx)
			if err := tx.Where("project_id = ? AND class_id = ? OR until < UTC_TIMESTAMP(3)", p.ID, *p.ClassID).Delete(&LessonCode{}).Error; err != nil {
				return err
			}
			c = LessonCode{newCode(), p.ID, *p.ClassID, until.UTC()}
			return tx.Create(&c).Error
		})
		if !errors.Is(err, ErrTaken) {
			break
		}
	}
	return c, err
}

// EndCode ends the code of a project's class that the caller has fetched.
func (s *Store) EndCode(ctx context.Context, p Project) error {
	return s.with(ctx).Where("project_id = ? AND class_id <=> ?", p.ID, p.ClassID).Delete(&LessonCode{}).Error
}

// CodeOf returns the code of a project's class that the caller has fetched, where it
// opens now; ErrNotFound where it has none.
func (s *Store) CodeOf(ctx context.Context, p Project) (c LessonCode, err error) {
	err = s.with(ctx).Where("project_id = ? AND class_id <=> ? AND until >= UTC_TIMESTAMP(3)", p.ID, p.ClassID).Take(&c).Error
	return c, known(err)
}

// Coded returns the project that a code opens, with the class that typed it;
// ErrNotFound for one that does not stand, or where the project's links are over.
func (s *Store) Coded(ctx context.Context, code string) (p Project, err error) {
	var c LessonCode
	err = s.with(ctx).Joins("JOIN projects ON projects.id = lesson_codes.project_id").
		Where("projects.deleted_at IS NULL AND ("+inTime+")").Take(&c, "code = ? AND until >= UTC_TIMESTAMP(3)", code).Error
	if err != nil {
		return p, known(err)
	}
	return s.AnyProject(ctx, c.ProjectID, c.ClassID)
}

// StudentLink lets a student open their own page of one project; only its
// hash is kept.
type StudentLink struct {
	Hash      []byte `gorm:"primaryKey"`
	ProjectID uint64
	StudentID uint64
	Number    uint32 // of its renewal
	Live      *bool  // nil for one of before there was one a student and project
	CreatedAt time.Time
}
