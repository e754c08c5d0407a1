package store

import (
	"context"
	"crypto/sha256"
	"time"
)

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
