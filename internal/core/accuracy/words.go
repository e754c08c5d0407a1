package accuracy

import (
	"fmt"
	"math"
	"strings"

	"zestysketch/internal/core/measure"
)

// boxFractions are the parts of a box that people say, in rising order.
var boxFractions = []measure.Share{
	ofABox(0.1), ofABox(0.25), ofABox(1.0 / 3), {Of: 0.5, Name: "half a box"}, ofABox(2.0 / 3), ofABox(0.75), {Of: 1, Name: "one box"},
	{Of: 1.25, Name: "one and a quarter boxes"}, {Of: 1.5, Name: "one and a half boxes"}, {Of: 2, Name: "two boxes"},
}

func ofABox(part float64) measure.Share {
	return measure.Share{Of: part, Name: measure.ShareNear(part).Name + " of a box"}
}

// AtLeast returns in words by how much something is off at least: the next smaller part of
// a box that people say, "a tenth of a box" where there is none.
func AtLeast(v float64) string {
	const measured = 0.02 // so little less is the same
	for i := len(boxFractions) - 1; i > 0; i-- {
		if boxFractions[i].Of <= v+measured {
			return boxFractions[i].Name
		}
	}
	return boxFractions[0].Name
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
		if math.Abs(f.Of-v) < math.Abs(best.Of-v) {
			best = f
		}
	}
	return best.Name
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

// ShareInWords returns a share as people say it: "two thirds". The nearest by ratio
// counts; 0 and less is "a tenth", and what is larger "more than the whole".
func ShareInWords(v float64) string {
	if v > 1.08 {
		return "more than the whole"
	}
	if p := measure.ShareNear(v); p.Of != 0.5 {
		return p.Name
	}
	return "half"
}
