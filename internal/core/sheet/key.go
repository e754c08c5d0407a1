package sheet

import (
	"cmp"
	"slices"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/core/reading"
)

// Of the key: so many boxes beside each other, with room round each for its name and the fractions, which are so
// high and stand no nearer to one another on a side than that. Millimetres.
const keyColumns, keyRoom, keyText, keyBeside, keyAbove = 4, 8.0, 2.8, 2.9, 7.0

// Key returns every box drawn small for the teacher, with the fraction at which each line crosses its sides; where the
// wish's help says words, what is in it follows in words. The errors wrap page.ErrPaper or page.ErrEmpty.
func Key(w Wish) ([]page.Page, error) {
	if err := w.unread("the key"); err != nil {
		return nil, err
	}
	l, err := page.Free(w.Printer, "the key")
	if err != nil {
		return nil, err
	}
	in, size := l.Inner(), w.Plan.Grid.ReferenceCell
	wide := in.Width()/keyColumns - 2*keyRoom
	high := wide * size[1] / size[0]
	if most := in.Height()/2 - 2*keyRoom; high > most {
		wide, high = most*size[0]/size[1], most
	}
	rows := max(1, int((in.Height()-4)/(high+2*keyRoom)))
	var pages []page.Page
	for i, c := range w.Plan.Cells() {
		slot := i % (keyColumns * rows)
		if slot == 0 {
			pages = append(pages, l.Begin(w.titled(), "Key · where lines cross the sides of every box"))
		}
		corner := plane.Pt(in.Min.X+in.Width()/keyColumns*float64(slot%keyColumns), in.Min.Y+4+(high+2*keyRoom)*float64(slot/keyColumns))
		w.keyBox(&pages[len(pages)-1], c, page.Box(corner.X+keyRoom, corner.Y+keyRoom, wide, high))
	}
	if w.Help.Step() >= reading.Words.Step() {
		pages = append(pages, w.keyWords(l)...)
	}
	return pages, nil
}

// keyBox draws a box with its lines and its crossings, on a place of the page.
func (w Wish) keyBox(pg *page.Page, c grid.Cell, on plane.Rect) {
	pg.Add(page.BoxPath(on, 0.3, page.Ink), page.Text{At: on.Min.Sub(plane.Pt(keyRoom-1, 2)), Size: 3.6, Words: c.Label, Bold: true, Color: page.Ink})
	for i := 1; i < w.Plan.Grid.Split[c.Label]; i++ {
		at := within(on, plane.Pt(float64(i), float64(i)).Mul(1/float64(w.Plan.Grid.Split[c.Label])))
		pg.Line(at.X, on.Min.Y, at.X, on.Max.Y, 0.2, page.Faint)
		pg.Line(on.Min.X, at.Y, on.Max.X, at.Y, 0.2, page.Faint)
	}
	b, ok := w.boxOf(c.Label)
	if !ok {
		return
	}
	for _, p := range b.Pieces {
		line := page.Path{Width: 0.5, Stroke: page.Ink}
		for _, q := range p.Points {
			line.Points = append(line.Points, within(on, q))
		}
		pg.Add(line)
	}
	if b.TooMuch {
		pg.Add(page.Text{At: plane.Pt(on.Max.X, on.Max.Y+keyRoom-1.2), Size: keyText, Words: "divide it", Anchor: page.End, Color: page.Ink})
	}
	w.keyFractions(pg, b, on)
}

// keyFractions writes beside each crossing of a box how far along its side it is; where they crowd, the first alone.
func (w Wish) keyFractions(pg *page.Page, b reading.Box, on plane.Rect) {
	crossings := slices.Clone(b.Crossings)
	slices.SortFunc(crossings, func(a, b reading.Crossing) int { return cmp.Compare(a.At, b.At) })
	last := map[reading.Side]float64{}
	for _, x := range crossings {
		at, apart := within(on, x.Place()), keyAbove
		along := at.X
		if x.Side == reading.Left || x.Side == reading.Right {
			along, apart = at.Y, keyBeside
		}
		if before, crowded := last[x.Side]; crowded && along-before < apart {
			continue
		}
		last[x.Side] = along
		text := page.Text{At: at.Add(plane.Pt(0, -1.2)), Size: keyText, Words: reading.Mark(x.At), Anchor: page.Middle, Color: page.Ink}
		switch x.Side {
		case reading.Bottom:
			text.At = at.Add(plane.Pt(0, 3.2))
		case reading.Left:
			text.At, text.Anchor = at.Add(plane.Pt(-0.8, 1)), page.End
		case reading.Right:
			text.At, text.Anchor = at.Add(plane.Pt(0.8, 1)), page.Start
		}
		pg.Add(text)
	}
}
