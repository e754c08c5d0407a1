package watch

import (
	"context"
	"database/sql"
	"errors"
	"net/http"
	"net/http/httptest"
	"strings"
	"sync/atomic"
	"testing"

	"github.com/go-chi/chi/v5"
	_ "github.com/go-sql-driver/mysql"
)

// What is told is of routes, never of what stands in them; the database that is away
// makes the program not ready, and alive all the same.
func TestTells(t *testing.T) {
	pool, err := sql.Open("mysql", "nobody@tcp(127.0.0.1:1)/nothing")
	if err != nil {
		t.Fatal(err)
	}
	defer pool.Close()
	var away atomic.Bool
	w := New(Asked{Ready: func(context.Context) error {
		if away.Load() {
			return errors.New("away")
		}
		return nil
	}, Waiting: func(context.Context) (int64, error) { return 7, nil }, Pool: pool, Folders: []string{t.TempDir()}})
	site := chi.NewRouter()
	site.Use(w.Requests)
	site.Get("/s/{link}", func(out http.ResponseWriter, _ *http.Request) { out.WriteHeader(http.StatusTeapot) })
	site.ServeHTTP(httptest.NewRecorder(), httptest.NewRequest("GET", "/s/averysecretlink", nil))
	site.ServeHTTP(httptest.NewRecorder(), httptest.NewRequest("GET", "/nowhere/averysecretlink", nil))
	ask := func(path string) (int, string) {
		out := httptest.NewRecorder()
		w.Handler().ServeHTTP(out, httptest.NewRequest("GET", path, nil))
		return out.Code, out.Body.String()
	}
	_, metrics := ask("/metrics")
	for _, want := range []string{`zesty_request_seconds_count{method="GET",route="/s/{link}",status="4xx"} 1`, "zesty_jobs_waiting 7", "zesty_disk_free_bytes", "go_goroutines"} {
		if !strings.Contains(metrics, want) {
			t.Errorf("metrics lack %s", want)
		}
	}
	if strings.Contains(metrics, "averysecretlink") {
		t.Error("metrics tell a link")
	}
	for _, now := range []struct {
		away bool
		want int
	}{{false, 200}, {true, 503}, {false, 200}} {
		away.Store(now.away)
		if code, _ := ask("/readyz"); code != now.want {
			t.Errorf("away %v: ready answers %d; want %d", now.away, code, now.want)
		}
		if code, _ := ask("/healthz"); code != 200 {
			t.Errorf("away %v: health answers %d", now.away, code)
		}
	}
}

func TestNearlyFull(t *testing.T) {
	for _, c := range []struct {
		d    Disk
		want bool
	}{
		{Disk{"a", 1 << 30, 100 << 30}, true},
		{Disk{"a", 1 << 30, 4 << 30}, false},
		{Disk{"a", 50 << 30, 1000 << 30}, false},
		{Disk{}, false},
	} {
		if got := c.d.NearlyFull(); got != c.want {
			t.Errorf("%+v: %v; want %v", c.d, got, c.want)
		}
	}
	if d := Look(t.TempDir()); d.Total == 0 || d.Free > d.Total {
		t.Errorf("a real folder: %+v", d)
	}
	if d := Look("/no/such/folder"); d.Total != 0 {
		t.Errorf("no folder: %+v", d)
	}
}
