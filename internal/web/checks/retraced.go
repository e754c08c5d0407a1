package checks

import (
	"fmt"
	"net/http"
	"slices"
	"strings"

	"zestysketch/internal/checkin"
	"zestysketch/internal/core/accuracy"
	"zestysketch/internal/core/finish"
	"zestysketch/internal/core/lesson"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/press"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

// retraced is what is still to be gone over in the second colour before the tape comes off.
type retraced struct {
	Left       []string // what is not gone over, by name
	All        int      // how many lines are on the list
	Coloured   bool
	Box        string   // of an SVG, in mm of the sheet
	Gone, Miss []string // its polylines
}

// carries reports whether a road carries the drawing over: then a photo of its tracing can be asked whether all of the
// list is gone over.
func carries(road lesson.Road) bool {
	return slices.ContainsFunc(road.On(), func(s lesson.Stage) bool { return s.Kind == lesson.Transfer })
}

// retraced answers with the lines of the list that are not gone over yet. They are looked for when somebody asks: the
// photo is opened again for it.
func (a area) retraced(w http.ResponseWriter, r *http.Request, c store.CheckIn, j checkin.Job) (err error) {
	if c.Report == nil || !c.Report.Measured || j.Picture == nil || j.Plan.Frame == nil {
		return store.ErrNotFound
	}
	all, coloured, err := a.goneOver(r, j, c)
	if err != nil {
		return err
	}
	out := retraced{All: len(all), Coloured: coloured, Box: fmt.Sprintf("0 0 %.0f %.0f", j.Plan.Sheet.Width, j.Plan.Sheet.Height)}
	for _, line := range all {
		out.Gone = append(out.Gone, points(line.Points))
		for _, run := range line.Left {
			out.Miss = append(out.Miss, points(run))
		}
		if len(line.Left) > 0 && !slices.Contains(out.Left, line.Name) {
			out.Left = append(out.Left, line.Name)
		}
	}
	return pages.Part(w, r, "table.html", "retraced", http.StatusOK, out)
}

// goneOver looks once at a photo, its corners and a plan.
func (a area) goneOver(r *http.Request, j checkin.Job, c store.CheckIn) ([]accuracy.GoneOver, bool, error) {
	type looked struct {
		all      []accuracy.GoneOver
		coloured bool
	}
	pins := press.PinsOn(j.Plan, j.Landmarks)
	seen, err := kit.Once(a.Kit, func() (l looked, err error) {
		img, perMM, err := a.Framed(r.Context(), j.Project.TeacherID, &j.Picture.ID, j.Plan)
		if err != nil {
			return l, err
		}
		lines, err := finish.Carried{Plan: j.Plan, Image: img, PerMM: perMM, Drawing: j.Picture.LineDrawing(), Pins: pins}.Lines()
		if err != nil {
			return l, err
		}
		l.all, l.coloured, err = checkin.Retraced(r.Context(), a.Store, j, c, lines)
		return l, err
	}, "retraced", c.ID, c.PictureID, *c.Corners, c.Report.FoundBy, j.Picture.ID, kit.SumOf(j.Project, j.Plan), pins)
	return seen.all, seen.coloured, err
}

// points writes a line for an SVG.
func points(line []plane.Point) string {
	var out strings.Builder
	for _, p := range line {
		fmt.Fprintf(&out, "%.1f,%.1f ", p.X, p.Y)
	}
	return out.String()
}
