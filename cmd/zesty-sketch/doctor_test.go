package main

import (
	"context"
	"errors"
	"io"
	"log/slog"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"testing"
	"time"

	"zestysketch/internal/backup"
	"zestysketch/internal/mariadb/mariadbtest"
	"zestysketch/internal/store"
)

// version says which program this is, and asked for a database also what that is.
func TestVersion(t *testing.T) {
	for _, word := range []string{"version", "--version"} {
		if code, out, stderr := call(word); code != 0 || !strings.HasPrefix(out, "zesty-sketch ") || !strings.Contains(out, "tables up to "+store.Tables()) {
			t.Errorf("%s: exit %d, %q, %s", word, code, out, stderr)
		}
	}
	dsn := mariadbtest.DSN(t)
	db, err := store.Open(t.Context(), dsn)
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	if code, out, stderr := call("version", "--dsn", dsn); code != 0 || !strings.Contains(out, "MariaDB 1") || strings.Count(out, store.Tables()) != 2 {
		t.Errorf("exit %d, %q, %s", code, out, stderr)
	}
}

// The doctor finds a machine that is well so, and each thing that is not, with what to do; its exit status tells.
func TestDoctor(t *testing.T) {
	dsn, dir := mariadbtest.DSN(t), t.TempDir()
	db, err := store.Open(t.Context(), dsn)
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	authority := filepath.Join(t.TempDir(), "authority")
	if code, _, stderr := call("certificate", "--dir", authority, "--names", "draw.quay.example"); code != 0 {
		t.Fatal(stderr)
	}
	if code, out, stderr := call("doctor", "--data", dir, "--dsn", dsn, "--backups", dir, "--authority", authority, "--addr", ":443"); code != 1 ||
		!strings.Contains(out, "TROUBLE  backups      none in "+dir) || !strings.Contains(stderr, "1 of") {
		t.Errorf("no backup yet: exit %d, %s\n%s", code, stderr, out)
	}
	file := filepath.Join(dir, "night-2026-11-30.backup")
	if code, _, stderr := call("backup", "--dsn", dsn, "--out", file); code != 0 {
		t.Fatal(stderr)
	}
	well := []string{"doctor", "--data", dir, "--dsn", dsn, "--backups", dir, "--authority", authority, "--addr", ":443", "--whole"}
	code, out, stderr := call(well...)
	for _, want := range []string{"ok       disk", "ok       memory", "ok       clock", "ok       database     MariaDB", "ok       certificate  for draw.quay.example, 38", "ok       backups", "it is whole", "https://"} {
		if code != 0 || !strings.Contains(out, want) {
			t.Errorf("exit %d, %s; %q is not in\n%s", code, stderr, want, out)
		}
	}
	whole, err := os.ReadFile(file)
	if err != nil {
		t.Fatal(err)
	}
	if err := os.WriteFile(file, whole[:len(whole)-20], 0o600); err != nil {
		t.Fatal(err)
	}
	if code, out, _ := call(well...); code != 1 || !strings.Contains(out, "it is cut off or was altered") {
		t.Errorf("a backup that is cut off: exit %d\n%s", code, out)
	}
	old := time.Now().Add(-30 * time.Hour)
	if err := os.Chtimes(file, old, old); err != nil {
		t.Fatal(err)
	}
	for _, c := range []struct {
		args []string
		want string
	}{
		{well, "30 hours old"},
		{[]string{"doctor", "--data", dir}, "TROUBLE  database     does not run in " + dir},
		{[]string{"doctor", "--dsn", dsn, "--data", filepath.Join(dir, "away")}, "TROUBLE  disk"},
		{[]string{"doctor", "--data", dir, "--dsn", dsn, "--cert", file}, "is no PEM file"},
	} {
		if code, out, _ := call(c.args...); code != 1 || !strings.Contains(out, c.want) {
			t.Errorf("%v: exit %d, want 1 and %q\n%s", c.args, code, c.want, out)
		}
	}
}

// A night's backup is copied to a second folder and read back, old ones go there too, and who was forgotten is written
// down beside it; a folder that is not there is not made.
func TestASecondPlaceForBackups(t *testing.T) {
	dsn, n := mariadbtest.DSN(t), nightly{dir: t.TempDir(), also: t.TempDir(), keep: 1}
	db, err := store.Open(t.Context(), dsn)
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	for _, name := range []string{"night-2026-11-29.backup", "night-2026-11-30.backup"} {
		if err := n.make(t.Context(), dsn, name); err != nil {
			t.Fatal(err)
		}
		if err := n.carry(t.Context(), dsn, name); err != nil {
			t.Fatal(err)
		}
	}
	files, _ := filepath.Glob(filepath.Join(n.also, "*"))
	for i, want := range []string{"forgotten.txt", "night-2026-11-30.backup"} {
		if len(files) != 2 || filepath.Base(files[i]) != want {
			t.Fatalf("the second folder holds %v; want the latest night and who was forgotten", files)
		}
	}
	if code, out, stderr := call("restore", "--dsn", mariadbtest.DSN(t), files[1]); code != 0 {
		t.Errorf("the copy is not restored: exit %d, %s %s", code, out, stderr)
	}
	if f := n.second(t.Context(), time.Now(), true); f.level != trouble || !strings.Contains(f.say, "same disk") {
		t.Errorf("two folders of one disk: %+v", f)
	}
	n.also = filepath.Join(n.also, "unplugged")
	if err := n.carry(t.Context(), dsn, "night-2026-11-30.backup"); err == nil || !strings.Contains(err.Error(), "plugged in") {
		t.Errorf("a folder that is not there: %v", err)
	}
	if _, err := os.Stat(n.also); err == nil {
		t.Error("the folder was made, on the wrong disk")
	}
}

// aTeacher puts a school with one teacher into a database.
func aTeacher(t *testing.T, dsn string) {
	t.Helper()
	db, err := store.Open(t.Context(), dsn)
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	if _, err := db.AddTeacher(t.Context(), "Quay", "a@quay.example", "A", "a long password"); err != nil {
		t.Fatal(err)
	}
}

// Once a week the night's backup is brought back for a trial; what came, or what is wrong, is told.
func TestWeeklyTrial(t *testing.T) {
	dsn, n := mariadbtest.DSN(t), nightly{dir: t.TempDir(), keep: 2}
	now, name := time.Now(), "night-2026-12-01.backup"
	if f := trialIs(n.dir, now); f.level != soon {
		t.Errorf("before the first: %+v", f)
	}
	aTeacher(t, dsn)
	if err := errors.Join(n.make(t.Context(), dsn, name), n.weekly(t.Context(), name)); err != nil {
		t.Fatal(err)
	}
	if f := trialIs(n.dir, now); f.level != well || !strings.Contains(f.say, "1 schools, 1 teachers") {
		t.Errorf("%+v", f)
	}
	if f := trialIs(n.dir, now.Add(20*24*time.Hour)); f.level != trouble {
		t.Errorf("long ago: %+v", f)
	}
	cut := filepath.Join(n.dir, name)
	if err := os.Truncate(cut, 2000); err != nil {
		t.Fatal(err)
	}
	if err := n.weekly(t.Context(), name); err != nil {
		t.Errorf("a day later it is tried again: %v", err)
	}
	if last, err := backup.Try(t.Context(), n.dir, name); err != nil || last.Wrong == "" {
		t.Errorf("one that is cut off: %+v, %v", last, err)
	}
	if f := trialIs(n.dir, now); f.level != trouble || !strings.Contains(f.say, "not a backup") {
		t.Errorf("%+v", f)
	}
	if left, _ := filepath.Glob(filepath.Join(n.dir, "trial-*")); len(left) > 0 {
		t.Errorf("left behind: %v", left)
	}
}

func TestMain(m *testing.M) { os.Exit(mariadbtest.Run(m)) }

// A backup that is asked for is made at once, whatever the hour, and is one of the nights' that are kept.
func TestABackupIsAskedFor(t *testing.T) {
	dsn, n := mariadbtest.DSN(t), nightly{dir: t.TempDir(), keep: 2, asked: make(chan uint64, 1)}
	db, err := store.Open(t.Context(), dsn)
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	ctx, stop := context.WithCancel(t.Context())
	var working sync.WaitGroup
	working.Go(func() { n.run(ctx, db, dsn, slog.New(slog.NewTextHandler(io.Discard, nil))) })
	n.ask(0)
	n.ask(0) // twice is once: it is wanted already
	made := func() []string {
		files, _ := filepath.Glob(filepath.Join(n.dir, nightBegins+"*"+backup.Ending))
		if _, err := os.Stat(filepath.Join(n.dir, "forgotten.txt")); err != nil {
			return nil // who was forgotten is written down last
		}
		return files
	}
	for waited := time.Now(); len(made()) == 0 && time.Since(waited) < time.Minute; time.Sleep(50 * time.Millisecond) {
	}
	stop()
	working.Wait()
	files := made()
	if len(files) != 1 {
		t.Fatalf("%v; want one backup", files)
	}
	if code, out, stderr := call("restore", "--dsn", mariadbtest.DSN(t), files[0]); code != 0 {
		t.Errorf("it is not restored: exit %d, %s %s", code, out, stderr)
	}
}
