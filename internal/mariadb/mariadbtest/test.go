// Package mariadbtest gives tests a real MariaDB: one private server for a
// test binary, a fresh database for every test.
package mariadbtest

import (
	"context"
	"database/sql"
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
	if err := start(); err != nil {
		t.Fatal("the tests need a database: ", err)
	}
	db, err := sql.Open("mysql", server.DSN())
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	name := fmt.Sprintf("zesty_sketch_%d", last.Add(1))
	if _, err := db.Exec("CREATE DATABASE " + name); err != nil {
		t.Fatal(err)
	}
	return server.DSNOf(name)
}
