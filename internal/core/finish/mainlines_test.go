package finish

import (
	"slices"
	"testing"

	"zestysketch/internal/core/lines"
	"zestysketch/internal/core/plane"
)

// Lines are named by the boxes at their ends, or those they go round; the
// weightiest first, no name twice.
func TestMainLines(t *testing.T) {
	at := func(points ...float64) (out []plane.Point) { // mm on the sheet of 4 × 4 boxes of 40 mm
		for i := 0; i < len(points); i += 2 {
			out = append(out, plane.Pt(points[i]*perMM, points[i+1]*perMM))
		}
		return out
	}
	s := lines.Sketch{PerMM: perMM, Strokes: []lines.Stroke{
		{Points: at(5, 5, 155, 150)},
		{Points: at(10, 100, 60, 60, 150, 100), Closed: true},
		{Points: at(8, 8, 150, 155)},
		{Points: at(90, 90, 110, 110)},
		{Points: at(130, 10, 130, 60)},
	}}
	want := []string{"the line from A1 to D4", "the line round A3 and D3", "the line in C3", "the line from D1 to D2"}
	if got := MainLines(s, four(t), 8); !slices.Equal(got, want) {
		t.Errorf("%q; want %q", got, want)
	}
	if got := MainLines(s, four(t), 2); len(got) != 2 {
		t.Errorf("%q; want two", got)
	}
}
