package wall

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"strconv"
	"sync"
	"time"

	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

// How often the database is asked for changes while somebody looks, how far
// back each time (a change is dated before it can be seen), and how often a
// quiet line is kept open.
const (
	askEvery  = 300 * time.Millisecond
	askBack   = 5 * time.Second
	keepAlive = 15 * time.Second
)

// hub tells walls of changes. One asker a project serves every wall of this
// copy of the program; changes made through other copies come by the database.
type hub struct {
	k    *kit.Kit
	mu   sync.Mutex
	live map[uint64]*channel // by project
}

type channel struct {
	stop      context.CancelFunc
	listeners map[chan uint64]bool
}

func newHub(k *kit.Kit) *hub { return &hub{k: k, live: map[uint64]*channel{}} }

// listen returns students of a project as they change, until leave is called.
func (h *hub) listen(project uint64) (changed <-chan uint64, leave func()) {
	h.mu.Lock()
	defer h.mu.Unlock()
	c := h.live[project]
	if c == nil {
		ctx, stop := context.WithCancel(context.Background())
		c = &channel{stop, map[chan uint64]bool{}}
		h.live[project] = c
		go h.ask(ctx, project)
	}
	one := make(chan uint64, 64)
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
		if list, err := h.k.Store.Changes(ctx, project, now.Add(-askBack)); err == nil {
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
	students := map[uint64]bool{}
	for _, c := range list {
		if _, known := seen[c.ID]; !known {
			seen[c.ID] = c.CreatedAt
			students[c.StudentID] = !first // what was there already is on the page
		}
	}
	h.mu.Lock()
	defer h.mu.Unlock()
	c := h.live[project]
	if c == nil {
		return
	}
	for student, new := range students {
		for one := range c.listeners {
			if !new {
				continue
			}
			select {
			case one <- student:
			default: // a wall that does not keep up asks for all when it comes back
			}
		}
	}
}

// meanwhile returns the students that changed between the making of a page and
// the opening of its line. A page that is older asks for everybody by itself.
func (a area) meanwhile(r *http.Request, project uint64) map[uint64]bool {
	students, now := map[uint64]bool{}, time.Now()
	made, err := strconv.ParseInt(r.URL.Query().Get("since"), 10, 64)
	since := time.UnixMilli(made)
	if err != nil || since.After(now) || now.Sub(since) > time.Minute {
		return students
	}
	list, err := a.Store.Changes(r.Context(), project, since.UTC().Add(-time.Second)) // several copies' clocks differ
	if err != nil {
		return students // the line goes on; the next change brings the student
	}
	for _, c := range list {
		students[c.StudentID] = true
	}
	return students
}

// live is the line on which a wall hears of changes (server-sent events).
func (a area) live(w http.ResponseWriter, r *http.Request) error {
	p, err := a.Project(r)
	if err != nil {
		return err
	}
	changed, leave := a.hub.listen(p.ID)
	defer leave()
	line := http.NewResponseController(w)
	w.Header().Set("Content-Type", "text/event-stream")
	w.Header().Set("X-Accel-Buffering", "no")
	fmt.Fprint(w, "retry: 1500\nevent: hello\ndata: \n\n")
	for student := range a.meanwhile(r, p.ID) {
		if student == 0 && kit.ShownPlan(r) == p.PlanVersion {
			continue // the page shows the new plan already
		}
		fmt.Fprintf(w, "event: student\ndata: %d\n\n", student)
	}
	alive := time.NewTicker(keepAlive)
	defer alive.Stop()
	for {
		if err := errors.Join(line.SetWriteDeadline(time.Now().Add(2*keepAlive)), line.Flush()); err != nil && !errors.Is(err, http.ErrNotSupported) {
			return nil // the wall has gone
		}
		select {
		case <-r.Context().Done():
			return nil
		case <-a.Done:
			return nil
		case student := <-changed:
			if !a.Stands(r) {
				return nil // signed out meanwhile: nothing more is told
			}
			fmt.Fprintf(w, "event: student\ndata: %d\n\n", student)
		case <-alive.C:
			fmt.Fprint(w, ": still here\n\n")
		}
	}
}
