package accuracy

import (
	"math"
	"slices"

	"zestysketch/internal/core/lines"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/core/strokes"
)

// partSearch is what parts are looked for by.
type partSearch struct {
	Boxes
	wanted   []lines.Mark
	groups   []group
	rulings  []ruling
	known    []bool  // whose ruling still holds
	slid     int     // boxes that are off
	strength float64 // the usual one of wanted marks
	free     *lines.Index
	settled  map[lines.Mark]bool // wanted marks of parts that are told
}

// newPartSearch links the picture's lines to groups, and finds which drawn marks nothing explains.
func (d Boxes) newPartSearch() *partSearch {
	s := &partSearch{Boxes: d, settled: map[lines.Mark]bool{}}
	for i, marks := range d.wanted {
		if !d.Cells[i].Burnt && !d.swapped[i] {
			s.wanted = append(s.wanted, marks...)
		}
	}
	for _, c := range d.Cells {
		if c.Wrong {
			s.slid++
		}
	}
	var weights []float64
	for _, m := range s.wanted {
		weights = append(weights, float64(m.Weight))
	}
	s.strength = median(weights)
	all := strokes.Link(s.wanted, d.net.w, d.net.h)
	own, free := s.explained(all)
	s.free = lines.NewIndex(free, d.net.w, d.net.h, 8)
	var gone []strokes.Stroke
	least := leastRun * d.net.cell
	for _, one := range all {
		for _, run := range one.Runs(func(m lines.Mark) bool { return !s.there(m) }, 4) {
			if float64(len(run.Marks)) >= least && len(run.Marks) < len(one.Marks)*9/10 {
				gone = append(gone, run)
			}
		}
	}
	s.group(all, own)
	s.group(gone, nil)
	s.rulings, s.known = make([]ruling, len(s.groups)), make([]bool, len(s.groups))
	return s
}

// A group longer than longGroup, boxes, is asked only once it has grown by so much: one stroke more or
// less makes no other part of it, and all of them together would grow with the square of the strokes.
const longGroup, growing = 10.0, 1.2

// group adds every group that strokes make, and the drawn marks they explain.
func (s *partSearch) group(of []strokes.Stroke, own [][]lines.Mark) {
	total := float64(len(s.wanted)) / s.net.cell
	last := map[int]float64{} // by a group's first stroke, how long it was when it was added
	for _, numbers := range strokes.Groups(of, partsApart*s.net.cell) {
		length := 0.0
		for _, i := range numbers {
			length += float64(len(of[i].Marks)) / s.net.cell
		}
		first := numbers[0]
		if length < leastRun || length > mostPart*total || length > longGroup && length < growing*last[first] {
			continue
		}
		last[first] = length
		var some []strokes.Stroke
		var mine []lines.Mark
		for _, i := range numbers {
			if some = append(some, of[i]); own != nil {
				mine = append(mine, own[i]...)
			}
		}
		g := s.newGroup(some)
		if mine != nil {
			g.own = lines.NewIndex(mine, s.net.w, s.net.h, 16)
		}
		s.groups = append(s.groups, g)
	}
}

// explained gives every drawn mark to the stroke whose line lies nearest, as the boxes round it, its own
// box or its own place have it; what no stroke explains, nor a line of the picture under a ruled one, is free.
func (s *partSearch) explained(all []strokes.Stroke) (own [][]lines.Mark, free []lines.Mark) {
	of := map[lines.Mark]int{}
	for i, one := range all {
		for _, m := range one.Marks {
			of[m] = i
		}
	}
	for _, m := range s.beneath {
		of[m] = len(all)
	}
	wanted := lines.NewIndex(slices.Concat(s.wanted, s.beneath), s.net.w, s.net.h, 8)
	own = make([][]lines.Mark, len(all)+1)
	reach := float32(asDrawn * s.net.cell)
	for _, d := range s.drawn.Marks {
		best, least := -1, reach*reach
		look := func(x, y float32) {
			wanted.Around(x, y, reach, func(m lines.Mark) bool {
				if c := m.NX*d.NX + m.NY*d.NY; c < 0.75 && c > -0.75 {
					return true
				}
				if far := (m.X-x)*(m.X-x) + (m.Y-y)*(m.Y-y); far < least {
					if i, linked := of[m]; linked {
						best, least = i, far
					}
				}
				return true
			})
		}
		dx, dy := field(s.moved, s.net, float64(d.X), float64(d.Y))
		wx, wy := s.whole.at(float64(d.X)-float64(s.net.w)/2, float64(d.Y)-float64(s.net.h)/2)
		look(d.X, d.Y)
		look(d.X-float32(dx), d.Y-float32(dy))
		look(d.X-float32(wx), d.Y-float32(wy))
		if best < 0 {
			free = append(free, d)
		} else {
			own[best] = append(own[best], d)
		}
	}
	return own[:len(all)], free
}

// there reports whether a wanted mark is drawn where its box or the whole has it, or where it belongs;
// also where that cannot be told.
func (d Boxes) there(m lines.Mark) bool {
	reach := float32(asDrawn * d.net.cell)
	dx, dy := field(d.moved, d.net, float64(m.X), float64(m.Y))
	wx, wy := d.whole.at(float64(m.X)-float64(d.net.w)/2, float64(m.Y)-float64(d.net.h)/2)
	carried := m
	carried.X, carried.Y = m.X+float32(dx), m.Y+float32(dy)
	return hasNear(d.drawn, m, carried.X, carried.Y, reach) || hasNear(d.drawn, m, m.X, m.Y, reach) ||
		hasNear(d.drawn, m, m.X+float32(wx), m.Y+float32(wy), reach) || d.alongRule(carried, 3*alongRule*d.net.cell) != nil || d.onEdge(m)
}

// ruling is what became of a group, and how much likelier than that it is as it should be.
type ruling struct {
	group
	state PartState // empty for as it should be
	at    pose
	gain  float64

	doubted bool // else it may be as it should be or not
}

// Where so many boxes are off a whole region slid: what is drawn mostly where they have it went with them.
const manyBoxes, withMany = 6, 0.5

// byBoxes returns the support of a group that lies as its boxes do, each for itself, where one of them is
// off by itself: that is said of the boxes. False where none is.
func (s *partSearch) byBoxes(g group, home plane.Point, chance float64) (sum float64, off bool) {
	for i := range g.in {
		if i >= 0 && s.shifts[i].sure != None && s.Boxes.moved[i].Sub(home).Len() > leastMoved*s.net.cell {
			off = true
		}
	}
	if !off {
		return 0, false
	}
	with, reach := 0.0, float32(seenWithin*s.net.cell)
	for _, m := range g.points {
		dx, dy := field(s.Boxes.moved, s.net, float64(m.X), float64(m.Y))
		m.X, m.Y = m.X+float32(dx), m.Y+float32(dy)
		across, found := nearestAcross(s.drawn, m, reach)
		if sum += s.drawnOr(across, found, chance); found {
			with++
		}
	}
	if s.slid >= manyBoxes && with >= withMany*float64(len(g.points)) {
		return math.Inf(1), true
	}
	return 2 * bothWays * sum * g.length / (strokeCell * float64(len(g.points))), true
}

// doubted returns the longest group that may be as it should be or not, once every part is told.
func (s *partSearch) doubted() (longest ruling, ok bool) {
	for i, r := range s.rulings {
		if s.known[i] && r.doubted && r.length >= leastPart && r.length > longest.length {
			longest, ok = r, true
		}
	}
	longest.state = PartDoubted
	return longest, ok
}

// next returns the group of which something else than that it is as it should be is likeliest.
func (s *partSearch) next() (best ruling, ok bool) {
	for i, g := range s.groups {
		if !s.known[i] {
			s.rulings[i], s.known[i] = s.rule(g), true
		}
		if r := s.rulings[i]; r.state != "" && (!ok || r.gain > best.gain) {
			best, ok = r, true
		}
	}
	return best, ok
}

// Something is said of a part only where it is so much likelier, as a logarithm, than what else it may
// be that fewer than one drawing in fifty shows as much by chance. What is unlikely beforehand must be
// likelier by that too: another place the more places there are as near, another size or turn the
// more there are of those. (An a contrario test: Desolneux, Moisan and Morel 2000, International
// Journal of Computer Vision 40(1); from memory.)
var (
	surely      = math.Log(50 * 20)
	ofWhatIs    = 0.08 // and by such a share of what speaks for its being right
	doubtful    = math.Log(3)
	twoFaults   = 2.0 // how much less likely another size is too of a part that lies a box away
	forgetful   = math.Log(10)
	placeFine   = 0.06 // boxes within which places are one
	sizeFine    = 0.06
	turnFine    = 0.07 // radians
	surelyThere = 0.75 // of a group's best support: nothing else is tried
	wellThere   = 0.6  // of a group's best support: below that other sizes and turns are tried
	mostlyGone  = 0.6
	hardlyGone  = 0.15 // share of a group's marks that are not there up to which nearly all of it is
	quiteOther  = 1.6  // times as large or small
	partlyThere = 0.35 // share of a group's marks that are not there from which on it is looked for elsewhere
)

// unlikely returns how much the logarithm of a place's likeliness is less than that of the place where a
// group belongs, boxes off.
func (t pose) unlikely(off float64) float64 {
	other := math.Log1p(math.Abs(math.Log(t.size))/sizeFine) + math.Log1p(math.Abs(t.turn)/turnFine)
	return math.Log1p(math.Pi*sq(off/placeFine)) + other*(1+twoFaults*off)
}

// off returns how far from where it belongs a group lies, boxes: of a straight line across it.
func (s *partSearch) off(g group, t pose, home plane.Point) float64 {
	d := t.move.Sub(home)
	if g.straight {
		return math.Abs(d.X*g.across.X+d.Y*g.across.Y) / s.net.cell
	}
	return d.Len() / s.net.cell
}

// asItShould reports whether a group that lies so is in its place, as large as it should be and upright.
func (s *partSearch) asItShould(g group, t pose, off float64) bool {
	return off < leastMoved && s.asLarge(g, t)
}

// asLarge reports whether a group that lies so is as large as it should be and upright: what is more has to be twice as sure.
func (s *partSearch) asLarge(g group, t pose) bool {
	return !g.sizeSeen(t.size/(1+s.whole.grow), s.net.cell) && !g.turnSeen(t.turn-s.whole.turn, s.net.cell)
}

// farFetched reports whether a group that lies so has quite another size, or another and is turned too: of what has
// nearly all its lines in place that is chance.
func (s *partSearch) farFetched(g group, t pose) bool {
	size := t.size / (1 + s.whole.grow)
	return math.Abs(math.Log(size)) > math.Log(quiteOther) || g.sizeSeen(size, s.net.cell) && g.turnSeen(t.turn-s.whole.turn, s.net.cell)
}

// sizeSeen reports whether an eye sees that a group has another size than it should.
func (g group) sizeSeen(size, cell float64) bool {
	by := math.Abs(size - 1)
	return by >= leastSized || by >= leastSized/2 && by*g.edge(cell) >= edgeSeen
}

// turnSeen reports whether an eye sees that a group is turned, radians.
func (g group) turnSeen(turn, cell float64) bool {
	by := math.Abs(turn)
	return by >= leastTurn || by >= leastTurn/2 && by*g.edge(cell) >= edgeSeen
}

// edge returns how far a group's edge is from its middle, boxes: that of a square, whose radius it has.
func (g group) edge(cell float64) float64 { return math.Sqrt2 * g.radius / cell }

// hypotheses are what may have become of a group: how likely each of it is, as a logarithm.
type hypotheses struct {
	s           *partSearch
	g           group
	chance      float64
	home, boxes plane.Point // where the boxes round it have it, and its own boxes
	gone        float64     // share of its marks that are not there

	right, other float64 // that it is as it should be, and that it lies otherwise
	at           pose    // where, then
}

// try reads a group as lying so.
func (h *hypotheses) try(t pose) {
	off := h.s.off(h.g, t, h.home)
	with := h.s.off(h.g, t, h.boxes) // what went where its boxes did is told with them
	if h.s.asItShould(h.g, t, min(off, with)) {
		h.right = max(h.right, h.s.support(h.g, t, h.chance, true))
	} else if h.s.within(t, off) && !(h.gone < hardlyGone && h.s.farFetched(h.g, t)) {
		if sum := h.s.support(h.g, t, h.chance, false) - t.unlikely(off); sum > h.other {
			h.other, h.at = sum, t
		}
	}
}

// within reports whether a part is looked for so far off, boxes, in such a size and turn beside the whole.
func (s *partSearch) within(t pose, off float64) bool {
	size := math.Abs(math.Log(t.size / (1 + s.whole.grow)))
	return off <= furthestPart && size <= math.Log(mostResized) && math.Abs(t.turn-s.whole.turn) <= mostTurned
}

// fits reads a group as lying where it is fitted to from a start, moved alone and sized and turned too.
func (h *hypotheses) fits(t pose) {
	h.try(h.s.fit(h.g, t, false))
	h.try(h.s.fit(h.g, t, true))
}

// nearHome reads a group as lying near where it belongs, in other sizes and turns too, and reports whether
// it surely lies there.
func (h *hypotheses) nearHome() bool {
	most := 2 * bothWays * h.s.likelier(0, h.chance) * h.g.length / strokeCell
	for _, start := range []plane.Point{h.home, h.boxes} {
		t := pose{h.g.middle, start, 1 + h.s.whole.grow, h.s.whole.turn}
		if h.try(t); h.right > surelyThere*most {
			return true
		}
		h.fits(t)
	}
	if h.right >= wellThere*most || h.g.straight {
		return false
	}
	for _, turn := range []float64{-0.3, 0, 0.3} {
		for _, size := range []float64{0.7, 1, 1.4} {
			if size != 1 || turn != 0 {
				h.try(h.s.fit(h.g, pose{h.g.middle, h.home, size, turn}, true))
			}
		}
	}
	return false
}

// elsewhere reads a group as lying where most of what nothing explains is like it.
func (h *hypotheses) elsewhere() {
	for _, size := range []float64{1, 0.65, 0.8, 1.25, 1.5} {
		if size != 1 && h.g.straight {
			return
		}
		h.fits(pose{h.g.middle, h.s.vote(h.g, size), size, 0})
	}
}

// ruling says what is likeliest, if it is so surely.
func (h *hypotheses) ruling() ruling {
	out, absent := ruling{group: h.g}, -forgetful
	surely := surely + ofWhatIs*max(0, h.right)
	if h.right >= max(h.other, absent) || h.right < max(h.other, absent)-surely && !h.s.wouldBeDrawn(h.g) {
		return out
	}
	switch {
	case h.other > max(h.right, absent)+surely && (h.other > max(h.right, absent)+2*surely || h.s.asLarge(h.g, h.at)):
		out.state, out.gain, out.at = PartMoved, h.other-max(h.right, absent), h.at
	case absent > max(h.right, h.other)+surely && h.gone >= mostlyGone:
		out.state, out.gain = PartMissing, absent-max(h.right, h.other)
	default:
		out.doubted = max(h.other, absent) > h.right+doubtful
		if h.other > absent {
			out.at = h.at
		}
	}
	return out
}

// rule says what became of a group: it is as it should be, lies otherwise, is not there, or none for sure.
func (s *partSearch) rule(g group) ruling {
	h := hypotheses{s: s, g: g, right: math.Inf(-1), other: math.Inf(-1)}
	for _, m := range g.points {
		if s.settled[m] {
			return ruling{group: g}
		}
		if !s.there(m) {
			h.gone += 1 / float64(len(g.points))
		}
	}
	h.chance, h.home = s.chance(g), s.smooth(g)
	h.boxes.X, h.boxes.Y = field(s.moved, s.net, g.middle.X, g.middle.Y)
	if sum, off := s.byBoxes(g, h.home, h.chance); off {
		h.right = sum
	}
	if h.nearHome() {
		return ruling{group: g}
	}
	if h.gone >= partlyThere {
		h.elsewhere()
	}
	return h.ruling()
}

// A hand leaves pale lines of a picture out. Of lines about as strong as a group's, by so much, at least
// so many must be drawn for it to be missed; of those of which there are few it must be no weaker than
// so, a change of tone, nor than such a share of the picture's usual one.
const likeAsStrong, drawnLike, strongAlone, strongBeside = 1.5, 0.8, 0.15, 0.35

// wouldBeDrawn reports whether the hand drew what else of the picture is about as strong as a group.
func (s *partSearch) wouldBeDrawn(g group) bool {
	weight := func(m lines.Mark) float64 { return float64(m.Weight) }
	usual := 0.0
	for _, m := range g.points {
		usual += weight(m) / float64(len(g.points))
	}
	mine := make(map[lines.Mark]bool, len(g.all))
	for _, m := range g.all {
		mine[m] = true
	}
	of, drawn := 0.0, 0.0
	for i := 0; i < len(s.wanted); i += 3 {
		if m := s.wanted[i]; !mine[m] && weight(m) > usual/likeAsStrong && weight(m) < usual*likeAsStrong {
			if of++; s.there(m) {
				drawn++
			}
		}
	}
	if 3*of < s.net.cell {
		return usual >= max(strongAlone, strongBeside*s.strength)
	}
	return drawn >= drawnLike*of
}

// take settles a part: its marks are no other's, and the drawn ones it explains are no longer free.
func (s *partSearch) take(r ruling) {
	for _, m := range r.all {
		s.settled[m] = true
	}
	near := s.reached(r)
	for i, g := range s.groups {
		if s.known[i] && near(g) {
			s.known[i] = false
		}
	}
	if r.state != PartMoved {
		return
	}
	carried := make([]lines.Mark, len(r.all))
	for i, m := range r.all {
		carried[i] = r.at.carry(m)
	}
	used := lines.NewIndex(carried, s.net.w, s.net.h, 8)
	reach := float32(asDrawn * s.net.cell)
	left := slices.DeleteFunc(slices.Clone(s.free.Marks), func(m lines.Mark) bool { return hasNear(used, m, m.X, m.Y, reach) })
	s.free = lines.NewIndex(left, s.net.w, s.net.h, 8)
}

// reached returns which groups may be ruled otherwise once a part is told.
func (s *partSearch) reached(r ruling) func(group) bool {
	return func(g group) bool {
		return g.middle.Sub(r.middle).Len() < 2*furthestPart*s.net.cell+1.5*(g.radius+r.radius)
	}
}

// inPlace returns the share of the picture's lines that is where it belongs.
func (s *partSearch) inPlace() float64 {
	n := 0.0
	for _, m := range s.wanted {
		if !s.settled[m] && s.there(m) {
			n++
		}
	}
	return n / max(1, float64(len(s.wanted)))
}
