package sheet

import (
	"fmt"

	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/plane"
)

// OnPaper sets a drawing of the reference's size on the printer's paper, with title and check bar: at true size where it
// fits, else smaller, which its head line says. The error wraps ErrPaper.
func OnPaper(w Wish, from page.Page) (page.Page, error) {
	l, err := page.Lay(from.Size, w.Printer)
	if err == nil {
		pg := l.Begin(w.titled(), from.Title)
		drawScaled(&pg, from, l.Work.Min, 1)
		return pg, nil
	}
	if l, err = page.Free(w.Printer, from.Title); err != nil {
		return page.Page{}, err
	}
	in := l.Inner()
	k := min(in.Width()/float64(from.Size.W), (in.Height()-2)/float64(from.Size.H))
	pg := l.Begin(w.titled(), fmt.Sprintf("%s · %.0f %% of the picture's size", from.Title, 100*k))
	drawScaled(&pg, from, plane.Pt(in.Min.X, in.Min.Y+1), k)
	return pg, nil
}

// asPrinted sets a drawing of the sheet's size on the printer's paper, as large as the printed picture.
func (w Wish) asPrinted(from page.Page, words string) ([]page.Page, error) {
	k := w.Plan.Reference.Width / w.Plan.Sheet.Width
	small := page.Page{Title: words, Size: measure.Size{W: from.Size.W * measure.Length(k), H: from.Size.H * measure.Length(k)}}
	drawScaled(&small, from, plane.Point{}, k)
	pg, err := OnPaper(w, small)
	return []page.Page{pg}, err
}

// linePen is how broad a line to trace is, mm of the sheet.
const linePen = 0.4

// LinePages returns the lines of the wish's picture, as large as it is printed. Errors wrap ErrEmpty or ErrPaper.
func LinePages(w Wish) ([]page.Page, error) {
	if len(w.Reduced.Lines.Strokes) == 0 {
		return nil, fmt.Errorf("the line sheet: %w without a picture that has lines", page.ErrEmpty)
	}
	return w.asPrinted(LineSheet(w.Reduced.Lines, LineStyle{Pen: linePen}), "Line sheet · lines to trace")
}

// MapPages returns the value map of the wish's picture, as large as it is printed. Errors wrap ErrEmpty or ErrPaper.
func MapPages(w Wish) ([]page.Page, error) {
	if len(w.Reduced.Map.Areas) == 0 {
		return nil, fmt.Errorf("the value map: %w without a picture that has tones", page.ErrEmpty)
	}
	return w.asPrinted(ValueMap(w.Reduced.Map, ValueLook{Style: ValueOutlines}), "Value map · 1 is the darkest")
}

// ClosedShapes returns a rim drawn twice: as closed shapes, which could be filled, and, as it is usually got wrong, as
// open lines, out of which tone would run.
func ClosedShapes() page.Page {
	const wide, high = 90.0, 34.0
	pg := page.Page{Title: "A rim as closed shapes, and as open lines", Size: measure.Size{W: wide, H: high}}
	line := func(x float64, points []plane.Point, fill *page.Color) {
		p := page.Path{Width: 0.6, Stroke: page.Ink, Fill: fill, Closed: fill != nil}
		for _, q := range points {
			p.Points = append(p.Points, plane.Pt(x+q.X*30, 2+q.Y*30))
		}
		pg.Add(p)
	}
	oval := func(rx, ry, from, to float64) (points []plane.Point) {
		for _, q := range arc(0, 0, 1, from, to) {
			points = append(points, plane.Pt(0.5+rx*q.X, 0.25+ry*q.Y))
		}
		return points
	}
	line(6, oval(0.45, 0.16, 0, 360), &page.Faint)
	line(6, oval(0.37, 0.11, 0, 360), &page.White)
	line(6, run(0.05, 0.25, 0.16, 0.95, 0.84, 0.95, 0.95, 0.25), nil)
	line(54, oval(0.45, 0.16, 0, 180), nil)
	line(54, oval(0.37, 0.11, 200, 330), nil)
	line(54, run(0.05, 0.4, 0.16, 0.95, 0.84, 0.95, 0.92, 0.4), nil)
	return pg
}
