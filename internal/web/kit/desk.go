package kit

import (
	"encoding/json"
	"math"
	"net/http"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/lesson"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/core/reading"
	"zestysketch/internal/core/sheet"
	"zestysketch/internal/store"
)

// Desk is what a page needs to draw boxes by itself.
type Desk struct {
	Order   []InHand    `json:"order"`
	Done    []string    `json:"done"`
	Version int         `json:"version"` // of the plan
	Around  float64     `json:"around"`
	Size    [2]float64  `json:"size"`              // of the reference, mm
	Picture *[6]float64 `json:"picture,omitempty"` // from a square of 1000 to millimetres of the reference
	Help    int         `json:"help"`              // the step from which a box is shown
	Guess   bool        `json:"guess"`             // crossings are marked before their dots are seen
	Strip   float64     `json:"strip"`             // how broad a strip of the picture is that is shown at a time, mm
}

// InHand is one box, in millimetres of the reference.
type InHand struct {
	Label string  `json:"label"`
	Row   int     `json:"row"`
	X     float64 `json:"x"`
	Y     float64 `json:"y"`
	W     float64 `json:"w"`
	H     float64 `json:"h"`
	Split int     `json:"split"`
}

// NewDesk takes the numbers from a plan; picture is nil where there is none to show.
func NewDesk(p store.Project, plan grid.Plan, picture *store.Picture, order []grid.Cell) Desk {
	d := Desk{Version: p.PlanVersion, Around: sheet.Around, Done: []string{}, Size: [2]float64{plan.Reference.Width, plan.Reference.Height}, Help: max(0, p.Help.Step()), Guess: !p.GuessOff, Strip: lesson.StripMM}
	for _, c := range order {
		d.Order = append(d.Order, InHand{c.Label, c.Row, c.Reference.Min.X, c.Reference.Min.Y, c.Reference.Width(), c.Reference.Height(), max(1, plan.Grid.Split[c.Label])})
	}
	if picture != nil {
		m := page.Picture{Box: plane.Rect{Max: plane.Pt(plan.Reference.Width, plan.Reference.Height)}, Part: plan.Frame}.Placed(1000, 1000)
		d.Picture = &[6]float64{m.A, m.B, m.C, m.D, m.E, m.F}
	}
	return d
}

// Finish notes which of the boxes are done.
func (d *Desk) Finish(order []grid.Cell, ticks map[string]bool) {
	for _, c := range order {
		if ticks[c.Label] {
			d.Done = append(d.Done, c.Label)
		}
	}
}

// SeenBox is what a page shows of a box when somebody asks for help: places in parts of
// it, and words.
type SeenBox struct {
	Dots  []plane.Point   `json:"dots"`
	Lines [][]plane.Point `json:"lines"`
	Say   []string        `json:"say"` // of each line
	All   []string        `json:"all"` // of the box, in short
	Empty []plane.Ring    `json:"empty"`
}

// SeenBoxes returns what pages show of whole boxes, by label.
func SeenBoxes(read reading.Reading) map[string]SeenBox {
	all := map[string]SeenBox{}
	for i, b := range read.Boxes {
		if b.Part > 0 {
			continue
		}
		s := SeenBox{Dots: []plane.Point{}, Lines: [][]plane.Point{}, Say: []string{}, All: b.Say, Empty: []plane.Ring{}}
		for _, c := range b.Crossings {
			s.Dots = append(s.Dots, c.Place())
		}
		parts := partsOf(read.Boxes[i+1:])
		for k, part := range parts {
			n := int(math.Sqrt(float64(len(parts))))
			for _, p := range part.Pieces {
				s.Lines, s.Say = append(s.Lines, within(p.Points, k, n)), append(s.Say, reading.PartName(k, n)+": "+p.Say)
			}
		}
		if len(parts) == 0 {
			for _, p := range b.Pieces {
				s.Lines, s.Say = append(s.Lines, p.Points), append(s.Say, p.Say)
			}
		}
		for _, e := range b.Empty {
			s.Empty = append(s.Empty, e.Outline)
		}
		all[b.Label] = s
	}
	return all
}

// partsOf returns the parts with which a row of boxes begins.
func partsOf(boxes []reading.Box) []reading.Box {
	for i, b := range boxes {
		if b.Part == 0 {
			return boxes[:i]
		}
	}
	return boxes
}

// within carries places of a part of a box, of n by n, to the box.
func within(points []plane.Point, part, n int) (out []plane.Point) {
	low := plane.Pt(float64(part%n), float64(part/n))
	for _, p := range points {
		out = append(out, low.Add(p).Mul(1/float64(n)))
	}
	return out
}

// JSON answers with a value as JSON. A browser that has gone meanwhile is no error.
func JSON(w http.ResponseWriter, v any) error {
	b, err := json.Marshal(v)
	if err != nil {
		return err
	}
	w.Header().Set("Content-Type", "application/json")
	_, _ = w.Write(b)
	return nil
}

// Tenths returns a place to a tenth of a pixel, as pages show and send it.
func Tenths(at plane.Point) plane.Point {
	return plane.Pt(math.Round(at.X*10)/10, math.Round(at.Y*10)/10)
}
