package strokes_test

import (
	"math"
	"slices"
	"testing"

	"zestysketch/internal/core/lines"
	"zestysketch/internal/core/strokes"
)

// ring returns the marks of a circle, and bar those of a straight line down.
func ring(x, y, r float64) (marks []lines.Mark) {
	for i := range int(2 * math.Pi * r) {
		sin, cos := math.Sincos(float64(i) / r)
		marks = append(marks, lines.Mark{X: float32(x + r*cos), Y: float32(y + r*sin), NX: float32(cos), NY: float32(sin), Weight: 1})
	}
	return marks
}

func bar(x, y, long float64) (marks []lines.Mark) {
	for i := range int(long) {
		marks = append(marks, lines.Mark{X: float32(x), Y: float32(y) + float32(i), NX: 1, Weight: 1})
	}
	return marks
}

// A ring closes and a bar does not; every mark is in one stroke at most.
func TestLink(t *testing.T) {
	all := strokes.Link(slices.Concat(ring(60, 60, 30), bar(150.5, 20.5, 80)), 200, 120)
	closed, longest := 0, 0
	for _, s := range all {
		longest = max(longest, len(s.Marks))
		if s.Closed && len(s.Marks) > 150 {
			closed++
		}
	}
	if closed != 1 || len(all) != 2 || longest < 170 {
		t.Errorf("%d strokes, %d of them closed, the longest of %d marks; want a ring of about 188 and a bar", len(all), closed, longest)
	}
}

// Runs go across short gaps and end at long ones.
func TestRuns(t *testing.T) {
	s := strokes.Stroke{Marks: bar(0, 0, 40)}
	gone := func(m lines.Mark) bool { return m.Y < 10 && m.Y != 5 || m.Y >= 30 }
	runs := s.Runs(gone, 2)
	if len(runs) != 2 || len(runs[0].Marks) != 10 || len(runs[1].Marks) != 10 {
		t.Errorf("runs %v; want two of ten marks each", runs)
	}
	if all := s.Runs(func(lines.Mark) bool { return false }, 2); all != nil {
		t.Errorf("runs of nothing: %v", all)
	}
}

// Strokes that lie side by side are a group before further ones join; what lies further than the reach
// never does.
func TestGroups(t *testing.T) {
	all := []strokes.Stroke{{Marks: bar(10, 10, 30)}, {Marks: bar(16, 10, 30)}, {Marks: bar(30, 10, 30)}, {Marks: bar(90, 10, 30)}}
	groups := strokes.Groups(all, 20)
	for _, want := range [][]int{{0}, {1}, {2}, {3}, {0, 1}, {0, 1, 2}} {
		if !slices.ContainsFunc(groups, func(g []int) bool { g = slices.Sorted(slices.Values(g)); return slices.Equal(g, want) }) {
			t.Errorf("no group %v in %v", want, groups)
		}
	}
	if len(groups) != 6 {
		t.Errorf("%d groups; want 6: %v", len(groups), groups)
	}
	if apart := strokes.Apart(all, 20); len(apart) != 2 || len(apart[0]) != 3 || len(apart[1]) != 1 {
		t.Errorf("apart %v; want the first three, and the last", apart)
	}
}
