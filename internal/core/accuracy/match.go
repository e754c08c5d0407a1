package accuracy

import (
	"math"
	"slices"

	"zestysketch/internal/core/lines"
	"zestysketch/internal/core/plane"
)

// Matched is the second step: how the lines of every box of the reference lie
// on the drawing.
type Matched struct {
	Seen

	shifts []boxShift
	pairs  [][]pair      // the wanted marks of each box that found a line
	moved  []plane.Point // how each box is shifted, pixels, those that do not tell by the whole
}

// Match finds for every box the shift at which its lines lie on drawn ones. It
// wants a reference.
func (d Seen) Match() Matched {
	m := Matched{Seen: d}
	m.shifts, m.pairs = refine(d.wanted, d.drawn, d.net, search(d.wanted, d.channels, d.net))
	_, whole := fitPairs(m.pairs, m.shifts, d.net, placeWeight) // along bands that hardly slope nothing is known
	m.moved = d.fillShifts(m.shifts, whole)
	return m
}

// fillShifts returns the shift of every box for laying the reference on the
// drawing: its own where it is sure, else that of the boxes round it that are, and
// where there are none what the whole's move makes of it.
func (d Seen) fillShifts(shifts []boxShift, whole similar) []plane.Point {
	out := make([]plane.Point, len(shifts))
	for i, s := range shifts {
		x, y := d.net.middle(i)
		wx, wy := whole.at(x-float64(d.net.w)/2, y-float64(d.net.h)/2)
		switch others := d.round(shifts, i, plane.Pt(wx, wy)); s.sure {
		case Both:
			out[i] = s.shift
		case Across:
			sin, cos := math.Sincos(s.across * math.Pi / 180)
			along := -others.X*sin + others.Y*cos
			out[i] = plane.Pt(s.shift.X-along*sin, s.shift.Y+along*cos)
		default:
			out[i] = others
		}
	}
	return out
}

// round returns the mean shift of the boxes beside a box that are sure in both
// directions, or another where none is.
func (d Seen) round(shifts []boxShift, box int, other plane.Point) plane.Point {
	var sum plane.Point
	sure := 0.0
	d.net.neighbours(box, func(_, j int) {
		if shifts[j].sure == Both {
			sum, sure = sum.Add(shifts[j].shift), sure+1
		}
	})
	if sure == 0 {
		return other
	}
	return sum.Mul(1 / sure)
}

// present returns the share of each box's wanted marks that have a drawn line
// near where the box's shift puts them. What would lie under a ruled line may be
// there or not; it does not count.
func (d Matched) present() []float64 {
	reach, under := float32(presentCell*d.net.cell), 2*alongRule*d.net.cell
	done := make([]float64, len(d.wanted))
	for i, points := range d.wanted {
		there, of := 0, 0
		for _, m := range points {
			dx, dy := field(d.moved, d.net, float64(m.X), float64(m.Y))
			m.X, m.Y = m.X+float32(dx), m.Y+float32(dy)
			if hasNear(d.drawn, m, m.X, m.Y, reach) {
				there++
			} else if d.alongRule(m, under) != nil {
				continue
			}
			of++
		}
		if of > 0 {
			done[i] = float64(there) / float64(of)
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

// drawnIn is what is drawn in a box: marks that would lie in it were they where they
// belong, and how many of them no wanted line explains, near and closely.
type drawnIn struct{ marks, extra, foreign float64 }

// foreignCell is how near a drawn mark's own wanted line must be, in boxes, once its
// box's shift is taken out.
const foreignCell = 0.06

// extras returns what is drawn in each box.
func (d Matched) extras() []drawnIn {
	wanted := lines.NewIndex(slices.Concat(d.wanted...), d.net.w, d.net.h, 8)
	wide, close := float32(presentCell*d.net.cell), float32(foreignCell*d.net.cell)
	in := make([]drawnIn, len(d.moved))
	for _, m := range d.drawn.Marks {
		dx, dy := field(d.moved, d.net, float64(m.X), float64(m.Y))
		x, y := m.X-float32(dx), m.Y-float32(dy)
		i := d.net.at(float64(x), float64(y))
		if i < 0 {
			continue
		}
		in[i].marks++
		if !hasNear(wanted, m, x, y, close) {
			in[i].foreign++
			if !hasNear(wanted, m, x, y, wide) {
				in[i].extra++
			}
		}
	}
	return in
}
