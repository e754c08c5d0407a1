package student

import (
	"errors"
	"fmt"
	"net/http"

	"zestysketch/internal/core/accuracy"
	"zestysketch/internal/core/grid"
	photos "zestysketch/internal/core/photo"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/store"
)

// mistakes is what a student's last measured drawing got wrong, to make exercises of. Places are pixels of the
// drawing and of the picture as they are laid over one another.
type mistakes struct {
	Drawn  string    `json:"drawn"` // addresses
	Wanted string    `json:"wanted"`
	W      int       `json:"w"`
	H      int       `json:"h"`
	Slid   []mistake `json:"slid"`   // boxes whose lines lie elsewhere
	Leaves []mistake `json:"leaves"` // boxes in which a line leaves the picture's
}

// mistake is one of a box: what of the sheet shows it, by how much its lines lie off or where one leaves, and words.
type mistake struct {
	Label string     `json:"label"`
	Part  [4]float64 `json:"part"` // x, y, width and height
	Off   [2]float64 `json:"off"`  // of what slid, drawn minus wanted; of a leave its place
	Say   string     `json:"say"`
}

// lastMeasured returns a student's last measured drawing; nil where there is none.
func (a area) lastMeasured(r *http.Request, o own) (*store.CheckIn, error) {
	c, err := a.Store.LastMeasured(r.Context(), o.project.ID, o.student.ID, 0, 0)
	if errors.Is(err, store.ErrNotFound) {
		return nil, nil
	}
	return &c, err
}

// mistakesOf returns what the last measured photo got wrong; nil where there is none, or nothing is.
func mistakesOf(c *store.CheckIn, o own, link string) *mistakes {
	if c == nil || !c.Report.Measured {
		return nil
	}
	v, f := fmt.Sprintf("?v=%d-%d", c.ID, c.Version), photos.SheetFrame(o.plan, laidSide)
	m := mistakes{Drawn: "/s/" + link + "/drawing" + v, Wanted: "/s/" + link + "/wanted" + v, W: f.W, H: f.H}
	said := map[string]string{}
	for _, cell := range c.Report.Cells {
		if !cell.Wrong || cell.Sure != accuracy.Both {
			continue
		}
		if words := accuracy.Direction(cell.Shift.X, cell.Shift.Y); words != "" {
			said[cell.Label] = fmt.Sprintf("In %s your lines sit %s.", cell.Label, words)
			m.Slid = append(m.Slid, mistakeAt(o.plan, f, cell.Label, shiftOf(o.plan, f, cell.Shift), said[cell.Label]))
		}
	}
	for _, l := range c.Report.Leaves {
		at := f.Pixel(l.At)
		words := said[l.Cell]
		if words == "" {
			words = fmt.Sprintf("In %s your line goes its own way from there.", l.Cell)
		}
		m.Leaves = append(m.Leaves, mistakeAt(o.plan, f, l.Cell, [2]float64{at.X, at.Y}, words))
	}
	if len(m.Slid)+len(m.Leaves) == 0 {
		return nil
	}
	return &m
}

// shiftOf returns a shift in boxes as one in pixels.
func shiftOf(p grid.Plan, f photos.Frame, shift plane.Point) [2]float64 {
	return [2]float64{shift.X * p.Grid.SheetCell[0] * f.PerMM, shift.Y * p.Grid.SheetCell[1] * f.PerMM}
}

func mistakeAt(p grid.Plan, f photos.Frame, label string, off [2]float64, say string) mistake {
	part := around(p, []string{label})
	from, to := f.Pixel(part.Min), f.Pixel(part.Max)
	return mistake{label, [4]float64{from.X, from.Y, to.X - from.X, to.Y - from.Y}, off, say}
}
