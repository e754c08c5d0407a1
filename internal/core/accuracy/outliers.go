package accuracy

import (
	"math"
	"slices"
	"sync"

	"zestysketch/internal/core/lines"
	"zestysketch/internal/core/plane"
)

// What a box that slipped by itself looks like. It is far from home, which is where its
// neighbours have it, and not at the end of what is searched. Of the lines that tell home from
// the other place, wanted ones and those drawn in it, most speak for the other, so many times
// as many and so many boxes of line more, also of the wanted ones alone: what both places
// explain, such as long lines along the way, says nothing. There not less than a share of
// either is explained: of a picture's lines a drawing may have the stronger alone. Fewer lines
// will do where they are found in places that no other box's lines explain, where they do not
// repeat, or where the place stands out among all; the last two only where home does not explain
// what is drawn, for that may be the next box's. Other places worth as much lie along one
// direction: the slip is known across it, where it is so long.
const (
	unexplained      = 0.75
	slipCell         = 0.2
	expectedWide     = 0.12
	fromExpected     = 0.18
	furthestKnown    = 0.55
	leastWanted      = 0.25 // boxes of line
	leastOwn         = 0.4
	timesMore        = 2
	moreLine         = 0.4
	moreWanted       = 0.35
	timesMoreOwn     = 3
	moreOwn          = 0.6
	leastWantedFound = 0.25
	leastDrawnFound  = 0.35
	mostDrawnFound   = 0.85 // at home, by a box whose own lines are drawn elsewhere
	asSupported      = 0.1
	apartCell        = 0.1
	alongLine        = 0.06
	mostAcross       = 0.3   // of a rival's way, along which nothing is known
	drawnCell        = 0.035 // how near a drawn mark's wanted line is then, boxes
	placesTried      = 6
	fixedReach       = 0.07 // of what is found at home as it is
	foundAsExpected  = 0.9  // of what is wanted of a box and of what is drawn in it: it did not slip
	leastKnown       = 0.4  // of the boxes with lines; of another picture only some do, by chance
)

// outlierTest looks at boxes once more, each for it alone: its neighbours may have outvoted it, and
// its lines may lie as well elsewhere.
type outlierTest struct {
	volume
	n           net
	wanted, own [][]lines.Mark  // what is wanted of each box, and what is drawn in it
	all, drawn  *lines.Index    // of all boxes
	back        func() channels // of what is wanted, made when the first box asks
	at          []model         // where the neighbours have each box
	trusted     bool            // enough boxes know where they are to say that another slipped
}

func newOutlierTest(v volume, wanted [][]lines.Mark, drawn *lines.Index, n net, at []model, judged []boxShift) outlierTest {
	every := slices.Concat(wanted...)
	l := outlierTest{volume: v, n: n, wanted: wanted, own: make([][]lines.Mark, n.count()),
		all: lines.NewIndex(every, n.w, n.h, 8), drawn: drawn,
		back: sync.OnceValue(func() channels { return newChannels(every, n) }), at: at}
	know, of := 0.0, 0.0
	for i, s := range judged {
		if float64(len(wanted[i])) > leastForBoth*n.cell {
			if of++; s.sure != None {
				know++
			}
		}
	}
	l.trusted = know >= leastKnown*of
	for _, m := range drawn.Marks {
		if i := n.at(float64(m.X), float64(m.Y)); i >= 0 {
			l.own[i] = append(l.own[i], m)
		}
	}
	return l
}

// against returns how much is explained at best where a box may lie elsewhere, and whether it
// is worth clearly less everywhere there.
func (l outlierTest) against(here candidate, alternatives []candidate) (best float64, clear bool) {
	clear = true
	for _, p := range alternatives {
		if l.off(p.at, here.at) >= elsewhere {
			best = max(best, average(p.wantedFound))
			clear = clear && here.support() >= p.support()+clearly
		}
	}
	return best, clear
}

// reassess returns what a box tells by itself, and the lines it tells it by.
func (l outlierTest) reassess(box int, had boxShift, pairs []pair) (boxShift, []pair) {
	points, unknown := l.wanted[box], boxShift{sure: None, matched: had.matched}
	if had.shift.Len() > slipCell*l.n.cell && insideOwn(pairs, l.at[box], box, l.n) < leastInside {
		had = unknown
	}
	known, unambiguous := explained(pairs, len(points)), l.withoutAmbiguity(box, had, l.n)
	if l.score[box] == nil || known > unexplained && unambiguous == had && had.sure != None {
		return unambiguous, pairs
	}
	here := l.candidate(box, l.at[box], pairs)
	alternatives := l.candidates(box)
	if s, found, ok := l.slipped(box, here, alternatives); ok {
		return s, found.pairs
	}
	return l.noOutlier(box, had, unambiguous, pairs, here, alternatives)
}

// noOutlier returns what a box tells by itself that did not slip.
func (l outlierTest) noOutlier(box int, had, unambiguous boxShift, pairs []pair, here candidate, alternatives []candidate) (boxShift, []pair) {
	points, unknown, known := l.wanted[box], boxShift{sure: None, matched: had.matched}, explained(pairs, len(l.wanted[box]))
	length := float64(len(points)) / l.n.cell
	half := min(average(here.wantedFound), average(here.drawnFound)) >= halfFound
	best, clear := l.against(here, alternatives)
	holds := half && clear && had.shift.Len() < furthestKnown*l.n.cell
	switch {
	case holds:
		return had, pairs // as well by far nowhere else
	case half && unambiguous.sure == None && had.sure != None && l.off(here.at, l.expected(box)) <= expectedWide:
		if s := l.confirmed(had, here, alternatives); s.sure != None {
			return s, pairs
		}
	case length >= leastForBoth && best >= known+moreFound/2*math.Sqrt(0.5*strokeCell/length):
		return unknown, pairs
	}
	return unambiguous, pairs
}

// Of a box whose lines may lie as well elsewhere: it is known where both shares of lines are at
// least so large, and added up clearly larger than elsewhere; nothing is known where as much of
// its wanted lines is explained there, but for so much of the standard deviation of the
// difference of two shares of strokes.
const halfFound, clearly, moreFound = 0.5, 0.2, 0.6

// slipped returns how a box slipped by itself, if it did, given where it is taken to be and the
// other places it may lie at.
func (l outlierTest) slipped(box int, here candidate, alternatives []candidate) (s boxShift, to candidate, ok bool) {
	if !l.trusted || len(l.wanted[box]) < int(leastWanted*l.n.cell) {
		return s, to, false
	}
	at := l.expected(box)
	original := l.unmoved(box, at)
	for _, p := range append(alternatives, here, l.converge(box, plane.Pt(at.x, at.y))) {
		switch far := l.off(p.at, at); {
		case far <= expectedWide && p.support() > original.support():
			original = p
		case far > fromExpected && math.Hypot(p.at.x, p.at.y) < furthestKnown*l.n.cell && p.support() > to.support():
			to = p
		}
	}
	if len(to.pairs) == 0 || !l.supported(box, to, original, alternatives) {
		return s, to, false
	}
	s = judge(to.pairs, len(l.wanted[box]), to.at, l.n)
	if s, ok = l.acrossRivals(s, to, alternatives, at); !ok || max(s.shift.Len(), s.slipped) < slipCell*l.n.cell {
		return s, to, false
	}
	return s, to, true
}

// evidence is how many marks speak for a place of a box and against it, compared with
// another: wanted ones found there alone and not there alone, and drawn ones in the same way.
type evidence struct{ wantedFor, wantedAgainst, drawnFor, drawnAgainst float64 }

func (to candidate) against(original candidate) evidence {
	return evidence{more(to.wantedFound, original.wantedFound), more(original.wantedFound, to.wantedFound), more(to.drawnFound, original.drawnFound), more(original.drawnFound, to.drawnFound)}
}

// outweighs reports whether so many times as many speak for the place, and so many more, a
// share of them wanted ones.
func (e evidence) outweighs(times, by, wanted float64) bool {
	all, none := e.wantedFor+e.drawnFor, e.wantedAgainst+e.drawnAgainst
	return all >= times*none && all-none >= by && e.wantedFor-e.wantedAgainst >= wanted
}

// supported reports whether the lines that tell two places of a box apart speak for the first.
func (l outlierTest) supported(box int, to, original candidate, alternatives []candidate) bool {
	e, c := to.against(original), l.n.cell
	if average(original.wantedFound) >= foundAsExpected && average(original.drawnFound) >= foundAsExpected {
		return false // all that is wanted is there, and nothing else
	}
	if !e.outweighs(timesMore, moreLine*c, moreWanted*c) {
		return false
	}
	drawn := len(l.own[box]) >= int(leastOwn*c) && average(to.drawnFound) >= leastDrawnFound && average(original.drawnFound) < mostDrawnFound
	if drawn && l.standsOut(to, append(alternatives, original)) {
		return true
	}
	own := e // without the wanted lines that are found where another box's would be by the second place
	own.wantedFor -= l.others(box, to, original)
	return average(to.wantedFound) >= leastWantedFound && (own.outweighs(timesMoreOwn, moreOwn*c, moreWanted*c) ||
		drawn && (own.outweighs(timesMore, moreLine*c, moreWanted*c) || !l.repeats(box, to, original)))
}

// standsOut reports whether a place is worth clearly more than any that is no neighbour of it.
// Among many lines every place explains much by chance, and a true one more than all of them.
func (l outlierTest) standsOut(to candidate, others []candidate) bool {
	return !slices.ContainsFunc(others, func(p candidate) bool {
		return l.off(p.at, to.at) > slipCell && p.support() > to.support()-clearly
	})
}

// others returns how many of a box's marks that are found at one place and not at another lie
// where the other has wanted lines too: they may be the next box's.
func (l outlierTest) others(box int, to, original candidate) (sum float64) {
	dx, dy, reach := float32(to.at.x-original.at.x), float32(to.at.y-original.at.y), float32(foreignCell*l.n.cell)
	for i, m := range l.wanted[box] {
		if over := to.wantedFound[i] - original.wantedFound[i]; over > 0 && hasNear(l.all, m, m.X+dx, m.Y+dy, reach) {
			sum += over
		}
	}
	return sum
}

// rivals returns the places that are worth as much as another, which it is not itself.
func (l outlierTest) rivals(to candidate, alternatives []candidate) (all []candidate) {
	for _, p := range alternatives {
		if l.off(p.at, to.at) > apartCell && p.support() > to.support()-asSupported {
			all = append(all, p)
		}
	}
	return all
}

// along returns the direction in which all rivals of a place lie, none where there are none;
// false where they lie in several.
func (l outlierTest) along(to candidate, rivals []candidate) (far plane.Point, one bool) {
	from := func(p candidate) plane.Point { return plane.Pt(p.at.x-to.at.x, p.at.y-to.at.y) }
	for _, p := range rivals {
		if d := from(p); d.Len() > far.Len() {
			far = d
		}
	}
	if len(rivals) == 0 {
		return far, true
	}
	far = far.Mul(1 / far.Len())
	return far, !slices.ContainsFunc(rivals, func(p candidate) bool {
		d := from(p)
		return math.Abs(d.X*far.Y-d.Y*far.X) > alongLine*l.n.cell
	})
}

// acrossRivals reduces a slip to what is known of it where other places are worth as much: they
// must lie along one line through it. However far along that line, the box is off at least by
// the nearest of them.
func (l outlierTest) acrossRivals(s boxShift, to candidate, alternatives []candidate, expected model) (boxShift, bool) {
	rivals := slices.DeleteFunc(l.rivals(to, alternatives), func(p candidate) bool { return l.off(p.at, expected) <= fromExpected })
	along, one := l.along(to, rivals)
	if s.sure == None || !one {
		return s, false
	}
	if len(rivals) > 0 && s.sure == Both {
		s = s.besides(along)
	}
	if s.sure == Across {
		nearest := l.fromBoth(to, expected)
		for _, p := range rivals {
			nearest = min(nearest, l.fromBoth(p, expected))
		}
		s.slipped = nearest * l.n.cell
	}
	return s, true
}

// fromBoth returns how far a place is from home and from where the box belongs, the nearer.
func (l outlierTest) fromBoth(p candidate, expected model) float64 {
	return min(l.off(p.at, expected), l.off(p.at, model{}))
}

// confirmed returns what is known of a box that is found at home, where its lines may lie as well
// elsewhere: its shift, or what of it the places worth as much leave.
func (l outlierTest) confirmed(s boxShift, here candidate, alternatives []candidate) boxShift {
	rivals := l.rivals(here, alternatives)
	along, one := l.along(here, rivals)
	sin, cos := math.Sincos(s.across * math.Pi / 180)
	switch {
	case !one:
		return boxShift{sure: None, matched: s.matched}
	case len(rivals) == 0:
		return s
	case s.sure == Both:
		return s.besides(along)
	case math.Abs(along.X*cos+along.Y*sin) > mostAcross:
		return boxShift{sure: None, matched: s.matched}
	}
	return s
}

// withoutAmbiguity takes back what a box cannot know because its lines would lie as well
// elsewhere: rails and other lines that repeat look the same a step further.
func (v volume) withoutAmbiguity(box int, s boxShift, n net) boxShift {
	if s.sure == None || v.score[box] == nil {
		return s
	}
	if s.shift.Len() > furthestKnown*n.cell { // at the end of what is searched nothing says that it ends there
		return boxShift{sure: None, matched: s.matched}
	}
	half := v.side / 2
	at := func(x, y int) float64 {
		return v.score[box][max(0, min(v.side-1, y+half))*v.side+max(0, min(v.side-1, x+half))]
	}
	cx, cy := int(math.Round(s.shift.X/v.scale)), int(math.Round(s.shift.Y/v.scale))
	best := 0.0
	for i := range 9 {
		best = max(best, at(cx+i%3-1, cy+i/3-1))
	}
	sin, cos := math.Sincos(s.across * math.Pi / 180)
	alternatives := elsewhere * n.cell / v.scale
	across, along := false, false
	for i := range v.side * v.side {
		x, y := i%v.side-half, i/v.side-half
		dx, dy := float64(x-cx), float64(y-cy)
		if dx*dx+dy*dy >= alternatives*alternatives && at(x, y) >= asGood*best {
			far := math.Abs(dx*cos+dy*sin) > 0.7*alternatives
			across, along = across || far, along || !far
		}
	}
	return s.among(across, along)
}

// among returns what a shift still tells where as good places lie across or along it.
func (s boxShift) among(across, along bool) boxShift {
	switch {
	case across && (along || s.sure == Across):
		return boxShift{sure: None, matched: s.matched}
	case across: // known along the weaker direction only
		return s.only(s.across + 90)
	case along && s.sure == Both:
		return s.only(s.across)
	}
	return s
}

// besides reduces a shift to its part across a direction.
func (s boxShift) besides(along plane.Point) boxShift {
	return s.only(math.Atan2(along.X, -along.Y) * 180 / math.Pi)
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
