package store

import (
	"context"
	"database/sql"
	"errors"
	mathrand "math/rand/v2"
	"slices"
	"time"

	mysqldriver "github.com/go-sql-driver/mysql"
	"gorm.io/gorm"
)

// Transaction runs several changes as one: all of them are kept, or none. Where the
// database asks for it, all of work is done again, on a store of its own each time; so work
// sets what it returns anew, and changes nothing outside the database. Within a transaction
// it is part of that one and is never repeated alone.
func (s *Store) Transaction(ctx context.Context, work func(*Store) error) error {
	if s.attempt() != nil {
		return known(work(s))
	}
	var err error
	for try := range tries {
		if err = s.try(ctx, work); !passes(err) {
			return known(err)
		}
		select {
		case <-ctx.Done():
			return ctx.Err()
		case <-time.After(time.Duration(1+mathrand.IntN(20<<try)) * time.Millisecond):
		}
	}
	return err
}

// tries is how often a transaction is begun before its error is the caller's.
const tries = 5

// try does work in a transaction, once.
func (s *Store) try(ctx context.Context, work func(*Store) error) error {
	var a *attempt
	err := s.with(ctx).Transaction(func(tx *gorm.DB) error {
		a = &attempt{ConnPool: tx.Statement.ConnPool, before: s.interrupt}
		tx.Statement.ConnPool = a
		return work(&Store{tx, s.common})
	})
	if err == nil {
		for _, do := range a.after {
			do()
		}
	}
	return err
}

// attempt is the connection of a transaction under way. Where the database gives a
// transaction up (a deadlock, a certification that failed), it has undone all of it and takes
// what comes next statement by statement. So nothing more is sent, and nothing is committed,
// whatever became of the error on its way out.
type attempt struct {
	gorm.ConnPool
	lost   error    // what the transaction was given up with
	after  []func() // to be done once it is kept
	before Interrupt
	busy   bool // an interrupt sends statements of its own
}

// attempt returns the transaction that this store is of, nil for none.
func (s *Store) attempt() *attempt {
	a, _ := s.db.Statement.ConnPool.(*attempt)
	return a
}

// afterwards does something once the transaction that this store is of is kept; now, where it is of none.
func (s *Store) afterwards(do func()) {
	if a := s.attempt(); a != nil {
		a.after = append(a.after, do)
		return
	}
	do()
}

// ready returns why nothing more can be sent, and lets an interrupt go first.
func (a *attempt) ready(ctx context.Context) error {
	if a.lost == nil && a.before != nil && !a.busy {
		a.busy = true
		a.note(a.before(ctx, a))
		a.busy = false
	}
	return a.lost
}

func (a *attempt) note(err error) {
	if a.lost == nil && passes(err) {
		a.lost = err
	}
}

// PrepareContext prepares a statement, as sql.Tx does.
func (a *attempt) PrepareContext(ctx context.Context, query string) (*sql.Stmt, error) {
	if err := a.ready(ctx); err != nil {
		return nil, err
	}
	stmt, err := a.ConnPool.PrepareContext(ctx, query)
	a.note(err)
	return stmt, err
}

// ExecContext sends a statement, as sql.Tx does.
func (a *attempt) ExecContext(ctx context.Context, query string, args ...any) (sql.Result, error) {
	if err := a.ready(ctx); err != nil {
		return nil, err
	}
	res, err := a.ConnPool.ExecContext(ctx, query, args...)
	a.note(err)
	return res, err
}

// QueryContext asks for rows, as sql.Tx does.
func (a *attempt) QueryContext(ctx context.Context, query string, args ...any) (*sql.Rows, error) {
	if err := a.ready(ctx); err != nil {
		return nil, err
	}
	rows, err := a.ConnPool.QueryContext(ctx, query, args...)
	a.note(err)
	return rows, err
}

// QueryRowContext asks for one row, as sql.Tx does; of a transaction that was given up it
// gives a row whose error is that of a context that has ended.
func (a *attempt) QueryRowContext(ctx context.Context, query string, args ...any) *sql.Row {
	if a.ready(ctx) != nil {
		ended, end := context.WithCancel(ctx)
		end()
		ctx = ended
	}
	row := a.ConnPool.QueryRowContext(ctx, query, args...)
	a.note(row.Err())
	return row
}

// Commit keeps the transaction, or returns why it was given up.
func (a *attempt) Commit() error {
	if a.lost != nil {
		return a.lost
	}
	return a.ConnPool.(gorm.TxCommitter).Commit()
}

// Rollback undoes the transaction.
func (a *attempt) Rollback() error { return a.ConnPool.(gorm.TxCommitter).Rollback() }

// Interrupt is called ahead of each statement of a transaction, on its connection.
type Interrupt func(ctx context.Context, connection gorm.ConnPool) error

// Interrupted returns the store with something done ahead of each statement of its
// transactions: tests make deadlocks so.
func (s *Store) Interrupted(before Interrupt) *Store {
	other := *s.common
	other.interrupt = before
	return &Store{s.db, &other}
}

// MariaDB's numbers for what may be tried again: deadlock (also a Galera
// certification failure) and lock wait timeout.
var passing = []uint16{1213, 1205}

// passes reports whether an error says that what was asked may be asked again.
func passes(err error) bool {
	var my *mysqldriver.MySQLError
	return errors.As(err, &my) && slices.Contains(passing, my.Number)
}
