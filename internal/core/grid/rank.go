package grid

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"zestysketch/internal/core/measure"
)

// Skill is how far a class has come.
type Skill string

// The levels of a class.
const (
	Beginner Skill = "beginner"
	Middle   Skill = "middle"
	Detailed Skill = "detailed"
)

// boxesFor says how many boxes suit a level: a beginner's grid has about 16 to
// 35, a detailed figure 60 to 80 (common practice); what lies between is ours.
var boxesFor = map[Skill][2]int{Beginner: {beginnerLeast, beginnerMost}, Middle: {30, 60}, Detailed: {60, detailedMost}}

// Candidate is a grid that could be used, with what speaks for and against it.
type Candidate struct {
	Method    Method
	Square    measure.Length // on the reference, for squares
	Sheet     measure.Length // on the sheet, for squares
	Columns   int
	Rows      int
	Remainder bool
	Cost      float64 // less is better; 0 is nothing to say against it
	Reasons   []string

	quiet bool // while many are weighed, nobody reads the reasons
}

// Count returns how many boxes the grid has.
func (c Candidate) Count() int { return c.Columns * c.Rows }

// Wish is what a class needs of a grid.
type Wish struct {
	Units   measure.Unit
	Skill   Skill
	Scale   float64
	Minutes float64 // of drawing, 0 for no limit
	PerBox  float64 // minutes a box, 0 for the usual
	Busy    Busy    // how detail is spread, zero where nobody measured it
}

// Busy is a picture's detail on equal patches, row by row, together 1.
type Busy struct {
	Columns, Rows int
	Share         []float64
}

// usualPerBox is the time of one box in minutes where nothing is known (ours).
const usualPerBox = 3

// mostDetail is the share of all detail that one box may hold before it is crowded (ours).
const mostDetail = 0.12

// Rank returns grids for a frame, the best first: every easy square, and equal
// parts by folding. Frame sides and scale must be more than 0.
func Rank(frame measure.Size, w Wish) []Candidate { return rank(frame, w, false) }

func rank(frame measure.Size, w Wish, quiet bool) []Candidate {
	var list []Candidate
	for _, square := range EasySquares(w.Units) {
		columns, restX := strips(float64(frame.W), float64(square))
		rows, restY := strips(float64(frame.H), float64(square))
		if columns*rows > 2*detailedMost || columns*rows < 4 || square > min(frame.W, frame.H) {
			continue
		}
		c := Candidate{Method: Squares, Square: square, Sheet: square * measure.Length(w.Scale), Columns: columns, Rows: rows, Remainder: restX > 0 || restY > 0, quiet: quiet}
		c.ruler(w.Units)
		list = append(list, c)
	}
	for _, n := range foldedParts {
		c := Candidate{Method: Parts, Columns: n[0], Rows: n[1], quiet: quiet}
		c.folding(frame)
		list = append(list, c)
	}
	for i := range list {
		list[i].weigh(w)
	}
	preferWhole(list, w)
	slices.SortStableFunc(list, func(a, b Candidate) int { return cmp.Compare(a.Cost, b.Cost) })
	return list
}

// preferWhole puts squares of whole inches or centimetres that come out even, and are not far too few or many
// for the class, before all that leave a strip: nobody keeps a strip who need not (common practice).
func preferWhole(list []Candidate, w Wish) {
	uneven := math.Inf(1)
	for _, c := range list {
		if c.Method == Squares && c.Remainder {
			uneven = min(uneven, c.Cost)
		}
	}
	suits := boxesFor[cmp.Or(w.Skill, Beginner)]
	for i := range list {
		c := &list[i]
		if c.Method == Squares && !c.Remainder && whole(float64(c.Square/w.Units.Millimetres())) && c.Sheet.Readable(w.Units) && 4*c.Count() >= 3*suits[0] && c.Count() <= 2*suits[1] {
			c.Cost = min(c.Cost, math.Nextafter(uneven, 0))
		}
	}
}

func whole(v float64) bool { return math.Abs(v-math.Round(v)) < 1e-6 }

// foldedParts are the equal parts that folding makes, across and down.
var foldedParts = [][2]int{{2, 2}, {4, 4}, {4, 8}, {8, 4}, {8, 8}}

// against adds a reason that costs, or one that is worth knowing and costs nothing.
func (c *Candidate) against(cost float64, reason func() string) {
	if c.Cost += cost; !c.quiet {
		c.Reasons = append(c.Reasons, reason())
	}
}

// What a grid's squares cost (ours): a remainder is accepted, never sought.
const (
	leavesRest  = 1.0
	uneasy      = 0.3 // on the ruler, but no round number
	offTheRuler = 0.9
)

func (c *Candidate) ruler(u measure.Unit) {
	switch {
	case slices.ContainsFunc(EasySquares(u), func(e measure.Length) bool { return math.Abs(float64(e-c.Sheet)) < 0.01 }):
		c.against(0, func() string {
			return fmt.Sprintf("%s and %s are both easy on a ruler", c.Square.Text(u), c.Sheet.Text(u))
		})
	case c.Sheet.Readable(u):
		c.against(uneasy, func() string { return c.Sheet.Text(u) + " on the sheet is on the ruler, but not a round number" })
	default:
		c.against(offTheRuler, func() string { return "about " + c.Sheet.Text(u) + " on the sheet falls between the ruler's lines" })
	}
	if c.Remainder {
		c.against(leavesRest, func() string { return "a remainder strip must be kept on both papers" })
	} else {
		c.against(0, func() string { return "squares come out even, without a remainder" })
	}
}

func (c *Candidate) folding(frame measure.Size) {
	c.against(0.15, func() string { return "found by folding, without a ruler and without a remainder" })
	w, h := float64(frame.W)/float64(c.Columns), float64(frame.H)/float64(c.Rows)
	if long := max(w, h) / min(w, h); long > 1.25 {
		c.against((long-1.25)*0.8, func() string { return fmt.Sprintf("the boxes are oblong, %.1f times as long as wide", long) })
	}
}

func (c *Candidate) weigh(w Wish) {
	n, suits := c.Count(), boxesFor[cmp.Or(w.Skill, Beginner)]
	switch {
	case n < suits[0]:
		c.against(2*math.Log(float64(suits[0])/float64(n)), func() string { return fmt.Sprintf("%d boxes are few for this class: much happens in each", n) })
	case n > suits[1]:
		c.against(2*math.Log(float64(n)/float64(suits[1])), func() string { return fmt.Sprintf("%d boxes are many for this class", n) })
	default:
		c.against(0, func() string { return fmt.Sprintf("%d boxes suit this class", n) })
	}
	need := float64(n) * cmp.Or(w.PerBox, usualPerBox)
	if w.Minutes > 0 && need > w.Minutes {
		c.against(1.5*(need/w.Minutes-1), func() string { return fmt.Sprintf("it takes about %.0f minutes, and there are %.0f", need, w.Minutes) })
	}
	if busiest := c.busiest(w.Busy); busiest > mostDetail {
		c.against((busiest-mostDetail)*4, func() string { return fmt.Sprintf("the busiest box holds %.0f %% of all detail", busiest*100) })
	}
}

// busiest returns the largest share of the detail that one box holds, 0 where
// it was not measured.
func (c *Candidate) busiest(b Busy) float64 {
	if len(b.Share) == 0 {
		return 0
	}
	boxes := make([]float64, c.Count())
	for i, share := range b.Share {
		x, y := i%b.Columns, i/b.Columns
		boxes[(2*y+1)*c.Rows/(2*b.Rows)*c.Columns+(2*x+1)*c.Columns/(2*b.Columns)] += share
	}
	return slices.Max(boxes)
}

// Wish returns what a request says of the class, for Advise. What cannot be read is not wished.
func (r Request) Wish(u measure.Unit) Wish {
	var ignore Problems // Make says them
	return Wish{Units: u, Skill: Skill(orElse(r.Skill, string(Beginner))), Minutes: r.minutes(&ignore)}
}

// Wish returns what the plan's request says of the class, for Rank; perBox is the
// class's own minutes a box, 0 for the usual.
func (p Plan) Wish(perBox float64, busy Busy) Wish {
	w := p.Typed.Wish(p.Units)
	w.Scale, w.PerBox, w.Busy = (p.Scale[0]+p.Scale[1])/2, perBox, busy
	return w
}
