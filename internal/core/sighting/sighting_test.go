package sighting

import (
	"errors"
	"fmt"
	"math"
	"strings"
	"testing"

	"zestysketch/internal/core/measure"
)

func near(a, b measure.Length) bool { return math.Abs(float64(a-b)) < 1e-9 }

// Similar triangles, worked by hand: a 40 × 30 cm frame 50 cm from the eye and
// an object at 2 m is four times as far, so 160 × 120 cm are seen and a 10 cm
// square covers 40 cm. An eye that moves an inch slips three.
func TestStringFrame(t *testing.T) {
	s, err := StringFrame{measure.Size{W: 400, H: 300}, 100, 500, 2000}.Look()
	if err != nil || !near(s.Covers.W, 1600) || !near(s.Covers.H, 1200) || !near(s.Each, 400) || s.Threads != [2]int{3, 2} {
		t.Errorf("%+v, %v", s, err)
	}
	if !near(s.OneInch, 76.2) || math.Abs(s.OneShare-76.2/400) > 1e-9 {
		t.Errorf("the view slips %v; want three inches", s.OneInch)
	}
	for name, f := range map[string]StringFrame{
		"no opening":          {measure.Size{}, 100, 500, 2000},
		"no spacing":          {measure.Size{W: 400, H: 300}, 0, 500, 2000},
		"object at the frame": {measure.Size{W: 400, H: 300}, 100, 500, 500},
		"eye in the frame":    {measure.Size{W: 400, H: 300}, 100, 0, 500},
		"threads too far":     {measure.Size{W: 400, H: 300}, 500, 500, 900},
	} {
		if s, err := f.Look(); !errors.Is(err, ErrAsk) {
			t.Errorf("%s: %+v, %v; want ErrAsk", name, s, err)
		}
	}
}

// A frame that does not stand in its room, or that a still eye does not see whole, is
// doubted; one that fits is not. The limit by hand: 60° across is 1.15 eye distances.
func TestFramesDoubted(t *testing.T) {
	small := StringFrame{measure.Size{W: 400, H: 300}, 100, 500, 2000}
	wide := StringFrame{measure.Size{W: 5000, H: 3000}, 500, 5000, 9000}
	for name, c := range map[string]struct {
		frame StringFrame
		room  measure.Size
		says  []string
	}{
		"fits":              {small, measure.Size{W: 6000, H: 8000}, nil},
		"room not known":    {small, measure.Size{}, nil},
		"wider than a room": {wide, measure.Size{W: 4000, H: 9500}, []string{"does not stand in it"}},
		"too deep":          {small, measure.Size{W: 6000, H: 1500}, []string{"the room is 150 cm deep"}},
		"too near":          {StringFrame{measure.Size{W: 800, H: 300}, 100, 500, 2000}, measure.Size{}, []string{"Stand 70 cm from the threads"}},
	} {
		got := c.frame.Doubts(c.room, measure.Centimetre)
		if len(got) != len(c.says) {
			t.Errorf("%s: %q; want %d doubts", name, got, len(c.says))
			continue
		}
		for i, say := range c.says {
			if !strings.Contains(got[i], say) {
				t.Errorf("%s: %q; want %q", name, got[i], say)
			}
		}
	}
}

// Common practice: at ×100, 6 and 3 are 600 and 300, and the angle stays.
func TestPointing(t *testing.T) {
	got, err := Point([]Pointing{{"knee", 90, 6, 3, 2}, {"top", 0, 6, 0, 0}, {"left", 270, 6, 0, 0}}, 100)
	if err != nil {
		t.Fatal(err)
	}
	knee := got[0]
	if !near(knee.Out, 600) || !near(knee.Drop, 300) || !near(knee.Depth, 200) || knee.Turn != 90 || !near(knee.X, 600) || !near(knee.Y, 0) {
		t.Errorf("knee %+v; want 600 out to the right, 300 down, 200 in", knee)
	}
	if !near(got[1].X, 0) || !near(got[1].Y, -600) || !near(got[2].X, -600) {
		t.Errorf("top %+v, left %+v", got[1], got[2])
	}
	// A law: distances between points are multiplied by the scale.
	one, _ := Point([]Pointing{{"a", 20, 5, 0, 0}, {"b", 130, 8, 0, 0}}, 1)
	many, _ := Point([]Pointing{{"a", 20, 5, 0, 0}, {"b", 130, 8, 0, 0}}, 7.5)
	gap := func(p []Pointed) float64 {
		return math.Hypot(float64(p[0].X-p[1].X), float64(p[0].Y-p[1].Y))
	}
	if math.Abs(gap(many)-7.5*gap(one)) > 1e-9 {
		t.Errorf("the gap is %v; want %v", gap(many), 7.5*gap(one))
	}
	for _, scale := range []float64{0, -1, math.NaN(), math.Inf(1)} {
		if _, err := Point(nil, scale); !errors.Is(err, ErrAsk) {
			t.Errorf("scale %v: %v; want ErrAsk", scale, err)
		}
	}
}

func TestSightSizeAndFold(t *testing.T) {
	points := []Carried{{"chin", 120, -15}, {"brow", 40, 22}}
	same, err := SightSize(points, 1)
	if err != nil || same[0] != points[0] || same[1] != points[1] {
		t.Errorf("at one scale %v, %v; want the same", same, err)
	}
	if twice := Mirrored(Mirrored(points)); twice[0] != points[0] {
		t.Errorf("folded twice %v; want %v", twice[0], points[0])
	}
	if m := Mirrored(points)[0]; m.In != 15 || m.Height != 120 {
		t.Errorf("mirrored %v", m)
	}
	if _, err := SightSize(points, 0); !errors.Is(err, ErrAsk) {
		t.Errorf("no scale: %v; want ErrAsk", err)
	}
}

// Worked by hand: four views of a 6 × 4 × 10 cm jug on a 42 × 29.7 cm sheet
// with 2 cm gutters. Across there is 42 − 10 = 32 for 6 + 4 + 6 + 4 = 20, down
// 25.7 for 10: the width allows 1.6, so a wish of 2 shrinks by a fifth.
func TestShare(t *testing.T) {
	jug := Solid{60, 40, 100, []Level{{"foot", 100}, {"neck", 25}}}
	g, err := Share(jug, 4, measure.Size{W: 420, H: 297}, 20, 2)
	if err != nil || math.Abs(g.Scale-1.6) > 1e-9 || math.Abs(g.Shrunk-20) > 1e-9 {
		t.Fatalf("scale %v, shrunk %v, %v; want 1.6 and 20 %%", g.Scale, g.Shrunk, err)
	}
	if g.Levels[0].Name != "neck" || !near(g.Levels[0].At, g.Top+40) || !near(g.Levels[1].At, g.Bottom) {
		t.Errorf("levels %+v between %v and %v", g.Levels, g.Top, g.Bottom)
	}
	right := measure.Length(0)
	for _, v := range g.Views {
		if v.Left < right+20-1e-9 {
			t.Errorf("%s starts at %v, too near %v", v.Name, v.Left, right)
		}
		right = v.Left + v.Width
	}
	if right > 400+1e-9 {
		t.Errorf("the views end at %v; want 400 at most", right)
	}
	fewer, err := Share(jug, 2, measure.Size{W: 420, H: 297}, 20, 9)
	if err != nil || fewer.Scale <= g.Scale {
		t.Errorf("two views at %v, %v; want larger than four at %v", fewer.Scale, err, g.Scale)
	}
	for name, try := range map[string]func() (Guidelines, error){
		"one view":     func() (Guidelines, error) { return Share(jug, 1, measure.Size{W: 420, H: 297}, 20, 1) },
		"seven views":  func() (Guidelines, error) { return Share(jug, 7, measure.Size{W: 420, H: 297}, 20, 1) },
		"wide gutters": func() (Guidelines, error) { return Share(jug, 4, measure.Size{W: 420, H: 297}, 90, 1) },
		"no depth": func() (Guidelines, error) {
			return Share(Solid{60, 0, 100, nil}, 4, measure.Size{W: 420, H: 297}, 20, 1)
		},
		"level above": func() (Guidelines, error) {
			return Share(Solid{60, 40, 100, []Level{{"hat", -5}}}, 4, measure.Size{W: 420, H: 297}, 20, 1)
		},
	} {
		if g, err := try(); !errors.Is(err, ErrAsk) {
			t.Errorf("%s: %+v, %v; want ErrAsk", name, g, err)
		}
	}
}

func ExamplePoint() {
	copied, _ := Point([]Pointing{{Name: "tip", Turn: 40, Out: 60, Drop: 30}}, 100)
	fmt.Println(copied[0].Out.Text(measure.Centimetre), "out and", copied[0].Drop.Text(measure.Centimetre), "down at 40°")
	// Output: 600 cm out and 300 cm down at 40°
}

// Worked by hand: the jug of TestShare in its places. Its four views of 96, 64, 96
// and 64 mm fill 320 of 420 with five gutters of 20, and 160 mm stand in the middle
// of 297. On a wider sheet they keep together in the middle.
func TestShareInItsPlaces(t *testing.T) {
	jug := Solid{60, 40, 100, []Level{{"foot", 100}, {"rim", 0}}}
	for _, c := range []struct {
		sheet             measure.Size
		scale             float64
		lefts             []measure.Length
		widths            []measure.Length
		top, bottom, rest float64
	}{
		{measure.Size{W: 420, H: 297}, 1.6, []measure.Length{20, 136, 220, 336}, []measure.Length{96, 64, 96, 64}, 68.5, 228.5, 20},
		{measure.Size{W: 620, H: 240}, 2, []measure.Length{80, 220, 320, 460}, []measure.Length{120, 80, 120, 80}, 20, 220, 0},
	} {
		g, err := Share(jug, 4, c.sheet, 20, 2)
		if err != nil || math.Abs(g.Scale-c.scale) > 1e-9 || math.Abs(g.Shrunk-c.rest) > 1e-9 || !near(g.Top, measure.Length(c.top)) || !near(g.Bottom, measure.Length(c.bottom)) || g.Gutter != 20 {
			t.Fatalf("%+v, %v; want %+v", g, err, c)
		}
		for i, v := range g.Views {
			if !near(v.Left, c.lefts[i]) || !near(v.Width, c.widths[i]) {
				t.Errorf("%s from %v, %v wide; want %v, %v", v.Name, v.Left, v.Width, c.lefts[i], c.widths[i])
			}
		}
		if g.Levels[0].Name != "rim" || !near(g.Levels[0].At, g.Top) || !near(g.Levels[1].At, g.Bottom) {
			t.Errorf("levels %+v; want the rim on the top line, the foot on the bottom one", g.Levels)
		}
	}
	if _, err := Share(jug, 4, measure.Size{W: 420, H: 297}, 84, 1); !errors.Is(err, ErrAsk) {
		t.Errorf("gutters as wide as the sheet: %v; want ErrAsk", err)
	}
	if _, err := Share(jug, 4, measure.Size{W: 4200, H: 200}, 100, 1); !errors.Is(err, ErrAsk) {
		t.Errorf("gutters as high as the sheet: %v; want ErrAsk", err)
	}
}

// Every height and distance grows by the scale, up to the largest that is taken.
func TestScales(t *testing.T) {
	points := []Carried{{"chin", 120, -15}, {"brow", 40, 22}}
	for _, k := range []float64{0.5, 2, 100} {
		got, err := SightSize(points, k)
		if err != nil || !near(got[0].Height, measure.Length(120*k)) || !near(got[0].In, measure.Length(-15*k)) || !near(got[1].In, measure.Length(22*k)) || got[0].Name != "chin" {
			t.Errorf("× %g: %+v, %v", k, got, err)
		}
	}
	if _, err := SightSize(points, 100.1); !errors.Is(err, ErrAsk) {
		t.Errorf("× 100.1: %v; want ErrAsk", err)
	}
	if _, err := Point([]Pointing{{Out: 1}}, 1e6); err != nil {
		t.Errorf("× a million: %v; it is the largest", err)
	}
}
