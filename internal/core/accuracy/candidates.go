package accuracy

import (
	"math"
	"slices"

	"zestysketch/internal/core/lines"
	"zestysketch/internal/core/plane"
)

// candidate is somewhere that a box may have slipped to.
type candidate struct {
	at                      model
	pairs                   []pair
	counts                  float64   // what the second share counts beside the first
	wantedFound, drawnFound []float64 // how much of each wanted mark is found there, and of each that is drawn in the box
}

// support returns the share of the wanted lines that is explained, and the share of the drawn
// ones, added up.
func (p candidate) support() float64 { return average(p.wantedFound) + p.counts*average(p.drawnFound) }

func average(values []float64) float64 {
	sum := 0.0
	for _, v := range values {
		sum += v
	}
	return sum / float64(max(1, len(values)))
}

// more returns how much of some marks one place explains and the other does not.
func more(a, b []float64) (sum float64) {
	for i := range a {
		sum += max(0, a[i]-b[i])
	}
	return sum
}

// off returns how far two places lie apart, boxes.
func (l outlierTest) off(a, b model) float64 { return math.Hypot(a.x-b.x, a.y-b.y) / l.n.cell }

// converge returns the place that a box's lines agree on, beginning at a shift.
func (l outlierTest) converge(box int, from plane.Point) candidate {
	x, y := l.n.middle(box)
	at := model{x: from.X, y: from.Y}
	var pairs []pair
	for _, reach := range reaches[1:] {
		pairs = match(l.wanted[box], l.drawn, plane.Pt(x, y), l.n.cell, at, reach*l.n.cell, pairs[:0])
		at = solve(pairs, at, reach*l.n.cell)
	}
	return l.candidate(box, at, pairs)
}

// candidate returns what a place explains of a box, given the pairs found there.
func (l outlierTest) candidate(box int, at model, pairs []pair) candidate {
	p := candidate{at: at, pairs: pairs, counts: l.counts(box), wantedFound: make([]float64, len(l.wanted[box])), drawnFound: make([]float64, len(l.own[box]))}
	k := 0
	for i, m := range l.wanted[box] {
		if k < len(pairs) && pairs[k].m == m { // pairs stand in the marks' order
			p.wantedFound[i], k = pairs[k].w, k+1
		}
	}
	x, y := l.n.middle(box)
	reach := float32(drawnCell * l.n.cell)
	for i, m := range l.own[box] {
		dx, dy := at.at((float64(m.X)-x)/l.n.cell, (float64(m.Y)-y)/l.n.cell)
		if hasNear(l.all, m, m.X-float32(dx), m.Y-float32(dy), reach) {
			p.drawnFound[i] = 1
		}
	}
	return p
}

// unmoved returns what a box's lines say of a place as it is.
func (l outlierTest) unmoved(box int, at model) candidate {
	x, y := l.n.middle(box)
	pairs := match(l.wanted[box], l.drawn, plane.Pt(x, y), l.n.cell, at, fixedReach*l.n.cell, nil)
	weigh(pairs, at, fixedReach*l.n.cell)
	return l.candidate(box, at, pairs)
}

// expected returns the place that the boxes round a box say it has, the middle of theirs each way.
func (l outlierTest) expected(box int) model {
	var xs, ys []float64
	c, r := box%l.n.columns, box/l.n.columns
	for y := max(0, r-1); y <= min(l.n.rows-1, r+1); y++ {
		for x := max(0, c-1); x <= min(l.n.columns-1, c+1); x++ {
			if i := y*l.n.columns + x; i != box {
				xs, ys = append(xs, l.at[i].x), append(ys, l.at[i].y)
			}
		}
	}
	return model{x: median(xs), y: median(ys)}
}

// candidates returns where a box may lie: where most of its wanted lines and of what is drawn in it
// fall on one another.
func (l outlierTest) candidates(box int) (all []candidate) {
	own := thinned(l.own[box], mostPoints)
	if len(own) < 4 {
		return nil
	}
	both, back, counts := slices.Clone(l.score[box]), l.one(own, l.back(), l.side/2), l.counts(box)
	for i := range both { // what is drawn goes back by what is wanted goes forth
		both[i] += counts * back[len(back)-1-i]
	}
	for _, from := range l.peaks(both, elsewhere*l.n.cell) {
		all = append(all, l.converge(box, from))
	}
	return all
}

// counts returns how much the share of what is drawn in a box counts, 0 to 1: a few marks may
// be anybody's.
func (l outlierTest) counts(box int) float64 {
	return min(1, float64(len(l.own[box]))/(leastOwn*l.n.cell))
}

// peaks returns the shifts with the best scores, pixels, each so far from the others.
func (v volume) peaks(score []float64, alternatives float64) (at []plane.Point) {
	half := v.side / 2
	for range placesTried {
		best, top := 0.0, plane.Point{}
		for l, s := range score {
			if s <= best {
				continue
			}
			p := plane.Pt(float64(l%v.side-half)*v.scale, float64(l/v.side-half)*v.scale)
			if !slices.ContainsFunc(at, func(q plane.Point) bool { return p.Sub(q).Len() < alternatives }) {
				best, top = s, p
			}
		}
		at = append(at, top)
	}
	return at
}

// explained returns the share of a box's wanted marks whose lines lie where they are
// taken to be.
func explained(pairs []pair, points int) float64 {
	sum := 0.0
	for _, p := range pairs {
		sum += p.w
	}
	return sum / float64(max(1, points))
}

// leastInside is the share of the lines of a box that slipped which lie in it still: what
// lies in the next alone is the next one's.
const leastInside = 0.35

// insideOwn returns the share of pairs whose drawn lines lie in the box.
func insideOwn(pairs []pair, at model, box int, n net) float64 {
	in := 0.0
	for _, p := range pairs {
		dx, dy := at.at(p.dx, p.dy)
		if n.at(float64(p.m.X)+dx, float64(p.m.Y)+dy) == box {
			in++
		}
	}
	return in / float64(max(1, len(pairs)))
}

// repeats reports whether a box's lines look alike at two places, by the picture's own; less
// of them need to where the lines found lie for the most part in the next box.
func (l outlierTest) repeats(box int, to, original candidate) bool {
	most := alike
	if insideOwn(to.pairs, to.at, box, l.n) < leastInside {
		most = alikeBeyond
	}
	return repeated(l.wanted[box], l.all, to.at.x-original.at.x, to.at.y-original.at.y, l.n) >= most
}

// alike is the share of a box's wanted lines that lie on wanted ones again a step on, at
// which they repeat: rails and posts look the same at the next. Where most of what is
// found lies in the next box, less of it is that one's own.
const alike, alikeBeyond = 0.85, 0.4

// repeated returns the share of the picture's own lines that look alike so many pixels on.
func repeated(points []lines.Mark, all *lines.Index, dx, dy float64, n net) float64 {
	again, reach := 0.0, float32(foreignCell*n.cell)
	for _, m := range points {
		if hasNear(all, m, m.X+float32(dx), m.Y+float32(dy), reach) {
			again++
		}
	}
	return again / float64(len(points))
}
