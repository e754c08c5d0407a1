package sheet

import (
	"fmt"
	"math"

	"zestysketch/internal/core/page"
	"zestysketch/internal/core/plane"
)

// Home is what a family reads of a drawing.
type Home struct {
	Label   Label
	Drawn   *Drawn          // the latest photo; nil without one
	Done    map[string]bool // boxes
	Look    map[string]bool // of them what is to be looked at again
	Count   string          // how far it is, in words
	Entries []Entry         // what goes well, what was mended, what comes next
	Words   string          // the teacher's own; empty leaves lines to write on
}

// homeGap parts the halves of the page, and writing is how far apart lines to write on are.
const homeGap, writing = 8.0, 9.0

// HomePage returns one page for a family: the picture beside the drawing, the map of its
// boxes beside what is said of it, and the teacher's words. The error wraps ErrPaper.
func HomePage(w Wish, h Home) (page.Page, error) {
	l, err := page.Free(w.Printer, "the page for home")
	if err != nil {
		return page.Page{}, err
	}
	pg, in := l.Begin(w.titled(), h.Label.Class+" · "+h.Label.When), l.Inner()
	y := in.Min.Y + 12
	pg.Add(page.Text{At: plane.Pt(in.Min.X, y), Size: page.Title, Words: page.Cut(h.Label.Name, page.Title, in.Width(), true), Bold: true, Color: page.Ink})
	y = pg.Paragraph(plane.Pt(in.Min.X, y+7), page.Body, in.Width(), false,
		"draws “"+h.Label.Title+"” by measuring: a net of boxes over the picture, the same net on the paper, and one box after the other.") + 2
	half := (in.Width() - homeGap) / 2
	y = w.pictureAndDrawing(&pg, h.Drawn, plane.Rect{Min: plane.Pt(in.Min.X, y), Max: plane.Pt(in.Max.X, y+in.Height()*0.4)}, half) + 9
	foot := in.Max.Y - 4*writing - 6
	bottom := w.homeMap(&pg, h, plane.Rect{Min: plane.Pt(in.Min.X, y), Max: plane.Pt(in.Min.X+half*0.8, foot)})
	text := plane.Pt(in.Min.X+half*0.8+homeGap, y+3)
	for _, e := range h.Entries {
		if len(e.Lines) > 0 && text.Y < foot-16 {
			text.Y = drawEntry(&pg, plane.Rect{Min: text, Max: plane.Pt(in.Max.X, foot)}, e)
		}
	}
	y = max(bottom, min(text.Y, foot)) + 6
	pg.Add(page.Text{At: plane.Pt(in.Min.X, y), Size: page.Heading, Words: "From the teacher", Bold: true, Color: page.Ink})
	if h.Words != "" {
		pg.Paragraph(plane.Pt(in.Min.X, y+7), page.Young, in.Width(), false, h.Words)
		return pg, nil
	}
	for line := y + writing + 3; line < in.Max.Y-1; line += writing {
		pg.Line(in.Min.X, line, in.Max.X, line, 0.2, page.Faint)
	}
	return pg, nil
}

// pictureAndDrawing draws both side by side, each in its half, and returns their lower edge.
func (w Wish) pictureAndDrawing(pg *page.Page, d *Drawn, room plane.Rect, half float64) float64 {
	as := Drawn{Pixels: [2]int{int(1000 * w.Plan.Sheet.Width), int(1000 * w.Plan.Sheet.Height)}}
	left := as.in(page.Box(room.Min.X, room.Min.Y, half, room.Height()-5))
	right := as.in(page.Box(room.Max.X-half, room.Min.Y, half, room.Height()-5))
	if w.Plan.Frame != nil {
		pg.Add(w.picture(left))
	}
	if d != nil {
		pg.Add(page.Picture{Box: right, Name: d.Name})
	}
	for _, one := range []struct {
		b     plane.Rect
		words string
	}{{left, "The picture"}, {right, "The drawing"}} {
		pg.Add(page.BoxPath(one.b, 0.3, page.Ink), page.Text{At: plane.Pt(one.b.Min.X, one.b.Max.Y+4.6), Size: page.Body, Words: one.words, Color: page.Ink})
	}
	if d == nil {
		at := right.Min.To(right.Max, 0.5)
		pg.Add(page.Text{At: at, Size: page.Body, Words: "no photo yet", Anchor: page.Middle, Color: page.Faint})
	}
	return left.Max.Y + 5
}

// homeMap draws the boxes: filled where they are drawn, with a ring where one is looked at
// again, and returns its lower edge.
func (w Wish) homeMap(pg *page.Page, h Home, room plane.Rect) float64 {
	p := w.Plan
	k := min(room.Width()/p.Reference.Width, (room.Height()-14)/p.Reference.Height)
	at := func(q plane.Point) plane.Point { return room.Min.Add(q.Mul(k)) }
	for _, c := range p.Cells() {
		b := page.BoxPath(plane.Rect{Min: at(c.Reference.Min), Max: at(c.Reference.Max)}, 0.25, page.Ink)
		if h.Done[c.Label] {
			b.Fill = &page.Color{R: 0xc4, G: 0xd6, B: 0xc6}
		}
		pg.Add(b)
		if h.Look[c.Label] {
			pg.Ring(at(c.Reference.Middle()), 0.3*k*min(c.Reference.Width(), c.Reference.Height()), page.Ink)
		}
	}
	y := room.Min.Y + k*p.Reference.Height + 6
	words := h.Count + " Filled: drawn."
	if len(h.Look) > 0 {
		words += " Ringed: looked at again."
	}
	return pg.Paragraph(plane.Pt(room.Min.X, y), page.Body, room.Width(), false, words)
}

// Certificate returns a page to be proud of: whose it is, for what, and what was reached.
// The error wraps ErrPaper.
func Certificate(w Wish, label Label, d *Drawn, reached []string) (page.Page, error) {
	l, err := page.Free(w.Printer, "the certificate")
	if err != nil {
		return page.Page{}, err
	}
	pg, in := page.Page{Title: "Certificate", Size: l.Size}, l.Inner()
	edge := plane.Rect{Min: plane.Pt(l.Left+4, l.Top+4), Max: plane.Pt(float64(l.Size.W)-l.Left-4, float64(l.Size.H)-l.Top-4)}
	pg.Add(page.BoxPath(edge, 1.2, page.Ink), page.BoxPath(plane.Rect{Min: edge.Min.Add(plane.Pt(2.5, 2.5)), Max: edge.Max.Sub(plane.Pt(2.5, 2.5))}, 0.3, page.Ink))
	ticked(&pg, edge)
	middle, y := (in.Min.X+in.Max.X)/2, edge.Min.Y+24
	center := func(words string, size float64, bold bool, after float64) {
		for _, line := range page.Wrap(words, size, edge.Width()-30, bold) {
			pg.Add(page.Text{At: plane.Pt(middle, y), Size: size, Words: line, Anchor: page.Middle, Bold: bold, Color: page.Ink})
			y += size * page.Leading
		}
		y += after
	}
	center("Looked twice, drawn once", page.Heading, false, 8)
	center(label.Name, 1.8*page.Title, true, 2)
	center("finished “"+label.Title+"”, measured and drawn by hand.", page.Young, false, 6)
	bottom := edge.Max.Y - 26
	rows := float64(len(reached)) * page.Young * page.Leading
	if d != nil {
		b := d.in(page.Box(edge.Min.X+20, y, edge.Width()-40, max(30, bottom-y-rows-14)))
		pg.Add(page.Picture{Box: b, Name: d.Name}, page.BoxPath(b, 0.3, page.Ink))
		y = b.Max.Y + 12
	}
	for _, one := range reached {
		if y < bottom-4 {
			center(one, page.Young, false, 0)
		}
	}
	sign := min(70, (edge.Width()-36)/2)
	for i, words := range []string{label.Class + " · " + label.When, "The teacher"} {
		x := edge.Min.X + 14 + float64(i)*(edge.Width()-28-sign)
		pg.Line(x, edge.Max.Y-16, x+sign, edge.Max.Y-16, 0.3, page.Ink)
		pg.Add(page.Text{At: plane.Pt(x, edge.Max.Y-11), Size: page.Body, Words: page.Cut(words, page.Body, sign, false), Color: page.Ink})
	}
	return pg, nil
}

// ticked draws small marks along a frame, as on a ruler.
func ticked(pg *page.Page, b plane.Rect) {
	const every, long = 10.0, 3.0
	for x := b.Min.X + every; x < b.Max.X-1; x += every {
		pg.Line(x, b.Min.Y, x, b.Min.Y+long, 0.2, page.Ink)
		pg.Line(x, b.Max.Y, x, b.Max.Y-long, 0.2, page.Ink)
	}
	for y := b.Min.Y + every; y < b.Max.Y-1; y += every {
		pg.Line(b.Min.X, y, b.Min.X+long, y, 0.2, page.Ink)
		pg.Line(b.Max.X, y, b.Max.X-long, y, 0.2, page.Ink)
	}
}

// Poster returns a class's drawings round the picture that all of them began with, on one
// page: as many as there are, as large as they go. Names stand where they were given. The
// error wraps ErrPaper or ErrEmpty.
func Poster(w Wish, title, class string, all []Hung) (page.Page, error) {
	if len(all) == 0 {
		return page.Page{}, fmt.Errorf("the poster: %w; take photos in on the Check step first", page.ErrEmpty)
	}
	l, err := page.Free(w.Printer, "the poster")
	if err != nil {
		return page.Page{}, err
	}
	pg, in := page.Page{Title: "Poster", Size: l.Size}, l.Inner()
	in.Max.Y = float64(l.Size.H) - l.Top
	pg.Add(page.Text{At: plane.Pt(in.Min.X, in.Min.Y+8), Size: 1.6 * page.Title, Words: page.Cut(title, 1.6*page.Title, in.Width(), true), Bold: true, Color: page.Ink},
		page.Text{At: plane.Pt(in.Min.X, in.Min.Y+17), Size: page.Heading,
			Words: page.Cut(fmt.Sprintf("%s · one picture, %d drawings", class, len(all)), page.Heading, in.Width(),
				false), Color: page.Ink})
	room := plane.Rect{Min: plane.Pt(in.Min.X, in.Min.Y+23), Max: in.Max}
	shape := w.Plan.Sheet.Width / w.Plan.Sheet.Height
	const gap, under = 4.0, 6.0
	// The picture takes a square of places in the upper left corner, the drawings the others; a larger one where
	// it fills the page better, and the drawings become hardly smaller by it.
	span, columns, wide := 0, 0, 0.0
	for s := 2; s <= 3; s++ {
		c, w := placed(len(all), s, room, shape, gap, under)
		if area := float64(s*s+len(all)) * w * w; span == 0 || w > 0.9*wide && area > float64(span*span+len(all))*wide*wide {
			span, columns, wide = s, c, w
		}
	}
	high := wide / shape
	big := page.Box(room.Min.X, room.Min.Y, float64(span)*wide+float64(span-1)*gap, float64(span)*high+float64(span-1)*(gap+under))
	if w.Plan.Frame != nil {
		pg.Add(w.picture(big), page.BoxPath(big, 0.6, page.Ink))
	}
	place := 0
	for _, h := range all {
		for place/columns < span && place%columns < span {
			place++
		}
		at := room.Min.Add(plane.Pt(float64(place%columns)*(wide+gap), float64(place/columns)*(high+gap+under)))
		b := h.in(page.Box(at.X, at.Y, wide, high))
		pg.Add(page.Picture{Box: b, Name: h.Drawn.Name}, page.BoxPath(b, 0.2, page.Ink),
			page.Text{At: plane.Pt(at.X+wide/2, at.Y+high+4.4), Size: min(page.Body, wide/6), Words: page.Cut(h.Name, min(page.Body, wide/6), wide, false), Anchor: page.Middle, Color: page.Ink})
		place++
	}
	return pg, nil
}

// placed returns in how many columns the places of so many drawings of a shape, and span × span more, with gaps
// between and room under each, are largest in a room, and how wide they are then.
func placed(n, span int, room plane.Rect, shape, gap, under float64) (columns int, wide float64) {
	n += span * span
	for c := span; c <= max(span, n); c++ {
		rows := max(float64(span), math.Ceil(float64(n)/float64(c)))
		w := min((room.Width()-gap*float64(c-1))/float64(c), ((room.Height()-(gap+under)*rows+gap)/rows)*shape)
		if w > wide {
			columns, wide = c, w
		}
	}
	return columns, wide
}
