package sheet

import (
	"fmt"
	"math"
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

// Of tile cards, in millimetres: the gap between two, and how wide and high one is at least.
const cardGap, leastCardWide, leastCardHigh = 3.0, 58.0, 51.0

// TileCards returns a card for every tile, in the order of its home: the tile as
// it was with an arrow up, where it goes, and how it looks laid there. The cards fill their
// pages. The error wraps ErrPaper.
func TileCards(w Wish, m tiles.Map) ([]page.Page, error) {
	l, err := page.Free(w.Printer, "the page of tile cards")
	if err != nil {
		return nil, err
	}
	var pages []page.Page
	begin := func() plane.Rect {
		pg, room := l.Begin(w.titled(), fmt.Sprintf("Tile cards · arrangement %d · the arrow is the tile's own top", m.Seed)), l.Inner()
		room.Max.Y = drawCare(&pg, room, lesson.Cautions(lesson.Scissors, lesson.Knife))
		room.Min.Y, room.Max.Y = room.Min.Y+3, room.Max.Y-2
		pages = append(pages, pg)
		return room
	}
	to := map[string]tiles.Slot{}
	for _, place := range m.Places {
		to[place.Tile] = place
	}
	cells, room := w.Plan.Cells(), begin()
	columns := max(1, int((room.Width()+cardGap)/(leastCardWide+cardGap)))
	rows := max(1, int((room.Height()+cardGap)/(leastCardHigh+cardGap)))
	all := (len(cells) + columns - 1) / columns
	sheets := (all + rows - 1) / rows
	rows = (all + sheets - 1) / sheets // as many on every page
	wide, high := (room.Width()+cardGap)/float64(columns)-cardGap, (room.Height()+cardGap)/float64(rows)-cardGap
	high = min(high, 1.2*wide) // a few tiles do not make long cards
	for i, c := range cells {
		slot := i % (columns * rows)
		if slot == 0 && i > 0 {
			room = begin()
		}
		at := page.Box(room.Min.X+float64(slot%columns)*(wide+cardGap), room.Min.Y+float64(slot/columns)*(high+cardGap), wide, high)
		drawTileCard(&pages[len(pages)-1], w, c, to[c.Label], at)
	}
	return pages, nil
}

// drawTileCard draws one card: the tile and its name at the left, where it goes and how it
// lies there at the right, and in words below.
func drawTileCard(pg *page.Page, w Wish, c grid.Cell, to tiles.Slot, on plane.Rect) {
	drawCut(pg, on)
	const edge, names, words = 5.0, 17.0, 17.0 // an arrow stands in the edge
	side := min(on.Width()/2-2*edge, on.Height()-names-words)
	k := side / max(c.Reference.Width(), c.Reference.Height())
	half := plane.Pt(c.Reference.Width()*k/2, c.Reference.Height()*k/2)
	own, laid := plane.Pt(on.Min.X+edge+side/2, on.Min.Y+names+side/2), plane.Pt(on.Max.X-edge-side/2, on.Min.Y+names+side/2)
	w.drawTile(pg, own, half, c, tiles.Slot{})
	w.drawTile(pg, laid, half, c, to)
	x := laid.X - side/2
	pg.Add(page.Text{At: plane.Pt(own.X-side/2, on.Min.Y+8), Size: page.Heading, Words: c.Label, Bold: true, Color: page.Ink},
		page.Text{At: plane.Pt(x-3, on.Min.Y+8), Size: page.Small, Words: "goes to", Anchor: page.End, Color: page.Ink},
		page.Text{At: plane.Pt(x, on.Min.Y+8), Size: page.Heading, Words: to.Label, Bold: true, Color: page.Ink})
	pg.Paragraph(plane.Pt(on.Min.X+edge, on.Max.Y-words+page.Small+1.2), page.Small, on.Width()-2*edge, false, to.How())
}

// drawTile draws a tile as it is laid, half so wide and high before it is turned: dashed where
// it lies face down, with an arrow outside the edge that is its own top.
func (w Wish) drawTile(pg *page.Page, mid, half plane.Point, c grid.Cell, to tiles.Slot) {
	out := half.Y
	if to.Turn%180 != 0 {
		half.X, half.Y = half.Y, half.X
	}
	b := plane.Rect{Min: mid.Sub(half), Max: mid.Add(half)}
	if w.Plan.Frame != nil {
		pic, part := w.picture(b), laidPart(w.Plan, c, to)
		pic.Part = &part
		pg.Add(pic)
	}
	edge := page.BoxPath(b, 0.4, page.Ink)
	if to.Flip {
		edge.Dash = 0.9
	}
	pg.Add(edge)
	const long = 9.0 // of which the arrow is the outer part
	sin, cos := math.Sincos(float64(to.Turn) * math.Pi / 180)
	drawUpArrow(pg, mid.Add(plane.Pt(sin, -cos).Mul(out+0.6-0.62*long)), long, float64(to.Turn))
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
		pg.Add(page.Text{At: plane.Pt(in.Min.X, top+1.25*careSize*float64(i)), Size: careSize, Words: line, Color: page.Ink, Foot: true})
	}
	return top - careSize - 1
}

// careSize is the size of cautions at the foot of a page, mm.
const careSize = page.Small

// TileLines returns the rearranged lines at the size of the reference, a ring
// at each loose end, and dashed how it is prolonged.
func TileLines(p grid.Plan, lines [][]plane.Point, b tiles.Borders) page.Page {
	pg := tilePage(p, "Lines after the rearrangement")
	for _, c := range p.Cells() {
		pg.Add(page.BoxPath(c.Reference, 0.12, page.Faint))
	}
	for _, run := range lines {
		pg.Add(page.Path{Points: run, Width: 0.5, Stroke: page.Ink})
	}
	for _, l := range b.Loose {
		pg.Add(page.Path{Points: []plane.Point{l.At, l.To}, Width: 0.7, Stroke: endInk, Dash: 1.4})
		pg.Ring(l.At, 1.2, endInk)
	}
	return pg
}

// TileClosed returns the lines of a rearrangement with the loose ones lengthened until they
// close areas, and nothing else.
func TileClosed(p grid.Plan, lines [][]plane.Point, b tiles.Borders) page.Page {
	pg := tilePage(p, "Lines after the rearrangement, closed")
	for _, l := range b.Loose {
		lines = append(lines, []plane.Point{l.At, l.To})
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
