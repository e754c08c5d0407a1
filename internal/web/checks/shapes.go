package checks

import (
	"fmt"
	"net/http"
	"strings"

	"zestysketch/internal/checkin"
	"zestysketch/internal/core/accuracy"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

// shape is a shape of the picture beside the drawing's, drawn to one scale.
type shape struct {
	Box, Wanted, Drawn string // of an SVG; Drawn is empty where it does not close
	Gap                string // where it is open
	Off                bool
	Say                string
}

// mostShapes is how many shapes are shown.
const mostShapes = 8

// shapes answers with the picture's closed shapes beside the drawing's. They are looked for
// when somebody asks: the photo is opened again for it.
func (a area) shapes(w http.ResponseWriter, r *http.Request, c store.CheckIn, j checkin.Job) (err error) {
	if c.Report == nil || !c.Report.Measured || j.Picture == nil {
		return store.ErrNotFound
	}
	all, err := a.compared(r, j, c)
	if err != nil {
		return err
	}
	var shown []shape
	for _, s := range all[:min(len(all), mostShapes)] {
		shown = append(shown, sideBySide(s, j.Plan.Sheet.Width/j.Plan.Sheet.Height))
	}
	return pages.Part(w, r, "table.html", "shapes", http.StatusOK, shown)
}

// compared compares once for a photo, its corners and what it is compared with.
func (a area) compared(r *http.Request, j checkin.Job, c store.CheckIn) ([]accuracy.Shaped, error) {
	read, err := a.Boxes(r.Context(), j.Project, j.Plan, j.Picture)
	if err != nil {
		return nil, err
	}
	var rings []plane.Ring
	for _, g := range read.Gaps {
		rings = append(rings, g.Outline)
	}
	return kit.Once(a.Kit, func() ([]accuracy.Shaped, error) { return checkin.Shapes(r.Context(), a.Store, j, c, rings) },
		c.ID, c.PictureID, *c.Corners, c.Report.FoundBy, fmt.Sprint(rings))
}

// sideBySide draws a shape, of a sheet so much broader than high, and the drawing's in one
// box of 100 units' width.
func sideBySide(s accuracy.Shaped, aspect float64) shape {
	both := append(plane.Ring{}, s.Wanted...)
	box := append(append(both, s.Drawn...), s.Gap...).Bounds()
	scale := 92 / max(box.Width(), box.Height()/aspect)
	points := func(ring plane.Ring) string {
		var out strings.Builder
		for _, p := range ring {
			fmt.Fprintf(&out, "%.1f,%.1f ", 4+(p.X-box.Min.X)*scale, 4+(p.Y-box.Min.Y)*scale/aspect)
		}
		return out.String()
	}
	return shape{fmt.Sprintf("0 0 %.0f %.0f", 8+box.Width()*scale, 8+box.Height()*scale/aspect), points(s.Wanted), points(s.Drawn), points(s.Gap), s.Off, s.Say}
}
