package accuracy

import (
	"cmp"
	"math"
	"slices"

	"zestysketch/internal/core/lines"
)

// Halves compares a drawing with its own mirror image about the upright fold in
// its middle, or with itself turned half round about its middle: for each box right of
// the fold, how far its lines sit from where the left half's, folded over or turned
// round, would be.
func (d Seen) Halves(turned bool, tolerance float64) []Cell {
	fold, level := float32(d.net.x[0]+d.net.x[d.net.columns])/2, float32(d.net.y[0]+d.net.y[d.net.rows])/2
	wanted := make([][]lines.Mark, d.net.count())
	for _, m := range d.drawn.Marks {
		if m.X >= fold {
			continue
		}
		m.X, m.NX = 2*fold-m.X, -m.NX
		if turned {
			m.Y, m.NY = 2*level-m.Y, -m.NY
		}
		if i := d.net.at(float64(m.X), float64(m.Y)); i >= 0 {
			wanted[i] = append(wanted[i], m)
		}
	}
	folded := d
	folded.wanted = wanted
	var half []Cell
	for i, c := range folded.Match().Boxes(tolerance).Cells {
		if d.net.x[i%d.net.columns+1] > float64(fold)+1 {
			half = append(half, c)
		}
	}
	return half
}

// Extent is one of several views on a sheet, in millimetres.
type Extent struct {
	Left   float64 `json:"left_mm"`
	Right  float64 `json:"right_mm"`
	Top    float64 `json:"top_mm"`
	Bottom float64 `json:"bottom_mm"`
}

// gutterCell is the least empty strip between two views, in boxes; a view is
// at least as broad as smallView.
const gutterCell, smallView = 0.25, 0.5

// Extents returns the views drawn side by side on a sheet, from the left: what
// is parted by upright strips in which nothing is drawn.
func (d Seen) Extents() []Extent {
	columns := make([][]lines.Mark, d.net.w+1)
	for _, m := range d.drawn.Marks {
		if d.net.at(float64(m.X), float64(m.Y)) >= 0 {
			columns[int(m.X)] = append(columns[int(m.X)], m)
		}
	}
	var all []Extent
	var view []lines.Mark
	empty := 0
	end := func() {
		if e, ok := d.extent(view); ok {
			all = append(all, e)
		}
		view = nil
	}
	for _, c := range columns {
		if len(c) == 0 {
			if empty++; float64(empty) > gutterCell*d.net.cell && view != nil {
				end()
			}
			continue
		}
		empty = 0
		view = append(view, c...)
	}
	end()
	return all
}

func (d Seen) extent(view []lines.Mark) (Extent, bool) {
	if len(view) < int(d.net.cell) {
		return Extent{}, false
	}
	slices.SortFunc(view, func(a, b lines.Mark) int { return cmp.Compare(a.Y, b.Y) })
	// A speck at the end is not the view's end: two in a hundred are left out.
	skip := len(view) / 100
	top, bottom := view[skip].Y, view[len(view)-1-skip].Y
	left, right := float32(math.Inf(1)), float32(0)
	for _, m := range view {
		left, right = min(left, m.X), max(right, m.X)
	}
	mm := func(px float32) float64 { return (float64(px) - d.Frame.Margin) / d.Frame.PerMM }
	e := Extent{mm(left), mm(right), mm(top), mm(bottom)}
	return e, float64(right-left) > smallView*d.net.cell && float64(bottom-top) > smallView*d.net.cell
}
