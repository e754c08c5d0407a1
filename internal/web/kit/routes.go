package kit

import (
	"fmt"
	"net/http"

	"github.com/go-chi/chi/v5"

	"zestysketch/internal/store"
)

// Routes takes in the addresses of whoever is signed in. A route says on its own line what a
// colleague with whom the thing in its address is shared must be allowed to be answered, and
// what is written down when it was done; one that does not say is not taken in.
type Routes struct {
	router chi.Router
	kit    *Kit
}

// Routes returns what takes routes in below a router, whose requests come from somebody who is
// signed in.
func (k *Kit) Routes(r chi.Router) Routes { return Routes{r, k} }

// NoAudit stands where nothing is written down: only something is looked at, or changed that
// does not last.
const NoAudit = ""

// Get takes in an address that shows something.
func (s Routes) Get(path string, needs store.Level, words string, h Handler) {
	s.add(http.MethodGet, path, needs, store.AuditEntry{Kind: store.Looked, Words: words}, readFirst(Form, h))
}

// Give takes in an address that gives something out.
func (s Routes) Give(path string, needs store.Level, words string, h Handler) {
	s.add(http.MethodGet, path, needs, store.AuditEntry{Kind: store.Gave, Words: words}, readFirst(Form, h))
}

// Post takes in an address that changes something, by a form without files.
func (s Routes) Post(path string, needs store.Level, words string, h Handler) {
	s.Take(path, Form, needs, words, h)
}

// Take is Post for a form of so many bytes, such as one that may bring a file. Who sends it is
// known before it is read.
func (s Routes) Take(path string, most int64, needs store.Level, words string, h Handler) {
	s.Stream(path, needs, words, readFirst(most, h))
}

// Tick is Take for an address at which boxes or stages are ticked.
func (s Routes) Tick(path string, most int64, needs store.Level, words string, h Handler) {
	s.add(http.MethodPost, path, needs, store.AuditEntry{Kind: store.Ticked, Words: words}, readFirst(most, h))
}

// readFirst returns a handler for whom the form, or the address's own, is read already.
func readFirst(most int64, h Handler) Handler {
	return func(w http.ResponseWriter, r *http.Request) error {
		if err := read(w, r, most); err != nil {
			return err
		}
		return h(w, r)
	}
}

// Stream is Post for a form that its handler reads by itself, part by part.
func (s Routes) Stream(path string, needs store.Level, words string, h Handler) {
	s.add(http.MethodPost, path, needs, store.AuditEntry{Kind: store.Changed, Words: words}, h)
}

// add takes a route in; it panics, when the program starts, where nobody is let in.
func (s Routes) add(method, path string, needs store.Level, done store.AuditEntry, h Handler) {
	if needs <= store.Nothing || needs > store.Owns {
		panic(fmt.Sprintf("%s %s does not say who is let in", method, path))
	}
	var handler http.Handler = s.kit.Handle(h)
	if done.Words != NoAudit {
		handler = s.kit.audited(done, handler)
	}
	s.router.Method(method, path, s.kit.shared(needs, handler))
}

// Under takes in routes whose paths begin alike.
func (s Routes) Under(path string, more func(Routes)) {
	s.router.Route(path, func(r chi.Router) { more(Routes{r, s.kit}) })
}

// With returns what takes in routes behind something more.
func (s Routes) With(more func(http.Handler) http.Handler) Routes {
	return Routes{s.router.With(more), s.kit}
}

// With returns the handler of what load finds in a request: where it finds nothing, its error
// is the answer.
func With[T any](load func(*http.Request) (T, error), h func(http.ResponseWriter, *http.Request, T) error) Handler {
	return func(w http.ResponseWriter, r *http.Request) error {
		found, err := load(r)
		if err != nil {
			return err
		}
		return h(w, r, found)
	}
}

// WithBoth is With for two things that are found together.
func WithBoth[A, B any](load func(*http.Request) (A, B, error), h func(http.ResponseWriter, *http.Request, A, B) error) Handler {
	return func(w http.ResponseWriter, r *http.Request) error {
		one, other, err := load(r)
		if err != nil {
			return err
		}
		return h(w, r, one, other)
	}
}

// IDOf returns what finds the number that a part of the address is.
func IDOf(part string) func(*http.Request) (uint64, error) {
	return func(r *http.Request) (uint64, error) { return ID(r, part) }
}
