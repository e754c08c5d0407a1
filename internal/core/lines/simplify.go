package lines

import (
	"zestysketch/internal/core/plane"
)

// eased smooths a run of points by moving each half-way towards its
// neighbours' middle, three times; open ends stay.
func eased(points []plane.Point, closed bool) []plane.Point {
	n := len(points)
	if n < 3 {
		return points
	}
	for range 3 {
		next := make([]plane.Point, n)
		for i, p := range points {
			if !closed && (i == 0 || i == n-1) {
				next[i] = p
				continue
			}
			a, b := points[(i+n-1)%n], points[(i+1)%n]
			next[i] = plane.Pt((a.X+2*p.X+b.X)/4, (a.Y+2*p.Y+b.Y)/4)
		}
		points = next
	}
	return points
}

// Simplified returns the points of a line without those that lie within tolerance of the
// line that is left, of a closed one round and round
// (Douglas and Peucker 1973, Cartographica 10(2)).
func Simplified(points []plane.Point, tolerance float64, closed bool) []plane.Point {
	if closed && len(points) > 3 { // in two halves, from the point furthest from the first
		far, at := 0.0, 0
		for i, p := range points {
			if d := between(p, points[0]); d > far {
				far, at = d, i
			}
		}
		a := Simplified(points[:at+1], tolerance, false)
		b := Simplified(append(points[at:len(points):len(points)], points[0]), tolerance, false)
		return append(a, b[1:len(b)-1]...)
	}
	if len(points) < 3 {
		return points
	}
	keep := make([]bool, len(points))
	keep[0], keep[len(points)-1] = true, true
	type span struct{ from, to int }
	for todo := []span{{0, len(points) - 1}}; len(todo) > 0; {
		s := todo[len(todo)-1]
		todo = todo[:len(todo)-1]
		far, at := tolerance, -1
		for i := s.from + 1; i < s.to; i++ {
			if d := points[i].FromSegment(points[s.from], points[s.to]); d > far {
				far, at = d, i
			}
		}
		if at >= 0 {
			keep[at] = true
			todo = append(todo, span{s.from, at}, span{at, s.to})
		}
	}
	var out []plane.Point
	for i, p := range points {
		if keep[i] {
			out = append(out, p)
		}
	}
	return out
}
