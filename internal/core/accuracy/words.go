package accuracy

import (
	"cmp"
	"fmt"
	"math"
	"slices"
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

// unnoticed is the part of a box below which a direction is not mentioned.
const unnoticed = 0.05

// Boxes returns a distance in boxes as people say it: "a quarter of a box".
func Boxes(v float64) string {
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
			words = append(words, Boxes(p.v)+" "+p.minus)
		default:
			words = append(words, Boxes(p.v)+" "+p.plus)
		}
	}
	return strings.Join(words, " and ")
}

// say puts the report in sentences: what is well placed first, then what to
// mend, the weightiest first, then the whole.
func say(r Report) []string {
	var well []string
	var off []Offset
	for _, o := range r.Landmarks {
		if o.Within {
			well = append(well, o.Name)
		} else {
			off = append(off, o)
		}
	}
	slices.SortStableFunc(off, func(a, b Offset) int {
		return cmp.Compare(b.Size()*b.Weight, a.Size()*a.Weight)
	})
	var lines []string
	if len(well) > 0 {
		lines = append(lines, "Well placed: "+strings.Join(well, ", ")+".")
	}
	for _, o := range off {
		lines = append(lines, fmt.Sprintf("%s, box %s: %s.", o.Name, o.Cell, cmp.Or(Direction(o.Off[0], o.Off[1]), "just outside the limit")))
	}
	return append(lines, SayFit(r.Fit, len(r.Landmarks)))
}

// SayFit puts the best-fitting move, turn and size in one sentence. n is the
// number of landmarks, for two fit any similarity and leave no remainder.
func SayFit(f Fit, n int) string {
	var parts []string
	if d := Direction(f.DX, f.DY); d != "" {
		parts = append(parts, "sits "+d)
	}
	if math.Abs(f.Scale) >= 0.5 {
		word := "large"
		if f.Scale < 0 {
			word = "small"
		}
		parts = append(parts, fmt.Sprintf("is %.1f %% too %s", math.Abs(f.Scale), word))
	}
	if math.Abs(f.Rotation) >= 0.3 {
		word := "clockwise"
		if f.Rotation < 0 {
			word = "anticlockwise"
		}
		parts = append(parts, fmt.Sprintf("is turned %.1f° %s", math.Abs(f.Rotation), word))
	}
	whole := "The drawing as a whole is the right size, straight and in its place."
	if len(parts) > 0 {
		whole = "The drawing as a whole " + strings.Join(parts, ", ") + "."
	}
	if n == 2 {
		return whole + " Add a third landmark to see what else is off."
	}
	return whole + fmt.Sprintf(" Apart from that, points are off by %.2f of a box.", f.RMS)
}
