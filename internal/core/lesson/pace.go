package lesson

import (
	"math"
	"slices"

	"zestysketch/internal/core/reading"
)

// Worked is one box that was drawn: how heavy it is and how long it took.
type Worked struct {
	Weight  float64 // detail of the box, 1 for the mean
	Minutes float64
}

// Pace is what is known of how fast somebody draws.
type Pace struct {
	Log    float64 // natural logarithm of minutes for a box of weight 1
	LogVar float64 // how unsure that is
	Boxes  int     // on how many it rests
}

// PerBox returns the likeliest minutes for a box of weight 1.
func (p Pace) PerBox() float64 { return math.Exp(p.Log) }

// Class is the pace of a room: each student's, drawn towards the others' while
// little is known of them.
type Class struct {
	Noise    float64 // variance of the logarithm from box to box
	Middle   float64 // of all students' Log
	Between  float64 // variance of Log from student to student
	Timed    int     // boxes on which all of it rests
	Students map[uint64]Pace
}

// What is believed of a class of which nothing is known (ours): three minutes a
// box; single boxes differ by half, students by a factor of three or more
// between the slowest and the quickest (common practice).
const (
	usualMinutes   = reading.UsualMinutes
	usualNoise     = 0.5 * 0.5
	usualBetween   = 0.4 * 0.4
	unsureOfMiddle = 0.6 * 0.6
	worthOfBelief  = 6.0 // boxes, and students, that the belief counts for
)

// Learn returns the pace of a class from what each student drew. It is an
// empirical Bayes estimate of normal means (Efron and Morris 1975) on the
// logarithms of minutes a weight, for times spread by factors. Boxes without
// weight or time are passed over. known holds, for students whom the teacher
// knows to be slow or quick, by which factor; others are taken as usual.
func Learn(worked map[uint64][]Worked, known map[uint64]float64) Class {
	logs := map[uint64][]float64{}
	for id, boxes := range worked {
		for _, b := range boxes {
			if b.Weight > 0 && b.Minutes > 0 {
				logs[id] = append(logs[id], math.Log(b.Minutes/b.Weight))
			}
		}
	}
	c := Class{Noise: usualNoise, Middle: math.Log(usualMinutes), Between: usualBetween, Students: map[uint64]Pace{}}
	for _, l := range logs {
		c.Timed += len(l)
	}
	c.noise(logs)
	c.middle(logs)
	unsure := unsureOfMiddle
	if n := float64(len(logs)); n > 0 {
		unsure = c.Between / n
	}
	for id := range worked {
		n := float64(len(logs[id]))
		prior, middle := c.Between+unsure, c.Middle
		if k := known[id]; k > 0 {
			middle += math.Log(k)
		}
		precision := 1/prior + n/c.Noise
		c.Students[id] = Pace{Log: (middle/prior + sum(logs[id])/c.Noise) / precision, LogVar: 1 / precision, Boxes: len(logs[id])}
	}
	return c
}

// noise pools what boxes of one student differ by, with the belief.
func (c *Class) noise(logs map[uint64][]float64) {
	squares, free := usualNoise*worthOfBelief, worthOfBelief
	for _, l := range logs {
		m := sum(l) / float64(len(l))
		for _, v := range l {
			squares += (v - m) * (v - m)
		}
		free += float64(len(l) - 1)
	}
	c.Noise = max(squares/free, 0.05*0.05)
}

// middle finds the mean of the students' means, and how far they lie apart
// beyond what single boxes explain.
func (c *Class) middle(logs map[uint64][]float64) {
	if len(logs) == 0 {
		return
	}
	ids := make([]uint64, 0, len(logs))
	for id := range logs {
		ids = append(ids, id)
	}
	slices.Sort(ids) // so that sums round alike
	var weights, weighted float64
	for _, id := range ids {
		n := float64(len(logs[id]))
		w := 1 / (usualBetween + c.Noise/n)
		weights, weighted = weights+w, weighted+w*sum(logs[id])/n
	}
	c.Middle = weighted / weights
	squares, free := usualBetween*worthOfBelief, worthOfBelief
	for _, id := range ids {
		n := float64(len(logs[id]))
		d := sum(logs[id])/n - c.Middle
		squares += max(0, d*d-c.Noise/n)
		free++
	}
	c.Between = squares / free
}

func sum(v []float64) (s float64) {
	for _, x := range v {
		s += x
	}
	return s
}

// Nothing is foretold before somebody has drawn so many boxes in a time that is
// known, or the class so many together (ours).
const evidenceOwn, evidenceAll = 5, 15

// Evidence returns how many more timed boxes of the class a forecast for
// somebody waits for, 0 where it may be given.
func (c Class) Evidence(p Pace) int {
	if p.Boxes >= evidenceOwn {
		return 0
	}
	return max(0, evidenceAll-c.Timed)
}

// Range is a forecast in minutes: as likely below Low as above High, one in
// ten each, with Middle between.
type Range struct{ Low, Middle, High float64 }

// tenth is the standard normal's ninth decile.
const tenth = 1.2815515655446004

// How much longer than usual a slow student takes, and a quick one (ours).
const SlowFactor, QuickFactor = 1.4, 0.7

// Forecast returns how long boxes of the given weights will take somebody. The
// sum of log-normal times is taken as log-normal (Fenton 1960). No boxes take no time.
func (c Class) Forecast(p Pace, weights []float64) Range {
	var whole, squares float64
	for _, w := range weights {
		whole, squares = whole+w, squares+w*w
	}
	if whole <= 0 {
		return Range{}
	}
	spread := (math.Exp(c.Noise) - 1) * squares / (whole * whole)
	spread = math.Log1p(spread)
	middle := math.Log(whole) + p.Log + c.Noise/2 - spread/2
	off := tenth * math.Sqrt(spread+p.LogVar)
	return Range{math.Exp(middle - off), math.Exp(middle), math.Exp(middle + off)}
}

// Prospect says whether somebody will be done in time.
type Prospect string

// The prospects, from the one who needs help first.
const (
	WillNot  Prospect = "will not finish"
	MayNot   Prospect = "may not finish"
	Likely   Prospect = "will probably finish"
	Sure     Prospect = "will finish"
	Early    Prospect = "will finish early"
	Finished Prospect = "finished"
	Untold   Prospect = "too early to say"
)

// Short reports whether the time will not do, or may not.
func (p Prospect) Short() bool { return p == WillNot || p == MayNot }

// earlyShare is the share of the time left in which the slow end of a forecast
// lies, from which somebody counts as early (ours).
const earlyShare = 0.65

// Judge compares a forecast with the minutes of lessons that are left.
func Judge(r Range, left float64) Prospect {
	switch {
	case r.High == 0:
		return Finished
	case r.Low > left:
		return WillNot
	case r.Middle > left:
		return MayNot
	case r.High > left:
		return Likely
	case r.High <= earlyShare*left:
		return Early
	}
	return Sure
}

// Spread of weights: even a bare box takes this share of the mean (ours).
const bareBox = reading.BareBox

// Weights turns shares of detail, together 1, into weights whose mean is 1:
// looking and placing takes time even where little is to be drawn. Without
// shares every box weighs 1.
func Weights(shares []float64, boxes int) []float64 {
	w := make([]float64, boxes)
	for i := range w {
		w[i] = 1
		if len(shares) == boxes {
			w[i] = bareBox + (1-bareBox)*shares[i]*float64(boxes)
		}
	}
	return w
}
