package sheet

import (
	"fmt"
	"math"
	"slices"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/plane"
)

// overlap is what neighbouring tiles share, to be glued, and cropRoom what the
// crop marks need outside the work. Millimetres, ours.
const overlap, cropRoom = 10.0, 5.0

// Tile is one page's part of a larger sheet.
type Tile struct {
	Column, Row int
	Region      plane.Rect  // of the sheet, mm from its top left
	At          plane.Point // where the region's top left stands on the page
}

// DrawingSheet returns the sheet to draw on, with its faint grid or only its
// marks; one larger than the printer's paper comes in tiles, the map of which
// is the first page. The error wraps ErrPaper.
func DrawingSheet(w Wish) ([]page.Page, error) { return w.drawingSheet(nil) }

// drawingSheet is DrawingSheet with more drawn on each paper, whose grid begins at origin.
func (w Wish) drawingSheet(more func(pg *page.Page, origin plane.Point)) ([]page.Page, error) {
	var pages []page.Page
	for _, panel := range w.Plan.Panels() {
		whole := sheetFor(w.Plan, panel, w.MarksOnly)
		if more != nil {
			more(&whole, panelOrigin(w.Plan, panel))
		}
		whole.Title = w.titled()
		laid, err := tiled(whole, w.Printer, w.Plan.Units)
		if err != nil {
			return nil, err
		}
		if pages = append(pages, laid...); len(pages) > mostTiles {
			return nil, fmt.Errorf("%d drawing sheets of %s %w in tiles; choose larger paper, or hang fewer", len(w.Plan.Panels()), whole.Size.Text(w.Plan.Units), page.ErrPaper)
		}
	}
	return pages, nil
}

// panelOrigin returns where on a paper the grid begins.
func panelOrigin(p grid.Plan, panel grid.Panel) plane.Point {
	return plane.Pt(p.Sheet.Origin.X-float64(panel.Column)*panel.Size[0], p.Sheet.Origin.Y-float64(panel.Row)*panel.Size[1])
}

// sheetFor draws one paper as a page of its own true size.
func sheetFor(p grid.Plan, panel grid.Panel, marksOnly bool) page.Page {
	size := panel.Size
	if p.CutOut() {
		size = [2]float64{p.Sheet.Width, p.Sheet.Height}
	}
	pg := page.Page{Size: measure.Size{W: measure.Length(size[0]), H: measure.Length(size[1])}}
	origin := panelOrigin(p, panel)
	if marksOnly {
		drawEdgeMarks(&pg, panel.X, panel.Y, size)
		return pg
	}
	net := SheetNet(p)
	drawRule(&pg, origin, net)
	// Small pale labels in the corners of the boxes: they are erased with the grid.
	for _, c := range p.Cells() {
		pg.Add(page.Text{At: plane.Pt(origin.X+c.Sheet.Min.X+1, origin.Y+c.Sheet.Min.Y+3), Size: 2.6, Words: c.Label, Color: Pale})
	}
	return pg
}

func drawEdgeMarks(pg *page.Page, xs, ys []float64, size [2]float64) {
	const tick = 5.0
	for _, x := range xs {
		pg.Line(x, 0, x, tick, 0.2, page.Faint)
		pg.Line(x, size[1]-tick, x, size[1], 0.2, page.Faint)
	}
	for _, y := range ys {
		pg.Line(0, y, tick, y, 0.2, page.Faint)
		pg.Line(size[0]-tick, y, size[0], y, 0.2, page.Faint)
	}
}

// mostTiles is how many tiles a drawing's sheet may need: nobody glues more (ours).
const mostTiles = 400

// tiled lays a large page on the printer's paper: whole where it fits, else in
// tiles with a map before them.
func tiled(whole page.Page, pr page.Printer, u measure.Unit) ([]page.Page, error) {
	if l, err := page.Lay(whole.Size, pr); err == nil {
		pg := l.Begin(whole.Title, "Drawing sheet · "+whole.Size.Text(u))
		drawPlace(&pg, whole, plane.Rect{Max: plane.Pt(float64(whole.Size.W), float64(whole.Size.H))}, l.Work.Min)
		pg.Add(page.BoxPath(l.Work, 0.15, page.Faint))
		return []page.Page{pg}, nil
	}
	l, tiles, err := Tiles(whole.Size, pr)
	if err != nil {
		return nil, err
	}
	last := tiles[len(tiles)-1]
	pages := []page.Page{tileMap(whole, tiles, pr, u)}
	for i, t := range tiles {
		pg := l.Begin(whole.Title, fmt.Sprintf("Drawing sheet · tile %d of %d · row %d of %d, column %d of %d", i+1, len(tiles), t.Row+1, last.Row+1, t.Column+1, last.Column+1))
		drawPlace(&pg, whole, t.Region, t.At)
		drawCropMarks(&pg, t, last)
		pages = append(pages, pg)
	}
	return pages, nil
}

// Tiles returns how a sheet is cut into tiles for the printer's paper, row by
// row, turned whichever way needs fewer. The error wraps ErrPaper.
func Tiles(size measure.Size, pr page.Printer) (l page.Layout, tiles []Tile, err error) {
	best := 0
	for _, try := range []page.Layout{pr.Upright(), pr.Lying()} {
		room := tileRoom(try)
		if room.W < 60 || room.H < 60 {
			continue
		}
		columns, rows := tilesAlong(size.W, room.W), tilesAlong(size.H, room.H)
		if best == 0 || columns*rows < best {
			best, l = columns*rows, try
		}
	}
	if best == 0 || best > mostTiles {
		return l, nil, fmt.Errorf("a drawing sheet of %s %w, not even in tiles; choose larger paper", pr.Said(size), page.ErrPaper)
	}
	room, in := tileRoom(l), l.Inner()
	stepX, stepY := float64(room.W)-overlap, float64(room.H)-overlap
	at := plane.Pt(in.Min.X+cropRoom, in.Min.Y+cropRoom)
	for row := range tilesAlong(size.H, room.H) {
		for column := range tilesAlong(size.W, room.W) {
			from := plane.Pt(float64(column)*stepX, float64(row)*stepY)
			to := plane.Pt(min(from.X+float64(room.W), float64(size.W)), min(from.Y+float64(room.H), float64(size.H)))
			tiles = append(tiles, Tile{column, row, plane.Rect{Min: from, Max: to}, at})
		}
	}
	return l, tiles, nil
}

func tileRoom(l page.Layout) measure.Size {
	in := l.Inner()
	return measure.Size{W: measure.Length(in.Width() - 2*cropRoom), H: measure.Length(in.Height() - 2*cropRoom)}
}

func tilesAlong(side, room measure.Length) int {
	return max(1, int(math.Ceil((float64(side)-overlap)/(float64(room)-overlap)-1e-9)))
}

// drawPlace puts the part of another page inside region at a place on this one,
// true to size; lines are cut at the region's edge.
func drawPlace(pg *page.Page, from page.Page, region plane.Rect, at plane.Point) {
	move := func(q plane.Point) plane.Point { return plane.Pt(q.X-region.Min.X+at.X, q.Y-region.Min.Y+at.Y) }
	for _, item := range from.Items {
		switch v := item.(type) {
		case page.Text:
			if region.Holds(v.At) {
				pg.Add(page.Moved(v, move))
			}
		case page.Path:
			points := v.Points
			if !slices.ContainsFunc(points, func(q plane.Point) bool { return !region.Holds(q) }) {
				pg.Add(page.Moved(v, move)) // whole, and filled as it is
				continue
			}
			if v.Closed && len(points) > 0 {
				points = append(append([]plane.Point{}, points...), points[0])
			}
			v.Closed, v.Fill = false, nil
			for i := 1; i < len(points); i++ {
				if a, b, ok := region.Cut(points[i-1], points[i]); ok {
					v.Points = []plane.Point{a, b}
					pg.Add(page.Moved(v, move))
				}
			}
		}
	}
}

// drawCropMarks draws, outside the work, where a tile ends and where its
// neighbour's edge lies on it.
func drawCropMarks(pg *page.Page, t, last Tile) {
	w, h := t.Region.Width(), t.Region.Height()
	x0, y0, x1, y1 := t.At.X, t.At.Y, t.At.X+w, t.At.Y+h
	const gap, long = 0.8, 3.4
	mark := func(x, y float64, dashed bool) {
		for _, p := range []page.Path{
			{Points: []plane.Point{plane.Pt(x, y0-gap-long), plane.Pt(x, y0-gap)}}, {Points: []plane.Point{plane.Pt(x, y1+gap), plane.Pt(x, y1+gap+long)}},
			{Points: []plane.Point{plane.Pt(x0-gap-long, y), plane.Pt(x0-gap, y)}}, {Points: []plane.Point{plane.Pt(x1+gap, y), plane.Pt(x1+gap+long, y)}},
		} {
			p.Width, p.Stroke = 0.15, page.Ink
			if dashed {
				p.Dash = 0.7
			}
			pg.Add(p)
		}
	}
	mark(x0, y0, false)
	mark(x1, y1, false)
	if t.Column < last.Column {
		mark(x1-overlap, y1, true)
	}
	if t.Row < last.Row {
		mark(x1, y1-overlap, true)
	}
}

// tileMap shows where every tile goes and in which order to join them.
func tileMap(whole page.Page, tiles []Tile, pr page.Printer, u measure.Unit) page.Page {
	l := pr.Upright()
	pg, in := l.Begin(whole.Title, "Drawing sheet · map of the tiles"), l.Inner()
	last := tiles[len(tiles)-1]
	w, h := float64(whole.Size.W), float64(whole.Size.H)
	k := min((in.Width()-20)/w, in.Height()*0.55/h)
	at := plane.Pt(in.Min.X+(in.Width()-w*k)/2, in.Min.Y+8)
	for i, t := range tiles {
		b := page.Box(at.X+t.Region.Min.X*k, at.Y+t.Region.Min.Y*k, t.Region.Width()*k, t.Region.Height()*k)
		pg.Add(page.BoxPath(b, 0.25, page.Ink), page.Text{At: plane.Pt((b.Min.X+b.Max.X)/2, (b.Min.Y+b.Max.Y)/2+2),
			Size: 6, Words: fmt.Sprint(i + 1), Anchor: page.Middle, Bold: true, Color: page.Ink})
	}
	steps := []string{
		fmt.Sprintf("%d tiles in %d rows of %d. Print them at actual size.", len(tiles), last.Row+1, last.Column+1),
		"On every tile but the first of a row, cut along the left crop marks; on every row but the first, along the top ones.",
		"Join each row from left to right: lay the cut edge on the dashed marks of the tile before, and tape it on the back.",
		"Then join the rows from the top down, in the same way.",
		"Check: the whole sheet must measure " + whole.Size.Text(u) + ", corner to corner " + whole.Size.Diagonal().About(u) + ".",
	}
	drawNumbered(&pg, steps, plane.Pt(in.Min.X, at.Y+h*k+12), in.Width(), in.Max.Y-2)
	return pg
}
