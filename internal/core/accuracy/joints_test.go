package accuracy

import (
	"testing"

	"zestysketch/internal/core/lines"
	"zestysketch/internal/core/plane"
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
	for found, slipped := range map[float64]bool{0.92: false, 0.3: true} {
		if got := l.supported(0, to, candidate{wantedFound: full(found), drawnFound: full(found)}, nil); got != slipped {
			t.Errorf("%.0f %% are found at home, and it slipped: %v; want %v", 100*found, got, slipped)
		}
	}
}

// Of a part that moved by no more than is allowed nothing is said, unless it has another size.
func TestPartsWithinTheTolerance(t *testing.T) {
	for _, c := range []struct {
		part   Part
		within bool
	}{
		{Part{State: PartMoved, Move: plane.Pt(0.15, 0.1), Size: 1}, true},
		{Part{State: PartMoved, Move: plane.Pt(0.2, 0.1), Size: 1}, false},
		{Part{State: PartMoved, Size: 0.8}, false},
		{Part{State: PartMissing, Size: 1}, false},
		{Part{State: PartDoubted, Size: 1}, false},
	} {
		if got := c.part.within(NormalTolerance); got != c.within {
			t.Errorf("%+v is within the tolerance: %v; want %v", c.part, got, c.within)
		}
	}
}
