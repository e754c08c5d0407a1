package accuracy

import (
	"math"
	"math/rand/v2"
	"strings"
	"testing"

	"zestysketch/internal/core/lines"
	"zestysketch/internal/core/plane"
)

// squares is a net of square boxes, 64 pixels a side, with a margin of 16.
func squares(columns, rows int) net {
	n := net{columns: columns, rows: rows, cell: 64, w: 32 + 64*columns, h: 32 + 64*rows}
	for i := range columns + 1 {
		n.x = append(n.x, 16+64*float64(i))
	}
	for i := range rows + 1 {
		n.y = append(n.y, 16+64*float64(i))
	}
	return n
}

// ring returns marks round a circle, one a pixel.
func ring(cx, cy, r float64) (marks []lines.Mark) {
	n := int(2 * math.Pi * r)
	for i := range n {
		sin, cos := math.Sincos(2 * math.Pi * float64(i) / float64(n))
		marks = append(marks, lines.Mark{X: float32(cx + r*cos), Y: float32(cy + r*sin), NX: float32(cos), NY: float32(sin), Weight: 0.5, Ridge: true})
	}
	return marks
}

// upright returns marks of a line straight down.
func upright(x, from, to float64) (marks []lines.Mark) {
	for y := from; y < to; y++ {
		marks = append(marks, lines.Mark{X: float32(x), Y: float32(y), NX: 1, Weight: 0.5, Ridge: true})
	}
	return marks
}

// measured measures wanted marks against drawn ones.
func measuredBoxes(n net, wanted, drawn []lines.Mark) ([]boxShift, [][]pair) {
	boxes := make([][]lines.Mark, n.count())
	for _, m := range wanted {
		if i := n.at(float64(m.X), float64(m.Y)); i >= 0 {
			boxes[i] = append(boxes[i], m)
		}
	}
	index := lines.NewIndex(drawn, n.w, n.h, 4)
	return refine(boxes, index, n, search(boxes, newChannels(drawn, n), n))
}

func moved(marks []lines.Mark, dx, dy float64) (out []lines.Mark) {
	for _, m := range marks {
		m.X += float32(dx)
		m.Y += float32(dy)
		out = append(out, m)
	}
	return out
}

// A round shape tells its shift in both directions, to a twentieth of a pixel.
func TestRoundTellsBoth(t *testing.T) {
	n := squares(3, 3)
	wanted := ring(112, 112, 20)
	for _, d := range [][2]float64{{0, 0}, {6.4, -3.2}, {-17, 12.5}, {25, 0}} {
		s, _ := measuredBoxes(n, wanted, moved(wanted, d[0], d[1]))
		if got := s[4]; got.sure != Both || math.Hypot(got.shift.X-d[0], got.shift.Y-d[1]) > 0.05 {
			t.Errorf("moved by %v: %s %v", d, got.sure, got.shift)
		}
	}
}

// A straight line tells only across itself, whatever happened along it.
func TestStraightTellsAcross(t *testing.T) {
	n := squares(3, 3)
	wanted := upright(110, 84, 140)
	s, _ := measuredBoxes(n, wanted, moved(upright(110, 60, 170), 7.5, 30))
	if got := s[4]; got.sure != Across || math.Abs(got.shift.X-7.5) > 0.05 || math.Abs(got.shift.Y) > 1e-9 || math.Abs(got.across) > 1 {
		t.Errorf("%s %v across %.1f°; want 7.5 across 0°", got.sure, got.shift, got.across)
	}
}

// Rails that repeat look the same a step further: what was sure is taken back.
func TestRailsAreDoubted(t *testing.T) {
	n := squares(3, 3)
	var rails []lines.Mark
	for x := 82.0; x < 144; x += 12 {
		rails = append(rails, upright(x, 84, 140)...)
	}
	var all []lines.Mark // on into the boxes beside
	for x := 34.0; x < 200; x += 12 {
		all = append(all, upright(x, 84, 140)...)
	}
	s, _ := measuredBoxes(n, rails, moved(all, 9, 0))
	if got := s[4]; got.sure != None {
		t.Errorf("rails 12 pixels apart, moved by 9: %s %v; want none", got.sure, got.shift)
	}
}

// Lines that are not there tell nothing, and a box without lines takes its
// neighbours' word in the search.
func TestNothingDrawnTellsNothing(t *testing.T) {
	n := squares(3, 1)
	wanted := append(ring(48, 48, 20), ring(176, 48, 20)...)
	s, _ := measuredBoxes(n, wanted, moved(ring(48, 48, 20), 10, 4))
	if s[0].sure != Both || s[2].sure != None {
		t.Errorf("drawn %s, not drawn %s; want both and none", s[0].sure, s[2].sure)
	}
	boxes := make([][]lines.Mark, 3)
	boxes[0] = ring(48, 48, 20)
	drawn := moved(boxes[0], 10, 4)
	at := search(boxes, newChannels(drawn, n), n).agree(n)
	if math.Hypot(at[1].X-10, at[1].Y-4) > 4 {
		t.Errorf("the empty box beside is taken to be moved by %v; want about 10, 4", at[1])
	}
}

// slanting returns marks of a straight line between two places.
func slanting(ax, ay, bx, by float64) (marks []lines.Mark) {
	long := math.Hypot(bx-ax, by-ay)
	for i := range int(long) {
		t := float64(i) / long
		marks = append(marks, lines.Mark{X: float32(ax + t*(bx-ax)), Y: float32(ay + t*(by-ay)), NX: float32(-(by - ay) / long), NY: float32((bx - ax) / long), Weight: 0.5, Ridge: true})
	}
	return marks
}

// A drawing that has the stronger of its picture's lines alone tells a box that slipped by
// itself, though most of what is wanted is nowhere; and none where none slipped.
func TestStrongerLinesTellASlip(t *testing.T) {
	n := squares(3, 3)
	for _, slip := range [][2]float64{{0, 0}, {22, -8}, {-16, -18}} {
		rng := rand.New(rand.NewPCG(17, 2))
		var wanted, drawn []lines.Mark
		for i := range n.count() {
			x, y := n.middle(i)
			strong := append(ring(x-6, y+5, 11), slanting(x-2, y-24, x+22, y-14)...)
			wanted = append(wanted, strong...)
			for range 18 {
				a, b := x-24+40*rng.Float64(), y-24+40*rng.Float64()
				wanted = append(wanted, slanting(a, b, a+10-20*rng.Float64(), b+14*rng.Float64())...)
			}
			if i == 4 {
				strong = moved(strong, slip[0], slip[1])
			}
			drawn = append(drawn, strong...)
		}
		s, _ := measuredBoxes(n, wanted, drawn)
		for i, got := range s {
			want := [2]float64{}
			if i == 4 {
				want = slip
			}
			if got.sure == Both && math.Hypot(got.shift.X-want[0], got.shift.Y-want[1]) > 2 || i == 4 && got.sure != Both {
				t.Errorf("box %d, of which one slipped by %v: %s %v", i, slip, got.sure, got.shift)
			}
		}
	}
}

// A line that slipped along itself and a little across tells by how much across, and that it is
// off by more; one that is where it belongs tells nothing of the kind.
func TestSlipAlongALine(t *testing.T) {
	n := squares(3, 3)
	line := func(x, y float64) []lines.Mark { return slanting(x-26, y+6, x+26, y-6) }
	for _, slip := range [][2]float64{{0, 0}, {22, 7}} {
		var wanted, drawn []lines.Mark
		for i := range n.count() {
			x, y := n.middle(i)
			marks := append(line(x, y), ring(x, y+18, 9)...)
			if i == 4 {
				marks = line(x, y)
			}
			wanted = append(wanted, marks...)
			if i == 4 {
				marks = moved(marks, slip[0], slip[1])
			}
			drawn = append(drawn, marks...)
		}
		s, _ := measuredBoxes(n, wanted, drawn)
		across := slip[0]*12/math.Hypot(52, 12) + slip[1]*52/math.Hypot(52, 12)
		got := s[4]
		if got.sure != Across || math.Abs(got.shift.Len()-across) > 1 || (got.slipped > slipCell*n.cell) != (slip[0] > 0) || got.slipped > math.Hypot(slip[0], slip[1])+1 {
			t.Errorf("slipped by %v: %s %v (%.1f), at least %.1f; want %.1f across", slip, got.sure, got.shift, got.shift.Len(), got.slipped, across)
		}
	}
}

// The whole's move, turn and size are found among boxes of which one slipped.
func TestWholeAmongSlips(t *testing.T) {
	n := squares(5, 5)
	truth := similar{dx: 3, dy: -2, grow: 0.02, turn: 0.015}
	var wanted, drawn []lines.Mark
	for i := range n.count() {
		x, y := n.middle(i)
		for _, m := range ring(x, y, 18) {
			wanted = append(wanted, m)
			dx, dy := truth.at(float64(m.X)-float64(n.w)/2, float64(m.Y)-float64(n.h)/2)
			if i == 7 {
				dx += 18
			}
			m.X, m.Y = m.X+float32(dx), m.Y+float32(dy)
			drawn = append(drawn, m)
		}
	}
	s, pairs := measuredBoxes(n, wanted, drawn)
	fit, whole := fitPairs(pairs, s, n, noWeight)
	if math.Abs(fit.Scale-2) > 0.15 || math.Abs(fit.Rotation-0.015*180/math.Pi) > 0.1 || math.Hypot(whole.dx-3, whole.dy+2) > 0.3 {
		t.Errorf("%+v %+v; want 2 %% large, 0.86° turned, moved by 3, −2", fit, whole)
	}
	if d := s[7].shift.X - s[6].shift.X; math.Abs(d-18) > 1.5 {
		t.Errorf("the slipped box is %.1f from its neighbour; want 18", d)
	}
}

// A message is the least of what every label would cost.
func TestSpreadAgainstEveryLabel(t *testing.T) {
	rng := rand.New(rand.NewPCG(5, 5))
	const side, k = 7, 0.03
	f := make([]float64, side*side)
	for i := range f {
		f[i] = rng.Float64()
	}
	got := append([]float64(nil), f...)
	var s lines.Scratch
	spread(got, side, k, &s)
	least := math.Inf(1)
	for _, v := range f {
		least = min(least, v)
	}
	for l := range f {
		want := math.Inf(1)
		for q := range f {
			dx, dy := float64(l%side-q%side), float64(l/side-q/side)
			want = min(want, f[q]+k*(dx*dx+dy*dy))
		}
		want = min(want-least, disagree)
		if math.Abs(got[l]-want) > 1e-9 {
			t.Fatalf("label %d: %v; want %v", l, got[l], want)
		}
	}
}

// A drawing of a picture whose halves match has its mirror's lines too, and where one half of
// the picture is more crowded than the drawing, more of them: it is no mirror's, whatever its
// student drew besides. One that is really turned over is seen, and where most of the picture
// is its own mirror, by the little that is not.
func TestHalvesThatMatch(t *testing.T) {
	for name, c := range map[string]struct {
		left, right [2]int // crossing lines of each box, and how many of them are drawn
		besides     int    // lines of the student's own in each box on the left
		turned      bool
	}{
		"crowded on the left":                  {[2]int{9, 2}, [2]int{0, 0}, 0, false},
		"with lines of one's own":              {[2]int{9, 2}, [2]int{0, 0}, 4, false},
		"turned over":                          {[2]int{4, 4}, [2]int{4, 4}, 0, true},
		"turned over, most its own mirror":     {[2]int{2, 2}, [2]int{0, 0}, 0, true},
		"turned over, one line in five drawn":  {[2]int{5, 1}, [2]int{0, 0}, 0, true},
		"turned over, with lines of one's own": {[2]int{3, 3}, [2]int{1, 1}, 1, true},
	} {
		rng, n := rand.New(rand.NewPCG(3, 9)), squares(4, 3)
		seen := Seen{net: n, wanted: make([][]lines.Mark, n.count())}
		crossing := func(x, y float64) []lines.Mark {
			a, b := x-24+34*rng.Float64(), y-24+34*rng.Float64()
			return slanting(a, b, a+14*rng.Float64(), b+20)
		}
		var drawn []lines.Mark
		for i := range n.count() {
			x, y := n.middle(i)
			lines := c.right
			if i%4 < 2 {
				lines = c.left
			}
			marks := ring(x, y, 11)
			for k := range lines[0] {
				line := crossing(x, y)
				seen.wanted[i] = append(seen.wanted[i], line...)
				if k < lines[1] {
					marks = append(marks, line...)
				}
			}
			seen.wanted[i] = append(seen.wanted[i], ring(x, y, 11)...)
			for range c.besides {
				if i%4 < 2 {
					marks = append(marks, moved(slanting(x-24, y-20, x-4, y-14), 0, 30*rng.Float64())...)
				}
			}
			for _, m := range marks {
				if c.turned {
					m.X, m.NX = float32(n.w)-m.X, -m.NX
				}
				drawn = append(drawn, m)
			}
		}
		seen.drawn, seen.channels = lines.NewIndex(drawn, n.w, n.h, 4), newChannels(drawn, n)
		m := seen.Match()
		if said := (Boxes{Matched: m, inBox: m.extras()}).another(0); strings.Contains(said, "mirror") != c.turned {
			t.Errorf("%s: said %q", name, said)
		}
	}
}

// A line with another beside it is known across all the same: the other explains its lines as
// well, but not what is drawn in the box. Along itself nothing is known.
func TestLineBesideAnother(t *testing.T) {
	n := squares(3, 3)
	mx, my := n.middle(4)
	for _, slope := range []float64{0, 0.1, 0.3} {
		var wanted []lines.Mark
		for i := range n.count() {
			if x, y := n.middle(i); i != 4 {
				wanted = append(wanted, ring(x-12, y+5, 7)...)
			}
		}
		for _, down := range []float64{22, 44} { // the second in the boxes below
			wanted = append(wanted, slanting(mx-90, my+down-90*slope, mx+90, my+down+90*slope)...)
		}
		s, _ := measuredBoxes(n, wanted, moved(wanted, 1, 2))
		sin, cos := math.Sincos(s[4].across * math.Pi / 180)
		if off := s[4].shift.X*cos + s[4].shift.Y*sin - cos - 2*sin; s[4].sure != Across || math.Abs(sin) < math.Abs(cos) || math.Abs(off) > 0.1 {
			t.Errorf("slope %v, moved by 1,2: %+v", slope, s[4])
		}
	}
}

// A round that is drawn a third too wide is drawn badly, but it is the picture's; a square in
// its place is another's.
func TestBadlyDrawnIsNoOther(t *testing.T) {
	n := squares(3, 3)
	square := func(x, y, r float64) []lines.Mark {
		return append(append(upright(x-r, y-r, y+r), upright(x+r, y-r, y+r)...), append(slanting(x-r, y-r, x+r, y-r), slanting(x-r, y+r, x+r, y+r)...)...)
	}
	x, y := n.middle(4)
	for _, c := range []struct {
		drawn []lines.Mark
		other bool
	}{{ring(x, y, 26), false}, {square(x, y, 9), true}} {
		seen := Seen{net: n, wanted: make([][]lines.Mark, n.count())}
		drawn := c.drawn
		for i := range n.count() {
			bx, by := n.middle(i)
			seen.wanted[i] = ring(bx, by, 20)
			if i != 4 {
				drawn = append(drawn, seen.wanted[i]...)
			}
		}
		seen.drawn, seen.channels = lines.NewIndex(drawn, n.w, n.h, 4), newChannels(drawn, n)
		m := seen.Match()
		if got := m.other(4, m.extras()[4], m.present()[4]); got != c.other {
			t.Errorf("other lines: %v; want %v", got, c.other)
		}
	}
}

// Bands that hardly slope say how far the whole is off across them; along them it keeps its
// place, whatever their lines' noise would have it.
func TestBandsSayNothingAlong(t *testing.T) {
	n, rng := squares(4, 3), rand.New(rand.NewPCG(5, 2))
	pairs, shifts := make([][]pair, n.count()), make([]boxShift, n.count())
	for i := range pairs {
		x, y := n.middle(i)
		noise := rng.NormFloat64() / 2 // a line's is its own, all along it
		lean := 1.2*float64(i%2) - 0.6
		for _, m := range slanting(x-30, y-lean, x+30, y+lean) {
			pairs[i] = append(pairs[i], pair{m: m, off: 2*float64(m.NY) + noise, w: 1})
		}
		shifts[i].sure = Across
	}
	if _, whole := fitPairs(pairs, shifts, n, placeWeight); math.Abs(whole.dx) > 2 || math.Abs(math.Abs(whole.dy)-2) > 0.5 {
		t.Errorf("moved down by 2: %+v", whole)
	}
	if _, whole := fitPairs(pairs, shifts, n, noWeight); math.Abs(whole.dx) < 4 {
		t.Errorf("unkept they are moved by %+v: these bands show nothing", whole)
	}
}

// What a box does not know along its line, the boxes beside it say, and where none does, the whole.
func TestSettledByItsNeighbours(t *testing.T) {
	d := Seen{net: squares(3, 1)}
	line := boxShift{sure: Across, across: 90, shift: plane.Pt(0, 3)}
	for _, c := range []struct {
		beside boxShift
		want   plane.Point
	}{
		{boxShift{sure: Both, shift: plane.Pt(8, 5)}, plane.Pt(8, 3)},
		{boxShift{sure: None}, plane.Pt(2, 3)},
	} {
		if got := d.fillShifts([]boxShift{c.beside, line, c.beside}, similar{dx: 2, dy: 1}); got[1].Sub(c.want).Len() > 1e-9 {
			t.Errorf("beside %+v: %v; want %v", c.beside, got[1], c.want)
		}
	}
}
