package sheet

import (
	"fmt"
	"math"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/core/reading"
)

// dotMM is how large a dot at a crossing is, across, on the sheet to draw on; over a
// picture it is a ring twice as large, which is seen on dark lines too. A line that is
// drawn over the picture is tracedMM broad.
const dotMM, tracedMM = 1.4, 0.8

// unread says that pages need what a picture's boxes hold.
func (w Wish) unread(what string) error {
	if w.Boxes == nil {
		return fmt.Errorf("%s: %w without a picture to read; choose one first", what, page.ErrEmpty)
	}
	return nil
}

// boxOf returns what is in a box, of a whole one.
func (w Wish) boxOf(label string) (reading.Box, bool) {
	for _, b := range w.Boxes {
		if b.Label == label && b.Part == 0 {
			return b, true
		}
	}
	return reading.Box{}, false
}

// DotSheet returns the drawing sheet with dots where the picture's lines cross the grid:
// the strongest help short of tracing. The errors are those of DrawingSheet, and
// page.ErrEmpty.
func DotSheet(w Wish) ([]page.Page, error) {
	if err := w.unread("the dot sheet"); err != nil {
		return nil, err
	}
	w.MarksOnly = false
	return w.drawingSheet(func(pg *page.Page, origin plane.Point) {
		for _, c := range w.Plan.Cells() {
			w.dots(pg, c, plane.Rect{Min: origin.Add(c.Sheet.Min), Max: origin.Add(c.Sheet.Max)}, func(at plane.Point) page.Path { return round(at, dotMM, page.Faint, page.Faint) })
		}
	})
}

// dots puts a dot at each crossing of a box that lies on the page as on says. Where two
// boxes meet, each draws it: it is one place.
func (w Wish) dots(pg *page.Page, c grid.Cell, on plane.Rect, dot func(plane.Point) page.Path) {
	b, ok := w.boxOf(c.Label)
	if !ok {
		return
	}
	for _, x := range b.Crossings {
		pg.Add(dot(within(on, x.Place())))
	}
}

func round(at plane.Point, across float64, edge, fill page.Color) page.Path {
	const corners = 16
	p := page.Path{Closed: true, Width: 0.4, Stroke: edge, Fill: &fill}
	for i := range corners {
		sin, cos := math.Sincos(2 * math.Pi * float64(i) / corners)
		p.Points = append(p.Points, at.Add(plane.Pt(cos, sin).Mul(across/2)))
	}
	return p
}

// within returns a place of a box, as parts of it, on a page.
func within(on plane.Rect, p plane.Point) plane.Point {
	return plane.Pt(on.Min.X+p.X*on.Width(), on.Min.Y+p.Y*on.Height())
}

// seen draws on a box, which lies on the page as on says, what the wish's help shows.
func (w Wish) seen(pg *page.Page, c grid.Cell, on plane.Rect) {
	b, ok := w.boxOf(c.Label)
	if !ok || w.Help.Step() < reading.Dots.Step() {
		return
	}
	paint := w.Plan.Line.Paint()
	colour := page.Color{R: paint.R, G: paint.G, B: paint.B}
	if w.Help.Step() >= reading.Traced.Step() {
		for _, p := range b.Pieces {
			line := page.Path{Width: tracedMM, Stroke: colour}
			for _, q := range p.Points {
				line.Points = append(line.Points, within(on, q))
			}
			under := line // on a black-and-white copy a dark line is seen on a dark ground by its rim
			under.Width, under.Stroke = 2*tracedMM, page.White
			pg.Add(under, line)
		}
	}
	w.dots(pg, c, on, func(at plane.Point) page.Path { return round(at, 2*dotMM, colour, page.White) })
}

// said returns the words of a box that stand under its card, where the wish's help says them.
func (w Wish) said(c grid.Cell) []string {
	b, ok := w.boxOf(c.Label)
	if !ok || w.Help.Step() < reading.Words.Step() || w.faces() {
		return nil
	}
	return b.Say
}

// keyWords returns what is in every box in words.
func (w Wish) keyWords(l page.Layout) []page.Page {
	var entries []named
	for _, b := range w.Boxes {
		name := b.Label
		if b.Part > 0 {
			name = fmt.Sprintf("%s.%d", b.Label, b.Part)
		}
		entries = append(entries, named{name, b.Key})
	}
	return listed(l, entries, func() page.Page { return l.Begin(w.titled(), "Key · what is in every box, in words") })
}

// named is words with the name of the box that they are about.
type named struct{ name, words string }

// listed returns pages of entries.
func listed(l page.Layout, entries []named, begin func() page.Page) []page.Page {
	const size, line, gap, label = 3.4, 4.4, 2.0, 16.0
	in := l.Inner()
	pages, y := []page.Page{begin()}, in.Min.Y+8
	for _, e := range entries {
		name, words := e.name, page.Wrap(e.words, size, in.Width()-label, false)
		if high := line * float64(len(words)); y+high > in.Max.Y && y > in.Min.Y+8 {
			pages, y = append(pages, begin()), in.Min.Y+8
		}
		pg := &pages[len(pages)-1]
		pg.Add(page.Text{At: plane.Pt(in.Min.X, y), Size: size, Words: name, Bold: true, Color: page.Ink})
		for _, part := range words {
			if y > in.Max.Y { // a box of which there is more to say than a page holds
				pages, y = append(pages, begin()), in.Min.Y+8
				pg = &pages[len(pages)-1]
			}
			pg.Add(page.Text{At: plane.Pt(in.Min.X+label, y), Size: size, Words: part, Color: page.Ink})
			y += line
		}
		y += gap
	}
	return pages
}
