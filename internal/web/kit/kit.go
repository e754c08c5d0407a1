// Package kit is what every area of the interface shares: pages, errors, the
// signed-in teacher and the reading of forms. It holds no rule of the craft.
package kit

import (
	"context"
	"crypto/sha256"
	"errors"
	"fmt"
	"image"
	"log/slog"
	"net/http"
	"strconv"
	"strings"
	"sync/atomic"
	"syscall"
	"time"

	"github.com/alexedwards/scs/v2"
	"github.com/go-chi/chi/v5"
	lru "github.com/hashicorp/golang-lru/v2"

	"zestysketch/internal/core/accuracy"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/plans"
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

	measured   *lru.Cache[uint64, *image.RGBA] // by picture
	framed     *lru.Cache[string, *image.RGBA] // by picture, frame and sheet
	madeFramed atomic.Int64                    // when one was made for what is only nice to have, in nanoseconds
	lately     lately
	hub        *hub
	reckoned   reckoned
}

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
	k := &Kit{reckoned: reckoned{kept}, Tablets: newTablets(), hub: newHub(s), lately: lately{done}, Codes: Strictly(s, store.Limit{Burst: 5, Each: 12 * time.Second}), SignIns: NewGuard(s, store.Limit{Burst: 10, Each: time.Minute}), Links: NewGuard(s, store.Limit{Burst: 60, Each: 5 * time.Second}), Store: s, Sessions: sessions, Log: log, measured: measured, framed: framed}
	k.Rooms = room.NewReader(s, k.Pixels)
	return k, nil
}

// Handler answers a request or says why not.
type Handler func(w http.ResponseWriter, r *http.Request) error

// Trouble is an error for the person at the screen: what was wanted and how to mend it.
type Trouble struct {
	Status  int
	Message string
	Field   string // of the form that it is about, by name; empty for none
	Student bool   // who has no sign-in to go on to
	Unsure  bool   // it may have been saved all the same
	Again   []Kept // what a form held, to be sent again; none where it must not be shown
	Path    string // where it goes
	Ended   bool   // a student's link opens nothing any more
}

// Kept is a field of a form.
type Kept struct{ Name, Value string }

func (t Trouble) Error() string { return t.Message }

// Ask returns a Trouble about what a person sent.
func Ask(format string, args ...any) error {
	return Trouble{Status: http.StatusUnprocessableEntity, Message: fmt.Sprintf(format, args...)}
}

// AskAt is Ask about one field of the form, by its name: the page says it there.
func AskAt(field, format string, args ...any) error {
	return Trouble{Status: http.StatusUnprocessableEntity, Field: field, Message: fmt.Sprintf(format, args...)}
}

// Handle turns a Handler into an http.HandlerFunc: errors become pages, or for
// htmx a fragment in the page's error place.
func (k *Kit) Handle(h Handler) http.HandlerFunc {
	return func(w http.ResponseWriter, r *http.Request) {
		if err := h(w, r); err != nil {
			k.fail(w, r, err)
		}
	}
}

func (k *Kit) fail(w http.ResponseWriter, r *http.Request, err error) {
	if errors.Is(err, context.Canceled) || errors.Is(err, syscall.EPIPE) || errors.Is(err, syscall.ECONNRESET) {
		return // the browser has gone: there is nobody to tell
	}
	t := k.trouble(r, err)
	t.Student = ofStudent(r)
	if t.Ended {
		w.Header().Set("Zesty-Link", "ended") // the worker forgets what the link opened
	}
	if t.Status == http.StatusServiceUnavailable {
		w.Header().Set("Retry-After", strconv.Itoa(int(retryAfter.Seconds())))
		t.keep(w, r)
		if r.Method == http.MethodGet && !IsFragment(r) {
			w.Header().Set("Refresh", strconv.Itoa(int(retryAfter.Seconds()))) // the page is asked for again by itself
		}
	}
	if IsFragment(r) && (t.Status == http.StatusUnprocessableEntity || t.Status == http.StatusForbidden) {
		// The page's own place for messages, whatever the request was aimed at.
		w.Header().Set("HX-Retarget", "#message")
		w.Header().Set("HX-Reswap", "innerHTML show:#message:top")
		if t.Field != "" {
			w.Header().Set("Zesty-Field", t.Field) // fields.js says it there
		}
		shared.Part(w, r, "trouble.html", "alert", t.Status, t)
		return
	}
	shared.whole(w, r, "trouble.html", t.Status, view{Title: "Something is in the way", Teacher: Teacher(r), Data: t})
}

// SessionsFailed answers where the session itself cannot be read.
func (k *Kit) SessionsFailed(w http.ResponseWriter, r *http.Request, err error) { k.fail(w, r, err) }

// trouble says what of an error a person should read.
func (k *Kit) trouble(r *http.Request, err error) Trouble {
	var t Trouble
	var tooLong *http.MaxBytesError
	switch {
	case errors.As(err, &t):
		return t
	case errors.Is(err, plans.ErrUnreadable):
		return Trouble{Status: http.StatusUnprocessableEntity, Message: "The plan of this project cannot be read by this program. Open the project, look at the sizes and keep the plan again; everybody's ticks stay."}
	case errors.Is(err, plans.ErrNone):
		return Trouble{Status: http.StatusUnprocessableEntity, Message: "Keep the plan first: this project has no plan yet. Open it, choose the sizes and keep the plan."}
	case errors.Is(err, accuracy.ErrLandmarks):
		return Trouble{Status: http.StatusUnprocessableEntity, Message: Said(err)}
	case errors.Is(err, store.ErrNotFound):
		return Trouble{Status: http.StatusNotFound, Message: "This page is not there, or it belongs to another teacher. Go back to Today and open it from there."}
	case errors.Is(err, store.ErrConflict):
		return Trouble{Status: http.StatusConflict, Message: "Somebody changed this meanwhile. Open the page again to see the change, then make yours."}
	case store.NoRoom(err):
		k.Log.Error("the database's disk is full", "route", routeOf(r), "request", RequestID(r), "error", err)
		return Trouble{Status: http.StatusInsufficientStorage, Message: "The disk of this program's machine is full, so this was not saved; what you saved before is there. Tell whoever looks after it to make room, then try again."}
	case store.Away(err):
		k.Log.Error("the database is away", "route", routeOf(r), "request", RequestID(r), "error", err)
		if store.Unsure(err) && r.Method == http.MethodPost {
			return Trouble{Status: http.StatusServiceUnavailable, Unsure: true, Message: "The program's database went away while this was being saved. It comes back by itself within a minute: look then whether it is there before you send it again."}
		}
		return Trouble{Status: http.StatusServiceUnavailable, Message: "The program's database is away. It comes back by itself within a minute; try again then. If it does not, the disk of its machine may be full. What you saved before is there."}
	case errors.As(err, &tooLong):
		return Trouble{Status: http.StatusUnprocessableEntity, Message: fmt.Sprintf("The file is larger than %d MB. Make it smaller, or save it as JPEG, and try again.", picture.MaxBytes>>20)}
	}
	k.Log.Error("request failed", "method", r.Method, "route", routeOf(r), "request", RequestID(r), "error", err)
	return Trouble{Status: http.StatusInternalServerError, Message: "The program could not do this. Nothing you saved before is lost. Try again in a moment. If it stays so, tell whoever looks after the program the word " + RequestID(r) + "."}
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

// NotFound answers for addresses that lead nowhere.
func (k *Kit) NotFound(w http.ResponseWriter, r *http.Request) { k.fail(w, r, store.ErrNotFound) }

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
