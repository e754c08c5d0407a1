package sheet

import (
	"fmt"
	"math"
	"strings"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/measure"
)

// Marks returns the page from which the drawing sheet is marked up: a small
// drawing of the paper with every mark, the marks in words for each edge, and
// the checks. The error wraps ErrPaper.
func Marks(p grid.Plan, paper measure.Size) (Page, error) {
	// The page is laid out freely; it only needs a readable width and height.
	least := measure.Size{W: 130, H: 120}
	if _, err := lay(least, paper); err != nil {
		return Page{}, fmt.Errorf("the marks page at %w", err)
	}
	if paper.W > paper.H {
		paper = paper.Turned()
	}
	l := layout{size: paper}
	page := l.page(titled(p), fmt.Sprintf("Marks for the drawing sheet · %s", p.SheetSize().Text(p.Units)))
	width, height := float64(paper.W)-2*margin, float64(paper.H)-2*margin-head-foot
	area := box(margin, margin+head+2, width, height*0.52)
	page.diagram(p, area)
	page.instructions(p, Point{X: margin, Y: area.Max.Y + 7}, width, area.Min.Y+height-4)
	return page, nil
}

// Offcut tints the part of the paper that is cut away.
var Offcut = Color{0xe4, 0xe2, 0xda}

// diagram draws the paper with its marks as large as area allows, lengths
// written at the top and left edges.
func (page *Page) diagram(p grid.Plan, area Rect) {
	const words, room = 2.7, 16.0 // mm: letters, and space for the lengths
	k := min((area.Width()-2*room)/p.Sheet.Stock[0], (area.Height()-room-4)/p.Sheet.Stock[1])
	at := Point{X: area.Min.X + (area.Width()-p.Sheet.Stock[0]*k)/2, Y: area.Min.Y + room}
	stock := BoxPath(box(at.X, at.Y, p.Sheet.Stock[0]*k, p.Sheet.Stock[1]*k), 0.2, Faint)
	stock.Fill = &Offcut
	sheet := box(at.X, at.Y, p.Sheet.Width*k, p.Sheet.Height*k)
	drawing := BoxPath(sheet, 0.4, Ink)
	drawing.Fill = &White
	page.add(stock, drawing)
	page.boxNames(p, at, k)
	tick := 4.0
	last := math.Inf(-1)
	for _, x := range p.Marks.SheetX {
		px := at.X + x*k
		page.line(px, sheet.Min.Y-tick/2, px, sheet.Min.Y+tick/2, 0.25, Ink)
		page.line(px, sheet.Max.Y-tick/2, px, sheet.Max.Y+tick/2, 0.25, Ink)
		text := measure.Length(x).Bare(p.Units)
		if half := TextWidth(text, words, false)/2 + 0.7; px-half > last {
			page.add(Text{At: Point{X: px, Y: sheet.Min.Y - tick/2 - 1}, Size: words, Words: text, Anchor: Middle, Color: Ink})
			last = px + half
		}
	}
	last = math.Inf(-1)
	for _, y := range p.Marks.SheetY {
		py := at.Y + y*k
		page.line(sheet.Min.X-tick/2, py, sheet.Min.X+tick/2, py, 0.25, Ink)
		page.line(sheet.Max.X-tick/2, py, sheet.Max.X+tick/2, py, 0.25, Ink)
		if py-words > last {
			page.add(Text{At: Point{X: sheet.Min.X - tick/2 - 1, Y: py + words*0.36}, Size: words, Words: measure.Length(y).Bare(p.Units), Anchor: End, Color: Ink})
			last = py
		}
	}
}

// boxNames rules the small sheet faintly and names its boxes where they are large enough.
func (page *Page) boxNames(p grid.Plan, at Point, k float64) {
	for _, c := range p.Cells() {
		w, h := c.Sheet.Width()*k, c.Sheet.Height()*k
		corner := Point{X: at.X + c.Sheet.Min.X*k, Y: at.Y + c.Sheet.Min.Y*k}
		page.add(BoxPath(box(corner.X, corner.Y, w, h), 0.08, Faint))
		if size := min(2.6, h*0.5); TextWidth(c.Label, size, false) < w*0.9 && size > 1.5 {
			page.add(Text{At: Point{X: corner.X + w/2, Y: corner.Y + h/2 + size*0.36}, Size: size, Words: c.Label, Anchor: Middle, Color: Faint})
		}
	}
}

// instructions writes the numbered steps, smaller if they would not fit above bottom.
func (page *Page) instructions(p grid.Plan, at Point, width, bottom float64) {
	steps := MarkUpSteps(p)
	for size := 4.2; ; size -= 0.2 {
		var lines []Text
		y := at.Y
		for i, step := range steps {
			lines = append(lines, Text{At: Point{X: at.X, Y: y}, Size: size, Words: fmt.Sprintf("%d.", i+1), Bold: true, Color: Ink})
			for _, line := range wrap(step, size, width-8, false) {
				lines = append(lines, Text{At: Point{X: at.X + 8, Y: y}, Size: size, Words: line, Color: Ink})
				y += size * 1.25
			}
			y += size * 0.35
		}
		if y-size <= bottom || size < 1.8 {
			for _, t := range lines {
				page.add(t)
			}
			return
		}
	}
}

// MarkUpSteps returns what to do to mark up the drawing sheet, a sentence or two a step.
func MarkUpSteps(p grid.Plan) []string {
	steps := []string{fmt.Sprintf("Take the %s paper.", p.StockSize().Text(p.Units))}
	if p.SheetSize() != p.StockSize() {
		steps[0] += fmt.Sprintf(" Mark and cut it to %s; the grey part is left over.", p.SheetSize().Text(p.Units))
	}
	steps = append(steps,
		"Put the ruler's zero line, not the end of the wood, on the paper's corner.",
		fmt.Sprintf("Top edge, all marks from zero: %s %s. The same on the bottom edge.", List(p.Marks.SheetX, p.Units), p.Units),
		fmt.Sprintf("Left edge, all marks from zero: %s %s. The same on the right edge.", List(p.Marks.SheetY, p.Units), p.Units),
		closing(p),
		fmt.Sprintf("Join the marks with faint lines and count: %d boxes across, %d down, %d in all.", p.Grid.Columns, p.Grid.Rows, p.Count()),
		fmt.Sprintf("Measure both diagonals: each must be %s.", p.Text(float64(p.SheetSize().Diagonal()))))
	if p.Method == grid.Quarters {
		steps[5] = "Do not rule the lines through: the marks at the edges are enough. They make four parts each way."
	}
	return steps
}

func closing(p grid.Plan) string {
	return fmt.Sprintf("The last marks must fall on the far edges, at %s and %s. If not, the ruler slipped or the paper is not square.",
		p.Text(p.Sheet.Width), p.Text(p.Sheet.Height))
}

// List writes marks with commas, without units: "0, 1 1/2, 3".
func List(mm []float64, u measure.Unit) string {
	words := make([]string, len(mm))
	for i, v := range mm {
		words[i] = measure.Length(v).Bare(u)
	}
	return strings.Join(words, ", ")
}
