package sheet

import (
	"fmt"

	"zestysketch/internal/core/lesson"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/plane"
)

// ProjectCard returns the project at a glance: the picture, picture and drawing to one scale,
// the road as a line of signs with minutes, what is needed, and the cautions of all of it.
// The error wraps ErrPaper.
func ProjectCard(w Wish) (page.Page, error) {
	l, err := page.Free(w.Printer, "the project card")
	if err != nil {
		return page.Page{}, err
	}
	pg, in := l.Begin(w.titled(), "Project card"), l.Inner()
	road := w.Road
	if len(road.Stages) == 0 {
		road = lesson.NewRoad()
	}
	care := drawCare(&pg, in, roadCautions(w, road))
	y := pg.Paragraph(plane.Pt(in.Min.X, in.Min.Y+11), page.Title, in.Width(), true, titled(w.Plan)) + 1
	y = w.drawSizes(&pg, plane.Rect{Min: plane.Pt(in.Min.X, y-4), Max: plane.Pt(in.Max.X, y+in.Height()*0.27)})
	y = drawRoad(&pg, plane.Pt(in.Min.X, y+11), in.Width(), road)
	if care-y < 24 {
		return pg, nil // a small paper: sizes and road are what it is for
	}
	pg.Add(page.Text{At: plane.Pt(in.Min.X, y+4), Size: page.Heading, Words: "You need", Bold: true, Color: page.Ink})
	y = drawColumns(&pg, plane.Rect{Min: plane.Pt(in.Min.X, y+12), Max: plane.Pt(in.Max.X, care)}, w.needs(road))
	if care-y > 14 {
		pg.Paragraph(plane.Pt(in.Min.X, y+5), page.Body, in.Width(), false, fmt.Sprintf("Today: from %[1]s ________ to %[1]s ________     Next time: ________________________", road.Unit().One))
	}
	return pg, nil
}

// roadCautions are those of the plan and of every stage of the road, each once.
func roadCautions(w Wish, road lesson.Road) []string {
	tools := planTools(w.Plan)
	seen := map[lesson.Tool]bool{}
	for _, t := range tools {
		seen[t] = true
	}
	for _, s := range road.On() {
		for _, t := range s.Tools() {
			if !seen[t] {
				tools, seen[t] = append(tools, t), true
			}
		}
	}
	return lesson.Cautions(tools...)
}

// drawSizes draws the picture, and beside it picture and drawing to one scale on the stock
// that the drawing is cut from, with their sizes; it returns the lower edge.
func (w Wish) drawSizes(pg *page.Page, room plane.Rect) float64 {
	p := w.Plan
	half := room.Width() * 0.44
	k := min(half/p.Reference.Width, room.Height()/p.Reference.Height)
	pic := page.Box(room.Min.X, room.Min.Y, k*p.Reference.Width, k*p.Reference.Height)
	if p.Frame != nil {
		pg.Add(w.picture(pic))
	}
	pg.Add(page.BoxPath(pic, 0.4, page.Ink))
	right := plane.Rect{Min: plane.Pt(room.Min.X+half+8, room.Min.Y), Max: room.Max}
	words := []string{
		"Picture " + p.ReferenceSize().Text(p.Units) + ", drawing " + p.SheetSize().Text(p.Units) + ", " + gridTimes(p) + ".",
		"Cut from " + p.StockSize().Text(p.Units) + ".",
	}
	if w.Road.Counts() == nil {
		words = append(words, fmt.Sprintf("%d × %d boxes: %s on the picture, %s on the sheet.", p.Grid.Columns, p.Grid.Rows,
			p.Text(p.Grid.ReferenceCell[0]), p.Text(p.Grid.SheetCell[0])), orderWords(p, w.Road))
	}
	switch {
	case p.SheetSize() == p.StockSize():
		words[1] = "The whole sheet is drawn on."
	case p.Sheet.Canvas:
		words[1] = "On a canvas of " + p.StockSize().Text(p.Units) + ", which is not trimmed."
	case !p.CutOut():
		words[1] = "On paper of " + p.StockSize().Text(p.Units) + ", which is not trimmed."
	}
	high := listHeight(words, page.Body, right.Width()+page.Body*checkIndent)
	toScale(pg, plane.Rect{Min: right.Min, Max: plane.Pt(right.Max.X, right.Max.Y-high)}, p.ReferenceSize(), p.SheetSize(), p.StockSize())
	y := right.Max.Y - high + page.Body*1.4
	for _, line := range words {
		y = pg.Paragraph(plane.Pt(right.Min.X, y), page.Body, right.Width(), false, line) + page.Body*0.3
	}
	return max(pic.Max.Y, y-page.Body)
}

// toScale draws a picture beside its drawing on the stock, standing on one line.
func toScale(pg *page.Page, room plane.Rect, picture, drawing, stock measure.Size) {
	if !stock.Holds(drawing) {
		stock = stock.Turned()
	}
	gap := float64(picture.W) * 0.25
	wide := float64(picture.W) + gap + float64(max(drawing.W, stock.W))
	high := float64(max(picture.H, drawing.H, stock.H))
	k := min(room.Width()/wide, room.Height()/high)
	stand := func(x float64, s measure.Size, width float64, c page.Color) {
		pg.Add(page.BoxPath(page.Box(room.Min.X+k*x, room.Min.Y+k*(high-float64(s.H)), k*float64(s.W), k*float64(s.H)), width, c))
	}
	stand(float64(picture.W)+gap, stock, 0.3, page.Faint)
	stand(0, picture, 0.5, page.Ink)
	stand(float64(picture.W)+gap, drawing, 0.5, page.Ink)
	pg.Add(page.Path{Points: []plane.Point{plane.Pt(room.Min.X, room.Min.Y+k*high),
		plane.Pt(room.Min.X+k*float64(picture.W), room.Min.Y+k*(high-float64(picture.H)))}, Width: 0.3,
		Stroke: page.Faint, Dash: 1.5},
		page.Path{Points: []plane.Point{plane.Pt(room.Min.X+k*(float64(picture.W)+gap), room.Min.Y+k*high),
			plane.Pt(room.Min.X+k*(float64(picture.W)+gap+float64(drawing.W)),
				room.Min.Y+k*(high-float64(drawing.H)))}, Width: 0.3, Stroke: page.Faint, Dash: 1.5})
}

// Of the road's signs: how many stand in a row at most, and how large one is, mm.
const signsARow, signSide = 5, 12.0

// drawRoad draws the stages that are on as a line of signs with their minutes, an eye where
// something is looked at before the next opens, and returns where the next thing goes.
func drawRoad(pg *page.Page, at plane.Point, width float64, road lesson.Road) float64 {
	on := road.On()
	pg.Add(page.Text{At: at, Size: page.Heading, Words: fmt.Sprintf("The road: %.0f minutes of work", road.Minutes()), Bold: true, Color: page.Ink})
	y, step := at.Y+5, width/signsARow
	for from := 0; from < len(on); from += signsARow {
		lines := 1
		for i, s := range on[from:min(from+signsARow, len(on))] {
			x := at.X + float64(i)*step
			drawSign(pg, signs[s.Kind], plane.Pt(x, y), signSide)
			pg.Add(page.Text{At: plane.Pt(x+signSide+1.5, y+5), Size: page.Small, Words: fmt.Sprintf("%g min", s.Minutes), Color: page.Ink})
			if s.Checkpoint != "" {
				drawSign(pg, looked, plane.Pt(x+signSide+1.5, y+6.5), 5)
			}
			name := page.Wrap(s.Name(), page.Small, step-3, true)
			lines = max(lines, len(name))
			pg.Paragraph(plane.Pt(x, y+signSide+4), page.Small, step-3, true, s.Name())
			if i > 0 {
				pg.Line(x-step+signSide+14, y+signSide/2, x-2, y+signSide/2, 0.25, page.Faint)
			}
		}
		y += signSide + 4 + float64(lines)*page.Small*page.Leading + 2.5
	}
	return y + 1
}

// needs lists what one student needs: what the plan asks for, then the road's materials.
func (w Wish) needs(road lesson.Road) []string {
	p := w.Plan
	on := "drawing paper "
	if p.Sheet.Canvas {
		on = "canvas "
	}
	list := []string{on + p.StockSize().Text(p.Units)}
	for _, m := range road.MarkedBy(p.Ruler.Way).Supplies(1) {
		if m.Name != "drawing paper" && m.Each >= 0.5 {
			list = append(list, m.Name)
		}
	}
	return list
}

// drawColumns writes lines to tick in two columns, as many as there is room for, and returns
// where the next thing goes.
func drawColumns(pg *page.Page, room plane.Rect, lines []string) (bottom float64) {
	half := (len(lines) + 1) / 2
	wide := room.Width()/2 - 4
	size := page.Body
	for size > page.Small && listHeight(lines[:half], size, wide) > room.Height() {
		size -= 0.2
	}
	for i, column := range [][]string{lines[:half], lines[half:]} {
		bottom = max(bottom, drawChecks(pg, plane.Pt(room.Min.X+float64(i)*(wide+8), room.Min.Y), size, wide, column))
	}
	return bottom
}
