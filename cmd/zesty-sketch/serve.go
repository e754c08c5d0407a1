package main

import (
	"context"
	"crypto/tls"
	"errors"
	"flag"
	"fmt"
	"net"
	"net/http"
	"os"
	"path/filepath"
	"runtime/debug"
	"strings"
	"sync"
	"time"

	"zestysketch/internal/backup"
	"zestysketch/internal/demo"
	"zestysketch/internal/mariadb"
	"zestysketch/internal/reach"
	"zestysketch/internal/store"
	"zestysketch/internal/watch"
	"zestysketch/internal/web"
	"zestysketch/internal/web/kit"
	"zestysketch/internal/web/school"
)

// serveFlags are what demo and serve share.
type serveFlags struct {
	data, addr, dsn, proxy, watch, log, oidc string
	https                                    https
	nightly                                  nightly
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
		fmt.Fprintf(std.out, "\n  Zesty Sketch is ready:  %s\n  Sign in as              %s\n  with the password       %s\n\n  Ctrl-C stops it. What you do is kept in %s.\n\n",
			reach.Addresses(listener.Addr(), false)[0], demo.Email, demo.Password, s.data)
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
	s.https.add(f)
	f.StringVar(&s.log, "log", os.Getenv(envLog), "words, or json for a line of JSON an entry; also by "+envLog)
	f.StringVar(&s.oidc, "oidc-file", "", "file that says where the school has accounts by which teachers sign in, by OpenID Connect; see docs/operating.md")
	f.StringVar(&s.watch, "watch", "", "address of this machine alone, such as 127.0.0.1:9108, for /metrics, /healthz and /readyz; none if empty")
	if err := parse(f, args, std); err != nil {
		return err
	}
	listener, err := net.Listen("tcp", s.addr)
	if err != nil {
		return fmt.Errorf("cannot serve on %s: %w; choose another with --addr", s.addr, err)
	}
	return s.serve(ctx, listener, std, func(db *store.Store) error {
		if err := keepAccounts(ctx, db, s.oidc); err != nil {
			return err
		}
		at := reach.Addresses(listener.Addr(), s.https.here())
		fmt.Fprintf(std.out, "Zesty Sketch serves on %s\n", strings.Join(at, "\n                       "))
		if err := saysWhere(ctx, db, s.https.here() || s.https.before, std); err != nil {
			return err
		}
		return firstDay(ctx, db, at[0], std)
	})
}

// saysWhere prints which address students' links and codes carry.
func saysWhere(ctx context.Context, db *store.Store, https bool, std streams) error {
	own, err := db.OwnAddress(ctx)
	if err != nil {
		return err
	}
	if own == "" {
		own = "the address by which a teacher opens the page, unless School settles one"
	}
	fmt.Fprintf(std.out, "Students' links and codes lead to %s\n", own)
	if !https {
		fmt.Fprintln(std.out, "Without https tablets cannot go on without a connection. --authority FOLDER makes a certificate of the school's own; see docs/operating.md.")
	}
	return nil
}

// firstDay prints the word with which the school is made in the browser, where
// there is nobody yet.
func firstDay(ctx context.Context, db *store.Store, at string, std streams) error {
	n, err := db.CountTeachers(ctx)
	if err != nil || n > 0 {
		return err
	}
	word, err := db.Invite(ctx, store.Invitation{Kind: store.ToBegin})
	if err != nil {
		return err
	}
	fmt.Fprintf(std.out, "Nobody is here yet. Make the school at  %s/first\nThe word that it asks for is              %s\n", at, word)
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

// goal is that where there is so little memory that the database, the worker and a child that decodes
// need their share of it too.
func goal(memory uint64) int64 {
	if memory == 0 {
		return memoryGoal
	}
	return int64(min(memoryGoal, memory/4))
}

// serve opens the database, calls ready and serves until ctx ends; then it
// finishes what is under way and stops the database.
func (s serveFlags) serve(ctx context.Context, listener net.Listener, std streams, ready func(*store.Store) error) (err error) {
	defer listener.Close()
	debug.SetMemoryLimit(goal(watch.Memory()))
	if err := decodeApart(); err != nil {
		return err
	}
	if err := s.nightly.check(); err != nil {
		return err
	}
	log, err := newLog(std.err, s.log)
	if err != nil {
		return err
	}
	dsn, stop, err := s.database(ctx, false)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, stop()) }()
	db, err := s.opened(ctx, dsn)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, db.Close()) }()
	if err := s.nightly.remember(ctx, db, log); err != nil {
		return err
	}
	proxies, err := kit.ParseProxies(s.proxy)
	if err != nil {
		return fmt.Errorf("%w: --proxy: %w", errUsage, err)
	}
	safe, err := s.https.open(db, log)
	if err != nil {
		return err
	}
	watched, err := s.watched(db)
	if err != nil {
		return err
	}
	s.nightly.asked = make(chan uint64, 8)
	routes, err := web.New(db, log, web.Options{HTTPS: s.https.before || s.https.here(), Proxy: proxies, Done: ctx.Done(), Backups: school.Backups{Folder: s.nightly.dir, Now: s.nightly.ask, Back: s.nightly.bringBack(db, dsn)},
		Disks: func() []watch.Disk { return watch.LookAll(s.folders()) }, Watch: watched, Root: safe.root, Trouble: safe.trouble})
	if err != nil {
		return err
	}
	if err := ready(db); err != nil {
		return err
	}
	var working sync.WaitGroup
	defer working.Wait()
	working.Go(func() { runWorker(ctx, db, dsn, std.err, log) })
	working.Go(func() { s.nightly.run(ctx, db, dsn, log) })
	working.Go(func() { s.nightly.tell(ctx, db, log) })
	working.Go(func() { s.https.renew(ctx, log) })
	beside, err := s.beside(watched, safe, routes, listener.Addr())
	if err != nil {
		return err
	}
	defer func() {
		for _, b := range beside {
			b.Close()
		}
	}()
	return listen(ctx, listener, routes, safe.config)
}

// opened opens a database that is whole, backed up before it is changed.
func (s serveFlags) opened(ctx context.Context, dsn string) (*store.Store, error) {
	if err := backup.Whole(ctx, dsn); err != nil {
		return nil, err
	}
	return store.OpenAfter(ctx, dsn, s.nightly.before(dsn))
}

// listen serves until ctx ends, then finishes what is under way.
func listen(ctx context.Context, listener net.Listener, routes http.Handler, config *tls.Config) error {
	server := &http.Server{
		Handler:           routes,
		ReadHeaderTimeout: 10 * time.Second,
		ReadTimeout:       2 * time.Minute,  // a large photo over a school's Wi-Fi
		WriteTimeout:      10 * time.Minute, // a class set over the same; live lines set their own
		IdleTimeout:       2 * time.Minute,
		MaxHeaderBytes:    32 << 10,
	}
	ended := make(chan error, 1)
	go func() {
		if config == nil {
			ended <- server.Serve(listener)
			return
		}
		server.TLSConfig = config
		ended <- server.ServeTLS(listener, "", "")
	}()
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
