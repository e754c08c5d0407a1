// Package watch tells those who look after the machine how the program is: whether
// it can work, how quick it is, how much waits, and how much room the disks have. It
// knows routes and numbers, no people.
package watch

import (
	"context"
	"database/sql"
	"net/http"
	"time"

	"github.com/go-chi/chi/v5"
	"github.com/go-chi/chi/v5/middleware"
	"github.com/prometheus/client_golang/prometheus"
	"github.com/prometheus/client_golang/prometheus/collectors"
	"github.com/prometheus/client_golang/prometheus/promhttp"
)

// Watch gathers what is told. It is safe for use by many goroutines.
type Watch struct {
	registry *prometheus.Registry
	requests *prometheus.HistogramVec
	ready    func(context.Context) error
}

// Asked is what a Watch asks when it is asked itself.
type Asked struct {
	Ready   func(context.Context) error          // whether requests can be answered
	Waiting func(context.Context) (int64, error) // how many jobs wait or are made
	Pool    *sql.DB
	Folders []string // whose disks are watched
}

// askFor is how long each of these may take.
const askFor = 2 * time.Second

// New returns a watch that tells what it is asked for.
func New(a Asked) *Watch {
	w := &Watch{
		registry: prometheus.NewRegistry(),
		requests: prometheus.NewHistogramVec(prometheus.HistogramOpts{
			Name: "zesty_request_seconds", Help: "How long answers took, by route and status.",
			Buckets: []float64{.005, .01, .025, .05, .1, .25, .5, 1, 2.5, 5, 10},
		}, []string{"method", "route", "status"}),
		ready: a.Ready,
	}
	w.registry.MustRegister(w.requests, collectors.NewGoCollector(), collectors.NewProcessCollector(collectors.ProcessCollectorOpts{}),
		collectors.NewDBStatsCollector(a.Pool, "zesty"), waiting(a.Waiting))
	for _, folder := range a.Folders {
		w.registry.MustRegister(prometheus.NewGaugeFunc(prometheus.GaugeOpts{
			Name: "zesty_disk_free_bytes", Help: "Room that is left on the disk of a folder.", ConstLabels: prometheus.Labels{"folder": folder},
		}, func() float64 { return float64(Look(folder).Free) }))
	}
	return w
}

func waiting(count func(context.Context) (int64, error)) prometheus.Collector {
	return prometheus.NewGaugeFunc(prometheus.GaugeOpts{Name: "zesty_jobs_waiting", Help: "Class sets and photos that wait or are at work; -1 where the database is away."}, func() float64 {
		ctx, stop := context.WithTimeout(context.Background(), askFor)
		defer stop()
		n, err := count(ctx)
		if err != nil {
			return -1
		}
		return float64(n)
	})
}

// Requests measures how long answers take. Lines that stay open are not measured.
func (w *Watch) Requests(next http.Handler) http.Handler {
	return http.HandlerFunc(func(out http.ResponseWriter, r *http.Request) {
		began := time.Now()
		answer := middleware.NewWrapResponseWriter(out, r.ProtoMajor)
		next.ServeHTTP(answer, r)
		if answer.Header().Get("Content-Type") == "text/event-stream" {
			return
		}
		route := "none"
		if c := chi.RouteContext(r.Context()); c != nil && c.RoutePattern() != "" {
			route = c.RoutePattern() // what stands in its braces may be somebody's link
		}
		status := "2xx"
		switch s := answer.Status(); {
		case s >= 500:
			status = "5xx"
		case s >= 400:
			status = "4xx"
		case s >= 300:
			status = "3xx"
		}
		w.requests.WithLabelValues(r.Method, route, status).Observe(time.Since(began).Seconds())
	})
}

// Handler answers /metrics (the Prometheus text format), /healthz and /readyz, for
// an address that only the machine's own people reach.
func (w *Watch) Handler() http.Handler {
	r := chi.NewRouter()
	r.Get("/metrics", promhttp.HandlerFor(w.registry, promhttp.HandlerOpts{}).ServeHTTP)
	r.Get("/healthz", Healthy)
	r.Get("/readyz", w.Ready)
	return r
}

// Healthy answers that the program runs.
func Healthy(out http.ResponseWriter, _ *http.Request) { say(out, http.StatusOK, "alive") }

// Ready answers whether the program can work now; 503 where its database is away.
func (w *Watch) Ready(out http.ResponseWriter, r *http.Request) {
	ctx, stop := context.WithTimeout(r.Context(), askFor)
	defer stop()
	if err := w.ready(ctx); err != nil {
		say(out, http.StatusServiceUnavailable, "the database is away")
		return
	}
	say(out, http.StatusOK, "ready")
}

func say(out http.ResponseWriter, status int, words string) {
	out.Header().Set("Content-Type", "text/plain; charset=utf-8")
	out.Header().Set("Cache-Control", "no-store")
	out.WriteHeader(status)
	out.Write([]byte(words + "\n"))
}
