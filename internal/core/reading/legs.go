package reading

import (
	"math"
	"slices"
	"strings"

	"zestysketch/internal/core/plane"
)

// A line is told in legs, as one would tell somebody on the telephone: from a place straight or in a bow to
// the next. Words are coarse. So each way of telling is drawn as a child would who takes it at its word, and
// the one with fewest legs is told that comes out near the line itself.

// leg is one part of a told line.
type leg struct {
	to  plane.Point // as it is said, in parts of the box
	bow float64     // height over chord, one of bows, more than 0 to the right of the way
}

// bows are the heights over chord that have words, from the flattest to half a disc.
var bows = [...]struct {
	height float64
	words  string
}{{0, "straight"}, {0.06, "bending a little"}, {0.14, "bending"}, {0.28, "bending strongly"}, {0.5, "bending all round like half a disc"}}

// Told lines are compared at so many parts of their way. A leg may lie so far off, in boxes, at no cost, as many
// degrees off where it begins; what it lies off more costs as much as further legs.
const (
	toldSteps   = 24
	toldOff     = 0.065
	toldDeg     = 18.0
	offCosts    = 30.0 // legs a box
	wrongCosts  = 0.03 // legs a degree
	bowSteps    = 8
	wayCell     = 0.15 // of a box, over which a line's way at its end is taken
	shortestLeg = 0.3  // boxes: of shorter ones the way at the ends is not heard
)

// bowed returns the places along an arc from a to b.
func bowed(a, b plane.Point, bow float64) []plane.Point {
	if bow == 0 {
		return []plane.Point{a, b}
	}
	chord := b.Sub(a)
	right := plane.Pt(-chord.Y, chord.X)
	// Of a circle through both ends at height h over half the chord s: its radius is (s² + h²) ÷ 2h.
	h := math.Abs(bow)
	radius := (0.25 + h*h) / (2 * h)
	half := math.Asin(min(1, 0.5/radius))
	if h > 0.5 {
		half = math.Pi - half
	}
	out := make([]plane.Point, 0, bowSteps+1)
	for i := range bowSteps + 1 {
		sin, cos := math.Sincos(half * (2*float64(i)/bowSteps - 1))
		along, over := 0.5+radius*sin, radius*cos-(radius-h)
		out = append(out, a.Add(chord.Mul(along)).Add(right.Mul(math.Copysign(over, bow))))
	}
	return out
}

// fit returns the bow that is nearest to a line between two told places, and what telling it so costs.
func fit(line []plane.Point, a, b plane.Point) (bow, costs float64) {
	chord := b.Sub(a)
	long := chord.Len()
	if long < 1e-9 {
		return 0, 1 + offCosts*furthest(line, []plane.Point{a, a})
	}
	high := 0.0 // of what stands furthest from the chord
	for _, p := range line {
		if off := (chord.X*(p.Y-a.Y) - chord.Y*(p.X-a.X)) / (long * long); math.Abs(off) > math.Abs(high) {
			high = off
		}
	}
	near := 0.0
	for _, w := range bows {
		if math.Abs(w.height-math.Abs(high)) < math.Abs(near-math.Abs(high)) {
			near = w.height
		}
	}
	bow = math.Copysign(near, high)
	told := bowed(a, b, bow)
	costs = 1 + offCosts*max(0, furthest(line, told)-toldOff)
	if length(line) > shortestLeg {
		costs += wrongCosts * (max(0, apartDeg(line, told)-toldDeg) + max(0, apartDeg(back(line), back(told))-toldDeg))
	}
	return bow, costs
}

// furthest returns how far the furthest of a line's places lies from another line.
func furthest(line, other []plane.Point) (far float64) {
	for _, p := range line {
		least := math.Inf(1)
		for i := 1; i < len(other); i++ {
			least = min(least, p.FromSegment(other[i-1], other[i]))
		}
		far = max(far, least)
	}
	return far
}

// apartDeg returns by how many degrees two lines begin differently.
func apartDeg(a, b []plane.Point) float64 {
	p, q := beginning(a), beginning(b)
	return math.Abs(math.Atan2(p.X*q.Y-p.Y*q.X, p.X*q.X+p.Y*q.Y)) * 180 / math.Pi
}

func beginning(line []plane.Point) plane.Point {
	for _, p := range line {
		if d := p.Sub(line[0]); d.Len() >= wayCell {
			return d
		}
	}
	return line[len(line)-1].Sub(line[0])
}

func back(line []plane.Point) []plane.Point {
	out := slices.Clone(line)
	slices.Reverse(out)
	return out
}

// told returns the legs in which a line is told from one said place to another: the cheapest of all ways to
// divide it.
func (f Finest) told(line []plane.Point, from, to plane.Point) []leg {
	if bow, costs := fit(line, from, to); costs <= 1 && from.Sub(to).Len() > wayCell {
		return []leg{{to, bow}}
	}
	at := spaced(line, toldSteps)
	said := make([]plane.Point, len(at))
	for i, p := range at {
		said[i] = plane.Pt(f.heard(p.X), f.heard(p.Y))
	}
	said[0], said[toldSteps] = from, to
	type way struct {
		costs, bow float64
		before     int
	}
	best := make([]way, len(at))
	for j := 1; j < len(at); j++ {
		best[j].costs = math.Inf(1)
		for i := range j {
			if best[i].costs+1 >= best[j].costs || said[i] == said[j] && (i > 0 || j < toldSteps) {
				continue // a leg costs 1 at least
			}
			bow, costs := fit(at[i:j+1], said[i], said[j])
			if costs += best[i].costs; costs < best[j].costs {
				best[j] = way{costs, bow, i}
			}
		}
	}
	var legs []leg
	for j := toldSteps; j > 0; j = best[j].before {
		legs = append([]leg{{said[j], best[j].bow}}, legs...)
	}
	return legs
}

// words says how one goes from a place by legs; the last ends where the line does, which is known.
func (f Finest) legWords(from plane.Point, legs []leg, end string) string {
	var parts []string
	for i, l := range legs {
		say := bowWords(from, l)
		if i < len(legs)-1 {
			say += " to " + f.place(l.to.X, l.to.Y)
		} else if len(legs) > 1 {
			say += " to " + end
		}
		parts = append(parts, say)
		from = l.to
	}
	return strings.Join(parts, "; then ")
}

func bowWords(from plane.Point, l leg) string {
	for _, w := range bows {
		if w.height == math.Abs(l.bow) && w.height > 0 {
			way := l.to.Sub(from)
			right := plane.Pt(-way.Y, way.X).Mul(math.Copysign(1/way.Len(), l.bow))
			return w.words + ", bulging " + towards(right) + ","
		}
	}
	return bows[0].words
}
