package training

import (
	"errors"
	"math"
	"math/rand/v2"
	"strings"
	"testing"
)

// Observers who set marks with a known bias and spread are recovered within the interval
// that is stated, in 95 of 100.
func TestSetMarksAreRecovered(t *testing.T) {
	rng := rand.New(rand.NewPCG(1, 1))
	a, _ := Named(Along)
	const observers = 1000
	inBias, inSpread, inInward := 0, 0, 0
	for range observers {
		bias, spread, inward := rng.NormFloat64()*0.03, 0.01+0.05*rng.Float64(), 0.04*rng.Float64()
		var trials []Trial
		for i := range a.Trials {
			shown := []float64{0.15, 0.85, 0.25, 0.75, 0.3, 0.7}[i%6]
			trials = append(trials, Trial{shown, shown - inward*sign(shown-0.5) + bias + spread*rng.NormFloat64()})
		}
		r, err := Measure(a, trials)
		if err != nil {
			t.Fatal(err)
		}
		// What goes to the middle on one side goes from it on the other: it is spread of the bias, and bias of the inward.
		if b := 100 * bias; r.Bias.Low <= b && b <= r.Bias.High {
			inBias++
		}
		if s := 100 * spread; inward < 0.002 || r.Spread.Low <= 1.6*s && s*0.9 <= r.Spread.High {
			inSpread++
		}
		if w := 100 * inward; r.Inward != nil && r.Inward.Low <= w && w <= r.Inward.High {
			inInward++
		}
	}
	t.Logf("bias in %d, spread in %d, inward in %d of %d", inBias, inSpread, inInward, observers)
	if inBias < 940 || inInward < 940 {
		t.Errorf("bias recovered in %d, inward in %d of %d; want 95 of 100", inBias, inInward, observers)
	}
}

// The spread alone, of observers without any pull to the middle.
func TestSpreadIsRecovered(t *testing.T) {
	rng := rand.New(rand.NewPCG(3, 1))
	a, _ := Named(Angle)
	const observers = 8000
	in := 0
	for range observers {
		spread := 1 + 6*rng.Float64()
		var trials []Trial
		for range a.Trials {
			shown := rng.Float64()*180 - 90
			trials = append(trials, Trial{shown, shown + spread*rng.NormFloat64()})
		}
		r, err := Measure(a, trials)
		if err != nil {
			t.Fatal(err)
		}
		if r.Spread.Low <= spread && spread <= r.Spread.High {
			in++
		}
	}
	if in < 7540 || in > 7660 { // three standard deviations of the count
		t.Errorf("the spread lies in the interval of 95 %% in %d of %d", in, observers)
	}
}

// Observers who choose one of two on the stairs are recovered too.
func TestChoicesAreRecovered(t *testing.T) {
	rng := rand.New(rand.NewPCG(2, 1))
	a, _ := Named(Longer)
	const observers = 300
	inBias, inSpread := 0, 0
	for range observers {
		bias, spread := usualBias*rng.NormFloat64()*0.9, usualSpread*math.Pow(spreadTimes, 0.9*rng.NormFloat64())
		stairs := NewStairs()
		at := [2]float64{stairs.From, stairs.From}
		var trials []Trial
		for i := range a.Trials {
			shown := at[i%2]
			if i%2 == 1 {
				shown = -shown
			}
			left := rng.Float64() < phi((shown+bias)/spread)
			if rng.Float64() < slips {
				left = rng.IntN(2) == 0
			}
			given := 0.0
			if left {
				given = 1
			}
			trials = append(trials, Trial{shown, given})
			at[i%2] = stairs.Next(at[i%2], left == (shown > 0))
		}
		r, err := Measure(a, trials)
		if err != nil {
			t.Fatal(err)
		}
		if b := 100 * bias; r.Bias.Low <= b && b <= r.Bias.High {
			inBias++
		}
		if s := 100 * spread; r.Spread.Low <= s && s <= r.Spread.High {
			inSpread++
		}
	}
	t.Logf("bias in %d, spread in %d of %d", inBias, inSpread, observers)
	if inBias < 278 || inSpread < 278 { // 285 less two standard deviations of the count
		t.Errorf("bias recovered in %d, spread in %d of %d; want 95 of 100", inBias, inSpread, observers)
	}
}

// The intervals of twelve errors as the NIST/SEMATECH e-Handbook of Statistical Methods'
// tables 1.3.6.7.2 and 1.3.6.7.4 have them: t of 0.975 is 2.201, chi-squared 3.816 to 21.920.
func TestIntervals(t *testing.T) {
	off := make([]float64, 12)
	for i := range off {
		off[i] = float64(i)
	}
	mean, spread := set(off)
	sd := math.Sqrt(13.0)
	for _, c := range []struct{ got, want float64 }{{mean.Value, 5.5}, {mean.High - mean.Value, 2.201 * sd / math.Sqrt(12)}, {spread.Value, sd},
		{spread.Low, sd * math.Sqrt(11/21.920)}, {spread.High, sd * math.Sqrt(11/3.816)}} {
		if math.Abs(c.got-c.want) > 0.003 {
			t.Errorf("%.4f; want %.4f", c.got, c.want)
		}
	}
}

// The stairs settle where three of four answers are right.
func TestStairsSettle(t *testing.T) {
	rng := rand.New(rand.NewPCG(4, 1))
	s := NewStairs()
	right, at := 0, s.From
	const trials = 4000
	for range trials {
		ok := rng.Float64() < phi(at/0.05)
		if ok {
			right++
		}
		at = s.Next(at, ok)
	}
	if share := float64(right) / trials; math.Abs(share-0.75) > 0.02 {
		t.Errorf("%.3f of the answers are right; want three in four", share)
	}
}

func TestBadTrials(t *testing.T) {
	a, _ := Named(Longer)
	for _, text := range []string{"", "1,1", "0.1,1 0.1,1 0.1,1 0.1,1 0.1,1 x", "0.1,1 0.1,1 0.1,1 0.1,1 0.1,1 0.1,0.5", "0.1,1 0.1,1 0.1,1 0.1,1 0.1,1 NaN,1", "0.1,1 0.1,1 0.1,1 0.1,1 0.1,1 9,1", strings.Repeat("0.1,1 ", 201)} {
		if _, err := Parse(a, text); !errors.Is(err, ErrTrials) {
			t.Errorf("%q: %v; want ErrTrials", text, err)
		}
	}
	got, err := Parse(a, "0.1,1 -0.1,0 0.1,1 -0.2,0 0.1,1 -0.1,1")
	if err != nil || len(got) != 6 {
		t.Fatal(got, err)
	}
	for _, about := range Kinds {
		trials := []Trial{{0.2, 1}, {-0.2, 0}, {0.3, 1}, {-0.3, 0}, {0.1, 1}, {-0.1, 0}, {0.8, 1}}
		r, err := Measure(about, trials)
		if err != nil || r.Say() == "" {
			t.Errorf("%s: %v, said %q", about.Kind, err, r.Say())
		}
	}
}
