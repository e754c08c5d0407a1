package accuracy

import (
	"math"
	"slices"

	"zestysketch/internal/core/plane"
)

// Cell says what was found in one box.
type Cell struct {
	Label     string      `json:"label"`
	State     State       `json:"state"`
	Done      float64     `json:"done"`       // share of the wanted lines that are there, 0 to 1
	Shift     plane.Point `json:"shift_cell"` // drawn minus wanted, +x too far right, +y too low
	Sure      Sure        `json:"sure"`
	AcrossDeg float64     `json:"across_deg"` // the direction that is known best, from +x towards +y
	Uncertain float64     `json:"uncertain_cell"`
	Missing   float64     `json:"missing"`                // share of the wanted lines, 0 to 1
	Extra     float64     `json:"extra"`                  // share of the drawn lines, 0 to 1
	Lines     float64     `json:"lines"`                  // length of the wanted lines, in boxes
	There     float64     `json:"drawn_lines"`            // length of the lines drawn in it, in boxes
	Local     plane.Point `json:"local_cell"`             // the shift without the move, turn and size of the whole
	Slipped   float64     `json:"slipped_cell,omitempty"` // at least so far off by itself, in whatever direction, where the shift is known across alone
	Wrong     bool        `json:"wrong"`                  // its lines are further off than the tolerance and the doubt together
	Other     bool        `json:"other"`                  // lines are there, but most are not the picture's, and most of the picture's are not there
	Burnt     bool        `json:"burnt,omitempty"`        // light shines back from it: nothing is known of it
	Broken    int         `json:"broken"`                 // lines that should run on into the next box, right or below, and do not
}

// Size returns how far the box is known to be off, in boxes.
func (c Cell) Size() float64 { return max(c.Slipped, math.Hypot(c.Shift.X, c.Shift.Y)) }

// off reports whether a box is further off than a tolerance, given its shift: what it slipped
// by is a least and has no doubt left.
func (c Cell) off(shift plane.Point, tolerance float64) bool {
	return c.Slipped > tolerance || math.Hypot(shift.X, shift.Y) > tolerance+2*c.Uncertain
}

// State is how far a box is drawn.
type State string

// The states of a box.
const (
	Empty   State = "empty"
	Started State = "started"
	Drawn   State = "drawn"
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

// Boxes is the third step: what was found in every box, and the fit of the whole.
type Boxes struct {
	Matched
	Cells []Cell
	Fit   Fit

	whole   similar
	inBox   []drawnIn
	swapped []bool // in rows or columns of which another stands there
}

// Boxes says of every box how far it is drawn and how far it is off, by a
// tolerance in boxes.
func (m Matched) Boxes(tolerance float64) Boxes {
	in := m.extras()
	return m.boxes(tolerance, in, m.inExchanged(in))
}

// boxes is Boxes, given what is drawn in each and which are exchanged: where a sheet's corners are
// still looked for, none are.
func (m Matched) boxes(tolerance float64, in []drawnIn, exchanged []bool) Boxes {
	n, done := m.net, m.present()
	b := Boxes{Matched: m, Cells: make([]Cell, n.count()), inBox: in, swapped: exchanged}
	toned, burnt := m.toned(), m.burnt()
	b.shifts = slices.Clone(m.shifts)
	for i := range b.Cells {
		c := &b.Cells[i]
		c.Label = m.Plan.Grid.Labels.Label(i%n.columns, i/n.columns)
		c.Lines = float64(len(m.wanted[i])) / n.cell
		c.There = in[i].marks / n.cell
		c.Done, c.Missing, c.Extra = done[i], 1-done[i], in[i].extra/max(1, in[i].marks)
		c.State = m.state(c.Lines, done[i], c.There)
		if toned[i] >= halfThere {
			c.State = Drawn
		}
		if c.Lines < leastToDraw {
			c.Missing = 0
		}
		if burnt[i] {
			*c = Cell{Label: c.Label, State: Empty, Sure: None, Burnt: true}
			b.shifts[i] = boxShift{sure: None}
			continue
		}
		c.Other = c.State != Empty && toned[i] < halfThere && (exchanged[i] || m.other(i, in[i], done[i]))
		if c.State == Empty || c.Lines < leastToDraw || exchanged[i] { // what lies near is the next box's
			b.shifts[i] = boxShift{sure: None}
		}
	}
	b.Fit, b.whole = fitPairs(b.pairs, b.shifts, n, noWeight)
	for i, s := range b.shifts {
		b.off(&b.Cells[i], i, s, tolerance)
	}
	b.joins(b.Cells)
	b.Fit.RMS = rest(b.Cells)
	return b
}

// So long a line, in boxes, must be wanted and drawn, and such a share of either has
// nothing to do with the other, where what is drawn is something else. Of a
// photograph's edges everyone draws others.
const leastOther, mostlyOther, tonalOther = 0.6, 0.5, 0.75

// other reports whether a box holds other lines than its picture's, of which such a share is
// there: where most are, they are only drawn badly.
func (m Matched) other(i int, in drawnIn, done float64) bool {
	limit := mostlyOther
	if m.Tonal {
		limit = tonalOther
	}
	wanted := len(m.wanted[i])
	return done < mostlyThere && float64(wanted) > leastOther*m.net.cell && in.marks > leastOther*m.net.cell &&
		explained(m.pairs[i], wanted) < 1-limit && in.foreign > limit*in.marks
}

// off fills in how far box i is off, if its lines tell.
func (m Boxes) off(c *Cell, i int, s boxShift, tolerance float64) {
	n := m.net
	if c.Sure = s.sure; c.Sure == None {
		return
	}
	c.AcrossDeg, c.Uncertain = s.across, s.uncertain/n.cell
	cw, ch := m.Plan.Grid.SheetCell[0]*m.Frame.PerMM, m.Plan.Grid.SheetCell[1]*m.Frame.PerMM
	c.Shift, c.Slipped = plane.Pt(s.shift.X/cw, s.shift.Y/ch), s.slipped/n.cell
	mx, my := n.middle(i)
	wx, wy := m.whole.at(mx-float64(n.w)/2, my-float64(n.h)/2)
	local := s.shift.Sub(plane.Pt(wx, wy))
	if c.Sure == Across {
		sin, cos := math.Sincos(s.across * math.Pi / 180)
		along := s.shift.X*cos + s.shift.Y*sin - wx*cos - wy*sin
		local = plane.Pt(along*cos, along*sin)
	}
	c.Local = plane.Pt(local.X/cw, local.Y/ch)
	c.Wrong = c.off(c.Shift, tolerance)
}

// state says how far a box is, given the lengths of its wanted and its drawn
// lines, in boxes, and the share of the wanted ones that is there.
func (d Seen) state(wanted, done, drawn float64) State {
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
func (d Matched) joins(cells []Cell) {
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
