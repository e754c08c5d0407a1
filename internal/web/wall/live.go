package wall

import (
	"fmt"
	"io"
	"net/http"
	"strconv"
	"time"

	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

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
		if c.JobID == 0 && c.About == "" {
			students[c.StudentID] = true
		}
	}
	return students
}

// live is the line on which a wall hears of changes.
func (a area) live(w http.ResponseWriter, r *http.Request, p store.Project) error {
	before := func(w io.Writer) {
		for student := range a.meanwhile(r, p.ID) {
			if student == 0 && kit.ShownPlan(r) == p.PlanVersion {
				continue // the page shows the new plan already
			}
			fmt.Fprintf(w, "event: student\ndata: %d\n\n", student)
		}
	}
	return a.Line(w, r, p.ID, before, func(c kit.Changed) string {
		switch {
		case c.About == store.OfCall:
			return c.About
		case c.Job != 0 || c.About != "":
			return ""
		}
		return "student"
	})
}
