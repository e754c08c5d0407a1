package accuracy

import (
	"math"
	"testing"

	"zestysketch/internal/core/lines"
)

// slips measures three by three boxes with a ring and a line in each, the middle one with
// lines of its own that are drawn somewhere else, and returns what that one tells. No other
// box may tell that it is wrong.
func slips(t *testing.T, own func(x, y float64) []lines.Mark, dx, dy float64) boxShift {
	t.Helper()
	n := squares(3, 3)
	var wanted, drawn []lines.Mark
	for i := range n.count() {
		x, y := n.middle(i)
		marks := append(ring(x-12, y+5, 7), slanting(x-2, y-24, x+22, y-14)...)
		if i == 4 {
			marks = own(x, y)
		}
		wanted = append(wanted, marks...)
		if i == 4 {
			marks = moved(marks, dx, dy)
		}
		drawn = append(drawn, marks...)
	}
	s, _ := measuredBoxes(n, wanted, drawn)
	for i, got := range s {
		if i != 4 && (got.sure != None && got.shift.Len() > 2 || got.slipped > 0) {
			t.Errorf("slip %v,%v: box %d, which lies right, tells %+v", dx, dy, i, got)
		}
	}
	return s[4]
}

// What slipped by itself is seen also where its lines lie in the next box alone, and its own
// is empty; where half of them fall on lines of the next box; and where a bow slipped for
// the most part along itself. Where it lies right nothing of the kind is said.
func TestSlipsNextDoor(t *testing.T) {
	for name, c := range map[string]struct {
		own    func(x, y float64) []lines.Mark
		dx, dy float64
	}{
		"all in the next box": {func(x, y float64) []lines.Mark {
			return append(ring(x+19, y+6, 8), slanting(x+8, y-20, x+28, y-10)...)
		}, 27, 4},
		"half on the next box's lines": {func(x, y float64) []lines.Mark { // whose ring is 52 to the right, 5 down
			return append(ring(x+24, y+5, 7), append(slanting(x+6, y-24, x+28, y-14), slanting(x-4, y+18, x+28, y+30)...)...)
		}, 28, 0},
		"a short bow": {func(x, y float64) []lines.Mark { return ring(x-14, y+14, 20)[98:121] }, 20, 0},
		"a wide bow":  {func(x, y float64) []lines.Mark { return ring(x-56, y+56, 80)[406:473] }, 18, 8},
	} {
		if got := slips(t, c.own, 0, 0); got.sure != None && got.shift.Len() > 2 || got.slipped > 0 {
			t.Errorf("%s, and lies right: %+v", name, got)
		}
		got := slips(t, c.own, c.dx, c.dy)
		if got.sure == None || max(got.shift.Len(), got.slipped) < slipCell*64 || got.sure == Both && math.Hypot(got.shift.X-c.dx, got.shift.Y-c.dy) > 2 {
			t.Errorf("%s, slipped by %v,%v: %+v", name, c.dx, c.dy, got)
		}
	}
}
