package store

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"crypto/subtle"
	"encoding/base64"
	"errors"
	"fmt"
	"strings"
	"time"

	"github.com/pquerna/otp"
	"github.com/pquerna/otp/totp"
	"golang.org/x/crypto/argon2"

	"zestysketch/internal/letters"
)

// SignIn is a browser that a teacher has signed in on.
type SignIn struct {
	ID         uint64
	TeacherID  uint64
	Teacher    Teacher
	Browser    string  // in a few words
	Address    string  // that it came from
	ProviderID *uint64 // whose account they signed in by, nil for a password
	StartedAt  time.Time
	SeenAt     time.Time
	Shared     bool `gorm:"->"` // the teacher has something of a colleague's
}

// longestBrowser and longestAddress bound what is kept of a browser, in letters.
const longestBrowser, longestAddress = 60, 45

// seenStep is how exactly it is known when a browser was last here.
const seenStep = 5 * time.Minute

// StartSignIn keeps that a teacher has signed in: by which account, from where.
func (s *Store) StartSignIn(ctx context.Context, in SignIn) (uint64, error) {
	now := time.Now().UTC()
	in.Browser, in.Address = letters.Cut(in.Browser, longestBrowser), letters.Cut(in.Address, longestAddress)
	in.StartedAt, in.SeenAt = now, now
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

// Argon2id with 19 MiB, two passes and one lane: the least that OWASP's
// password storage notes advise (from memory).
const (
	argonMemory = 19 * 1024
	argonPasses = 2
	argonLanes  = 1
	argonKey    = 32
)

// hashing bounds how many passwords are hashed at once, and so their memory:
// whoever sends many waits.
var hashing = make(chan struct{}, 2)

func derive(password string, salt []byte, passes, memory uint32, lanes uint8, n uint32) []byte {
	hashing <- struct{}{}
	defer func() { <-hashing }()
	return argon2.IDKey([]byte(password), salt, passes, memory, lanes, n)
}

// HashPassword returns a salted argon2id hash in PHC string format.
func HashPassword(password string) string {
	salt := make([]byte, 16)
	rand.Read(salt) // never fails
	key := derive(password, salt, argonPasses, argonMemory, argonLanes, argonKey)
	b64 := base64.RawStdEncoding.EncodeToString
	return fmt.Sprintf("$argon2id$v=%d$m=%d,t=%d,p=%d$%s$%s", argon2.Version, argonMemory, argonPasses, argonLanes, b64(salt), b64(key))
}

// passwordMatches reports whether hash, made by HashPassword, is of password.
func passwordMatches(hash, password string) bool {
	var version, memory, passes, lanes uint32
	parts := strings.Split(hash, "$")
	if len(parts) != 6 || parts[1] != "argon2id" {
		return false
	}
	if _, err := fmt.Sscanf(parts[2]+" "+parts[3], "v=%d m=%d,t=%d,p=%d", &version, &memory, &passes, &lanes); err != nil || lanes == 0 || lanes > 255 {
		return false
	}
	salt, err1 := base64.RawStdEncoding.DecodeString(parts[4])
	want, err2 := base64.RawStdEncoding.DecodeString(parts[5])
	if err1 != nil || err2 != nil || len(want) == 0 {
		return false
	}
	got := derive(password, salt, passes, memory, uint8(lanes), uint32(len(want)))
	return subtle.ConstantTimeCompare(got, want) == 1
}

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

// wrongTry is how many tries somebody has free, as of a moment, and how many wrong
// ones there were since the last good one. Every copy of the program counts in it.
type wrongTry struct {
	Hash  []byte `gorm:"primaryKey"`
	Free  float64
	Wrong int
	At    time.Time
}

// TableName names the table of wrongTry.
func (wrongTry) TableName() string { return "wrong_tries" }

// Limit is how many wrong tries pass at once, and how long until one more does.
type Limit struct {
	Burst int
	Each  time.Duration
}

func hashedKey(key string) []byte {
	sum := sha256.Sum256([]byte(key))
	return sum[:]
}

// freeNow is how many tries a row has free by now. A clock that went back gives none.
const freeNow = "LEAST(?, free + GREATEST(0, TIMESTAMPDIFF(MICROSECOND, at, UTC_TIMESTAMP(3))) / ?)"

// FreeTries returns how many wrong tries each key has free, in their order.
func (s *Store) FreeTries(ctx context.Context, keys []string, l Limit) ([]float64, error) {
	free := make([]float64, len(keys))
	hashes := make([][]byte, len(keys))
	for i, key := range keys {
		free[i], hashes[i] = float64(l.Burst), hashedKey(key)
	}
	var rows []struct {
		Hash []byte
		Free float64
	}
	err := s.with(ctx).Raw("SELECT hash, "+freeNow+" AS free FROM wrong_tries WHERE hash IN ?", l.Burst, l.Each.Microseconds(), hashes).Scan(&rows).Error
	for _, r := range rows {
		for i := range keys {
			if string(hashes[i]) == string(r.Hash) {
				free[i] = r.Free
			}
		}
	}
	return free, err
}

// CountWrong counts a wrong try of each key.
func (s *Store) CountWrong(ctx context.Context, keys []string, l Limit) error {
	return s.Transaction(ctx, func(s *Store) error {
		tx := s.with(ctx)
		for _, key := range keys {
			err := tx.Exec(`INSERT INTO wrong_tries (wrong, hash, free, at) VALUES (1, ?, ?, UTC_TIMESTAMP(3)) ON DUPLICATE KEY UPDATE
				free = GREATEST(0, `+freeNow+` - 1), wrong = wrong + 1, at = VALUES(at)`, hashedKey(key), l.Burst-1, l.Burst, l.Each.Microseconds()).Error
			if err != nil {
				return err
			}
		}
		return nil
	})
}

// WrongSince returns how many wrong tries of a key there were since the last good
// one, which is now.
func (s *Store) WrongSince(ctx context.Context, key string) (wrong int, err error) {
	err = s.Transaction(ctx, func(s *Store) error {
		tx := s.with(ctx)
		var rows []wrongTry
		if err := tx.Where("hash = ? AND wrong > 0", hashedKey(key)).Find(&rows).Error; err != nil || len(rows) == 0 {
			wrong = 0
			return err
		}
		wrong = rows[0].Wrong
		return tx.Model(&wrongTry{Hash: rows[0].Hash}).Update("wrong", 0).Error
	})
	return wrong, err
}

// SweepWrong forgets wrong tries from before a moment.
func (s *Store) SweepWrong(ctx context.Context, before time.Time) error {
	return s.with(ctx).Where("at < ?", before).Delete(&wrongTry{}).Error
}

// forBrowser is what a browser's mark is made for.
const forBrowser = "known browser"

// BrowserMark returns the letters that show that a teacher signed in before on the
// browser that was given a number; ErrNotFound where there is no such teacher.
func (s *Store) BrowserMark(ctx context.Context, email string, number uint64) (letters string, err error) {
	var t Teacher
	if err := s.with(ctx).Select("id").Where("email = ?", NormalAddress(email)).First(&t).Error; err != nil {
		return "", known(err)
	}
	err = s.Transaction(ctx, func(s *Store) error {
		tx := s.with(ctx)
		secret, err := secretOf(tx, t.ID)
		letters = lettersOf(secret, forBrowser, t.ID, number)
		return err
	})
	return letters, err
}
