package plane

// Rect is a half-open box: Min belongs to it, Max does not.
type Rect struct{ Min, Max Point }

// Width and Height return the sides.
func (r Rect) Width() float64  { return r.Max.X - r.Min.X }
func (r Rect) Height() float64 { return r.Max.Y - r.Min.Y }

// Middle returns the point that is as far from all corners.
func (r Rect) Middle() Point { return Pt((r.Min.X+r.Max.X)/2, (r.Min.Y+r.Max.Y)/2) }

// Grown returns a rectangle that reaches so much further to every side.
func (r Rect) Grown(by float64) Rect {
	return Rect{Pt(r.Min.X-by, r.Min.Y-by), Pt(r.Max.X+by, r.Max.Y+by)}
}

// Union returns the smallest rectangle that holds both.
func (r Rect) Union(o Rect) Rect {
	return Rect{Pt(min(r.Min.X, o.Min.X), min(r.Min.Y, o.Min.Y)), Pt(max(r.Max.X, o.Max.X), max(r.Max.Y, o.Max.Y))}
}

// Holds reports whether a point lies in the rectangle or on its edge.
func (r Rect) Holds(p Point) bool {
	return p.X >= r.Min.X && p.X <= r.Max.X && p.Y >= r.Min.Y && p.Y <= r.Max.Y
}

// Cut returns the part of a line inside a box (Liang and Barsky 1984, ACM
// Transactions on Graphics 3(1)); ends that lie inside stay as they are.
func (r Rect) Cut(a, b Point) (from, to Point, ok bool) {
	t0, t1 := 0.0, 1.0
	dx, dy := b.X-a.X, b.Y-a.Y
	for _, edge := range [4][2]float64{{-dx, a.X - r.Min.X}, {dx, r.Max.X - a.X}, {-dy, a.Y - r.Min.Y}, {dy, r.Max.Y - a.Y}} {
		p, q := edge[0], edge[1]
		switch {
		case p == 0 && q < -1e-9:
			return a, b, false
		case p < 0:
			t0 = max(t0, q/p)
		case p > 0:
			t1 = min(t1, q/p)
		}
	}
	if t0 > t1 {
		return a, b, false
	}
	from, to = a, b
	if t0 > 0 {
		from = Pt(a.X+dx*t0, a.Y+dy*t0)
	}
	if t1 < 1 {
		to = Pt(a.X+dx*t1, a.Y+dy*t1)
	}
	return from, to, true
}

// In reports whether a point lies in the box.
func (p Point) In(r Rect) bool {
	return r.Min.X <= p.X && p.X < r.Max.X && r.Min.Y <= p.Y && p.Y < r.Max.Y
}
