package accuracy

import (
	"math"
	"slices"

	"zestysketch/internal/core/lines"
	"zestysketch/internal/core/plane"
)

// Cell says what was found in one box.
type Cell struct {
	Label     string      `json:"label"`
	State     string      `json:"state"`      // Empty, Started or Drawn
	Done      float64     `json:"done"`       // share of the wanted lines that are there, 0 to 1
	Shift     plane.Point `json:"shift_cell"` // drawn minus wanted, +x too far right, +y too low
	Sure      string      `json:"sure"`       // Both, Across or None
	AcrossDeg float64     `json:"across_deg"` // the direction that is known best, from +x towards +y
	Uncertain float64     `json:"uncertain_cell"`
	Missing   float64     `json:"missing"`    // share of the wanted lines, 0 to 1
	Extra     float64     `json:"extra"`      // share of the drawn lines, 0 to 1
	Lines     float64     `json:"lines"`      // length of the wanted lines, in boxes
	Local     plane.Point `json:"local_cell"` // the shift without the move, turn and size of the whole
	Wrong     bool        `json:"wrong"`      // its lines are further off than the tolerance and the doubt together
	Broken    int         `json:"broken"`     // lines that should run on into the next box, right or below, and do not
}

// Size returns the length of the shift in boxes.
func (c Cell) Size() float64 { return math.Hypot(c.Shift.X, c.Shift.Y) }

// How far a box is.
const (
	Empty   = "empty"
	Started = "started"
	Drawn   = "drawn"
)

// What makes a box done: so much of its wanted lines are there; and begun.
const (
	mostlyThere = 0.66
	halfThere   = 0.33
	hardlyThere = 0.12
	presentCell = 0.13 // how near a drawn line counts as there, in boxes
	leastToDraw = 0.12 // length of line, in boxes, below which a box is blank
	strayMarks  = 0.12 // length of line, in boxes, that is a smudge
)

// Lines measures every box's lines. It wants a reference.
func (d *Drawing) Lines(tolerance float64) ([]Cell, Fit) {
	n := d.net
	v := search(d.wanted, d.channels, n)
	shifts, pairs := refine(d.wanted, d.drawn, n, v)
	d.pairs = pairs
	fit, whole := fitPairs(pairs, shifts, n)
	d.moved = d.settled(shifts, whole)
	extra, length := d.extras(d.moved)
	d.done, d.inBox = d.present(d.moved), length
	cells := make([]Cell, n.count())
	cw, ch := d.Plan.Grid.SheetCell[0]*d.Frame.PerMM, d.Plan.Grid.SheetCell[1]*d.Frame.PerMM
	for i, s := range shifts {
		c := &cells[i]
		c.Label = d.Plan.Grid.Labels.Label(i%n.columns, i/n.columns)
		c.Lines = float64(len(d.wanted[i])) / n.cell
		c.Done, c.Missing, c.Extra = d.done[i], 1-d.done[i], extra[i]
		c.State = d.state(c.Lines, d.done[i], length[i]/n.cell)
		c.Sure, c.AcrossDeg, c.Uncertain = s.sure, s.across, s.uncertain/n.cell
		if c.Lines < leastToDraw {
			c.Missing = 0
		}
		if c.State == Empty || c.Lines < leastToDraw {
			c.Sure = None
		}
		if c.Sure == None {
			c.AcrossDeg, c.Uncertain = 0, 0
			continue
		}
		c.Shift = plane.Pt(s.shift.X/cw, s.shift.Y/ch)
		mx, my := n.middle(i)
		wx, wy := whole.at(mx-float64(n.w)/2, my-float64(n.h)/2)
		lx, ly := s.shift.X-wx, s.shift.Y-wy
		if c.Sure == Across {
			sin, cos := math.Sincos(s.across * math.Pi / 180)
			along := s.shift.X*cos + s.shift.Y*sin - wx*cos - wy*sin
			lx, ly = along*cos, along*sin
		}
		c.Local = plane.Pt(lx/cw, ly/ch)
		c.Wrong = c.Size() > tolerance+2*c.Uncertain
	}
	d.joins(cells)
	fit.RMS = rest(cells)
	return cells, fit
}

// state says how far a box is, given the lengths of its wanted and its drawn
// lines, in boxes, and the share of the wanted ones that is there.
func (d *Drawing) state(wanted, done, drawn float64) string {
	enough := mostlyThere
	if d.Tonal { // of a photograph's edges everyone draws others
		enough = halfThere
	}
	switch {
	case drawn < strayMarks || drawn < hardlyThere*wanted:
		return Empty
	case wanted < leastToDraw || done >= enough:
		return Drawn
	}
	return Started
}

// rest returns the root mean square of the shifts that the whole does not
// explain, over the boxes that tell, weighed by their lines; in boxes.
func rest(cells []Cell) float64 {
	sum, n := 0.0, 0.0
	for _, c := range cells {
		if c.Sure == None {
			continue
		}
		w := min(1, c.Lines)
		sum += w * (c.Local.X*c.Local.X + c.Local.Y*c.Local.Y)
		n += w
	}
	if n == 0 {
		return 0
	}
	return math.Sqrt(sum / n)
}

// settled returns the shift of every box for laying the reference on the
// drawing: its own where it is sure, else what the whole's move makes of it.
func (d Drawing) settled(shifts []boxShift, whole similar) []plane.Point {
	out := make([]plane.Point, len(shifts))
	for i, s := range shifts {
		x, y := d.net.middle(i)
		wx, wy := whole.at(x-float64(d.net.w)/2, y-float64(d.net.h)/2)
		switch s.sure {
		case Both:
			out[i] = s.shift
		case Across:
			sin, cos := math.Sincos(s.across * math.Pi / 180)
			along := -wx*sin + wy*cos
			out[i] = plane.Pt(s.shift.X-along*sin, s.shift.Y+along*cos)
		default:
			out[i] = plane.Pt(wx, wy)
		}
	}
	return out
}

// present returns the share of each box's wanted marks that have a drawn line
// near where the box's shift puts them.
func (d Drawing) present(moved []plane.Point) []float64 {
	reach := float32(presentCell * d.net.cell)
	done := make([]float64, len(d.wanted))
	for i, points := range d.wanted {
		there := 0
		for _, m := range points {
			dx, dy := field(moved, d.net, float64(m.X), float64(m.Y))
			if hasNear(d.drawn, m, m.X+float32(dx), m.Y+float32(dy), reach) {
				there++
			}
		}
		if len(points) > 0 {
			done[i] = float64(there) / float64(len(points))
		}
	}
	return done
}

// hasNear reports whether there is a mark of about m's direction within reach of a place.
func hasNear(at *lines.Index, m lines.Mark, x, y, reach float32) (found bool) {
	at.Around(x, y, reach, func(o lines.Mark) bool {
		c := o.NX*m.NX + o.NY*m.NY
		found = c > 0.75 || c < -0.75
		return !found
	})
	return found
}

// extras returns, for each box, the share of its drawn marks that no wanted
// line explains, and how many drawn marks there are.
func (d Drawing) extras(moved []plane.Point) (share, length []float64) {
	wanted := lines.NewIndex(slices.Concat(d.wanted...), d.net.w, d.net.h, 8)
	reach := float32(presentCell * d.net.cell)
	share, length = make([]float64, len(moved)), make([]float64, len(moved))
	for _, m := range d.drawn.Marks {
		i := d.net.at(float64(m.X), float64(m.Y))
		if i < 0 {
			continue
		}
		length[i]++
		dx, dy := field(moved, d.net, float64(m.X), float64(m.Y))
		if !hasNear(wanted, m, m.X-float32(dx), m.Y-float32(dy), reach) {
			share[i]++
		}
	}
	for i := range share {
		if length[i] > 0 {
			share[i] /= length[i]
		}
	}
	return share, length
}

func quantile(values []float64, share float64) float64 {
	if len(values) == 0 {
		return 0
	}
	sorted := slices.Clone(values)
	slices.Sort(sorted)
	return sorted[int(share*float64(len(sorted)-1)+0.5)]
}

// stepCell is how far, in boxes, a line may jump where it crosses into the next box.
const stepCell = 0.15

// joins counts, for each box, the lines that cross into the box right of it or
// below and do not meet there: the two boxes' shifts, across the line, differ.
func (d *Drawing) joins(cells []Cell) {
	for i := range cells {
		for _, next := range []struct {
			j        int
			x, y     float64 // the edge: one of them is infinite
			neighbor bool
		}{
			{i + 1, d.net.x[i%d.net.columns+1], math.Inf(1), i%d.net.columns < d.net.columns-1},
			{i + d.net.columns, math.Inf(1), d.net.y[i/d.net.columns+1], i/d.net.columns < d.net.rows-1},
		} {
			if !next.neighbor || cells[i].Sure == None || cells[next.j].Sure == None {
				continue
			}
			last := math.Inf(-1)
			for _, m := range d.wanted[i] {
				edge, along, crosses := math.Abs(float64(m.X)-next.x), float64(m.Y), m.NY
				if math.IsInf(next.x, 1) {
					edge, along, crosses = math.Abs(float64(m.Y)-next.y), float64(m.X), m.NX
				}
				if edge > 1 || crosses < 0.5 && crosses > -0.5 || math.Abs(along-last) < 0.1*d.net.cell {
					continue
				}
				last = along
				jump := float64(m.NX)*(d.moved[next.j].X-d.moved[i].X) + float64(m.NY)*(d.moved[next.j].Y-d.moved[i].Y)
				if math.Abs(jump) > stepCell*d.net.cell {
					cells[i].Broken++
				}
			}
		}
	}
}
