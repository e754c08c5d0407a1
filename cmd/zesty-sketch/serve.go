package main

import (
	"bufio"
	"context"
	"errors"
	"flag"
	"fmt"
	"io"
	"log/slog"
	"net"
	"net/http"
	"os"
	"path/filepath"
	"runtime/debug"
	"strings"
	"time"
	"unicode/utf8"

	"zestysketch/internal/demo"
	"zestysketch/internal/mariadb"
	"zestysketch/internal/press"
	"zestysketch/internal/room"
	"zestysketch/internal/store"
	"zestysketch/internal/web"
	"zestysketch/internal/web/kit"

	"golang.org/x/term"
)

// serveFlags are what demo and serve share.
type serveFlags struct {
	data, addr, dsn, proxy string
	https                  bool
	nightly                nightly
}

func (s *serveFlags) add(f *flag.FlagSet, data string) {
	f.StringVar(&s.data, "data", data, "folder of the private database")
	f.StringVar(&s.addr, "addr", "127.0.0.1:8080", "address to serve on")
}

// envDSN is the variable that may hold the database's address: a flag is seen by
// everybody who lists what runs on the machine, and it holds a password.
const envDSN = "ZESTY_DSN"

// addDatabase adds the ways to name a database that runs already.
func (s *serveFlags) addDatabase(f *flag.FlagSet) {
	s.dsn = os.Getenv(envDSN)
	f.Func("dsn", "use this MariaDB, user:password@tcp(host:3306)/name, instead of a private one; better in "+envDSN+" or --dsn-file", func(v string) error {
		s.dsn = v
		return nil
	})
	f.Func("dsn-file", "file that holds what --dsn would", func(path string) error {
		b, err := os.ReadFile(path)
		s.dsn = strings.TrimSpace(string(b))
		return err
	})
}

// demoCommand serves the made-up school, on the next free port if need be.
func demoCommand(ctx context.Context, args []string, std streams) error {
	var s serveFlags
	f := flag.NewFlagSet("demo", flag.ContinueOnError)
	s.add(f, filepath.Join("var", "demo"))
	if err := parse(f, args, std); err != nil {
		return err
	}
	listener, err := listenNear(s.addr)
	if err != nil {
		return err
	}
	return s.serve(ctx, listener, std, func(db *store.Store) error {
		if err := demo.Load(ctx, db); err != nil {
			return err
		}
		fmt.Fprintf(std.out, "\n  Zesty Sketch is ready:  http://%s\n  Sign in as              %s\n  with the password       %s\n\n  Ctrl-C stops it. What you do is kept in %s.\n\n",
			listener.Addr(), demo.Email, demo.Password, s.data)
		return nil
	})
}

// serveCommand serves a school's own data.
func serveCommand(ctx context.Context, args []string, std streams) error {
	var s serveFlags
	f := flag.NewFlagSet("serve", flag.ContinueOnError)
	s.add(f, filepath.Join("var", "school"))
	s.addDatabase(f)
	f.StringVar(&s.proxy, "proxy", "", "addresses or networks of proxies that are believed about where a browser comes from, with commas")
	s.nightly.add(f)
	f.BoolVar(&s.https, "https", false, "browsers come by https, through a proxy: send cookies over it only")
	if err := parse(f, args, std); err != nil {
		return err
	}
	listener, err := net.Listen("tcp", s.addr)
	if err != nil {
		return fmt.Errorf("cannot serve on %s: %w; choose another with --addr", s.addr, err)
	}
	return s.serve(ctx, listener, std, func(*store.Store) error {
		fmt.Fprintf(std.out, "Zesty Sketch serves on http://%s\n", listener.Addr())
		return nil
	})
}

// portsTried is how many ports after the wanted one the demo looks at.
const portsTried = 20

// listenNear takes the wanted port or the next free one.
func listenNear(addr string) (net.Listener, error) {
	wanted, err := net.ResolveTCPAddr("tcp", addr)
	if err != nil {
		return nil, fmt.Errorf("%w: --addr: %w", errUsage, err)
	}
	for i := range portsTried {
		at := *wanted
		at.Port += i
		if l, err := net.Listen("tcp", at.String()); err == nil {
			return l, nil
		}
	}
	return nil, fmt.Errorf("no free port from %s on; choose another with --addr", addr)
}

// memoryGoal is what the collector keeps the server near while large photos
// come one after the other: 400 MB is the most it may use.
const memoryGoal = 350 << 20

// serve opens the database, calls ready and serves until ctx ends; then it
// finishes what is under way and stops the database.
func (s serveFlags) serve(ctx context.Context, listener net.Listener, std streams, ready func(*store.Store) error) (err error) {
	defer listener.Close()
	debug.SetMemoryLimit(memoryGoal)
	if err := s.nightly.check(); err != nil {
		return err
	}
	dsn, stop, err := s.database(ctx, false)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, stop()) }()
	if err := s.nightly.before(ctx, dsn); err != nil {
		return fmt.Errorf("backing up before the tables are brought up to date: %w", err)
	}
	db, err := store.Open(ctx, dsn)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, db.Close()) }()
	log := slog.New(slog.NewTextHandler(std.err, nil))
	proxies, err := kit.ParseProxies(s.proxy)
	if err != nil {
		return fmt.Errorf("%w: --proxy: %w", errUsage, err)
	}
	routes, err := web.New(db, log, web.Options{HTTPS: s.https, Proxy: proxies, Done: ctx.Done()})
	if err != nil {
		return err
	}
	if err := ready(db); err != nil {
		return err
	}
	working := make(chan struct{})
	go func() { defer close(working); press.Worker{Store: db, Log: log}.Run(ctx) }()
	go s.nightly.run(ctx, dsn, log)
	defer func() { <-working }()
	server := &http.Server{
		Handler:           routes,
		ReadHeaderTimeout: 10 * time.Second,
		ReadTimeout:       2 * time.Minute,  // a large photo over a school's Wi-Fi
		WriteTimeout:      10 * time.Minute, // a class set over the same; live lines set their own
		IdleTimeout:       2 * time.Minute,
		MaxHeaderBytes:    32 << 10,
	}
	ended := make(chan error, 1)
	go func() { ended <- server.Serve(listener) }()
	select {
	case err := <-ended:
		return err
	case <-ctx.Done():
	}
	patience, cancel := context.WithTimeout(context.Background(), 5*time.Second)
	defer cancel()
	return server.Shutdown(patience)
}

// database returns the address of the database: as it was given, of the server
// that another copy has running from the folder where that will do, or of one
// that is started here and stopped by stop.
func (s serveFlags) database(ctx context.Context, beside bool) (dsn string, stop func() error, err error) {
	nothing := func() error { return nil }
	if s.dsn != "" {
		return s.dsn, nothing, nil
	}
	if dsn, running := mariadb.Running(s.data); running && beside {
		return dsn, nothing, nil
	}
	server, err := mariadb.Start(ctx, s.data)
	if err != nil {
		return "", nil, err
	}
	keeping, kept := context.WithCancel(ctx)
	watched := make(chan struct{})
	go func() {
		defer close(watched)
		server.Keep(keeping, func(err error) { fmt.Fprintln(os.Stderr, oneLine(err)) })
	}()
	return server.DSN(), func() error { kept(); <-watched; return server.Stop() }, nil
}

// open opens the store on the database.
func (s serveFlags) open(ctx context.Context, beside bool) (db *store.Store, stop func() error, err error) {
	dsn, stopServer, err := s.database(ctx, beside)
	if err != nil {
		return nil, nil, err
	}
	if db, err = store.Open(ctx, dsn); err != nil {
		return nil, nil, errors.Join(err, stopServer())
	}
	return db, func() error { return errors.Join(db.Close(), stopServer()) }, nil
}

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

// typedPassword reads a password: hidden and asked for where somebody types, else
// the first line of what comes.
func typedPassword(std streams) (string, error) {
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

// passwordCommand gives a teacher another password, also while the server runs.
func passwordCommand(ctx context.Context, args []string, std streams) (err error) {
	var s serveFlags
	f := flag.NewFlagSet("password", flag.ContinueOnError)
	s.add(f, filepath.Join("var", "school"))
	s.addDatabase(f)
	email := f.String("email", "", "the address that they sign in with")
	if err := parse(f, args, std); err != nil {
		return err
	}
	if *email == "" {
		return fmt.Errorf("%w: password needs --email; the password is asked for, or read from standard input", errUsage)
	}
	password, err := typedPassword(std)
	if err != nil {
		return err
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
	if err := parse(f, args, std); err != nil {
		return err
	}
	if *school == "" || !strings.Contains(*email, "@") || *name == "" {
		return fmt.Errorf("%w: teacher needs --school, --email and --name", errUsage)
	}
	if !room.KnownZone(*zone) {
		return fmt.Errorf("%w: --zone: wanted a place such as Europe/Lisbon, got %q", errUsage, *zone)
	}
	password, err := typedPassword(std)
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
