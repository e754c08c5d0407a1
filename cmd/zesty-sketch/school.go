package main

import (
	"context"
	"errors"
	"flag"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"strings"
	"unicode/utf8"

	"filippo.io/age"

	"zestysketch/internal/backup"
	"zestysketch/internal/store"
)

// schoolDeed is one thing that whoever keeps the machine does with a school.
type schoolDeed struct {
	name, what string
	files      int // how many words follow the school's name, or stand for it
	do         func(ctx context.Context, k keeper, school string, file string) error
}

// keeper is whoever keeps the machine, at a database.
type keeper struct {
	db       *store.Store
	dsn      string
	out      io.Writer
	to       age.Recipient // whom exports are encrypted to, nil for nobody
	identity string        // the file of who an export was encrypted to, empty for none
	sure     bool
}

func schoolDeeds() []schoolDeed {
	return []schoolDeed{
		{"list", "which schools there are, and how much each has", 0, listSchools},
		{"make", "NAME: a school without anybody; add its first teacher by zesty-sketch teacher", 1, makeSchool},
		{"export", "NAME FILE: everything of one school, to be moved or kept", 2, exportSchool},
		{"take", "FILE: a school that was exported elsewhere, beside those that are here", 1, takeSchool},
		{"restore", "NAME FILE: as an export or a night's copy of this installation has it, in the place of what it is now", 2, restoreSchool},
		{"delete", "NAME --sure: the school with everything in it, for good", 1, deleteSchool},
		{"passwords", "NAME: teachers may sign in by passwords again", 1, letPasswordsIn},
	}
}

// schoolCommand is for whoever keeps a machine with one school or several, also while the server runs.
func schoolCommand(ctx context.Context, args []string, std streams) (err error) {
	var s serveFlags
	f := flag.NewFlagSet("school", flag.ContinueOnError)
	s.add(f, filepath.Join("var", "school"))
	s.addDatabase(f)
	to := f.String("to", "", "with export: encrypt it to this age recipient, age1…")
	k := keeper{out: std.out}
	f.StringVar(&k.identity, "identity", "", "with take and restore: the file with the age identity that it was encrypted to")
	f.BoolVar(&k.sure, "sure", false, "with delete: yes, everything of it")
	deed, words, flags, err := schoolWords(args)
	if err != nil {
		return err
	}
	if err := parse(f, flags, std); err != nil {
		return err
	}
	if *to != "" {
		if k.to, err = age.ParseX25519Recipient(*to); err != nil {
			return fmt.Errorf("%w: --to: wanted an age recipient that begins with age1, got %q", errUsage, *to)
		}
	}
	var stop func() error
	if k.dsn, stop, err = s.database(ctx, true); err != nil {
		return err
	}
	defer func() { err = errors.Join(err, stop()) }()
	if k.db, err = store.Open(ctx, k.dsn); err != nil {
		return err
	}
	defer func() { err = errors.Join(err, k.db.Close()) }()
	words = append(words, "", "")
	return deed.do(ctx, k, words[0], words[1])
}

// schoolWords parts what is to be done, and with what, from the flags after it.
func schoolWords(args []string) (deed schoolDeed, words, flags []string, err error) {
	at := 0
	for at < len(args) && !strings.HasPrefix(args[at], "-") {
		at++
	}
	words, flags = args[:at], args[at:]
	var known []string
	for _, d := range schoolDeeds() {
		known = append(known, d.name+" "+d.what)
		if at > 0 && d.name == words[0] && at == d.files+1 {
			return d, words[1:], flags, nil
		}
	}
	return deed, nil, nil, fmt.Errorf("%w: school wants one of\n  %s", errUsage, strings.Join(known, "\n  "))
}

func listSchools(ctx context.Context, k keeper, _, _ string) error {
	list, err := k.db.Schools(ctx)
	for _, s := range list {
		fmt.Fprintf(k.out, "%s: %d teachers, %d classes, %d projects, since %s\n", s.Name, s.Teachers, s.Classes, s.Projects, s.CreatedAt.Format("2 January 2006"))
	}
	return err
}

func makeSchool(ctx context.Context, k keeper, name, _ string) error {
	if n := utf8.RuneCountInString(name); strings.TrimSpace(name) == "" || n > store.LongestSchool {
		return fmt.Errorf("%w: wanted a name of 1 to %d letters, got %d", errUsage, store.LongestSchool, n)
	}
	if _, err := k.db.MakeSchool(ctx, name); errors.Is(err, store.ErrTaken) {
		return fmt.Errorf("there is a %s already", name)
	} else if err != nil {
		return err
	}
	fmt.Fprintf(k.out, "%s is here. Add its first teacher, who looks after it: zesty-sketch teacher --school '%s' --email … --name …\n", name, name)
	return nil
}

func exportSchool(ctx context.Context, k keeper, name, file string) error {
	place, err := schoolNamed(ctx, k.db, name)
	if err != nil {
		return err
	}
	return written(file, k.to, func(w io.Writer) error {
		h, err := backup.WriteSchool(ctx, k.dsn, place.ID, w)
		if err == nil {
			fmt.Fprintf(k.out, "%s holds %s as it was at %s\n", file, h.School.Name, h.Made.Format("2006-01-02 15:04:05 MST"))
		}
		return err
	})
}

// opener opens a file of a school, decrypted where an identity is named.
func (k keeper) opener(file string) (func() (io.ReadCloser, error), error) {
	if k.identity != "" {
		return decrypted(file, k.identity)
	}
	return func() (io.ReadCloser, error) { return os.Open(file) }, nil
}

func takeSchool(ctx context.Context, k keeper, file, _ string) error {
	open, err := k.opener(file)
	if err != nil {
		return err
	}
	gone, err := backup.ReadForgotten(filepath.Join(filepath.Dir(file), backup.ForgottenFile))
	if err != nil && !errors.Is(err, os.ErrNotExist) {
		return err
	}
	if _, err := backup.TakeSchool(ctx, k.dsn, open, gone.IDs); err != nil {
		return err
	}
	fmt.Fprintln(k.out, "The school is here, with its teachers' passwords. Students' links are new: print them again. Delete it where it came from once all is well.")
	return nil
}

// restoreSchool brings a school back. Who was forgotten here since stays forgotten.
func restoreSchool(ctx context.Context, k keeper, name, file string) error {
	if _, err := schoolNamed(ctx, k.db, name); err != nil {
		return err
	}
	open, err := k.opener(file)
	if err != nil {
		return err
	}
	gone, err := k.db.Forgotten(ctx)
	if err != nil {
		return err
	}
	if _, err := backup.ReplaceSchool(ctx, k.dsn, open, gone); err != nil {
		return err
	}
	fmt.Fprintf(k.out, "%s is as the file has it; its teachers sign in again\n", name)
	return nil
}

func deleteSchool(ctx context.Context, k keeper, name, _ string) error {
	place, err := schoolNamed(ctx, k.db, name)
	if err != nil {
		return err
	}
	if !k.sure {
		return fmt.Errorf("%s would be gone for good, with every drawing and record: export it first, then say --sure", name)
	}
	if err := k.db.DropSchool(ctx, place.ID); err != nil {
		return err
	}
	fmt.Fprintf(k.out, "%s is gone; backups of before have it still\n", name)
	return nil
}

func letPasswordsIn(ctx context.Context, k keeper, name, _ string) error {
	place, err := schoolNamed(ctx, k.db, name)
	if err != nil {
		return err
	}
	if err := k.db.SetAccountsOnly(ctx, place.ID, false); err != nil {
		return err
	}
	fmt.Fprintf(k.out, "teachers of %s may sign in by passwords; zesty-sketch password --email … gives somebody a new one\n", name)
	return nil
}
