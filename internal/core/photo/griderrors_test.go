package photo

import "testing"

// Lines that are all among the plan's are its own, of which the others are faint; others are
// another grid's.
func TestAmong(t *testing.T) {
	even := func(n int) (marks []float64) {
		for i := range n + 1 {
			marks = append(marks, 30*float64(i))
		}
		return marks
	}
	for _, c := range []struct {
		counted int
		marks   []float64
		want    bool
	}{
		{3, even(6), true}, {2, even(6), true}, {4, even(6), false}, {5, even(6), false}, {7, even(6), false}, {12, even(6), false}, {4, even(8), true}, {6, even(8), false},
		{3, []float64{0, 40, 80, 100}, false}, // with a remainder
	} {
		if got := among(c.counted, c.marks); got != c.want {
			t.Errorf("%d equal boxes among %v: %v; want %v", c.counted, c.marks, got, c.want)
		}
	}
}
