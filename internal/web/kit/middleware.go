package kit

import (
	"context"
	"crypto/rand"
	"net/http"
	"strings"
	"sync"
	"time"
)

// How many bodies may be on their way at once by one student's link, and from one address,
// which may be a whole school's (ours: 1,200 tablets that tick at once hold some 40 open).
const mostByLink, mostByAddress = 6, 300

// bodies counts what is being sent by key.
type bodies struct {
	mu sync.Mutex
	n  map[string]int
}

// enter counts one more of a key, unless there are most already.
func (b *bodies) enter(key string, most int) bool {
	b.mu.Lock()
	defer b.mu.Unlock()
	if b.n[key] >= most {
		return false
	}
	b.n[key]++
	return true
}

func (b *bodies) leave(key string) {
	b.mu.Lock()
	defer b.mu.Unlock()
	if b.n[key]--; b.n[key] == 0 {
		delete(b.n, key)
	}
}

// FewBodies refuses what is sent by a link, or from an address, by which much is on its way
// already: whoever sends slowly, a thousandfold, holds nobody else up. Nothing is read of it.
func (k *Kit) FewBodies(next http.Handler) http.Handler {
	open := &bodies{n: map[string]int{}}
	refuse := k.Handle(func(w http.ResponseWriter, r *http.Request) error {
		w.Header().Set("Connection", "close")
		http.NewResponseController(w).SetReadDeadline(time.Now()) // else the server waits for the rest
		return Trouble{Status: http.StatusTooManyRequests, Message: "Much is on its way from here already. Wait a moment, then send it again."}
	})
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if r.Method != http.MethodPost {
			next.ServeHTTP(w, r)
			return
		}
		keys := map[string]int{k.AddressOf(r): mostByAddress}
		if parts := strings.SplitN(r.URL.Path, "/", 4); len(parts) > 2 { // /s/{link}/…
			keys["link "+parts[2]] = mostByLink
		}
		for key, most := range keys {
			if !open.enter(key, most) {
				refuse(w, r)
				return
			}
			defer open.leave(key)
		}
		next.ServeHTTP(w, r)
	})
}

type numberKey struct{}

// numberLength is how many letters a request's name has.
const numberLength = 10

// Numbered gives every request a name of its own, for the log and for whoever asks
// for help. What a browser or proxy calls it is not believed.
func Numbered(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		id := rand.Text()[:numberLength]
		w.Header().Set("Request-Id", id)
		next.ServeHTTP(w, r.WithContext(context.WithValue(r.Context(), numberKey{}, id)))
	})
}

// RequestID returns the request's name.
func RequestID(r *http.Request) string {
	id, _ := r.Context().Value(numberKey{}).(string)
	return id
}
