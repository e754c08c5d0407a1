package store

import (
	"context"
	"time"

	"zestysketch/internal/letters"
)

// SignIn is a browser that a teacher has signed in on.
type SignIn struct {
	ID        uint64
	TeacherID uint64
	Teacher   Teacher
	Browser   string // in a few words
	Address   string // that it came from
	StartedAt time.Time
	SeenAt    time.Time
	Shared    bool `gorm:"->"` // the teacher has something of a colleague's
}

// longestBrowser and longestAddress bound what is kept of a browser, in letters.
const longestBrowser, longestAddress = 60, 45

// seenStep is how exactly it is known when a browser was last here.
const seenStep = 5 * time.Minute

// StartSignIn keeps that a teacher has signed in.
func (s *Store) StartSignIn(ctx context.Context, teacher uint64, browser, address string) (uint64, error) {
	now := time.Now().UTC()
	in := SignIn{TeacherID: teacher, Browser: letters.Cut(browser, longestBrowser), Address: letters.Cut(address, longestAddress), StartedAt: now, SeenAt: now}
	err := s.with(ctx).Omit("Teacher").Create(&in).Error
	return in.ID, err
}

// SignedIn returns a sign-in with its teacher and school, and keeps that it was
// seen; ErrNotFound where it was ended, or its teacher may sign in no more.
func (s *Store) SignedIn(ctx context.Context, id uint64) (in SignIn, err error) {
	err = s.with(ctx).Select("sign_ins.*", "EXISTS (SELECT 1 FROM shares WHERE shares.teacher_id = sign_ins.teacher_id) AS shared").
		Joins("Teacher").Joins("Teacher.School").Where("Teacher.disabled_at IS NULL").First(&in, "sign_ins.id = ?", id).Error
	if err != nil {
		return in, known(err)
	}
	if now := time.Now().UTC(); now.Sub(in.SeenAt) > seenStep {
		err = s.with(ctx).Model(&SignIn{}).Where("id = ?", id).UpdateColumn("seen_at", now).Error
	}
	return in, err
}

// SignIns returns where a teacher is signed in since a moment, the last seen first.
func (s *Store) SignIns(ctx context.Context, teacher uint64, since time.Time) (list []SignIn, err error) {
	err = s.with(ctx).Where("teacher_id = ? AND seen_at > ?", teacher, since).Order("seen_at DESC, id DESC").Find(&list).Error
	return list, err
}

// EndSignIn ends one of a teacher's sign-ins; one that has ended is no error.
func (s *Store) EndSignIn(ctx context.Context, teacher, id uint64) error {
	return s.with(ctx).Where("teacher_id = ?", teacher).Delete(&SignIn{}, id).Error
}

// EndSignIns signs a teacher out everywhere but here, 0 for everywhere.
func (s *Store) EndSignIns(ctx context.Context, teacher, here uint64) error {
	return s.with(ctx).Where("teacher_id = ? AND id <> ?", teacher, here).Delete(&SignIn{}).Error
}

// SweepSignIns forgets those that were not seen since a moment.
func (s *Store) SweepSignIns(ctx context.Context, before time.Time) error {
	return s.with(ctx).Where("seen_at < ?", before).Delete(&SignIn{}).Error
}
