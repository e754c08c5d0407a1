package store

import (
	"context"
	"errors"
	"time"

	"github.com/pquerna/otp"
	"github.com/pquerna/otp/totp"
)

// recoveryWords is how many words a teacher may sign in with once each, should the
// device with their codes be lost, and recoveryLetters how long each is.
const recoveryWords, recoveryLetters = 8, 10

// secondOptions are those of codes by time (RFC 6238) that every authenticator knows.
var secondOptions = totp.ValidateOpts{Period: 30, Skew: 1, Digits: otp.DigitsSix, Algorithm: otp.AlgorithmSHA1}

// NewSecond returns a key for codes by time, to be shown as letters and as its URL.
func NewSecond(t Teacher) (*otp.Key, error) {
	return totp.Generate(totp.GenerateOpts{Issuer: "Zesty Sketch", AccountName: t.Email})
}

// SetSecond makes a code the second step of a teacher's signing in, once they
// have shown one, and returns words that each do once instead of a code;
// ErrNotFound where the code is not one of the key's.
func (s *Store) SetSecond(ctx context.Context, teacher uint64, secret, code string, now time.Time) (words []string, err error) {
	step, ok := secondStep(secret, code, now)
	if !ok {
		return nil, ErrNotFound
	}
	err = s.Transaction(ctx, func(s *Store) error {
		tx := s.with(ctx)
		words = nil
		if err := s.EndSecond(ctx, teacher); err != nil {
			return err
		}
		for range recoveryWords {
			w := word(recoveryLetters)
			words = append(words, w)
			if err := tx.Exec("INSERT INTO recovery_words (teacher_id, hash) VALUES (?, ?)", teacher, linkHash(w)).Error; err != nil {
				return err
			}
		}
		return tx.Model(&Teacher{}).Where("id = ?", teacher).Updates(map[string]any{"second_secret": secret, "second_step": step}).Error
	})
	return words, err
}

// EndSecond takes the second step away.
func (s *Store) EndSecond(ctx context.Context, teacher uint64) error {
	if err := s.with(ctx).Exec("DELETE FROM recovery_words WHERE teacher_id = ?", teacher).Error; err != nil {
		return err
	}
	return s.changeTeacher(ctx, teacher, map[string]any{"second_secret": "", "second_step": 0})
}

// TakeSecond takes a code, or a recovery word, for the second step of signing in:
// none is taken twice. The error is ErrNotFound for any other.
func (s *Store) TakeSecond(ctx context.Context, t Teacher, code string, now time.Time) error {
	code = plainWord(code)
	step, ok := secondStep(t.SecondSecret, code, now)
	if !ok {
		return found(s.with(ctx).Exec("DELETE FROM recovery_words WHERE teacher_id = ? AND hash = ?", t.ID, linkHash(code)))
	}
	return found(s.with(ctx).Model(&Teacher{}).Where("id = ? AND second_step < ?", t.ID, step).UpdateColumn("second_step", step))
}

// RecoveryWords returns how many of a teacher's words were not used yet.
func (s *Store) RecoveryWords(ctx context.Context, teacher uint64) (n int64, err error) {
	err = s.with(ctx).Table("recovery_words").Where("teacher_id = ?", teacher).Count(&n).Error
	return n, err
}

// secondStep returns which half minute since 1970 a code is of, near now.
func secondStep(secret, code string, now time.Time) (step int64, ok bool) {
	period := int64(secondOptions.Period)
	one := secondOptions
	one.Skew = 0
	for skew := -int64(secondOptions.Skew); skew <= int64(secondOptions.Skew); skew++ {
		at := now.Add(time.Duration(skew*period) * time.Second)
		valid, err := totp.ValidateCustom(code, secret, at.UTC(), one)
		if err == nil && valid {
			return at.Unix() / period, true
		}
		if err != nil && !errors.Is(err, otp.ErrValidateInputInvalidLength) {
			return 0, false
		}
	}
	return 0, false
}
