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

// often is how long the same deed of somebody about the same thing is one deed: a
// lesson has a thousand ticks, and they are kept for themselves.
const often = 10 * time.Minute

// mostLately bounds how many deeds of late are remembered for that.
const mostLately = 4096

// lately remembers when deeds were last written down.
type lately struct{ *lru.Cache[string, time.Time] }

// first reports whether a deed is to be written down, not having been just now.
func (l lately) first(d store.Deed, now time.Time) bool {
	key := fmt.Sprint(*d.TeacherID, d.Address, d.Deed, d.ProjectID, d.ClassID, d.StudentID)
	if at, there := l.Get(key); there && now.Sub(at) < often {
		return false
	}
	l.Add(key, now)
	return true
}

// written writes down who did what, in a few words, once it was done. Students are named by
// number.
func (k *Kit) written(deed string, next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		answer := middleware.NewWrapResponseWriter(w, r.ProtoMajor)
		next.ServeHTTP(answer, r)
		if answer.Status() >= http.StatusBadRequest || r.Method == http.MethodHead {
			return
		}
		me := Teacher(r)
		d := store.Deed{SchoolID: me.SchoolID, TeacherID: &me.ID, Who: me.Name, Address: k.Proxies.From(r), Deed: deed,
			ProjectID: numbered(r, store.OfProject), ClassID: numbered(r, store.OfClass), StudentID: numbered(r, store.OfStudent)}
		if strings.HasSuffix(r.URL.Path, "/forget") {
			d.StudentID = 0
		}
		if !k.lately.first(d, time.Now()) {
			return
		}
		if err := k.Store.KeepDeed(r.Context(), d); err != nil && r.Context().Err() == nil {
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
