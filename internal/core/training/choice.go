package training

import "math"

// An observer is believed, before anything is known, to be biased by less than a tenth or
// so and to tell differences of a few hundredths (ours); one trial in fifty is a slip of
// the finger, whatever was seen.
const (
	usualBias   = 0.08
	usualSpread = 0.06
	spreadTimes = 2.2 // by which factor spreads differ from one eye to another
	slips       = 0.02
	biasSteps   = 81
	spreadSteps = 49
)

// chosen returns bias and spread of somebody who chooses one of two: what is known after
// the trials of both together, by Bayes' rule on a lattice, as QUEST does for one figure
// (Watson and Pelli 1983, Perception & Psychophysics 33(2)). The chance that the left one
// is chosen is normal in the difference.
func chosen(trials []Trial, unit float64) (bias, spread Estimate) {
	var biases, spreads [spreadSteps + biasSteps]float64
	b, s := biases[:biasSteps], spreads[:spreadSteps]
	logs := make([]float64, biasSteps*spreadSteps)
	most := math.Inf(-1)
	for j := range s {
		z := 3 * (2*float64(j)/(spreadSteps-1) - 1)
		s[j] = usualSpread * math.Pow(spreadTimes, z)
		for i := range b {
			y := 3 * (2*float64(i)/(biasSteps-1) - 1)
			b[i] = usualBias * y
			log := -(z*z + y*y) / 2
			for _, t := range trials {
				p := slips/2 + (1-slips)*phi((t.Shown+b[i])/s[j])
				if t.Given == 0 {
					p = 1 - p
				}
				log += math.Log(p)
			}
			logs[j*biasSteps+i] = log
			most = max(most, log)
		}
	}
	ofBias, ofSpread := make([]float64, biasSteps), make([]float64, spreadSteps)
	for k, log := range logs {
		w := math.Exp(log - most)
		ofBias[k%biasSteps] += w
		ofSpread[k/biasSteps] += w
	}
	return estimated(b, ofBias, unit), estimated(s, ofSpread, unit)
}

// phi is the normal distribution.
func phi(z float64) float64 { return 0.5 * math.Erfc(-z/math.Sqrt2) }

// estimated returns the mean of a distribution over rising values, and the interval that
// leaves a fortieth of it on each side.
func estimated(values, weights []float64, unit float64) (e Estimate) {
	sum := 0.0
	for i, w := range weights {
		sum += w
		e.Value += w * values[i]
	}
	e.Value *= unit / sum
	at := func(share float64) float64 {
		run := 0.0
		for i, w := range weights {
			if run += w; run >= share*sum {
				before := values[max(0, i-1)]
				return unit * (values[i] - (run-share*sum)/w*(values[i]-before))
			}
		}
		return unit * values[len(values)-1]
	}
	e.Low, e.High = at(0.025), at(0.975)
	return e
}

// Stairs is how the next difference is chosen: smaller by one step after a right answer,
// larger by three after a wrong one, so that three in four are right (the weighted up-down
// method, Kaernbach 1991, Perception & Psychophysics 49(3)). Two such stairs, one with the
// left one more, one with the right one, are climbed by turns.
type Stairs struct {
	From  float64 `json:"from"`
	Least float64 `json:"least"`
	Most  float64 `json:"most"`
	Down  float64 `json:"down"` // factor after a right answer
	Up    float64 `json:"up"`   // factor after a wrong one
}

// NewStairs returns the usual ones.
func NewStairs() Stairs {
	const step = 0.82
	return Stairs{From: 0.25, Least: 0.004, Most: 0.5, Down: step, Up: math.Pow(step, -3)}
}

// Next returns the next difference after an answer.
func (s Stairs) Next(difference float64, right bool) float64 {
	if right {
		return max(s.Least, difference*s.Down)
	}
	return min(s.Most, difference*s.Up)
}
