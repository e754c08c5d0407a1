package sheet

import (
	"fmt"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/plane"
)

// A step of marking up is drawn in a room of this size, with the words beside it; two
// columns of them stand on a page that is wide enough. Millimetres.
const (
	stepWide, stepHigh = 34.0, 27.0
	stepGap            = 4.0
	leastStepWords     = 46.0
)

// drawSteps draws the steps of a card one after the other, down and then in the next column,
// each with its number, its drawing and its words in the largest letters with which all of them
// fit, and returns whether they do.
func drawSteps(pg *page.Page, p grid.Plan, card grid.Card, room plane.Rect) bool {
	columns := max(1, int((room.Width()+6)/(stepWide+leastStepWords+6)))
	rows := (len(card.Steps) + columns - 1) / columns
	wide := (room.Width() - 6*float64(columns-1)) / float64(columns)
	high := min(stepHigh+stepGap+4, room.Height()/float64(rows))
	k := min(1, (high-stepGap)/stepHigh)
	if k < 0.55 { // the drawings would be too small to show anything
		return false
	}
	words := wide - stepWide*k - 12
	size := page.Body
	for _, s := range card.Steps {
		for ; size > page.Small && float64(len(page.Wrap(s.Words, size, words, false)))*size*1.25 > high-2; size -= 0.1 {
		}
		if float64(len(page.Wrap(s.Words, size, words, false)))*size*1.25 > high-2 {
			return false
		}
	}
	for i, s := range card.Steps {
		at := room.Min.Add(plane.Pt(float64(i/rows)*(wide+6), float64(i%rows)*high))
		pg.Add(page.Text{At: at.Add(plane.Pt(0, 5)), Size: page.Heading, Words: fmt.Sprint(i + 1), Bold: true, Color: page.Ink})
		stepDrawing{pg, p, card.Panel, page.Box(at.X+8, at.Y+1, stepWide*k-4, stepHigh*k-3)}.draw(s.Show)
		y := at.Y + 4.6
		for _, line := range page.Wrap(s.Words, size, words, false) {
			pg.Add(page.Text{At: plane.Pt(at.X+stepWide*k+9, y), Size: size, Words: line, Color: page.Ink})
			y += size * 1.25
		}
	}
	return true
}

// stepDrawing draws one step: one of the plan's papers, small, with what is done to it dark.
type stepDrawing struct {
	pg    *page.Page
	p     grid.Plan
	panel grid.Panel
	room  plane.Rect
}

// The lines of these drawings, mm: what is there already, and what is done now.
const thereLine, nowLine = 0.25, 0.7

// paper returns the box of the sheet in its room, below and right of the ruler's place.
func (d stepDrawing) paper() plane.Rect {
	w, h := d.size()
	k := min((d.room.Width()-6)/w, (d.room.Height()-6)/h)
	return page.Box(d.room.Min.X+6, d.room.Min.Y+6, w*k, h*k)
}

// size returns the paper's sides, mm: the drawing's where it is cut to it.
func (d stepDrawing) size() (w, h float64) {
	if d.p.CutOut() {
		return d.p.Sheet.Width, d.p.Sheet.Height
	}
	return d.panel.Size[0], d.panel.Size[1]
}

// at returns a place of the drawing, in boxes from its upper left corner; on the paper's edge where it
// lies beyond it, or so near that two lines would run into one.
func (d stepDrawing) at(column, row float64) plane.Point {
	b := d.paper()
	w, h := d.size()
	x := along(d.p.Marks.SheetX, column) + d.p.Sheet.Origin.X - float64(d.panel.Column)*w
	y := along(d.p.Marks.SheetY, row) + d.p.Sheet.Origin.Y - float64(d.panel.Row)*h
	return plane.Pt(b.Min.X+toEdge(b.Width()*x/w, b.Width()), b.Min.Y+toEdge(b.Height()*y/h, b.Height()))
}

// toEdge returns a place along a side of so many mm, on its end where it lies beyond or close to it.
func toEdge(at, side float64) float64 {
	const close = 1.0
	switch {
	case at < close:
		return 0
	case at > side-close:
		return side
	}
	return at
}

// along returns how far the i-th of marks lies, mm; between two of them evenly.
func along(marks []float64, i float64) float64 {
	k := min(int(i), len(marks)-2)
	return marks[k] + (i-float64(k))*(marks[k+1]-marks[k])
}

// onSide returns the numbers of those marks that lie on a paper's side.
func onSide(marks []float64, shift, side float64) (on []int) {
	for i, m := range marks {
		if at := m + shift; at > -0.05 && at < side+0.05 {
			on = append(on, i)
		}
	}
	return on
}

// columns and rows return the numbers of the grid's lines on this paper.
func (d stepDrawing) columns() []int {
	w, _ := d.size()
	return onSide(d.p.Marks.SheetX, d.p.Sheet.Origin.X-float64(d.panel.Column)*w, w)
}

func (d stepDrawing) rows() []int {
	_, h := d.size()
	return onSide(d.p.Marks.SheetY, d.p.Sheet.Origin.Y-float64(d.panel.Row)*h, h)
}

func (d stepDrawing) line(a, b plane.Point, width float64) {
	d.pg.Line(a.X, a.Y, b.X, b.Y, width, page.Ink)
}

func (d stepDrawing) dashed(a, b plane.Point) { d.pg.Add(dashed(a, b, 0.45, page.Ink)) }

func (d stepDrawing) tape(r plane.Rect, width float64) {
	path := page.BoxPath(r, width, page.Ink)
	path.Fill = &tapeFill
	d.pg.Add(path)
}

func (d stepDrawing) tapes(corners ...plane.Point) {
	for _, q := range corners {
		d.tape(page.Box(q.X-2, q.Y-1.2, 4, 2.4), thereLine)
	}
}

// strip lays a strip of paper with its marks above the sheet.
func (d stepDrawing) strip() {
	b := d.paper()
	d.tape(page.Box(b.Min.X, b.Min.Y-4.4, b.Width(), 3), 0.4)
	for _, i := range d.columns() {
		x := d.at(float64(i), 0).X
		d.line(plane.Pt(x, b.Min.Y-4.4), plane.Pt(x, b.Min.Y-1.4), thereLine)
	}
}

// counts draws the grid with its numbers of columns and rows.
func (d stepDrawing) counts() {
	d.net(thereLine)
	b := d.paper()
	across, down := d.p.On(d.panel)
	d.pg.Add(page.Text{At: plane.Pt((b.Min.X+b.Max.X)/2, b.Min.Y-1.6), Size: 3.6, Words: fmt.Sprint(across), Anchor: page.Middle, Bold: true, Color: page.Ink},
		page.Text{At: plane.Pt(b.Min.X-1.4, (b.Min.Y+b.Max.Y)/2+1.3), Size: 3.6, Words: fmt.Sprint(down), Anchor: page.End, Bold: true, Color: page.Ink})
}

// divide crosses the boxes that are divided.
func (d stepDrawing) divide() {
	d.net(thereLine)
	for _, cell := range d.p.Cells() {
		if d.p.Grid.Split[cell.Label] > 0 {
			x, y := float64(cell.Column), float64(cell.Row)
			d.line(d.at(x+0.5, y), d.at(x+0.5, y+1), nowLine)
			d.line(d.at(x, y+0.5), d.at(x+1, y+0.5), nowLine)
		}
	}
}

func (d stepDrawing) draw(show grid.Shown) {
	c, r := float64(d.p.Grid.Columns), float64(d.p.Grid.Rows)
	if show == grid.ShowPaper {
		d.stock()
		return
	}
	sheet := page.BoxPath(d.paper(), 0.4, page.Ink)
	sheet.Fill = &page.White
	d.pg.Add(sheet)
	switch show {
	case grid.ShowZero:
		d.ruler()
		d.pg.Ring(d.at(0, 0), 2, page.Ink)
	case grid.ShowTop:
		d.ruler()
		d.ticks(true, nowLine)
	case grid.ShowLeft:
		d.ticks(true, thereLine)
		d.ticks(false, nowLine)
	case grid.ShowFar:
		d.ticks(true, thereLine)
		d.ticks(false, thereLine)
		d.pg.Ring(d.at(c, 0), 2, page.Ink)
		d.pg.Ring(d.at(0, r), 2, page.Ink)
	case grid.ShowStrip:
		d.strip()
	case grid.ShowTape:
		d.tapes(d.at(0, 0), d.at(c, 0), d.at(c, r), d.at(0, r))
	case grid.ShowFoldTall, grid.ShowFoldWide, grid.ShowOpen:
		d.creases(show)
	case grid.ShowMarks:
		d.ticks(true, nowLine)
		d.ticks(false, nowLine)
	case grid.ShowJoin:
		d.ticks(true, thereLine)
		d.ticks(false, thereLine)
		d.net(thereLine)
	case grid.ShowCross:
		d.cross(d.at(0, 0), d.at(c, r), 2)
	case grid.ShowCount:
		d.counts()
	case grid.ShowDivide:
		d.divide()
	case grid.ShowDiagonal:
		d.line(d.at(0, 0), d.at(c, r), nowLine)
		d.line(d.at(c, 0), d.at(0, r), nowLine)
	}
}

// stock draws the paper as it is taken, and where it is cut.
func (d stepDrawing) stock() {
	size := d.p.StockSize()
	k := min(d.room.Width()/float64(size.W), d.room.Height()/float64(size.H))
	all := page.Box(d.room.Min.X+3, d.room.Min.Y, float64(size.W)*k, float64(size.H)*k)
	stock := page.BoxPath(all, 0, page.Ink)
	sheet := page.BoxPath(page.Box(all.Min.X+d.p.Sheet.Origin.X*k, all.Min.Y+d.p.Sheet.Origin.Y*k, d.p.Sheet.Width*k, d.p.Sheet.Height*k), 0, page.Ink)
	stock.Fill, sheet.Fill = &Offcut, &page.White
	d.pg.Add(stock, sheet, page.BoxPath(all, 0.4, page.Ink)) // the edge last: nothing covers half of it
	if !d.p.CutOut() {
		return
	}
	corner := all.Min.Add(plane.Pt(d.p.Sheet.Width*k, d.p.Sheet.Height*k))
	if corner.X < all.Max.X-0.1 {
		d.dashed(plane.Pt(corner.X, all.Min.Y), plane.Pt(corner.X, all.Max.Y))
	}
	if corner.Y < all.Max.Y-0.1 {
		d.dashed(plane.Pt(all.Min.X, corner.Y), plane.Pt(all.Max.X, corner.Y))
	}
}

// ruler draws a ruler along the top edge, its zero on the corner.
func (d stepDrawing) ruler() {
	b := d.paper()
	d.pg.Add(page.BoxPath(page.Box(b.Min.X-1.5, b.Min.Y-4.6, b.Width()+3, 3.8), 0.4, page.Ink))
	for x := b.Min.X; x <= b.Max.X; x += 1.8 {
		d.pg.Line(x, b.Min.Y-2.2, x, b.Min.Y-0.8, thereLine, page.Ink)
	}
}

// ticks draws the marks along two facing edges.
func (d stepDrawing) ticks(across bool, width float64) {
	const long = 1.5
	b := d.paper()
	if across {
		for _, i := range d.columns() {
			x := d.at(float64(i), 0).X
			d.line(plane.Pt(x, b.Min.Y), plane.Pt(x, b.Min.Y+long), width)
			d.line(plane.Pt(x, b.Max.Y), plane.Pt(x, b.Max.Y-long), width)
		}
		return
	}
	for _, i := range d.rows() {
		y := d.at(0, float64(i)).Y
		d.line(plane.Pt(b.Min.X, y), plane.Pt(b.Min.X+long, y), width)
		d.line(plane.Pt(b.Max.X, y), plane.Pt(b.Max.X-long, y), width)
	}
}

// net draws all lines of the grid.
func (d stepDrawing) net(width float64) {
	for _, i := range d.columns() {
		d.line(d.at(float64(i), 0), d.at(float64(i), float64(d.p.Grid.Rows)), width)
	}
	for _, i := range d.rows() {
		d.line(d.at(0, float64(i)), d.at(float64(d.p.Grid.Columns), float64(i)), width)
	}
}

// creases draws the folds that are there after a step.
func (d stepDrawing) creases(show grid.Shown) {
	c, r := d.p.Grid.Columns, d.p.Grid.Rows
	if show != grid.ShowFoldWide {
		for _, i := range d.columns() {
			d.dashed(d.at(float64(i), 0), d.at(float64(i), float64(r)))
		}
	}
	if show != grid.ShowFoldTall {
		for _, i := range d.rows() {
			d.dashed(d.at(0, float64(i)), d.at(float64(c), float64(i)))
		}
	}
}

// cross draws corner-to-corner lines, and those of each quarter, so many times.
func (d stepDrawing) cross(from, to plane.Point, times int) {
	width := nowLine
	if times == 1 {
		width = thereLine
	}
	d.line(from, to, width)
	d.line(plane.Pt(to.X, from.Y), plane.Pt(from.X, to.Y), width)
	if times == 1 {
		return
	}
	m := from.To(to, 0.5)
	for _, quarter := range [][2]plane.Point{{from, m}, {m, to}, {plane.Pt(m.X, from.Y), plane.Pt(to.X, m.Y)}, {plane.Pt(from.X, m.Y), plane.Pt(m.X, to.Y)}} {
		d.cross(quarter[0], quarter[1], times-1)
	}
}
