package tiles

import (
	"math"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/plane"
)

// Loose is an end of a rearranged line that nothing goes on from. Millimetres on
// the reference.
type Loose struct {
	At    plane.Point
	To    plane.Point // prolonged in the line's own direction, where it meets another line or the frame
	Place string      // where it lies
}

// Borders is how the lines of a rearrangement meet.
type Borders struct {
	Meet  int // ends at the tiles' edges that run into a line on the other side
	Loose []Loose
}

// Millimetres on the reference: how near a line an end must be to run into it,
// about a pencil line; how near an edge, to lie on it; and over how much of its
// line the direction of an end is taken (all ours).
const meets, onEdge, tail = 1.0, 0.02, 3.0

// BordersOf finds the ends of rearranged lines and prolongs the loose ones, at
// the tiles' edges and within the tiles, in their own direction until they meet
// a line, an earlier prolongation or the outer frame: so every area closes, and
// no closing line runs along the grid.
func BordersOf(p grid.Plan, rearranged [][]plane.Point) (b Borders) {
	all := make([]piece, 0, len(rearranged))
	for _, run := range rearranged {
		all = append(all, newPiece(p, run))
	}
	var loose []plane.Point // the directions, of length 1
	for i := range all {
		run := all[i].run
		if run[0] == run[len(run)-1] {
			continue
		}
		for back := range 2 {
			at, toward := endOf(run, back == 1)
			onX, onY := near(p.Marks.ReferenceX, at.X), near(p.Marks.ReferenceY, at.Y)
			switch edge := onX >= 0 || onY >= 0; {
			case onX == 0 || onY == 0 || onX == p.Grid.Columns || onY == p.Grid.Rows: // the frame closes it
			case !runsInto(all, i, at, edge):
				b.Loose = append(b.Loose, Loose{At: at, Place: all[i].place})
				loose = append(loose, toward)
			case edge:
				b.Meet++
			}
		}
	}
	frame := plane.Rect{Max: plane.Pt(p.Reference.Width, p.Reference.Height)}
	for k := range b.Loose {
		l := &b.Loose[k]
		l.To = prolonged(all, frame, l.At, loose[k])
		all = append(all, newPiece(p, []plane.Point{l.At, l.To}))
	}
	return b
}

// piece is a line that lies in one place, and the box round it.
type piece struct {
	run   []plane.Point
	bound plane.Rect
	place string
}

func newPiece(p grid.Plan, run []plane.Point) piece {
	return piece{run, plane.Ring(run).Bounds(), p.CellAt(p.ToSheet(run[0].To(run[1], 0.5))).Label}
}

// near returns which of the marks a value lies on, -1 for none.
func near(marks []float64, v float64) int {
	for i, m := range marks {
		if math.Abs(m-v) < onEdge {
			return i
		}
	}
	return -1
}

// endOf returns one end of a line and its direction there, outwards.
func endOf(run []plane.Point, last bool) (at, toward plane.Point) {
	k, step := 0, 1
	if last {
		k, step = len(run)-1, -1
	}
	at = run[k]
	from := run[k+step]
	for i := k + step; i >= 0 && i < len(run); i += step {
		if from = run[i]; apart(from, at) >= tail {
			break
		}
	}
	if long := apart(at, from); long > 0 {
		toward = at.Sub(from).Mul(1 / long)
	}
	return at, toward
}

func apart(a, b plane.Point) float64 { return a.Sub(b).Len() }

// runsInto reports whether an end of line i lies on another line; at an edge,
// one of another tile.
func runsInto(all []piece, i int, at plane.Point, edge bool) bool {
	for k := range all {
		o := &all[k]
		if k == i || edge && o.place == all[i].place || !o.bound.Grown(meets).Holds(at) {
			continue
		}
		for s := 1; s < len(o.run); s++ {
			if at.FromSegment(o.run[s-1], o.run[s]) <= meets {
				return true
			}
		}
	}
	return false
}

// prolonged returns where a ray first meets a line, or else leaves the frame.
func prolonged(all []piece, frame plane.Rect, at, toward plane.Point) plane.Point {
	far := at.Add(toward.Mul(frame.Width() + frame.Height()))
	_, far, ok := frame.Cut(at, far)
	if !ok {
		return at
	}
	for k := range all {
		if _, _, through := all[k].bound.Grown(onEdge).Cut(at, far); !through {
			continue
		}
		for s := 1; s < len(all[k].run); s++ {
			if hit, ok := crossing(at, far, all[k].run[s-1], all[k].run[s]); ok {
				far = hit
			}
		}
	}
	return far
}

// crossing returns where a ray from a to b crosses a segment, a hair behind its
// beginning at the least, so that a line's own end is none.
func crossing(a, b, c, d plane.Point) (plane.Point, bool) {
	const hair = 1e-6
	u, v, w := b.Sub(a), d.Sub(c), c.Sub(a)
	area := u.X*v.Y - u.Y*v.X
	if area == 0 {
		return a, false
	}
	t, s := (w.X*v.Y-w.Y*v.X)/area, (w.X*u.Y-w.Y*u.X)/area
	return a.To(b, t), t*u.Len() > hair && t <= 1 && s >= 0 && s <= 1
}
