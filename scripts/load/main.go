// Command load measures the server at work: walls that listen and fetch, and
// tablets that tick, all in this process and on loopback, against a private
// database in a temporary folder.
//
//	go run ./scripts/load [-walls 40] [-students 30] [-every 20s] [-for 30s]
package main

import (
	"bufio"
	"context"
	"flag"
	"fmt"
	"io"
	"log"
	"log/slog"
	"math/rand/v2"
	"net"
	"net/http"
	"net/http/cookiejar"
	"net/url"
	"os"
	"runtime"
	"slices"
	"strings"
	"sync"
	"time"

	"zestysketch/internal/core/accuracy"
	"zestysketch/internal/core/grid"
	"zestysketch/internal/mariadb"
	"zestysketch/internal/store"
	"zestysketch/internal/web"
)

// times gathers how long answers took, by what was asked.
type times struct {
	sync.Mutex
	by     map[string][]time.Duration
	failed int
}

func (t *times) add(what string, took time.Duration, ok bool) {
	t.Lock()
	defer t.Unlock()
	if !ok {
		t.failed++
		return
	}
	t.by[what] = append(t.by[what], took)
}

func main() {
	walls := flag.Int("walls", 40, "classes, each with a wall")
	students := flag.Int("students", 30, "students of a class, each with a tablet")
	every := flag.Duration("every", 20*time.Second, "how often a tablet ticks, on average")
	length := flag.Duration("for", 30*time.Second, "how long")
	flag.Parse()
	if err := run(*walls, *students, *every, *length); err != nil {
		log.Fatal(err)
	}
}

const password = "a long password"

func run(walls, students int, every, length time.Duration) error {
	ctx := context.Background()
	dir, err := os.MkdirTemp("", "zesty-load-")
	if err != nil {
		return err
	}
	defer os.RemoveAll(dir)
	server, err := mariadb.Start(ctx, dir)
	if err != nil {
		return err
	}
	defer server.Stop()
	db, err := store.Open(ctx, server.DSN())
	if err != nil {
		return err
	}
	defer db.Close()
	done := make(chan struct{})
	routes, err := web.New(db, slog.New(slog.NewTextHandler(os.Stderr, nil)), web.Options{Done: done})
	if err != nil {
		return err
	}
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return err
	}
	site := &http.Server{Handler: routes}
	go site.Serve(l)
	defer site.Close()
	base := "http://" + l.Addr().String()
	rooms, err := fill(ctx, db, walls, students)
	if err != nil {
		return err
	}
	for i := range rooms { // before the lesson: signing in is slow on purpose
		rooms[i].teacher = addresses()
		ask(ctx, rooms[i].teacher, &times{by: map[string][]time.Duration{}}, "", http.MethodPost, base+"/signin", url.Values{"email": {rooms[i].email}, "password": {password}})
	}
	fmt.Printf("%d walls, %d tablets, a tick every %s each, for %s, on %d cores\n", walls, walls*students, every, length, runtime.GOMAXPROCS(0))
	t := &times{by: map[string][]time.Duration{}}
	ending, stop := context.WithTimeout(ctx, length)
	defer stop()
	var all sync.WaitGroup
	for _, r := range rooms {
		all.Go(func() { r.wall(ending, base, t) })
		for _, link := range r.links {
			all.Go(func() { tablet(ending, base, link, r.labels, every, t) })
		}
	}
	all.Wait()
	close(done)
	t.print()
	return nil
}

// room is one class at work.
type room struct {
	email   string
	teacher *http.Client
	project uint64
	links   []string
	labels  []string
}

func fill(ctx context.Context, db *store.Store, walls, students int) (rooms []room, err error) {
	plan, err := grid.Make(grid.Request{Reference: "7x9in", Scale: "1.5", ReferenceSquare: "1in"})
	if err != nil {
		return nil, err
	}
	text, err := grid.Encode(plan)
	if err != nil {
		return nil, err
	}
	var labels []string
	for _, c := range plan.Cells() {
		labels = append(labels, c.Label)
	}
	for i := range walls {
		r := room{email: fmt.Sprintf("t%d@load.example", i), labels: labels}
		teacher, err := db.AddTeacher(ctx, "Load", r.email, "T", password)
		if err != nil {
			return nil, err
		}
		class, err := db.AddClass(ctx, teacher.ID, "C")
		if err != nil {
			return nil, err
		}
		var names []string
		for s := range students {
			names = append(names, fmt.Sprintf("S%02d", s))
		}
		if err := db.AddStudents(ctx, teacher.ID, class.ID, names); err != nil {
			return nil, err
		}
		if class, err = db.Class(ctx, teacher.ID, class.ID); err != nil {
			return nil, err
		}
		p := store.Project{TeacherID: teacher.ID, ClassID: &class.ID, Name: "P", Looseness: accuracy.Normal}
		if err := db.AddProject(ctx, &p); err != nil {
			return nil, err
		}
		if _, err := db.SavePlan(ctx, teacher.ID, p.ID, 0, "P", string(text), nil, nil); err != nil {
			return nil, err
		}
		r.project = p.ID
		for _, s := range class.Students {
			link, err := db.Link(ctx, p, s.ID)
			if err != nil {
				return nil, err
			}
			r.links = append(r.links, link)
		}
		rooms = append(rooms, r)
	}
	return rooms, nil
}

// addresses gives every client one of its own on loopback, as a class has.
var addresses = func() func() *http.Client {
	var mu sync.Mutex
	n := 0
	return func() *http.Client {
		mu.Lock()
		n++
		ip := net.IPv4(127, byte(1+n/60000), byte(n/250%240), byte(1+n%250))
		mu.Unlock()
		jar, _ := cookiejar.New(nil) // fails never without options
		dialer := &net.Dialer{LocalAddr: &net.TCPAddr{IP: ip}}
		return &http.Client{Jar: jar, Transport: &http.Transport{DialContext: dialer.DialContext, MaxIdleConnsPerHost: 2},
			CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }}
	}
}()

// ask does one request and notes how long it took.
func ask(ctx context.Context, c *http.Client, t *times, what, method, address string, form url.Values) {
	var body io.Reader
	if form != nil {
		body = strings.NewReader(form.Encode())
	}
	r, err := http.NewRequestWithContext(ctx, method, address, body)
	if err != nil {
		return
	}
	r.Header.Set("HX-Request", "true")
	if form != nil {
		r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
	}
	start := time.Now()
	res, err := c.Do(r)
	if err == nil {
		_, err = io.Copy(io.Discard, res.Body)
		res.Body.Close()
	}
	if ctx.Err() != nil {
		return // the measuring ended, not the server
	}
	t.add(what, time.Since(start), err == nil && res.StatusCode < 400)
}

// openWithin is how long all walls take to be opened.
const openWithin = 10 * time.Second

// wall opens a wall, listens, and fetches the tiles that change.
func (r room) wall(ctx context.Context, base string, t *times) {
	c := r.teacher
	page := fmt.Sprintf("%s/projects/%d/wall", base, r.project)
	time.Sleep(time.Duration(rand.Float64() * float64(openWithin))) // lessons begin together, hands do not
	ask(ctx, c, t, "a wall", http.MethodGet, page, nil)
	req, err := http.NewRequestWithContext(ctx, http.MethodGet, page+"/live", nil)
	if err != nil {
		return
	}
	res, err := c.Do(req)
	if err != nil {
		return
	}
	defer res.Body.Close()
	changed := make(chan string, 1000)
	go func() {
		defer close(changed)
		for lines := bufio.NewScanner(res.Body); lines.Scan(); {
			if id, ok := strings.CutPrefix(lines.Text(), "data: "); ok && id != "" {
				changed <- id
			}
		}
	}()
	for id := range changed {
		time.Sleep(400 * time.Millisecond) // as wall.js does
		q := url.Values{"student": {id}}
		for len(changed) > 0 {
			q.Add("student", <-changed)
		}
		ask(ctx, c, t, "tiles that changed", http.MethodGet, page+"/tiles?"+q.Encode(), nil)
	}
}

// tablet opens a student's page and ticks box after box.
func tablet(ctx context.Context, base, link string, labels []string, every time.Duration, t *times) {
	c := addresses()
	wait := func(d time.Duration) bool {
		select {
		case <-ctx.Done():
			return false
		case <-time.After(d):
			return true
		}
	}
	if !wait(time.Duration(rand.Float64() * float64(every))) {
		return
	}
	ask(ctx, c, t, "a tablet's page", http.MethodGet, base+"/s/"+link, nil)
	for _, label := range labels {
		if !wait(time.Duration((0.5 + rand.Float64()) * float64(every))) {
			return
		}
		ask(ctx, c, t, "a tick", http.MethodPost, base+"/s/"+link+"/ticks", url.Values{"label": {label}, "on": {"1"}})
	}
}

func (t *times) print() {
	for what, list := range t.by {
		slices.Sort(list)
		at := func(share float64) time.Duration {
			return list[min(len(list)-1, int(share*float64(len(list))))].Round(100 * time.Microsecond)
		}
		fmt.Printf("%-20s %6d answers, half in %v, 99 %% in %v, the slowest %v\n", what, len(list), at(0.5), at(0.99), list[len(list)-1].Round(time.Millisecond))
	}
	fmt.Println(t.failed, "failed")
}
