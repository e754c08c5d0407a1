package store

import (
	"context"
	"crypto/rand"
	"encoding/base32"
	"strings"
	"time"

	"gorm.io/gorm/clause"

	"zestysketch/internal/core/lesson"
)

// OwnMark is one thing that a student says on their own page: What names it.
type OwnMark struct {
	ProjectID uint64 `gorm:"primaryKey"`
	StudentID uint64 `gorm:"primaryKey"`
	What      string `gorm:"primaryKey"`
	Value     string
}

// Say keeps what a student of one of the teacher's projects says; an empty value takes
// it back.
func (s *Store) Say(ctx context.Context, teacher uint64, m OwnMark) error {
	return s.Transaction(ctx, func(s *Store) error {
		tx := s.with(ctx)
		if err := belongs(tx, teacher, m.ProjectID, m.StudentID); err != nil {
			return err
		}
		if m.Value == "" {
			return tx.Delete(&m).Error
		}
		return tx.Clauses(clause.OnConflict{UpdateAll: true}).Create(&m).Error
	})
}

// Said returns what a student said in a project that the caller has fetched.
func (s *Store) Said(ctx context.Context, project, student uint64) (map[string]string, error) {
	var list []OwnMark
	err := s.with(ctx).Where("project_id = ? AND student_id = ?", project, student).Find(&list).Error
	said := map[string]string{}
	for _, m := range list {
		said[m.What] = m.Value
	}
	return said, err
}

// SaidByAll returns what students said of one thing in a project that the caller has
// fetched, by student.
func (s *Store) SaidByAll(ctx context.Context, project uint64, what string) (map[uint64]string, error) {
	var list []OwnMark
	err := s.with(ctx).Where("project_id = ? AND what = ?", project, what).Find(&list).Error
	said := map[uint64]string{}
	for _, m := range list {
		said[m.StudentID] = m.Value
	}
	return said, err
}

// HelperLink is a link by which somebody at home looks at one stage of a student's, once.
type HelperLink struct {
	Hash      []byte `gorm:"primaryKey"`
	ProjectID uint64
	StudentID uint64
	Stage     lesson.StageID
	Until     time.Time
	UsedAt    *time.Time
}

// helperDays is how long a helper's link is open.
const helperDays = 14

// AddHelperLink makes a link for a stage of a student of one of the teacher's projects, in
// the place of one that was made for it before, and returns it; it is told only here.
func (s *Store) AddHelperLink(ctx context.Context, teacher, project, student uint64, stage lesson.StageID) (string, error) {
	secret := make([]byte, linkBytes)
	rand.Read(secret) // never fails
	link := strings.ToLower(base32.StdEncoding.WithPadding(base32.NoPadding).EncodeToString(secret))
	err := s.Transaction(ctx, func(s *Store) error {
		tx := s.with(ctx)
		if err := belongs(tx, teacher, project, student); err != nil {
			return err
		}
		if err := tx.Delete(&HelperLink{}, "project_id = ? AND student_id = ? AND stage = ?", project, student, stage).Error; err != nil {
			return err
		}
		return tx.Create(&HelperLink{Hash: linkHash(link), ProjectID: project, StudentID: student, Stage: stage, Until: time.Now().UTC().AddDate(0, 0, helperDays)}).Error
	})
	return link, err
}

// HelperLink returns what a helper's link opens; ErrNotFound where it opens nothing, or no
// more: it ends with its project, its project's links and its student's being there. One that
// was used is returned too.
func (s *Store) HelperLink(ctx context.Context, link string) (h HelperLink, err error) {
	err = known(s.with(ctx).Joins("JOIN projects ON projects.id = helper_links.project_id").Joins("JOIN students ON students.id = helper_links.student_id").
		Where("projects.deleted_at IS NULL AND students.left_at IS NULL AND ("+inTime+")").
		First(&h, "helper_links.hash = ? AND helper_links.until > ?", linkHash(link), time.Now().UTC()).Error)
	return h, err
}

// UseHelperLink keeps a helper's verdict and closes the link; ErrConflict where it was used
// before.
func (s *Store) UseHelperLink(ctx context.Context, teacher uint64, h HelperLink, v *Verdict) error {
	return s.Transaction(ctx, func(s *Store) error {
		now := time.Now().UTC()
		res := s.with(ctx).Model(&HelperLink{}).Where("hash = ? AND used_at IS NULL", h.Hash).Update("used_at", now)
		if res.Error != nil {
			return res.Error
		}
		if res.RowsAffected == 0 {
			return ErrConflict
		}
		return s.AddVerdict(ctx, teacher, v)
	})
}
