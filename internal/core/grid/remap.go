package grid

import (
	"maps"
	"math"
	"slices"

	"zestysketch/internal/core/plane"
)

// Alike reports whether two plans have the same boxes by the same names: then
// what was ticked stays ticked.
func (p Plan) Alike(o Plan) bool {
	g, h := p.Grid, o.Grid
	if g.Columns != h.Columns || g.Rows != h.Rows || g.Labels != h.Labels {
		return false
	}
	if (p.Frame == nil) != (o.Frame == nil) || p.Frame != nil && *p.Frame != *o.Frame {
		return false
	}
	return same(p.Marks.ReferenceX, o.Marks.ReferenceX, p.Reference.Width, o.Reference.Width) && same(p.Marks.ReferenceY, o.Marks.ReferenceY, p.Reference.Height, o.Reference.Height)
}

// SameSheets reports whether what was printed and ruled by one plan serves by the other: the same lines at the same
// places of the same paper.
func (p Plan) SameSheets(o Plan) bool {
	return p.Alike(o) && near(p.Marks.SheetX, o.Marks.SheetX) && near(p.Marks.SheetY, o.Marks.SheetY) &&
		p.Sheet.Panels == o.Sheet.Panels && near(p.onPaper(), o.onPaper())
}

// onPaper returns the sizes and places that sheets and prints have.
func (p Plan) onPaper() []float64 {
	return []float64{p.Sheet.Stock[0], p.Sheet.Stock[1], p.Sheet.Origin.X, p.Sheet.Origin.Y, p.Sheet.Strip, p.Reference.Width, p.Reference.Height}
}

// near compares places to a hundredth of a millimetre.
func near(a, b []float64) bool {
	return slices.EqualFunc(a, b, func(x, y float64) bool { return math.Abs(x-y) < 0.01 })
}

// same compares marks as shares of their sides: another printed size is no other grid.
func same(a, b []float64, sideA, sideB float64) bool {
	for i := range a {
		if d := a[i]/sideA - b[i]/sideB; d > 1e-6 || d < -1e-6 {
			return false
		}
	}
	return true
}

// covered is the share of a box that must have been drawn for it to count (ours).
const covered = 0.9

// Carry returns which boxes of the plan are done, given those of an earlier
// plan of the same picture: a box is done where nearly all of it lies in boxes
// that were. The value of a box, such as when it was done, is the latest of
// those it comes from, as later says. Without a frame on both, places are
// compared as shares of the reference.
func Carry[V any](from, to Plan, done map[string]V, later func(a, b V) V) map[string]V {
	out := map[string]V{}
	if from.Alike(to) {
		maps.Copy(out, done)
		return out
	}
	const fine = 6 // places a box each way
	for _, c := range to.Cells() {
		in, value, any := 0, *new(V), false
		for i := range fine * fine {
			at := plane.Pt(c.Reference.Min.X+c.Reference.Width()*(float64(i%fine)+0.5)/fine, c.Reference.Min.Y+c.Reference.Height()*(float64(i/fine)+0.5)/fine)
			label, ok := from.labelAt(carryPoint(from, to, at))
			v, was := done[label]
			if !ok || !was {
				continue
			}
			if in++; any {
				value = later(value, v)
			} else {
				value, any = v, true
			}
		}
		if float64(in) >= covered*fine*fine {
			out[c.Label] = value
		}
	}
	return out
}

// carryPoint carries a place on one plan's reference to the other's.
func carryPoint(from, to Plan, at plane.Point) plane.Point {
	if from.Frame != nil && to.Frame != nil && from.Frame.Picture == to.Frame.Picture {
		return from.FromPicture(to.ToPicture(at))
	}
	return plane.Pt(at.X*from.Reference.Width/to.Reference.Width, at.Y*from.Reference.Height/to.Reference.Height)
}

// labelAt returns the box at a place on the reference; ok is false outside.
func (p Plan) labelAt(at plane.Point) (label string, ok bool) {
	if at.X < 0 || at.Y < 0 || at.X >= p.Reference.Width || at.Y >= p.Reference.Height {
		return "", false
	}
	return p.Cell(stripAt(p.Marks.ReferenceX, at.X), stripAt(p.Marks.ReferenceY, at.Y)).Label, true
}
