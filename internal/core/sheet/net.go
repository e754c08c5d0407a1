package sheet

import (
	"cmp"
	"maps"
	"slices"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/plane"
)

// Net is a grid of lines with labels, over a box of its own size.
type Net struct {
	X, Y       []float64 // lines from 0 to the far edges, mm
	Columns    func(int) string
	Rows       func(int) string
	Splits     map[[2]int]int // column and row of boxes divided again, and in how many each way
	TicksOnly  bool           // marks at the edges, not ruled through
	Diagonals  int            // how often the corner-to-corner lines are repeated in halves
	Color      page.Color
	Cased      bool    // with an edge of the other lightness, where no colour is seen everywhere
	Width      float64 // mm
	LetterSize float64 // mm
	GutterX    float64 // room for row labels beside the box, else they stand inside
	GutterY    float64 // room for column labels above and below it
}

// ReferenceNet returns the net of the plan's reference, with no room outside.
func ReferenceNet(p grid.Plan) Net {
	paint := p.Line.Paint()
	n := netOf(p)
	n.X, n.Y = p.Marks.ReferenceX, p.Marks.ReferenceY
	n.Color, n.Cased, n.Width = page.Color{R: paint.R, G: paint.G, B: paint.B}, p.Line.Cased, p.Line.Width
	return n
}

// SheetNet returns the faint net of the drawing sheet, at its true size.
func SheetNet(p grid.Plan) Net {
	n := netOf(p)
	n.X, n.Y = p.Marks.SheetX, p.Marks.SheetY
	n.Color, n.Width = Pale, 0.2
	return n
}

// Pale is for lines that will be erased, or drawn over.
var Pale = page.Color{R: 0xb4, G: 0xbc, B: 0xc0}

func netOf(p grid.Plan) Net {
	n := Net{Columns: p.Grid.Labels.Column, Rows: p.Grid.Labels.Row, TicksOnly: p.Method == grid.Quarters, LetterSize: 3.2, Splits: map[[2]int]int{}}
	for label, parts := range p.Grid.Split {
		if c, ok := p.Find(label); ok {
			n.Splits[[2]int{c.Column, c.Row}] = parts
		}
	}
	if p.Method == grid.Diagonals {
		for parts := p.Grid.Columns; parts > 1; parts /= 2 {
			n.Diagonals++
		}
	}
	return n
}

// mirrored exchanges left and right.
func (n Net) mirrored() Net {
	count, heads := len(n.X)-1, n.Columns
	n.X = flipped(n.X)
	n.Columns = func(i int) string { return heads(count - 1 - i) }
	splits := map[[2]int]int{}
	for at, parts := range n.Splits {
		splits[[2]int{count - 1 - at[0], at[1]}] = parts
	}
	n.Splits = splits
	return n
}

// upsideDown turns the net by half a turn; its labels stay readable.
func (n Net) upsideDown() Net {
	n = n.mirrored()
	count, heads := len(n.Y)-1, n.Rows
	n.Y = flipped(n.Y)
	n.Rows = func(i int) string { return heads(count - 1 - i) }
	splits := map[[2]int]int{}
	for at, parts := range n.Splits {
		splits[[2]int{at[0], count - 1 - at[1]}] = parts
	}
	n.Splits = splits
	return n
}

// flipped returns marks measured from the other end.
func flipped(marks []float64) []float64 {
	out := make([]float64, len(marks))
	for i, m := range marks {
		out[len(marks)-1-i] = marks[len(marks)-1] - m
	}
	return out
}

// drawNet draws the net with its top left corner at the given point.
func drawNet(pg *page.Page, at plane.Point, n Net) {
	if n.Cased {
		casing := n
		casing.Width, casing.Color = n.Width*2.4, opposite(n.Color)
		drawRule(pg, at, casing)
	}
	drawRule(pg, at, n)
	drawLabels(pg, at, n)
}

// opposite returns white for a dark colour and ink for a light one.
func opposite(c page.Color) page.Color {
	if 2*int(c.R)+5*int(c.G)+int(c.B) > 4*255 {
		return page.Ink
	}
	return page.White
}

func drawRule(pg *page.Page, at plane.Point, n Net) {
	right, bottom := n.X[len(n.X)-1], n.Y[len(n.Y)-1]
	for _, x := range n.X {
		drawThrough(pg, at, plane.Pt(x, 0), plane.Pt(x, bottom), n.TicksOnly && x > 0 && x < right, n.Width, n.Color)
	}
	for _, y := range n.Y {
		drawThrough(pg, at, plane.Pt(0, y), plane.Pt(right, y), n.TicksOnly && y > 0 && y < bottom, n.Width, n.Color)
	}
	for _, box := range n.splitBoxes() {
		drawSplit(pg, at, n, box[0], box[1], n.Splits[box])
	}
	drawDiagonals(pg, at, n)
}

// splitBoxes returns the divided boxes row by row, so that a page is always drawn alike.
func (n Net) splitBoxes() [][2]int {
	return slices.SortedFunc(maps.Keys(n.Splits), func(a, b [2]int) int {
		return cmp.Or(cmp.Compare(a[1], b[1]), cmp.Compare(a[0], b[0]))
	})
}

// drawSplit divides one box again with finer lines.
func drawSplit(pg *page.Page, at plane.Point, n Net, column, row, parts int) {
	x0, x1, y0, y1 := at.X+n.X[column], at.X+n.X[column+1], at.Y+n.Y[row], at.Y+n.Y[row+1]
	for i := 1; i < parts; i++ {
		t := float64(i) / float64(parts)
		x, y := x0+(x1-x0)*t, y0+(y1-y0)*t
		pg.Line(x, y0, x, y1, n.Width*0.6, n.Color)
		pg.Line(x0, y, x1, y, n.Width*0.6, n.Color)
	}
}

// drawDiagonals draws the corner-to-corner lines of the whole, then of its
// quarters, then of theirs: where each pair crosses, the next half is found.
func drawDiagonals(pg *page.Page, at plane.Point, n Net) {
	right, bottom := n.X[len(n.X)-1], n.Y[len(n.Y)-1]
	for level := range n.Diagonals {
		parts := 1 << level
		w, h := right/float64(parts), bottom/float64(parts)
		for i := range parts * parts {
			x, y := at.X+float64(i%parts)*w, at.Y+float64(i/parts)*h
			for _, p := range []page.Path{
				{Points: []plane.Point{plane.Pt(x, y), plane.Pt(x+w, y+h)}},
				{Points: []plane.Point{plane.Pt(x+w, y), plane.Pt(x, y+h)}},
			} {
				p.Width, p.Stroke, p.Dash = n.Width*0.7, n.Color, n.Width*8
				pg.Add(p)
			}
		}
	}
}

// drawThrough draws a line from edge to edge, or only a tick at both edges.
func drawThrough(pg *page.Page, at, from, to plane.Point, ticks bool, width float64, c page.Color) {
	x1, y1, x2, y2 := at.X+from.X, at.Y+from.Y, at.X+to.X, at.Y+to.Y
	if !ticks {
		pg.Line(x1, y1, x2, y2, width, c)
		return
	}
	// A tick is a twentieth of the side: seen, and not a line across the picture.
	dx, dy := (x2-x1)/20, (y2-y1)/20
	pg.Line(x1, y1, x1+dx, y1+dy, width, c)
	pg.Line(x2-dx, y2-dy, x2, y2, width, c)
}

// drawLabels writes the heads of columns and rows: outside on both sides where
// there is room, else small and haloed just inside the first edge.
func drawLabels(pg *page.Page, at plane.Point, n Net) {
	size := n.LetterSize
	right, bottom := at.X+n.X[len(n.X)-1], at.Y+n.Y[len(n.Y)-1]
	head := page.Text{Size: size, Anchor: page.Middle, Bold: true, Color: page.Ink}
	for i := range len(n.X) - 1 {
		head.At, head.Words = plane.Pt(at.X+(n.X[i]+n.X[i+1])/2, at.Y+size), n.Columns(i)
		if n.GutterY == 0 {
			head.Halo = true
			pg.Add(head)
			continue
		}
		above, below := head, head
		above.At.Y, below.At.Y = at.Y-(n.GutterY-size*0.72)/2, bottom+(n.GutterY+size*0.72)/2
		pg.Add(above, below)
	}
	for i := range len(n.Y) - 1 {
		head.At, head.Words = plane.Pt(at.X+0.8, at.Y+(n.Y[i]+n.Y[i+1])/2+size*0.36), n.Rows(i)
		if n.GutterX == 0 {
			head.Halo, head.Anchor = true, page.Start
			pg.Add(head)
			continue
		}
		left, beyond := head, head
		left.At.X, beyond.At.X = at.X-n.GutterX/2, right+n.GutterX/2
		left.Anchor, beyond.Anchor = page.Middle, page.Middle
		pg.Add(left, beyond)
	}
}
