package main

import (
	"bufio"
	"context"
	"errors"
	"flag"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"strings"
	"unicode/utf8"

	"golang.org/x/term"

	"zestysketch/internal/room"
	"zestysketch/internal/store"
)

// checkTeacher says what of a teacher cannot be kept, in words.
func checkTeacher(school, email, name, password string) error {
	if n := utf8.RuneCountInString(school); !utf8.ValidString(school) || n > store.LongestSchool {
		return fmt.Errorf("%w: --school: wanted at most %d letters, got %d that can be read", errUsage, store.LongestSchool, n)
	}
	if err := store.CheckPerson(name, email); err != nil {
		return fmt.Errorf("%w: --name, --email: %w", errUsage, err)
	}
	return store.CheckPassword(password, name, email, school)
}

// addPassword adds the flag that names a file with a password.
func addPassword(f *flag.FlagSet) *string {
	return f.String("password-file", "", "file whose first line is the password; else it is asked for, or read from standard input")
}

// typedPassword reads a password: from a file where one is named, hidden and asked
// for where somebody types, else the first line of what comes.
func typedPassword(path string, std streams) (string, error) {
	if path != "" {
		b, err := os.ReadFile(path)
		line, _, _ := strings.Cut(string(b), "\n")
		return strings.TrimRight(line, "\r"), err
	}
	if f, ok := std.in.(*os.File); ok && term.IsTerminal(int(f.Fd())) {
		fmt.Fprint(std.err, "Password (it stays hidden): ")
		b, err := term.ReadPassword(int(f.Fd()))
		fmt.Fprintln(std.err)
		return string(b), err
	}
	line, err := bufio.NewReader(std.in).ReadString('\n')
	if errors.Is(err, io.EOF) {
		err = nil
	}
	return strings.TrimRight(line, "\r\n"), err
}

// passwordCommand gives a teacher another password, or a link by which they choose
// one, also while the server runs.
func passwordCommand(ctx context.Context, args []string, std streams) (err error) {
	var s serveFlags
	f := flag.NewFlagSet("password", flag.ContinueOnError)
	s.add(f, filepath.Join("var", "school"))
	s.addDatabase(f)
	email := f.String("email", "", "the address that they sign in with")
	link := f.Bool("link", false, "print a link by which they choose a password themselves, within a day")
	at := f.String("at", "http://127.0.0.1:8080", "with --link, the address of the running program as they know it")
	file := addPassword(f)
	if err := parse(f, args, std); err != nil {
		return err
	}
	if *email == "" {
		return fmt.Errorf("%w: password needs --email; the password is asked for, or read from standard input", errUsage)
	}
	password := ""
	if !*link {
		if password, err = typedPassword(*file, std); err != nil {
			return err
		}
	}
	db, stop, err := s.open(ctx, true)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, stop()) }()
	t, err := db.TeacherByAddress(ctx, *email)
	if errors.Is(err, store.ErrNotFound) {
		return fmt.Errorf("nobody signs in as %s", *email)
	}
	if err != nil {
		return err
	}
	if *link {
		letters, err := db.Invite(ctx, store.Invitation{Kind: store.ToReset, TeacherID: &t.ID, Name: t.Name, Email: t.Email})
		if err == nil {
			fmt.Fprintf(std.out, "%s/join/%s\n", strings.TrimRight(*at, "/"), letters)
		}
		return err
	}
	if err := store.CheckPassword(password, t.Name, t.Email); err != nil {
		return err
	}
	if err := db.SetPassword(ctx, t.ID, password); err != nil {
		return err
	}
	fmt.Fprintf(std.out, "%s has a new password, and is signed out everywhere\n", t.Name)
	return nil
}

// teacherCommand adds a teacher, also while the server runs.
func teacherCommand(ctx context.Context, args []string, std streams) (err error) {
	var s serveFlags
	f := flag.NewFlagSet("teacher", flag.ContinueOnError)
	s.add(f, filepath.Join("var", "school"))
	s.addDatabase(f)
	school := f.String("school", "", "the school's name")
	email := f.String("email", "", "the address to sign in with")
	name := f.String("name", "", "the name to show")
	zone := f.String("zone", "", "the place whose time the school keeps, such as Europe/Lisbon; as it is if empty")
	file := addPassword(f)
	if err := parse(f, args, std); err != nil {
		return err
	}
	if *school == "" || !strings.Contains(*email, "@") || *name == "" {
		return fmt.Errorf("%w: teacher needs --school, --email and --name", errUsage)
	}
	if !room.KnownZone(*zone) {
		return fmt.Errorf("%w: --zone: wanted a place such as Europe/Lisbon, got %q", errUsage, *zone)
	}
	password, err := typedPassword(*file, std)
	if err != nil {
		return err
	}
	if err := checkTeacher(*school, *email, *name, password); err != nil {
		return err
	}
	db, stop, err := s.open(ctx, true)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, stop()) }()
	t, err := db.AddTeacher(ctx, *school, *email, *name, password)
	if err != nil {
		if errors.Is(err, store.ErrTaken) {
			return fmt.Errorf("somebody signs in as %s already; choose another address", *email)
		}
		return err
	}
	if *zone != "" {
		if err := db.SetZone(ctx, t.SchoolID, *zone); err != nil {
			return err
		}
	}
	fmt.Fprintf(std.out, "%s can sign in as %s\n", *name, *email)
	return nil
}
