package sheet

import (
	"zestysketch/internal/core/lines"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/plane"
)

// LineStyle is how a line sheet is drawn.
type LineStyle struct {
	Pen  float64       // mm
	Over *page.Picture // beneath, as large as the lines, which are bright then; nil for paper
	Ink  page.Color    // of lines over a picture
	Ends bool          // rings round the ends that meet nothing
	Net  *Net          // over it; nil for none
}

// heavier is how much broader the weightiest third of the lines is drawn.
const heavier = 1.6

// endInk rings what is missing.
var endInk = page.Color{R: 0xb4, G: 0x23, B: 0x18}

// LineSheet returns the lines of a picture at true size, to be traced.
func LineSheet(s lines.Sketch, style LineStyle) page.Page {
	w, h := float64(s.W)/s.PerMM, float64(s.H)/s.PerMM
	pg := page.Page{Title: "Line sheet", Size: measure.Size{W: measure.Length(w), H: measure.Length(h)}}
	mm := func(p plane.Point) plane.Point { return plane.Pt(p.X/s.PerMM, p.Y/s.PerMM) }
	ink := page.Ink
	if style.Over != nil {
		pg.Add(*style.Over)
		ink = style.Ink
	}
	if style.Net != nil {
		drawRule(&pg, plane.Point{}, *style.Net)
	}
	for i, st := range s.Strokes {
		path := page.Path{Closed: st.Closed, Width: style.Pen, Stroke: ink}
		if 3*i < len(s.Strokes) {
			path.Width *= heavier
		}
		for _, p := range st.Points {
			path.Points = append(path.Points, mm(p))
		}
		pg.Add(path)
	}
	if style.Ends {
		for _, e := range s.Ends {
			pg.Ring(mm(e.At), 1.6, endInk)
		}
	}
	return pg
}
