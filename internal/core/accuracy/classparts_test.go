package accuracy

import (
	"slices"
	"testing"

	"zestysketch/internal/core/plane"
)

// A class hears which part most have wrong, and how; of what one alone got wrong it hears nothing.
func TestSharedParts(t *testing.T) {
	part := func(x float64, state PartState, move plane.Point) Part {
		return Part{Cell: "C4", Cells: []string{"C4"}, Closed: true, State: state, Move: move, Size: 1, Where: plane.Rect{Min: plane.Pt(x, 10), Max: plane.Pt(x+10, 22)}}
	}
	up := plane.Pt(0, -0.33)
	got := SharedParts([]Gist{
		{Parts: []Part{part(30, PartMoved, up), part(80, PartMissing, plane.Point{})}},
		{Parts: []Part{part(31, PartMoved, plane.Pt(0.02, -0.3))}},
		{Parts: []Part{part(30, PartMissing, plane.Point{}), part(110, PartMissing, plane.Point{})}},
		{Parts: []Part{part(30, PartMoved, plane.Pt(0, -0.4)), part(110, PartMissing, plane.Point{})}},
		{},
	})
	want := []string{"The closed shape in C4 sits a third of a box too high in 3 of 5 drawings. In 1 more it is not there yet.",
		"The closed shape in C4 is not there yet in 2 of 5 drawings."}
	if !slices.Equal(got, want) {
		t.Errorf("said %q; want %q", got, want)
	}
	if got := SharedParts(nil); got != nil {
		t.Errorf("of no drawings: %q", got)
	}
}
