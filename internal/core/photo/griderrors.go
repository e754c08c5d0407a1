package photo

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/lines"
	"zestysketch/internal/core/plane"
)

// Grid says how well the grid itself was ruled, as far as it still shows.
type Grid struct {
	Shown     float64  `json:"shown"`      // share of its lines that show, 0 to 1
	Counted   [2]int   `json:"counted"`    // columns and rows that were ruled; 0 where they cannot be counted
	Worst     float64  `json:"worst_mm"`   // how much the least equal box is too wide or high
	WorstCell float64  `json:"worst_cell"` // the same in boxes
	WorstAt   string   `json:"worst_at"`   // its column or row
	Skew      float64  `json:"skew_deg"`   // how far its corners are from square, the worst
	Bend      float64  `json:"bend"`       // of the lens, taken out already
	Problems  []string `json:"problems"`

	Curl *Curl `json:"curl,omitempty"` // of the sheet, taken out already; absent where it lies flat
}

// Limits of a ruled grid. The first is the trade's: a common wooden ruler read
// by a child is good to a millimetre or two; the others are ours.
const (
	unequalMM   = 2.0
	unequalCell = 0.06
	skewDeg     = 1.0
	gridSeen    = 0.6 // share of lines below which nothing is said of the grid
)

// JudgeGrid says how well a plan's grid is ruled, from evened ink and the lines found in it.
// Unequal boxes are looked for among clear, the lines beside which nothing of a picture runs.
func JudgeGrid(p grid.Plan, ink lines.Plane, r, clear Ruled, f Frame) Grid {
	g := Grid{Shown: r.Shown(), Problems: []string{}}
	c, w := CountRuled(ink, p, f)
	var have, want []string
	for _, side := range []struct {
		counted, planned int
		what             string
		marks            []float64
	}{{c, p.Grid.Columns, "columns", p.Marks.SheetX}, {w, p.Grid.Rows, "rows", p.Marks.SheetY}} {
		if side.counted > 0 && side.counted != side.planned && !among(side.counted, side.marks) {
			have, want = append(have, fmt.Sprintf("%d %s", side.counted, side.what)), append(want, fmt.Sprint(side.planned))
		}
	}
	if len(have) > 0 {
		g.Counted = [2]int{c, w}
		g.Problems = append(g.Problems, fmt.Sprintf("The grid on the sheet has %s, the plan has %s. Count them again before drawing on.", strings.Join(have, " and "), strings.Join(want, " and ")))
		return g
	}
	if ShownOf(r.Columns) < gridSeen || ShownOf(r.Rows) < gridSeen {
		return g
	}
	g.Counted = [2]int{p.Grid.Columns, p.Grid.Rows}
	clear = clear.orFar(r, findRuled(ink, p, f, farCell), min(p.Grid.SheetCell[0], p.Grid.SheetCell[1]))
	g.unequal(clear.Columns, p.Sheet.Height, "column", func(i int) string { return p.Grid.Labels.Column(i) }, p.Grid.SheetCell[0])
	g.unequal(clear.Rows, p.Sheet.Width, "row", func(i int) string { return p.Grid.Labels.Row(i) }, p.Grid.SheetCell[1])
	if math.Abs(g.Worst) > unequalMM && math.Abs(g.WorstCell) > unequalCell {
		word := "wide"
		if g.WorstAt[:3] == "row" {
			word = "high"
		}
		if g.Worst < 0 {
			word = map[string]string{"wide": "narrow", "high": "low"}[word]
		}
		g.Problems = append(g.Problems, fmt.Sprintf("The boxes are not equal: %s is %s too %s. Measure every mark from the zero again.", g.WorstAt, p.Text(math.Abs(g.Worst)), word))
	}
	if g.Skew > skewDeg {
		g.Problems = append(g.Problems, fmt.Sprintf("The grid is not square: a line leans by %.1f°. Compare the two diagonals.", g.Skew))
	}
	return g
}

// A line that does not show about its place may be ruled far from it, where one shows for so much of
// its length and about as dark as the others.
const farCell, farSeen, farDepth = 0.45, 0.8, 0.6

// orFar returns the lines of a grid, those that do not show near their places in all of it as they
// show far from them; cell is a box's shorter side, mm.
func (r Ruled) orFar(all, far Ruled, cell float64) Ruled {
	replaced := func(near, all, far []Rule) []Rule {
		out := slices.Clone(near)
		for i, there := range far {
			if !all[i].Shown() && there.Seen >= farSeen && there.Depth >= farDepth*r.Depth && math.Abs(there.Off()) > lookCell*cell {
				out[i] = there
			}
		}
		return out
	}
	return Ruled{Columns: replaced(r.Columns, all.Columns, far.Columns), Rows: replaced(r.Rows, all.Rows, far.Rows), Depth: r.Depth}
}

// sameMark is how near, in boxes, a counted line lies to one of the plan's that it may be.
const sameMark = 0.1

// among reports whether the lines of so many equal boxes are all of them a plan's: the others
// were ruled too faintly to be seen, and it is no other grid.
func among(counted int, marks []float64) bool {
	last := marks[len(marks)-1]
	near := sameMark * last / float64(len(marks)-1)
	for i := 1; i < counted; i++ {
		at := last * float64(i) / float64(counted)
		if !slices.ContainsFunc(marks, func(m float64) bool { return math.Abs(m-at) < near }) {
			return false
		}
	}
	return counted < len(marks)-1
}

func (g *Grid) unequal(rules []Rule, long float64, what string, name func(int) string, cell float64) {
	for i, r := range rules {
		if !r.Shown() {
			continue
		}
		if i > 0 && i < len(rules)-1 {
			g.Skew = max(g.Skew, math.Abs(math.Atan((r.Ends[1]-r.Ends[0])/long))*180/math.Pi)
		}
		if i == 0 || !rules[i-1].Shown() {
			continue
		}
		before, here := rules[i-1].Off(), r.Off()
		if i == 1 {
			before = 0 // the corners lie on the outermost lines: that is what they are
		}
		if i == len(rules)-1 {
			here = 0
		}
		if off := here - before; math.Abs(off)/cell > math.Abs(g.WorstCell) {
			g.Worst, g.WorstCell, g.WorstAt = off, off/cell, what+" "+name(i-1)
		}
	}
}

// nearTag is how far from the corners that tags tell the grid that shows may lie, in boxes.
const nearTag = 0.25

// Fourth reports whether a ruled grid that was found is that of which three tags were read.
// Where the camera looks from the side, or the sheet's corner is curled, the fourth corner is
// no parallelogram's: the grid tells it.
func Fourth(p grid.Plan, three, found plane.Quad) bool {
	near := 0
	for i := range three {
		one := three
		one[i] = found[i]
		if Apart(p, one, three) < nearTag {
			near++
		}
	}
	return near >= 3
}

// Apart returns how far the corners of two quads in a photo lie from each other, in boxes,
// the worst.
func Apart(p grid.Plan, a, b plane.Quad) (most float64) {
	cell := PixelsPerCell(p, b)
	for i := range a {
		most = max(most, a[i].Sub(b[i]).Len()/cell)
	}
	return most
}

// Ruling says how well the grid on a sheet is ruled that is photographed before anything is
// drawn on it; false where no grid is found, or too little of it shows.
func Ruling(p grid.Plan, s *Shot) (Grid, bool) {
	quad, by, found := bare(p, s)
	if !found {
		return Grid{}, false
	}
	v, quad, err := Flatten(s, p, quad, by == ByTags)
	if err != nil {
		return Grid{}, false
	}
	f := FrameFor(p, PixelsPerCell(p, quad))
	ink := Even(v.Straight(s, f), f).Ink
	r := FindRuled(ink, p, f)
	g := JudgeGrid(p, ink, r, r, f)
	return g, len(g.Problems) > 0 || g.Shown >= gridSeen
}

// bare returns where a sheet's grid lies before anything is drawn on it, and what it was
// found by.
func bare(p grid.Plan, s *Shot) (q plane.Quad, by FoundBy, found bool) {
	tagged := FindTags(s)
	if len(tagged) == 1 && tagged[0].By() != ByThree {
		return tagged[0].Corners, tagged[0].By(), true
	}
	all := Locate(s, p)
	if len(all) == 0 {
		return q, by, false
	}
	q, _ = Snap(s, p, all[0].Corners)
	if len(tagged) == 1 {
		return q, all[0].By, all[0].By == ByGrid && Fourth(p, tagged[0].Corners, q)
	}
	return q, all[0].By, true
}
