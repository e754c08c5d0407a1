// Package mariadbtest gives tests a real MariaDB: one private server for a
// test binary, a fresh database for every test.
package mariadbtest

import (
	"context"
	"database/sql"
	"fmt"
	"os"
	"sync/atomic"
	"testing"

	_ "github.com/go-sql-driver/mysql" // the driver named below

	"zestysketch/internal/mariadb"
)

var (
	server *mariadb.Server
	last   atomic.Int64
)

// Run is for TestMain: it starts the server, runs the tests, stops the server
// and removes its data. A machine without MariaDB fails, and says so.
func Run(m *testing.M) int {
	dir, err := os.MkdirTemp("", "zesty-test-")
	if err != nil {
		fmt.Fprintln(os.Stderr, err)
		return 1
	}
	defer os.RemoveAll(dir)
	if server, err = mariadb.Start(context.Background(), dir); err != nil {
		fmt.Fprintln(os.Stderr, "the tests need a database:", err)
		return 1
	}
	code := m.Run()
	if err := server.Stop(); err != nil {
		fmt.Fprintln(os.Stderr, err)
		return 1
	}
	return code
}

// DSN returns the address of a new, empty database.
func DSN(t testing.TB) string {
	t.Helper()
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
