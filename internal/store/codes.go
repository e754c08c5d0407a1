package store

import (
	"context"
	"crypto/rand"
	"errors"
	"strings"
	"time"
)

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
