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
	Area    float64    `json:"area"` // share of the box, or of the sheet
	Shape   Shape      `json:"shape,omitempty"`
	Near    float64    `json:"near,omitempty"` // how near that is, 0 to 1
	Outline plane.Ring `json:"outline"`
}

// Empty shapes are looked for on so many places a side of a box; smaller ones than that
// share of it, and finer than that share of it, are not said.
const (
	emptySide    = 48
	leastEmpty   = 0.04
	outlineFiner = 0.012
	gapSide      = 20 // places a box, for those of the whole picture
	mostGapSide  = 900
	usualGaps    = 12
	leastGap     = 0.25 // boxes
)

// shaped returns a part as an empty shape; aspect is how much broader than high all is.
func (b *Board) shaped(k Blank, aspect float64) Empty {
	ring := b.Outline(k)
	e := Empty{Area: math.Round(b.share(k)*1e4) / 1e4}
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
	b := NewBoard(emptySide, emptySide)
	for _, p := range pieces {
		for i := 1; i < len(p.Points); i++ {
			b.Line(p.Points[i-1], p.Points[i])
		}
	}
	out := []Empty{}
	for _, k := range b.Blanks() {
		if share := b.share(k); share >= leastEmpty && share < 0.97 {
			out = append(out, b.shaped(k, 1))
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
	b := NewBoard(max(1, int(w*side)), max(1, int(h*side)))
	for _, run := range r.runs {
		for i := 1; i < len(run.points); i++ {
			p, q := run.points[i-1], run.points[i]
			b.Line(plane.Pt(p.X/w, p.Y/h), plane.Pt(q.X/w, q.Y/h))
		}
	}
	least := leastGap * n.usual() * n.usual() / (w * h)
	var out []Empty
	for _, k := range b.Blanks() {
		share := b.share(k)
		if k.Edge || share < least || share > 0.5 {
			continue
		}
		out = append(out, b.shaped(k, w/h))
	}
	worth := func(e Empty) float64 { return math.Sqrt(e.Area) * (1 + e.Near) }
	slices.SortStableFunc(out, func(a, b Empty) int { return cmp.Compare(worth(b), worth(a)) })
	return out[:min(len(out), cmp.Or(r.wish.Gaps, usualGaps))]
}
