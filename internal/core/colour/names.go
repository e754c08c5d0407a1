package colour

import (
	"cmp"
	"fmt"
	"math"
	"slices"
)

// tone is a stretch of hues with a plain name and the paints it begins from.
type tone struct {
	until float64 // degrees of hue
	name  string
	mix   string
	off   string // the paint that dulls it: its opposite
}

// The hues in plain words, and their mixing starts from the red, yellow and
// blue of a school's paint box (common practice; the angles are ours).
var tones = []tone{
	{18, "pink-red", "red with a very little blue", "green"},
	{50, "red", "red", "green"},
	{75, "orange", "yellow with some red", "blue"},
	{88, "orange-yellow", "yellow with a little red", "blue"},
	{108, "yellow", "yellow", "violet"},
	{125, "yellow-green", "yellow with a little blue", "violet"},
	{165, "green", "yellow and blue, alike", "red"},
	{215, "blue-green", "blue with some yellow", "orange"},
	{303, "blue", "blue", "orange"},
	{328, "violet", "blue with some red", "yellow"},
	{350, "purple", "red and blue, alike", "yellow"},
	{361, "pink-red", "red with a very little blue", "green"},
}

func toneOf(c Lab) tone {
	for _, t := range tones {
		if c.Hue() < t.until {
			return t
		}
	}
	return tones[len(tones)-1]
}

// Below greyChroma a colour is a grey, below warmGrey a warm hue is a grey with a
// leaning, below dullChroma it is dull (ours).
const greyChroma, warmGrey, dullChroma = 7.0, 12.0, 22.0

// Name returns a colour in plain words, such as "dark blue-green".
func (c Lab) Name() string {
	if c.Chroma() < greyChroma {
		return greyName(c.L)
	}
	t := toneOf(c)
	warm := t.name == "orange" || t.name == "red" || t.name == "orange-yellow"
	name := ""
	switch {
	case warm || t.name == "yellow":
		name = c.earth(t.name)
	case t.name == "pink-red" && c.L > 65:
		name = "pink"
	}
	return cmp.Or(name, shadeName(c)+t.name)
}

// earth returns the name of its own that a red, orange or yellow has where it is pale, dull or
// dark; empty for none.
func (c Lab) earth(hue string) string {
	switch yellow := hue == "yellow"; {
	case c.Chroma() < warmGrey && c.L < 80:
		return "warm grey"
	case c.Chroma() < dullChroma && c.L > 82:
		return "cream"
	case !yellow && c.L < 30:
		return "dark brown"
	case !yellow && c.L < 58 && c.Chroma() < 45 && hue != "red":
		return "brown"
	case hue == "red" && c.L > 65:
		return "pink"
	case yellow && c.L < 55:
		return "olive"
	}
	return ""
}

func shadeName(c Lab) string {
	switch {
	case c.L < 32:
		return "dark "
	case c.L > 70 && c.Chroma() < 45:
		return "pale "
	case c.Chroma() < dullChroma:
		return "dull "
	}
	return ""
}

func greyName(l float64) string {
	switch {
	case l < 18:
		return "black"
	case l < 42:
		return "dark grey"
	case l < 68:
		return "grey"
	case l < 90:
		return "light grey"
	}
	return "white"
}

// ways are the ways in which colours of one plain name differ to the eye, with what a mixture then has more of.
var ways = []struct {
	of         func(Lab) float64
	more, less string
}{
	{func(c Lab) float64 { return c.L }, "lighter", "darker"},
	{Lab.Chroma, "brighter", "duller"},
	{func(c Lab) float64 { return math.Mod(c.Hue()+90, 360) * math.Pi / 180 * c.Chroma() }, "yellower", "bluer"},
}

// mixing says what tells a mixture from the one of the other colour of its name.
var mixing = map[string]string{"lighter": "with more white or water than the other", "darker": "with less white or water than the other",
	"brighter": "clean, without the dulling touch", "duller": "with more of the dulling touch than the other",
	"yellower": "with a little more yellow than the other", "bluer": "with a little less yellow than the other"}

// nameApart names the main colours of a picture; those of one plain name are told apart by the way in which they
// differ most.
func nameApart(mains []Main) {
	same := map[string][]int{}
	for i, m := range mains {
		mains[i].Name = m.Colour.Name()
		same[mains[i].Name] = append(same[mains[i].Name], i)
	}
	for _, all := range same {
		if len(all) < 2 {
			continue
		}
		way, most := ways[0], 0.0
		for _, w := range ways {
			low, high := math.Inf(1), math.Inf(-1)
			for _, i := range all {
				low, high = min(low, w.of(mains[i].Colour)), max(high, w.of(mains[i].Colour))
			}
			if high-low > most {
				most, way = high-low, w
			}
		}
		slices.SortStableFunc(all, func(i, j int) int { return cmp.Compare(way.of(mains[i].Colour), way.of(mains[j].Colour)) })
		for k, word := range map[int]string{0: way.less, len(all) - 1: way.more} {
			mains[all[k]].more, mains[all[k]].Name = word, word+" "+mains[all[k]].Name
		}
		for k := 1; k < len(all)-1 && len(all) > 3; k++ { // of four or more those between are counted
			mains[all[k]].Name += fmt.Sprintf(" %d", k)
		}
	}
}

// Begin returns the start of mixing a main colour as a sentence.
func (m Main) Begin(with Paint) string {
	if m.more == "" || m.Colour.bare() {
		return m.Colour.Begin(with)
	}
	return "Begin with " + m.Colour.Mix(with) + ", " + mixing[m.more] + "."
}

// Paint is what a colour is mixed with.
type Paint string

// The paints. Watercolour is made lighter with water, for white would make it dull (common
// practice).
const (
	Opaque      Paint = ""
	Watercolour Paint = "water"
)

// Paints lists them.
var Paints = []Paint{Opaque, Watercolour}

// Begin returns the start of mixing a colour as a sentence.
func (c Lab) Begin(with Paint) string {
	if c.bare() {
		return "Leave the paper white."
	}
	return "Begin with " + c.Mix(with) + "."
}

// bare reports whether a colour is the paper's own.
func (c Lab) bare() bool { return c.Chroma() < greyChroma && c.L > 92 }

// Mix returns what to begin a colour from, with the paints of a school's box:
// red, yellow, blue, white and black, or with water in white's place. It is a start: try it
// on a scrap.
func (c Lab) Mix(with Paint) string {
	thin := with == Watercolour
	say := func(opaque, water string) string {
		if thin {
			return water
		}
		return opaque
	}
	if c.Chroma() < greyChroma {
		switch {
		case c.bare():
			return "nothing: the paper is white"
		case c.L < 18:
			return "black, or blue with brown"
		case c.L < 55:
			return say("black with some white", "black, thinned with water")
		}
		return say("white with a touch of black", "much water, with a touch of black")
	}
	t := toneOf(c)
	words := t.mix
	switch {
	case c.L > 80:
		words = say("much white; then ", "much water; then ") + words
	case c.L > 62 && t.name != "yellow" && t.name != "orange-yellow":
		words += say(", and white", ", thinned with water")
	case c.L < 32:
		words += ", and a touch of black"
	}
	if c.Chroma() < 35 {
		words += "; dull it with a touch of " + t.off
	}
	return words
}
