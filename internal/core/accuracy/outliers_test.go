package accuracy

import (
	"math"
	"math/rand/v2"
	"testing"

	"zestysketch/internal/core/lines"
	"zestysketch/internal/core/plane"
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

// A slip is seen where strokes lie everywhere and go one way, such as grass, of which a drawing
// has some: wherever such a box is taken to lie, much of it falls on others' strokes, and where
// it was drawn clearly more.
func TestSlipAmongManyStrokes(t *testing.T) {
	n, seen := squares(3, 3), 0
	for seed := range uint64(6) {
		for _, slip := range []plane.Point{{}, {X: 24, Y: -12}, {X: -8, Y: 25}} {
			rng := rand.New(rand.NewPCG(3, seed))
			var wanted, drawn []lines.Mark
			for i := range n.count() {
				x, y := n.middle(i)
				var marks []lines.Mark
				for range 60 {
					a, b := x-30+60*rng.Float64(), y-30+60*rng.Float64()
					sin, cos := math.Sincos(0.5 + 0.8*rng.Float64())
					stroke := slanting(a, b, a+10*cos, b+10*sin)
					wanted = append(wanted, stroke...)
					if rng.Float64() < 0.6 {
						marks = append(marks, stroke...)
					}
				}
				if i == 4 {
					marks = moved(marks, slip.X, slip.Y)
				}
				drawn = append(drawn, marks...)
			}
			s, _ := measuredBoxes(n, wanted, drawn)
			for i, got := range s {
				if got.sure == None || max(got.shift.Len(), got.slipped) < slipCell*n.cell {
					continue
				}
				sin, cos := math.Sincos(got.across * math.Pi / 180)
				off := got.shift.Sub(slip)
				if got.sure == Across {
					off = plane.Pt(off.X*cos+off.Y*sin, 0)
				}
				if i != 4 || off.Len() > 4 || got.slipped > slip.Len()+4 {
					t.Errorf("%d: box %d of which one slipped by %v tells %+v", seed, i, slip, got)
				}
				seen++
			}
		}
	}
	if seen < 11 {
		t.Errorf("%d of 12 slips seen", seen)
	}
}

// A box in which nothing is drawn but the end of what stands in the next: that is where it
// belongs, and looks like the box's own lines are found there.
func TestNextBoxesLinesAreNoSlip(t *testing.T) {
	n := squares(3, 3)
	star := func(x, y float64) []lines.Mark {
		return append(slanting(x, y, x-19, y-24), append(slanting(x, y, x+28, y-12), slanting(x, y, x-6, y+30)...)...)
	}
	var wanted, drawn []lines.Mark
	for i := range n.count() {
		x, y := n.middle(i)
		marks := append(ring(x-16, y+14, 9), slanting(x-2, y-24, x+22, y-14)...)
		if i == 3 {
			marks = star(x+31, y+10)
		}
		if i == 4 {
			wanted = append(wanted, append(star(x-10, y-8), append(slanting(x+6, y-28, x+30, y+4), slanting(x-4, y+28, x+28, y+20)...)...)...)
			continue
		}
		wanted, drawn = append(wanted, marks...), append(drawn, marks...)
	}
	s, _ := measuredBoxes(n, wanted, drawn)
	if got := s[4]; got.sure != None && got.shift.Len() > slipCell*n.cell || got.slipped > 0 {
		t.Errorf("the box of which nothing is drawn tells %+v", got)
	}
}
