package kit

import (
	"context"
	"errors"
	"fmt"
	"io"
	"net/http"
	"sync"
	"time"

	"zestysketch/internal/store"
)

// How often the database is asked for changes while somebody looks, how far
// back each time (a change is dated before it can be seen), and how often a
// quiet line is kept open.
const (
	askEvery  = 300 * time.Millisecond
	askBack   = 5 * time.Second
	keepAlive = 15 * time.Second
)

// hub tells pages of changes. One asker a project serves every page of this
// copy of the program; changes made through other copies come by the database.
type hub struct {
	store *store.Store
	mu    sync.Mutex
	live  map[uint64]*channel // by project
}

type channel struct {
	stop      context.CancelFunc
	listeners map[chan Changed]bool
}

// Changed is what a change is about: a student, a job, or what else is named.
type Changed struct {
	Student, Job uint64
	About        string
}

func newHub(s *store.Store) *hub { return &hub{store: s, live: map[uint64]*channel{}} }

// listen returns what of a project changes, until leave is called.
func (h *hub) listen(project uint64) (changed <-chan Changed, leave func()) {
	h.mu.Lock()
	defer h.mu.Unlock()
	c := h.live[project]
	if c == nil {
		ctx, stop := context.WithCancel(context.Background())
		c = &channel{stop, map[chan Changed]bool{}}
		h.live[project] = c
		go h.ask(ctx, project)
	}
	one := make(chan Changed, 64)
	c.listeners[one] = true
	return one, func() {
		h.mu.Lock()
		defer h.mu.Unlock()
		delete(c.listeners, one)
		if len(c.listeners) == 0 {
			c.stop()
			delete(h.live, project)
		}
	}
}

// ask asks for changes until nobody listens. A database that is away is asked
// again.
func (h *hub) ask(ctx context.Context, project uint64) {
	tick := time.NewTicker(askEvery)
	defer tick.Stop()
	seen, first := map[uint64]time.Time{}, true
	for {
		now := time.Now().UTC()
		if list, err := h.store.Changes(ctx, project, now.Add(-askBack)); err == nil {
			h.tell(project, list, seen, first)
			first = false
		}
		for id, at := range seen {
			if now.Sub(at) > 4*askBack {
				delete(seen, id)
			}
		}
		select {
		case <-ctx.Done():
			return
		case <-tick.C:
		}
	}
}

func (h *hub) tell(project uint64, list []store.Change, seen map[uint64]time.Time, first bool) {
	changed := map[Changed]bool{}
	for _, c := range list {
		if _, known := seen[c.ID]; !known {
			seen[c.ID] = c.CreatedAt
			changed[Changed{c.StudentID, c.JobID, c.About}] = !first // what was there already is on the page
		}
	}
	h.mu.Lock()
	defer h.mu.Unlock()
	c := h.live[project]
	if c == nil {
		return
	}
	for what, new := range changed {
		for one := range c.listeners {
			if !new {
				continue
			}
			select {
			case one <- what:
			default: // a page that does not keep up asks for all when it comes back
			}
		}
	}
}

// Line answers with a line of server-sent events: first what before writes, then
// an event of each change of a project, as event names it, until the browser
// leaves. A change without a name is not told.
func (k *Kit) Line(w http.ResponseWriter, r *http.Request, project uint64, before func(io.Writer), event func(Changed) string) error {
	changed, leave := k.hub.listen(project)
	defer leave()
	line := http.NewResponseController(w)
	w.Header().Set("Content-Type", "text/event-stream")
	w.Header().Set("X-Accel-Buffering", "no")
	fmt.Fprint(w, "retry: 1500\nevent: hello\ndata: \n\n")
	before(w)
	alive := time.NewTicker(keepAlive)
	defer alive.Stop()
	for {
		if err := errors.Join(line.SetWriteDeadline(time.Now().Add(2*keepAlive)), line.Flush()); err != nil && !errors.Is(err, http.ErrNotSupported) {
			return nil // the page has gone
		}
		select {
		case <-r.Context().Done():
			return nil
		case <-k.Done:
			return nil
		case what := <-changed:
			name := event(what)
			if name == "" {
				continue
			}
			if !k.Stands(r) {
				return nil // signed out meanwhile: nothing more is told
			}
			fmt.Fprintf(w, "event: %s\ndata: %d\n\n", name, max(what.Student, what.Job))
		case <-alive.C:
			fmt.Fprint(w, ": still here\n\n")
		}
	}
}
