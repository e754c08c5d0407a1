package reading_test

import (
	"math"
	"slices"
	"strings"
	"testing"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/lines"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/core/reading"
)

// strokes turns lines in millimetres into strokes in the picture's pixels.
func strokes(all [][]plane.Point) (out []lines.Stroke) {
	for _, run := range all {
		s := lines.Stroke{Weight: 1}
		n := len(run)
		if s.Closed = n > 3 && run[0].Sub(run[n-1]).Len() < 1e-9; s.Closed {
			run = run[:n-1]
		}
		for _, p := range run {
			s.Points = append(s.Points, p.Mul(perMM))
		}
		out = append(out, s)
	}
	return out
}

// Neighbours have the same crossings at the same places, pieces begin and end where they
// say, and every crossing belongs to a piece.
func TestCrossingsAgree(t *testing.T) {
	p := plan(t)
	for seed := range uint64(4) {
		r := reading.Read(p, strokes(curves(seed, 24)), reading.Wish{})
		seen := map[int][]reading.Crossing{}
		for _, b := range r.Boxes {
			used := make([]bool, len(b.Crossings))
			for i, q := range b.Pieces {
				for k, c := range [2]int{q.From, q.To} {
					if c < 0 {
						continue
					}
					used[c] = true
					end := q.Points[0]
					if k == 1 {
						end = q.Points[len(q.Points)-1]
					}
					if d := end.Sub(b.Crossings[c].Place()).Len(); d > 0.013 {
						t.Errorf("%s: an end of piece %d lies %.3f from the crossing it names", b.Label, i, d)
					}
				}
			}
			for i, c := range b.Crossings {
				seen[c.ID] = append(seen[c.ID], c)
				if !used[i] {
					t.Errorf("%s: nothing goes to its crossing %+v", b.Label, c)
				}
			}
		}
		opposite := map[reading.Side]reading.Side{reading.Left: reading.Right, reading.Right: reading.Left, reading.Top: reading.Bottom, reading.Bottom: reading.Top}
		for id, two := range seen {
			if len(two) != 2 || two[0].Side != opposite[two[1].Side] || math.Abs(two[0].At-two[1].At) > 1e-9 || two[0].Direction != two[1].Direction {
				t.Errorf("crossing %d is %+v; want the same from both sides", id, two)
			}
		}
	}
}

// A picture in a mirror, or a quarter turn, is read in a mirror, or turned; one twice as
// large is read alike.
func TestMirroredAndScaled(t *testing.T) {
	p := plan(t)
	all := curves(3, 24)
	read := func(change func(plane.Point) plane.Point) map[string]reading.Box {
		var changed [][]plane.Point
		for _, run := range all {
			var to []plane.Point
			for _, q := range run {
				to = append(to, change(q))
			}
			changed = append(changed, to)
		}
		out := map[string]reading.Box{}
		for _, b := range reading.Read(p, strokes(changed), reading.Wish{}).Boxes {
			out[b.Label] = b
		}
		return out
	}
	same := read(func(q plane.Point) plane.Point { return q })
	mirrored := read(func(q plane.Point) plane.Point { return plane.Pt(wide-q.X, q.Y) })
	upside := read(func(q plane.Point) plane.Point { return plane.Pt(wide-q.X, high-q.Y) })
	for _, c := range p.Cells() {
		b := same[c.Label]
		m := mirrored[p.Cell(p.Grid.Columns-1-c.Column, c.Row).Label]
		u := upside[p.Cell(p.Grid.Columns-1-c.Column, p.Grid.Rows-1-c.Row).Label]
		if len(b.Pieces) != len(m.Pieces) || len(b.Crossings) != len(m.Crossings) || len(b.Pieces) != len(u.Pieces) ||
			math.Abs(b.Difficulty-m.Difficulty) > 0.05 || math.Abs(b.Difficulty-u.Difficulty) > 0.05 {
			t.Errorf("%s: %d pieces, %d crossings, %.2f hard; mirrored %d, %d, %.2f", c.Label, len(b.Pieces), len(b.Crossings), b.Difficulty, len(m.Pieces), len(m.Crossings), m.Difficulty)
			continue
		}
		for i, q := range b.Pieces {
			if math.Abs(math.Abs(q.Bend)-math.Abs(m.Pieces[i].Bend)) > 0.01 || math.Abs(q.Bend+u.Pieces[i].Bend) > 0.01 || q.Shape != m.Pieces[i].Shape || q.Shape != u.Pieces[i].Shape {
				t.Errorf("%s: piece %d bends %.3f, %s; mirrored %.3f, %s; turned %.3f, %s", c.Label, i, q.Bend, q.Shape, m.Pieces[i].Bend, m.Pieces[i].Shape, u.Pieces[i].Bend, u.Pieces[i].Shape)
			}
		}
	}
}

// Figures everybody knows are called by their names.
func TestShapes(t *testing.T) {
	p := plan(t)
	cw, ch := wide/float64(p.Grid.Columns), high/float64(p.Grid.Rows) // 13.3 × 12 mm
	at := func(points ...plane.Point) [][]plane.Point {               // in box D4, by parts of it
		run := make([]plane.Point, len(points))
		for i, q := range points {
			run[i] = plane.Pt((3+q.X)*cw, (3+q.Y)*ch)
		}
		return [][]plane.Point{run}
	}
	ring := func(rx, ry float64, from, to float64) (out []plane.Point) {
		for i := range 61 {
			sin, cos := math.Sincos((from + (to-from)*float64(i)/60) * math.Pi / 180)
			out = append(out, plane.Pt(0.5+rx*cos/cw*12, 0.5+ry*sin))
		}
		return out
	}
	wave := func() (out []plane.Point) {
		for i := range 61 {
			x := float64(i)/50 - 0.1
			out = append(out, plane.Pt(x, 0.5+0.2*math.Sin(2*math.Pi*x)))
		}
		return out
	}
	drop := append(ring(0.25, 0.25, 45, 315), plane.Pt(0.5+0.25*math.Sqrt2*12/cw, 0.5), ring(0.25, 0.25, 45, 45)[0])
	pt := plane.Pt
	for _, c := range []struct {
		name  string
		lines [][]plane.Point
		shape reading.Shape
		say   string
	}{
		{"level", at(pt(-0.2, 0.3), pt(1.2, 0.3)), reading.Straight, "level"},
		{"rising", at(pt(-0.2, 1.2), pt(1.2, -0.2)), reading.Straight, "half-way between level and upright, rising to the right"},
		{"steep", at(pt(0.2, 1.2), pt(0.6, -0.2)), reading.Straight, "steep"},
		{"arc", at(ring(0.42, 0.42, 180, 360)...), reading.HalfDisc, "bulging up"},
		{"arch", at(ring(0.9, 0.2, 200, 340)...), reading.Arc, "bulging up"},
		{"corner", at(pt(-0.2, 0.3), pt(0.6, 0.3), pt(0.6, 1.2)), reading.Corner, "corner"},
		{"S", at(wave()...), reading.S, "like an S"},
		{"disc", at(ring(0.3, 0.3, 0, 360)...), reading.Disc, "closed disc"},
		{"oval", at(ring(0.4, 0.2, 0, 360)...), reading.Oval, "closed oval"},
		{"triangle", at(pt(0.2, 0.8), pt(0.8, 0.8), pt(0.5, 0.2), pt(0.2, 0.8)), reading.Triangle, "triangle"},
		{"rectangle", at(pt(0.2, 0.3), pt(0.8, 0.3), pt(0.8, 0.7), pt(0.2, 0.7), pt(0.2, 0.3)), reading.Rectangle, "rectangle"},
		{"drop", at(drop...), reading.Drop, "drop"},
		{"rectangle, begun on a side", at(pt(0.4, 0.3), pt(0.8, 0.3), pt(0.8, 0.7), pt(0.2, 0.7), pt(0.2, 0.3), pt(0.4, 0.3)), reading.Rectangle, "rectangle"},
	} {
		i := slices.IndexFunc(reading.Read(p, strokes(c.lines), reading.Wish{}).Boxes, func(b reading.Box) bool { return b.Label == "D4" })
		b := reading.Read(p, strokes(c.lines), reading.Wish{}).Boxes[i]
		if b.Shape != c.shape || !strings.Contains(strings.Join(b.Say, " "), c.say) {
			t.Errorf("%s is called %q, near %.2f, said %q; want %q and %q", c.name, b.Shape, b.Near, b.Say, c.shape, c.say)
		}
	}
}

// Fractions are said as people say them, as finely as the teacher wishes.
func TestFractions(t *testing.T) {
	for _, c := range []struct {
		finest reading.Finest
		at     float64
		say    string
	}{
		{reading.Thirds, 0.5, "a half"}, {reading.Thirds, 0.34, "a third"}, {reading.Thirds, 0.37, "a little more than a third"}, {reading.Thirds, 0.71, "not quite three quarters"},
		{reading.Quarters, 0.36, "between a quarter and a half"},
		{reading.Quarters, 0.3, "a little more than a quarter"}, {reading.Halves, 0.2, "less than a half"},
		{reading.Halves, 0.8, "more than a half"},
		{reading.Tenths, 0.1, "a tenth"}, {reading.Tenths, 0.41, "two fifths"}, {reading.Thirds, 0.1, "less than a quarter"}, {reading.Thirds, 0.06, "a little way"}, {reading.Quarters, 0.93, "almost all the way"}, {reading.Thirds, 0.99, ""}, {reading.Thirds, 0, ""},
	} {
		if got := c.finest.Say(c.at); got != c.say {
			t.Errorf("%g by %s is %q; want %q", c.at, c.finest, got, c.say)
		}
	}
}

// What cannot be read is answered honestly: nothing, a line along the grid, a texture, and
// more boxes than anybody draws.
func TestHardToRead(t *testing.T) {
	p := plan(t)
	for _, b := range reading.Read(p, nil, reading.Wish{}).Boxes {
		if b.Difficulty != 0 || len(b.Say) != 1 || !strings.Contains(b.Say[0], "stays empty") {
			t.Fatalf("an empty box: %+v", b)
		}
	}
	cw, ch := wide/float64(p.Grid.Columns), high/float64(p.Grid.Rows)
	var on []plane.Point
	for i := range 200 { // along the line between D and E, wavering by a hair
		on = append(on, plane.Pt(4*cw+0.05*math.Sin(float64(i)), 2.5*ch+float64(i)*3*ch/200))
	}
	along, crossings := 0, 0
	for _, b := range reading.Read(p, strokes([][]plane.Point{on}), reading.Wish{}).Boxes {
		along += len(b.Along)
		for _, c := range b.Crossings {
			if c.Side == reading.Left || c.Side == reading.Right {
				crossings++
			}
		}
	}
	if along == 0 || crossings > 0 {
		t.Errorf("a line along the grid: along %d sides, %d crossings of it; want some, and none", along, crossings)
	}
	var hatching [][]plane.Point
	for i := range 40 {
		x := (5.1 + 0.8*float64(i)/40) * cw
		hatching = append(hatching, []plane.Point{plane.Pt(x, 4.9*ch), plane.Pt(x, 6.1*ch)})
	}
	for _, b := range reading.Read(p, strokes(hatching), reading.Wish{}).Boxes {
		if b.Label == "F6" && (!b.TooMuch || !strings.Contains(b.Key, "divide this box again") || strings.Contains(strings.Join(b.Say, " "), "ivide")) {
			t.Errorf("hatching: %d pieces, the teacher is told %q", len(b.Pieces), b.Key)
		}
	}
}

// A picture by a quarter turn is read by a quarter turn: each box, where it now is, has as
// many crossings and pieces, bent as strongly, of the same shapes, and is as hard.
func TestQuarterTurn(t *testing.T) {
	p := plan(t)
	q, err := grid.Make(grid.Request{Name: "Turned", Picture: [2]int{high * perMM, wide * perMM}, Reference: "120 mm", Paper: "A3", Method: "parts", Parts: "10 x 12", Margin: "10 mm", Units: "cm"})
	if err != nil {
		t.Fatal(err)
	}
	all := curves(5, 24)
	var turned [][]plane.Point
	for _, run := range all {
		var to []plane.Point
		for _, at := range run {
			to = append(to, plane.Pt(high-at.Y, at.X))
		}
		turned = append(turned, to)
	}
	was, now := reading.Read(p, strokes(all), reading.Wish{}), map[string]reading.Box{}
	for _, b := range reading.Read(q, strokes(turned), reading.Wish{}).Boxes {
		now[b.Label] = b
	}
	for i, c := range p.Cells() {
		b, m := was.Boxes[i], now[q.Cell(p.Grid.Rows-1-c.Row, c.Column).Label]
		if len(b.Crossings) != len(m.Crossings) || len(b.Pieces) != len(m.Pieces) || math.Abs(b.Difficulty-m.Difficulty) > 0.05 {
			t.Errorf("%s: %d crossings, %d pieces, %.2f hard; turned %d, %d, %.2f", c.Label, len(b.Crossings), len(b.Pieces), b.Difficulty, len(m.Crossings), len(m.Pieces), m.Difficulty)
			continue
		}
		for k, piece := range b.Pieces {
			if other := m.Pieces[k]; piece.Shape != other.Shape || math.Abs(math.Abs(piece.Bend)-math.Abs(other.Bend)) > 0.01 {
				t.Errorf("%s: piece %d bends %.3f, %s; turned %.3f, %s", c.Label, k, piece.Bend, piece.Shape, other.Bend, other.Shape)
			}
		}
	}
}

// Shares add up to one and follow how hard boxes are; the crowded ones are those with more
// crossings than wanted that nobody divided, the most crowded first.
func TestSharesAndCrowded(t *testing.T) {
	p := plan(t)
	p.Grid.Split = map[string]int{"D4": 2}
	cw, ch := wide/float64(p.Grid.Columns), high/float64(p.Grid.Rows)
	var all [][]plane.Point
	for _, c := range []struct {
		column float64
		lines  int
	}{{3, 5}, {6, 4}, {8, 1}} { // upright through D4, G4 and I4
		for i := range c.lines {
			x := (c.column + 0.1 + 0.8*float64(i)/5) * cw
			all = append(all, []plane.Point{plane.Pt(x, 2.8*ch), plane.Pt(x, 4.2*ch)})
		}
	}
	r := reading.Read(p, strokes(all), reading.Wish{})
	shares, sum := r.Shares(), 0.0
	for _, s := range shares {
		sum += s
	}
	if len(shares) != p.Count() || math.Abs(sum-1) > 1e-9 {
		t.Errorf("%d shares of %d boxes, %.4f in all", len(shares), p.Count(), sum)
	}
	if none := reading.Read(p, nil, reading.Wish{}).Shares(); none != nil {
		t.Errorf("an empty picture has shares %v", none)
	}
	var names []string
	for _, b := range r.Crowded(6) {
		names = append(names, b.Label)
	}
	if !slices.Equal(names, []string{"G4"}) {
		t.Errorf("crowded are %v; want G4, for D4 is divided and I4 holds two crossings", names)
	}
	if got := p.Halved("G4", "D4"); got != "D4 2, G4 2" {
		t.Errorf("halved as well: %q", got)
	}
}
