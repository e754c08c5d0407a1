package photo

import (
	"cmp"
	"math"
	"slices"

	"zestysketch/internal/core/lines"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/core/plane"
)

// outlineSide is the longer side, in pixels, on which papers and grids are looked for.
const outlineSide = 900

// Papers returns the sheets of paper that stand out of a photo, the largest
// first: areas of even light, or of even dark, with four corners. Corners run
// clockwise from the one nearest the photo's top left.
func Papers(s *Shot) []plane.Quad {
	small, k := s.small()
	small, k = picture.Halve(small), 2*k // sides are drawn to finer steps than light tells
	grey := lines.Grey(small).Blur(1)
	limit := float32(lines.Otsu(grey.Pix))
	var found []plane.Quad
	for _, light := range []bool{true, false} {
		for _, blob := range blobs(grey, limit, light) {
			q, area := quadAround(hull(rowEnds(blob)))
			// The paper fills its four corners but for what is drawn at its edge,
			// and stands out from what it lies on.
			if area == 0 || float64(len(blob)) < 0.75*area || standsOut(grey, blob) < leastApart {
				continue
			}
			for i := range q {
				q[i].X *= k
				q[i].Y *= k
			}
			found = append(found, fromTopLeft(q))
		}
	}
	slices.SortFunc(found, func(a, b plane.Quad) int { return cmp.Compare(b.Area(), a.Area()) })
	return found
}

// leastApart is how much lighter or darker than all else a paper must be.
const leastApart = 0.12

// standsOut returns how far an area's mean is from the rest of the photo's.
func standsOut(p lines.Plane, blob []plane.Point) float64 {
	all, in := 0.0, 0.0
	for _, v := range p.Pix {
		all += float64(v)
	}
	for _, q := range blob {
		in += float64(p.Pix[int(q.Y)*p.W+int(q.X)])
	}
	rest := max(1, float64(len(p.Pix)-len(blob)))
	return math.Abs(in/float64(len(blob)) - (all-in)/rest)
}

// blobs returns the pixels of each connected area that is lighter, or darker,
// than the limit and takes up at least a twelfth of the photo, its holes filled
// by what the hull makes of them.
func blobs(p lines.Plane, limit float32, light bool) (all [][]plane.Point) {
	seen := make([]bool, len(p.Pix))
	in := func(i int) bool { return (p.Pix[i] > limit) == light }
	for start := range p.Pix {
		if seen[start] || !in(start) {
			continue
		}
		todo, blob := []int{start}, []plane.Point(nil)
		seen[start] = true
		for len(todo) > 0 {
			i := todo[len(todo)-1]
			todo = todo[:len(todo)-1]
			x, y := i%p.W, i/p.W
			blob = append(blob, plane.Pt(float64(x)+0.5, float64(y)+0.5))
			for _, n := range [4][2]int{{x - 1, y}, {x + 1, y}, {x, y - 1}, {x, y + 1}} {
				if j := n[1]*p.W + n[0]; n[0] >= 0 && n[1] >= 0 && n[0] < p.W && n[1] < p.H && !seen[j] && in(j) {
					seen[j] = true
					todo = append(todo, j)
				}
			}
		}
		if len(blob)*12 > len(p.Pix) {
			all = append(all, blob)
		}
	}
	return all
}

// rowEnds returns the first and the last point of every row of a blob, which have the
// same hull as all.
func rowEnds(blob []plane.Point) []plane.Point {
	ends := map[float64][2]float64{}
	for _, p := range blob {
		e, ok := ends[p.Y]
		if !ok {
			e = [2]float64{p.X, p.X}
		}
		ends[p.Y] = [2]float64{min(e[0], p.X), max(e[1], p.X)}
	}
	var out []plane.Point
	for y, e := range ends {
		out = append(out, plane.Pt(e[0], y), plane.Pt(e[1], y))
	}
	return out
}

// hull returns the convex hull, clockwise as seen (Andrew 1979, Information
// Processing Letters 9(5), the monotone chain).
func hull(points []plane.Point) []plane.Point {
	points = slices.Clone(points)
	slices.SortFunc(points, func(a, b plane.Point) int { return cmp.Or(cmp.Compare(a.X, b.X), cmp.Compare(a.Y, b.Y)) })
	var out []plane.Point
	half := func(order []plane.Point) {
		from := len(out)
		for _, p := range order {
			for len(out) >= from+2 && turn(out[len(out)-2], out[len(out)-1], p) <= 0 {
				out = out[:len(out)-1]
			}
			out = append(out, p)
		}
		out = out[:len(out)-1]
	}
	half(points)
	slices.Reverse(points)
	half(points)
	return out
}

// turn is positive where a, b, c run clockwise as seen.
func turn(a, b, c plane.Point) float64 { return (b.X-a.X)*(c.Y-b.Y) - (b.Y-a.Y)*(c.X-b.X) }

// quadAround returns the four-cornered shape round a convex one, made by
// taking away, again and again, the side that costs the least new area, and
// its area; 0 where there is none.
func quadAround(h []plane.Point) (plane.Quad, float64) {
	for len(h) > 4 {
		best, at, corner := math.Inf(1), -1, plane.Point{}
		for i := range h {
			a, b, c, d := h[(i+len(h)-1)%len(h)], h[i], h[(i+1)%len(h)], h[(i+2)%len(h)]
			p, ok := crossing(a, b, d, c)
			if cost := math.Abs(turn(b, p, c)) / 2; ok && cost < best {
				best, at, corner = cost, i, p
			}
		}
		if at < 0 {
			return plane.Quad{}, 0
		}
		h[at] = corner
		h = slices.Delete(h, (at+1)%len(h), (at+1)%len(h)+1)
	}
	if len(h) < 4 {
		return plane.Quad{}, 0
	}
	q := plane.Quad(h)
	if q.Check() != nil {
		return q, 0
	}
	return q, q.Area()
}

// crossing returns where the line from a through b meets the line from d
// through c, if that is beyond b and c.
func crossing(a, b, d, c plane.Point) (plane.Point, bool) {
	p, s, t, ok := meeting(a, b, d, c)
	return p, ok && s >= 1 && t >= 1
}

// meeting returns where the line through a and b meets the one through c and d, and how
// far on from a, and from c, in parts of the way to b and to d; false where they are as
// good as parallel.
func meeting(a, b, c, d plane.Point) (p plane.Point, s, t float64, ok bool) {
	u, v, w := b.Sub(a), d.Sub(c), c.Sub(a)
	det := u.X*v.Y - u.Y*v.X
	if math.Abs(det) < 1e-9*max(1, u.Len()*v.Len()) {
		return p, 0, 0, false
	}
	s, t = (w.X*v.Y-w.Y*v.X)/det, (w.X*u.Y-w.Y*u.X)/det
	return a.Add(u.Mul(s)), s, t, true
}

// fromTopLeft turns the corners so that they start at the one nearest the
// photo's top left.
func fromTopLeft(q plane.Quad) plane.Quad {
	first := 0
	for i := range q {
		if q[i].X+q[i].Y < q[first].X+q[first].Y {
			first = i
		}
	}
	return Turned(q, first)
}

// Turned returns the corners starting n further on: the sheet lay turned by n
// quarters.
func Turned(q plane.Quad, n int) (out plane.Quad) {
	for i := range q {
		out[i] = q[(i+n)%4]
	}
	return out
}
