package demo

import (
	"math"
	"math/rand/v2"

	"zestysketch/internal/core/page"
	"zestysketch/internal/core/plane"
)

// A hand draws a long line in strokes, lifts, overshoots and begins again beside where it
// ended, mm; pressure changes over so much, by such a share of breadth and grey levels.
const (
	shortStroke, longStroke = 25.0, 70.0
	overshoot, restart      = 2.0, 0.35
	pressureMM              = 8.0
	pressureWidth           = 0.3
	pressureGrey            = 25.0
)

// strokes returns a line as a hand draws it in strokes.
func (d Hand) strokes(run []plane.Point, ink page.Color, rng *rand.Rand) (marks []page.Item) {
	for len(run) > 1 {
		long := shortStroke + rng.Float64()*(longStroke-shortStroke)
		n, gone := 1, 0.0
		for n < len(run) && gone < long {
			gone += run[n].Sub(run[n-1]).Len()
			n++
		}
		stroke := append([]plane.Point{}, run[:n]...)
		aside := pt(rng.NormFloat64()*restart, rng.NormFloat64()*restart)
		for i := range stroke {
			stroke[i] = stroke[i].Add(aside)
		}
		if last := stroke[n-1].Sub(stroke[n-2]); last.Len() > 0 {
			stroke = append(stroke, stroke[n-1].Add(last.Mul(rng.Float64()*overshoot/last.Len())))
		}
		marks = append(marks, d.pressed(stroke, ink, rng)...)
		run = run[n-1:]
	}
	return marks
}

// pressed parts a stroke into pieces of one pressure each.
func (d Hand) pressed(stroke []plane.Point, ink page.Color, rng *rand.Rand) (marks []page.Item) {
	press := rng.NormFloat64()
	for len(stroke) > 1 {
		n, gone := 1, 0.0
		for n < len(stroke) && gone < pressureMM {
			gone += stroke[n].Sub(stroke[n-1]).Len()
			n++
		}
		press = 0.6*press + 0.8*rng.NormFloat64()
		hard := max(-1, min(1, press/2))
		colour := ink
		for _, c := range []*uint8{&colour.R, &colour.G, &colour.B} {
			*c = uint8(max(0, min(255, math.Round(float64(*c)-pressureGrey*hard))))
		}
		marks = append(marks, page.Path{Points: stroke[:n], Width: d.PencilWeight * (1 + pressureWidth*hard), Stroke: colour})
		stroke = stroke[n-1:]
	}
	return marks
}
