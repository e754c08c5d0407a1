package mariadb

import (
	"context"
	"database/sql"
	"errors"
	"os"
	"path/filepath"
	"strings"
	"syscall"
	"testing"
	"time"
)

func start(t *testing.T, dir string) *Server {
	t.Helper()
	s, err := Start(context.Background(), dir)
	if err != nil {
		t.Fatal(err)
	}
	return s
}

func query(t *testing.T, s *Server, statement string) (n int) {
	t.Helper()
	db, err := sql.Open("mysql", s.DSN())
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	if strings.HasPrefix(statement, "SELECT") {
		if err := db.QueryRow(statement).Scan(&n); err != nil {
			t.Fatalf("%s: %v", statement, err)
		}
		return n
	}
	if _, err := db.Exec(statement); err != nil {
		t.Fatalf("%s: %v", statement, err)
	}
	return 0
}

// One folder's life: made, used, held, killed, recovered, stopped.
func TestLife(t *testing.T) {
	dir := t.TempDir()
	// What an interrupted first start leaves.
	if err := os.MkdirAll(filepath.Join(dir, "mariadb.half", "mysql"), 0o700); err != nil {
		t.Fatal(err)
	}
	s := start(t, dir)
	query(t, s, "CREATE TABLE kept (n INT PRIMARY KEY)")
	query(t, s, "INSERT INTO kept VALUES (7)")

	if second, err := Start(context.Background(), dir); !errors.Is(err, ErrBusy) {
		t.Fatalf("a second start in the folder: %v, %v; want ErrBusy", second, err)
	}
	if err := s.Stop(); err != nil {
		t.Fatal(err)
	}

	s = start(t, dir)
	if n := query(t, s, "SELECT n FROM kept"); n != 7 {
		t.Errorf("after a restart the table holds %d; want 7", n)
	}
	// Our process is killed: the lock goes, MariaDB stays.
	s.lock.Close()
	old := s.PID()
	s = start(t, dir)
	if s.PID() == old || s.isOurs(old) {
		t.Errorf("the database left behind, process %d, still runs", old)
	}
	// MariaDB itself is killed.
	if err := syscall.Kill(s.PID(), syscall.SIGKILL); err != nil {
		t.Fatal(err)
	}
	if err := s.Stop(); err != nil {
		t.Fatal(err)
	}
	s = start(t, dir)
	if n := query(t, s, "SELECT n FROM kept"); n != 7 {
		t.Errorf("after kill -9 the table holds %d; want 7", n)
	}
	if err := s.Stop(); err != nil {
		t.Fatal(err)
	}
}

func TestSecretIsPrivate(t *testing.T) {
	dir := t.TempDir()
	s := start(t, dir)
	defer s.Stop()
	info, err := os.Stat(filepath.Join(dir, "secret"))
	if err != nil || info.Mode().Perm() != 0o600 {
		t.Errorf("secret: %v, %v; want mode 0600", info.Mode(), err)
	}
	for _, user := range []string{"root", "zesty"} {
		c := s.config(database)
		c.User, c.Passwd, c.Timeout = user, "", time.Second
		db, err := sql.Open("mysql", c.FormatDSN())
		if err != nil {
			t.Fatal(err)
		}
		if err := db.Ping(); err == nil {
			t.Errorf("%s came in without a password", user)
		}
		db.Close()
	}
}

// A server leaves alone what others have in the machine's own folder for temporary files:
// one that starts sweeps up tables there, also those of another that is just being made.
func TestTemporaryFilesOfItsOwn(t *testing.T) {
	shared := t.TempDir()
	t.Setenv("TMPDIR", shared)
	of := filepath.Join(shared, "#sql-temptable-1-2-3.MAI")
	if err := os.WriteFile(of, []byte("another's"), 0o600); err != nil {
		t.Fatal(err)
	}
	s, err := Start(context.Background(), t.TempDir())
	if err != nil {
		t.Fatal(err)
	}
	defer s.Stop()
	if _, err := os.Stat(of); err != nil {
		t.Errorf("another's temporary table: %v", err)
	}
}

// What a person is told of a database that cannot be made is why, which MariaDB
// says first, and not the advice to its makers that it ends with.
func TestCannotBeMade(t *testing.T) {
	bin := t.TempDir()
	said := "mariadb-install-db: cannot write\nNo space left on device\n" + strings.Repeat("more\n", 20) + "Please report it to its makers\n"
	script := "#!/bin/sh\ncat <<'END'\n" + said + "END\nexit 1\n"
	if err := os.WriteFile(filepath.Join(bin, "mariadb-install-db"), []byte(script), 0o755); err != nil {
		t.Fatal(err)
	}
	t.Setenv("PATH", bin+":"+os.Getenv("PATH"))
	_, err := Start(context.Background(), t.TempDir())
	if err == nil || !strings.Contains(err.Error(), "No space left") || strings.Contains(err.Error(), "makers") {
		t.Errorf("said %v; want what came first, and nothing of the end", err)
	}
}
