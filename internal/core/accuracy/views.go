package accuracy

import (
	"cmp"
	"math"
	"slices"

	"zestysketch/internal/core/lines"
)

// Extent is one of several views on a sheet, in millimetres.
type Extent struct {
	Left   float64 `json:"left_mm"`
	Right  float64 `json:"right_mm"`
	Top    float64 `json:"top_mm"`
	Bottom float64 `json:"bottom_mm"`

	Named map[string]float64 `json:"named_mm,omitempty"` // where its named heights lie, of those that are seen
}

// Height is a named height of a solid, such as its neck: a narrow or a broad place of its outline.
type Height struct {
	Name  string
	Share float64 // from the top line to the bottom line, 0 to 1
}

// gutterCell is the least empty strip between two views, in boxes; a view is
// at least as broad as smallView.
const gutterCell, smallView = 0.25, 0.5

// Extents returns the views drawn side by side on a sheet, from the left: what
// is parted by upright strips in which nothing is drawn; and where the named heights lie in each.
func (d Seen) Extents(heights []Height) []Extent {
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
			e.name(heights, d.profile(view, e))
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
	e := Extent{Left: mm(left), Right: mm(right), Top: mm(top), Bottom: mm(bottom)}
	return e, float64(right-left) > smallView*d.net.cell && float64(bottom-top) > smallView*d.net.cell
}

// Of an outline's profile: into how many rows a view is cut, how far from its height a named place is looked for and
// how far beside it the outline is compared, as shares of the view's height, and how much narrower or broader it must be
// there (ours).
const profileRows, lookFor, beside, standsOut = 120, 0.09, 0.1, 0.12

// profile returns how broad a view is at rows of equal height from its top, as shares of its breadth; rows without marks
// are between those that have some.
func (d Seen) profile(view []lines.Mark, e Extent) []float64 {
	wide := make([][2]float64, profileRows)
	for i := range wide {
		wide[i] = [2]float64{math.Inf(1), math.Inf(-1)}
	}
	for _, m := range view {
		x, y := (float64(m.X)-d.Frame.Margin)/d.Frame.PerMM, (float64(m.Y)-d.Frame.Margin)/d.Frame.PerMM
		i := max(0, min(profileRows-1, int(profileRows*(y-e.Top)/(e.Bottom-e.Top))))
		wide[i] = [2]float64{min(wide[i][0], x), max(wide[i][1], x)}
	}
	rows := make([]float64, profileRows)
	for i := range rows {
		// Over five rows: a line that is hardly drawn in one is seen in the next.
		near := [2]float64{math.Inf(1), math.Inf(-1)}
		for k := max(0, i-2); k <= min(profileRows-1, i+2); k++ {
			near = [2]float64{min(near[0], wide[k][0]), max(near[1], wide[k][1])}
		}
		rows[i] = max(0, near[1]-near[0]) / (e.Right - e.Left)
	}
	return rows
}

// name finds the named heights: the narrowest or broadest row near where each belongs, where the outline is
// clearly broader or narrower on both sides.
func (e *Extent) name(heights []Height, rows []float64) {
	n := float64(len(rows))
	for _, h := range heights {
		from, to := int(max(0, (h.Share-lookFor)*n)), int(min(n-1, (h.Share+lookFor)*n))
		least, most := from, from
		for i := from; i <= to; i++ {
			if rows[i] < rows[least] {
				least = i
			}
			if rows[i] > rows[most] {
				most = i
			}
		}
		for _, at := range []int{least, most} {
			above, below := rows[max(0, at-int(beside*n))], rows[min(len(rows)-1, at+int(beside*n))]
			if at == least && min(above, below) > rows[at]+standsOut || at == most && max(above, below) < rows[at]-standsOut {
				if e.Named == nil {
					e.Named = map[string]float64{}
				}
				e.Named[h.Name] = e.Top + (middleOfPlateau(rows, at)+0.5)/n*(e.Bottom-e.Top)
				break
			}
		}
	}
}

// middleOfPlateau returns the middle of the rows round one that are as broad as it.
func middleOfPlateau(rows []float64, at int) float64 {
	const alike = 0.01
	from, to := at, at
	for from > 0 && math.Abs(rows[from-1]-rows[at]) < alike {
		from--
	}
	for to < len(rows)-1 && math.Abs(rows[to+1]-rows[at]) < alike {
		to++
	}
	return float64(from+to) / 2
}
