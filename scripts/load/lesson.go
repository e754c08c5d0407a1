package main

import (
	"bufio"
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"maps"
	"math/rand/v2"
	"mime/multipart"
	"net/http"
	"net/url"
	"os"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"sync"
	"time"

	"zestysketch/internal/demo"
	"zestysketch/internal/store"
	"zestysketch/internal/trial"
)

// lesson is everybody at work, and how long they waited.
type lesson struct {
	options
	base   string
	labels []string
	times
}

// times gathers how long answers took, by what was asked.
type times struct {
	mu     sync.Mutex
	by     map[string][]time.Duration
	failed map[string]int // by what came instead
}

// add notes an answer; failed says what came instead of one.
func (t *times) add(what string, took time.Duration, failed string) {
	t.mu.Lock()
	defer t.mu.Unlock()
	if failed != "" {
		if t.failed == nil {
			t.failed = map[string]int{}
		}
		t.failed[what+": "+failed]++
		return
	}
	t.by[what] = append(t.by[what], took)
}

func (t *times) print() {
	for _, what := range slices.Sorted(func(yield func(string) bool) {
		for what := range t.by {
			if !yield(what) {
				return
			}
		}
	}) {
		list := t.by[what]
		slices.Sort(list)
		at := func(share float64) time.Duration {
			return list[min(len(list)-1, int(share*float64(len(list))))].Round(100 * time.Microsecond)
		}
		fmt.Printf("%-34s %6d answers, half in %v, 99 %% in %v, the slowest %v\n", what, len(list), at(0.5), at(0.99), list[len(list)-1].Round(time.Millisecond))
	}
	all := 0
	for _, what := range slices.Sorted(maps.Keys(t.failed)) {
		fmt.Println(t.failed[what], "failed,", what)
		all += t.failed[what]
	}
	fmt.Println(all, "failed")
}

// ask does one request and notes how long it took.
func (l *lesson) ask(ctx context.Context, c *http.Client, what, method, path, kind string, body []byte) {
	r, err := http.NewRequestWithContext(ctx, method, l.base+path, bytes.NewReader(body))
	if err != nil {
		return
	}
	r.Header.Set("HX-Request", "true")
	if kind != "" {
		r.Header.Set("Content-Type", kind)
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
	l.add(what, time.Since(start), failure(res, err))
}

// failure says what came instead of an answer, empty where one came.
func failure(res *http.Response, err error) string {
	var asked *url.Error // whose words name the address: one kind each
	switch {
	case errors.As(err, &asked):
		return asked.Err.Error()
	case err != nil:
		return err.Error()
	case res.StatusCode >= 400:
		return res.Status
	}
	return ""
}

// openWithin is how long all take to open their pages.
const openWithin = 10 * time.Second

// wait waits for a while; false where the lesson ended.
func wait(ctx context.Context, d time.Duration) bool {
	select {
	case <-ctx.Done():
		return false
	case <-time.After(d):
		return true
	}
}

func within(d time.Duration) time.Duration { return time.Duration(rand.Float64() * float64(d)) }

// wall opens a wall, listens, and fetches the tiles that change.
func (l *lesson) wall(ctx context.Context, c trial.Class) {
	page := fmt.Sprintf("/projects/%d/wall", c.Project)
	if !wait(ctx, within(openWithin)) { // lessons begin together, hands do not
		return
	}
	l.ask(ctx, c.Browser, "a wall, as all open", http.MethodGet, page, "", nil)
	req, err := http.NewRequestWithContext(ctx, http.MethodGet, l.base+page+"/live", nil)
	if err != nil {
		return
	}
	listening := *c.Browser
	listening.Timeout = 0
	res, err := listening.Do(req)
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
		l.ask(ctx, c.Browser, "tiles that changed", http.MethodGet, page+"/tiles?"+q.Encode(), "", nil)
	}
}

// tablet opens a student's page and ticks box after box.
func (l *lesson) tablet(ctx context.Context, link string) {
	c := trial.Client(20 * time.Second)
	if !wait(ctx, within(openWithin)) {
		return
	}
	l.ask(ctx, c, "a tablet's page, as all open", http.MethodGet, "/s/"+link, "", nil)
	for _, label := range l.labels {
		if !wait(ctx, time.Duration((0.5+rand.Float64())*float64(l.every))) {
			return
		}
		what := "a tick"
		if l.busy() {
			what = "a tick, while photos are measured"
		}
		l.ask(ctx, c, what, http.MethodPost, "/s/"+link+"/ticks", "application/x-www-form-urlencoded", []byte("on=1&label="+label))
	}
}

// shot is a photo with whose it is.
type shot struct {
	class *trial.Class
	photo []byte
}

// photographs draws and photographs drawings with corner tags, one of each class in
// turn, of 12 megapixels.
func photographs(classes []trial.Class, n int) (all []shot, err error) {
	scene, plan, err := demo.HarbourLight()
	if err != nil {
		return nil, err
	}
	for i := range n {
		c := &classes[i%len(classes)]
		made, err := demo.Photograph(plan, scene, demo.Hand{Size: 1, PencilWeight: 1, Unsteady: 0.2}, demo.Camera{Width: 3000, Height: 4000, Dim: 0.3, Noise: 3},
			c.Project, c.Students[i/len(classes)%len(c.Students)], 0.03, rand.New(rand.NewPCG(uint64(i), 9)))
		if err != nil {
			return nil, err
		}
		all = append(all, shot{c, made.Photo})
	}
	return all, nil
}

// photosFrom is when photos begin to be handed in, and photosWithin how long that goes on.
const photosFrom, photosWithin = 15 * time.Second, time.Minute

var began = time.Now()

// busy reports whether photos are being handed in or measured, about.
func (l *lesson) busy() bool { return l.photos > 0 && time.Since(began) > photosFrom }

// handIn hands photos in, within a minute or what is left of the lesson.
func (l *lesson) handIn(ctx context.Context, shots []shot) {
	began = time.Now()
	if len(shots) == 0 || !wait(ctx, photosFrom) {
		return
	}
	each := min(photosWithin, l.length-photosFrom-time.Second) / time.Duration(len(shots))
	for _, s := range shots {
		var form bytes.Buffer
		w := multipart.NewWriter(&form)
		w.WriteField("many", "1")
		part, _ := w.CreateFormFile("photo", "photo.jpg") // to memory: cannot fail
		part.Write(s.photo)
		w.Close()
		l.ask(ctx, s.class.Browser, "a photo handed in", http.MethodPost, fmt.Sprintf("/projects/%d/check", s.class.Project), w.FormDataContentType(), form.Bytes())
		if !wait(ctx, each) {
			return
		}
	}
}

// measured waits until no photo waits, two minutes at most, and says how long after the
// last one was handed in that was, and how many are measured.
func measured(ctx context.Context, db *store.Store, photos int) error {
	if photos == 0 {
		return nil
	}
	pool, err := db.Pool()
	if err != nil {
		return err
	}
	var first, last time.Time
	for until := time.Now().Add(2 * time.Minute); time.Now().Before(until); time.Sleep(200 * time.Millisecond) {
		if waiting, err := db.Waiting(ctx); err != nil {
			return err
		} else if waiting == 0 {
			break
		}
	}
	var done, failed int
	err = pool.QueryRowContext(ctx, "SELECT SUM(state = 'done'), SUM(state <> 'done'), MIN(created_at), MAX(created_at) FROM jobs WHERE kind = 'photo'").Scan(&done, &failed, &first, &last)
	if err != nil {
		return err
	}
	var ended time.Time
	if err := pool.QueryRowContext(ctx, "SELECT MAX(created_at) FROM changes WHERE job_id > 0").Scan(&ended); err != nil {
		return err
	}
	fmt.Printf("photos: %d handed in within %v, %d measured, %d not; the last was measured %v after it was handed in\n",
		done+failed, last.Sub(first).Round(time.Second), done, failed, ended.Sub(last).Round(100*time.Millisecond))
	return nil
}

// mostMemory is what a process and those that it started held at most, in kB; its
// database not (VmHWM and children, proc(5)).
func mostMemory(pid int) (kB int) {
	status, err := os.ReadFile(fmt.Sprintf("/proc/%d/status", pid))
	if err != nil || strings.HasPrefix(string(status), "Name:\tmariadbd") {
		return 0
	}
	for line := range strings.Lines(string(status)) {
		if rest, ok := strings.CutPrefix(line, "VmHWM:"); ok {
			fmt.Sscan(rest, &kB)
		}
	}
	lists, _ := filepath.Glob(fmt.Sprintf("/proc/%d/task/*/children", pid))
	for _, list := range lists {
		children, err := os.ReadFile(list)
		if err != nil {
			continue // the thread has ended
		}
		for _, child := range strings.Fields(string(children)) {
			if id, err := strconv.Atoi(child); err == nil {
				kB += mostMemory(id)
			}
		}
	}
	return kB
}
