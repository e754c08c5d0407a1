package sheet

import (
	"fmt"

	"zestysketch/internal/core/measure"
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
func Progress(scores []Score) Page {
	const w, h, room = 150.0, 60.0, 14.0
	page := Page{Title: "Boxes in their places, photo by photo", Size: measure.Size{W: w + 2*room, H: h + 2*room}}
	at := func(i int, right float64) plane.Point {
		return plane.Pt(room+w*(float64(i)+0.5)/float64(len(scores)), room+h*(1-right))
	}
	for i := range 5 {
		p := at(0, float64(i)/4)
		page.line(room, p.Y, room+w, p.Y, 0.2, Faint)
		page.add(Text{At: plane.Pt(room-2, p.Y+1.2), Size: 3.4, Words: fmt.Sprintf("%d %%", 25*i), Anchor: End, Color: Ink})
	}
	every := 1 + len(scores)/9
	var run []plane.Point
	for i, s := range scores {
		p := at(i, s.Right)
		if i > 0 && scores[i-1].What != s.What {
			page.add(Path{Points: run, Width: 0.9, Stroke: Color{0x2b, 0x63, 0x40}})
			run = nil
		}
		if run == nil {
			page.add(Text{At: plane.Pt(p.X, room-4), Size: 3.4, Words: cut(s.What, 3.4, w/3, false), Color: Ink})
			page.line(p.X-2.5, room-6, p.X-2.5, room+h, 0.2, Faint)
		}
		run = append(run, p)
		if i%every == 0 {
			page.add(Text{At: plane.Pt(p.X, room+h+5), Size: 3.4, Words: s.When, Anchor: Middle, Color: Ink})
		}
	}
	page.add(Path{Points: run, Width: 0.9, Stroke: Color{0x2b, 0x63, 0x40}})
	for i, s := range scores {
		p, fill := at(i, s.Right), Color{0xf4, 0xb4, 0x1a}
		dot := BoxPath(box(p.X-1.3, p.Y-1.3, 2.6, 2.6), 0.3, Ink)
		dot.Fill = &fill
		page.add(dot)
	}
	return page
}
