package kit

import (
	"crypto/rand"
	"net/http"
	"sync"
	"time"

	lru "github.com/hashicorp/golang-lru/v2"
)

// Tablets knows on which tablets students' pages stand open. By the code of a lesson anybody
// of the class opens any page of it: one that is open twice is told to both, and to the
// teacher. Each copy of the program learns it for itself within a minute, for open pages ask
// every copy in turn.
type Tablets struct {
	mu   sync.Mutex
	open *lru.Cache[ownPage, *opened]
}

// ownPage is a student's page of a project.
type ownPage struct{ project, student uint64 }

// opened is by which tablets a page is open, and whether it was said that they are several.
type opened struct {
	asked map[string]time.Time // when each tablet asked last
	twice bool
}

// stillOpen is how long after it asked last a page is taken to be open: they ask every 12 s.
const stillOpen = 40 * time.Second

// mostOpenPages bounds how many pages are remembered: a district's.
const mostOpenPages = 20_000

func newTablets() *Tablets {
	open, _ := lru.New[ownPage, *opened](mostOpenPages) // fails for no size alone
	return &Tablets{open: open}
}

// Seen notes that a tablet has a page open. It reports whether another has it too, and whether
// that is news.
func (t *Tablets) Seen(project, student uint64, tablet string, now time.Time) (twice, news bool) {
	t.mu.Lock()
	defer t.mu.Unlock()
	at := ownPage{project, student}
	o, ok := t.open.Get(at)
	if !ok {
		o = &opened{asked: map[string]time.Time{}}
		t.open.Add(at, o)
	}
	o.asked[tablet] = now
	was := o.twice
	o.twice = o.count(now) > 1
	return o.twice, o.twice != was
}

// Twice reports whether a page is open on more than one tablet.
func (t *Tablets) Twice(project, student uint64, now time.Time) bool {
	t.mu.Lock()
	defer t.mu.Unlock()
	o, ok := t.open.Get(ownPage{project, student})
	return ok && o.count(now) > 1
}

// count forgets tablets that do not ask any more, and counts the others.
func (o *opened) count(now time.Time) int {
	for tablet, seen := range o.asked {
		if now.Sub(seen) > stillOpen {
			delete(o.asked, tablet)
		}
	}
	return len(o.asked)
}

// tabletCookie tells a tablet from others; it says nothing about whose it is.
const tabletCookie = "zesty-tablet"

// Tablet returns what tells a tablet from others, which it is given the first time.
func (k *Kit) Tablet(w http.ResponseWriter, r *http.Request) string {
	if c, err := r.Cookie(tabletCookie); err == nil && len(c.Value) == len(rand.Text()) {
		return c.Value
	}
	id := rand.Text()
	http.SetCookie(w, &http.Cookie{Name: tabletCookie, Value: id, Path: "/s/", MaxAge: 365 * 24 * 3600, HttpOnly: true, Secure: k.Proxies.HTTPS(r), SameSite: http.SameSiteLaxMode})
	return id
}
