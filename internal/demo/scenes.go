package demo

import (
	"math"

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

// grey returns a neutral colour of that lightness, 0 to 255.
func grey(v float64) page.Color {
	g := uint8(max(0, min(255, v)))
	return page.Color{R: g, G: g, B: g}
}

// jugAndLemons is a still life shaded from light to dark, 200 × 160 mm.
func jugAndLemons() Scene {
	s := Scene{Page: page.Page{Title: "Jug and lemons", Size: measure.Size{W: 200, H: 160}}}
	for x := 0.0; x < 200; x += 2 { // wall, darker to the right
		s.tone(grey(214-0.55*x), box(x, 0, 2.2, 105)...)
	}
	for y := 105.0; y < 160; y += 2 { // table, lighter to the front
		s.tone(grey(120+1.5*(y-105)), box(0, y, 200, 2.2)...)
	}
	s.tone(grey(62), arc(128, 124, 52, 9, 0, 360)...) // shadow of the jug
	s.jug()
	for _, l := range [][3]float64{{52, 126, 22}, {96, 138, 20}, {152, 140, 18}} {
		s.lemon(l[0], l[1], l[2])
	}
	return s
}

func (s *Scene) jug() {
	side := func(f float64) []plane.Point { // a wall of the jug, f from −1 left to 1 right
		x := func(w float64) float64 { return 96 + f*w }
		return joined(curve(pt(x(20), 28), pt(x(10), 44), pt(x(44), 64), pt(x(38), 96)), curve(pt(x(38), 96), pt(x(36), 112), pt(x(28), 118), pt(x(24), 122)))
	}
	s.line(4.5, curve(pt(118, 40), pt(160, 34), pt(158, 92), pt(132, 94))...)
	const bands = 24 // light from the left: the tone turns round the body
	for i := range bands {
		a, b := 2*float64(i)/bands-1, 2*float64(i+1)/bands-1
		turn := (a + 0.45) // brightest a little left of the middle
		left, right := side(a), side(b)
		for j, k := 0, len(right)-1; j < k; j, k = j+1, k-1 {
			right[j], right[k] = right[k], right[j]
		}
		s.tone(grey(236-150*turn*turn), joined(left, right)...)
	}
	s.tone(grey(44), arc(96, 28, 20, 5, 0, 360)...)
	s.line(1.2, arc(96, 28, 20, 5, 0, 360)...)
}

// lemon draws a lemon as rings of tone about a highlight.
func (s *Scene) lemon(x, y, r float64) {
	s.tone(grey(58), arc(x+r*0.35, y+r*0.55, r*1.05, r*0.32, 0, 360)...)
	const rings = 14
	for i := range rings {
		t := float64(i) / rings
		k := 1 - t
		cx, cy := x-r*0.28*t, y-r*0.24*t
		body := joined(arc(cx, cy, r*k, r*0.72*k, 20, 160), []plane.Point{pt(cx-r*1.14*k, cy)}, arc(cx, cy, r*k, r*0.72*k, 200, 340), []plane.Point{pt(cx+r*1.14*k, cy)})
		s.tone(grey(84+178*t), body...)
	}
}

// bicycle stands against a brick wall, 240 × 180 mm, with much detail.
func bicycle() Scene {
	s := Scene{Page: page.Page{Title: "Bicycle at the wall", Size: measure.Size{W: 240, H: 180}}}
	for row := range 10 { // bricks
		y := float64(row) * 14
		s.line(0.4, pt(0, y), pt(240, y))
		for x := float64(row%2) * 16; x < 240; x += 32 {
			s.line(0.4, pt(x, y), pt(x, y+14))
		}
	}
	s.line(0.8, pt(0, 140), pt(240, 140))
	for x := -20.0; x < 240; x += 22 { // paving
		s.line(0.4, pt(x+20, 140), pt(x, 180))
	}
	rear, front := pt(62, 118), pt(176, 118)
	for _, hub := range []plane.Point{rear, front} {
		s.wheel(hub)
	}
	crank, seat, head := pt(112, 122), pt(98, 64), pt(160, 62)
	for _, tube := range [][]plane.Point{{rear, crank}, {rear, pt(99, 72)}, {crank, seat}, {crank, pt(161, 74)}, {pt(100, 72), pt(159, 66)}} {
		s.line(2.6, tube...)
	}
	s.line(2.6, joined([]plane.Point{head, pt(166, 88)}, curve(pt(166, 88), pt(168, 100), pt(171, 110), front))...)
	s.outline(0.8, 40, joined(curve(pt(84, 60), pt(90, 55), pt(104, 58), pt(114, 58)), curve(pt(114, 58), pt(108, 66), pt(96, 66), pt(84, 64)))...)
	s.line(2.2, joined([]plane.Point{head, pt(158, 50)}, curve(pt(158, 50), pt(170, 44), pt(184, 46), pt(182, 58)))...)
	s.chain(crank, rear)
	s.basket()
	s.Landmarks = []Landmark{{"Rear hub", 3, rear}, {"Front hub", 3, front}, {"Crank", 2, crank}, {"Top of the seat tube", 2, seat}, {"Head of the fork", 2, head}}
	return s
}

func (s *Scene) wheel(hub plane.Point) {
	for _, r := range []float64{40, 37, 34.5} {
		s.line(0.9, arc(hub.X, hub.Y, r, r, 0, 360)...)
	}
	for a := 0.0; a < 360; a += 12 {
		sin, cos := math.Sincos(a * math.Pi / 180)
		s.line(0.35, pt(hub.X+3*cos, hub.Y+3*sin), pt(hub.X+34.5*cos, hub.Y+34.5*sin))
	}
	s.outline(0.8, 255, arc(hub.X, hub.Y, 3, 3, 0, 360)...)
}

func (s *Scene) chain(crank, rear plane.Point) {
	s.outline(0.8, 255, arc(crank.X, crank.Y, 10, 10, 0, 360)...)
	s.line(0.6, arc(crank.X, crank.Y, 7, 7, 0, 360)...)
	s.line(0.7, pt(crank.X, crank.Y-10), pt(rear.X, rear.Y-4))
	s.line(0.7, pt(crank.X, crank.Y+10), pt(rear.X, rear.Y+4))
	s.line(1.8, pt(crank.X-10, crank.Y-15), pt(crank.X+10, crank.Y+15))
	s.outline(0.8, 60, box(crank.X-17, crank.Y-18, 11, 3.5)...)
	s.outline(0.8, 60, box(crank.X+6, crank.Y+14, 11, 3.5)...)
}

func (s *Scene) basket() {
	s.outline(0.9, 255, pt(178, 60), pt(214, 60), pt(208, 86), pt(184, 86))
	for i := range 6 {
		t := float64(i+1) / 7
		s.line(0.5, pt(178+36*t, 60), pt(184+24*t, 86))
		s.line(0.5, pt(178+6*t, 60+26*t), pt(214-6*t, 60+26*t))
	}
}
