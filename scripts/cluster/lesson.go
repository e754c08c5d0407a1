package main

import (
	"bufio"
	"bytes"
	"context"
	"database/sql"
	"encoding/binary"
	"errors"
	"fmt"
	"image"
	"image/color"
	"image/jpeg"
	"io"
	"math/rand/v2"
	"mime/multipart"
	"net/http"
	"net/url"
	"os"
	"slices"
	"strings"
	"sync"
	"time"

	"zestysketch/internal/store"
	"zestysketch/internal/trial"
)

// lesson is what was sent, and what of it was confirmed.
type lesson struct {
	*house
	options
	classes []trial.Class
	labels  []string

	mu     sync.Mutex
	ticks  map[string]bool // project, student, label
	notes  map[string]bool
	photos int
	waits  []time.Duration
	last   time.Time // when a tick was confirmed last
	result
}

// run builds the house, holds the lesson, and counts.
func run(ctx context.Context, o options) (result, error) {
	h, err := build(ctx, o.from)
	if err != nil {
		return result{}, err
	}
	l := &lesson{house: h, options: o, ticks: map[string]bool{}, notes: map[string]bool{}}
	err = l.fill(ctx)
	if err == nil {
		err = l.hold(ctx)
	}
	if err == nil {
		err = l.count(ctx)
	}
	for i, c := range h.copies {
		if b, readErr := os.ReadFile(c.Log); readErr == nil {
			for line := range strings.Lines(string(b)) {
				if strings.Contains(line, "level=ERROR") && !strings.Contains(line, "the database is away") && !l.olderWorker(line) {
					l.stray = append(l.stray, fmt.Sprintf("copy %d logged: %s", i, strings.TrimSpace(line)))
				}
			}
		}
	}
	return l.result, errors.Join(err, h.close())
}

func (l *lesson) fill(ctx context.Context) error {
	db, err := store.Open(ctx, l.nodes.DSN(0))
	if err != nil {
		return err
	}
	defer db.Close()
	if l.classes, l.labels, err = trial.School(ctx, db, l.options.classes, l.students); err != nil {
		return err
	}
	for i := range l.classes {
		if err := l.classes[i].SignIn("http://" + l.addr); err != nil {
			return err
		}
	}
	return nil
}

// hold lets everybody work while nodes and copies are killed.
func (l *lesson) hold(ctx context.Context) error {
	ending, stop := context.WithTimeout(ctx, l.length)
	defer stop()
	var all sync.WaitGroup
	for _, c := range l.classes {
		all.Go(func() { l.wall(ending, c) })
		all.Go(func() { l.writes(ending, c) })
		for i, link := range c.Links {
			all.Go(func() { l.tablet(ending, c, c.Students[i], link) })
		}
	}
	all.Go(func() { l.photographs(ending, l.classes[0]) })
	if l.from != "" {
		if err := l.exchanges(); err != nil {
			return err
		}
	}
	if l.kill {
		if err := l.kills(ctx); err != nil {
			return err
		}
	}
	all.Wait()
	return nil
}

// olderWorker reports whether a line says that the worker of an earlier commit found tables that are today's: jobs are for
// today's copies then.
func (l *lesson) olderWorker(line string) bool {
	return l.from != "" && strings.Contains(line, "the worker ended and is started again")
}

// exchanges stops each copy in order and starts today's program in its place.
func (l *lesson) exchanges() error {
	for i, c := range l.copies {
		time.Sleep(l.length / 5)
		err := l.killed(fmt.Sprintf("copy %d of %s in order, for one of today", i, l.from), func() error {
			c.Stop()
			return l.start(i)
		})
		if err == nil {
			err = c.Ready()
		}
		if err != nil {
			return err
		}
	}
	return nil
}

// kills kills the first copy's node, then another copy, and starts both again.
func (l *lesson) kills(ctx context.Context) error {
	pause := func(share float64) { time.Sleep(time.Duration(share * float64(l.length))) }
	pause(0.2)
	node := l.nodes.Nodes[0]
	if err := l.killed("a node", node.Kill); err != nil {
		return err
	}
	pause(0.15)
	second := l.copies[1]
	if err := l.killed("a copy", second.Kill); err != nil {
		return err
	}
	pause(0.1)
	return errors.Join(l.start(1), l.nodes.Start(ctx, node))
}

// killed kills something and notes when ticks of every class went on.
func (l *lesson) killed(what string, kill func() error) error {
	at := time.Now()
	if err := kill(); err != nil {
		return err
	}
	for time.Since(at) < 20*time.Second {
		time.Sleep(20 * time.Millisecond)
		l.mu.Lock()
		on := l.last.After(at.Add(50 * time.Millisecond))
		l.mu.Unlock()
		if on {
			break
		}
	}
	l.recovered = append(l.recovered, fmt.Sprintf("%s: the next tick was confirmed after %v", what, time.Since(at).Round(10*time.Millisecond)))
	return nil
}

// send sends a form once and notes how long it took: confirmed, or to be sent again.
func (l *lesson) send(c *http.Client, path, kind string, body []byte) bool {
	r, err := http.NewRequest(http.MethodPost, "http://"+l.addr+path, bytes.NewReader(body))
	if err != nil {
		return false
	}
	r.Header.Set("Content-Type", kind)
	r.Header.Set("HX-Request", "true") // as the pages' scripts ask: nothing is waited for
	began := time.Now()
	res, err := c.Do(r)
	took := time.Since(began)
	l.mu.Lock()
	defer l.mu.Unlock()
	l.waits = append(l.waits, took)
	if err != nil {
		l.told++ // the copy died in the middle: nothing was confirmed
		return false
	}
	defer res.Body.Close()
	text, _ := io.ReadAll(res.Body)
	switch {
	case res.StatusCode < 400:
		return true
	case res.StatusCode == http.StatusServiceUnavailable || res.StatusCode == http.StatusBadGateway || res.StatusCode == http.StatusGatewayTimeout:
		l.told++
	default:
		l.broken++
		l.stray = append(l.stray, fmt.Sprintf("%s answers %s: %.200s", path, res.Status, text))
	}
	return false
}

// again sends something until it is confirmed; when the lesson is over it is given up
// after a while.
func (l *lesson) again(ctx context.Context, send func() bool) bool {
	for over := 0; over < 15; time.Sleep(time.Second) {
		if send() {
			return true
		}
		if ctx.Err() != nil {
			over++
		}
	}
	return false
}

const plainForm = "application/x-www-form-urlencoded"

// tablet ticks box after box, each again until it is confirmed, as the queue on a
// tablet does.
func (l *lesson) tablet(ctx context.Context, c trial.Class, student uint64, link string) {
	client := trial.Client(20 * time.Second)
	time.Sleep(time.Duration(rand.Int64N(int64(l.every))))
	for _, label := range l.labels {
		if ctx.Err() != nil {
			return
		}
		if !l.again(ctx, func() bool { return l.send(client, "/s/"+link+"/ticks", plainForm, []byte("label="+label+"&on=1")) }) {
			return
		}
		l.mu.Lock()
		l.ticks[fmt.Sprintf("%d %d %s", c.Project, student, label)] = true
		l.last = time.Now()
		l.mu.Unlock()
		time.Sleep(time.Duration((0.5 + rand.Float64()) * float64(l.every)))
	}
}

// writes writes notes, each of which must be there once: what was not confirmed is
// not sent again, for nobody can say what became of it.
func (l *lesson) writes(ctx context.Context, c trial.Class) {
	for i := 0; ctx.Err() == nil; i++ {
		words := fmt.Sprintf("note %d of %d", i, c.Project)
		if l.send(c.Browser, fmt.Sprintf("/projects/%d/students/%d/notes", c.Project, c.Students[i%len(c.Students)]), plainForm, []byte(url.Values{"words": {words}}.Encode())) {
			l.mu.Lock()
			l.notes[words] = true
			l.mu.Unlock()
		}
		time.Sleep(300 * time.Millisecond)
	}
}

// photographs hands photos in, each like no other, again until it is confirmed.
func (l *lesson) photographs(ctx context.Context, c trial.Class) {
	for i := 0; ctx.Err() == nil; i++ {
		body, kind := photo(i, c.Students[i%len(c.Students)])
		if !l.again(ctx, func() bool { return l.send(c.Browser, fmt.Sprintf("/projects/%d/check", c.Project), kind, body) }) {
			return
		}
		l.mu.Lock()
		l.photos++
		l.mu.Unlock()
		time.Sleep(2 * time.Second)
	}
}

// photo is a sheet with a number on it, as a form that hands in one of many.
func photo(number int, student uint64) (body []byte, kind string) {
	img := image.NewGray(image.Rect(0, 0, 600, 800))
	for n := range img.Pix {
		img.Pix[n] = 230
	}
	var bits [8]byte
	binary.BigEndian.PutUint64(bits[:], uint64(number)*0x9e3779b97f4a7c15)
	for n, b := range bits {
		for k := range 400 {
			img.Set(40+60*n+k%20, 400+k/20, color.Gray{Y: b})
		}
	}
	var file, form bytes.Buffer
	jpeg.Encode(&file, img, &jpeg.Options{Quality: 95}) // to memory: cannot fail
	w := multipart.NewWriter(&form)
	w.WriteField("many", "1")
	w.WriteField("student", fmt.Sprint(student))
	part, _ := w.CreateFormFile("photo", fmt.Sprintf("sheet-%d.jpg", number))
	part.Write(file.Bytes())
	w.Close()
	return form.Bytes(), w.FormDataContentType()
}

// wall listens, and opens its line again when it breaks.
func (l *lesson) wall(ctx context.Context, c trial.Class) {
	listening := *c.Browser
	listening.Timeout = 0
	for ctx.Err() == nil {
		r, err := http.NewRequestWithContext(ctx, http.MethodGet, fmt.Sprintf("http://%s/projects/%d/wall/live", l.addr, c.Project), nil)
		if err != nil {
			return
		}
		if res, err := listening.Do(r); err == nil {
			for lines := bufio.NewScanner(res.Body); lines.Scan(); {
				if id, ok := strings.CutPrefix(lines.Text(), "data: "); ok && id != "" {
					l.mu.Lock()
					l.heard++
					l.mu.Unlock()
				}
			}
			res.Body.Close()
		}
		time.Sleep(1500 * time.Millisecond)
	}
}

// count asks a node what is there of all that was confirmed.
func (l *lesson) count(ctx context.Context) error {
	db, err := sql.Open("mysql", l.nodes.Nodes[2].DSN())
	if err != nil {
		return err
	}
	defer db.Close()
	there := map[string]int{}
	read := func(query string) error {
		rows, err := db.QueryContext(ctx, query)
		if err != nil {
			return err
		}
		defer rows.Close()
		for rows.Next() {
			var key string
			if err := rows.Scan(&key); err != nil {
				return err
			}
			there[key]++
		}
		return rows.Err()
	}
	for until := time.Now().Add(time.Minute); time.Now().Before(until); time.Sleep(time.Second) {
		var waiting int
		if err := db.QueryRowContext(ctx, "SELECT COUNT(*) FROM jobs WHERE state IN ('queued', 'running')").Scan(&waiting); err != nil {
			return err
		}
		if waiting == 0 {
			break
		}
	}
	err = errors.Join(read("SELECT CONCAT(project_id, ' ', student_id, ' ', label) FROM ticks"), read("SELECT words FROM notes"))
	var photos, apart int
	err = errors.Join(err, db.QueryRowContext(ctx, "SELECT COUNT(*), COUNT(DISTINCT pictures.hash) FROM check_ins JOIN pictures ON pictures.id = check_ins.picture_id").Scan(&photos, &apart))
	for _, confirmed := range []map[string]bool{l.ticks, l.notes} {
		for key := range confirmed {
			if there[key] == 0 {
				l.lost++
				l.stray = append(l.stray, "lost: "+key)
			}
		}
	}
	for key, n := range there {
		if n > 1 {
			l.doubled += n - 1
			l.stray = append(l.stray, fmt.Sprintf("%d times: %s", n, key))
		}
	}
	l.lost += max(0, l.photos-apart)
	l.doubled += photos - apart
	l.result.ticks, l.result.notes, l.result.photos = len(l.ticks), len(l.notes), l.photos
	slices.Sort(l.waits)
	l.longest, l.half, l.nearly = l.waits[len(l.waits)-1], l.waits[len(l.waits)/2], l.waits[len(l.waits)*99/100]
	return err
}
