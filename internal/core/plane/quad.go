package plane

import (
	"errors"
	"math"
)

// Quad is four corners: top left, top right, bottom right, bottom left.
type Quad [4]Point

// ErrCorners is the error of four corners that enclose no sheet.
var ErrCorners = errors.New("the four corners cross or lie too close together; put them on the grid's corners, starting top left and going round clockwise")

// Box returns the quad of an upright rectangle from (0, 0) to (w, h).
func Box(w, h float64) Quad { return Quad{Pt(0, 0), Pt(w, 0), Pt(w, h), Pt(0, h)} }

// Check returns ErrCorners unless the quad is convex, runs clockwise as seen
// and has no corner on the line of two others.
func (q Quad) Check() error {
	longest := 0.0
	for i := range q {
		longest = max(longest, q.Side(i))
	}
	for i := range q {
		a, b, c := q[i], q[(i+1)%4], q[(i+2)%4]
		// Twice the corner's triangle, which is positive clockwise as y points down.
		turn := (b.X-a.X)*(c.Y-b.Y) - (b.Y-a.Y)*(c.X-b.X)
		if !(turn > 0.005*longest*longest) || math.IsInf(turn, 0) {
			return ErrCorners
		}
	}
	return nil
}

// Area returns the area enclosed by the corners, by the shoelace formula.
func (q Quad) Area() float64 {
	sum := 0.0
	for i := range q {
		next := q[(i+1)%4]
		sum += q[i].X*next.Y - next.X*q[i].Y
	}
	return math.Abs(sum) / 2
}

// Side returns the length of the side from corner i to the next.
func (q Quad) Side(i int) float64 {
	next := q[(i+1)%4]
	return next.Sub(q[i]).Len()
}

// Ratio returns about the width ÷ height of what the corners show: of the
// sides' means.
func (q Quad) Ratio() float64 { return (q.Side(0) + q.Side(2)) / (q.Side(1) + q.Side(3)) }
