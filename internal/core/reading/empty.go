package reading

import (
	"cmp"
	"math"
	"slices"

	"zestysketch/internal/core/lines"
	"zestysketch/internal/core/plane"
)

// Empty is a shape of paper between lines: what the teachers of seeing call the negative.
type Empty struct {
	Area    float64       `json:"area"` // share of the box, or of the sheet
	Shape   Shape         `json:"shape,omitempty"`
	Near    float64       `json:"near,omitempty"` // how near that is, 0 to 1
	Outline []plane.Point `json:"outline"`
}

// Empty shapes are looked for on so many places a side of a box; smaller ones than that
// share of it, and finer than that share of it, are not said.
const (
	emptySide    = 48
	leastEmpty   = 0.04
	outlineFiner = 0.012
	gapSide      = 20 // places a box, for those of the whole picture
	mostGapSide  = 900
	mostGaps     = 12
	leastGap     = 0.25 // boxes
)

// board is paper on which lines are marked.
type board struct {
	w, h int
	ink  []bool
}

func newBoard(w, h int) board { return board{w, h, make([]bool, w*h)} }

// line marks a line, by places from 0 to 1.
func (b board) line(p, q plane.Point) {
	n := 2*int(max(math.Abs(p.X-q.X)*float64(b.w), math.Abs(p.Y-q.Y)*float64(b.h))) + 1
	for i := range n + 1 {
		at := p.To(q, float64(i)/float64(n))
		x, y := int(at.X*float64(b.w)), int(at.Y*float64(b.h))
		if x >= 0 && y >= 0 && x < b.w && y < b.h {
			b.ink[y*b.w+x] = true
		}
	}
}

// blank is one connected part of the paper.
type blank struct {
	number int32
	pixels int
	first  int // its first place, row by row
	edge   bool
}

// blanks returns the parts of the paper between lines, and which each place belongs to.
func (b board) blanks() (all []blank, of []int32) {
	of = make([]int32, len(b.ink))
	var todo []int
	for start := range b.ink {
		if b.ink[start] || of[start] != 0 {
			continue
		}
		k := blank{number: int32(len(all) + 1), first: start}
		todo = append(todo[:0], start)
		of[start] = k.number
		for len(todo) > 0 {
			i := todo[len(todo)-1]
			todo = todo[:len(todo)-1]
			k.pixels++
			x, y := i%b.w, i/b.w
			k.edge = k.edge || x == 0 || y == 0 || x == b.w-1 || y == b.h-1
			for _, d := range [4][2]int{{1, 0}, {-1, 0}, {0, 1}, {0, -1}} {
				u, v := x+d[0], y+d[1]
				if u < 0 || v < 0 || u >= b.w || v >= b.h {
					continue
				}
				if j := v*b.w + u; !b.ink[j] && of[j] == 0 {
					of[j] = k.number
					todo = append(todo, j)
				}
			}
		}
		all = append(all, k)
	}
	return all, of
}

// outline follows the border of a part clockwise, along the sides of its places, from 0 to 1.
func (b board) outline(k blank, of []int32) (ring []plane.Point) {
	in := func(x, y int) bool { return x >= 0 && y >= 0 && x < b.w && y < b.h && of[y*b.w+x] == k.number }
	x0, y0 := k.first%b.w, k.first/b.w
	x, y, dx, dy := x0, y0, 1, 0 // on the upper side of the first place, which nothing lies above
	for {
		ring = append(ring, plane.Pt(float64(x)/float64(b.w), float64(y)/float64(b.h)))
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

// shaped returns a part as an empty shape; aspect is how much broader than high all is.
func (b board) shaped(k blank, of []int32, aspect float64) Empty {
	ring := b.outline(k, of)
	e := Empty{Area: math.Round(float64(k.pixels)/float64(b.w*b.h)*1e4) / 1e4}
	plain := lines.Simplified(ring, outlineFiner, true)
	stretched := make([]plane.Point, len(plain))
	for i, p := range plain {
		e.Outline = append(e.Outline, plane.Pt(round(p.X), round(p.Y)))
		stretched[i] = plane.Pt(p.X*aspect, p.Y)
	}
	s := shapeOf(stretched)
	e.Shape, e.Near = s.name, s.near
	return e
}

// emptyIn returns the empty shapes of a box between its pieces, the largest first; none
// where nothing divides it.
func emptyIn(pieces []Piece) []Empty {
	b := newBoard(emptySide, emptySide)
	for _, p := range pieces {
		for i := 1; i < len(p.Points); i++ {
			b.line(p.Points[i-1], p.Points[i])
		}
	}
	all, of := b.blanks()
	out := []Empty{}
	for _, k := range all {
		if share := float64(k.pixels) / float64(len(b.ink)); share >= leastEmpty && share < 0.97 {
			out = append(out, b.shaped(k, of, 1))
		}
	}
	slices.SortStableFunc(out, func(a, b Empty) int { return cmp.Compare(b.Area, a.Area) })
	return out
}

// gaps returns the closed shapes of paper of the whole picture that help most to compare:
// large ones of a plain shape.
func (r *reader) gaps() []Empty {
	n := r.whole
	w, h := r.plan.Sheet.Width, r.plan.Sheet.Height
	side := min(gapSide/n.usual(), mostGapSide/max(w, h))
	b := newBoard(max(1, int(w*side)), max(1, int(h*side)))
	for _, run := range r.runs {
		for i := 1; i < len(run.points); i++ {
			p, q := run.points[i-1], run.points[i]
			b.line(plane.Pt(p.X/w, p.Y/h), plane.Pt(q.X/w, q.Y/h))
		}
	}
	all, of := b.blanks()
	least := leastGap * n.usual() * n.usual() / (w * h)
	var out []Empty
	for _, k := range all {
		share := float64(k.pixels) / float64(len(b.ink))
		if k.edge || share < least || share > 0.5 {
			continue
		}
		out = append(out, b.shaped(k, of, w/h))
	}
	worth := func(e Empty) float64 { return math.Sqrt(e.Area) * (1 + e.Near) }
	slices.SortStableFunc(out, func(a, b Empty) int { return cmp.Compare(worth(b), worth(a)) })
	return out[:min(len(out), mostGaps)]
}
