// Package store keeps everything in MariaDB through GORM: models, migrations
// and queries. Every query about a teacher's things takes the teacher's id and
// answers ErrNotFound for another's.
package store

import (
	"context"
	"crypto/rand"
	"database/sql"
	"database/sql/driver"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"slices"
	"strings"
	"sync/atomic"
	"time"

	mysqldriver "github.com/go-sql-driver/mysql"
	"gorm.io/driver/mysql"
	"gorm.io/gorm"
	"gorm.io/gorm/logger"

	"zestysketch/internal/cluster"
)

var (
	// ErrNotFound is the error of a thing that is not there or is another teacher's.
	ErrNotFound = errors.New("not found")
	// ErrConflict is the error of a change to something that was changed meanwhile.
	ErrConflict = errors.New("changed by somebody else meanwhile")
	// ErrTaken is the error of a name or address that is in use.
	ErrTaken = errors.New("already in use")
)

// Store is the database. It is safe for use by many goroutines and copies.
type Store struct {
	db *gorm.DB
	*common
}

// common is what a store has in common with those of its changes.
type common struct {
	bell      bell
	hosts     *cluster.Hosts
	holder    string                // names this copy of the program among others
	forgotten func(context.Context) // see OnForgotten
	interrupt Interrupt             // nil but in tests
}

// Open connects to the database at dsn, whatever it leaves unsaid, and brings
// its tables up to date. A database that goes away while it starts, and several servers none
// of which is there yet, are waited for. The error wraps ErrDSN where it is no address of a
// database, and ErrNewer where a later program has been at it. The usual log hears
// when another server of several is gone on with, and of statements that took long.
func Open(ctx context.Context, dsn string) (*Store, error) { return OpenAfter(ctx, dsn, nil) }

// OpenAfter is Open that calls before, ahead of bringing tables up to date that an older
// program made. Of several copies that start at once the one that does it calls its own.
func OpenAfter(ctx context.Context, dsn string, before func(context.Context) error) (*Store, error) {
	var s *Store
	err := patiently(ctx, func(err error) bool { return errors.Is(err, cluster.ErrNone) }, func() (err error) {
		s, err = connect(dsn)
		return err
	})
	if err != nil {
		return nil, err
	}
	if err := s.migrate(ctx, "", before); err != nil {
		return nil, errors.Join(fmt.Errorf("bringing the tables up to date: %w", err), s.Close())
	}
	return s, nil
}

// MakeTables makes the tables of an empty database as the named migration left
// them. The error is ErrNewer for one that this program does not know.
func MakeTables(ctx context.Context, dsn, upTo string) error {
	s, err := connect(dsn)
	if err != nil {
		return err
	}
	return errors.Join(s.migrate(ctx, upTo, nil), s.Close())
}

// Raw opens a pool of connections that give every value as the database writes
// it, for backups; of several servers, the first that can be worked with.
func Raw(dsn string) (*sql.DB, error) {
	config, addrs, err := parseDSN(dsn)
	if err != nil {
		return nil, err
	}
	config.ParseTime = false
	hosts, err := cluster.New(config, addrs, nil)
	if err != nil {
		return nil, fmt.Errorf("%w: %w", ErrDSN, err)
	}
	return sql.OpenDB(hosts), nil // closes them with itself
}

// The pool: no more connections than the server takes of one copy of the program,
// and those that are idle are kept for the next lesson's beginning.
const (
	mostOpen, mostIdle = 40, 40
	idleFor            = 5 * time.Minute
)

// connect opens a pool of connections and reaches the database once.
func connect(dsn string) (*Store, error) {
	config, addrs, err := parseDSN(dsn)
	if err != nil {
		return nil, err
	}
	hosts, err := cluster.New(config, addrs, func(words string) { slog.Warn("database", "what", words) })
	if err != nil {
		return nil, fmt.Errorf("%w: %w", ErrDSN, err)
	}
	pool := sql.OpenDB(hosts)
	pool.SetMaxOpenConns(mostOpen)
	pool.SetMaxIdleConns(mostIdle)
	pool.SetConnMaxIdleTime(idleFor)
	db, err := gorm.Open(mysql.New(mysql.Config{Conn: pool, DSNConfig: config}), &gorm.Config{
		Logger:                 slow{},
		NowFunc:                func() time.Time { return time.Now().UTC().Truncate(time.Millisecond) },
		SkipDefaultTransaction: true,
		TranslateError:         false,
		PrepareStmt:            true,
	})
	if err != nil {
		return nil, errors.Join(fmt.Errorf("connecting to the database: %w", err), pool.Close())
	}
	return &Store{db, &common{bell: make(bell, 1), hosts: hosts, holder: rand.Text()}}, nil
}

// Server returns the address of the database server in use.
func (s *Store) Server() string { return s.hosts.InUse() }

// Pool returns the connections, for the session store.
func (s *Store) Pool() (*sql.DB, error) { return s.db.DB() }

// Reach reaches the database, or returns why it cannot be reached.
func (s *Store) Reach(ctx context.Context) error { return s.with(ctx).Exec("DO 1").Error }

// Close ends all connections.
func (s *Store) Close() error {
	pool, err := s.db.DB()
	if err != nil {
		return err
	}
	return pool.Close()
}

func (s *Store) with(ctx context.Context) *gorm.DB { return s.db.WithContext(ctx) }

const duplicateKey = 1062

// MariaDB's numbers for a disk without room: while writing, extending a table, and
// from the storage engine, whose words then hold the system's error 28.
const (
	diskFull    = 1021
	tableFull   = 1114
	engineError = 1030
)

// NoRoom reports whether an error says that the database's disk is full.
func NoRoom(err error) bool {
	var my *mysqldriver.MySQLError
	return errors.As(err, &my) && (my.Number == diskFull || my.Number == tableFull || my.Number == engineError && strings.Contains(my.Message, "28"))
}

// MariaDB's numbers for a server that cannot be worked with now: cut off from its
// cluster, read-only, stopping, its connection killed, or too many of them.
var gone = []uint16{1047, 1290, 1836, 1053, 1927, 1317, 1040, 1203}

// Away reports whether an error says that the database cannot be reached now.
func Away(err error) bool {
	var net *net.OpError
	var my *mysqldriver.MySQLError
	return errors.Is(err, mysqldriver.ErrInvalidConn) || errors.Is(err, driver.ErrBadConn) || errors.Is(err, cluster.ErrNone) || errors.Is(err, sql.ErrConnDone) ||
		errors.As(err, &net) || errors.As(err, &my) && slices.Contains(gone, my.Number)
}

// Unsure reports whether an error leaves open what became of a change: its
// connection broke after it was sent.
func Unsure(err error) bool { return errors.Is(err, mysqldriver.ErrInvalidConn) }

// found returns the error of a change, ErrNotFound where it found nothing to change.
func found(res *gorm.DB) error {
	if res.Error == nil && res.RowsAffected == 0 {
		return ErrNotFound
	}
	return known(res.Error)
}

// known turns the database's errors into ours where a caller decides on them.
func known(err error) error {
	var my *mysqldriver.MySQLError
	switch {
	case errors.Is(err, gorm.ErrRecordNotFound):
		return ErrNotFound
	case errors.As(err, &my) && my.Number == duplicateKey:
		return ErrTaken
	}
	return err
}

// Counted returns the same database, and how many statements were sent to it
// through the store returned.
func (s *Store) Counted() (*Store, *atomic.Int64) {
	c := &counter{Interface: logger.Discard}
	return &Store{s.db.Session(&gorm.Session{Logger: c}), s.common}, &c.n
}

type counter struct {
	logger.Interface
	n atomic.Int64
}

func (c *counter) Trace(context.Context, time.Time, func() (string, int64), error) { c.n.Add(1) }

func (c *counter) LogMode(logger.LogLevel) logger.Interface { return c }

// slowFrom is how long a statement takes that is logged.
const slowFrom = 500 * time.Millisecond

// slow logs statements that take long, with ? for what was in them: a log holds no
// name, link or password. Errors are their callers' to tell.
type slow struct{}

func (s slow) LogMode(logger.LogLevel) logger.Interface { return s }

func (slow) Info(context.Context, string, ...any) {}

func (slow) Warn(context.Context, string, ...any) {}

func (slow) Error(context.Context, string, ...any) {}

// ParamsFilter keeps the values out of what Trace is told.
func (slow) ParamsFilter(_ context.Context, sql string, _ ...any) (string, []any) { return sql, nil }

func (slow) Trace(ctx context.Context, begin time.Time, what func() (sql string, rows int64), _ error) {
	took := time.Since(begin)
	if took < slowFrom {
		return
	}
	statement, rows := what()
	slog.WarnContext(ctx, "slow statement", "took", took.Round(time.Millisecond), "rows", rows, "statement", statement)
}

var _ gorm.ParamsFilter = slow{}
