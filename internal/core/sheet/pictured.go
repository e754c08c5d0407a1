package sheet

import (
	"fmt"

	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/core/sighting"
)

// View is one of several pictures that are brought to one height, and the name by which
// its image is found.
type View struct {
	sighting.Pictured
	File string
}

// LineUp brings the wish's pictures to one height on a sheet. The error wraps
// sighting.ErrAsk.
func (w Wish) LineUp(paper measure.Size) (sighting.Lined, error) {
	var all []sighting.Pictured
	for _, v := range w.Pressed {
		all = append(all, v.Pictured)
	}
	return sighting.LineUp(all, paper, min(w.Gap, min(paper.W, paper.H)/20))
}

// PressedViews draws the wish's pictures between their common lines on a sheet. The error
// wraps sighting.ErrAsk.
func (w Wish) PressedViews(paper measure.Size) (page.Page, error) {
	l, err := w.LineUp(paper)
	if err != nil {
		return page.Page{}, err
	}
	return w.lined(l, paper, true), nil
}

// lined draws pictures that were brought to one height on a sheet, or without them the
// boxes to draw them in.
func (w Wish) lined(l sighting.Lined, paper measure.Size, pictures bool) page.Page {
	g := sighting.Guidelines{Top: l.Top, Bottom: l.Bottom, Levels: l.Levels}
	shown := page.Page{Size: paper}
	for i, v := range l.Views {
		g.Views = append(g.Views, sighting.View{Name: v.Name, Left: v.Left, Width: v.Width})
		box := page.Box(float64(v.Left), float64(v.Over), float64(v.Width), float64(v.Height))
		if pictures {
			file := w.Pressed[i].File
			if w.Grey {
				file = GreyOf(file)
			}
			shown.Add(page.Picture{Box: box, Name: file})
		}
		shown.Add(page.BoxPath(box, 0.2, page.Faint))
	}
	shown.Items = append(shown.Items, ViewBoxes(g, paper).Items...)
	return shown
}

// pressedPages returns the pictures between their common lines, and where the lines run on
// the drawing paper. Errors wrap sighting.ErrAsk.
func (w Wish) pressedPages(l page.Layout) ([]page.Page, error) {
	in := l.Inner()
	room := measure.Size{W: measure.Length(in.Width()), H: measure.Length(in.Height())}
	shown, err := w.PressedViews(room)
	if err != nil {
		return nil, err
	}
	first := l.Begin(w.titled(), fmt.Sprintf("%d pictures at one height, between common lines", len(w.Pressed)))
	for _, item := range shown.Items {
		first.Add(page.Moved(item, func(q plane.Point) plane.Point { return q.Add(in.Min) }))
	}
	second, err := w.linesPage(l)
	return []page.Page{first, second}, err
}

// linesPage says where the common lines run on the drawing paper, as a drawing to scale
// and as a table to mark by.
func (w Wish) linesPage(l page.Layout) (page.Page, error) {
	pg, in := l.Begin(w.titled(), "Where the lines run on the drawing paper"), l.Inner()
	p := w.Plan
	paper := p.StockSize()
	if paper.W < paper.H != (in.Width() < in.Height()) { // views stand side by side: the paper lies as the page does
		paper = paper.Turned()
	}
	lined, err := w.LineUp(paper)
	if err != nil {
		return pg, err
	}
	k := min(in.Width()*0.6/float64(paper.W), in.Height()/float64(paper.H))
	for _, item := range w.lined(lined, paper, false).Items {
		if _, words := item.(page.Text); !words { // the table has them, in letters that can be read
			pg.Add(page.Moved(item, func(q plane.Point) plane.Point { return q.Mul(k).Add(in.Min) }))
		}
	}
	left := in.Min.X + k*float64(paper.W) + 8
	wide, y := in.Max.X-left, in.Min.Y+rowHigh
	row := func(name, measured string, bold bool) {
		pg.Add(page.Text{At: plane.Pt(left, y), Size: page.Body, Words: page.Cut(name, page.Body, wide*0.55, bold), Bold: bold, Color: page.Ink},
			page.Text{At: plane.Pt(in.Max.X, y), Size: page.Body, Words: measured, Anchor: page.End, Bold: bold, Color: page.Ink})
		pg.Line(left, y+1.6, in.Max.X, y+1.6, 0.15, page.Faint)
		y += rowHigh
	}
	row("Line", "from the top of the paper", true)
	row("Top line", p.Text(float64(lined.Top)), false)
	for _, v := range lined.Levels {
		row(v.Name, p.Text(float64(v.At)), false)
	}
	row("Bottom line", p.Text(float64(lined.Bottom)), false)
	y += rowHigh / 2
	row("Picture", "from the left, and how wide", true)
	for _, v := range lined.Views {
		row(v.Name, p.Text(float64(v.Left))+", "+p.Text(float64(v.Width)), false)
	}
	for _, m := range lined.Misfits {
		y = pg.Paragraph(plane.Pt(left, y+2), page.Body, wide, false, SayMisfit(m, p.Units))
	}
	return pg, nil
}

// SayMisfit says in words where a view has a mark elsewhere than the others.
func SayMisfit(m sighting.Misfit, u measure.Unit) string {
	way := "lower"
	if m.Lower < 0 {
		way = "higher"
	}
	return fmt.Sprintf("%s: its %s stands %s %s than the line. Look which picture is right.", m.View, m.Mark, max(m.Lower, -m.Lower).Text(u), way)
}
