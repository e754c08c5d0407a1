package sheet

import (
	"fmt"
	"slices"
	"strings"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/plane"
)

// Around is how much of the neighbours a card shows beyond its box, as a share of the box.
const Around = 0.12

// BoxCards returns cards with one box each, enlarged, with its label, the
// edges of its neighbours and quarter marks along its own edges. The error
// wraps ErrEmpty without a picture, else ErrPaper. Boxes of the wish's Empty get
// no card, and are named on the last page.
func BoxCards(w Wish) ([]page.Page, error) {
	if w.Plan.Frame == nil {
		return nil, fmt.Errorf("box cards: %w without a picture; choose one first", page.ErrEmpty)
	}
	l, err := page.Free(w.Printer, "the page of box cards")
	if err != nil {
		return nil, err
	}
	in := l.Inner()
	const gap, line = 3.0, 3.2
	left := page.Wrap("Nothing to draw in, so without a card: "+strings.Join(w.Empty, ", "), 2.6, in.Width()-2, false)
	if len(w.Empty) == 0 {
		left = nil
	}
	in.Max.Y -= line * float64(len(left))
	columns := max(1, int(in.Width()/92))
	rows := max(1, int(in.Height()/86))
	cardW, cardH := (in.Width()-gap*float64(columns-1))/float64(columns), (in.Height()-gap*float64(rows))/float64(rows)
	var pages []page.Page
	order := slices.DeleteFunc(w.Plan.Order(w.Plan.Hand), func(c grid.Cell) bool { return slices.Contains(w.Empty, c.Label) })
	if len(order) == 0 {
		return nil, fmt.Errorf("box cards: %w in any box; ask for the empty ones too", page.ErrEmpty)
	}
	for i, c := range order {
		slot := i % (columns * rows)
		if slot == 0 {
			pages = append(pages, l.Begin(w.titled(), "Box cards · cut out, one box in hand"))
		}
		at := page.Box(in.Min.X+float64(slot%columns)*(cardW+gap), in.Min.Y+2+float64(slot/columns)*(cardH+gap), cardW, cardH)
		drawCut(&pages[len(pages)-1], at)
		drawCard(&pages[len(pages)-1], w, c, at)
	}
	pages = w.saidBehind(l, pages, order, cardW, cardH)
	for i, words := range left {
		pages[len(pages)-1].Add(page.Text{At: plane.Pt(in.Min.X, in.Max.Y+2+line*float64(i)), Size: 2.6, Words: words, Color: page.Ink})
	}
	return pages, nil
}

// drawCard draws one box enlarged.
func drawCard(pg *page.Page, w Wish, c grid.Cell, on plane.Rect) {
	const room = 9.0 // for the labels
	const size, line = saidSize, saidLine
	said, _ := w.saidOn(c, on.Width(), on.Height())
	for i, words := range said {
		pg.Add(page.Text{At: plane.Pt(on.Min.X+2, on.Max.Y-1.5-line*float64(len(said)-1-i)), Size: size, Words: words, Color: page.Ink})
	}
	on.Max.Y -= line * float64(len(said))
	cw, ch := c.Reference.Width(), c.Reference.Height()
	k := min((on.Width()-2*room)/(cw*(1+2*Around)), (on.Height()-2*room)/(ch*(1+2*Around)))
	mid := plane.Pt((on.Min.X+on.Max.X)/2, (on.Min.Y+on.Max.Y)/2)
	outer := page.Box(mid.X-cw*k*(0.5+Around), mid.Y-ch*k*(0.5+Around), cw*k*(1+2*Around), ch*k*(1+2*Around))
	inner := page.Box(mid.X-cw*k/2, mid.Y-ch*k/2, cw*k, ch*k)
	paint := w.Plan.Line.Paint()
	pg.Add(w.boxPicture(c, outer, Around), page.BoxPath(inner, 0.4, page.Color{R: paint.R, G: paint.G, B: paint.B}), page.BoxPath(outer, 0.15, page.Faint))
	w.seen(pg, c, inner)
	quarterMarks(pg, inner)
	pg.Add(page.Text{At: plane.Pt(on.Min.X+2, on.Min.Y+6), Size: 5.5, Words: c.Label, Bold: true, Color: page.Ink})
	drawNeighbours(pg, w.Plan, c, outer, mid)
}

// quarterMarks puts marks on a box's own sides, to read fractions by, the one at the half longer; a white line
// beside each keeps it apart from a dark picture.
func quarterMarks(pg *page.Page, box plane.Rect) {
	for i := 1; i < 4; i++ {
		t, long := float64(i)/4, 1.4
		if i == 2 {
			long = 2.4
		}
		x, y := box.Min.X+box.Width()*t, box.Min.Y+box.Height()*t
		for _, at := range [4][2]plane.Point{
			{plane.Pt(x, box.Min.Y-long), plane.Pt(x, box.Min.Y+long)}, {plane.Pt(x, box.Max.Y-long), plane.Pt(x, box.Max.Y+long)},
			{plane.Pt(box.Min.X-long, y), plane.Pt(box.Min.X+long, y)}, {plane.Pt(box.Max.X-long, y), plane.Pt(box.Max.X+long, y)},
		} {
			pg.Line(at[0].X, at[0].Y, at[1].X, at[1].Y, 0.9, page.White)
			pg.Line(at[0].X, at[0].Y, at[1].X, at[1].Y, 0.3, page.Ink)
		}
	}
}

// Words under a card are saidSize high, saidLine apart, and take no more than saidShare of it.
const saidSize, saidLine, saidShare = 3.2, 4.0, 0.4

// saidOn returns the lines of words that stand on a card, whole sentences, and the sentences that find no room there.
func (w Wish) saidOn(c grid.Cell, wide, high float64) (lines, rest []string) {
	sentences := w.said(c)
	for i, s := range sentences {
		more := page.Wrap(s, saidSize, wide-4, false)
		if float64(len(lines)+len(more))*saidLine > saidShare*high {
			return lines, sentences[i:]
		}
		lines = append(lines, more...)
	}
	return lines, nil
}

// saidBehind adds pages with the words that found no room on the cards.
func (w Wish) saidBehind(l page.Layout, pages []page.Page, order []grid.Cell, cardW, cardH float64) []page.Page {
	var entries []named
	for _, c := range order {
		b, _ := w.boxOf(c.Label)
		_, rest := w.saidOn(c, cardW, cardH)
		if len(b.Say)-len(rest) < len(b.Pieces) { // a line is untold; tones alone need no page
			entries = append(entries, named{c.Label, strings.Join(rest, " ")})
		}
	}
	if len(entries) == 0 {
		return pages
	}
	return append(pages, listed(l, entries, func() page.Page { return l.Begin(w.titled(), "Box cards · more words") })...)
}

// boxPicture returns a box of the picture on a place of the page, with so much around it.
func (w Wish) boxPicture(c grid.Cell, on plane.Rect, around float64) page.Picture {
	pic, part := w.picture(on), *w.Plan.Frame
	wide, high := c.Reference.Width()*(1+2*around)/w.Plan.Reference.Width, c.Reference.Height()*(1+2*around)/w.Plan.Reference.Height
	part.Centre, part.Size = w.Plan.ToPicture(c.Reference.Middle()), [2]float64{part.Size[0] * wide, part.Size[1] * high}
	pic.Part = &part
	return pic
}

// drawNeighbours writes which boxes lie beside a card's own.
func drawNeighbours(pg *page.Page, p grid.Plan, c grid.Cell, outer plane.Rect, mid plane.Point) {
	for _, n := range []struct {
		dx, dy int
		at     plane.Point
	}{{0, -1, plane.Pt(mid.X, outer.Min.Y-3.2)}, {0, 1, plane.Pt(mid.X, outer.Max.Y+5.6)}, {-1, 0, plane.Pt(outer.Min.X-5.5, mid.Y+4)}, {1, 0, plane.Pt(outer.Max.X+5.5, mid.Y+4)}} {
		column, row := c.Column+n.dx, c.Row+n.dy
		if column < 0 || row < 0 || column >= p.Grid.Columns || row >= p.Grid.Rows {
			continue
		}
		pg.Add(page.Text{At: n.at, Size: 3, Words: p.Cell(column, row).Label, Anchor: page.Middle, Color: page.Ink})
	}
}

// BoxInHand returns one box enlarged as a drawing of its own, for a tablet. The
// plan must have a frame.
func BoxInHand(p grid.Plan, c grid.Cell) page.Page {
	const side = 120.0
	long := max(c.Reference.Width(), c.Reference.Height())
	w, h := side*c.Reference.Width()/long+18, side*c.Reference.Height()/long+18
	pg := page.Page{Title: "Box " + c.Label, Size: measure.Size{W: measure.Length(w), H: measure.Length(h)}}
	drawCard(&pg, Wish{Plan: p}, c, page.Box(0, 0, w, h))
	return pg
}

// Windows returns masks to cut out, true to size: a window of one box of the
// picture, one of the sheet, and a pair of L-shaped strips to frame with. The
// error wraps ErrPaper and says how large the paper must be.
func Windows(w Wish) ([]page.Page, error) {
	l, err := page.Free(w.Printer, "the page of windows")
	if err != nil {
		return nil, err
	}
	p, in := w.Plan, l.Inner()
	pg := l.Begin(w.titled(), "Windows and masks · cut out the grey parts")
	y := in.Min.Y + 4
	pages := []page.Page{pg}
	const rim = 22.0
	for _, cell := range []struct {
		name string
		size [2]float64
	}{{"one box of the picture", p.Grid.ReferenceCell}, {"one box of the sheet", p.Grid.SheetCell}} {
		high := cell.size[1] + 2*rim
		if cell.size[0]+2*rim > in.Width() || high+8 > in.Height() {
			return nil, fmt.Errorf("a window for %s of %s %w; choose paper of at least %.0f × %.0f mm", cell.name,
				measure.Size{W: measure.Length(cell.size[0]), H: measure.Length(cell.size[1])}.Text(p.Units), page.ErrPaper, cell.size[0]+2*rim+2*l.Left, high+8+2*l.Top+page.Head+page.Foot)
		}
		if y+high > in.Max.Y {
			pages = append(pages, l.Begin(w.titled(), "Windows and masks · cut out the grey parts"))
			y = in.Min.Y + 4
		}
		drawWindow(&pages[len(pages)-1], plane.Pt(in.Min.X+2, y), cell.size, rim, "Window: "+cell.name)
		y += high + 4
	}
	ls := l.Begin(w.titled(), "Two L-shaped strips · cut out, slide one on the other to frame a part")
	drawCorners(&ls, in)
	return append(pages, ls), nil
}

// drawWindow draws a mask with a hole of the given size.
func drawWindow(pg *page.Page, at plane.Point, size [2]float64, rim float64, words string) {
	drawCut(pg, page.Box(at.X, at.Y, size[0]+2*rim, size[1]+2*rim))
	hole := page.BoxPath(page.Box(at.X+rim, at.Y+rim, size[0], size[1]), 0.2, page.Ink)
	hole.Fill = &Offcut
	for i := 1; i < 4; i++ { // quarter marks, to read fractions by
		x, y, long := at.X+rim+size[0]*float64(i)/4, at.Y+rim+size[1]*float64(i)/4, 3.0
		if i == 2 {
			long = 5
		}
		pg.Line(x, at.Y+rim-long, x, at.Y+rim, 0.25, page.Ink)
		pg.Line(x, at.Y+rim+size[1], x, at.Y+rim+size[1]+long, 0.25, page.Ink)
		pg.Line(at.X+rim-long, y, at.X+rim, y, 0.25, page.Ink)
		pg.Line(at.X+rim+size[0], y, at.X+rim+size[0]+long, y, 0.25, page.Ink)
	}
	pg.Add(hole, page.Text{At: plane.Pt(at.X+3, at.Y+6), Size: 3.4, Words: page.Cut(words, 3.4, size[0]+2*rim-6, false), Color: page.Ink})
}

// drawCorners draws two L-shaped strips nested in the area.
func drawCorners(pg *page.Page, in plane.Rect) {
	const arm = 32.0
	w, h := in.Width()-arm-8, in.Height()-arm-12
	l := func(x, y, sx, sy float64) {
		points := []plane.Point{plane.Pt(0, 0), plane.Pt(w, 0), plane.Pt(w, arm), plane.Pt(arm, arm), plane.Pt(arm, h), plane.Pt(0, h)}
		for i, p := range points {
			points[i] = plane.Pt(x+sx*p.X, y+sy*p.Y)
		}
		pg.Add(page.Path{Points: points, Closed: true, Width: 0.25, Stroke: page.Ink})
	}
	l(in.Min.X, in.Min.Y+4, 1, 1)
	l(in.Max.X, in.Max.Y-2, -1, -1)
}
