package wall

import (
	"html/template"
	"net/http"

	"zestysketch/internal/core/lesson"
	"zestysketch/internal/render"
	"zestysketch/internal/room"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

// helper makes a link by which somebody at home looks at the stage that waits for a look.
func (a area) helper(w http.ResponseWriter, r *http.Request, work *room.Room, s store.Student) (err error) {
	stage := lesson.StageID(r.FormValue("stage"))
	switch {
	case !work.Road.Helpers:
		return kit.Ask("In this project only the teacher approves. Allow helpers on the road first.")
	case !work.Road.HasCheckpoint(stage):
		return kit.Ask("This stage has no checkpoint, so there is nothing to look at.")
	}
	letters, err := a.Store.AddHelperLink(r.Context(), work.Project.TeacherID, work.Project.ID, s.ID, stage)
	if err != nil {
		return err
	}
	link := a.Base(r) + "/h/" + letters
	code, err := render.QR(link)
	if err != nil {
		return err
	}
	return pages.Part(w, r, "wall.html", "helper", http.StatusOK, struct {
		Link string
		Code template.HTML
	}{link, template.HTML(code)}) // numbers alone
}
