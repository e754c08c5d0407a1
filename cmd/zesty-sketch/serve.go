package main

import (
	"context"
	"errors"
	"flag"
	"fmt"
	"log/slog"
	"net"
	"net/http"
	"os"
	"path/filepath"
	"runtime/debug"
	"strings"
	"time"

	"zestysketch/internal/checkin"
	"zestysketch/internal/demo"
	"zestysketch/internal/mariadb"
	"zestysketch/internal/press"
	"zestysketch/internal/store"
	"zestysketch/internal/web"
	"zestysketch/internal/web/kit"
	"zestysketch/internal/work"
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
	return s.serve(ctx, listener, std, func(db *store.Store) error {
		fmt.Fprintf(std.out, "Zesty Sketch serves on http://%s\n", listener.Addr())
		return firstDay(ctx, db, listener.Addr(), std)
	})
}

// firstDay prints the word with which the school is made in the browser, where
// there is nobody yet.
func firstDay(ctx context.Context, db *store.Store, at net.Addr, std streams) error {
	n, err := db.CountTeachers(ctx)
	if err != nil || n > 0 {
		return err
	}
	word, err := db.Invite(ctx, store.Invitation{Kind: store.ToBegin})
	if err != nil {
		return err
	}
	fmt.Fprintf(std.out, "Nobody is here yet. Make the school at  http://%s/first\nThe word that it asks for is              %s\n", at, word)
	return nil
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
	routes, err := web.New(db, log, web.Options{HTTPS: s.https, Proxy: proxies, Done: ctx.Done(), Backups: s.nightly.dir})
	if err != nil {
		return err
	}
	if err := ready(db); err != nil {
		return err
	}
	working := make(chan struct{})
	go func() { defer close(working); worker(db, log).Run(ctx) }()
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

// worker makes what is queued: class sets, and photos to be measured.
func worker(db *store.Store, log *slog.Logger) work.Worker {
	return work.Worker{Store: db, Log: log, Makers: map[store.JobKind]work.Maker{store.SetJob: press.Make, store.PhotoJob: checkin.Make}}
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
