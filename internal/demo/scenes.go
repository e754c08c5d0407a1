package demo

import (
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/plane"
)

// harbourLight is a lighthouse in line, 175 × 225 mm.
func harbourLight() Scene {
	s := Scene{Page: page.Page{Title: "Harbour light", Size: measure.Size{W: 175, H: 225}}}
	s.line(pencil, pt(0, 158), pt(175, 158)) // horizon
	for i, y := range []float64{166, 173, 181} {
		for x := 4 + 9*float64(i); x < 78; x += 26 {
			s.line(pencil*0.7, curve(pt(x, y), pt(x+5, y-4), pt(x+9, y+4), pt(x+15, y))...)
		}
	}
	rock := joined(curve(pt(62, 225), pt(66, 200), pt(72, 196), pt(80, 186)),
		curve(pt(80, 186), pt(95, 176), pt(140, 178), pt(152, 188)),
		curve(pt(152, 188), pt(164, 196), pt(170, 210), pt(175, 212)), []plane.Point{pt(175, 225)})
	s.outline(pencil, 255, rock...)
	s.line(pencil*0.7, pt(88, 198), pt(98, 210), pt(94, 220))
	s.line(pencil*0.7, pt(138, 192), pt(146, 203), pt(142, 216))
	s.tower()
	s.boat()
	for _, c := range [][2]float64{{30, 40}, {142, 30}} { // clouds
		s.line(pencil*0.8, joined(arc(c[0]-12, c[1], 8, 6, 150, 300), arc(c[0], c[1]-5, 10, 8, 200, 345), arc(c[0]+13, c[1], 8, 6, 240, 390))...)
		s.line(pencil*0.8, pt(c[0]-19, c[1]+3), pt(c[0]+20, c[1]+3))
	}
	s.line(pencil, pt(0, 204), pt(60, 196)) // pier
	s.line(pencil, pt(0, 212), pt(58, 203))
	for x := 6.0; x < 60; x += 11 {
		s.line(pencil*0.8, pt(x, 204-x*8/60), pt(x-1, 212-x*9/60))
		s.line(pencil, pt(x, 212-x*9/60), pt(x, 225))
	}
	s.Landmarks = []Landmark{
		{"Tip of the roof", 3, pt(115, 25)}, {"Gallery, left end", 2, pt(93, 62)}, {"Gallery, right end", 2, pt(137, 62)},
		{"Foot of the tower, left", 3, pt(90, 182)}, {"Foot of the tower, right", 3, pt(140, 182)},
		{"Top of the door", 1, pt(115, 154)}, {"Tip of the mast", 1, pt(34, 118)},
	}
	return s
}

// tower draws the lighthouse itself.
func (s *Scene) tower() {
	edge := func(y float64) (left, right float64) { // the walls lean in by 8 mm over their height
		t := (y - 68) / (182 - 68)
		return 98 - 8*t, 132 + 8*t
	}
	s.outline(pencil, 255, pt(98, 68), pt(132, 68), pt(140, 182), pt(90, 182))
	for _, y := range []float64{90, 112, 134} { // bands
		l, r := edge(y)
		s.line(pencil, curve(pt(l, y), pt(l+10, y+3), pt(r-10, y+3), pt(r, y))...)
	}
	s.outline(pencil, 255, box(93, 62, 44, 6)...) // gallery
	for x := 95.0; x <= 135; x += 5 {             // railing
		s.line(pencil*0.7, pt(x, 62), pt(x, 53))
	}
	s.line(pencil, pt(93, 53), pt(137, 53))
	s.outline(pencil, 255, box(102, 38, 26, 24)...) // lamp room
	s.line(pencil*0.8, pt(110, 38), pt(110, 62))
	s.line(pencil*0.8, pt(120, 38), pt(120, 62))
	s.outline(pencil, 255, joined(arc(115, 38, 16, 9, 180, 360))...)
	s.line(pencil, pt(115, 29), pt(115, 25))
	s.outline(pencil, 255, joined([]plane.Point{pt(108, 182)}, arc(115, 161, 7, 7, 180, 360), []plane.Point{pt(122, 182)})...) // door
	for _, y := range []float64{78, 100, 122} {                                                                                // windows
		s.outline(pencil*0.8, 255, joined([]plane.Point{pt(112, y+8)}, arc(115, y+2, 3, 3, 180, 360), []plane.Point{pt(118, y+8)})...)
	}
}

func (s *Scene) boat() {
	s.outline(pencil, 255, joined(curve(pt(14, 150), pt(18, 158), pt(46, 158), pt(54, 149)))...)
	s.line(pencil, pt(34, 152), pt(34, 118))
	s.outline(pencil, 255, pt(36, 121), pt(36, 147), pt(52, 147))
	s.outline(pencil, 255, pt(32, 124), pt(32, 147), pt(20, 147))
}
