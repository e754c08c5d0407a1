package kit

import (
	"context"
	"net/http"
	"time"

	"zestysketch/internal/store"
)

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

// shared lets a teacher at what colleagues share with them, as far as they do and a route
// needs. What was not shared is answered as if it were not there.
func (k *Kit) shared(needs store.Level, next http.Handler) http.Handler {
	return k.Handle(func(w http.ResponseWriter, r *http.Request) error {
		c := callerOf(r)
		if what, id := subject(r); c.Shared && id != 0 {
			grant, err := k.Store.Access(r.Context(), c.TeacherID, what, id, Clock(r).Date(time.Now()))
			if err != nil {
				return err
			}
			if level := grant.Level; level > store.Nothing {
				if level < needs {
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
	return map[store.Level]string{store.ToLook: "to look", store.ToCover: "to cover", store.ToOwn: "to own together", store.InPlace: "in their place"}[l]
}
