package accuracy

import (
	"math"
	"slices"

	"zestysketch/internal/core/lines"
	"zestysketch/internal/core/plane"
)

// What a box that slipped by itself looks like: where its neighbours have it, no more
// of its lines are explained than that; alone, by a shift at least so long and not at
// the end of what is searched, mostly all are, and nowhere else nearly as many: of few
// strokes, more than chance gives. So many places are tried.
const (
	unexplained  = 0.75
	slipCell     = 0.2
	furthestTold = 0.55
	leastAlone   = 1.5 // boxes of line
	mostlyTold   = 0.62
	moreTold     = 0.6 // standard deviations of the difference of two shares of strokes
	placesTried  = 4
)

// alone looks once more at a box, for it alone: its neighbours may have outvoted it, and
// its lines may lie as well elsewhere. Where another place explains it clearly better it
// has slipped there; where one explains it as well, nothing is known.
func (v volume) alone(box int, points []lines.Mark, all, drawn *lines.Index, n net, was model, had boxShift, pairs []pair) (boxShift, []pair) {
	if had.shift.Len() > slipCell*n.cell && insideOwn(pairs, was, box, n) < leastInside {
		had = boxShift{sure: None, matched: had.matched}
	}
	told, length := explained(pairs, len(points)), float64(len(points))/n.cell
	doubted := v.doubt(box, had, n)
	if v.score[box] == nil || length < leastForBoth || told > unexplained && doubted == had {
		return doubted, pairs
	}
	at, found, best, next := v.elsewhere(box, points, drawn, n, was)
	chance := moreTold * math.Sqrt(0.5*strokeCell/length)
	if best >= mostlyTold && best >= max(told, next)+chance && length >= leastAlone && math.Hypot(at.x, at.y) < furthestTold*n.cell {
		most := alike
		if insideOwn(found, at, box, n) < leastInside {
			most = alikeBeyond
		}
		if repeated(points, all, at.x-was.x, at.y-was.y, n) >= most {
			return boxShift{sure: None, matched: had.matched}, pairs
		}
		if s := judge(found, len(points), at, n); s.shift.Len() >= slipCell*n.cell { // zero where nothing is sure
			return s, found
		}
	}
	switch {
	case best >= told+chance/2:
		return boxShift{sure: None, matched: had.matched}, pairs
	case told >= mostlyTold && told > best+2*chance && length >= leastAlone && had.shift.Len() < furthestTold*n.cell:
		return had, pairs // as well by far nowhere else
	}
	return doubted, pairs
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

// elsewhere returns the place away from where a box is that explains most of its lines,
// the share, and the share at the next best that is another.
func (v volume) elsewhere(box int, points []lines.Mark, drawn *lines.Index, n net, was model) (at model, found []pair, best, next float64) {
	x, y := n.middle(box)
	for _, from := range v.peaks(box, elsewhere*n.cell) {
		m := model{x: from.X, y: from.Y}
		var here []pair
		for _, reach := range reaches[1:] {
			here = match(points, drawn, plane.Pt(x, y), n.cell, m, reach*n.cell, here[:0])
			m = solve(here, m, reach*n.cell)
		}
		if math.Hypot(m.x-was.x, m.y-was.y) < elsewhere*n.cell {
			continue
		}
		share, same := explained(here, len(points)), math.Hypot(m.x-at.x, m.y-at.y) < elsewhere*n.cell
		if share > best {
			share, best, at, found = best, share, m, here
		}
		if !same { // else two ways to one place
			next = max(next, share)
		}
	}
	return at, found, best, next
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

// peaks returns the shifts at which a box scores best, pixels, each so far from the
// others.
func (v volume) peaks(box int, away float64) (at []plane.Point) {
	half := v.side / 2
	for range placesTried {
		best, top := 0.0, plane.Point{}
		for l, s := range v.score[box] {
			if s <= best {
				continue
			}
			p := plane.Pt(float64(l%v.side-half)*v.scale, float64(l/v.side-half)*v.scale)
			if !slices.ContainsFunc(at, func(q plane.Point) bool { return p.Sub(q).Len() < away }) {
				best, top = s, p
			}
		}
		at = append(at, top)
	}
	return at
}

// doubt takes back what a box cannot know because its lines would lie as well
// elsewhere: rails and other lines that repeat look the same a step further.
func (v volume) doubt(box int, s boxShift, n net) boxShift {
	if s.sure == None || v.score[box] == nil {
		return s
	}
	if s.shift.Len() > furthestTold*n.cell { // at the end of what is searched nothing says that it ends there
		return boxShift{sure: None, matched: s.matched}
	}
	half := v.side / 2
	at := func(x, y int) float64 {
		return v.score[box][max(0, min(v.side-1, y+half))*v.side+max(0, min(v.side-1, x+half))]
	}
	cx, cy := int(math.Round(s.shift.X/v.scale)), int(math.Round(s.shift.Y/v.scale))
	best := 0.0
	for y := cy - 1; y <= cy+1; y++ {
		for x := cx - 1; x <= cx+1; x++ {
			best = max(best, at(x, y))
		}
	}
	sin, cos := math.Sincos(s.across * math.Pi / 180)
	away := elsewhere * n.cell / v.scale
	across, along := false, false
	for y := -half; y <= half; y++ {
		for x := -half; x <= half; x++ {
			dx, dy := float64(x-cx), float64(y-cy)
			if dx*dx+dy*dy < away*away || at(x, y) < asGood*best {
				continue
			}
			if math.Abs(dx*cos+dy*sin) > 0.7*away {
				across = true
			} else {
				along = true
			}
		}
	}
	switch {
	case across && s.sure == Across:
		return boxShift{sure: None, matched: s.matched}
	case across && along:
		return boxShift{sure: None, matched: s.matched}
	case across: // known along the weaker direction only
		return s.only(s.across + 90)
	case along && s.sure == Both:
		return s.only(s.across)
	}
	return s
}

// only reduces a shift to its part along one direction, in degrees.
func (s boxShift) only(across float64) boxShift {
	if across > 90 {
		across -= 180
	}
	sin, cos := math.Sincos(across * math.Pi / 180)
	along := s.shift.X*cos + s.shift.Y*sin
	s.sure, s.across, s.shift = Across, across, plane.Pt(along*cos, along*sin)
	return s
}
