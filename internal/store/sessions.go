package store

import (
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/base64"
	"time"

	lru "github.com/hashicorp/golang-lru/v2"
	"gorm.io/gorm/clause"
)

// Session is a signed-in browser. Token is the hash of what its cookie holds:
// whoever reads the table can sign in nowhere.
type Session struct {
	Token  string `gorm:"primaryKey"`
	Data   []byte
	Expiry time.Time
}

// Sessions keeps scs's sessions in the database. A session that is merely used
// is written again only when its end has moved by a minute.
type Sessions struct {
	store *Store
	known *lru.Cache[string, Session]
}

const (
	mostSessionsKnown = 4096
	sessionStep       = time.Minute
)

// NewSessions returns the sessions of a store.
func NewSessions(s *Store) (*Sessions, error) {
	known, err := lru.New[string, Session](mostSessionsKnown)
	return &Sessions{s, known}, err
}

func hashed(token string) string {
	sum := sha256.Sum256([]byte(token))
	return base64.RawURLEncoding.EncodeToString(sum[:])
}

// FindCtx returns what a session holds; false where there is none, or no more.
func (x *Sessions) FindCtx(ctx context.Context, token string) ([]byte, bool, error) {
	var found []Session
	err := x.store.with(ctx).Where("token = ? AND expiry > ?", hashed(token), time.Now().UTC()).Limit(1).Find(&found).Error
	if err != nil || len(found) == 0 {
		return nil, false, err
	}
	x.known.Add(found[0].Token, found[0])
	return found[0].Data, true, nil
}

// CommitCtx keeps what a session holds, until it ends.
func (x *Sessions) CommitCtx(ctx context.Context, token string, data []byte, expiry time.Time) error {
	now := Session{hashed(token), data, expiry.UTC()}
	if was, ok := x.known.Get(now.Token); ok && bytes.Equal(was.Data, data) && now.Expiry.Sub(was.Expiry).Abs() < sessionStep {
		return nil
	}
	err := x.store.with(ctx).Clauses(clause.OnConflict{UpdateAll: true}).Create(&now).Error
	if err == nil {
		x.known.Add(now.Token, now)
	}
	return err
}

// DeleteCtx ends a session; one that has ended is no error.
func (x *Sessions) DeleteCtx(ctx context.Context, token string) error {
	x.known.Remove(hashed(token))
	return x.store.with(ctx).Delete(&Session{}, "token = ?", hashed(token)).Error
}

// Find, Commit and Delete are for callers of scs without a context.
func (x *Sessions) Find(token string) ([]byte, bool, error) {
	return x.FindCtx(context.Background(), token)
}
func (x *Sessions) Commit(token string, data []byte, expiry time.Time) error {
	return x.CommitCtx(context.Background(), token, data, expiry)
}
func (x *Sessions) Delete(token string) error { return x.DeleteCtx(context.Background(), token) }

// SweepSessions forgets sessions that ended before a moment.
func (s *Store) SweepSessions(ctx context.Context, before time.Time) error {
	return s.with(ctx).Where("expiry < ?", before).Delete(&Session{}).Error
}
