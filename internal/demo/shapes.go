package demo

import (
	"math"

	"zestysketch/internal/core/page"
	"zestysketch/internal/core/plane"
)

// Scene is a picture of our own making: pencil lines and areas of tone, in
// millimetres, and the points of it worth getting right.
type Scene struct {
	Page      page.Page
	Landmarks []Landmark
}

type Landmark struct {
	Name   string
	Weight int
	At     plane.Point
}

const pencil = 0.9 // mm

func pt(x, y float64) plane.Point { return plane.Pt(x, y) }

// line adds a run of straight lines.
func (s *Scene) line(width float64, points ...plane.Point) {
	s.Page.Items = append(s.Page.Items, page.Path{Points: points, Width: width, Stroke: page.Ink})
}

// outline adds a closed shape filled with a grey, 0 black to 255 white.
func (s *Scene) outline(width float64, grey uint8, points ...plane.Point) {
	fill := page.Color{R: grey, G: grey, B: grey}
	s.Page.Items = append(s.Page.Items, page.Path{Points: points, Closed: true, Width: width, Stroke: page.Ink, Fill: &fill})
}

// tone adds an area without an outline.
func (s *Scene) tone(c page.Color, points ...plane.Point) {
	s.Page.Items = append(s.Page.Items, page.Path{Points: points, Closed: true, Fill: &c})
}

// arc returns points of an ellipse from one angle to another, in degrees
// clockwise from the right.
func arc(cx, cy, rx, ry, from, to float64) []plane.Point {
	n := max(6, int(math.Abs(to-from)/5))
	points := make([]plane.Point, n+1)
	for i := range points {
		sin, cos := math.Sincos((from + (to-from)*float64(i)/float64(n)) * math.Pi / 180)
		points[i] = pt(cx+rx*cos, cy+ry*sin)
	}
	return points
}

// curve returns points of a cubic Bézier curve.
func curve(a, b, c, d plane.Point) []plane.Point {
	const n = 24
	points := make([]plane.Point, n+1)
	for i := range points {
		t := float64(i) / n
		u := 1 - t
		points[i] = pt(
			u*u*u*a.X+3*u*u*t*b.X+3*u*t*t*c.X+t*t*t*d.X,
			u*u*u*a.Y+3*u*u*t*b.Y+3*u*t*t*c.Y+t*t*t*d.Y)
	}
	return points
}

// joined returns runs of points as one.
func joined(runs ...[]plane.Point) (all []plane.Point) {
	for _, r := range runs {
		all = append(all, r...)
	}
	return all
}

func box(x, y, w, h float64) []plane.Point {
	return []plane.Point{pt(x, y), pt(x+w, y), pt(x+w, y+h), pt(x, y+h)}
}
