package accuracy

import (
	"math/rand/v2"
	"testing"

	"zestysketch/internal/core/lines"
)

// Two rows, or two columns, of crowded boxes that were drawn in each other's places are named,
// though many of their lines are found again by chance; of a drawing that is right none is.
func TestRowsExchanged(t *testing.T) {
	n := squares(4, 4)
	row := func(i int) int { return []int{0, 2, 1, 3}[i/4]*4 + i%4 }
	column := func(i int) int { return i/4*4 + []int{0, 1, 3, 2}[i%4] }
	for name, place := range map[string]func(i int) int{
		"right": func(i int) int { return i }, "rows 2 and 3": row, "columns 3 and 4": column,
	} {
		rng := rand.New(rand.NewPCG(8, 1))
		seen := Seen{net: n, wanted: make([][]lines.Mark, n.count())}
		var drawn []lines.Mark
		for i := range n.count() {
			x, y := n.middle(i)
			for range 24 {
				a, b := x-30+60*rng.Float64(), y-30+60*rng.Float64()
				seen.wanted[i] = append(seen.wanted[i], slanting(a, b, a+11-22*rng.Float64(), b+11-22*rng.Float64())...)
			}
		}
		for i := range n.count() {
			drawn = append(drawn, seen.carried(i, place(i))...)
		}
		seen.drawn, seen.channels = lines.NewIndex(drawn, n.w, n.h, 4), newChannels(drawn, n)
		m := seen.Match()
		for i, exchanged := range m.inExchanged(m.extras()) {
			if exchanged != (place(i) != i) {
				t.Errorf("%s: box %d exchanged: %v", name, i, exchanged)
			}
		}
	}
}
