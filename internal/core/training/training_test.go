package training

import (
	"errors"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
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
		for i := range a.Tasks {
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
		for range a.Tasks {
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
		for i := range a.Tasks {
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
	mean, spread := spreadOf(off)
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
	for _, text := range []string{"", "1,1", "0.1,1 0.1,1 0.1,1 0.1,1 0.1,1 x",
		"0.1,1 0.1,1 0.1,1 0.1,1 0.1,1 0.1,0.5", "0.1,1 0.1,1 0.1,1 0.1,1 0.1,1 NaN,1",
		"0.1,1 0.1,1 0.1,1 0.1,1 0.1,1 9,1", strings.Repeat("0.1,1 ", 201)} {
		if _, err := Parse(a, text); !errors.Is(err, ErrTrials) {
			t.Errorf("%q: %v; want ErrTrials", text, err)
		}
	}
	got, err := Parse(a, "0.1,1 -0.1,0 0.1,1 -0.2,0 0.1,1 -0.1,1")
	if err != nil || len(got) != 6 {
		t.Fatal(got, err)
	}
	usual := []Trial{{0.2, 1}, {-0.2, 0}, {0.3, 1}, {-0.3, 0}, {0.1, 1}, {-0.1, 0}, {0.8, 1}, {0.4, 1}}
	of := map[Kind][]Trial{Heads: {{3, 4}, {2, 2.5}, {4, 4}, {5, 5.5}, {6, 7}, {3, 3.4}}, Which: {{4, 1}, {4, 1}, {4, 0}, {4, 1}, {4, 1}, {4, 1}},
		Yours: {{2, 1}, {2, 1}, {2, 0}, {2, 1}, {2, 1}, {2, 1}}}
	if all := ForAll(); len(all) != len(Kinds)-2 || slices.ContainsFunc(all, func(a About) bool { return a.Drawn }) {
		t.Errorf("for all are %v; want those that are made of nobody's own drawing", all)
	}
	for _, about := range Kinds {
		trials, own := of[about.Kind]
		if !own {
			trials = usual
		}
		var sent []string
		for _, one := range trials {
			sent = append(sent, fmt.Sprintf("%g,%g", one.Shown, one.Given))
		}
		if _, err := Parse(about, strings.Join(sent, " ")); err != nil {
			t.Errorf("%s: %v", about.Kind, err)
		}
		r, err := Measure(about, trials)
		if plain := r.Plain(); plain == "" || strings.ContainsAny(plain, "0123456789%") {
			t.Errorf("%s: to a child %q is said; want words alone", about.Kind, plain)
		}
		if err != nil || r.Say() == "" {
			t.Errorf("%s: %v, said %q", about.Kind, err, r.Say())
		}
	}
}

// Those who bring tones into order by what they see, with a known spread of each
// difference, are recovered from the pairs of which none shares a tone.
func TestRanksAreRecovered(t *testing.T) {
	rng := rand.New(rand.NewPCG(6, 1))
	a, _ := Named(Order)
	const observers = 300
	in := 0
	for range observers {
		spread := usualSpread * math.Pow(spreadTimes, 0.9*rng.NormFloat64())
		stairs := NewStairs()
		at := stairs.From
		var trials []Trial
		for range a.Tasks {
			tones := [4]float64{0, at, 2 * at, 3 * at} // the lightest first, as they lie from left to right
			rng.Shuffle(4, func(i, j int) { tones[i], tones[j] = tones[j], tones[i] })
			var seen [4]float64
			for i := range tones {
				seen[i] = tones[i] + spread/math.Sqrt2*rng.NormFloat64()
			}
			right := true
			for i := range tones {
				for j := range tones {
					right = right && (tones[i] < tones[j]) == (seen[i] < seen[j])
				}
			}
			for _, pair := range [2][2]int{{0, 1}, {2, 3}} {
				i, j := pair[0], pair[1]
				given := 0.0
				if seen[i] > seen[j] {
					given = 1
				}
				trials = append(trials, Trial{tones[i] - tones[j], given})
			}
			at = min(0.2, stairs.Next(at, right))
		}
		r, err := Measure(a, trials)
		if err != nil {
			t.Fatal(err)
		}
		if s := 100 * spread; r.Spread.Low <= s && s <= r.Spread.High {
			in++
		}
	}
	t.Logf("spread in %d of %d", in, observers)
	if in < 278 {
		t.Errorf("recovered in %d of %d; want 95 of 100", in, observers)
	}
}

// Dots that are copied with a bias of each direction and one spread.
func TestCopiedDotsAreRecovered(t *testing.T) {
	rng := rand.New(rand.NewPCG(7, 1))
	a, _ := Named(Copy)
	const observers = 2000
	across, down, spreads := 0, 0, 0
	for range observers {
		bx, by, spread := 0.03*rng.NormFloat64(), 0.03*rng.NormFloat64(), 0.01+0.05*rng.Float64()
		var trials []Trial
		for range a.Tasks {
			x, y := rng.Float64(), rng.Float64()
			trials = append(trials, Trial{x, x + bx + spread*rng.NormFloat64()}, Trial{y, y + by + spread*rng.NormFloat64()})
		}
		r, err := Measure(a, trials)
		if err != nil {
			t.Fatal(err)
		}
		count := func(e Estimate, v float64, n *int) {
			if e.Low <= 100*v && 100*v <= e.High {
				*n++
			}
		}
		count(r.Bias, bx, &across)
		count(*r.Down, by, &down)
		count(r.Spread, spread, &spreads)
	}
	for _, n := range []int{across, down, spreads} {
		if n < 1870 || n > 1930 { // three standard deviations of the count
			t.Errorf("%d, %d and %d of %d are recovered; want 95 of 100", across, down, spreads, observers)
		}
	}
}

// The exact interval of 4 wrong of 10 from memory of the tables of Clopper and Pearson
// (1934): 12.2 to 73.8 %; and of none and all, by the formula: 1 - 0.025^(1/10) is 30.8 %.
func TestPicks(t *testing.T) {
	picks := func(wrong int) (all []Trial) {
		for i := range 10 {
			given := 1.0
			if i < wrong {
				given = 0
			}
			all = append(all, Trial{6, given})
		}
		return all
	}
	for _, c := range []struct {
		wrong     int
		low, high float64
	}{{4, 12.2, 73.8}, {0, 0, 30.8}, {10, 69.2, 100}} {
		a, _ := Named(Which)
		r, err := Measure(a, picks(c.wrong))
		if err != nil || math.Abs(r.Miss().Low-c.low) > 0.06 || math.Abs(r.Miss().High-c.high) > 0.06 || r.Miss().Value != 10*float64(c.wrong) {
			t.Errorf("%d of ten: %+v, %v; want %g to %g", c.wrong, r.Miss(), err, c.low, c.high)
		}
	}
}

// What a drawing got wrong chooses the exercises: the first fault's first, none twice, and
// all that are there are trained by something.
func TestNextExercises(t *testing.T) {
	got := Next([]Fault{Lost, Places})
	if want := []Kind{Which, Along, Copy}; !slices.Equal(got, want) {
		t.Errorf("got %v; want %v", got, want)
	}
	for f, kinds := range trains {
		for _, k := range kinds {
			if _, known := Named(k); !known {
				t.Errorf("%s asks for %q", f, k)
			}
		}
	}
}
