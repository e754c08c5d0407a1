// Command cluster runs a lesson on three Galera nodes and three copies of the program
// behind haproxy, all on loopback, kills nodes and copies meanwhile, and prints what
// of all that was confirmed is lost or stands twice, and how long anybody waited.
//
//	go run ./scripts/cluster [-for 60s] [-classes 3] [-students 30] [-every 2s]
//	go run ./scripts/cluster -from a48deaf
//
// With -from the copies are of that earlier commit to begin with, and are exchanged for today's one by one while the
// lesson goes on, over tables that are today's already; nobody is killed then.
// It wants Debian's mariadb-server, galera-4, rsync and haproxy.
package main

import (
	"context"
	"flag"
	"fmt"
	"log"
	"os"
	"time"
)

func main() {
	o := options{kill: true}
	flag.DurationVar(&o.length, "for", time.Minute, "how long the lesson is")
	flag.IntVar(&o.classes, "classes", 3, "classes, each with a wall")
	flag.IntVar(&o.students, "students", 30, "students of a class, each with a tablet")
	flag.DurationVar(&o.every, "every", 2*time.Second, "how often a tablet ticks")
	flag.StringVar(&o.from, "from", "", "a commit whose program the copies are at first")
	flag.Parse()
	o.kill = o.from == ""
	r, err := run(context.Background(), o)
	if err != nil {
		log.Fatal(err)
	}
	fmt.Print(r)
	if !r.good() {
		os.Exit(1)
	}
}

// options are how large the lesson is.
type options struct {
	length, every     time.Duration
	classes, students int
	kill              bool
	from              string // a commit, empty for today's
}

// result is what a lesson came to.
type result struct {
	ticks, notes, photos  int // confirmed
	lost, doubled         int
	told                  int           // answers that said to come again
	broken                int           // answers that said something else was wrong: 500 and the like
	longest, half, nearly time.Duration // that anybody waited for one answer; half of them, and 99 of 100
	heard                 int           // changes that walls heard of
	recovered             []string      // what was killed, and when ticks went on
	stray                 []string      // what was wrong, in words
}

func (r result) good() bool {
	return r.lost == 0 && r.doubled == 0 && r.broken == 0 && r.longest <= 6*time.Second && r.ticks > 0 && r.heard > 0
}

func (r result) String() string {
	text := fmt.Sprintf("confirmed: %d ticks, %d notes, %d photos; lost %d, doubled %d\nanswers: half in %v, 99 of 100 in %v, the longest %v; %d said to come again, %d failed otherwise; walls heard of %d changes\n",
		r.ticks, r.notes, r.photos, r.lost, r.doubled, r.half.Round(time.Millisecond), r.nearly.Round(time.Millisecond), r.longest.Round(time.Millisecond), r.told, r.broken, r.heard)
	for _, what := range r.recovered {
		text += "killed " + what + "\n"
	}
	for _, what := range r.stray {
		text += "wrong: " + what + "\n"
	}
	return text
}
