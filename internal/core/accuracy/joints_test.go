package accuracy

import (
	"testing"

	"zestysketch/internal/core/lines"
)

// A box of which nearly all that is wanted is found at home, where nothing else is drawn, did
// not slip, however well another place does too: many lines repeat.
func TestAllAtHomeIsNoSlip(t *testing.T) {
	const marks, cell = 320, 40
	full := func(v float64) (all []float64) {
		for range marks {
			all = append(all, v)
		}
		return all
	}
	row := make([]lines.Mark, marks)
	for i := range row {
		row[i] = lines.Mark{X: float32(i % cell), Y: float32(i / cell), NX: 1}
	}
	l := outlierTest{n: net{cell: cell, w: 400, h: 400, columns: 1, rows: 1}, own: [][]lines.Mark{row}, wanted: [][]lines.Mark{row}, all: lines.NewIndex(nil, 400, 400, 8)}
	to := candidate{at: model{x: 12}, wantedFound: full(1), drawnFound: full(1)}
	for expected, slipped := range map[float64]bool{0.92: false, 0.3: true} {
		if got := l.supported(0, to, candidate{wantedFound: full(expected), drawnFound: full(expected)}, nil); got != slipped {
			t.Errorf("%.0f %% are found at home, and it slipped: %v; want %v", 100*expected, got, slipped)
		}
	}
}
