package storetest

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"maps"
	"testing"

	mysqldriver "github.com/go-sql-driver/mysql"
	"gorm.io/gorm"

	"zestysketch/internal/store"
)

// Deadlocks does something again and again: first undisturbed, then with a real deadlock
// ahead of each statement in turn that it sends within its transactions. Each time it must
// succeed and add and take away as many rows of every table as when nobody disturbed it.
// prepare makes what it is done with, anew each time, and returns the doing.
func Deadlocks(t testing.TB, db *store.Store, prepare func() func(*store.Store) error) {
	t.Helper()
	pool, err := db.Pool()
	Must(t, err)
	bait(t, pool)
	var want map[string]int
	Must(t, prepare()(db)) // what earlier doings left behind may go with the first
	for at := 0; ; at++ {
		do := prepare()
		before := rows(t, pool)
		sent := 0
		err := do(db.Interrupted(func(ctx context.Context, mine gorm.ConnPool) error {
			if sent++; sent != at {
				return nil
			}
			return deadlock(ctx, pool, mine)
		}))
		if err != nil {
			t.Fatalf("deadlock at statement %d: %v; want it done again", at, err)
		}
		got := rows(t, pool)
		for table, n := range before {
			if got[table] -= n; got[table] == 0 {
				delete(got, table)
			}
		}
		switch {
		case at == 0 && sent == 0:
			t.Fatal("no statement was sent within a transaction")
		case at == 0:
			want = got
		case !maps.Equal(got, want):
			t.Errorf("deadlock at statement %d: rows more or less by table\n got %v\nwant %v", at, got, want)
		}
		if at > sent { // there is no such statement
			return
		}
	}
}

// bait makes rows over which two connections can be brought to a deadlock.
func bait(t testing.TB, pool *sql.DB) {
	t.Helper()
	for _, q := range []string{
		"CREATE TABLE IF NOT EXISTS bait (id INT PRIMARY KEY, n INT NOT NULL DEFAULT 0)",
		"INSERT IGNORE INTO bait (id) SELECT seq FROM seq_1_to_3000",
	} {
		_, err := pool.Exec(q)
		Must(t, err)
	}
}

// errNoDeadlock is the error of two connections that did not wait for each other.
var errNoDeadlock = errors.New("wanted a deadlock, and there was none")

// deadlock brings a transaction into a deadlock with another, which has changed more, so that
// the database gives this one up, and returns the database's error.
func deadlock(ctx context.Context, pool *sql.DB, mine gorm.ConnPool) error {
	other, err := pool.BeginTx(ctx, nil)
	if err != nil {
		return err
	}
	defer other.Rollback()
	if _, err := other.Exec("UPDATE bait SET n = n + 1 WHERE id >= 2"); err != nil {
		return err
	}
	if _, err := mine.ExecContext(ctx, "UPDATE bait SET n = n + 1 WHERE id = 1"); err != nil {
		return err
	}
	ended := make(chan error, 1)
	go func() {
		_, err := other.Exec("UPDATE bait SET n = n + 1 WHERE id = 1")
		ended <- err
	}()
	_, err = mine.ExecContext(ctx, "UPDATE bait SET n = n + 1 WHERE id = 2")
	if other := <-ended; other != nil {
		return fmt.Errorf("the other side of a deadlock: %w", other)
	}
	if my := (*mysqldriver.MySQLError)(nil); errors.As(err, &my) && my.Number == 1213 {
		return err
	}
	return errors.Join(errNoDeadlock, err)
}

// rows counts the rows of every table.
func rows(t testing.TB, pool *sql.DB) map[string]int {
	t.Helper()
	names, err := pool.Query("SELECT table_name FROM information_schema.tables WHERE table_schema = DATABASE() AND table_type = 'BASE TABLE'")
	Must(t, err)
	defer names.Close()
	n := map[string]int{}
	for names.Next() {
		var name string
		Must(t, names.Scan(&name))
		n[name] = 0
	}
	Must(t, names.Err())
	for name := range n {
		var rows int
		Must(t, pool.QueryRow("SELECT COUNT(*) FROM `"+name+"`").Scan(&rows))
		n[name] = rows
	}
	return n
}
