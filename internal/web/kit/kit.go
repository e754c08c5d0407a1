// Package kit is what every area of the interface shares: pages, errors, the
// signed-in teacher and the reading of forms. It holds no rule of the craft.
package kit

import (
	"crypto/sha256"
	"image"
	"log/slog"
	"net/http"
	"strconv"
	"strings"
	"sync/atomic"
	"time"

	"github.com/alexedwards/scs/v2"
	"github.com/go-chi/chi/v5"
	lru "github.com/hashicorp/golang-lru/v2"

	"zestysketch/internal/identity"
	"zestysketch/internal/room"
	"zestysketch/internal/store"
	"zestysketch/internal/watch"
)

// Kit is what handlers need.
type Kit struct {
	Store    *store.Store
	Sessions *scs.SessionManager
	Log      *slog.Logger
	Rooms    *room.Reader
	Done     <-chan struct{}     // closed when the server is stopping: long answers end
	Proxies  Proxies             // that are believed
	Disks    func() []watch.Disk // that must not be full; nil for none
	// Certificate says what is wrong with it for a host; nil where it is another's.
	Certificate func(host string, now time.Time) string
	SignIns     *Guard // by account and by address
	Links       *Guard // by address
	Tablets     *Tablets
	Codes       *Guard // of second steps, by account or by a browser that is known
	Accounts    *identity.Providers

	Destinations []Destination // sums that search finds, as their area gives them

	measured   *lru.Cache[uint64, *image.RGBA] // by picture
	framed     *lru.Cache[string, *image.RGBA] // by picture, frame and sheet
	madeFramed atomic.Int64                    // when one was made for what is only nice to have, in nanoseconds
	lately     lately
	hub        *hub
	reckoned   reckoned
}

// Destination is a page that search finds: its name, what it is about, and its address.
type Destination struct{ Name, What, Path string }

// mostMeasured pictures stay decoded, each of about 2.5 MB, and mostFramed as
// their sheets show them, each of about 5 MB.
const mostMeasured, mostFramed = 16, 8

// New returns a kit on a store.
func New(s *store.Store, sessions *scs.SessionManager, log *slog.Logger) (*Kit, error) {
	measured, err := lru.New[uint64, *image.RGBA](mostMeasured)
	if err != nil {
		return nil, err
	}
	framed, err := lru.New[string, *image.RGBA](mostFramed)
	if err != nil {
		return nil, err
	}
	done, err := lru.New[string, time.Time](mostLately)
	if err != nil {
		return nil, err
	}
	kept, err := lru.New[[sha256.Size]byte, any](mostReckoned)
	if err != nil {
		return nil, err
	}
	k := &Kit{Accounts: &identity.Providers{}, reckoned: reckoned{kept}, Tablets: newTablets(), hub: newHub(s), lately: lately{done},
		Codes:   Strictly(s, store.Limit{Burst: 5, Each: 12 * time.Second}),
		SignIns: NewGuard(s, store.Limit{Burst: 10, Each: time.Minute}),
		Links:   NewGuard(s, store.Limit{Burst: 60, Each: 5 * time.Second}), Store: s, Sessions: sessions, Log: log,
		measured: measured, framed: framed}
	k.Rooms = room.NewReader(s, k.Pixels)
	return k, nil
}

// Handler answers a request or says why not.
type Handler func(w http.ResponseWriter, r *http.Request) error

func (t Trouble) Error() string { return t.Message }

// Handle turns a Handler into an http.HandlerFunc: errors become pages, or for
// htmx a fragment in the page's error place.
func (k *Kit) Handle(h Handler) http.HandlerFunc {
	return func(w http.ResponseWriter, r *http.Request) {
		if err := h(w, r); err != nil {
			k.fail(w, r, err)
		}
	}
}

// ofStudent reports whether a page is a student's.
func ofStudent(r *http.Request) bool {
	return strings.HasPrefix(r.URL.Path, "/s/") || strings.HasPrefix(r.URL.Path, "/h/") || r.URL.Path == "/go"
}

// routeOf names an address by its pattern: what stands in its braces may be
// somebody's link, and logs are read by many.
func routeOf(r *http.Request) string {
	if c := chi.RouteContext(r.Context()); c != nil && c.RoutePattern() != "" {
		return c.RoutePattern()
	}
	return "unknown"
}

// IsFragment reports whether htmx asked for a part of a page.
func IsFragment(r *http.Request) bool {
	return r.Header.Get("HX-Request") == "true" && r.Header.Get("HX-Boosted") != "true"
}

// Go sends the browser to another page, after a form or a fragment alike.
func Go(w http.ResponseWriter, r *http.Request, path string) error {
	if IsFragment(r) {
		w.Header().Set("HX-Redirect", path)
		w.WriteHeader(http.StatusNoContent)
		return nil
	}
	http.Redirect(w, r, path, http.StatusSeeOther)
	return nil
}

// Number returns the number that a form names somebody by; anything else is not found.
func Number(text string) (uint64, error) {
	id, err := strconv.ParseUint(strings.TrimSpace(text), 10, 63)
	if err != nil || id == 0 {
		return 0, store.ErrNotFound
	}
	return id, nil
}

// ID returns the number in the address's {name}; anything else is not found.
func ID(r *http.Request, name string) (uint64, error) {
	text := chi.URLParam(r, name)
	if name == store.OfProject {
		text, _, _ = strings.Cut(text, "-") // its class follows: Project
	}
	return Number(text)
}
