package kit

import (
	"fmt"
	"net/http"
	"strconv"
	"strings"
	"time"

	"github.com/go-chi/chi/v5"
	"github.com/go-chi/chi/v5/middleware"
	lru "github.com/hashicorp/golang-lru/v2"

	"zestysketch/internal/store"
)

// often is how long the same done by somebody to the same thing is written down once: a
// lesson has a thousand ticks, and they are kept for themselves.
const often = 10 * time.Minute

// mostLately bounds how many entries of late are remembered for that.
const mostLately = 4096

// lately remembers when entries were last written down.
type lately struct{ *lru.Cache[string, time.Time] }

// first reports whether an entry is to be written down, not having been just now.
func (l lately) first(d store.AuditEntry, now time.Time) bool {
	key := fmt.Sprint(*d.TeacherID, d.Address, d.Words, d.ProjectID, d.ClassID, d.StudentID)
	if at, there := l.Get(key); there && now.Sub(at) < often {
		return false
	}
	l.Add(key, now)
	return true
}

// audited writes down who did what, once it was done. Students are named by number.
func (k *Kit) audited(d store.AuditEntry, next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		answer := middleware.NewWrapResponseWriter(w, r.ProtoMajor)
		next.ServeHTTP(answer, r)
		if answer.Status() >= http.StatusBadRequest || r.Method == http.MethodHead {
			return
		}
		me := Teacher(r)
		d := d
		d.SchoolID, d.TeacherID, d.Who, d.Address = me.SchoolID, &me.ID, me.Name, k.Proxies.From(r)
		d.ProjectID, d.ClassID, d.StudentID = numbered(r, store.OfProject), numbered(r, store.OfClass), numbered(r, store.OfStudent)
		if strings.HasSuffix(r.URL.Path, "/forget") {
			d.StudentID = 0
		}
		if !k.lately.first(d, time.Now()) {
			return
		}
		if err := k.Store.Audit(r.Context(), d); err != nil && r.Context().Err() == nil {
			k.Log.Error("who did what could not be written down", "route", routeOf(r), "error", err)
		}
	})
}

// numbered returns the number of a part of the address, 0 where it has none.
func numbered(r *http.Request, part string) uint64 {
	typed, _, _ := strings.Cut(chi.URLParam(r, part), "-")
	id, err := strconv.ParseUint(typed, 10, 63)
	if err != nil {
		return 0
	}
	return id
}
