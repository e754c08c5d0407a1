package demo

import (
	"math"

	"zestysketch/internal/core/picture"
	"zestysketch/internal/core/plane"
)

// Lie is how a paper lies on the desk: flat where all of it is 0. Paper bends one way
// only and does not stretch.
type Lie struct {
	Rolled float64 // mm its middle stands up, the whole being a part of a cylinder
	Lifted float64 // mm its lower right corner stands up, the rest lying flat
	Folded float64 // mm a fold through its middle stands up
	Angle  float64 // degrees by which roll or fold lies away from upright
	Paper  plane.Rect
}

func (l Lie) flat() bool { return l.Rolled == 0 && l.Lifted == 0 && l.Folded == 0 }

// holds reports whether a place is on the paper, its edges too.
func (l Lie) holds(at plane.Point) bool {
	return at.X >= l.Paper.Min.X && at.Y >= l.Paper.Min.Y && at.X <= l.Paper.Max.X && at.Y <= l.Paper.Max.Y
}

// at returns where a place of the paper, mm on the desk if it lay flat, really is, and
// how high above the desk.
func (l Lie) at(p plane.Point) (on plane.Point, up float64) {
	angle := l.Angle
	size := l.Paper.Max.Sub(l.Paper.Min)
	origin := l.Paper.Min.To(l.Paper.Max, 0.5)
	if l.Lifted != 0 {
		angle = math.Atan2(size.Y, size.X) * 180 / math.Pi
	}
	sin, cos := math.Sincos(angle * math.Pi / 180)
	q := p.Sub(origin)
	along := q.X*cos + q.Y*sin
	to, up := l.profile(along, (size.X*math.Abs(cos)+size.Y*math.Abs(sin))/2)
	return p.Add(plane.Pt(cos, sin).Mul(to - along)), up
}

// profile returns how far from the middle, and how high, a place so far along the
// paper, across its roll or fold, comes to lie; half is how far the paper reaches.
func (l Lie) profile(along, half float64) (to, up float64) {
	switch {
	case l.Rolled != 0: // an arc of half's length on each side whose rise is as given
		r := half * half / (2 * l.Rolled)
		return r * math.Sin(along/r), r*math.Cos(along/r) - r*math.Cos(half/r)
	case l.Folded != 0:
		lean := math.Asin(min(0.9, l.Folded/half))
		return along * math.Cos(lean), l.Folded - math.Abs(along)*math.Sin(lean)
	case l.Lifted != 0: // from half way to the corner on
		from := half / 3
		if along <= from {
			return along, 0
		}
		r := (half - from) * (half - from) / (2 * l.Lifted)
		return from + r*math.Sin((along-from)/r), r - r*math.Cos((along-from)/r)
	}
	return along, 0
}

// slope returns how steeply the paper rises at a place, from left to right.
func (l Lie) slope(p plane.Point) float64 {
	_, a := l.at(p)
	_, b := l.at(p.Add(plane.Pt(1, 0)))
	return b - a
}

// eye is where a camera is: how it sees what lies on the desk and what stands above it.
type eye struct {
	lens   func(plane.Point) plane.Point
	axes   [3][3]float64 // of a millimetre right, down and up on the desk, as the camera has them
	origin [3]float64
	focal  float64
	centre plane.Point
}

// focal is a phone's, as a part of the photo's longer side.
const focal = 0.75

// eye returns where the camera must be to see the desk as it does.
func (c Camera) eye() (e eye, err error) {
	h, err := picture.NewHomography(c.From, plane.Box(float64(c.Width), float64(c.Height)))
	if err != nil {
		return e, err
	}
	e.focal = focal * float64(max(c.Width, c.Height))
	e.centre = plane.Pt(float64(c.Width)/2, float64(c.Height)/2)
	column := func(k int) [3]float64 {
		return [3]float64{(h[k] - e.centre.X*h[6+k]) / e.focal, (h[3+k] - e.centre.Y*h[6+k]) / e.focal, h[6+k]}
	}
	right, down := column(0), column(1)
	e.origin = column(2)
	long := math.Sqrt(length(right) * length(down))
	away := [3]float64{right[1]*down[2] - right[2]*down[1], right[2]*down[0] - right[0]*down[2], right[0]*down[1] - right[1]*down[0]}
	up := -long / length(away) // towards the camera, as long as the others
	for k := range away {
		away[k] *= up
	}
	e.axes = [3][3]float64{right, down, away}
	e.lens = c.lens().Bend
	return e, nil
}

func length(v [3]float64) float64 { return math.Sqrt(v[0]*v[0] + v[1]*v[1] + v[2]*v[2]) }

// sees returns the pixel at which a place so high above the desk is seen.
func (e eye) sees(at plane.Point, up float64) plane.Point {
	var v [3]float64
	for k := range v {
		v[k] = e.origin[k] + e.axes[0][k]*at.X + e.axes[1][k]*at.Y + e.axes[2][k]*up
	}
	return e.lens(plane.Pt(e.centre.X+e.focal*v[0]/v[2], e.centre.Y+e.focal*v[1]/v[2]))
}
