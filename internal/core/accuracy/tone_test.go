package accuracy

import (
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"gonum.org/v1/gonum/stat"
)

// Against scipy 1.10.1, stats.spearmanr, with ties; and against gonum v0.17.0's
// correlation of ranks on numbers without.
func TestSpearman(t *testing.T) {
	a, b := []float64{3, 1, 4, 1, 5, 9, 2, 6, 5, 3, 5}, []float64{2, 7, 1, 8, 2, 8, 1, 8, 2, 8, 4}
	if got := Spearman(a, b); math.Abs(got-0.1384567651467695) > 1e-12 {
		t.Errorf("got %v; want 0.1384567651467695", got)
	}
	rng := rand.New(rand.NewPCG(8, 8))
	x, y := make([]float64, 40), make([]float64, 40)
	for i := range x {
		x[i], y[i] = rng.Float64(), rng.Float64()
	}
	rank := func(v []float64) []float64 {
		sorted := slices.Clone(v)
		slices.Sort(sorted)
		out := make([]float64, len(v))
		for i := range v {
			at, _ := slices.BinarySearch(sorted, v[i])
			out[i] = float64(at)
		}
		return out
	}
	if got, want := Spearman(x, y), stat.Correlation(rank(x), rank(y), nil); math.Abs(got-want) > 1e-12 {
		t.Errorf("got %v; gonum says %v", got, want)
	}
	if got := Spearman([]float64{1, 1}, []float64{1, 2}); got != 0 {
		t.Errorf("all alike: %v; want 0", got)
	}
}

func TestParts(t *testing.T) {
	for _, c := range []struct {
		v    float64
		want string
	}{{0.5, "half"}, {0.34, "a third"}, {0.74, "three quarters"}, {1, "the whole"}, {1.3, "more than the whole"}, {0, "a tenth"}} {
		if got := ShareInWords(c.v); got != c.want {
			t.Errorf("%v: %q; want %q", c.v, got, c.want)
		}
	}
}

// Boxes over a class: the shares, and which to teach again.
func TestClassPicture(t *testing.T) {
	report := func(wrong ...string) Report {
		r := Report{Measured: true}
		for _, l := range []string{"A1", "A2", "B1", "B2"} {
			r.Cells = append(r.Cells, Cell{Label: l, Sure: Both, Wrong: slices.Contains(wrong, l)})
		}
		return r
	}
	blind := report()
	blind.Cells[0].Sure = None
	boxes := ClassPicture([]Gist{report("A2", "B1").Gist(), report("A2").Gist(), report("A2", "B1").Gist(), blind.Gist()})
	if got := boxes[0]; got != (Shared{"A1", 0, 3}) {
		t.Errorf("A1: %+v; want 0 wrong of the 3 that tell", got)
	}
	again := Reteach(boxes)
	if len(again) != 2 || again[0].Label != "A2" || again[1].Label != "B1" {
		t.Errorf("to teach again: %+v; want A2, then B1", again)
	}
	now, before := report("B2"), report("A2", "B2")
	if c := now.Since(before); !slices.Equal(c.Mended, []string{"A2"}) || c.Worse != nil {
		t.Errorf("since: %+v; want A2 mended", c)
	}
	if c := before.Since(now); !slices.Equal(c.Worse, []string{"A2"}) {
		t.Errorf("the other way: %+v; want A2 worse", c)
	}
}
