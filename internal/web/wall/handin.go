package wall

import (
	"net/http"
	"slices"

	"zestysketch/internal/core/lesson"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

// HandInWords says when students hand photos in.
func (v view) HandInWords() string {
	switch v.Project.HandIn {
	case lesson.AtCheckpoints:
		return "at checkpoints"
	case lesson.Closed:
		return "not now"
	}
	return "always"
}

// setHandIn says when students may hand photos in, and whether they see words.
func (a area) setHandIn(w http.ResponseWriter, r *http.Request, p store.Project) error {
	when := lesson.HandIn(r.FormValue("when"))
	if !slices.Contains(lesson.HandIns, when) {
		return kit.Ask("Choose when students hand photos in: always, at checkpoints, or not now.")
	}
	if err := a.Store.SetHandIn(r.Context(), p.TeacherID, p.ID, when, r.FormValue("bare") != ""); err != nil {
		return err
	}
	return kit.Go(w, r, kit.ProjectPath(p)+"/wall")
}
