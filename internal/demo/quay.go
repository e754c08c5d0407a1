package demo

import (
	"math"

	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/plane"
)

// quaySheds are sheds at the quay, in colour, 200 × 150 mm: three boat sheds, their light on
// the water, and a dinghy.
func quaySheds() Scene {
	s := Scene{Page: page.Page{Title: "Sheds at the quay", Size: measure.Size{W: 200, H: 150}}}
	for y := 0.0; y < 70; y += 2 { // sky, paler towards the water
		t := y / 70
		s.tone(mixed(page.Color{R: 120, G: 178, B: 216}, page.Color{R: 226, G: 236, B: 236}, t), box(0, y, 200, 2.2)...)
	}
	sheds := []struct {
		x, w, h float64
		wall    page.Color
	}{{14, 50, 46, page.Color{R: 186, G: 52, B: 40}}, {70, 58, 54, page.Color{R: 226, G: 172, B: 52}}, {134, 52, 42, page.Color{R: 44, G: 110, B: 120}}}
	const quay = 92.0
	s.tone(page.Color{R: 150, G: 142, B: 128}, box(0, quay, 200, 8)...)
	for y := quay + 8; y < 150; y += 2 { // water
		s.tone(mixed(page.Color{R: 52, G: 96, B: 124}, page.Color{R: 22, G: 52, B: 84}, (y-quay-8)/50), box(0, y, 200, 2.2)...)
	}
	for _, k := range sheds {
		s.shed(k.x, k.w, k.h, quay, k.wall)
		for i := range 7 { // its light on the water, in strips
			y, reach := quay+11+float64(i)*5, k.w*(0.46-0.04*float64(i))
			mid := k.x + k.w/2 + 2*math.Sin(float64(i)*2)
			s.tone(mixed(k.wall, page.Color{R: 30, G: 66, B: 98}, 0.25+0.08*float64(i)), box(mid-reach, y, 2*reach, 1.8)...)
		}
	}
	s.dinghy()
	s.Landmarks = []Landmark{{"ridge of the middle shed", 3, pt(99, quay-54-16)}, {"bow of the dinghy", 2, pt(160, 124)}, {"corner of the quay", 1, pt(0, quay)}}
	return s
}

func (s *Scene) shed(x, w, h, base float64, wall page.Color) {
	dark := page.Color{R: 46, G: 44, B: 52}
	s.tone(wall, box(x, base-h, w, h)...)
	s.tone(mixed(wall, dark, 0.35), box(x+w*0.78, base-h, w*0.22, h)...) // the shaded end
	s.tone(dark, pt(x-3, base-h), pt(x+w/2, base-h-16), pt(x+w+3, base-h))
	s.tone(page.Color{R: 240, G: 236, B: 224}, box(x+w*0.3, base-h*0.62, w*0.3, h*0.62)...) // door
	s.line(0.6, box(x+w*0.3, base-h*0.62, w*0.3, h*0.62)...)
	s.line(0.6, pt(x+w*0.45, base-h*0.62), pt(x+w*0.45, base))
}

func (s *Scene) dinghy() {
	hull := joined(curve(pt(96, 122), pt(104, 138), pt(142, 138), pt(160, 124)), []plane.Point{pt(96, 122)})
	s.tone(page.Color{R: 236, G: 232, B: 220}, hull...)
	s.tone(page.Color{R: 186, G: 52, B: 40}, joined(curve(pt(97.5, 124.5), pt(106, 136.5), pt(140, 136.5), pt(156, 127)), []plane.Point{pt(152, 130), pt(140, 134), pt(110, 134)})...)
	s.line(0.7, hull...)
	s.line(0.7, pt(112, 124), pt(116, 131), pt(138, 131), pt(142, 123.5))
}

// mixed returns a colour t of the way from one to another.
func mixed(a, b page.Color, t float64) page.Color {
	part := func(x, y uint8) uint8 { return uint8(float64(x) + (float64(y)-float64(x))*t + 0.5) }
	return page.Color{R: part(a.R, b.R), G: part(a.G, b.G), B: part(a.B, b.B)}
}
