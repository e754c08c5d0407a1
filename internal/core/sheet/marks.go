package sheet

import (
	"fmt"
	"math"
	"strings"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/lesson"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/plane"
)

// Marks returns the cards from which the drawing sheet is marked up, one for
// each paper: a small drawing of it with every mark, and what to do in order.
// The error wraps ErrPaper.
func Marks(w Wish) ([]page.Page, error) {
	l, err := page.Free(w.Printer, "the mark-up card")
	if err != nil {
		return nil, err
	}
	p, in := w.Plan, l.Inner()
	var pages []page.Page
	for _, panel := range p.Panels() {
		card := p.CardFor(panel)
		pg := l.Begin(w.titled(), fmt.Sprintf("%s · %s", card.Title, p.SheetSize().Text(p.Units)))
		foot := drawCare(&pg, in, lesson.Cautions(planTools(p)...))
		area := page.Box(in.Min.X, in.Min.Y+2, in.Width(), (foot-in.Min.Y)*0.42)
		drawDiagram(&pg, p, card, area)
		room := plane.Rect{Min: plane.Pt(in.Min.X, area.Max.Y+4), Max: plane.Pt(in.Max.X, foot-2)}
		if !drawSteps(&pg, p, card, room) { // too many words for drawings beside them
			drawNumbered(&pg, card.Words(), room.Min.Add(plane.Pt(0, 4)), in.Width(), room.Max.Y)
		}
		pages = append(pages, pg)
	}
	return pages, nil
}

// MarkUpDrawing returns the small drawing of a paper with its marks alone, for the screen.
func MarkUpDrawing(p grid.Plan, card grid.Card) page.Page {
	// A width at which the letters can be read in a column, and the paper's own shape.
	const width, room = 105.0, 16.0
	height := min(150, (width-2*room)*card.Panel.Size[1]/card.Panel.Size[0]+room+6)
	pg := page.Page{Title: card.Title, Size: measure.Size{W: width, H: measure.Length(height)}}
	drawDiagram(&pg, p, card, page.Box(0, 0, width, height))
	return pg
}

// Offcut tints the part of the paper that is cut away, or is left free.
var Offcut = page.Color{R: 0xe4, G: 0xe2, B: 0xda}

// drawDiagram draws the paper with its marks as large as area allows, lengths
// written at the top and left edges.
func drawDiagram(pg *page.Page, p grid.Plan, card grid.Card, area plane.Rect) {
	const room = 16.0 // mm for the lengths
	w, h := card.Panel.Size[0], card.Panel.Size[1]
	k := min((area.Width()-2*room)/w, (area.Height()-room-4)/h)
	at := plane.Pt(area.Min.X+(area.Width()-w*k)/2, area.Min.Y+room)
	stock := page.BoxPath(page.Box(at.X, at.Y, w*k, h*k), 0.2, page.Faint)
	stock.Fill = &Offcut
	// Where the drawing's corner lies on this paper; with several papers it may lie beyond.
	origin := plane.Pt(p.Sheet.Origin.X-float64(card.Panel.Column)*w, p.Sheet.Origin.Y-float64(card.Panel.Row)*h)
	x0, y0 := max(0, origin.X), max(0, origin.Y)
	x1, y1 := min(w, origin.X+p.Sheet.Width), min(h, origin.Y+p.Sheet.Height)
	drawing := page.BoxPath(page.Box(at.X+x0*k, at.Y+y0*k, (x1-x0)*k, (y1-y0)*k), 0.4, page.Ink)
	drawing.Fill = &page.White
	pg.Add(stock, drawing)
	drawBoxNames(pg, p, plane.Pt(at.X+origin.X*k, at.Y+origin.Y*k), k, page.Box(at.X, at.Y, w*k, h*k))
	edge := page.Box(at.X, at.Y, w*k, h*k)
	if p.CutOut() { // the marks go on the paper as it is after the cut
		edge = page.Box(at.X, at.Y, p.Sheet.Width*k, p.Sheet.Height*k)
	}
	drawTicks(pg, card.Edges[0], edge, k, false)
	drawTicks(pg, card.Edges[1], edge, k, true)
}

// drawTicks draws the marks of two facing edges, lengths beside the first.
func drawTicks(pg *page.Page, e grid.Edge, on plane.Rect, k float64, down bool) {
	const words, tick = 2.7, 2.0
	last := math.Inf(-1)
	for _, m := range e.Marks {
		v := on.Min.X + m.At*k
		if down {
			v = on.Min.Y + m.At*k
			pg.Line(on.Min.X-tick, v, on.Min.X+tick, v, 0.25, page.Ink)
			pg.Line(on.Max.X-tick, v, on.Max.X+tick, v, 0.25, page.Ink)
		} else {
			pg.Line(v, on.Min.Y-tick, v, on.Min.Y+tick, 0.25, page.Ink)
			pg.Line(v, on.Max.Y-tick, v, on.Max.Y+tick, 0.25, page.Ink)
		}
		half := words / 2
		if !down {
			half = page.TextWidth(m.Text, words, false)/2 + 0.7
		}
		if v-half <= last {
			continue
		}
		last = v + half
		t := page.Text{At: plane.Pt(v, on.Min.Y-tick-1), Size: words, Words: m.Text, Anchor: page.Middle, Color: page.Ink}
		if down {
			t.At, t.Anchor = plane.Pt(on.Min.X-tick-1, v+words*0.36), page.End
		}
		pg.Add(t)
	}
}

// leastLetters is the size below which nothing is written, mm.
const leastLetters = 2.4

// drawBoxNames rules the small sheet faintly and names its boxes where they are
// large enough, as far as they lie on the paper.
func drawBoxNames(pg *page.Page, p grid.Plan, at plane.Point, k float64, paper plane.Rect) {
	for _, c := range p.Cells() {
		corner := plane.Pt(at.X+c.Sheet.Min.X*k, at.Y+c.Sheet.Min.Y*k)
		x0, y0 := max(corner.X, paper.Min.X), max(corner.Y, paper.Min.Y)
		w, h := min(at.X+c.Sheet.Max.X*k, paper.Max.X)-x0, min(at.Y+c.Sheet.Max.Y*k, paper.Max.Y)-y0
		if w <= 0 || h <= 0 {
			continue
		}
		pg.Add(page.BoxPath(page.Box(x0, y0, w, h), 0.08, page.Faint))
		if size := min(2.6, h*0.5); page.TextWidth(c.Label, size, false) < w*0.9 && size >= leastLetters {
			pg.Add(page.Text{At: plane.Pt(x0+w/2, y0+h/2+size*0.36), Size: size, Words: c.Label, Anchor: page.Middle, Color: page.Ink})
		}
	}
}

// drawNumbered writes numbered steps, smaller if they would not fit above bottom.
func drawNumbered(pg *page.Page, steps []string, at plane.Point, width, bottom float64) {
	for size := 4.2; ; size -= 0.2 {
		var lines []page.Text
		y := at.Y
		for i, step := range steps {
			lines = append(lines, page.Text{At: plane.Pt(at.X, y), Size: size, Words: fmt.Sprintf("%d.", i+1), Bold: true, Color: page.Ink})
			for _, line := range page.Wrap(step, size, width-8, false) {
				lines = append(lines, page.Text{At: plane.Pt(at.X+8, y), Size: size, Words: line, Color: page.Ink})
				y += size * 1.25
			}
			y += size * 0.35
		}
		if y-size <= bottom || size < 1.8 {
			for _, t := range lines {
				pg.Add(t)
			}
			return
		}
	}
}

// List writes marks with commas, without units: "0, 1 1/2, 3".
func List(mm []float64, u measure.Unit) string {
	words := make([]string, len(mm))
	for i, v := range mm {
		words[i] = measure.Length(v).Bare(u)
	}
	return strings.Join(words, ", ")
}
