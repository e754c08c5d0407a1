package main

import (
	"bytes"
	"context"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"zestysketch/internal/backup"
	"zestysketch/internal/mariadb/mariadbtest"
	"zestysketch/internal/store"
)

// Schools are made, exported, moved to another installation, brought back and deleted by the shell; each night
// every one of several has a copy of its own.
func TestSchools(t *testing.T) {
	ctx := context.Background()
	here, there, dir := mariadbtest.DSN(t), mariadbtest.DSN(t), t.TempDir()
	file := filepath.Join(dir, "quay.backup")
	say := func(code int, words string, args ...string) {
		t.Helper()
		got, out, err := call(append([]string{"school"}, args...)...)
		if got != code || !strings.Contains(out+err, words) {
			t.Errorf("%v: %d, %q, %q; want %d saying %q", args, got, out, err, code, words)
		}
	}
	in := func(dsn string, args ...string) []string { return append(args, "--dsn", dsn) }
	say(2, "school wants one of")
	say(2, "school wants one of", "make")
	say(0, "Quay Lane is here", in(here, "make", "Quay Lane")...)
	say(1, "there is a Quay Lane already", in(here, "make", "Quay Lane")...)
	say(0, "0 teachers", in(here, "list")...)
	for dsn, school := range map[string]string{here: "Quay Lane", there: "Mole Road"} {
		var out, errs bytes.Buffer
		email := strings.Fields(strings.ToLower(school))[0] + "@school.example"
		code := run(ctx, []string{"teacher", "--dsn", dsn, "--school", school, "--email", email, "--name", "T"}, streams{strings.NewReader("harbour kettle lantern\n"), &out, &errs})
		if code != 0 {
			t.Fatal(errs.String())
		}
	}
	say(0, "holds Quay Lane", in(here, "export", "Quay Lane", file)...)
	say(1, "wanted one of Mole Road", in(there, "export", "Quay Lane", file)...)
	say(0, "The school is here", in(there, "take", file)...)
	say(1, "is here already", in(there, "take", file)...)
	say(0, "Quay Lane: 1 teachers", in(there, "list")...)

	db, err := store.Open(ctx, there)
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	n := nightly{dir: t.TempDir(), keep: 2}
	if err := n.schools(ctx, db, there, "night-2026-12-01.backup"); err != nil {
		t.Fatal(err)
	}
	moved, err := schoolNamed(ctx, db, "Quay Lane")
	if err != nil {
		t.Fatal(err)
	}
	night := filepath.Join(backup.FolderOf(n.dir, moved.ID), "night-2026-12-01.backup")
	if _, err := os.Stat(night); err != nil {
		t.Fatal(err)
	}
	teacher, err := db.TeacherByAddress(ctx, "quay@school.example")
	if err != nil {
		t.Fatal(err)
	}
	if _, err := db.AddClass(ctx, teacher.ID, "7 Quay"); err != nil {
		t.Fatal(err)
	}
	say(1, "whose place", in(there, "restore", "Quay Lane", file)...) // made elsewhere, by another number
	say(0, "as the file has it", in(there, "restore", "Quay Lane", night)...)
	if classes, err := db.Classes(ctx, teacher.ID); err != nil || len(classes) != 0 {
		t.Errorf("the class of after is there still: %v, %v", classes, err)
	}
	if err := n.bringBack(db, there)(ctx, moved.ID, "night-2026-12-01.backup"); err != nil {
		t.Error(err)
	}
	if err := db.SetAccountsOnly(ctx, moved.ID, true); err != nil {
		t.Fatal(err)
	}
	say(0, "may sign in by passwords", in(there, "passwords", "Quay Lane")...)
	if only, err := db.AccountsOnly(ctx, moved.ID); only || err != nil {
		t.Errorf("passwords let nobody in: %v, %v", only, err)
	}
	say(1, "export it first", in(there, "delete", "Quay Lane")...)
	say(0, "is gone", in(there, "delete", "Quay Lane", "--sure")...)
	if list, err := db.Schools(ctx); err != nil || len(list) != 1 || list[0].Name != "Mole Road" {
		t.Errorf("left: %v, %v", list, err)
	}
}

// A file of accounts is kept at every start, once there is a school, and says what is wrong with it.
func TestAccountsFile(t *testing.T) {
	ctx := context.Background()
	db, err := store.Open(ctx, mariadbtest.DSN(t))
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	good := `{"providers": [{"name": "Quay accounts", "issuer": "https://accounts.quay.example", "client_id": "zesty", "secret": "hush", "domains": ["a.example", "b.example"], "admin": "groups=x"}], "only": true}`
	path := write(t, "accounts.json", []byte(good))
	if err := keepAccounts(ctx, db, path); err != nil {
		t.Errorf("before there is a school: %v", err)
	}
	teacher, err := db.AddTeacher(ctx, "Quay", "a@quay.example", "A", "a long password")
	if err != nil {
		t.Fatal(err)
	}
	for range 2 {
		if err := keepAccounts(ctx, db, path); err != nil {
			t.Fatal(err)
		}
	}
	list, err := db.IdentityProviders(ctx, teacher.SchoolID)
	if err != nil || len(list) != 1 || list[0].Secret != "hush" || !list[0].Joins("x@B.example") || list[0].AdminValue != "x" {
		t.Errorf("%+v, %v", list, err)
	}
	if only, err := db.AccountsOnly(ctx, teacher.SchoolID); !only || err != nil {
		t.Errorf("passwords let in: %v", err)
	}
	for _, bad := range []string{"", "{", `{"provider": []}`, `{"providers": [{"name": "x", "client_id": "y", "issuer": "http://far.example"}]}`,
		`{"providers": [{"issuer": "https://far.example"}]}`, `{"school": "Nowhere", "providers": []}`,
		`{"providers": [{"name": "x", "client_id": "y", "issuer": "https://far.example", "secret_file": "gone"}]}`} {
		if err := keepAccounts(ctx, db, write(t, "bad.json", []byte(bad))); err == nil || !strings.Contains(err.Error(), "--oidc-file") {
			t.Errorf("%s: %v", bad, err)
		}
	}
}
