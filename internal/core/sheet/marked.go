package sheet

import (
	"fmt"
	"math"
	"slices"

	"zestysketch/internal/core/accuracy"
	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/plane"
)

// The ink of arrows and what surrounds it, so that both are seen on any drawing.
var (
	arrowInk  = page.Color{R: 0xb4, G: 0x23, B: 0x18}
	adviceBox = page.Color{R: 0x2b, G: 0x63, B: 0x40}
)

// Marked draws what a report found over the sheet seen straight on, as large as
// the sheet: an arrow for every box and landmark that is off, from where it was
// drawn to where it belongs, and a numbered frame round the boxes to mend next.
func Marked(r accuracy.Report, p grid.Plan) page.Page {
	pg := page.Page{Title: "What to mend", Size: p.SheetSize()}
	k := math.Sqrt(p.Grid.SheetCell[0] * p.Grid.SheetCell[1])
	var labels []page.Item // on top of the arrows
	for n, a := range r.Next {
		for _, label := range a.Cells {
			c, ok := p.Find(label)
			if !ok {
				continue
			}
			frame := page.BoxPath(c.Sheet, 0.03*k, adviceBox)
			pg.Items = append(pg.Items, white(frame, 0.06*k), frame)
			labels = append(labels, page.Text{At: plane.Pt(c.Sheet.Min.X+0.06*k, clearOf(r, p, c, k)), Size: 0.22 * k,
				Words: fmt.Sprintf("%d · %s", n+1, label), Bold: true, Color: adviceBox, Halo: true})
		}
	}
	for _, c := range r.Cells {
		at, ok := p.Find(c.Label)
		if !ok || !c.Wrong {
			continue
		}
		mid := plane.Pt((at.Sheet.Min.X+at.Sheet.Max.X)/2, (at.Sheet.Min.Y+at.Sheet.Max.Y)/2)
		from := plane.Pt(mid.X+c.Shift.X*p.Grid.SheetCell[0], mid.Y+c.Shift.Y*p.Grid.SheetCell[1])
		pg.Items = append(pg.Items, arrow(from, mid, 0.045*k)...)
	}
	for _, part := range r.Parts {
		pg.Items = append(pg.Items, markedPart(part, p, k)...)
	}
	for _, o := range r.Landmarks {
		if o.Within || !o.Sure {
			continue
		}
		from, to, ok := landmarkAt(r, p, o)
		if ok {
			pg.Items = append(pg.Items, arrow(from, to, 0.035*k)...)
		}
	}
	pg.Items = append(pg.Items, labels...)
	return pg
}

// markedPart dots a part's lines where they belong and, of one that moved, draws them where they lie, with
// an arrow from there; what was invented is ringed.
func markedPart(part accuracy.Part, p grid.Plan, k float64) (items []page.Item) {
	if part.State == accuracy.PartDoubted {
		return nil
	}
	if part.State == accuracy.PartInvented {
		mid, around := part.Where.Middle(), part.Where.Grown(0.15*k)
		var ring []plane.Point
		for i := range 48 {
			sin, cos := math.Sincos(2 * math.Pi * float64(i) / 48)
			ring = append(ring, mid.Add(plane.Pt(cos*around.Width()/2, sin*around.Height()/2)))
		}
		line := page.Path{Points: ring, Closed: true, Width: 0.03 * k, Stroke: arrowInk}
		return append(items, white(line, 0.06*k), line)
	}
	for _, points := range part.Lines {
		belongs := page.Path{Points: points, Width: 0.04 * k, Stroke: arrowInk, Dash: 0.06 * k}
		halo := white(belongs, 0.08*k)
		halo.Dash = 0
		items = append(items, halo, belongs)
	}
	if part.State == accuracy.PartMoved {
		for _, points := range part.Lines {
			lies := page.Path{Width: 0.03 * k, Stroke: arrowInk}
			for _, q := range points {
				lies.Points = append(lies.Points, part.Carry(q, p))
			}
			items = append(items, white(lies, 0.06*k), lies)
		}
		items = append(items, arrow(part.Carry(part.Where.Middle(), p), part.Where.Middle(), 0.045*k)...)
	}
	return items
}

// clearOf returns the baseline of a box's label: at its top, or at its bottom
// where a landmark's arrow lies at the top.
func clearOf(r accuracy.Report, p grid.Plan, c grid.Cell, k float64) float64 {
	for _, o := range r.Landmarks {
		at := p.ToSheet(o.Reference)
		if o.Cell == c.Label && o.Sure && !o.Within && at.Y < (c.Sheet.Min.Y+c.Sheet.Max.Y)/2 {
			return c.Sheet.Max.Y - 0.08*k
		}
	}
	return c.Sheet.Min.Y + 0.24*k
}

// landmark returns where a landmark was drawn and where it belongs, mm on the sheet.
func landmarkAt(r accuracy.Report, p grid.Plan, o accuracy.Offset) (from, to plane.Point, ok bool) {
	v, err := r.View(p)
	if err != nil {
		return from, to, false
	}
	from = v.Sheet(o.Photo)
	return from, from.Sub(o.OffMM), true
}

// arrow returns an arrow with its tip at to, edged with white. A short one is
// drawn longer, so that its direction is seen.
func arrow(from, to plane.Point, width float64) []page.Item {
	dx, dy := to.X-from.X, to.Y-from.Y
	length := math.Hypot(dx, dy)
	if length == 0 {
		return nil
	}
	dx, dy = dx/length, dy/length
	if least := 6 * width; length < least {
		from = plane.Pt(to.X-dx*least, to.Y-dy*least)
	}
	head := 3.2 * width
	left := plane.Pt(to.X-head*(dx+0.6*dy), to.Y-head*(dy-0.6*dx))
	right := plane.Pt(to.X-head*(dx-0.6*dy), to.Y-head*(dy+0.6*dx))
	lines := []page.Path{
		{Points: []plane.Point{from, to}, Width: width, Stroke: arrowInk},
		{Points: []plane.Point{left, to, right}, Width: width, Stroke: arrowInk},
	}
	items := []page.Item{white(lines[0], 2*width), white(lines[1], 2*width)}
	return append(items, lines[0], lines[1])
}

// white returns a line's white edge.
func white(p page.Path, width float64) page.Path {
	p.Points, p.Width, p.Stroke = slices.Clone(p.Points), width, page.White
	return p
}
