package sheet

import (
	"fmt"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/measure"
)

// FramePicture is the name of the Picture item that shows the plan's frame.
const FramePicture = "frame"

// Net is a grid of lines with labels, over a box of its own size.
type Net struct {
	X, Y       []float64 // lines from 0 to the far edges, mm
	Columns    func(int) string
	Rows       func(int) string
	TicksOnly  bool    // marks at the edges, not ruled through
	Width      float64 // mm; a white casing half as wide again on each side keeps it visible
	LetterSize float64 // mm
	GutterX    float64 // room for row labels beside the box, else they stand inside
	GutterY    float64 // room for column labels above and below it
}

// ReferenceNet returns the net of the plan's reference, with no room outside.
func ReferenceNet(p grid.Plan) Net {
	return Net{
		X: p.Marks.ReferenceX, Y: p.Marks.ReferenceY,
		Columns: p.Grid.Labels.Column, Rows: p.Grid.Labels.Row,
		TicksOnly: p.Method == grid.Quarters, Width: 0.25, LetterSize: 3.2,
	}
}

// Reference returns the true-size page of the gridded, labelled reference.
// Its Picture item is named FramePicture. The error wraps ErrPaper.
func Reference(p grid.Plan, paper measure.Size) (Page, error) {
	l, err := lay(p.ReferenceSize(), paper)
	if err != nil {
		return Page{}, fmt.Errorf("the reference at %w", err)
	}
	page := l.page(titled(p), fmt.Sprintf("Reference · %s · %d × %d boxes", p.ReferenceSize().Text(p.Units), p.Grid.Columns, p.Grid.Rows))
	page.add(Picture{Box: l.work, Name: FramePicture})
	net := ReferenceNet(p)
	net.GutterX, net.GutterY = l.gutterX, l.gutterY
	page.net(l.work.Min, net)
	return page, nil
}

// Overlay returns the reference with its net and labels alone, for the screen:
// the same drawing as on paper, with room for labels on every side. Line and
// letter sizes follow the picture so that a large one is not drawn hair-thin.
func Overlay(p grid.Plan) Page {
	net := ReferenceNet(p)
	k := max(p.Reference.Width, p.Reference.Height) / 250
	net.Width, net.LetterSize = net.Width*k*1.4, 6*k
	net.GutterX, net.GutterY = 8*k, 8*k
	page := Page{Title: titled(p), Size: measure.Size{
		W: measure.Length(p.Reference.Width + 2*net.GutterX), H: measure.Length(p.Reference.Height + 2*net.GutterY)}}
	page.add(Picture{Box: box(net.GutterX, net.GutterY, p.Reference.Width, p.Reference.Height), Name: FramePicture})
	page.net(Point{X: net.GutterX, Y: net.GutterY}, net)
	return page
}

func titled(p grid.Plan) string {
	if p.Name == "" {
		return "Untitled plan"
	}
	return p.Name
}

// net draws the net with its top left corner at the given point.
func (page *Page) net(at Point, n Net) {
	right, bottom := n.X[len(n.X)-1], n.Y[len(n.Y)-1]
	for _, pass := range []struct {
		width float64
		c     Color
	}{{n.Width * 2.4, White}, {n.Width, Ink}} {
		for _, x := range n.X {
			page.through(at, Point{X: x, Y: 0}, Point{X: x, Y: bottom}, n.TicksOnly && x > 0 && x < right, pass.width, pass.c)
		}
		for _, y := range n.Y {
			page.through(at, Point{X: 0, Y: y}, Point{X: right, Y: y}, n.TicksOnly && y > 0 && y < bottom, pass.width, pass.c)
		}
	}
	page.labels(at, n)
}

// through draws a line from edge to edge, or only a tick at both edges.
func (page *Page) through(at, from, to Point, ticks bool, width float64, c Color) {
	x1, y1, x2, y2 := at.X+from.X, at.Y+from.Y, at.X+to.X, at.Y+to.Y
	if !ticks {
		page.line(x1, y1, x2, y2, width, c)
		return
	}
	// A tick is a twentieth of the side: seen, and not a line across the picture.
	dx, dy := (x2-x1)/20, (y2-y1)/20
	page.line(x1, y1, x1+dx, y1+dy, width, c)
	page.line(x2-dx, y2-dy, x2, y2, width, c)
}

// labels writes the heads of columns and rows: outside on both sides where
// there is room, else small and haloed just inside the first edge.
func (page *Page) labels(at Point, n Net) {
	size := n.LetterSize
	right, bottom := at.X+n.X[len(n.X)-1], at.Y+n.Y[len(n.Y)-1]
	for i := range len(n.X) - 1 {
		x, words := at.X+(n.X[i]+n.X[i+1])/2, n.Columns(i)
		if n.GutterY > 0 {
			page.add(
				Text{At: Point{X: x, Y: at.Y - (n.GutterY-size*0.72)/2}, Size: size, Words: words, Anchor: Middle, Bold: true, Color: Ink},
				Text{At: Point{X: x, Y: bottom + (n.GutterY+size*0.72)/2}, Size: size, Words: words, Anchor: Middle, Bold: true, Color: Ink})
			continue
		}
		page.add(Text{At: Point{X: x, Y: at.Y + size}, Size: size, Words: words, Anchor: Middle, Bold: true, Color: Ink, Halo: true})
	}
	for i := range len(n.Y) - 1 {
		y, words := at.Y+(n.Y[i]+n.Y[i+1])/2+size*0.36, n.Rows(i)
		if n.GutterX > 0 {
			page.add(
				Text{At: Point{X: at.X - n.GutterX/2, Y: y}, Size: size, Words: words, Anchor: Middle, Bold: true, Color: Ink},
				Text{At: Point{X: right + n.GutterX/2, Y: y}, Size: size, Words: words, Anchor: Middle, Bold: true, Color: Ink})
			continue
		}
		page.add(Text{At: Point{X: at.X + 0.8, Y: y}, Size: size, Words: words, Bold: true, Color: Ink, Halo: true})
	}
}

// BareNet returns the reference's net alone at true size, labels inside, to be
// laid over a picture that is already on the screen.
func BareNet(p grid.Plan) Page {
	net := ReferenceNet(p)
	k := max(p.Reference.Width, p.Reference.Height) / 250
	net.Width, net.LetterSize = net.Width*k*1.4, 5*k
	page := Page{Title: "Grid", Size: p.ReferenceSize()}
	page.net(Point{}, net)
	return page
}
