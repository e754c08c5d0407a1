// Command load measures the server at work as a school's lesson begins: walls that
// listen and fetch, tablets that tick, photos that are handed in, all from one address
// behind haproxy, against a copy of the program with its private database.
//
//	go run ./scripts/load [-walls 40] [-students 30] [-every 20s] [-for 60s] [-photos 30]
//	go run ./scripts/load -small
//
// With -small it is one class on a small computer: within 1 GB and half a core, enforced by a control group, with a
// class set and a backup besides. It wants Debian's mariadb-server and haproxy.
package main

import (
	"context"
	"errors"
	"flag"
	"fmt"
	"log"
	"os"
	"path/filepath"
	"runtime"
	"sync"
	"time"

	"zestysketch/internal/mariadb"
	"zestysketch/internal/store"
	"zestysketch/internal/trial"
)

// options are how large the lesson is.
type options struct {
	walls, students, photos int
	every, length           time.Duration
	small                   bool
}

func main() {
	var o options
	flag.IntVar(&o.walls, "walls", 40, "classes, each with a wall")
	flag.IntVar(&o.students, "students", 30, "students of a class, each with a tablet")
	flag.DurationVar(&o.every, "every", 20*time.Second, "how often a tablet ticks, on average")
	flag.DurationVar(&o.length, "for", time.Minute, "how long")
	flag.IntVar(&o.photos, "photos", 30, "photos of 12 megapixels that are handed in, in the last minute")
	flag.BoolVar(&o.small, "small", false, "one class on a computer of 1 GB and half a core, with a class set and a backup besides")
	flag.Parse()
	if o.small {
		o.walls, o.length = 1, 3*time.Minute
	}
	if o.photos > 0 && o.length < photosFrom+2*time.Second {
		log.Fatalf("photos are handed in from %s on: make the lesson longer than %s, or give -photos 0", photosFrom, o.length)
	}
	if err := run(context.Background(), o); err != nil {
		log.Fatal(err)
	}
}

func run(ctx context.Context, o options) (err error) {
	dir, err := os.MkdirTemp("", "load")
	if err != nil {
		return err
	}
	defer os.RemoveAll(dir)
	binary, err := trial.Build(dir)
	if err != nil {
		return err
	}
	var g group
	if o.small {
		if g, binary, err = onSmallComputer(dir, binary); err != nil {
			return err
		}
		defer func() { err = errors.Join(err, g.remove()) }()
	}
	server, err := trial.NewCopy(dir, "server")
	if err != nil {
		return err
	}
	data := filepath.Join(dir, "data")
	if err := server.Start(binary, data, ""); err != nil {
		return err
	}
	defer server.Stop()
	if err := server.Ready(); err != nil {
		return err
	}
	proxy, err := trial.NewProxy(dir, []*trial.Copy{server})
	if err != nil {
		return err
	}
	defer proxy.Stop()
	db, err := databaseOf(ctx, data)
	if err != nil {
		return err
	}
	defer db.Close()
	classes, labels, err := trial.School(ctx, db, o.walls, o.students)
	if err != nil {
		return err
	}
	base := "http://" + proxy.Addr
	shots, err := photographs(classes, o.photos)
	if err != nil {
		return err
	}
	if err := signIn(classes, base); err != nil {
		return err
	}
	fmt.Printf("%d walls, %d tablets from one address behind haproxy, a tick every %s each, for %s, %d photos of 12 megapixels, on %d cores\n",
		o.walls, o.walls*o.students, o.every, o.length, o.photos, runtime.GOMAXPROCS(0))
	l := &lesson{options: o, base: base, labels: labels, times: times{by: map[string][]time.Duration{}}}
	if o.small {
		return l.onSmall(ctx, db, g, classes, shots, binary, data, filepath.Join(dir, "night.backup"))
	}
	l.run(ctx, classes, shots)
	l.print()
	if err := measured(ctx, db, o.photos); err != nil {
		return err
	}
	fmt.Printf("the server's memory was at most %d MB, its worker's included\n", mostMemory(server.PID())>>10)
	return nil
}

// databaseOf opens the database that the server has running from a folder.
func databaseOf(ctx context.Context, data string) (*store.Store, error) {
	dsn, running := mariadb.Running(data)
	if !running {
		return nil, errors.New("the server's database does not run")
	}
	return store.Open(ctx, dsn)
}

// signIn signs the teachers in, before the lesson: it is slow on purpose.
func signIn(classes []trial.Class, base string) error {
	for i := range classes {
		if err := classes[i].SignIn(base); err != nil {
			return err
		}
	}
	return nil
}

// run has the lesson: walls and tablets at work, and photos handed in.
func (l *lesson) run(ctx context.Context, classes []trial.Class, shots []shot) {
	ending, stop := context.WithTimeout(ctx, l.length)
	defer stop()
	var all sync.WaitGroup
	for _, c := range classes {
		all.Go(func() { l.wall(ending, c) })
		for _, link := range c.Links {
			all.Go(func() { l.tablet(ending, link) })
		}
	}
	all.Go(func() { l.handIn(ending, shots) })
	all.Wait()
}
