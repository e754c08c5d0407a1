package accuracy

import (
	"fmt"
	"slices"

	"zestysketch/internal/core/lines"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/core/strokes"
)

// A stroke closes nothing where nearly all of it has one empty part on both sides. Shorter ones are left out, for a
// hand's crumbs are no strokes (ours).
const (
	leastLone = 0.35 // of a box
	mostlyIn  = 0.9  // of a stroke's length
)

// loneStrokes returns the drawn strokes that run along no contour of the picture and part no area from another,
// however finely it is looked: where closed areas are traced, each is a slip.
func (d Matched) loneStrokes(walks []walk, boards []empties) (all []Shaped) {
	var contours []lines.Mark
	for _, w := range walks {
		for _, at := range w.candidates {
			contours = append(contours, lines.Mark{X: float32(at.X), Y: float32(at.Y)})
		}
	}
	near, reach := lines.NewIndex(contours, d.net.w, d.net.h, 8), float32(2*openReach*d.net.cell)
	marks := slices.DeleteFunc(slices.Clone(d.drawn.Marks), func(m lines.Mark) bool { return !m.Ridge })
	for _, s := range strokes.Link(marks, d.net.w, d.net.h) {
		along := 0
		for _, m := range s.Marks {
			near.Around(m.X, m.Y, reach, func(lines.Mark) bool { along++; return false })
		}
		if s.Closed || float64(len(s.Marks)) < leastLone*d.net.cell || 2*along > len(s.Marks) ||
			slices.ContainsFunc(boards, func(b empties) bool { return d.surrounded(s, b) < mostlyIn }) {
			continue
		}
		first, middle, last := s.Marks[0], s.Marks[len(s.Marks)/2], s.Marks[len(s.Marks)-1]
		place := func(m lines.Mark) plane.Point { return plane.Pt(float64(m.X), float64(m.Y)) }
		one := Shaped{Gap: d.around(place(first), place(middle), place(last)), Off: true}
		one.Where = boxesOf(d.Plan, plane.Ring{d.sheetPart(place(first)), d.sheetPart(place(middle)), d.sheetPart(place(last))})
		one.Say = fmt.Sprintf("%s: a stroke stands alone and closes nothing. Close it to a shape, or erase it.", one.Where)
		all = append(all, one)
	}
	return all
}

// surrounded returns for which share of a stroke the same empty part lies on both sides.
func (d Matched) surrounded(s strokes.Stroke, b empties) float64 {
	aside := 1.5 * (shapeReach + 1.5) / float64(b.W) * d.Plan.Sheet.Width * d.Frame.PerMM // past the breadth that lines are taken for, aslant too; pixels
	same := 0
	for _, m := range s.Marks {
		at, off := plane.Pt(float64(m.X), float64(m.Y)), plane.Pt(float64(m.NX), float64(m.NY)).Mul(aside)
		if one, other := b.In(d.sheetPart(at.Add(off))), b.In(d.sheetPart(at.Sub(off))); one >= 0 && one == other {
			same++
		}
	}
	return float64(same) / float64(len(s.Marks))
}
