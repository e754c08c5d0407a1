// Package training measures how well an eye judges: how far along a side, at which angle,
// which of two is longer or darker. From the trials of a short exercise it tells the bias
// and the spread, each with its uncertainty, and from a drawing's faults what to train next.
package training

import (
	"errors"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"gonum.org/v1/gonum/stat/distuv"
)

// Kind is a kind of exercise.
type Kind string

// The kinds.
const (
	Along  Kind = "along"  // how far along a side a line of the picture crosses it, 0 to 1
	Halve  Kind = "halve"  // a half, a third, a quarter of a line, 0 to 1
	Mirror Kind = "mirror" // how far out the other half of a symmetrical figure stands, 0 to 1
	Angle  Kind = "angle"  // the direction of a line, degrees
	Heads  Kind = "heads"  // how many times the top part fits into the whole height
	Copy   Kind = "copy"   // a dot of a box into an empty one, 0 to 1 across and down
	Longer Kind = "longer" // which of two lines is longer: the difference by their mean
	Darker Kind = "darker" // which of two tones is darker: the difference of lightness, 0 to 1
	Level  Kind = "level"  // which end is higher, or to which side it leans: the slope
	Order  Kind = "order"  // four tones from light to dark: the difference of two that follow
	Which  Kind = "which"  // which box this is, upside down
	Yours  Kind = "yours"  // which of two drawings over the picture is one's own, which is slid into its place
	Leaves Kind = "leaves" // where one's own line first leaves the picture's, 0 to 1 across and down of what is shown
)

// Way is how an exercise is answered, which says what the two numbers of a trial are.
type Way string

// The ways.
const (
	Set    Way = "set"    // a mark is set: where it belongs, where it was put
	Place  Way = "place"  // a dot is set: as Set, across and down by turns
	Choose Way = "choose" // one of two is chosen: by how much the left one is more, and 1 where it was
	Rank   Way = "rank"   // several are ordered: as Choose, for pairs of which none shares one
	Pick   Way = "pick"   // one of several is picked: of how many, and 1 where it was right
)

// choice reports whether trials are differences and which was chosen.
func (w Way) choice() bool { return w == Choose || w == Rank }

// About says what an exercise is.
type About struct {
	Kind  Kind
	Name  string
	Way   Way
	Tasks int     // of one exercise
	Unit  float64 // by which figures are multiplied to be said
	In    string  // what they are then
	Reach float64 // beyond which no difference is one
	Own   bool    // made of the class's own boxes
	Drawn bool    // made of what one's own last photo got wrong: nobody else can do it
}

// slopeDegrees is how many degrees a slope is of lines that are nearly level.
const slopeDegrees = 180 / math.Pi

// Kinds lists the exercises.
var Kinds = []About{
	{Along, "How far along?", Set, 12, 100, "% of a side", 1, true, false},
	{Copy, "Copy the dot", Place, 10, 100, "% of a side", 1, true, false},
	{Which, "Which box is this?", Pick, 10, 100, "% taken for another", 1, true, false},
	{Halve, "A half, a third, a quarter", Set, 12, 100, "% of the line", 1, false, false},
	{Mirror, "The other half", Set, 12, 100, "% of half the breadth", 1, false, false},
	{Heads, "How many times high?", Set, 12, 100, "% of the height", 20, false, false},
	{Angle, "Which direction?", Set, 12, 1, "°", 90, false, false},
	{Level, "Level or upright?", Choose, 30, slopeDegrees, "°", 1, false, false},
	{Longer, "Which is longer?", Choose, 30, 100, "% of the length", 1, false, false},
	{Darker, "Which is darker?", Choose, 30, 100, "steps of lightness", 1, false, false},
	{Yours, "Which is yours?", Pick, 6, 100, "% taken for another", 1, true, true},
	{Leaves, "Where does it leave the line?", Place, 6, 100, "% of the figure", 1, true, true},
	{Order, "Light to dark", Rank, 15, 100, "steps of lightness", 1, false, false},
}

// ForAll lists the exercises that anybody can do.
func ForAll() []About {
	return slices.DeleteFunc(slices.Clone(Kinds), func(a About) bool { return a.Drawn })
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

// Trial is one judgement, as the way of its exercise says.
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
		if errX != nil || errY != nil || !a.may(Trial{x, y}) {
			return nil, fmt.Errorf("%w: wanted two numbers with a comma, got %q", ErrTrials, f)
		}
		all[i] = Trial{x, y}
	}
	if a.Way == Place && len(all)%2 == 1 {
		return nil, fmt.Errorf("%w: wanted each dot across and down, got %d numbers", ErrTrials, len(all))
	}
	return all, nil
}

// may reports whether a trial can be one of an exercise.
func (a About) may(t Trial) bool {
	yesNo := t.Given == 0 || t.Given == 1
	switch {
	case !(max(math.Abs(t.Shown), math.Abs(t.Given)) <= 180):
		return false
	case a.Way == Pick:
		return t.Shown >= 2 && t.Shown <= 12 && t.Shown == math.Trunc(t.Shown) && yesNo
	case a.Way.choice():
		return math.Abs(t.Shown) <= a.Reach && yesNo
	case a.Kind == Heads:
		return t.Shown >= 1 && t.Given >= 1 && t.Shown <= a.Reach && t.Given <= a.Reach
	}
	return true
}

// Estimate is a figure with the interval in which it lies in 95 of 100 exercises.
type Estimate struct {
	Value float64 `json:"value"`
	Low   float64 `json:"low"`
	High  float64 `json:"high"`
}

// Result is what the trials of one exercise tell, in the kind's own unit: a bias of more
// than 0 is set too far along, too steep, too large, or the left one taken for more than it
// is; of marks on a line, Inward is by how much they stand too near its middle; of a dot,
// Bias is across and Down the other. Of picks only Wrong is told.
type Result struct {
	Kind   Kind      `json:"kind"`
	Trials int       `json:"trials"`
	Bias   Estimate  `json:"bias"`
	Spread Estimate  `json:"spread"` // one standard deviation
	Inward *Estimate `json:"inward,omitempty"`
	Down   *Estimate `json:"down,omitempty"`
	Wrong  *Estimate `json:"wrong,omitempty"` // picks, in 100
}

// Miss returns by how much an eye misses, the less the better: what is compared over weeks.
func (r Result) Miss() Estimate {
	if r.Wrong != nil {
		return *r.Wrong
	}
	return r.Spread
}

// Measure returns what trials tell. The error wraps ErrTrials.
func Measure(a About, trials []Trial) (Result, error) {
	r := Result{Kind: a.Kind, Trials: len(trials)}
	if len(trials) < fewest {
		return r, fmt.Errorf("%w: wanted at least %d, got %d", ErrTrials, fewest, len(trials))
	}
	switch {
	case a.Way.choice():
		r.Bias, r.Spread = chosen(trials, a.Unit)
	case a.Way == Pick:
		wrong := picked(trials, a.Unit)
		r.Wrong = &wrong
	case a.Way == Place:
		r.placed(a, trials)
	default:
		r.set(a, trials)
	}
	return r, nil
}

// set measures marks that were set.
func (r *Result) set(a About, trials []Trial) {
	var off, inward []float64
	for _, t := range trials {
		d := a.off(t)
		off = append(off, d)
		if side := t.Shown - 0.5; (a.Kind == Along || a.Kind == Halve) && math.Abs(side) > 0.05 {
			inward = append(inward, -d*sign(side))
		}
	}
	r.Bias, r.Spread = spreadOf(off)
	if len(inward) >= fewest {
		mean, _ := spreadOf(inward)
		r.Inward = &mean
	}
}

// off returns by how much a mark was set wrongly, in the kind's unit. A line that is turned
// by half a turn is the same; of heights it is the ratio that an eye judges (Weber's law).
func (a About) off(t Trial) float64 {
	d := t.Given - t.Shown
	switch a.Kind {
	case Angle:
		d = math.Mod(d+270, 180) - 90
	case Heads:
		d = math.Log(t.Given / t.Shown)
	}
	return d * a.Unit
}

// placed measures dots: the bias of each direction, and one spread of both, each about its
// own mean.
func (r *Result) placed(a About, trials []Trial) {
	var off [2][]float64
	for i, t := range trials {
		off[i%2] = append(off[i%2], a.off(t))
	}
	var down Estimate
	r.Bias, _ = spreadOf(off[0])
	down, _ = spreadOf(off[1])
	r.Down = &down
	squares := 0.0
	for i, mean := range []float64{r.Bias.Value, down.Value} {
		for _, v := range off[i] {
			squares += (v - mean) * (v - mean)
		}
	}
	r.Spread = deviation(squares, float64(len(trials)-2))
}

// picked returns how many of a hundred picks were wrong, with the exact interval of Clopper
// and Pearson (1934, Biometrika 26(4)).
func picked(trials []Trial, unit float64) Estimate {
	n, wrong := float64(len(trials)), 0.0
	for _, t := range trials {
		wrong += 1 - t.Given
	}
	e := Estimate{Value: unit * wrong / n, High: unit}
	if wrong > 0 {
		e.Low = unit * distuv.Beta{Alpha: wrong, Beta: n - wrong + 1}.Quantile(0.025)
	}
	if wrong < n {
		e.High = unit * distuv.Beta{Alpha: wrong + 1, Beta: n - wrong}.Quantile(0.975)
	}
	return e
}

func sign(v float64) float64 {
	if v < 0 {
		return -1
	}
	return 1
}

// spreadOf returns mean and standard deviation of normal errors, with their 95 %
// intervals: Student's t for the mean, chi-squared for the deviation.
func spreadOf(off []float64) (mean, spread Estimate) {
	n := float64(len(off))
	for _, v := range off {
		mean.Value += v / n
	}
	squares := 0.0
	for _, v := range off {
		squares += (v - mean.Value) * (v - mean.Value)
	}
	spread = deviation(squares, n-1)
	half := distuv.StudentsT{Sigma: 1, Nu: n - 1}.Quantile(0.975) * spread.Value / math.Sqrt(n)
	mean.Low, mean.High = mean.Value-half, mean.Value+half
	return mean, spread
}

// deviation returns the standard deviation of a sum of squares with so many degrees of
// freedom.
func deviation(squares, freedom float64) Estimate {
	chi := distuv.ChiSquared{K: freedom}
	return Estimate{math.Sqrt(squares / freedom), math.Sqrt(squares / chi.Quantile(0.975)), math.Sqrt(squares / chi.Quantile(0.025))}
}
