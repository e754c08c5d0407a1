package store

import (
	"context"
	"errors"

	"golang.org/x/crypto/acme/autocert"
	"gorm.io/gorm/clause"
)

// Certificates keeps what an ACME client needs, keys among it, so that every copy of
// the program has the same. It is an autocert.Cache.
type Certificates struct{ store *Store }

// Certificates returns the certificates that are kept in the database.
func (s *Store) Certificates() Certificates { return Certificates{s} }

// certificate is a file of an ACME client.
type certificate struct {
	Name  string `gorm:"primaryKey"`
	Bytes []byte
}

// Get returns a file; autocert.ErrCacheMiss where there is none.
func (c Certificates) Get(ctx context.Context, name string) ([]byte, error) {
	var f certificate
	err := known(c.store.with(ctx).Take(&f, "name = ?", name).Error)
	if errors.Is(err, ErrNotFound) {
		err = autocert.ErrCacheMiss
	}
	return f.Bytes, err
}

// Put keeps a file.
func (c Certificates) Put(ctx context.Context, name string, b []byte) error {
	return c.store.with(ctx).Clauses(clause.OnConflict{UpdateAll: true}).Create(&certificate{name, b}).Error
}

// Delete forgets a file; one that is gone already is no error.
func (c Certificates) Delete(ctx context.Context, name string) error {
	return c.store.with(ctx).Delete(&certificate{}, "name = ?", name).Error
}
