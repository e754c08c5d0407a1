package reading

import (
	"math"
	"slices"

	"zestysketch/internal/core/lines"
	"zestysketch/internal/core/plane"
)

// Shape is a simple shape that a line, or what stays empty, is like.
type Shape string

// The family of shapes; None where nothing is near.
const (
	None      Shape = ""
	Straight  Shape = "line"
	Arc       Shape = "arc"
	S         Shape = "S"
	Hook      Shape = "hook"
	Corner    Shape = "corner"
	HalfDisc  Shape = "half disc"
	Disc      Shape = "disc"
	Oval      Shape = "oval"
	Drop      Shape = "drop"
	Triangle  Shape = "triangle"
	Rectangle Shape = "rectangle"
	CutOff    Shape = "rectangle with a corner cut off"
)

// closedShape is what an outline is like.
type closedShape struct {
	name Shape
	near float64
	axis plane.Point // along which it is longest
}

// An outline is compared by how far from its middle it lies in so many directions, once
// it is stretched to be as broad as it is long: then all triangles are one triangle, all
// ovals one disc. It is like a shape where the two differ by less than a part, on average.
const (
	profileSteps = 64 // a power of two: directions go round
	mostUnlike   = 0.085
	longOval     = 1.2  // times as long as broad, and it is no disc
	squareDeg    = 14.0 // a rectangle's corners are as square
)

type profile [profileSteps]float64

// family holds the profiles of shapes that stretching does not change into one another.
var family = func() map[Shape]profile {
	out := map[Shape]profile{}
	ring := func(n int, at func(t float64) plane.Point) []plane.Point {
		points := make([]plane.Point, n)
		for i := range points {
			points[i] = at(float64(i) / float64(n))
		}
		return points
	}
	for name, points := range map[Shape][]plane.Point{
		Disc: ring(96, func(t float64) plane.Point {
			sin, cos := math.Sincos(2 * math.Pi * t)
			return plane.Pt(cos, sin)
		}),
		HalfDisc: ring(64, func(t float64) plane.Point {
			sin, cos := math.Sincos(math.Pi * t * 64 / 63)
			return plane.Pt(cos, sin)
		}),
		Drop: append(ring(64, func(t float64) plane.Point { // three quarters of a disc and the point where its ends' tangents meet
			sin, cos := math.Sincos(math.Pi/4 + 1.5*math.Pi*t)
			return plane.Pt(cos, sin)
		}), plane.Pt(math.Sqrt2, 0)),
		Triangle:  {plane.Pt(0, 0), plane.Pt(1, 0), plane.Pt(0, 1)},
		Rectangle: {plane.Pt(0, 0), plane.Pt(1, 0), plane.Pt(1, 1), plane.Pt(0, 1)},
		CutOff:    {plane.Pt(0, 0), plane.Pt(0.55, 0), plane.Pt(1, 0.45), plane.Pt(1, 1), plane.Pt(0, 1)},
	} {
		out[name], _, _ = profiled(points)
	}
	return out
}()

// order in which the family is looked at, so that ties fall alike.
var order = []Shape{Disc, Rectangle, Triangle, HalfDisc, CutOff, Drop}

// shapeOf returns the nearest shape of an outline, None where none is near.
func shapeOf(points []plane.Point) (s closedShape) {
	have, axis, long := profiled(points)
	s.axis = axis
	least := mostUnlike
	for _, name := range order {
		want := family[name]
		for turn := range profileSteps {
			for _, way := range []int{1, -1} {
				sum := 0.0
				for i := 0; i < profileSteps && sum < least*profileSteps; i++ {
					sum += math.Abs(have[i] - want[(way*i+turn)&(profileSteps-1)])
				}
				if d := sum / profileSteps; d < least {
					least, s.name = d, name
				}
			}
		}
	}
	s.near = math.Round((1-least/mostUnlike/2)*100) / 100
	switch {
	case s.name == None:
		s.near = 0
	case s.name == Disc && long > longOval:
		s.name = Oval
	case s.name == Rectangle && !square(points):
		s.name, s.near = None, 0
	}
	return s
}

// profiled returns how far an outline lies from its middle, stretched to be as broad as
// long and to a mean of 1, the way along which it is longest, and how much longer.
func profiled(points []plane.Point) (out profile, axis plane.Point, long float64) {
	var area float64
	var mid plane.Point
	n := len(points)
	for i, p := range points {
		q := points[(i+1)%n]
		w := p.X*q.Y - q.X*p.Y
		area, mid = area+w/2, mid.Add(p.Add(q).Mul(w/6))
	}
	if math.Abs(area) < 1e-9 {
		return out, plane.Pt(1, 0), 1
	}
	mid = mid.Mul(1 / area)
	var xx, xy, yy float64 // second moments of the area (Green's theorem)
	for i := range points {
		p, q := points[i].Sub(mid), points[(i+1)%n].Sub(mid)
		w := (p.X*q.Y - q.X*p.Y) / area
		xx += w * (p.X*p.X + p.X*q.X + q.X*q.X) / 12
		yy += w * (p.Y*p.Y + p.Y*q.Y + q.Y*q.Y) / 12
		xy += w * (2*p.X*p.Y + p.X*q.Y + q.X*p.Y + 2*q.X*q.Y) / 24
	}
	angle := 0.5 * math.Atan2(2*xy, xx-yy)
	sin, cos := math.Sincos(angle)
	half, middle := math.Hypot((xx-yy)/2, xy), (xx+yy)/2
	major, minor := math.Sqrt(max(1e-12, middle+half)), math.Sqrt(max(1e-12, middle-half))
	axis, long = plane.Pt(cos, sin), major/minor
	at := make([]plane.Point, n)
	for i, p := range points {
		d := p.Sub(mid)
		at[i] = plane.Pt((d.X*cos+d.Y*sin)/major, (d.Y*cos-d.X*sin)/minor)
	}
	sum := 0.0
	for k := range out {
		sin, cos := math.Sincos(2 * math.Pi * float64(k) / profileSteps)
		for i := range at { // the furthest place in this direction
			a, b := at[i], at[(i+1)%n]
			d := b.Sub(a)
			det := cos*d.Y - sin*d.X
			if math.Abs(det) < 1e-12 {
				continue
			}
			r, t := (a.X*d.Y-a.Y*d.X)/det, (a.X*sin-a.Y*cos)/det
			if t >= 0 && t <= 1 && r > out[k] {
				out[k] = r
			}
		}
		sum += out[k]
	}
	for k := range out {
		out[k] *= profileSteps / max(sum, 1e-9)
	}
	return out, axis, long
}

// square reports whether the four main corners of an outline are.
func square(points []plane.Point) bool {
	long := length(points) + points[len(points)-1].Sub(points[0]).Len()
	mid, first := middle(append(points[:len(points):len(points)], points[0])), 0
	for i, p := range points { // begun at the place furthest out, which is a corner
		if p.Sub(mid).Len() > points[first].Sub(mid).Len() {
			first = i
		}
	}
	corners := lines.Simplified(slices.Concat(points[first:], points[:first]), 0.04*long, true)
	if len(corners) != 4 {
		return false
	}
	for i := range corners {
		if d := math.Abs(turn(append([]plane.Point{corners[(i+3)%4]}, corners[i], corners[(i+1)%4]), 1, 1)); math.Abs(d-90) > squareDeg {
			return false
		}
	}
	return true
}
