package student

import (
	"encoding/json"
	"net/http"
	"slices"

	"github.com/go-chi/chi/v5"

	"zestysketch/internal/core/plane"
	"zestysketch/internal/core/reading"
	"zestysketch/internal/web/kit"
)

// seenBox is what the page shows of a box when somebody asks for help: places in parts of
// it, and words.
type seenBox struct {
	Dots  []plane.Point   `json:"dots"`
	Lines [][]plane.Point `json:"lines"`
	Say   []string        `json:"say"` // of each line
	All   []string        `json:"all"` // of the box, in short
}

// boxes sends what is in the boxes of the student's picture.
func (a area) boxes(w http.ResponseWriter, r *http.Request) error {
	o, err := a.open(r)
	if err != nil {
		return err
	}
	read, err := a.Boxes(r.Context(), o.project, o.plan, o.picture)
	if err != nil {
		return err
	}
	all := map[string]seenBox{}
	for _, b := range read.Boxes {
		if b.Part > 0 {
			continue
		}
		s := seenBox{Dots: []plane.Point{}, Lines: [][]plane.Point{}, Say: []string{}, All: b.Say}
		for _, c := range b.Crossings {
			s.Dots = append(s.Dots, c.Place())
		}
		for _, p := range b.Pieces {
			s.Lines, s.Say = append(s.Lines, p.Points), append(s.Say, p.Say)
		}
		if b.TooMuch {
			s.Say = b.Say
		}
		all[b.Label] = s
	}
	w.Header().Set("Content-Type", "application/json")
	return json.NewEncoder(w).Encode(all)
}

// helped records how far a student was helped in a box. It is never blamed.
func (a area) helped(w http.ResponseWriter, r *http.Request) error {
	o, err := a.open(r)
	if err != nil {
		return err
	}
	if err := kit.ReadTick(w, r); err != nil {
		return err
	}
	help := reading.Help(r.FormValue("help"))
	_, known := o.plan.Find(r.FormValue("label"))
	if !known || help == reading.Ticks || !slices.Contains(reading.Helps, help) {
		return kit.Ask("That box is not in the plan any more. Open your page again.")
	}
	if err := a.Store.Help(r.Context(), o.project.TeacherID, o.project.ID, o.student.ID, r.FormValue("label"), help); err != nil {
		return err
	}
	return kit.Go(w, r, "/s/"+chi.URLParam(r, "link"))
}
