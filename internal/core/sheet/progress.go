package sheet

import (
	"fmt"

	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/plane"
)

// Score is what one measured photo said of a student's accuracy.
type Score struct {
	When  string
	What  string  // the project
	Right float64 // share of the boxes in their places, 0 to 1
}

// Progress draws a student's scores one after the other; each project is a run
// of its own, joined by a line and named above its first point.
func Progress(scores []Score) page.Page {
	const w, h, room = 150.0, 60.0, 14.0
	pg := page.Page{Title: "Boxes in their places, photo by photo", Size: measure.Size{W: w + 2*room, H: h + 2*room}}
	at := func(i int, right float64) plane.Point {
		return plane.Pt(room+w*(float64(i)+0.5)/float64(len(scores)), room+h*(1-right))
	}
	for i := range 5 {
		p := at(0, float64(i)/4)
		pg.Line(room, p.Y, room+w, p.Y, 0.2, page.Faint)
		pg.Add(page.Text{At: plane.Pt(room-2, p.Y+1.2), Size: 3.4, Words: fmt.Sprintf("%d %%", 25*i), Anchor: page.End, Color: page.Ink})
	}
	every := 1 + len(scores)/9
	var run []plane.Point
	for i, s := range scores {
		p := at(i, s.Right)
		if i > 0 && scores[i-1].What != s.What {
			pg.Add(page.Path{Points: run, Width: 0.9, Stroke: page.Color{R: 0x2b, G: 0x63, B: 0x40}})
			run = nil
		}
		if run == nil {
			pg.Add(page.Text{At: plane.Pt(p.X, room-4), Size: 3.4, Words: page.Cut(s.What, 3.4, w/3, false), Color: page.Ink})
			pg.Line(p.X-2.5, room-6, p.X-2.5, room+h, 0.2, page.Faint)
		}
		run = append(run, p)
		if i%every == 0 {
			pg.Add(page.Text{At: plane.Pt(p.X, room+h+5), Size: 3.4, Words: s.When, Anchor: page.Middle, Color: page.Ink})
		}
	}
	pg.Add(page.Path{Points: run, Width: 0.9, Stroke: page.Color{R: 0x2b, G: 0x63, B: 0x40}})
	for i, s := range scores {
		p, fill := at(i, s.Right), page.Color{R: 0xf4, G: 0xb4, B: 0x1a}
		dot := page.BoxPath(page.Box(p.X-1.3, p.Y-1.3, 2.6, 2.6), 0.3, page.Ink)
		dot.Fill = &fill
		pg.Add(dot)
	}
	return pg
}
