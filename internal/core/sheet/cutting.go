package sheet

import (
	"fmt"

	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/plane"
)

// CutDiagram returns a drawing of one stock paper with its pieces, its cuts
// numbered in their order, and its offcuts tinted.
func CutDiagram(c measure.Cutting, u measure.Unit) page.Page {
	const side, room = 150.0, 12.0
	k := side / float64(max(c.Stock.W, c.Stock.H))
	w, h := float64(c.Stock.W)*k, float64(c.Stock.H)*k
	pg := page.Page{Title: "How to cut " + c.Paper.Name, Size: measure.Size{W: measure.Length(w + 2*room), H: measure.Length(h + 2*room)}}
	stock := page.BoxPath(page.Box(room, room, w, h), 0.5, page.Ink)
	stock.Fill = &Offcut
	pg.Add(stock)
	for _, piece := range c.Pieces {
		b := page.Box(room+float64(piece.X)*k, room+float64(piece.Y)*k, float64(piece.Size.W)*k, float64(piece.Size.H)*k)
		outline := page.BoxPath(b, 0.2, page.Faint)
		outline.Fill = &page.White
		pg.Add(outline)
		if words := piece.Size.Text(u); page.TextWidth(words, 4, false) < b.Width() && b.Height() > 6 {
			pg.Add(page.Text{At: plane.Pt((b.Min.X+b.Max.X)/2, (b.Min.Y+b.Max.Y)/2+1.4), Size: 4, Words: words, Anchor: page.Middle, Color: page.Ink})
		}
	}
	for i, cut := range c.Cuts {
		at := room + float64(cut.At)*k
		from, to := room+float64(cut.From)*k, room+float64(cut.To)*k
		line := page.Path{Points: []plane.Point{plane.Pt(from, at), plane.Pt(to, at)}, Width: 0.7, Stroke: page.Ink, Dash: 2.5}
		label := plane.Pt(to+2, at+1.4)
		if cut.Upright {
			line.Points = []plane.Point{plane.Pt(at, from), plane.Pt(at, to)}
			label = plane.Pt(at-1, from-1.5)
		}
		pg.Add(line, page.Text{At: label, Size: 4, Words: fmt.Sprint(i + 1), Bold: true, Color: page.Ink, Halo: true})
	}
	return pg
}
