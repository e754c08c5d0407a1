package main

import (
	"fmt"
	"image"
	"math"
	"strings"

	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/render"
)

// drawing is a picture in line, in millimetres from its top left. Its pen is heavier where a form turns
// away from the light, which falls from the upper left, and lifts at the ends of a stroke.
type drawing struct {
	name string
	page page.Page
}

func newDrawing(name string, w, h float64) *drawing {
	return &drawing{name, page.Page{Title: name, Size: measure.Size{W: measure.Length(w), H: measure.Length(h)}}}
}

// Weights of the pen, mm.
const (
	bold  = 1.15
	plain = 0.8
	fine  = 0.5
)

const dotsPerMM = 9

func (d *drawing) render() image.Image { return render.Pixels(d.page, dotsPerMM, nil) }

func (d *drawing) ink(points ...plane.Point) {
	fill := page.Ink
	d.page.Items = append(d.page.Items, page.Path{Points: points, Closed: true, Fill: &fill})
}

// stroke lays ink along points, as broad as it should be at each.
func (d *drawing) stroke(points []plane.Point, broad func(i int) float64) {
	for i := 1; i < len(points); i++ {
		a, b := points[i-1], points[i]
		long := math.Hypot(b.X-a.X, b.Y-a.Y)
		if long == 0 {
			continue
		}
		nx, ny := -(b.Y-a.Y)/long/2, (b.X-a.X)/long/2
		u, v := broad(i-1), broad(i)
		d.ink(pt(a.X+nx*u, a.Y+ny*u), pt(b.X+nx*v, b.Y+ny*v), pt(b.X-nx*v, b.Y-ny*v), pt(a.X-nx*u, a.Y-ny*u))
		d.ink(ellipse(b.X, b.Y, v/2, v/2)...)
	}
}

// line draws an open stroke, thinner where the pen comes down and lifts.
func (d *drawing) line(weight float64, points ...plane.Point) {
	points = spaced(points)
	n := float64(len(points) - 1)
	d.stroke(points, func(i int) float64 {
		end := math.Min(float64(i), n-float64(i)) / math.Max(1, math.Min(n/2, 14))
		return weight * (0.45 + 0.55*math.Sqrt(math.Min(1, end)))
	})
}

// shape draws a closed form over what lies behind it.
func (d *drawing) shape(weight float64, points ...plane.Point) {
	white := page.Color{R: 255, G: 255, B: 255}
	d.page.Items = append(d.page.Items, page.Path{Points: points, Closed: true, Fill: &white})
	d.rim(weight, points...)
}

// rim draws the outline of a closed form.
func (d *drawing) rim(weight float64, points ...plane.Point) {
	around := 0.0
	for i, b := range points {
		a := points[(i+len(points)-1)%len(points)]
		around += a.X*b.Y - b.X*a.Y
	}
	side := math.Copysign(1, around)
	points = spaced(append(points[:len(points):len(points)], points[0]))
	n := len(points) - 1
	turned := make([]float64, n+1)
	for i := range turned {
		a, b := points[(i+n-3)%n], points[(i+3)%n]
		dx, dy := b.X-a.X, b.Y-a.Y
		if l := math.Hypot(dx, dy); l > 0 {
			turned[i] = max(0, side*(dy*0.6-dx*0.8)/l)
		}
	}
	d.stroke(points, func(i int) float64 { return weight * (0.7 + 0.6*turned[i]) })
}

// hatch lays even strokes within a box of the sheet, aslant.
func (d *drawing) hatch(apart float64, in ...plane.Point) {
	low, high := math.Inf(1), math.Inf(-1)
	for _, p := range in {
		low, high = min(low, p.X+p.Y), max(high, p.X+p.Y)
	}
	for s := low + apart/2; s < high; s += apart {
		var cut []plane.Point
		for i, b := range in {
			a := in[(i+len(in)-1)%len(in)]
			if p, q := a.X+a.Y-s, b.X+b.Y-s; p*q < 0 {
				cut = append(cut, pt(a.X+(b.X-a.X)*p/(p-q), a.Y+(b.Y-a.Y)*p/(p-q)))
			}
		}
		if len(cut) == 2 {
			d.line(fine, cut...)
		}
	}
}

func pt(x, y float64) plane.Point { return plane.Pt(x, y) }

// spaced returns a line with points at most 0.7 mm apart.
func spaced(points []plane.Point) []plane.Point {
	out := points[:1:1]
	for i := 1; i < len(points); i++ {
		a, b := points[i-1], points[i]
		n := max(1, int(math.Hypot(b.X-a.X, b.Y-a.Y)/0.7))
		for k := 1; k <= n; k++ {
			t := float64(k) / float64(n)
			out = append(out, pt(a.X+(b.X-a.X)*t, a.Y+(b.Y-a.Y)*t))
		}
	}
	return out
}

func ellipse(x, y, rx, ry float64) []plane.Point { return arc(x, y, rx, ry, 0, 355) }

// arc returns points of an ellipse between two angles, in degrees clockwise from the right.
func arc(x, y, rx, ry, from, to float64) (points []plane.Point) {
	n := max(8, int(math.Abs(to-from)/5))
	for i := range n + 1 {
		sin, cos := math.Sincos((from + (to-from)*float64(i)/float64(n)) * math.Pi / 180)
		points = append(points, pt(x+rx*cos, y+ry*sin))
	}
	return points
}

// along reads a path: "M x y" begins, "L x y" goes straight, "C x y x y x y" bends; Z is not needed.
func along(path string) (points []plane.Point) {
	words := strings.Fields(path)
	number := func() (v float64) {
		if _, err := fmt.Sscan(words[0], &v); err != nil {
			panic("a path that cannot be read: " + path)
		}
		words = words[1:]
		return v
	}
	point := func() plane.Point { x := number(); return pt(x, number()) }
	for len(words) > 0 {
		how := words[0]
		words = words[1:]
		if how != "C" {
			points = append(points, point())
			continue
		}
		a, b, c, e := points[len(points)-1], point(), point(), point()
		for i := 1; i <= 24; i++ {
			t := float64(i) / 24
			u := 1 - t
			points = append(points, pt(u*u*u*a.X+3*u*u*t*b.X+3*u*t*t*c.X+t*t*t*e.X, u*u*u*a.Y+3*u*u*t*b.Y+3*u*t*t*c.Y+t*t*t*e.Y))
		}
	}
	return points
}

// moved returns points turned about the origin by some degrees, then moved.
func moved(points []plane.Point, turn, x, y float64) []plane.Point {
	sin, cos := math.Sincos(turn * math.Pi / 180)
	out := make([]plane.Point, len(points))
	for i, p := range points {
		out[i] = pt(cos*p.X-sin*p.Y+x, sin*p.X+cos*p.Y+y)
	}
	return out
}
