package plane

import "math"

// Ring is a closed border, its last point joined to its first. One that runs clockwise as
// seen, with y down, encloses; one that runs the other way is a hole.
type Ring []Point

// Area returns what a ring encloses: more than 0 clockwise, less for a hole.
func (r Ring) Area() float64 {
	sum := 0.0
	for i, p := range r {
		q := r[(i+1)%len(r)]
		sum += p.X*q.Y - q.X*p.Y
	}
	return sum / 2
}

// Length returns how long a ring is.
func (r Ring) Length() (sum float64) {
	for i, p := range r {
		q := r[(i+1)%len(r)]
		sum += p.Sub(q).Len()
	}
	return sum
}

// Bounds returns the smallest upright box around a ring.
func (r Ring) Bounds() Rect {
	b := Rect{Pt(math.Inf(1), math.Inf(1)), Pt(math.Inf(-1), math.Inf(-1))}
	for _, p := range r {
		b.Min = Pt(min(b.Min.X, p.X), min(b.Min.Y, p.Y))
		b.Max = Pt(max(b.Max.X, p.X), max(b.Max.Y, p.Y))
	}
	return b
}

// Has reports whether a point lies inside a ring, by how often a line from it to the right
// crosses the border.
func (r Ring) Has(at Point) (in bool) {
	for i, p := range r {
		q := r[(i+1)%len(r)]
		if p.Y > at.Y != (q.Y > at.Y) && at.X < p.X+(at.Y-p.Y)/(q.Y-p.Y)*(q.X-p.X) {
			in = !in
		}
	}
	return in
}
