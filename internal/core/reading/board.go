package reading

import (
	"math"
	"slices"

	"zestysketch/internal/core/plane"
)

// Board is paper on which lines are marked, to see what stays empty between them. Places
// on it go from 0 to 1, right and down.
type Board struct {
	W, H int
	ink  []bool
	of   []int32 // which blank each place belongs to; 0 for a line
}

// NewBoard returns empty paper of w × h places.
func NewBoard(w, h int) *Board { return &Board{W: w, H: h, ink: make([]bool, w*h)} }

// Line marks a line.
func (b *Board) Line(p, q plane.Point) {
	n := 2*int(max(math.Abs(p.X-q.X)*float64(b.W), math.Abs(p.Y-q.Y)*float64(b.H))) + 1
	for i := range n + 1 {
		at := p.To(q, float64(i)/float64(n))
		b.Dot(at, 0)
	}
}

// Dot marks the places within reach places of one, in a square.
func (b *Board) Dot(at plane.Point, reach int) {
	x, y := int(math.Floor(at.X*float64(b.W))), int(math.Floor(at.Y*float64(b.H)))
	for v := max(0, y-reach); v <= min(b.H-1, y+reach); v++ {
		for u := max(0, x-reach); u <= min(b.W-1, x+reach); u++ {
			b.ink[v*b.W+u] = true
		}
	}
}

// Blank is one connected part of the paper.
type Blank struct {
	Places int
	Edge   bool // it reaches the paper's edge
	number int32
	first  int // its first place, row by row
}

// Blanks returns the parts of the paper between lines.
func (b *Board) Blanks() (all []Blank) {
	b.of = make([]int32, len(b.ink))
	var todo []int
	for start := range b.ink {
		if b.ink[start] || b.of[start] != 0 {
			continue
		}
		k := Blank{number: int32(len(all) + 1), first: start}
		todo = append(todo[:0], start)
		b.of[start] = k.number
		for len(todo) > 0 {
			i := todo[len(todo)-1]
			todo = todo[:len(todo)-1]
			k.Places++
			x, y := i%b.W, i/b.W
			k.Edge = k.Edge || min(x, y, b.W-1-x, b.H-1-y) == 0
			for _, d := range [4][2]int{{1, 0}, {-1, 0}, {0, 1}, {0, -1}} {
				u, v := x+d[0], y+d[1]
				if j := v*b.W + u; min(u, v) >= 0 && u < b.W && v < b.H && !b.ink[j] && b.of[j] == 0 {
					b.of[j] = k.number
					todo = append(todo, j)
				}
			}
		}
		all = append(all, k)
	}
	return all
}

// Joined returns the outline of blanks between broad lines as they lie between the same
// lines drawn thin: each grows by reach places, not over a thin line, and what then parts
// them, no broader than twice the reach, is filled.
func (b *Board) Joined(blanks []Blank, reach int, thin *Board) plane.Ring {
	in := make([]bool, len(b.ink))
	for i, of := range b.of {
		in[i] = slices.ContainsFunc(blanks, func(k Blank) bool { return k.number == of })
	}
	in = b.spread(in, reach, true)
	for i := range in {
		in[i] = in[i] && !thin.ink[i]
	}
	in = b.spread(b.spread(in, reach, true), reach, false)
	c := &Board{W: b.W, H: b.H, ink: make([]bool, len(in))}
	for i := range in {
		c.ink[i] = !in[i]
	}
	return c.Outline(slices.MaxFunc(c.Blanks(), func(a, b Blank) int { return a.Places - b.Places }))
}

// spread spreads the places that are as said over a square of reach places each way.
func (b *Board) spread(in []bool, reach int, as bool) []bool {
	for _, step := range [2]int{1, b.W} {
		out := slices.Clone(in)
		for i, is := range in {
			if is != as {
				continue
			}
			for k := -reach; k <= reach; k++ {
				j := i + k*step
				if j >= 0 && j < len(in) && (step > 1 || j/b.W == i/b.W) {
					out[j] = as
				}
			}
		}
		in = out
	}
	return in
}

// share returns which part of the paper a blank is.
func (b *Board) share(k Blank) float64 { return float64(k.Places) / float64(len(b.ink)) }

// In returns which of the blanks that Blanks returned a place belongs to; -1 for a line,
// and beside the paper.
func (b *Board) In(at plane.Point) int {
	x, y := int(math.Floor(at.X*float64(b.W))), int(math.Floor(at.Y*float64(b.H)))
	if x < 0 || y < 0 || x >= b.W || y >= b.H {
		return -1
	}
	return int(b.of[y*b.W+x]) - 1
}

// Outline follows the border of a blank clockwise, along the sides of its places.
func (b *Board) Outline(k Blank) (ring plane.Ring) {
	in := func(x, y int) bool { return x >= 0 && y >= 0 && x < b.W && y < b.H && b.of[y*b.W+x] == k.number }
	x0, y0 := k.first%b.W, k.first/b.W
	x, y, dx, dy := x0, y0, 1, 0 // on the upper side of the first place, which nothing lies above
	for {
		ring = append(ring, plane.Pt(float64(x)/float64(b.W), float64(y)/float64(b.H)))
		x, y = x+dx, y+dy
		if x == x0 && y == y0 {
			return ring
		}
		// The places ahead to the left and to the right of the way.
		lx, ly, rx, ry := x+(dx+dy-1)/2, y+(dy-dx-1)/2, x+(dx-dy-1)/2, y+(dy+dx-1)/2
		switch {
		case in(lx, ly) && in(rx, ry):
			dx, dy = dy, -dx
		case !in(rx, ry):
			dx, dy = -dy, dx
		}
	}
}
