package reading

import (
	"cmp"
	"math"
	"slices"

	"zestysketch/internal/core/measure"
)

// Finest is the finest fraction of a side that is used in words.
type Finest string

// The fractions, each with those before it.
const (
	Halves   Finest = "halves"
	Quarters Finest = "quarters"
	Thirds   Finest = "thirds"
	Tenths   Finest = "tenths"
)

// Fractions lists them from the plainest on.
var Fractions = []Finest{Halves, Quarters, Thirds, Tenths}

// named are the parts of a side that each adds to those before it.
var named = map[Finest][]float64{Halves: {0.5}, Quarters: {0.25, 0.75}, Thirds: {1.0 / 3, 2.0 / 3}, Tenths: {0.1, 0.2, 0.4, 0.6, 0.8, 0.9}}

// fractions returns the named ones in order, with both ends of the side.
func (f Finest) fractions() []measure.Share {
	all := []measure.Share{{Of: 0, Name: "the start"}, {Of: 1, Name: "the end"}}
	for _, g := range Fractions[:slices.Index(Fractions, f)+1] {
		for _, at := range named[g] {
			all = append(all, measure.ShareNear(at))
		}
	}
	slices.SortFunc(all, func(a, b measure.Share) int { return cmp.Compare(a.Of, b.Of) })
	return all
}

// A place is called by a fraction as near as that, and a little more or less than one when it is no further; else
// it lies between two. What is nearer than littleWay to an end, and to no fraction, is a little way from it.
const sameFraction, littleOff, littleWay = 0.025, 0.07, 0.095

// said returns how far along a side a place is said to be, 0 to 1: "a third", "a little more than a half", "between
// a quarter and a half"; at an end "". Who hears it puts it at heard.
func (f Finest) said(at float64) (words string, heard float64) {
	all := f.fractions()
	k := 0
	for i, g := range all {
		if math.Abs(g.Of-at) < math.Abs(all[k].Of-at) {
			k = i
		}
	}
	g, last := all[k], len(all)-1
	off := at - g.Of
	if end := k == 0 || k == last; end {
		switch {
		case math.Abs(off) <= sameFraction:
			return "", g.Of
		case at < littleWay:
			return "a little way", (sameFraction + littleWay) / 2
		case at > 1-littleWay:
			return "almost all the way", 1 - (sameFraction+littleWay)/2
		}
	} else if words, heard := near(g, off); words != "" {
		return words, heard
	}
	if off < 0 {
		k--
	}
	return between(all, k)
}

// near says that a place lies so far from a fraction; nothing where it is too far to be called by it.
func near(g measure.Share, off float64) (words string, heard float64) {
	const little = (sameFraction + littleOff) / 2
	switch {
	case math.Abs(off) <= sameFraction:
		return g.Name, g.Of
	case math.Abs(off) > littleOff:
		return "", 0
	case off > 0:
		return "a little more than " + g.Name, g.Of + little
	}
	return "not quite " + g.Name, g.Of - little
}

// between says that a place lies between two fractions, of which k is the lesser.
func between(all []measure.Share, k int) (words string, heard float64) {
	last := len(all) - 1
	switch k = max(0, min(k, last-1)); k {
	case 0:
		return "less than " + all[1].Name, (littleWay + all[1].Of - littleOff) / 2
	case last - 1:
		return "more than " + all[k].Name, (all[k].Of + littleOff + 1 - littleWay) / 2
	}
	return "between " + all[k].Name + " and " + all[k+1].Name, (all[k].Of + all[k+1].Of) / 2
}

// Say returns how far along a side a place is said to be.
func (f Finest) Say(at float64) string {
	words, _ := f.said(at)
	return words
}

// heard returns where somebody puts a place who hears what is said of it.
func (f Finest) heard(at float64) float64 {
	_, heard := f.said(at)
	return heard
}

// Mark returns a place on a side as the nearest of halves, thirds and quarters is written, with + where it is a little
// more and − where it is a little less: "1/3+".
func Mark(at float64) string {
	best, mark := 0.0, "0"
	for _, f := range []struct {
		of   float64
		mark string
	}{{1.0 / 4, "1/4"}, {1.0 / 3, "1/3"}, {1.0 / 2, "1/2"}, {2.0 / 3, "2/3"}, {3.0 / 4, "3/4"}, {1, "1"}} {
		if math.Abs(f.of-at) < math.Abs(best-at) {
			best, mark = f.of, f.mark
		}
	}
	switch off := at - best; {
	case off > sameFraction:
		return mark + "+"
	case off < -sameFraction:
		return mark + "−"
	}
	return mark
}

// corners are the ends of a side, from the left or the top.
var corners = map[Side][2]string{
	Top: {"upper left", "upper right"}, Bottom: {"lower left", "lower right"},
	Left: {"upper left", "lower left"}, Right: {"upper right", "lower right"},
}

// sides are how one speaks of them.
var sides = map[Side]string{Top: "along the top", Bottom: "along the bottom", Left: "down the left side", Right: "down the right side"}

// side returns a place on a side in words.
func (f Finest) side(s Side, at float64) string {
	say := f.Say(at)
	switch say {
	case "":
		return "just at the " + corners[s][int(math.Round(at))] + " corner"
	case "a half":
		return "half-way " + sides[s]
	}
	return say + " " + sides[s]
}

// place returns a place in a box in words: how far across and how far down.
func (f Finest) place(x, y float64) string {
	say := func(v float64, start, end, way string) string {
		switch s := f.Say(v); {
		case s == "" && v < 0.5:
			return start
		case s == "":
			return end
		case s == "a half":
			return "half-way " + way
		default:
			return s + " " + way
		}
	}
	return say(x, "at the left", "at the right", "across") + ", " + say(y, "at the top", "at the bottom", "down")
}
