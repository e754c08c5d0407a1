package store

import (
	"context"
	"errors"
	"fmt"
	"sync"
	"time"

	"gorm.io/gorm"
)

// Of several copies of the program one does what is to be done once. Locks by
// name are a server's own and unknown to the other servers of a cluster; a row is
// the same everywhere.

// leases makes their table, which is there before all others: bringing those up to
// date is such a thing.
const leases = "CREATE TABLE IF NOT EXISTS leases (name VARCHAR(60) NOT NULL PRIMARY KEY, holder VARCHAR(60) NOT NULL, until DATETIME(3) NOT NULL)"

// lease is who does something, and until when nobody else does.
type lease struct {
	Name   string `gorm:"primaryKey"`
	Holder string
	Until  time.Time
}

// Lease takes what a name stands for, for so long, or holds on to it; false where
// another copy has it. It ends by itself where its holder dies.
func (s *Store) Lease(ctx context.Context, name string, long time.Duration) (mine bool, err error) {
	err = s.Transaction(ctx, func(s *Store) (err error) {
		tx := s.with(ctx)
		mine, err = s.takeLease(tx, name, long)
		return err
	})
	return mine, err
}

// takeLease is Lease within a change. The clock is the database's: copies may differ.
func (s *Store) takeLease(tx *gorm.DB, name string, long time.Duration) (bool, error) {
	// One that lasts much longer than anybody asks for was taken by a clock that was ahead.
	// A little longer is none: a statement's time is when it began, and it may have waited for
	// the row while another that began later took it, for as long as the database lets it.
	err := tx.Exec(`INSERT INTO leases (name, holder, until) VALUES (?, ?, UTC_TIMESTAMP(3) + INTERVAL ? MICROSECOND) ON DUPLICATE KEY UPDATE
		holder = IF(until BETWEEN UTC_TIMESTAMP(3) AND VALUES(until) + INTERVAL 1 MINUTE, holder, VALUES(holder)),
		until = IF(holder = VALUES(holder), VALUES(until), until)`, name, s.holder, long.Microseconds()).Error
	if err != nil {
		return false, err
	}
	var l lease
	err = tx.First(&l, "name = ?", name).Error
	return l.Holder == s.holder, err
}

// Release lets go of what Lease took, early.
func (s *Store) Release(ctx context.Context, name string) error {
	return s.with(ctx).Exec("DELETE FROM leases WHERE name = ? AND holder = ?", name, s.holder).Error
}

// alone does something that one copy at a time may do, waiting for others at it for
// at most so long; it holds on while it works.
func (s *Store) alone(ctx context.Context, name string, patience time.Duration, do func() error) error {
	const hold = 15 * time.Second
	for until := time.Now().Add(patience); ; {
		mine, err := s.Lease(ctx, name, hold)
		if err != nil {
			return err
		}
		if mine {
			break
		}
		if time.Now().After(until) {
			return fmt.Errorf("another copy has been at it for %v; wait for it to end, then start again", patience)
		}
		select {
		case <-ctx.Done():
			return ctx.Err()
		case <-time.After(100 * time.Millisecond):
		}
	}
	holding, stop := context.WithCancel(ctx)
	var ended sync.WaitGroup
	ended.Go(func() {
		for {
			select {
			case <-holding.Done():
				return
			case <-time.After(hold / 3):
			}
			s.Lease(holding, name, hold) // one that fails now is tried again before the lease ends
		}
	})
	err := do()
	stop()
	ended.Wait()
	return errors.Join(err, s.Release(context.WithoutCancel(ctx), name))
}
