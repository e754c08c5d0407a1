package finish

import (
	"math"
	"testing"
)

// Four tones in a cross, by hand: each gets a pattern as close as it is dark, none that touch
// are alike, and numbers and lines go by size.
func TestPatterns(t *testing.T) {
	tones := func(x, y float64) float64 {
		switch {
		case x < 100 && y < 100:
			return 15
		case x < 100:
			return 110
		case y < 100:
			return 180
		case x > 150 && y > 150:
			return 15
		}
		return 245
	}
	p, err := NewPatterns(drawn(tones), perMM, four(t), false)
	if err != nil {
		t.Fatal(err)
	}
	if len(p.Areas) < 4 || p.Areas[0].Pattern != Black || p.Areas[0].Box != "A1" || p.Areas[0].Line != broadLine {
		t.Fatalf("%+v; want the dark quarter black, with a broad line", p.Areas)
	}
	touch, of := touching(p.Map, 1), map[int32]Filled{}
	for i, a := range p.Areas {
		of[int32(a.Area)] = a
		if a.Number != i+1 || i > 0 && a.MM2 > p.Areas[i-1].MM2 {
			t.Errorf("area %d is out of its order: %+v", i, a)
		}
		if m := p.Map; m.At[int(a.At.Y*m.PerMM)*m.W+int(a.At.X*m.PerMM)] != int32(a.Area) {
			t.Errorf("the number of area %d stands outside it", a.Number)
		}
	}
	for a, beside := range touch {
		for b := range beside {
			x, one := of[a]
			y, two := of[b]
			if one && two && x.Pattern == y.Pattern {
				t.Errorf("%d and %d touch and are both %s", x.Number, y.Number, x.Pattern)
			}
			if one && two && p.Map.Areas[x.Area].Step == 0 && p.Map.Areas[y.Area].Step == 3 && x.Pattern < y.Pattern {
				t.Errorf("the dark area is %s and the light one %s", x.Pattern, y.Pattern)
			}
		}
	}
	if white, err := NewPatterns(drawn(func(float64, float64) float64 { return 250 }), perMM, four(t), false); err != nil || len(white.Areas) > 1 {
		t.Errorf("of white paper: %+v, %v", white.Areas, err)
	}
}

// A line drawing, by hand: a ring between two circles, its inside, and the paper round it are
// three areas; the paper stays, the two others differ though a line lies between them.
func TestPatternsOfLines(t *testing.T) {
	p, err := NewPatterns(drawn(func(x, y float64) float64 {
		for _, r := range []float64{60, 30} {
			if math.Abs(math.Hypot(x-80, y-80)-r) < 0.6 {
				return 20
			}
		}
		return 250
	}), perMM, four(t), true)
	if err != nil {
		t.Fatal(err)
	}
	want := []float64{160*160 - math.Pi*60*60, math.Pi * (60*60 - 30*30), math.Pi * 30 * 30}
	if len(p.Areas) != 3 {
		t.Fatalf("%d areas; want three: %+v", len(p.Areas), p.Areas)
	}
	for i, a := range p.Areas {
		if math.Abs(a.MM2-want[i]) > 0.06*want[i] {
			t.Errorf("area %d has %.0f mm²; want %.0f less its lines", i+1, a.MM2, want[i])
		}
	}
	if p.Areas[0].Pattern != Bare || p.Areas[1].Pattern == Bare || p.Areas[1].Pattern == p.Areas[2].Pattern {
		t.Errorf("%s, %s and %s", p.Areas[0].Pattern, p.Areas[1].Pattern, p.Areas[2].Pattern)
	}
}

// A picture of two like halves is filled alike in both, mirrored or turned half round; one that is like neither is not.
func TestPatternsFollowSymmetry(t *testing.T) {
	// Lines in one half, four cells of unlike size; the other half is theirs by onto.
	cells := func(x, y float64) float64 {
		for _, line := range []float64{math.Abs(x - 2), math.Abs(x - 40), math.Abs(y - 30 - x/8), math.Abs(y - 75), math.Abs(y - 120 + x/5), math.Abs(x - 78)} {
			if line < 0.7 {
				return 10
			}
		}
		return 250
	}
	for name, other := range map[string]func(x, y float64) (float64, float64){
		"mirrored": func(x, y float64) (float64, float64) { return 160 - x, y },
		"turned":   func(x, y float64) (float64, float64) { return 160 - x, 160 - y },
		"level":    func(x, y float64) (float64, float64) { return x, 160 - y },
	} {
		p, err := NewPatterns(drawn(func(x, y float64) float64 {
			if name == "level" && y > 80 || name != "level" && x > 80 {
				x, y = other(x, y)
			}
			return cells(x, y+0.12*x)
		}), perMM, four(t), true)
		if err != nil {
			t.Fatal(err)
		}
		of := map[int32]Pattern{}
		for _, a := range p.Areas {
			of[int32(a.Area)] = a.Pattern
		}
		pairs := 0
		for a, b := range twins(p.Map) {
			x, one := of[a]
			y, two := of[b]
			if !one || !two {
				continue
			}
			if pairs++; x != y {
				t.Errorf("%s: an area has %s, its twin %s", name, x, y)
			}
		}
		if pairs < 12 {
			t.Errorf("%s: %d areas have twins; want at least twelve", name, pairs)
		}
	}
	p, err := NewPatterns(drawn(func(x, y float64) float64 { return cells(x, y+0.12*x) }), perMM, four(t), true)
	if err != nil || len(twins(p.Map)) > 0 {
		t.Errorf("%v, %v; want no twins in a picture of one half", twins(p.Map), err)
	}
}
