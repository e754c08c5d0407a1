package wall

import (
	"net/http"
	"strconv"
	"time"

	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

// A call's words and minutes are so long at most.
const longestCall, mostMinutes = 80, 120

// call calls something to the class: words, minutes that run, or nothing more.
func (a area) call(w http.ResponseWriter, r *http.Request, p store.Project) error {
	if p.ClassID == nil {
		return kit.Ask("Choose a class on the wall first.")
	}
	c := store.Call{ProjectID: p.ID, ClassID: *p.ClassID, Words: kit.Tidy(r.FormValue("words"))}
	if len([]rune(c.Words)) > longestCall {
		return kit.AskAt("words", "Call it shorter, in at most %d letters.", longestCall)
	}
	if typed := kit.Tidy(r.FormValue("minutes")); typed != "" {
		minutes, err := strconv.ParseFloat(typed, 64)
		if err != nil || !(minutes > 0 && minutes <= mostMinutes) {
			return kit.AskAt("minutes", "A time is 1 to %d minutes, such as 10.", mostMinutes)
		}
		until := time.Now().UTC().Add(time.Duration(minutes * float64(time.Minute)))
		c.Until = &until
	}
	if err := a.Store.SetCall(r.Context(), c); err != nil {
		return err
	}
	if !kit.IsFragment(r) {
		return kit.Go(w, r, kit.ProjectPath(p)+"/wall")
	}
	return pages.Part(w, r, "wall.html", "called", http.StatusOK, called{p.Key(), c})
}

// called is what the class hears just now.
type called struct {
	Project string
	store.Call
}

// calledNow returns what is called to a project's class.
func (a area) calledNow(r *http.Request, p store.Project) (called, error) {
	if p.ClassID == nil {
		return called{Project: p.Key()}, nil
	}
	c, err := a.Store.Call(r.Context(), p.ID, *p.ClassID)
	return called{p.Key(), c}, err
}

// At returns when the time runs out, for machines; empty for none.
func (c called) At() string {
	if c.Until == nil {
		return ""
	}
	return c.Until.UTC().Format(time.RFC3339)
}
