package accuracy

import (
	"math"
	"slices"

	"zestysketch/internal/core/lines"
	"zestysketch/internal/core/plane"
)

// What a box that slipped by itself looks like. Where its neighbours have it, no more than
// so much of its lines is explained; elsewhere, so far from there and not at the end of what is
// searched, more is by so much: of its wanted lines and of what is drawn in it, each a share, added up,
// and of the wanted ones alone by so much at least. Most of what is drawn is the picture's there, for of a picture's lines a
// drawing may have the stronger alone. There is line enough to tell by, in boxes. Other places
// worth as much lie along one direction: the slip is known across it, where it is so long.
const (
	unexplained  = 0.75
	slipCell     = 0.2
	fromHome     = 0.18
	furthestTold = 0.55
	leastAlone   = 0.4
	leastWorth   = 1.1
	gained       = 0.4
	toldMore     = 0.15
	mostlyKept   = 0.6
	worthAsMuch  = 0.1
	alongLine    = 0.06
	keptCell     = 0.045 // how near a drawn mark's wanted line is then, boxes
	placesTried  = 6
)

// lone looks at boxes once more, each for it alone: its neighbours may have outvoted it, and
// its lines may lie as well elsewhere.
type lone struct {
	volume
	n           net
	wanted, own [][]lines.Mark // what is wanted of each box, and what is drawn in it
	all, drawn  *lines.Index   // of all boxes
	back        channels       // of what is wanted
	at          []model        // where the neighbours have each box
}

func newLone(v volume, wanted [][]lines.Mark, drawn *lines.Index, n net, at []model) lone {
	every := slices.Concat(wanted...)
	l := lone{volume: v, n: n, wanted: wanted, own: make([][]lines.Mark, n.count()), all: lines.NewIndex(every, n.w, n.h, 8), drawn: drawn, back: newChannels(every, n), at: at}
	for _, m := range drawn.Marks {
		if i := n.at(float64(m.X), float64(m.Y)); i >= 0 {
			l.own[i] = append(l.own[i], m)
		}
	}
	return l
}

// place is somewhere that a box may have slipped to.
type place struct {
	at    model
	pairs []pair
	told  float64 // the share of the wanted lines that is explained
	kept  float64 // the share of what is drawn in the box that is the picture's
}

func (p place) worth() float64 { return p.told + p.kept }

// off returns how far two places lie apart, boxes.
func (l lone) off(a, b model) float64 { return math.Hypot(a.x-b.x, a.y-b.y) / l.n.cell }

// settle returns the place that a box's lines agree on, beginning at a shift.
func (l lone) settle(box int, from plane.Point) place {
	x, y := l.n.middle(box)
	p := place{at: model{x: from.X, y: from.Y}}
	for _, reach := range reaches[1:] {
		p.pairs = match(l.wanted[box], l.drawn, plane.Pt(x, y), l.n.cell, p.at, reach*l.n.cell, p.pairs[:0])
		p.at = solve(p.pairs, p.at, reach*l.n.cell)
	}
	p.told, p.kept = explained(p.pairs, len(l.wanted[box])), l.kept(box, p.at)
	return p
}

// kept returns the share of what is drawn in a box that lies on the picture's lines, were the
// box at a place.
func (l lone) kept(box int, at model) float64 {
	x, y := l.n.middle(box)
	reach, kept := float32(keptCell*l.n.cell), 0
	for _, m := range l.own[box] {
		dx, dy := at.at((float64(m.X)-x)/l.n.cell, (float64(m.Y)-y)/l.n.cell)
		if hasNear(l.all, m, m.X-float32(dx), m.Y-float32(dy), reach) {
			kept++
		}
	}
	return float64(kept) / float64(max(1, len(l.own[box])))
}

// home returns the place that the boxes round a box say it has: the middle of theirs, each way.
// One that was drawn along with the box does not count for much then.
func (l lone) home(box int) model {
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

// alone returns what a box tells by itself, and the lines it tells it by.
func (l lone) alone(box int, had boxShift, pairs []pair) (boxShift, []pair) {
	points, unknown := l.wanted[box], boxShift{sure: None, matched: had.matched}
	if had.shift.Len() > slipCell*l.n.cell && insideOwn(pairs, l.at[box], box, l.n) < leastInside {
		had = unknown
	}
	told, doubted := explained(pairs, len(points)), l.doubt(box, had, l.n)
	if l.score[box] == nil || told > unexplained && doubted == had && had.sure != None {
		return doubted, pairs
	}
	here := place{at: l.at[box], pairs: pairs, told: told, kept: l.kept(box, l.at[box])}
	away := l.places(box)
	if s, found, ok := l.slipped(box, here, away); ok {
		return s, found.pairs
	}
	best, length := 0.0, float64(len(points))/l.n.cell
	for _, p := range away {
		if l.off(p.at, here.at) >= elsewhere {
			best = max(best, p.told)
		}
	}
	chance := moreTold * math.Sqrt(0.5*strokeCell/length)
	switch {
	case length >= leastForBoth && best >= told+chance/2:
		return unknown, pairs
	case told >= mostlyTold && told > best+2*chance && length >= leastAgain && had.shift.Len() < furthestTold*l.n.cell:
		return had, pairs // as well by far nowhere else
	}
	return doubted, pairs
}

// Of a box whose lines may lie as well elsewhere: the share that must be explained, by so many
// standard deviations of the difference of two shares of strokes more than elsewhere, and how
// much line it takes, in boxes.
const mostlyTold, moreTold, leastAgain = 0.62, 0.6, 1.5

// slipped returns how a box slipped by itself, if it did, given where it is taken to be and the
// other places it may lie at.
func (l lone) slipped(box int, here place, away []place) (s boxShift, to place, ok bool) {
	if min(len(l.wanted[box]), len(l.own[box])) < int(leastAlone*l.n.cell) {
		return s, to, false
	}
	at := l.home(box)
	stays := l.settle(box, plane.Pt(at.x, at.y))
	for _, p := range append(away, here) {
		switch far := l.off(p.at, at); {
		case far <= fromHome && p.worth() > stays.worth():
			stays = p
		case far > fromHome && math.Hypot(p.at.x, p.at.y) < furthestTold*l.n.cell && p.worth() > to.worth():
			to = p
		}
	}
	if to.worth() < max(leastWorth, stays.worth()+gained) || to.told < stays.told+toldMore || to.kept < mostlyKept || l.repeats(box, to, stays) {
		return s, to, false
	}
	s = judge(to.pairs, len(l.wanted[box]), to.at, l.n)
	if s, ok = l.acrossRivals(s, to, away, at); !ok || s.shift.Len() < slipCell*l.n.cell {
		return s, to, false
	}
	return s, to, true
}

// acrossRivals reduces a slip to what is known of it where other places are worth as much: they
// must lie along one line through it.
func (l lone) acrossRivals(s boxShift, to place, away []place, home model) (boxShift, bool) {
	var rivals []plane.Point
	far := plane.Point{}
	for _, p := range away {
		if d := plane.Pt(p.at.x-to.at.x, p.at.y-to.at.y); d.Len() > 0.1*l.n.cell && l.off(p.at, home) > fromHome && p.worth() > to.worth()-worthAsMuch {
			if rivals = append(rivals, d); d.Len() > far.Len() {
				far = d
			}
		}
	}
	if len(rivals) == 0 || s.sure == None {
		return s, s.sure != None
	}
	far = far.Mul(1 / far.Len())
	for _, d := range rivals {
		if math.Abs(d.X*far.Y-d.Y*far.X) > alongLine*l.n.cell {
			return s, false
		}
	}
	if s.sure == Both {
		s = s.only(math.Atan2(far.X, -far.Y) * 180 / math.Pi)
	}
	return s, true
}

// repeats reports whether a box's lines look alike at home and at a place, by their own.
func (l lone) repeats(box int, to, home place) bool {
	most := alike
	if insideOwn(to.pairs, to.at, box, l.n) < leastInside {
		most = alikeBeyond
	}
	return repeated(l.wanted[box], l.all, to.at.x-home.at.x, to.at.y-home.at.y, l.n) >= most
}

// places returns where a box may lie: where most of its wanted lines and of what is drawn in it
// fall on one another.
func (l lone) places(box int) (all []place) {
	if len(l.own[box]) < 4 {
		return nil
	}
	half := l.side / 2
	back, both := l.one(thinned(l.own[box], mostPoints), l.back, half), make([]float64, l.side*l.side)
	for i := range both { // what is drawn goes back by what is wanted goes forth
		both[i] = l.score[box][i] + back[len(back)-1-i]
	}
	for _, from := range l.peaks(both, elsewhere*l.n.cell) {
		all = append(all, l.settle(box, from))
	}
	return all
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

// explained returns the share of a box's wanted marks whose lines lie where they are
// taken to be.
func explained(pairs []pair, points int) float64 {
	sum := 0.0
	for _, p := range pairs {
		sum += p.w
	}
	return sum / float64(max(1, points))
}

// peaks returns the shifts with the best scores, pixels, each so far from the others.
func (v volume) peaks(score []float64, away float64) (at []plane.Point) {
	half := v.side / 2
	for range placesTried {
		best, top := 0.0, plane.Point{}
		for l, s := range score {
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
