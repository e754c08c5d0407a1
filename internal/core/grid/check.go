package grid

import (
	"fmt"
	"math"
	"slices"

	"zestysketch/internal/core/measure"
)

// bound is a number in a plan with what it may be, both ends included.
type bound struct {
	what        string
	got         float64
	least, most float64
}

// bounds lists every number of a plan that is believed as it stands.
func (p Plan) bounds() []bound {
	least, most := float64(leastSide), float64(mostSide)
	leastDrawn, mostDrawn := float64(leastSheet), float64(mostSheet)
	all := []bound{
		{"the picture's width of %g mm", p.Reference.Width, least, most},
		{"the picture's height of %g mm", p.Reference.Height, least, most},
		{"the drawing's width of %g mm", p.Sheet.Width, leastDrawn, mostDrawn},
		{"the drawing's height of %g mm", p.Sheet.Height, leastDrawn, mostDrawn},
		{"paper %g mm wide", p.Sheet.Stock[0], leastDrawn, mostDrawn},
		{"paper %g mm high", p.Sheet.Stock[1], leastDrawn, mostDrawn},
		{"a drawing that starts %g mm from the left", p.Sheet.Origin.X, 0, most},
		{"a drawing that starts %g mm from the top", p.Sheet.Origin.Y, 0, most},
		{"a strip of %g mm at the bottom", p.Sheet.Strip, 0, most},
		{"%g papers across", float64(p.Sheet.Panels[0]), 0, mostPanels},
		{"%g papers down", float64(p.Sheet.Panels[1]), 0, mostPanels},
		{"a grid line of %g mm", p.Line.Width, 0, mostLine},
		{"a ruler of %g mm", p.Ruler.Length, 0, most},
		{"a ruler's zero line %g mm from its end", p.Ruler.Zero, 0, float64(mostZero)},
		{"ruler lines %g mm apart", p.Ruler.Step, 0.01, float64(mostStep)},
		{"%g columns", float64(p.Grid.Columns), 1, mostCells},
		{"%g rows", float64(p.Grid.Rows), 1, mostCells},
		{"%g boxes", float64(p.Count()), 1, mostCells},
	}
	for label, n := range p.Grid.Split {
		all = append(all, bound{"box " + label + " divided in %g", float64(n), 2, 4})
	}
	return all
}

// check says what in a plan contradicts itself or cannot be.
func (p Plan) check() error {
	if _, err := measure.ParseUnit(string(p.Units)); err != nil {
		return err
	}
	for _, b := range p.bounds() {
		if !(b.got >= b.least && b.got <= b.most) {
			return fmt.Errorf(b.what+" cannot be: wanted %g to %g", b.got, b.least, b.most)
		}
	}
	if err := p.checkWords(); err != nil {
		return err
	}
	if p.Ruler.Length > 0 && p.Ruler.Length <= p.Ruler.Zero {
		return fmt.Errorf("a ruler of %g mm with its zero at %g mm cannot be", p.Ruler.Length, p.Ruler.Zero)
	}
	if f := p.Frame; f != nil && !(min(f.Picture[0], f.Picture[1]) > 0 && min(f.Size[0], f.Size[1]) > 0 && f.Inside()) {
		return fmt.Errorf("the frame lies outside its picture of %d × %d pixels", f.Picture[0], f.Picture[1])
	}
	if err := p.checkSplit(); err != nil {
		return err
	}
	return p.checkSums()
}

// checkWords says which word of a plan is not known.
func (p Plan) checkWords() error {
	for _, w := range []struct {
		what, got string
		known     bool
	}{
		{"method", string(p.Method), slices.Contains(Methods, p.Method)},
		{"axis of letters", p.Grid.Labels.Letters, p.Grid.Labels.Letters == Across || p.Grid.Labels.Letters == Down},
		{"place for the remainder", string(p.Grid.RemainderAt), slices.Contains([]RemainderAt{"", AtEnd, AtStart, Shared}, p.Grid.RemainderAt)},
		{"way of marking up", string(p.Ruler.Way), slices.Contains(Ways, p.Ruler.Way)},
		{"line colour", p.Line.Color, slices.Contains(LineColors(), p.Line.Color)},
		{"drawing hand", string(p.Hand), p.Hand == "" || p.Hand == RightHand || p.Hand == LeftHand},
	} {
		if !w.known {
			return fmt.Errorf("%q is no %s that this program knows", w.got, w.what)
		}
	}
	return nil
}

// checkSplit says which divided box there is not, or is divided in three.
func (p Plan) checkSplit() error {
	g := p.Grid
	g.Labels.columns, g.Labels.rows = g.Columns, g.Rows
	for label, n := range g.Split {
		column, row, ok := g.Labels.Place(label)
		if !ok || column >= g.Columns || row >= g.Rows || n != 2 && n != 4 {
			return fmt.Errorf("box %q divided in %d cannot be", label, n)
		}
	}
	return nil
}

// checkSums says which side its boxes and strips do not add up to, nearer than
// twice what is no remainder: on the sheet that is enlarged as the picture is.
func (p Plan) checkSums() error {
	g := p.Grid
	for _, s := range []struct {
		what                  string
		n                     int
		cell, rest, all, near float64
	}{
		{"the picture's columns", g.Columns, g.ReferenceCell[0], g.ReferenceRemainder[0], p.Reference.Width, 1},
		{"the picture's rows", g.Rows, g.ReferenceCell[1], g.ReferenceRemainder[1], p.Reference.Height, 1},
		{"the sheet's columns", g.Columns, g.SheetCell[0], g.SheetRemainder[0], p.Sheet.Width, p.Sheet.Width / p.Reference.Width},
		{"the sheet's rows", g.Rows, g.SheetCell[1], g.SheetRemainder[1], p.Sheet.Height, p.Sheet.Height / p.Reference.Height},
	} {
		whole, rests := float64(s.n), 0.0
		if s.rest > 0 {
			rests = 1
			if g.RemainderAt == Shared {
				rests = 2
			}
		}
		near := 2 * slackOf(s.cell/s.near) * s.near
		if !(s.cell > 0 && s.rest >= 0) || math.Abs((whole-rests)*s.cell+rests*s.rest-s.all) > near {
			return fmt.Errorf("%s do not add up to %g mm", s.what, s.all)
		}
	}
	return nil
}
