package sheet

import (
	"fmt"
	"slices"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/lesson"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/core/tiles"
)

// TileSource returns the old grid at the size of the reference: every tile with
// its name and an arrow up, to be copied on the back before tiles are parted.
func TileSource(p grid.Plan) page.Page {
	pg := tilePage(p, "Where each tile comes from")
	if p.Frame != nil {
		pg.Add(page.Picture{Box: page.Box(0, 0, p.Reference.Width, p.Reference.Height), Name: FramePicture, Part: p.Frame, Fade: 0.6})
	}
	for _, c := range p.Cells() {
		r, mid := c.Reference, c.Reference.Middle()
		k := min(r.Width(), r.Height())
		pg.Add(page.BoxPath(r, 0.25, page.Ink), page.Text{At: plane.Pt(mid.X, mid.Y+0.1*k), Size: 0.26 * k, Words: c.Label, Anchor: page.Middle, Bold: true, Color: page.Ink, Halo: true})
		drawUpArrow(&pg, mid, 0.46*k, 0)
	}
	return pg
}

// TileCards returns a card for every tile, in the order of its home: the tile as
// it was with an arrow up, where it goes and how it is laid. The error wraps
// ErrPaper.
func TileCards(w Wish, m tiles.Map) ([]page.Page, error) {
	l, err := page.Free(w.Printer, "the page of tile cards")
	if err != nil {
		return nil, err
	}
	in := l.Inner()
	const gap, high = 3.0, 49.0
	columns := max(1, int(in.Width()/62))
	rows := max(1, int((in.Height()-14)/high))
	wide := (in.Width() - gap*float64(columns-1)) / float64(columns)
	to := map[string]tiles.Place{}
	for _, place := range m.Places {
		to[place.Tile] = place
	}
	var pages []page.Page
	for i, c := range w.Plan.Cells() {
		slot := i % (columns * rows)
		if slot == 0 {
			pg := l.Begin(w.titled(), fmt.Sprintf("Tile cards · arrangement %d · the arrow is the tile's own top", m.Seed))
			drawCare(&pg, in, lesson.Cautions(lesson.Scissors, lesson.Knife))
			pages = append(pages, pg)
		}
		at := page.Box(in.Min.X+float64(slot%columns)*(wide+gap), in.Min.Y+3+float64(slot/columns)*high, wide, high-gap)
		drawTileCard(&pages[len(pages)-1], w, c, to[c.Label], at)
	}
	return pages, nil
}

func drawTileCard(pg *page.Page, w Wish, c grid.Cell, to tiles.Place, on plane.Rect) {
	pg.Add(page.Path{Points: page.BoxPath(on, 0, page.Faint).Points, Closed: true, Width: 0.15, Stroke: page.Faint, Dash: 1.5})
	const side = 26.0
	k := side / max(c.Reference.Width(), c.Reference.Height())
	b := page.Box(on.Min.X+3, on.Min.Y+10, c.Reference.Width()*k, c.Reference.Height()*k)
	if w.Plan.Frame != nil {
		pic := w.picture(b)
		part := tilePart(w.Plan, c)
		pic.Part = &part
		pg.Add(pic)
	}
	pg.Add(page.BoxPath(b, 0.3, page.Ink))
	drawUpArrow(pg, plane.Pt((b.Min.X+b.Max.X)/2, b.Min.Y+3), 9, 0)
	x := on.Min.X + side + 7
	pg.Add(page.Text{At: plane.Pt(x, on.Min.Y+14), Size: 4, Words: "tile", Color: page.Ink}, page.Text{At: plane.Pt(x+9, on.Min.Y+14), Size: 6, Words: c.Label, Bold: true, Color: page.Ink},
		page.Text{At: plane.Pt(x, on.Min.Y+23), Size: 4, Words: "goes to", Color: page.Ink}, page.Text{At: plane.Pt(x, on.Min.Y+31), Size: 7, Words: to.Label, Bold: true, Color: page.Ink})
	drawLaidSign(pg, plane.Pt(x+19, on.Min.Y+28), to)
	y := on.Min.Y + 40
	for _, line := range page.Wrap(to.How(), 3.2, on.Width()-6, false) {
		pg.Add(page.Text{At: plane.Pt(on.Min.X+3, y), Size: 3.2, Words: line, Color: page.Ink})
		y += 4
	}
}

// drawLaidSign draws a small tile as it is laid, its own top marked by the arrow;
// one that lies face down is dashed.
func drawLaidSign(pg *page.Page, mid plane.Point, to tiles.Place) {
	b := page.BoxPath(page.Box(mid.X-4.5, mid.Y-4.5, 9, 9), 0.3, page.Ink)
	if to.Flip {
		b.Dash = 0.9
	}
	pg.Add(b)
	drawUpArrow(pg, mid, 4, float64(to.Turn))
}

// tilePart returns what of the picture a box shows.
func tilePart(p grid.Plan, c grid.Cell) grid.Frame {
	mid := p.ToPicture(c.Reference.Middle())
	return grid.Frame{Picture: p.Frame.Picture, Centre: mid, Angle: p.Frame.Angle, Mirror: p.Frame.Mirror,
		Size: [2]float64{c.Reference.Width() * p.Frame.Size[0] / p.Reference.Width, c.Reference.Height() * p.Frame.Size[1] / p.Reference.Height}}
}

// drawCare writes cautions at the foot of a page, whatever else is on it, and
// returns how far down the rest may go.
func drawCare(pg *page.Page, in plane.Rect, notes []string) (bottom float64) {
	var lines []string
	for _, note := range notes {
		lines = append(lines, page.Wrap(note, careSize, in.Width(), false)...)
	}
	top := in.Max.Y - 1 - 1.25*careSize*float64(len(lines)-1)
	for i, line := range lines {
		pg.Add(page.Text{At: plane.Pt(in.Min.X, top+1.25*careSize*float64(i)), Size: careSize, Words: line, Color: page.Ink})
	}
	return top - careSize - 1
}

// careSize is the size of cautions at the foot of a page, mm.
const careSize = page.Small

// TileLines returns the rearranged lines at the size of the reference, a ring
// at each loose end, and dashed how it may be closed.
func TileLines(p grid.Plan, lines [][]plane.Point, b tiles.Borders) page.Page {
	pg := tilePage(p, "Lines after the rearrangement")
	for _, c := range p.Cells() {
		pg.Add(page.BoxPath(c.Reference, 0.12, page.Faint))
	}
	for _, run := range lines {
		pg.Add(page.Path{Points: run, Width: 0.5, Stroke: page.Ink})
	}
	for _, l := range b.Loose {
		if l.Closes {
			pg.Add(page.Path{Points: l.Along, Width: 0.7, Stroke: endInk, Dash: 1.4})
		}
		pg.Ring(l.At, 1.2, endInk)
	}
	return pg
}

// TileClosed returns the lines of a rearrangement with the loose ones lengthened until they
// close areas, and nothing else.
func TileClosed(p grid.Plan, lines [][]plane.Point, b tiles.Borders) page.Page {
	pg := tilePage(p, "Lines after the rearrangement, closed")
	for _, l := range b.Loose {
		if l.Closes {
			lines = append(lines, l.Along)
		}
	}
	for _, run := range lines {
		pg.Add(page.Path{Points: run, Width: 1.2, Stroke: page.Ink}) // broad enough to part areas
	}
	return pg
}

// Arrangement is one student's rearrangement.
type Arrangement struct {
	Who string
	Map tiles.Map
}

// TileKey returns the teacher's key: every student's map, small. The error
// wraps ErrPaper.
func TileKey(w Wish, all []Arrangement) ([]page.Page, error) {
	l, err := page.Free(w.Printer, "the key")
	if err != nil {
		return nil, err
	}
	in := l.Inner()
	const gap = 5.0
	// As many maps side by side as leave their tiles' names to be read.
	columns, wide, k := 3, 0.0, 0.0
	for ; columns > 0; columns-- {
		wide = (in.Width() - gap*float64(columns-1)) / float64(columns)
		k = wide / w.Plan.Reference.Width
		if cell := w.Plan.Grid.ReferenceCell; tileName*min(cell[0], cell[1])*k >= leastLetters || columns == 1 {
			break
		}
	}
	high := w.Plan.Reference.Height*k + 11
	rows := max(1, int(in.Height()/high))
	if rows == 1 && high > in.Height() {
		k = (in.Height() - 11) / w.Plan.Reference.Height
	}
	var pages []page.Page
	for i, a := range all {
		slot := i % (columns * rows)
		if slot == 0 {
			pages = append(pages, l.Begin(w.titled(), "Key · where each tile went"))
		}
		at := plane.Pt(in.Min.X+float64(slot%columns)*(wide+gap), in.Min.Y+3+float64(slot/columns)*high)
		pg := &pages[len(pages)-1]
		pg.Add(page.Text{At: plane.Pt(at.X, at.Y+4), Size: 3.6, Words: page.Cut(fmt.Sprintf("%s · %d", a.Who, a.Map.Seed), 3.6, wide, true), Bold: true, Color: page.Ink})
		drawScaled(pg, TileMap(w.Plan, a.Map), plane.Pt(at.X, at.Y+6), k)
	}
	return pages, nil
}

// drawScaled puts another page on this one, k times as large. Letters that would be too
// small to read are written as large as they must be, where nothing is written yet, and
// left out elsewhere.
func drawScaled(pg *page.Page, from page.Page, at plane.Point, k float64) {
	var taken []plane.Rect
	for _, item := range from.Items {
		item = page.Moved(item, func(q plane.Point) plane.Point { return plane.Pt(at.X+q.X*k, at.Y+q.Y*k) })
		switch v := item.(type) {
		case page.Text:
			v.Size = max(leastLetters, v.Size*k)
			room := reaches(v)
			if slices.ContainsFunc(taken, func(o plane.Rect) bool { return onAnother(o, room) }) {
				continue
			}
			taken = append(taken, room)
			item = v
		case page.Path:
			v.Width, v.Dash = max(min(v.Width, 0.12), v.Width*k), v.Dash*k
			item = v
		}
		pg.Add(item)
	}
}

// reaches returns the box that a line of words fills.
func reaches(t page.Text) plane.Rect {
	wide, x := page.TextWidth(t.Words, t.Size, t.Bold), t.At.X
	switch t.Anchor {
	case page.Middle:
		x -= wide / 2
	case page.End:
		x -= wide
	}
	return plane.Rect{Min: plane.Pt(x, t.At.Y-0.7*t.Size), Max: plane.Pt(x+wide, t.At.Y)}
}

// onAnother reports whether two boxes share more than a hair.
func onAnother(a, b plane.Rect) bool {
	const hair = 0.2
	return a.Min.X < b.Max.X-hair && b.Min.X < a.Max.X-hair && a.Min.Y < b.Max.Y-hair && b.Min.Y < a.Max.Y-hair
}
