package accuracy

import (
	"fmt"
	"math"
	"strings"
)

// boxFractions are the parts of a box that people say, in rising order.
var boxFractions = []struct {
	part float64
	word string
}{
	{0.1, "a tenth of a box"}, {0.25, "a quarter of a box"}, {1.0 / 3, "a third of a box"}, {0.5, "half a box"},
	{2.0 / 3, "two thirds of a box"}, {0.75, "three quarters of a box"}, {1, "one box"}, {1.25, "one and a quarter boxes"},
	{1.5, "one and a half boxes"}, {2, "two boxes"},
}

// AtLeast returns in words by how much something is off at least: the next smaller part of
// a box that people say, "a tenth of a box" where there is none.
func AtLeast(v float64) string {
	const measured = 0.02 // so little less is the same
	for i := len(boxFractions) - 1; i > 0; i-- {
		if boxFractions[i].part <= v+measured {
			return boxFractions[i].word
		}
	}
	return boxFractions[0].word
}

// unnoticed is the part of a box below which a direction is not mentioned.
const unnoticed = 0.05

// InBoxes returns a distance in boxes as people say it: "a quarter of a box".
func InBoxes(v float64) string {
	v = math.Abs(v)
	if v >= 2.25 {
		return fmt.Sprintf("%.1f boxes", v)
	}
	best := boxFractions[0]
	for _, f := range boxFractions[1:] {
		if math.Abs(f.part-v) < math.Abs(best.part-v) {
			best = f
		}
	}
	return best.word
}

// Direction returns an offset in words, larger part first: "a quarter of a box
// too far right and a tenth of a box too low"; empty if neither can be noticed.
func Direction(dx, dy float64) string {
	parts := []struct {
		v           float64
		minus, plus string
	}{{dx, "too far left", "too far right"}, {dy, "too high", "too low"}}
	if math.Abs(dy) > math.Abs(dx) {
		parts[0], parts[1] = parts[1], parts[0]
	}
	var words []string
	for _, p := range parts {
		switch {
		case math.Abs(p.v) < unnoticed:
		case p.v < 0:
			words = append(words, InBoxes(p.v)+" "+p.minus)
		default:
			words = append(words, InBoxes(p.v)+" "+p.plus)
		}
	}
	return strings.Join(words, " and ")
}

// parts are how people say how large one thing is beside another.
var parts = []struct {
	part float64
	word string
}{
	{0.1, "a tenth"}, {0.125, "an eighth"}, {1.0 / 6, "a sixth"}, {0.2, "a fifth"}, {0.25, "a quarter"}, {1.0 / 3, "a third"},
	{0.4, "two fifths"}, {0.5, "half"}, {0.6, "three fifths"}, {2.0 / 3, "two thirds"}, {0.75, "three quarters"}, {0.8, "four fifths"},
	{0.9, "nine tenths"}, {1, "the whole"},
}

// Part returns a share as people say it: "two thirds". The nearest by ratio
// counts; 0 and less is "a tenth", and what is larger "more than the whole".
func Part(v float64) string {
	if v > 1.08 {
		return "more than the whole"
	}
	best, at := math.Inf(1), 0
	for i, p := range parts {
		if d := math.Abs(math.Log(max(v, 0.05) / p.part)); d < best {
			best, at = d, i
		}
	}
	return parts[at].word
}
