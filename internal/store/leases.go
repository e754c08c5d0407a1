package store

import (
	"context"
	"crypto/rand"
	"time"

	"gorm.io/gorm"
)

// Of several copies of the program one does what is to be done once. Locks by
// name are a server's own and unknown to the other servers of a cluster; a row is
// the same everywhere.

// holder names this copy of the program.
var holder = rand.Text()

// lease is who does something, and until when nobody else does.
type lease struct {
	Name   string `gorm:"primaryKey"`
	Holder string
	Until  time.Time
}

// Lease takes what a name stands for, for so long, or holds on to it; false where
// another copy has it. It ends by itself where its holder dies.
func (s *Store) Lease(ctx context.Context, name string, long time.Duration) (mine bool, err error) {
	err = s.change(ctx, func(tx *gorm.DB) (err error) {
		mine, err = takeLease(tx, name, long)
		return err
	})
	return mine, err
}

// takeLease is Lease within a change. The clock is the database's: copies may differ.
func takeLease(tx *gorm.DB, name string, long time.Duration) (bool, error) {
	// One that lasts longer than anybody asks for was taken by a clock that was ahead.
	err := tx.Exec(`INSERT INTO leases (name, holder, until) VALUES (?, ?, UTC_TIMESTAMP(3) + INTERVAL ? MICROSECOND) ON DUPLICATE KEY UPDATE
		holder = IF(until BETWEEN UTC_TIMESTAMP(3) AND VALUES(until), holder, VALUES(holder)),
		until = IF(holder = VALUES(holder), VALUES(until), until)`, name, holder, long.Microseconds()).Error
	if err != nil {
		return false, err
	}
	var l lease
	err = tx.First(&l, "name = ?", name).Error
	return l.Holder == holder, err
}

// Release lets go of what Lease took, early.
func (s *Store) Release(ctx context.Context, name string) error {
	return s.with(ctx).Exec("DELETE FROM leases WHERE name = ? AND holder = ?", name, holder).Error
}
