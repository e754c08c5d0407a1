package reading_test

import (
	"cmp"
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/lines"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/core/reading"
	"zestysketch/internal/render"
)

// A picture of 160 × 120 mm at ten pixels a millimetre, twelve boxes across and ten down.
const wide, high, perMM = 160.0, 120.0, 10.0

func plan(t testing.TB) grid.Plan {
	t.Helper()
	p, err := grid.Make(grid.Request{Name: "Curves", Picture: [2]int{wide * perMM, high * perMM}, Reference: "160 mm", Paper: "A3", Method: "parts", Parts: "12 x 10", Margin: "10 mm", Units: "cm"})
	if err != nil {
		t.Fatal(err)
	}
	return p
}

// curves are lines of known geometry, mm: straight ones, arcs, waves and rings.
func curves(seed uint64, n int) (all [][]plane.Point) {
	rng := rand.New(rand.NewPCG(seed, 5))
	for k := range n {
		x, y := 15+rng.Float64()*130, 15+rng.Float64()*90
		a, long := rng.Float64()*2*math.Pi, 20+rng.Float64()*50
		bend := (rng.Float64() - 0.5) * 0.06
		var run []plane.Point
		steps := 400
		if k%4 == 3 { // a ring
			rx, ry := 6+rng.Float64()*14, 6+rng.Float64()*14
			for i := range steps + 1 {
				sin, cos := math.Sincos(2 * math.Pi * float64(i) / float64(steps))
				run = append(run, plane.Pt(x+rx*cos, y+ry*sin))
			}
		} else {
			for range steps {
				if k%4 == 2 {
					bend = 0.06 * math.Sin(float64(len(run))/60)
				} else if k%4 == 0 {
					bend = 0
				}
				run = append(run, plane.Pt(x, y))
				x, y, a = x+math.Cos(a)*long/float64(steps), y+math.Sin(a)*long/float64(steps), a+bend*long/float64(steps)
			}
		}
		if slices.ContainsFunc(run, func(p plane.Point) bool { return p.X < 3 || p.Y < 3 || p.X > wide-3 || p.Y > high-3 }) {
			continue
		}
		all = append(all, run)
	}
	return all
}

// drawn returns the lines of a picture of curves, found in its pixels.
func drawn(t testing.TB, all [][]plane.Point) []lines.Stroke {
	t.Helper()
	pg := page.Page{Title: "Curves", Size: measure.Size{W: wide, H: high}}
	for _, run := range all {
		pg.Items = append(pg.Items, page.Path{Points: run, Width: 0.6, Stroke: page.Ink})
	}
	s, err := lines.Draw(render.Pixels(pg, perMM, nil), lines.Wish{Detail: lines.Rich, PerMM: perMM, Drawing: true, Exact: true})
	if err != nil {
		t.Fatal(err)
	}
	return s.Strokes
}

// place is a crossing wherever it is: on which line of the net, and where along it, boxes.
type place struct {
	down bool
	line int
	at   float64
	deg  float64
}

// truth returns where curves cross the net, by their geometry alone. Those that only
// graze a line are marked by NaN directions: whether they cross is a matter of a hair.
func truth(p grid.Plan, all [][]plane.Point) (out []place) {
	cw, ch := wide/float64(p.Grid.Columns), high/float64(p.Grid.Rows)
	for _, run := range all {
		for i := 1; i < len(run); i++ {
			a, b := run[i-1], run[i]
			for k := 1; k < p.Grid.Columns; k++ {
				if x := cw * float64(k); (a.X < x) != (b.X < x) {
					out = append(out, place{true, k, a.To(b, (x-a.X)/(b.X-a.X)).Y / ch, steepness(b.Sub(a))})
				}
			}
			for k := 1; k < p.Grid.Rows; k++ {
				if y := ch * float64(k); (a.Y < y) != (b.Y < y) {
					out = append(out, place{false, k, a.To(b, (y-a.Y)/(b.Y-a.Y)).X / cw, steepness(b.Sub(a))})
				}
			}
		}
	}
	return out
}

func steepness(d plane.Point) float64 {
	a := math.Atan2(-d.Y, d.X) * 180 / math.Pi
	if a > 90 {
		a -= 180
	} else if a <= -90 {
		a += 180
	}
	return a
}

func grazes(p place) bool {
	a := math.Abs(p.deg)
	return p.down && a > 75 || !p.down && a < 15
}

// found returns a reading's crossings as places, each once.
func found(p grid.Plan, r reading.Reading) (out []place) {
	seen := map[int]bool{}
	for _, b := range r.Boxes {
		c, _ := p.Find(b.Label)
		for _, x := range b.Crossings {
			if seen[x.ID] {
				continue
			}
			seen[x.ID] = true
			q := place{deg: x.Direction}
			switch x.Side {
			case reading.Left:
				q.down, q.line, q.at = true, c.Column, float64(c.Row)+x.At
			case reading.Right:
				q.down, q.line, q.at = true, c.Column+1, float64(c.Row)+x.At
			case reading.Top:
				q.line, q.at = c.Row, float64(c.Column)+x.At
			case reading.Bottom:
				q.line, q.at = c.Row+1, float64(c.Column)+x.At
			}
			out = append(out, q)
		}
	}
	return out
}

// On drawings of known geometry nearly all crossings are found, hardly any that are not
// there, close to where they are, and called by the right fraction.
func TestKnownCrossings(t *testing.T) {
	p := plan(t)
	want, hit, have, extra, words, right := 0, 0, 0, 0, 0, 0
	var errs, degs []float64
	for seed := range uint64(6) {
		all := curves(seed, 16)
		known := truth(p, all)
		r := reading.Read(p, drawn(t, all), reading.Wish{})
		got := found(p, r)
		used := make([]bool, len(got))
		for _, k := range known {
			best, at := 0.06, -1
			for i, g := range got {
				if d := math.Abs(g.at - k.at); !used[i] && g.down == k.down && g.line == k.line && d < best {
					best, at = d, i
				}
			}
			if at >= 0 {
				used[at] = true
			}
			if grazes(k) {
				continue
			}
			if want++; at < 0 {
				continue
			}
			hit++
			errs = append(errs, best)
			turn := math.Abs(got[at].deg - k.deg)
			degs = append(degs, min(turn, 180-turn))
			along := k.at - math.Floor(k.at)
			if say := reading.Thirds.Say(along); steady(along) {
				if words++; say == reading.Thirds.Say(got[at].at-math.Floor(k.at)) {
					right++
				}
			}
		}
		for i, g := range got {
			if have++; !used[i] && !grazes(g) {
				extra++
				t.Logf("seed %d: %+v is not there", seed, g)
			}
		}
	}
	slices.SortFunc(errs, cmp.Compare)
	slices.SortFunc(degs, cmp.Compare)
	t.Logf("%d of %d found, %d that are not there, median %.4f, 95 %% under %.4f of a box, direction %.1f°, words %d of %d",
		hit, want, extra, errs[len(errs)/2], errs[len(errs)*95/100], degs[len(degs)*95/100], right, words)
	if float64(hit) < 0.95*float64(want) || float64(extra) > 0.02*float64(have) {
		t.Errorf("%d of %d crossings found and %d of %d are not there; want 95 %% and at most 2 %%", hit, want, extra, have)
	}
	if errs[len(errs)/2] > 0.004 || errs[len(errs)*95/100] > 0.02 {
		t.Errorf("median error %.4f, 95 %% under %.4f; want 0.004 and 0.02", errs[len(errs)/2], errs[len(errs)*95/100])
	}
	if float64(right) < 0.97*float64(words) || words < 100 {
		t.Errorf("%d of %d fractions are called rightly; want 97 %%", right, words)
	}
}

// steady reports whether a place is called the same a little to both sides of it.
func steady(at float64) bool {
	return reading.Thirds.Say(at-0.02) == reading.Thirds.Say(at+0.02) && at > 0.02 && at < 0.98
}

// 120 boxes of a picture of 1600 × 1200 pixels, its lines found already.
func BenchmarkRead(b *testing.B) {
	p := plan(b)
	strokes := drawn(b, curves(1, 40))
	b.ReportAllocs()
	for b.Loop() {
		reading.Read(p, strokes, reading.Wish{})
	}
}
