package student

import (
	"net/http"

	"github.com/go-chi/chi/v5"

	"zestysketch/internal/core/reading"
	"zestysketch/internal/web/kit"
)

// boxes sends what is in the boxes of the student's picture.
func (a area) boxes(w http.ResponseWriter, r *http.Request, o own) (err error) {
	read, err := a.Boxes(r.Context(), o.project, o.plan, o.picture)
	if err != nil {
		return err
	}
	return kit.JSON(w, kit.SeenBoxes(read))
}

// helped records how far a student was helped in a box. It is never blamed.
func (a area) helped(w http.ResponseWriter, r *http.Request, o own) error {
	if err := kit.ReadTick(w, r); err != nil {
		return err
	}
	help := reading.Help(r.FormValue("help"))
	_, known := o.plan.Find(r.FormValue("label"))
	if !known || help.Step() <= reading.Ticks.Step() {
		return kit.Ask("That box is not in the plan any more. Open your page again.")
	}
	if err := a.Store.Help(r.Context(), o.project.TeacherID, o.project.ID, o.student.ID, r.FormValue("label"), help); err != nil {
		return err
	}
	return kit.Go(w, r, "/s/"+chi.URLParam(r, "link"))
}
