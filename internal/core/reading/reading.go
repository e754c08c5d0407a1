// Package reading answers what everybody who draws by a grid asks of every box: where
// does the line enter, where does it leave, how does it go, what stays empty?
//
// It knows lines and boxes. Pictures become lines in package lines, or are the borders of
// a value map; where a drawing's lines lie is package accuracy's. Its JSON is the open
// file format zesty-boxes/1, docs/formats.md.
package reading

import (
	"cmp"
	"math"
	"slices"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/lines"
	"zestysketch/internal/core/plane"
)

// Format names the version of the file that this package writes.
const Format = "zesty-boxes/1"

// Reading is what is in every box of a plan, in the plan's order; a box that is divided
// again is followed by its parts.
type Reading struct {
	Format string  `json:"format"`
	Finest Finest  `json:"finest"`
	Boxes  []Box   `json:"boxes"`
	Gaps   []Empty `json:"gaps,omitempty"` // closed shapes of paper that help most, the best first; in parts of the sheet
}

// Box is one box: places in it are parts of it, 0 to 1, right and down.
type Box struct {
	Label      string     `json:"label"`
	Part       int        `json:"part,omitempty"` // of a divided box, row by row from 1; 0 for a whole one
	Crossings  []Crossing `json:"crossings"`
	Pieces     []Piece    `json:"pieces"` // in the order in which to draw them
	Empty      []Empty    `json:"empty"`  // the largest first
	Along      []Side     `json:"along,omitempty"`
	Shape      Shape      `json:"shape,omitempty"` // of its main piece
	Near       float64    `json:"near,omitempty"`  // how near that is, 0 to 1
	Difficulty float64    `json:"difficulty"`
	TooMuch    bool       `json:"too_much,omitempty"`
	Tone       string     `json:"tone,omitempty"` // of a picture that has tones
	Say        []string   `json:"say"`            // a sentence for each piece, then for the rest
	Key        string     `json:"key"`            // all of it, for the teacher
}

// Side is a side of a box.
type Side string

// The sides of a box.
const (
	Top    Side = "top"
	Right  Side = "right"
	Bottom Side = "bottom"
	Left   Side = "left"
)

// Crossing is a place where a line crosses a side. Seen from the box beside it is the
// same, with the same ID.
type Crossing struct {
	ID        int     `json:"id"`
	Side      Side    `json:"side"`
	At        float64 `json:"at"`               // from the left or the top, 0 to 1
	Direction float64 `json:"direction_deg"`    // of the line there: 0 level, 90 upright, more than 0 rising to the right
	Breadth   float64 `json:"breadth_cell"`     // of the line; 0 where nobody said
	Corner    bool    `json:"corner,omitempty"` // it is so near a corner that it may be called one
	Say       string  `json:"say"`
}

// Place returns where in its box a crossing lies.
func (c Crossing) Place() plane.Point {
	switch c.Side {
	case Top:
		return plane.Pt(c.At, 0)
	case Bottom:
		return plane.Pt(c.At, 1)
	case Left:
		return plane.Pt(0, c.At)
	}
	return plane.Pt(1, c.At)
}

// Wish says how a reading is wanted.
type Wish struct {
	Finest Finest // of the fractions that are used; Thirds where it is empty
	Gaps   int    // how many closed shapes of paper are wanted; twelve where it is 0
	// Breadth returns how broad the picture's line is at a pixel, in pixels; nil for not known.
	Breadth func(at, direction plane.Point) float64
	// Edge returns how tones change across a line at a pixel; nil where all lines are drawn ones.
	Edge func(at, direction plane.Point) Edge
	// Touch returns in which ninth of a rectangle of the picture, row by row, something differs from the rest of it;
	// false where it is one bare surface. Nil for not known.
	Touch func(low, high plane.Point) (ninth int, differs bool)
	// Light returns how light the picture is at a pixel, 0 to 1; nil for not known.
	Light func(at plane.Point) float64
}

// Read returns what strokes, in pixels of a plan's picture, do in its boxes.
func Read(p grid.Plan, strokes []lines.Stroke, w Wish) Reading {
	w.Finest = cmp.Or(w.Finest, Thirds)
	r := reader{plan: p, wish: w, whole: wholeNet(p)}
	for _, s := range strokes {
		if run, ok := r.run(s); ok {
			r.runs = append(r.runs, run)
		}
	}
	out := Reading{Format: Format, Finest: w.Finest, Boxes: r.boxes(r.whole)}
	out.Gaps = r.gaps()
	if len(p.Grid.Split) == 0 {
		return out
	}
	var all []Box
	for i, b := range out.Boxes {
		all = append(all, b)
		if n := p.Grid.Split[b.Label]; n > 1 {
			parts := r.boxes(r.whole.part(i, n))
			for k := range parts {
				parts[k].Label, parts[k].Part = b.Label, k+1
			}
			all[len(all)-1].Say = byParts(parts, n)
			all = append(all, parts...)
		}
	}
	out.Boxes = all
	return out
}

// reader reads one picture.
type reader struct {
	plan  grid.Plan
	wish  Wish
	whole net
	runs  []run
	next  int // the number of the next crossing
}

// net is boxes between upright and level lines, mm on the sheet.
type net struct {
	x, y  []float64
	label func(column, row int) string
}

func wholeNet(p grid.Plan) net { return net{p.Marks.SheetX, p.Marks.SheetY, p.Grid.Labels.Label} }

func (n net) columns() int { return len(n.x) - 1 }
func (n net) rows() int    { return len(n.y) - 1 }

// part returns the net of a box divided again, as it is drawn.
func (n net) part(box, parts int) net {
	c, r := box%n.columns(), box/n.columns()
	even := func(from, to float64) []float64 {
		out := make([]float64, parts+1)
		for i := range out {
			out[i] = from + (to-from)*float64(i)/float64(parts)
		}
		return out
	}
	return net{even(n.x[c], n.x[c+1]), even(n.y[r], n.y[r+1]), func(column, row int) string { return n.label(c, r) }}
}

// at returns the box in which a place lies; false beside the net.
func (n net) at(p plane.Point) (column, row int, ok bool) {
	column, row = strip(n.x, p.X), strip(n.y, p.Y)
	return column, row, column >= 0 && row >= 0 && column < n.columns() && row < n.rows()
}

func strip(marks []float64, v float64) int {
	i, found := slices.BinarySearch(marks, v)
	if !found {
		i--
	}
	return i
}

// inside returns a place as parts of a box.
func (n net) inside(column, row int, p plane.Point) plane.Point {
	return plane.Pt((p.X-n.x[column])/(n.x[column+1]-n.x[column]), (p.Y-n.y[row])/(n.y[row+1]-n.y[row]))
}

// cell returns the side of a box of its area, mm.
func (n net) cell(column, row int) float64 {
	return math.Sqrt((n.x[column+1] - n.x[column]) * (n.y[row+1] - n.y[row]))
}

// usual returns the side of the usual box, mm.
func (n net) usual() float64 { return n.cell(n.columns()/2, n.rows()/2) }

// run is a stroke on the sheet, mm, and its length up to each point.
type run struct {
	points []plane.Point
	gone   []float64
	closed bool
	stroke lines.Stroke
}

// shortRun is how long a stroke must be, in boxes, to be looked at.
const shortRun = 0.06

// reachEdge is how near the frame's edge, in boxes, a line that runs towards it is taken
// to run off it: the last pixels of a picture show no line.
const reachEdge = 0.05

func (r *reader) run(s lines.Stroke) (run, bool) {
	out := run{closed: s.Closed, stroke: s}
	add := func(px plane.Point) { out.points = append(out.points, r.plan.ToSheet(r.plan.FromPicture(px))) }
	for _, px := range s.Points {
		add(px)
	}
	if len(s.Points) < 2 {
		return out, false
	}
	if s.Closed {
		add(s.Points[0])
	} else {
		out.points = r.toEdge(out.points)
	}
	out.gone = make([]float64, len(out.points))
	for i := 1; i < len(out.points); i++ {
		out.gone[i] = out.gone[i-1] + out.points[i].Sub(out.points[i-1]).Len()
	}
	return out, out.gone[len(out.gone)-1] > shortRun*r.whole.usual()
}

// toEdge lengthens a line to the frame's edge where it ends just before it.
func (r *reader) toEdge(points []plane.Point) []plane.Point {
	reach := reachEdge * r.whole.usual()
	w, h := r.plan.Sheet.Width, r.plan.Sheet.Height
	for range 2 {
		slices.Reverse(points)
		n := len(points)
		end, from := points[n-1], points[max(0, n-5)]
		way := end.Sub(from)
		if way.Len() == 0 {
			continue
		}
		way = way.Mul(1 / way.Len())
		least := math.Inf(1)
		for _, edge := range [4]struct{ gap, speed float64 }{{end.X, -way.X}, {w - end.X, way.X}, {end.Y, -way.Y}, {h - end.Y, way.Y}} {
			if edge.speed > 0.2 && edge.gap >= 0 && edge.gap < reach {
				least = min(least, edge.gap/edge.speed)
			}
		}
		if least < 3*reach {
			points = append(points, end.Add(way.Mul(least+10*beyondCell*r.whole.usual())))
		}
	}
	return points
}
