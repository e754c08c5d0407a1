package values

import (
	"slices"

	"zestysketch/internal/core/picture"
	"zestysketch/internal/core/plane"
)

// TouchesEdge reports whether an area reaches the edge of the picture.
func (m Map) TouchesEdge(area int) bool {
	for _, p := range m.Areas[area].Rings[0] {
		if p.X == 0 || p.Y == 0 || p.X == float64(m.W) || p.Y == float64(m.H) {
			return true
		}
	}
	return false
}

// Size returns the area inside an area's rings, in pixels of the map.
func (a Area) Size() (sum float64) {
	for _, r := range a.Rings {
		sum += r.Area()
	}
	return sum
}

// outline gives every area its rings. They run along the middles of the sides
// that part one pixel from another, and through the corners where three areas
// meet, and are rounded between those: both neighbours find the same points, so
// that they share one border.
func (m *Map) outline() {
	seen := make([]bool, len(m.At)) // the upper sides that a ring has passed
	var found []walked
	for y := range m.H {
		for x := range m.W {
			i := y*m.W + x
			if (y == 0 || m.At[i-m.W] != m.At[i]) && !seen[i] {
				found = append(found, m.ring(x, y, seen))
			}
		}
	}
	picture.Bands(len(found), func(from, to int) {
		for i := range found[from:to] {
			k := &found[from+i]
			k.ring = plain(rounded(k.ring, k.fixed, m.reach))
		}
	})
	for _, k := range found {
		m.Areas[k.area].Rings = append(m.Areas[k.area].Rings, k.ring)
	}
	for i := range m.Areas {
		slices.SortStableFunc(m.Areas[i].Rings, func(a, b plane.Ring) int {
			if (a.Area() > 0) == (b.Area() > 0) {
				return 0
			} else if a.Area() > 0 {
				return -1
			}
			return 1
		})
	}
}

// area returns the area of a pixel, −1 outside the map.
func (m *Map) area(x, y int) int32 {
	if x < 0 || y < 0 || x >= m.W || y >= m.H {
		return -1
	}
	return m.At[y*m.W+x]
}

// east, south, west, north: headings, each a right turn from the one before.
var headings = [4][2]int{{1, 0}, {0, 1}, {-1, 0}, {0, -1}}

// walked is a ring as it was walked, along pixels' sides.
type walked struct {
	area  int32
	ring  plane.Ring
	fixed []bool
}

// ring walks round an area, which lies to the right, from the upper side of a
// pixel. Where areas touch at a corner only, it keeps to its own.
func (m *Map) ring(px, py int, seen []bool) walked {
	a := m.At[py*m.W+px]
	x, y, d := px, py, 0
	var out plane.Ring
	var fixed []bool
	add := func(px, py float64, node bool) {
		out, fixed = append(out, plane.Pt(px, py)), append(fixed, node)
	}
	for {
		if d == 0 {
			seen[y*m.W+x] = true
		}
		step := headings[d]
		add(float64(x)+float64(step[0])/2, float64(y)+float64(step[1])/2, false)
		x, y = x+step[0], y+step[1]
		if m.node(x, y) {
			add(float64(x), float64(y), true)
		}
		left, right := m.ahead(x, y, d)
		switch {
		case right != a:
			d = (d + 1) % 4
		case left == a:
			d = (d + 3) % 4
		}
		if x == px && y == py && d == 0 {
			return walked{a, out, fixed}
		}
	}
}

// ahead returns the areas of the pixels ahead of a corner, left and right of a heading.
func (m *Map) ahead(x, y, d int) (left, right int32) {
	nw, ne, sw, se := m.area(x-1, y-1), m.area(x, y-1), m.area(x-1, y), m.area(x, y)
	switch d {
	case 0:
		return ne, se
	case 1:
		return se, sw
	case 2:
		return sw, nw
	}
	return nw, ne
}

// node reports whether a corner is kept: three areas or more meet there, or it
// is the map's own.
func (m *Map) node(x, y int) bool {
	nw, ne, sw, se := m.area(x-1, y-1), m.area(x, y-1), m.area(x-1, y), m.area(x, y)
	sides := 0
	for _, parted := range [4]bool{nw != ne, ne != se, se != sw, sw != nw} {
		if parted {
			sides++
		}
	}
	return sides > 2 || (x == 0 || x == m.W) && (y == 0 || y == m.H)
}

// near and broad are how often a border's points move towards their neighbours:
// the next ones, so that steps of a pixel go, and before that ones further off,
// so that the corners go which the filter of squares leaves.
const near, broad = 8, 5

// rounded moves every point that is not fixed towards two neighbours, up to
// reach points away but never past a fixed one. A point's two areas reckon it
// from the same three, in either order.
func rounded(r plane.Ring, fixed []bool, reach int) plane.Ring {
	next := make(plane.Ring, len(r))
	var away []int
	if reach > 1 {
		away = fixedWithin(fixed, reach)
	}
	for round := range broad + near {
		if reach < 2 && round < broad {
			continue
		}
		for i, p := range r {
			if fixed[i] {
				next[i] = p
				continue
			}
			k := 1
			if round < broad {
				k = away[i]
			}
			before, after := i-k, i+k
			if before < 0 {
				before += len(r)
			}
			if after >= len(r) {
				after -= len(r)
			}
			a, b := r[before], r[after]
			next[i] = plane.Pt(((a.X+b.X)+2*p.X)/4, ((a.Y+b.Y)+2*p.Y)/4)
		}
		r, next = next, r
	}
	return r
}

// fixedWithin returns for every point how far it is along the ring to the
// nearest fixed one, reach at most; on a ring without any, reach or a sixth of it.
func fixedWithin(fixed []bool, reach int) []int {
	n := len(fixed)
	away := make([]int, n)
	for i := range away {
		away[i] = max(1, min(reach, n/6))
	}
	pass := func(i, before int) {
		if fixed[before] {
			away[i] = 1
		} else {
			away[i] = min(away[i], away[before]+1)
		}
	}
	for range 2 { // the second time over the seam
		for i := range n {
			pass(i, (i+n-1)%n)
		}
		for i := n - 1; i >= 0; i-- {
			pass(i, (i+1)%n)
		}
	}
	return away
}

// straight reports whether b lies on the way from a to c, exactly.
func straight(a, b, c plane.Point) bool { return (b.X-a.X)*(c.Y-b.Y) == (b.Y-a.Y)*(c.X-b.X) }

// plain drops the points that lie on a straight line between their neighbours.
func plain(r plane.Ring) plane.Ring {
	var out plane.Ring
	for _, p := range r {
		if n := len(out); n >= 2 && straight(out[n-2], out[n-1], p) {
			out[n-1] = p
			continue
		}
		out = append(out, p)
	}
	for len(out) > 3 && straight(out[len(out)-2], out[len(out)-1], out[0]) {
		out = out[:len(out)-1]
	}
	for len(out) > 3 && straight(out[len(out)-1], out[0], out[1]) {
		out = out[1:]
	}
	return out
}
