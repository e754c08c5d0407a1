package store

import (
	"context"
	"errors"
	"fmt"
	"strings"
	"unicode/utf8"

	"github.com/trustelem/zxcvbn"
)

// What an account may hold, in letters.
const (
	LongestSchool, LongestEmail, LongestPerson = 120, 190, 80
	leastPassword, mostPassword                = 10, 200
)

// ErrAccount is wrapped by the error of a name, an address or a password that
// cannot be taken; the rest of it says why, in words.
var ErrAccount = errors.New("cannot be taken")

// guessed is the score of zxcvbn, 0 to 4, up to which a password is guessed soon.
const guessed = 1

// CheckPassword says what is wrong with a password for whoever the other words
// are about: too short, or among those that are tried first.
func CheckPassword(password string, about ...string) error {
	switch n := utf8.RuneCountInString(password); {
	case !utf8.ValidString(password) || n < leastPassword:
		return fmt.Errorf("%w: wanted a password of at least %d letters, got %d", ErrAccount, leastPassword, n)
	case n > mostPassword:
		return fmt.Errorf("%w: wanted a password of at most %d letters, got %d", ErrAccount, mostPassword, n)
	case zxcvbn.PasswordStrength(password, about).Score <= guessed:
		return fmt.Errorf("%w: this password is among those that are tried first; three or four words that only you put together do well", ErrAccount)
	}
	return nil
}

// CheckPerson says what is wrong with a teacher's name or address.
func CheckPerson(name, email string) error {
	at := strings.Index(email, "@")
	switch {
	case strings.TrimSpace(name) == "" || !utf8.ValidString(name) || utf8.RuneCountInString(name) > LongestPerson:
		return fmt.Errorf("%w: wanted a name of at most %d letters", ErrAccount, LongestPerson)
	case at < 1 || at == len(email)-1 || !utf8.ValidString(email) || strings.ContainsAny(email, " \t\r\n") || utf8.RuneCountInString(email) > LongestEmail:
		return fmt.Errorf("%w: wanted an address such as name@school.example, of at most %d letters", ErrAccount, LongestEmail)
	}
	return nil
}

// SetPerson changes a teacher's name and address; ErrTaken where somebody else
// signs in with it.
func (s *Store) SetPerson(ctx context.Context, teacher uint64, name, email string) error {
	return s.changeTeacher(ctx, teacher, map[string]any{"name": name, "email": NormalAddress(email)})
}

// SetPassword gives a teacher another password, and ends all their sessions and every link
// by which it could be changed again.
func (s *Store) SetPassword(ctx context.Context, teacher uint64, password string) error {
	hash := HashPassword(password)
	return s.Transaction(ctx, func(s *Store) error {
		if err := s.EndSignIns(ctx, teacher, 0); err != nil {
			return err
		}
		if err := s.with(ctx).Where("kind = ? AND teacher_id = ?", ToReset, teacher).Delete(&Invitation{}).Error; err != nil {
			return err
		}
		return s.changeTeacher(ctx, teacher, map[string]any{"password_hash": hash})
	})
}

func (s *Store) changeTeacher(ctx context.Context, teacher uint64, values map[string]any) error {
	return found(s.with(ctx).Model(&Teacher{}).Where("id = ?", teacher).Updates(values))
}

// TeacherByAddress returns the teacher who signs in with an address.
func (s *Store) TeacherByAddress(ctx context.Context, email string) (t Teacher, err error) {
	err = s.with(ctx).Where("email = ?", NormalAddress(email)).First(&t).Error
	return t, known(err)
}
