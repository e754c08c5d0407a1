package kit

import (
	"context"
	"net/http"
	"time"

	"github.com/go-chi/chi/v5"

	"zestysketch/internal/store"
)

// covering is what a colleague who covers a lesson may do beside looking: the
// wall with its ticks, notes and check-ins, and the pages to print.
var covering = map[string]bool{
	"POST /projects/{project}/students/{student}/ticks":   true,
	"POST /projects/{project}/students/{student}/stage":   true,
	"POST /projects/{project}/students/{student}/verdict": true,
	"POST /projects/{project}/students/{student}/seat":    true,
	"POST /projects/{project}/students/{student}/notes":   true,
	"POST /projects/{project}/log":                        true,
	"POST /notes/{note}":                                  true,
	"POST /projects/{project}/check":                      true,
	"POST /projects/{project}/check/ticks":                true,
	"POST /projects/{project}/call":                       true,
	"POST /strays/{stray}/claim":                          true,
	"POST /strays/{stray}/remove":                         true,
	"POST /checkins/{checkin}/places":                     true,
	"POST /checkins/{checkin}/ticks":                      true,
	"POST /projects/{project}/print/jobs":                 true,
	"POST /jobs/{job}/cancel":                             true,
	"POST /projects/{project}/links/code":                 true,
	"POST /projects/{project}/demonstration":              true,
	"POST /projects/{project}/handin":                     true,
	"POST /projects/{project}/stage":                      true,
	"POST /projects/{project}/students/{student}/helper":  true,
	// Pages carry students' links, by which more can be done than looking.
	"GET /projects/{project}/print":           true,
	"GET /projects/{project}/print/jobs":      true,
	"GET /projects/{project}/print/set.pdf":   true,
	"GET /projects/{project}/print/page.svg":  true,
	"GET /projects/{project}/print/page.png":  true,
	"GET /projects/{project}/print/thumb.svg": true,
	"GET /jobs/{job}/set.pdf":                 true,
	"GET /projects/{project}/links/screen":    true,
}

// owning is what only the owner does, and together what is asked by GET and gives
// more away than a look.
var (
	owning = map[string]bool{
		"POST /projects/{project}/delete": true,
		"POST /projects/{project}/away":   true,
		"POST /projects/{project}/back":   true,
		"POST /classes/{class}/away":      true,
		"POST /library/{picture}":         true,
		"POST /library/{picture}/remove":  true,
		"POST /students/{student}/forget": true,
		"POST /students/{student}/move":   true,
		"POST /projects/{project}/shares": true,
		"POST /classes/{class}/shares":    true,
		"GET /projects/{project}/shares":  true,
		"GET /classes/{class}/shares":     true,
		"POST /projects/{project}/hand":   true,
		// Its address opens the calendar for whoever has it, also when the share has ended.
		"POST /classes/{class}/calendar/feed": true,
		// The owner's roads for projects to come are nobody else's.
		"POST /projects/{project}/road/keep": true,
		"POST /projects/{project}/road/drop": true,
		// Another class of the owner's is not what was shared.
		"POST /projects/{project}/class":      true,
		"POST /projects/{project}/class/drop": true,
	}
	together = map[string]bool{
		"GET /students/{student}/export.zip":  true,
		"GET /projects/{project}/links":       true,
		"GET /projects/{project}/project.zip": true,
	}
)

// needed returns what somebody must be allowed to be answered by a route.
func needed(method, pattern string) store.Level {
	route := method + " " + pattern
	switch {
	case owning[route]:
		return store.Owns
	case covering[route]:
		return store.ToCover
	case together[route] || method != http.MethodGet:
		return store.ToOwn
	}
	return store.ToLook
}

// named are the parts of an address that name somebody's thing; the first that is
// there counts.
var named = []string{store.OfProject, store.OfClass, store.OfStudent, store.OfNote, store.OfCheckIn, store.OfStray, store.OfJob, store.OfPicture}

// subject returns what thing an address names, 0 for none.
func subject(r *http.Request) (what string, id uint64) {
	for _, what := range named {
		if id := numbered(r, what); id != 0 {
			return what, id
		}
	}
	return "", 0
}

// Shared lets a teacher at what colleagues share with them, as far as they do.
// What was not shared is answered as if it were not there.
func (k *Kit) Shared(next http.Handler) http.Handler {
	return k.Handle(func(w http.ResponseWriter, r *http.Request) error {
		c := callerOf(r)
		if what, id := subject(r); c.Shared && id != 0 {
			grant, err := k.Store.Access(r.Context(), c.TeacherID, what, id, Clock(r).Date(time.Now()))
			if err != nil {
				return err
			}
			if level := grant.Level; level > store.Nothing {
				if level < needed(r.Method, chi.RouteContext(r.Context()).RoutePattern()) {
					return Trouble{Status: http.StatusForbidden, Message: "A colleague shares this with you, " + LevelWords(level) + ". For more than that, ask them."}
				}
				c.owner, c.ownerName, c.level = grant.Owner, grant.Name, level
				r = r.WithContext(context.WithValue(r.Context(), callerKey{}, c))
			}
		}
		next.ServeHTTP(w, r)
		return nil
	})
}

// LevelWords says what a level lets somebody do.
func LevelWords(l store.Level) string {
	return map[store.Level]string{store.ToLook: "to look", store.ToCover: "to cover", store.ToOwn: "to own together"}[l]
}
