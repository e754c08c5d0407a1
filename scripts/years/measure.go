package main

import (
	"context"
	"database/sql"
	"fmt"
	"io"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"net/url"
	"os"
	"path/filepath"
	"runtime"
	"runtime/pprof"
	"slices"
	"strings"
	"time"

	"zestysketch/internal/backup"
	"zestysketch/internal/mariadb"
	"zestysketch/internal/store"
	"zestysketch/internal/web"
)

// asked is how often each page is asked for: the hundredth part of it is the 99th
// percentile.
const asked = 300

// first is how many requests open everything once, which is told apart: a wall looks
// at its picture then.
const first = teachers * projects

func measure(ctx context.Context, db *store.Store, n size, dsn string) error {
	if err := pages(db, n); err != nil || n.only != "" {
		return err
	}
	file, sum, err := backedUp(ctx, dsn)
	if err != nil {
		return err
	}
	defer os.RemoveAll(filepath.Dir(file))
	if err := restored(ctx, file, sum); err != nil {
		return err
	}
	began := time.Now()
	const who = classes*students - 3
	if err := db.ForgetStudent(ctx, teachers, who); err != nil {
		return err
	}
	fmt.Printf("forgetting a student: %v\n", time.Since(began).Round(time.Millisecond))
	return nil
}

// pages asks for pages as each of the teachers in turn.
func pages(db *store.Store, n size) error {
	routes, err := web.New(db, slog.New(slog.NewTextHandler(io.Discard, nil)), web.Options{})
	if err != nil {
		return err
	}
	var in [teachers]*http.Cookie
	for i := range in {
		form := url.Values{"email": {fmt.Sprintf("t%d@quay.example", i+1)}, "password": {password}}
		r := httptest.NewRequest("POST", "/signin", strings.NewReader(form.Encode()))
		r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
		w := httptest.NewRecorder()
		routes.ServeHTTP(w, r)
		cookies := w.Result().Cookies() // the session's, and that of a browser that is known now
		at := slices.IndexFunc(cookies, func(c *http.Cookie) bool { return c.Name == "zesty" })
		if at < 0 {
			return fmt.Errorf("signing in: %d", w.Code)
		}
		in[i] = cookies[at]
	}
	if n.profile != "" {
		f, err := os.Create(n.profile)
		if err != nil {
			return err
		}
		defer f.Close()
		if err := pprof.StartCPUProfile(f); err != nil {
			return err
		}
		defer pprof.StopCPUProfile()
	}
	all := []string{"/", "/classes", "/library", "/search?q=harbour", "/search?q=Student+17", "/projects/P/wall", "/projects/P/check", "/projects/P/log", "/shelf", "/school/people", "/school/deeds"}
	if n.only != "" {
		all = []string{n.only}
	}
	for _, page := range all {
		var took []time.Duration
		for i := range first + asked {
			teacher := i % teachers
			if strings.HasPrefix(page, "/school") {
				teacher = 0 // who looks after it
			}
			project := (classes-teachers+teacher)*projects + i/teachers%projects + 1 // of this year's class
			r := httptest.NewRequest("GET", strings.Replace(page, "P", fmt.Sprint(project), 1), nil)
			r.AddCookie(in[teacher])
			w := httptest.NewRecorder()
			began := time.Now()
			routes.ServeHTTP(w, r)
			took = append(took, time.Since(began))
			if w.Code != http.StatusOK {
				return fmt.Errorf("%s: %d", r.URL, w.Code)
			}
		}
		once, again := took[:first], took[first:]
		slices.Sort(once)
		slices.Sort(again)
		fmt.Printf("%-24s half within %5.1f ms, 99 of 100 within %5.1f ms; the first time %5.1f and %5.1f ms\n", page, share(again, 50), share(again, 99), share(once, 50), share(once, 99))
	}
	return nil
}

// share returns within how many milliseconds so many of a hundred were answered.
func share(sorted []time.Duration, of100 int) float64 {
	return float64(sorted[(len(sorted)*of100+99)/100-1].Microseconds()) / 1000
}

// backedUp backs up, and returns the file with its sums of every table.
func backedUp(ctx context.Context, dsn string) (file string, sum map[string]string, err error) {
	dir, err := os.MkdirTemp("", "zesty-years-backup-")
	if err != nil {
		return "", nil, err
	}
	f, err := os.Create(filepath.Join(dir, "years.backup"))
	if err != nil {
		return "", nil, err
	}
	done, peak := make(chan struct{}), make(chan uint64)
	go watch(done, peak)
	began := time.Now()
	if _, err = backup.Write(ctx, dsn, f); err == nil {
		err = f.Close()
	}
	took := time.Since(began)
	close(done)
	most := <-peak
	if err != nil {
		return "", nil, err
	}
	info, err := os.Stat(f.Name())
	if err != nil {
		return "", nil, err
	}
	fmt.Printf("backup: %d MB in %.1f s, %.0f MB/s, memory of the Go program at most %d MB\n", info.Size()>>20, took.Seconds(), float64(info.Size())/1e6/took.Seconds(), most>>20)
	sum, err = sums(ctx, dsn)
	return f.Name(), sum, err
}

// watch returns the most memory that the program has from the system, until done.
func watch(done <-chan struct{}, peak chan<- uint64) {
	runtime.GC()
	var most uint64
	for {
		var m runtime.MemStats
		runtime.ReadMemStats(&m)
		most = max(most, m.Sys-m.HeapReleased)
		select {
		case <-done:
			peak <- most
			return
		case <-time.After(20 * time.Millisecond):
		}
	}
}

// sums returns MariaDB's own checksum of the rows of every table.
func sums(ctx context.Context, dsn string) (map[string]string, error) {
	raw, err := sql.Open("mysql", dsn)
	if err != nil {
		return nil, err
	}
	defer raw.Close()
	rows, err := raw.QueryContext(ctx, "SELECT table_name FROM information_schema.tables WHERE table_schema = DATABASE()")
	if err != nil {
		return nil, err
	}
	var names []string
	for rows.Next() {
		var name string
		if err := rows.Scan(&name); err != nil {
			return nil, err
		}
		names = append(names, name)
	}
	by := map[string]string{}
	for _, name := range names {
		var table, sum string
		if err := raw.QueryRowContext(ctx, "CHECKSUM TABLE `"+name+"` EXTENDED").Scan(&table, &sum); err != nil {
			return nil, err
		}
		by[name] = sum
	}
	return by, rows.Err()
}

// restored reads the backup into another server and compares every table.
func restored(ctx context.Context, file string, want map[string]string) error {
	dir, err := os.MkdirTemp("", "zesty-years-again-")
	if err != nil {
		return err
	}
	defer os.RemoveAll(dir)
	server, err := mariadb.Start(ctx, dir)
	if err != nil {
		return err
	}
	defer server.Stop()
	began := time.Now()
	if _, err := backup.Restore(ctx, server.DSN(), func() (io.ReadCloser, error) { return os.Open(file) }, nil); err != nil {
		return err
	}
	took := time.Since(began)
	got, err := sums(ctx, server.DSN())
	if err != nil {
		return err
	}
	// Who is signed in, and what is under way, is not of the past.
	passing := []string{"sessions", "sign_ins", "changes"}
	equal, unlike := 0, []string{}
	for name, sum := range want {
		switch {
		case got[name] == sum:
			equal++
		case !slices.Contains(passing, name):
			unlike = append(unlike, name)
		}
	}
	fmt.Printf("restore: %.1f s; %d tables equal row by row, unlike: %v\n", took.Seconds(), equal, unlike)
	return nil
}
