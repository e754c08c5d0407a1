package store

import (
	"context"
	"crypto/rand"
	"fmt"
	"strings"
	"time"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

// InvitationKind is what an invitation is for.
type InvitationKind string

// What somebody may be invited to: to make the school, to join it, to choose a
// new password.
const (
	ToBegin InvitationKind = "first"
	ToJoin  InvitationKind = "join"
	ToReset InvitationKind = "reset"
)

// life is how long an invitation opens.
var life = map[InvitationKind]time.Duration{ToBegin: 30 * 24 * time.Hour, ToJoin: 7 * 24 * time.Hour, ToReset: 24 * time.Hour}

// Invitation opens one page once. Its letters are kept nowhere; their hash is.
type Invitation struct {
	Hash        []byte `gorm:"primaryKey"`
	Kind        InvitationKind
	SchoolID    *uint64
	TeacherID   *uint64 // whose password it is for
	ByID        *uint64 // who made it, nil for the shell
	Name, Email string  // of who is invited to join
	Admin       bool
	ExpiresAt   time.Time
	CreatedAt   time.Time
}

// wordLetters are those of a word that is typed: none looks like another.
const wordLetters = "abcdefghjkmnpqrstuvwxyz23456789"

// word returns n letters that nobody guesses.
func word(n int) string {
	b := make([]byte, n)
	rand.Read(b) // never fails
	for i := range b {
		// 256 is no multiple of 31: the first eight letters come a ninth more often, which
		// takes less than a hundredth of a bit from each.
		b[i] = wordLetters[int(b[i])%len(wordLetters)]
	}
	return string(b)
}

// How long invitations are: one that is typed beside a guard that slows wrong
// tries, and those that stand in a link.
const typedLetters, linkLetters = 12, 32

func plainWord(typed string) string {
	return strings.ToLower(strings.NewReplacer(" ", "", "-", "").Replace(typed))
}

// Invite keeps an invitation and returns its letters.
func (s *Store) Invite(ctx context.Context, inv Invitation) (letters string, err error) {
	n := linkLetters
	if inv.Kind == ToBegin {
		n = typedLetters
	}
	letters = word(n)
	inv.Hash, inv.ExpiresAt = linkHash(letters), time.Now().UTC().Add(life[inv.Kind])
	inv.Email = NormalAddress(inv.Email)
	err = s.with(ctx).Create(&inv).Error
	if n == typedLetters {
		letters = fmt.Sprintf("%s-%s-%s", letters[:4], letters[4:8], letters[8:])
	}
	return letters, known(err)
}

// stands keeps invitations that open still: what is for a leaver, and what was made by one
// or by somebody who is no administrator any more, opens nothing.
func stands(db *gorm.DB) *gorm.DB {
	return db.Where(`invitations.expires_at > UTC_TIMESTAMP()
		AND NOT EXISTS (SELECT 1 FROM teachers WHERE teachers.id = invitations.teacher_id AND teachers.disabled_at IS NOT NULL)
		AND NOT EXISTS (SELECT 1 FROM teachers WHERE teachers.id = invitations.by_id AND (teachers.disabled_at IS NOT NULL OR NOT teachers.admin))`)
}

// Invited returns what letters are an invitation to; ErrNotFound where they are none, or no more.
func (s *Store) Invited(ctx context.Context, letters string) (inv Invitation, err error) {
	err = stands(s.with(ctx)).First(&inv, "hash = ?", linkHash(plainWord(letters))).Error
	return inv, known(err)
}

// Invitations returns a school's invitations to join that nobody has taken yet.
func (s *Store) Invitations(ctx context.Context, school uint64) (list []Invitation, err error) {
	err = stands(s.with(ctx)).Where("kind = ? AND school_id = ?", ToJoin, school).Order("created_at").Find(&list).Error
	return list, err
}

// Withdraw ends a school's invitations to an address.
func (s *Store) Withdraw(ctx context.Context, school uint64, email string) error {
	return s.with(ctx).Where("school_id = ? AND kind = ? AND email = ?", school, ToJoin, NormalAddress(email)).Delete(&Invitation{}).Error
}

// accept does what an invitation is for and ends it: of two who bring it at once
// one finds it gone.
func (s *Store) accept(ctx context.Context, letters string, kind InvitationKind, work func(*Store, Invitation) error) error {
	return s.Transaction(ctx, func(s *Store) error {
		var inv Invitation
		err := stands(s.db.Clauses(clause.Locking{Strength: "UPDATE"})).First(&inv, "hash = ? AND kind = ?", linkHash(plainWord(letters)), kind).Error
		if err != nil {
			return err
		}
		if err := work(s, inv); err != nil {
			return err
		}
		return s.with(ctx).Delete(&inv).Error
	})
}

// Begin makes the school and its first teacher, by the word that the start
// command printed; ErrNotFound where the word is not it, or somebody was quicker.
func (s *Store) Begin(ctx context.Context, letters string, place School, email, name, password string) (t Teacher, err error) {
	hash := HashPassword(password)
	err = s.accept(ctx, letters, ToBegin, func(s *Store, inv Invitation) error {
		n, err := s.CountTeachers(ctx)
		if err != nil {
			return err
		}
		if n > 0 {
			return ErrNotFound
		}
		place.ID = 0
		if err := s.with(ctx).Create(&place).Error; err != nil {
			return err
		}
		t = Teacher{SchoolID: place.ID, Email: NormalAddress(email), Name: name, PasswordHash: hash, Admin: true}
		if err := s.with(ctx).Omit("School").Create(&t).Error; err != nil {
			return err
		}
		return s.with(ctx).Where("kind = ?", ToBegin).Delete(&Invitation{}).Error // every copy's
	})
	return t, err
}

// Join makes the teacher who was invited; ErrTaken where their address is in use.
func (s *Store) Join(ctx context.Context, letters, name, password string) (t Teacher, err error) {
	hash := HashPassword(password)
	err = s.accept(ctx, letters, ToJoin, func(s *Store, inv Invitation) error {
		t = Teacher{SchoolID: *inv.SchoolID, Email: inv.Email, Name: name, PasswordHash: hash, Admin: inv.Admin}
		return s.with(ctx).Omit("School").Create(&t).Error
	})
	return t, err
}

// Reset gives the teacher of an invitation another password, signs them out
// everywhere, and asks for no code any more: who lost a device has lost that too.
func (s *Store) Reset(ctx context.Context, letters, password string) error {
	return s.accept(ctx, letters, ToReset, func(s *Store, inv Invitation) error {
		if err := s.EndSecond(ctx, *inv.TeacherID); err != nil {
			return err
		}
		return s.SetPassword(ctx, *inv.TeacherID, password)
	})
}

// SweepInvitations forgets those that ended before a moment.
func (s *Store) SweepInvitations(ctx context.Context, before time.Time) error {
	return s.with(ctx).Where("expires_at < ?", before).Delete(&Invitation{}).Error
}
