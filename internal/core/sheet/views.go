package sheet

import (
	"fmt"

	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/core/sighting"
)

// ViewBoxes returns the sheet of several views of one solid at true size: a
// box for each view between the common lines, and the lines of its heights
// right across.
func ViewBoxes(g sighting.Guidelines, paper measure.Size) page.Page {
	pg := page.Page{Title: "Shared guidelines", Size: paper}
	w, h := float64(paper.W), float64(paper.H)
	k := max(w, h) / 250
	pg.Add(page.BoxPath(page.Box(0, 0, w, h), 0.4*k, page.Faint))
	for _, y := range []measure.Length{g.Top, g.Bottom} {
		pg.Line(0, float64(y), w, float64(y), 0.5*k, page.Ink)
	}
	for _, l := range g.Levels {
		pg.Add(page.Path{Points: []plane.Point{plane.Pt(0, float64(l.At)), plane.Pt(w, float64(l.At))}, Width: 0.3 * k, Stroke: page.Faint, Dash: 2 * k})
		pg.Add(page.Text{At: plane.Pt(k, float64(l.At)-k), Size: 4 * k, Words: l.Name, Color: page.Ink, Halo: true})
	}
	for _, v := range g.Views {
		b := page.Box(float64(v.Left), float64(g.Top), float64(v.Width), float64(g.Bottom-g.Top))
		pg.Add(page.BoxPath(b, 0.35*k, page.Ink))
		middle := (b.Min.X + b.Max.X) / 2
		pg.Add(page.Path{Points: []plane.Point{plane.Pt(middle, b.Min.Y), plane.Pt(middle, b.Max.Y)}, Width: 0.2 * k, Stroke: page.Faint, Dash: k})
		pg.Add(page.Text{At: plane.Pt(middle, b.Max.Y+5.5*k), Size: 4 * k, Words: v.Name, Anchor: page.Middle, Color: page.Ink, Halo: true})
	}
	return pg
}

// Views returns the wish's pictures brought to one height, and where their lines run; or,
// without any, a page of common lines for the views of its solid, as large as the paper
// allows. The error wraps ErrPaper or sighting.ErrAsk.
func Views(w Wish) ([]page.Page, error) {
	l := w.Printer.Lying()
	in := l.Inner()
	if in.Width() < 120 || in.Height() < 80 {
		return nil, fmt.Errorf("the page of views: %w; choose A5 or larger", page.ErrPaper)
	}
	if len(w.Pressed) > 0 {
		return w.pressedPages(l)
	}
	solid, views := w.Solid, w.Views
	if solid.Height == 0 {
		solid = sighting.Solid{Width: 60, Depth: 40, Height: 100}
	}
	if views == 0 {
		views = 4
	}
	room := measure.Size{W: measure.Length(in.Width()), H: measure.Length(in.Height())}
	const widest = 1e4 // as large as they can be
	g, err := sighting.Share(solid, views, room, 12, widest)
	if err != nil {
		return nil, err
	}
	pg := l.Begin(w.titled(), fmt.Sprintf("%d views at one size, between common lines", views))
	boxes := ViewBoxes(g, room)
	for _, item := range boxes.Items {
		pg.Add(page.Moved(item, func(q plane.Point) plane.Point { return plane.Pt(q.X+in.Min.X, q.Y+in.Min.Y) }))
	}
	return []page.Page{pg}, nil
}

// FoldLine returns a sheet with a fold in the middle, upright or level as wished, and the same squares on
// both sides, counted outward from it. The error wraps ErrPaper.
func FoldLine(w Wish) (page.Page, error) {
	if !w.LevelFold {
		return w.halves("the fold-line sheet", "Fold-line sheet · fold, draw one half, match the other", false)
	}
	// A level fold is the upright one of the sheet laid on its side, laid back.
	on, g := w, &w.Plan.Grid
	on.Plan.Grid.Columns, on.Plan.Grid.Rows, on.Plan.Grid.SheetCell = g.Rows, g.Columns, [2]float64{g.SheetCell[1], g.SheetCell[0]}
	return on.halves("the fold-line sheet", "Fold-line sheet · turn it on its side: fold, draw one half, match the other", false)
}

// HalfTurn returns a sheet whose columns are counted outward from its middle, above on
// the left and below on the right: what matches under half a turn has the same number. The
// error wraps ErrPaper.
func HalfTurn(w Wish) (page.Page, error) {
	return w.halves("the half-turn sheet", "Half-turn sheet · draw one half, turn it upside down, draw the same again", true)
}

// copiedLine is how broad a line must be to come through a copier, mm (ours).
const copiedLine = 0.35

// halves returns the plan's sheet, as large as the page holds it, as two equal halves about an upright line: its
// columns are counted outward, and numbered below on the right where that half is the other turned round. Of an odd
// number of columns the middle one is cut in two.
func (w Wish) halves(what, words string, turned bool) (page.Page, error) {
	l, err := page.Free(w.Printer, what)
	if err != nil {
		return page.Page{}, err
	}
	columns, rows, cell := w.Plan.Grid.Columns, w.Plan.Grid.Rows, w.Plan.Grid.SheetCell
	wide, high := float64(columns)*cell[0], float64(rows)*cell[1]
	const around, above = 12.0, 16.0 // for the numbers and the sign
	fits := func(l page.Layout) float64 {
		return min(1, (l.Inner().Width()-around)/wide, (l.Inner().Height()-above)/high)
	}
	if lying := w.Printer.Lying(); fits(lying) > fits(l) {
		l = lying
	}
	k := fits(l)
	if k < 1 {
		words += fmt.Sprintf(", at %.0f %% of its size", 100*k)
	}
	pg, in := l.Begin(w.titled(), words), l.Inner()
	middle, top := (in.Min.X+in.Max.X)/2, in.Min.Y+8
	left, right, bottom := middle-k*wide/2, middle+k*wide/2, top+k*high
	for row := range rows + 1 {
		y := top + k*cell[1]*float64(row)
		pg.Line(left, y, right, y, copiedLine, page.Plain)
	}
	for _, side := range []float64{-1, 1} {
		edge := top - 1.5
		if turned && side > 0 { // what stands above on the left stands below on the right
			edge = bottom + 4
		}
		last := 0.0
		for i := 1; i <= (columns+1)/2; i++ {
			out := k * cell[0] * (float64(i) - 0.5*float64(columns%2))
			pg.Line(middle+side*out, top, middle+side*out, bottom, copiedLine, page.Plain)
			pg.Add(page.Text{At: plane.Pt(middle+side*(last+out)/2, edge), Size: 3, Words: fmt.Sprint(i), Anchor: page.Middle, Color: page.Ink})
			last = out
		}
	}
	pg.Add(page.Path{Points: []plane.Point{plane.Pt(middle, top-4), plane.Pt(middle, bottom+4)}, Width: 0.35, Stroke: page.Ink, Dash: 3})
	if turned {
		pg.Ring(plane.Pt(middle, (top+bottom)/2), 1.4, page.Ink)
	} else {
		drawSign(&pg, foldSign, plane.Pt(middle+1.5, bottom+0.5), 4.5)
	}
	return pg, nil
}
