package photo

import (
	"cmp"
	"image"
	"math"
	"slices"

	"zestysketch/internal/core/lines"
	"zestysketch/internal/core/plane"
)

// A sheet is known by its four sides: steps of lightness, all from dark to light
// inwards or all outwards, along so much of each; its shape is nearly the stock's. A
// shadow across it, or what lies beside it, has no four such sides.
const (
	sideStep  = 0.02 // the weakest step of lightness
	sideSeen  = 0.45 // share of each side along which one is seen
	sidesTilt = 0.25 // how far a camera squeezes a sheet's ratio, as a logarithm
	mostSides = 3    // sheets that are proposed
)

// bySides returns the sheets of paper of a shape, width over height, either way up, that
// four straight sides show in a small photo's steps, the best first, its sides drawn to the
// steps that the small photo shows.
func bySides(in steps, ratio float64) []plane.Quad {
	w, h := in.w, in.h
	across, down := families(vote(in.at.Marks, w, h))
	type sheet struct {
		q     plane.Quad
		score float64
	}
	var all []sheet
	for i, left := range across {
		for _, right := range across[i+1:] {
			for j, top := range down {
				for _, bottom := range down[j+1:] {
					q, ok := between4(left, right, top, bottom, w, h)
					if !ok || math.Abs(math.Abs(math.Log(q.Ratio()))-math.Abs(math.Log(ratio))) > sidesTilt {
						continue
					}
					if score := max(in.sides(q, 1), in.sides(q, -1)); score > 0 {
						all = append(all, sheet{q, score * math.Sqrt(q.Area())})
					}
				}
			}
		}
	}
	slices.SortStableFunc(all, func(a, b sheet) int { return cmp.Compare(b.score, a.score) })
	var out []plane.Quad
	for _, s := range all {
		near := func(q plane.Quad) bool { return apartBy(s.q, q) < 0.02*float64(max(w, h)) }
		if len(out) < mostSides && !slices.ContainsFunc(out, near) {
			out = append(out, in.sharpened(s.q))
		}
	}
	return out
}

// apartBy returns how far the corners of two quads lie from each other, at most.
func apartBy(a, b plane.Quad) (most float64) {
	for i := range a {
		most = max(most, a[i].Sub(b[i]).Len())
	}
	return most
}

// steps are the edges of a small photo, to be asked along a side.
type steps struct {
	at   *lines.Index
	w, h int
}

func stepsIn(small *image.RGBA) steps {
	w, h := small.Rect.Dx(), small.Rect.Dy()
	marks := lines.Find(lines.Grey(small), lines.Search{Sigma: 1.5, Least: sideStep, Shortest: 12, Edges: true})
	marks = slices.DeleteFunc(marks, func(m lines.Mark) bool { return m.Ridge })
	return steps{lines.NewIndex(marks, w, h, 4), w, h}
}

// along returns the steps within reach of a line from a to b, away from its ends, that
// run along it and are lighter on the side to which inward, 1 or -1, points; one for
// each of so many places at most.
func (s steps) along(a, b plane.Point, inward float64, reach float32, places int) (found []plane.Point) {
	d := b.Sub(a)
	n := plane.Pt(-d.Y, d.X).Mul(inward / max(1e-9, d.Len())) // clockwise as seen: to the right of the way is inside
	for i := range places {
		p := a.To(b, 0.04+0.92*(float64(i)+0.5)/float64(places))
		best, most := plane.Point{}, float32(-1)
		s.at.Around(float32(p.X), float32(p.Y), reach, func(m lines.Mark) bool {
			if float64(m.NX)*n.X+float64(m.NY)*n.Y > 0.97 && m.Weight > most {
				best, most = plane.Pt(float64(m.X), float64(m.Y)), m.Weight
			}
			return true
		})
		if most >= 0 {
			found = append(found, best)
		}
	}
	return found
}

// sides returns how much of four sides is seen, the least of them counting most; 0
// where one is seen too little.
func (s steps) sides(q plane.Quad, inward float64) float64 {
	const places = 32
	least, sum := 1.0, 0.0
	for i := range q {
		share := float64(len(s.along(q[i], q[(i+1)%4], inward, 3, places))) / places
		if share < sideSeen {
			return 0
		}
		least, sum = min(least, share), sum+share/4
	}
	return least + sum
}

// sharpened moves the sides of a quad onto the middle of the steps seen along them.
func (s steps) sharpened(q plane.Quad) plane.Quad {
	inward := 1.0
	if s.sides(q, -1) > s.sides(q, 1) {
		inward = -1
	}
	var found4 [4][2]plane.Point
	for i := range q {
		a, b, ok := lineThrough(s.along(q[i], q[(i+1)%4], inward, 3, 64))
		if !ok {
			return q
		}
		found4[i] = [2]plane.Point{a, b}
	}
	out := q
	for i := range q {
		before, here := found4[(i+3)%4], found4[i]
		p, _, _, ok := meeting(before[0], before[1], here[0], here[1])
		if !ok {
			return q
		}
		out[i] = p
	}
	if out.Check() != nil || apartBy(out, q) > 12 {
		return q
	}
	return out
}

// lineThrough returns two points of the line nearest to points, once those that lie
// far from it are left out.
func lineThrough(points []plane.Point) (a, b plane.Point, ok bool) {
	for range 3 {
		if len(points) < 4 {
			return a, b, false
		}
		var m plane.Point
		for _, p := range points {
			m = m.Add(p.Mul(1 / float64(len(points))))
		}
		var xx, xy, yy float64
		for _, p := range points {
			d := p.Sub(m)
			xx, xy, yy = xx+d.X*d.X, xy+d.X*d.Y, yy+d.Y*d.Y
		}
		sin, cos := math.Sincos(0.5 * math.Atan2(2*xy, xx-yy))
		a, b = m, m.Add(plane.Pt(cos, sin))
		off := func(p plane.Point) float64 { return math.Abs((p.X-m.X)*sin - (p.Y-m.Y)*cos) }
		offs := make([]float64, len(points))
		for i, p := range points {
			offs[i] = off(p)
		}
		slices.Sort(offs)
		limit := max(0.5, 3*offs[len(offs)/2])
		points = slices.DeleteFunc(slices.Clone(points), func(p plane.Point) bool { return off(p) > limit })
	}
	return a, b, true
}
