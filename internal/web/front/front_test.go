package front

import (
	"testing"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/reading"
)

// What is shown first is what most need: never a box in which nothing is drawn, unless all are so.
func TestNeeded(t *testing.T) {
	order := []grid.Cell{{Label: "A1"}, {Label: "B1"}, {Label: "C1"}, {Label: "D1"}}
	read := reading.Reading{Boxes: []reading.Box{{Label: "A1"}, {Label: "B1", Pieces: make([]reading.Piece, 1)}, {Label: "C1", Pieces: make([]reading.Piece, 2)}}}
	labels := drawnIn(order, read)
	done := func(all ...string) map[string]bool {
		is := map[string]bool{}
		for _, l := range all {
			is[l] = true
		}
		return is
	}
	for want, ticks := range map[string]map[uint64]map[string]bool{
		"B1": {},
		"C1": {1: done("A1", "B1"), 2: done("B1"), 3: done("A1")},
	} {
		if got := nextOfMost(labels, ticks); got != want {
			t.Errorf("with %v: %s; want %s", ticks, got, want)
		}
	}
	if got := nextOfMost(drawnIn(order, reading.Reading{}), nil); got != "A1" {
		t.Errorf("of a picture without lines: %s", got)
	}
}
