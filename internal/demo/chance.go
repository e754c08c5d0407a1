package demo

import (
	"math/rand/v2"

	"zestysketch/internal/core/page"
)

// Chance is a hand, a camera and how far that is tilted, as one day brings them, and what
// is hard about them.
type Chance struct {
	Hand   Hand
	Camera Camera
	Tilt   float64
	Hard   []string
}

// How often each hard thing comes.
const often, sometimes = 0.4, 0.2

// NewChance returns one of chance, of about three megapixels.
func NewChance(rng *rand.Rand) Chance {
	between := func(a, b float64) float64 { return a + (b-a)*rng.Float64() }
	grey := uint8(between(40, 140))
	c := Chance{
		Hand:   Hand{Size: 1, PencilWeight: between(0.5, 1.3), Unsteady: between(0.1, 0.3), Pencil: page.Color{R: grey, G: grey, B: grey + 6}},
		Camera: Camera{Width: 1500, Height: 2000, Dim: between(0, 0.5), Noise: between(1, 6), Blur: between(0, 1), Quality: 75 + rng.IntN(20)},
		Tilt:   between(0, 0.08),
	}
	// All are drawn for every one, so that a seed stays what it is where one is changed.
	lie := []Lie{{Rolled: between(5, 25), Angle: between(0, 90)}, {Lifted: between(20, 60)}, {Folded: between(5, 15), Angle: between(0, 90)}}[rng.IntN(3)]
	for _, hard := range []struct {
		name  string
		share float64
		set   func()
	}{
		{"strokes that overshoot", often, func() { c.Hand.Strokes = true }},
		{"a grid that was erased", sometimes, func() { c.Hand.Erased = true }},
		{"a paper that does not lie flat", often, func() { c.Camera.Lie = lie }},
		{"paper with tooth", often, func() { c.Camera.Worn.Tooth = between(2, 6) }},
		{"graphite that is smeared", sometimes, func() { c.Camera.Worn.Smear = between(0.1, 0.4) }},
		{"colour that bleeds", sometimes, func() { c.Camera.Worn.Bleed = between(0.2, 0.8) }},
		{"a crease", sometimes, func() { c.Camera.Worn.Fold = true }},
		{"a phone that sharpens", often, func() { c.Camera.Sharpen = between(0.3, 1.2) }},
		{"a phone that takes noise out", often, func() { c.Camera.Denoise = true }},
		{"another sheet and a hand in view", sometimes, func() { c.Camera.Company = true }},
		{"a shadow", sometimes, func() { c.Camera.Shadow = between(0.2, 0.5) }},
		{"a lens that bends", sometimes, func() { c.Camera.Bend = between(-0.04, 0.04) }},
	} {
		there := rng.Float64() < hard.share
		if there {
			hard.set()
			c.Hard = append(c.Hard, hard.name)
		}
	}
	return c
}
