package sheet

import (
	"fmt"
	"math"

	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/plane"
)

// Grown is what was measured at one time, and between which figures it lies.
type Grown struct {
	When             string
	Value, Low, High float64
}

// Growth draws a figure over time, the less the better, with what it lies between; title
// names it and in is its unit.
func Growth(title, in string, points []Grown) page.Page {
	const w, h, room = 120.0, 44.0, 14.0
	pg := page.Page{Title: title, Size: measure.Size{W: w + 2*room, H: h + 2*room}}
	most := 0.0
	for _, p := range points {
		most = max(most, p.Value*1.15, min(p.High, 2*p.Value))
	}
	step := niceStep(most / 4)
	most = max(step, step*math.Ceil(most/step))
	at := func(i int, v float64) plane.Point {
		return plane.Pt(room+w*(float64(i)+0.5)/float64(len(points)), room+h*(1-min(1, v/most)))
	}
	pg.Add(page.Text{At: plane.Pt(room, room-5), Size: 3.6, Words: title + ", " + in, Bold: true, Color: page.Ink})
	for v := 0.0; v <= most+step/2; v += step {
		y := at(0, v).Y
		pg.Line(room, y, room+w, y, 0.2, page.Faint)
		pg.Add(page.Text{At: plane.Pt(room-2, y+1.2), Size: 3.2, Words: fmt.Sprintf("%g", math.Round(v*100)/100), Anchor: page.End, Color: page.Ink})
	}
	leaf, zest := page.Color{R: 0x2b, G: 0x63, B: 0x40}, page.Color{R: 0xf4, G: 0xb4, B: 0x1a}
	var run []plane.Point
	every := 1 + len(points)/7
	for i, p := range points {
		low, high := at(i, p.Low), at(i, p.High)
		pg.Line(low.X, low.Y, high.X, high.Y, 0.5, page.Faint)
		run = append(run, at(i, p.Value))
		if i%every == 0 {
			pg.Add(page.Text{At: plane.Pt(low.X, room+h+5), Size: 3.2, Words: p.When, Anchor: page.Middle, Color: page.Ink})
		}
	}
	pg.Add(page.Path{Points: run, Width: 0.8, Stroke: leaf})
	for _, p := range run {
		dot := page.BoxPath(page.Box(p.X-1.2, p.Y-1.2, 2.4, 2.4), 0.3, page.Ink)
		dot.Fill = &zest
		pg.Add(dot)
	}
	return pg
}

// niceStep returns 1, 2 or 5 times a power of ten that is not below v.
func niceStep(v float64) float64 {
	if !(v > 0) {
		return 1
	}
	ten := math.Pow(10, math.Floor(math.Log10(v)))
	for _, k := range []float64{1, 2, 5} {
		if k*ten >= v {
			return k * ten
		}
	}
	return 10 * ten
}
