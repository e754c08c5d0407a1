package sheet

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/core/reading"
)

// Around is how much of the neighbours a card shows beyond its box, as a share of the box.
const Around = 0.12

// BoxCards returns cards with one box each, enlarged, with its label, the
// edges of its neighbours and quarter marks along its own edges, turned and mirrored as
// wished, in the order of drawing. The error wraps ErrEmpty without a picture, else
// ErrPaper. Boxes of the wish's Empty get no card, and are named on the last page.
func BoxCards(w Wish) ([]page.Page, error) {
	if w.Plan.Frame == nil {
		return nil, fmt.Errorf("box cards: %w without a picture; choose one first", page.ErrEmpty)
	}
	if _, err := page.Free(w.Printer, "the page of box cards"); err != nil {
		return nil, err
	}
	d := w.cardDeck()
	in := d.Inner()
	order := slices.DeleteFunc(w.Plan.Order(w.Plan.Hand), func(c grid.Cell) bool { return slices.Contains(w.Empty, c.Label) })
	if len(order) == 0 {
		return nil, fmt.Errorf("box cards: %w in any box; ask for the empty ones too", page.ErrEmpty)
	}
	title := fmt.Sprintf("Box cards · %.2g times the picture’s size", d.times)
	if w.UpsideDown {
		slices.Reverse(order) // what was last is on top, and first
		title += " · upside down"
	}
	if w.Mirrored {
		title += " · mirrored"
	}
	if w.faces() && w.Help.Step() >= reading.Words.Step() {
		title += " · words would name the other sides"
	}
	var pages []page.Page
	for i, c := range order {
		slot := i % (d.columns * d.rows)
		if slot == 0 {
			pages = append(pages, d.Begin(w.titled(), title))
		}
		at := page.Box(in.Min.X+float64(slot%d.columns)*(d.wide+cardGap), in.Min.Y+2+float64(slot/d.columns)*(d.high+cardGap), d.wide, d.high)
		drawCut(&pages[len(pages)-1], at)
		drawCard(&pages[len(pages)-1], w, c, at)
	}
	pages = w.saidBehind(d.Layout, pages, order, d.wide, d.high)
	left := w.without(in.Width())
	for i, words := range left {
		at := plane.Pt(in.Min.X, in.Max.Y+2-withoutLine*float64(len(left)-i))
		pages[len(pages)-1].Add(page.Text{At: at, Size: page.Small, Words: words, Color: page.Ink})
	}
	return pages, nil
}

// withoutLine is how far apart the lines are that name boxes without a card, mm.
const withoutLine = 1.2 * page.Small

// without returns the lines that name boxes without a card, so broad.
func (w Wish) without(wide float64) []string {
	if len(w.Empty) == 0 {
		return nil
	}
	return page.Wrap("Nothing to draw in, so without a card: "+strings.Join(w.Empty, ", "), page.Small, wide-2, false)
}

// faces reports whether pictures are not as words about them say.
func (w Wish) faces() bool { return w.UpsideDown || w.Mirrored }

// deck is how cards lie on a page, and how much they enlarge.
type deck struct {
	page.Layout
	columns, rows int
	wide, high    float64 // of a card
	times         float64
}

// leastTimes is how much a card enlarges at the least where paper has room (ours).
const leastTimes = 1.25

// cardDeck returns how cards lie on the printer's paper: six or so on a page, or so few, upright or lying,
// that they enlarge; the most that the paper gives where a box is nearly as large as it.
func (w Wish) cardDeck() (best deck) {
	for _, l := range []page.Layout{w.Printer.Upright(), w.Printer.Lying()} {
		in := l.Inner()
		left := withoutLine * float64(len(w.without(in.Width())))
		for columns := max(1, int(in.Width()/92)); columns > 0; columns-- {
			for rows := max(1, int((in.Height()-left)/86)); rows > 0; rows-- {
				d := deck{Layout: l, columns: columns, rows: rows, times: math.Inf(1)}
				d.wide, d.high = (in.Width()-cardGap*float64(columns-1))/float64(columns), (in.Height()-left-cardGap*float64(rows))/float64(rows)
				for _, c := range w.Plan.Cells() {
					d.times = min(d.times, w.enlarged(c, d.wide, d.high))
				}
				if d.times >= leastTimes {
					return d
				}
				if d.times > best.times {
					best = d
				}
			}
		}
	}
	return best
}

// cardRoom is left round a card's box, for the labels.
const cardRoom = 9.0

// beyond returns how much of its neighbours a card shows, as parts of its box: none where it has none.
func beyond(p grid.Plan) plane.Point {
	out := plane.Pt(Around, Around)
	if p.Grid.Columns == 1 {
		out.X = 0
	}
	if p.Grid.Rows == 1 {
		out.Y = 0
	}
	return out
}

// enlarged returns how many times the picture's size a box has on a card, the words under it aside.
func (w Wish) enlarged(c grid.Cell, wide, high float64) float64 {
	out := beyond(w.Plan)
	return min((wide-2*cardRoom)/(c.Reference.Width()*(1+2*out.X)), (high-2*cardRoom)/(c.Reference.Height()*(1+2*out.Y)))
}

// drawCard draws one box enlarged.
func drawCard(pg *page.Page, w Wish, c grid.Cell, on plane.Rect) {
	const size, line = saidSize, saidLine
	said, _ := w.saidOn(c, on.Width(), on.Height())
	for i, words := range said {
		pg.Add(page.Text{At: plane.Pt(on.Min.X+2, on.Max.Y-1.5-line*float64(len(said)-1-i)), Size: size, Words: words, Color: page.Ink})
	}
	on.Max.Y -= line * float64(len(said))
	k, out := w.enlarged(c, on.Width(), on.Height()), beyond(w.Plan)
	mid := plane.Pt((on.Min.X+on.Max.X)/2, (on.Min.Y+on.Max.Y)/2)
	half := plane.Pt(c.Reference.Width()*k/2, c.Reference.Height()*k/2)
	inner := plane.Rect{Min: mid.Sub(half), Max: mid.Add(half)}
	half = plane.Pt(half.X*(1+2*out.X), half.Y*(1+2*out.Y))
	outer := plane.Rect{Min: mid.Sub(half), Max: mid.Add(half)}
	paint := w.Plan.Line.Paint()
	frame, under := page.BoxPath(inner, 0.4, page.Color{R: paint.R, G: paint.G, B: paint.B}), page.BoxPath(inner, 1.1, page.White)
	frame.Dash = 1.6 // copied without its colour it is no line of the picture
	pg.Add(w.boxPicture(c, outer, out), under, frame, page.BoxPath(outer, 0.15, page.Faint))
	var seen page.Page
	w.seen(&seen, c, inner)
	for _, item := range seen.Items {
		pg.Add(page.Moved(item, func(p plane.Point) plane.Point { return mid.Add(w.faced(p.Sub(mid))) }))
	}
	quarterMarks(pg, inner)
	pg.Add(page.Text{At: plane.Pt(on.Min.X+2, on.Min.Y+6), Size: 5.5, Words: c.Label, Bold: true, Color: page.Ink})
	w.drawNeighbours(pg, c, outer, mid)
}

// faced returns where a point about a middle lies on what is mirrored and turned as wished.
func (w Wish) faced(p plane.Point) plane.Point {
	if w.Mirrored {
		p.X = -p.X
	}
	if w.UpsideDown {
		p = p.Mul(-1)
	}
	return p
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

// boxPicture returns a box of the picture on a place of the page, with so much around it, as parts of the box.
func (w Wish) boxPicture(c grid.Cell, on plane.Rect, around plane.Point) page.Picture {
	pic, part := w.picture(on), *w.Plan.Frame
	if pic.Part != nil {
		part = *pic.Part
	}
	wide, high := c.Reference.Width()*(1+2*around.X)/w.Plan.Reference.Width, c.Reference.Height()*(1+2*around.Y)/w.Plan.Reference.Height
	part.Centre, part.Size = w.Plan.ToPicture(c.Reference.Middle()), [2]float64{part.Size[0] * wide, part.Size[1] * high}
	pic.Part = &part
	return pic
}

// drawNeighbours writes which boxes lie beside a card's own.
func (w Wish) drawNeighbours(pg *page.Page, c grid.Cell, outer plane.Rect, mid plane.Point) {
	for _, n := range []struct {
		dx, dy float64
		at     plane.Point
	}{{0, -1, plane.Pt(mid.X, outer.Min.Y-3.2)}, {0, 1, plane.Pt(mid.X, outer.Max.Y+5.6)}, {-1, 0, plane.Pt(outer.Min.X-5.5, mid.Y+4)}, {1, 0, plane.Pt(outer.Max.X+5.5, mid.Y+4)}} {
		to := w.faced(plane.Pt(n.dx, n.dy)) // turned and turned again is as it was
		column, row := c.Column+int(to.X), c.Row+int(to.Y)
		if column < 0 || row < 0 || column >= w.Plan.Grid.Columns || row >= w.Plan.Grid.Rows {
			continue
		}
		pg.Add(page.Text{At: n.at, Size: page.Small, Words: w.Plan.Cell(column, row).Label, Anchor: page.Middle, Color: page.Ink})
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
	const rim, apart = 22.0, 4.0
	begin := func() page.Page { return l.Begin(w.titled(), "Windows and masks · cut out the grey parts") }
	pages, at := []page.Page{begin()}, in.Min.Add(plane.Pt(2, 4))
	names, sizes := [2]string{"one box of the picture", "one box of the sheet"}, [2][2]float64{p.Grid.ReferenceCell, p.Grid.SheetCell}
	low := 0.0          // of the row
	for i := 0; ; i++ { // the two, and then as many pairs for others as find room on the page
		size := sizes[i%2]
		wide, high := size[0]+2*rim, size[1]+2*rim
		if wide > in.Width() || high+8 > in.Height() {
			return nil, fmt.Errorf("a window for %s of %s %w; choose paper of at least %s", names[i%2], measure.Size{W: measure.Length(size[0]), H: measure.Length(size[1])}.Text(p.Units),
				page.ErrPaper, measure.Size{W: measure.Length(wide + 2*l.Left), H: measure.Length(high + 8 + 2*l.Top + page.Head + page.Foot)}.Text(p.Units))
		}
		if at.X+wide > in.Max.X && low > 0 {
			at, low = plane.Pt(in.Min.X+2, low+apart), 0
		}
		if at.Y+high > in.Max.Y {
			if i >= 2 {
				break
			}
			pages, at = append(pages, begin()), in.Min.Add(plane.Pt(2, 4))
		}
		drawWindow(&pages[len(pages)-1], at, size, rim, "Window: "+names[i%2])
		at.X, low = at.X+wide+apart, max(low, at.Y+high)
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
