package accuracy

import (
	"cmp"
	"slices"

	"zestysketch/internal/core/lines"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/core/strokes"
)

// Leave is where a drawn line first leaves the picture's, which it followed until then.
type Leave struct {
	Cell string      `json:"cell"`
	At   plane.Point `json:"at_mm"`    // on the sheet
	Off  float64     `json:"off_cell"` // how long it is then away
}

// A drawn line follows the picture's within followsCell, and has left it where it lies beside within
// besideLeft. It must follow for so long first and then be away for so long; across leaveGap marks it may be
// hidden by the grid. Lengths are boxes, all ours.
const (
	followsCell, besideLeft  = 0.06, 0.5
	leastFollowed, leastAway = 0.2, 0.3
	asSteep                  = 0.95 // cosine: within 18°
	leaveGap, mostLeaves     = 4, 8
)

// leaves returns where drawn lines first leave the picture's, those that are then away for longest first; of
// a photograph, of whose edges everyone draws others, none.
func (d Boxes) leaves() (all []Leave) {
	if d.Tonal {
		return nil
	}
	for _, one := range strokes.Link(slices.Concat(d.wanted...), d.net.w, d.net.h) {
		forward := slices.Clone(one.Marks)
		slices.Reverse(one.Marks)
		for _, marks := range [][]lines.Mark{forward, one.Marks} {
			if at, off, ok := d.leaveOf(marks); ok {
				on := d.Frame.Sheet(plane.Pt(float64(at.X), float64(at.Y)))
				all = append(all, Leave{d.Plan.CellAt(on).Label, on, off / d.net.cell})
			}
		}
	}
	slices.SortStableFunc(all, func(a, b Leave) int { return cmp.Compare(b.Off, a.Off) })
	return all[:min(len(all), mostLeaves)]
}

// follows reports whether a line is drawn where a wanted mark lies, and as steep.
func (d Boxes) follows(m lines.Mark) (found bool) {
	d.drawn.Around(m.X, m.Y, float32(followsCell*d.net.cell), func(o lines.Mark) bool {
		c := o.NX*m.NX + o.NY*m.NY
		found = c > asSteep || c < -asSteep
		return !found
	})
	return found
}

// leaveOf returns the first mark of a line from which on the drawing is away, and for how many pixels it then is.
func (d Boxes) leaveOf(marks []lines.Mark) (at lines.Mark, off float64, ok bool) {
	followed, away, beside := 0, 0, 0 // marks one after another
	ends := func() bool {
		cell := d.net.cell
		return float64(followed) >= leastFollowed*cell && float64(away) >= leastAway*cell && 2*beside >= away
	}
	for i, m := range marks {
		if d.follows(m) {
			if ends() {
				break
			}
			if away > leaveGap {
				followed = 0
			}
			followed, away, beside = followed+1, 0, 0
			continue
		}
		if away == 0 {
			at = marks[i]
		}
		away++
		if hasNear(d.drawn, m, m.X, m.Y, float32(besideLeft*d.net.cell)) {
			beside++
		}
	}
	return at, float64(away), ends()
}
