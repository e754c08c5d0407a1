// Package mariadbtest gives tests a real MariaDB: one private server for a
// test binary, a fresh database for every test.
package mariadbtest

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"os"
	"sync"
	"sync/atomic"
	"testing"

	_ "github.com/go-sql-driver/mysql" // the driver named below

	"zestysketch/internal/mariadb"
)

var (
	dir    string
	server *mariadb.Server
	last   atomic.Int64
)

// start starts the server for the first test that asks: fuzzing asks for none.
var start = sync.OnceValue(func() (err error) {
	server, err = mariadb.Start(context.Background(), dir)
	return err
})

// Run is for TestMain: it runs the tests, stops the server and removes its data.
func Run(m *testing.M) int {
	var err error
	if dir, err = os.MkdirTemp("", "zesty-test-"); err != nil {
		fmt.Fprintln(os.Stderr, err)
		return 1
	}
	defer os.RemoveAll(dir)
	code := m.Run()
	if server == nil {
		return code
	}
	if err := server.Stop(); err != nil {
		fmt.Fprintln(os.Stderr, err)
		return 1
	}
	return code
}

// DSN returns the address of a new, empty database. A machine without MariaDB
// fails, and says so.
func DSN(t testing.TB) string {
	t.Helper()
	name, err := empty()
	if err != nil {
		t.Fatal("the tests need a database: ", err)
	}
	return server.DSNOf(name)
}

func empty() (name string, err error) {
	if err := start(); err != nil {
		return "", err
	}
	name = fmt.Sprintf("zesty_sketch_%d", last.Add(1))
	return name, do(func(db *sql.DB) error {
		_, err := db.Exec("CREATE DATABASE " + name)
		return err
	})
}

func do(work func(*sql.DB) error) error {
	db, err := sql.Open("mysql", server.DSN())
	if err != nil {
		return err
	}
	defer db.Close()
	db.SetMaxOpenConns(1)
	return work(db)
}

// Template is a database of which others are copies.
type Template struct {
	once   sync.Once
	create []string // the statements that make its tables and fill them
	err    error
}

// Copy returns the address of a new database with tables as fill makes them, which is
// called for the first one alone: the others are copies of that.
func (x *Template) Copy(t testing.TB, fill func(dsn string) error) string {
	t.Helper()
	x.once.Do(func() {
		name, err := empty()
		if err == nil {
			err = fill(server.DSNOf(name))
		}
		if err == nil {
			err = do(func(db *sql.DB) (err error) { x.create, err = statements(db, name); return err })
		}
		x.err = err
	})
	name, err := empty()
	if err := errors.Join(x.err, err); err != nil {
		t.Fatal("the tests need a database: ", err)
	}
	err = do(func(db *sql.DB) error {
		for _, q := range append([]string{"USE " + name, "SET foreign_key_checks = 0"}, x.create...) {
			if _, err := db.Exec(q); err != nil {
				return fmt.Errorf("%s: %w", q, err)
			}
		}
		return nil
	})
	if err != nil {
		t.Fatal(err)
	}
	return server.DSNOf(name)
}

// statements returns what makes a database's tables and their rows anew.
func statements(db *sql.DB, name string) (create []string, err error) {
	rows, err := db.Query("SELECT table_name FROM information_schema.tables WHERE table_schema = ?", name)
	if err != nil {
		return nil, err
	}
	var tables []string
	for rows.Next() {
		var table string
		if err := rows.Scan(&table); err != nil {
			return nil, errors.Join(err, rows.Close())
		}
		tables = append(tables, table)
	}
	if err := errors.Join(rows.Err(), rows.Close()); err != nil {
		return nil, err
	}
	if _, err := db.Exec("USE " + name); err != nil {
		return nil, err
	}
	for _, table := range tables {
		var same, q string
		if err := db.QueryRow("SHOW CREATE TABLE `"+table+"`").Scan(&same, &q); err != nil {
			return nil, err
		}
		create = append(create, q)
		var full bool
		if err := db.QueryRow("SELECT EXISTS (SELECT 1 FROM `" + table + "`)").Scan(&full); err != nil {
			return nil, err
		}
		if full {
			create = append(create, fmt.Sprintf("INSERT INTO `%s` SELECT * FROM `%s`.`%s`", table, name, table))
		}
	}
	return create, nil
}
