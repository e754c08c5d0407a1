package sheet

import (
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/sighting"
)

// ViewBoxes returns the sheet of several views of one solid at true size: a
// box for each view between the common lines, and the lines of its heights
// right across.
func ViewBoxes(g sighting.Guidelines, paper measure.Size) Page {
	page := Page{Title: "Shared guidelines", Size: paper}
	w, h := float64(paper.W), float64(paper.H)
	k := max(w, h) / 250
	page.add(BoxPath(box(0, 0, w, h), 0.4*k, Faint))
	for _, y := range []measure.Length{g.Top, g.Bottom} {
		page.line(0, float64(y), w, float64(y), 0.5*k, Ink)
	}
	for _, l := range g.Levels {
		page.add(Path{Points: []Point{{X: 0, Y: float64(l.At)}, {X: w, Y: float64(l.At)}}, Width: 0.3 * k, Stroke: Faint, Dash: 2 * k})
		page.add(Text{At: Point{X: k, Y: float64(l.At) - k}, Size: 4 * k, Words: l.Name, Color: Ink, Halo: true})
	}
	for _, v := range g.Views {
		b := box(float64(v.Left), float64(g.Top), float64(v.Width), float64(g.Bottom-g.Top))
		page.add(BoxPath(b, 0.35*k, Ink))
		middle := (b.Min.X + b.Max.X) / 2
		page.add(Path{Points: []Point{{X: middle, Y: b.Min.Y}, {X: middle, Y: b.Max.Y}}, Width: 0.2 * k, Stroke: Faint, Dash: k})
		page.add(Text{At: Point{X: middle, Y: b.Max.Y + 5.5*k}, Size: 4 * k, Words: v.Name, Anchor: Middle, Color: Ink})
	}
	return page
}
