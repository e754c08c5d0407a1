// Package training measures how well an eye judges: how far along a side, at which angle,
// which of two is longer or darker. From the trials of a short exercise it tells the bias
// and the spread, each with its uncertainty.
package training

import (
	"errors"
	"fmt"
	"math"
	"strconv"
	"strings"

	"gonum.org/v1/gonum/stat/distuv"
)

// Kind is a kind of exercise.
type Kind string

// The kinds. In the first three a mark is set, and each trial says where it belongs and
// where it was put; in the others one of two is chosen, and each trial says by how much the
// left one is more, and whether it was chosen.
const (
	Along  Kind = "along"  // how far along a side a line of the picture crosses it, 0 to 1
	Halve  Kind = "halve"  // a half, a third, a quarter of a line, 0 to 1
	Angle  Kind = "angle"  // the direction of a line, degrees
	Longer Kind = "longer" // which of two lines is longer: the difference by their mean
	Darker Kind = "darker" // which of two tones is darker: the difference of lightness, 0 to 1
)

// About says what an exercise is.
type About struct {
	Kind   Kind
	Name   string
	Choice bool    // one of two is chosen; else a mark is set
	Trials int     // of one exercise
	Unit   float64 // by which figures are multiplied to be said
	In     string  // what they are then
	Reach  float64 // errors, or differences, beyond which no trial is one
}

// Kinds lists the exercises.
var Kinds = []About{
	{Along, "How far along?", false, 12, 100, "% of a side", 1},
	{Halve, "A half, a third, a quarter", false, 12, 100, "% of the line", 1},
	{Angle, "Which direction?", false, 12, 1, "°", 90},
	{Longer, "Which is longer?", true, 30, 100, "% of the length", 1},
	{Darker, "Which is darker?", true, 30, 100, "steps of lightness", 1},
}

// Named returns what a kind is; false for none of them.
func Named(k Kind) (About, bool) {
	for _, a := range Kinds {
		if a.Kind == k {
			return a, true
		}
	}
	return About{}, false
}

// Trial is one judgement. Where a mark was set: where it belongs and where it was put.
// Where one of two was chosen: by how much the left one is more, and 1 where it was chosen,
// else 0.
type Trial struct{ Shown, Given float64 }

// ErrTrials is wrapped by errors about trials that cannot be measured.
var ErrTrials = errors.New("trials")

// mostTrials bounds an exercise, and fewest what can be measured.
const mostTrials, fewest = 200, 6

// Parse reads trials as a page sends them: "0.33,0.31 0.5,0.52".
func Parse(a About, text string) ([]Trial, error) {
	fields := strings.Fields(text)
	if len(fields) < fewest || len(fields) > mostTrials {
		return nil, fmt.Errorf("%w: wanted %d to %d, got %d", ErrTrials, fewest, mostTrials, len(fields))
	}
	all := make([]Trial, len(fields))
	for i, f := range fields {
		shown, given, _ := strings.Cut(f, ",")
		x, errX := strconv.ParseFloat(shown, 64)
		y, errY := strconv.ParseFloat(given, 64)
		bad := errX != nil || errY != nil || math.IsNaN(x+y) || math.Abs(x) > 180 || math.Abs(y) > 180
		if a.Choice {
			bad = bad || math.Abs(x) > a.Reach || y != 0 && y != 1
		}
		if bad {
			return nil, fmt.Errorf("%w: wanted two numbers with a comma, got %q", ErrTrials, f)
		}
		all[i] = Trial{x, y}
	}
	return all, nil
}

// Estimate is a figure with the interval in which it lies in 95 of 100 exercises.
type Estimate struct {
	Value float64 `json:"value"`
	Low   float64 `json:"low"`
	High  float64 `json:"high"`
}

// Result is what the trials of one exercise tell, in the kind's own unit: a bias of more
// than 0 is set too far along, too steep, or the left one taken for more than it is; of
// marks on a line, Inward is by how much they stand too near its middle.
type Result struct {
	Kind   Kind      `json:"kind"`
	Trials int       `json:"trials"`
	Bias   Estimate  `json:"bias"`
	Spread Estimate  `json:"spread"` // one standard deviation
	Inward *Estimate `json:"inward,omitempty"`
}

// Measure returns what trials tell. The error wraps ErrTrials.
func Measure(a About, trials []Trial) (Result, error) {
	r := Result{Kind: a.Kind, Trials: len(trials)}
	if len(trials) < fewest {
		return r, fmt.Errorf("%w: wanted at least %d, got %d", ErrTrials, fewest, len(trials))
	}
	if a.Choice {
		r.Bias, r.Spread = chosen(trials, a.Unit)
		return r, nil
	}
	var off, inward []float64
	for _, t := range trials {
		d := t.Given - t.Shown
		if a.Kind == Angle { // a line that is turned by half a turn is the same
			d = math.Mod(d+270, 180) - 90
		}
		off = append(off, d*a.Unit)
		if side := t.Shown - 0.5; (a.Kind == Along || a.Kind == Halve) && math.Abs(side) > 0.05 {
			inward = append(inward, -d*a.Unit*sign(side))
		}
	}
	r.Bias, r.Spread = set(off)
	if len(inward) >= fewest {
		mean, _ := set(inward)
		r.Inward = &mean
	}
	return r, nil
}

func sign(v float64) float64 {
	if v < 0 {
		return -1
	}
	return 1
}

// set returns mean and standard deviation of normal errors, with their 95 % intervals:
// Student's t for the mean, chi-squared for the deviation.
func set(off []float64) (mean, spread Estimate) {
	n := float64(len(off))
	for _, v := range off {
		mean.Value += v / n
	}
	squares := 0.0
	for _, v := range off {
		squares += (v - mean.Value) * (v - mean.Value)
	}
	spread.Value = math.Sqrt(squares / (n - 1))
	half := distuv.StudentsT{Sigma: 1, Nu: n - 1}.Quantile(0.975) * spread.Value / math.Sqrt(n)
	mean.Low, mean.High = mean.Value-half, mean.Value+half
	chi := distuv.ChiSquared{K: n - 1}
	spread.Low, spread.High = math.Sqrt(squares/chi.Quantile(0.975)), math.Sqrt(squares/chi.Quantile(0.025))
	return mean, spread
}
