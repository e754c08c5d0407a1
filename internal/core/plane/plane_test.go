package plane

import (
	"encoding/json"
	"errors"
	"math"
	"math/rand/v2"
	"testing"
)

func some(rng *rand.Rand) Point { return Pt(rng.Float64()*200-100, rng.Float64()*200-100) }

func near(a, b Point) bool { return a.Sub(b).Len() < 1e-9 }

// There and back again is where it began.
func TestPointLaws(t *testing.T) {
	rng := rand.New(rand.NewPCG(1, 2))
	for range 200 {
		p, q, k := some(rng), some(rng), rng.Float64()
		if !near(p.Add(q).Sub(q), p) {
			t.Fatalf("%v + %v - %v = %v", p, q, q, p.Add(q).Sub(q))
		}
		if !near(p.To(q, 0), p) || !near(p.To(q, 1), q) || !near(p.To(q, k), q.To(p, 1-k)) {
			t.Fatalf("from %v to %v: %v at %g, %v back", p, q, p.To(q, k), k, q.To(p, 1-k))
		}
		if got, want := p.Mul(k).Len(), k*math.Sqrt(p.X*p.X+p.Y*p.Y); math.Abs(got-want) > 1e-9 {
			t.Fatalf("%g × %v is %g long; want %g", k, p, got, want)
		}
		b, err := json.Marshal(p)
		var back Point
		if err != nil || json.Unmarshal(b, &back) != nil || back != p {
			t.Fatalf("%v is %s, read back %v", p, b, back)
		}
	}
	if b, _ := json.Marshal(Pt(1.5, -2)); string(b) != "[1.5,-2]" {
		t.Errorf("in JSON %s; want [1.5,-2]", b)
	}
	for _, bad := range []string{`{"X":1}`, `"1,2"`, `[1,"2"]`} {
		if err := json.Unmarshal([]byte(bad), new(Point)); err == nil {
			t.Errorf("%s was read as a point", bad)
		}
	}
}

// A box is half open, as image.Rectangle is: neighbours share no point.
func TestIn(t *testing.T) {
	r := Rect{Min: Pt(1, 2), Max: Pt(4, 6)}
	for p, want := range map[Point]bool{Pt(1, 2): true, Pt(3.999, 5.999): true, Pt(4, 3): false, Pt(2, 6): false, Pt(0.999, 3): false, Pt(2, 1.9): false} {
		if p.In(r) != want {
			t.Errorf("%v in %v: %v; want %v", p, r, p.In(r), want)
		}
	}
	if r.Width() != 3 || r.Height() != 4 || r.Middle() != Pt(2.5, 4) {
		t.Errorf("%g × %g about %v; want 3 × 4 about (2.5, 4)", r.Width(), r.Height(), r.Middle())
	}
}

// What is cut lies in the box and on the line; a line that misses is none.
func TestCut(t *testing.T) {
	rng := rand.New(rand.NewPCG(3, 4))
	r, wide := Rect{Min: Pt(-30, -20), Max: Pt(40, 50)}, Rect{Min: Pt(-30-1e-9, -20-1e-9), Max: Pt(40+1e-9, 50+1e-9)}
	for range 500 {
		a, b := some(rng), some(rng)
		from, to, ok := r.Cut(a, b)
		met := false
		for i := range 1001 {
			met = met || a.To(b, float64(i)/1000).In(r)
		}
		if met && !ok {
			t.Fatalf("%v to %v meets the box, and nothing was cut", a, b)
		}
		if !ok {
			continue
		}
		for _, p := range []Point{from, to} {
			if !p.In(wide) || math.Abs((b.X-a.X)*(p.Y-a.Y)-(b.Y-a.Y)*(p.X-a.X)) > 1e-6 {
				t.Fatalf("%v to %v was cut at %v, off the line or the box", a, b, p)
			}
		}
	}
}

// A rectangle has its own area, sides and ratio whichever way it is turned.
func TestQuad(t *testing.T) {
	for turn := range 12 {
		sin, cos := math.Sincos(float64(turn) * math.Pi / 6)
		var q Quad
		for i, c := range Box(30, 20) {
			q[i] = Pt(5+c.X*cos-c.Y*sin, 7+c.X*sin+c.Y*cos)
		}
		if q.Check() != nil || math.Abs(q.Area()-600) > 1e-9 || math.Abs(q.Ratio()-1.5) > 1e-9 || math.Abs(q.Side(0)-30) > 1e-9 || math.Abs(q.Side(3)-20) > 1e-9 {
			t.Errorf("turned %d: %v, area %g, ratio %g", turn*30, q.Check(), q.Area(), q.Ratio())
		}
	}
	for name, bad := range map[string]Quad{
		"crossed":     {Pt(1, 0), Pt(0, 0), Pt(1, 1), Pt(0, 1)},
		"a heap":      {},
		"backwards":   {Pt(0, 0), Pt(0, 1), Pt(1, 1), Pt(1, 0)},
		"on one line": {Pt(0, 0), Pt(1, 0), Pt(2, 0), Pt(0, 1)},
		"not numbers": {Pt(math.NaN(), 0), Pt(1, 0), Pt(1, 1), Pt(0, 1)},
		"without end": {Pt(0, 0), Pt(math.Inf(1), 0), Pt(1, 1), Pt(0, 1)},
	} {
		if err := bad.Check(); !errors.Is(err, ErrCorners) {
			t.Errorf("%s: %v; want ErrCorners", name, err)
		}
	}
}
