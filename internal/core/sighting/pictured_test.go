package sighting

import (
	"errors"
	"math"
	"math/rand/v2"
	"testing"

	"zestysketch/internal/core/measure"
)

// By hand: a front of 200 × 400 pixels pressed at 50 and 350, and a side of 300 × 800 at 100
// and 700, on 400 × 300 mm without gaps. Across they need 200/300 + 300/600 = 7/6 heights, down
// 50/300 + 1 + 50/300 = 4/3: 300 ÷ 4/3 = 225 mm high, and 225 × 7/6 = 262.5 mm wide, so
// (400 − 262.5) ÷ 2 = 68.75 mm stay free on the left.
func TestLineUp(t *testing.T) {
	front := Pictured{"front", 200, 400, 50, 350, []PixelMark{{"waist", 200}}}
	side := Pictured{"side", 300, 800, 100, 700, []PixelMark{{"waist", 430}, {"hem", 640}}}
	l, err := LineUp([]Pictured{front, side}, measure.Size{W: 400, H: 300}, 0)
	if err != nil {
		t.Fatal(err)
	}
	if !near(l.Top, 37.5) || !near(l.Bottom, 262.5) || !near(l.Views[0].Left, 68.75) || !near(l.Views[1].Left, 68.75+150) || !near(l.Views[1].Width, 112.5) {
		t.Errorf("%+v", l)
	}
	// The waist lies half way down the front: at 150 mm. In the side it lies at 55 %: 11.25 mm lower.
	if len(l.Levels) != 2 || !near(l.Levels[0].At, 150) || len(l.Misfits) != 1 || l.Misfits[0].View != "side" || !near(l.Misfits[0].Lower, 11.25) {
		t.Errorf("levels %v, misfits %v", l.Levels, l.Misfits)
	}
	for name, try := range map[string]struct {
		views []Pictured
		gap   measure.Length
	}{
		"one alone":       {[]Pictured{front}, 0},
		"not pressed":     {[]Pictured{front, {"side", 300, 800, 0, 0, nil}}, 0},
		"upside down":     {[]Pictured{front, {"side", 300, 800, 700, 100, nil}}, 0},
		"outside":         {[]Pictured{front, {"side", 300, 800, 100, 900, nil}}, 0},
		"not a number":    {[]Pictured{front, {"side", 300, 800, math.NaN(), 700, nil}}, 0},
		"wider gaps":      {[]Pictured{front, side}, 150},
		"gaps of nothing": {[]Pictured{front, side}, -1},
	} {
		if got, err := LineUp(try.views, measure.Size{W: 400, H: 300}, try.gap); !errors.Is(err, ErrAsk) {
			t.Errorf("%s: %+v, %v; want ErrAsk", name, got, err)
		}
	}
}

// Laws, for any pictures: pressed points stand on the lines, nothing leaves the sheet or lies
// on another, and how many pixels a picture has does not matter.
func TestLineUpLaws(t *testing.T) {
	rng := rand.New(rand.NewPCG(21, 4))
	for range 300 {
		var views, finer []Pictured
		for range 2 + rng.IntN(5) {
			v := Pictured{Name: "v", Width: 100 + 900*rng.Float64(), Height: 100 + 900*rng.Float64()}
			v.Top = v.Height * 0.4 * rng.Float64()
			v.Bottom = v.Top + (0.1+0.5*rng.Float64())*v.Height
			views = append(views, v)
			k := 0.3 + 4*rng.Float64()
			finer = append(finer, Pictured{"v", k * v.Width, k * v.Height, k * v.Top, k * v.Bottom, nil})
		}
		sheet, gap := measure.Size{W: measure.Length(200 + 400*rng.Float64()), H: measure.Length(150 + 300*rng.Float64())}, measure.Length(12*rng.Float64())
		l, err := LineUp(views, sheet, gap)
		if err != nil {
			t.Fatal(err)
		}
		same, err := LineUp(finer, sheet, gap)
		if err != nil {
			t.Fatal(err)
		}
		right := measure.Length(0)
		for i, p := range l.Views {
			k := measure.Length(p.MillimetresAPixel)
			if !near(p.Over+k*measure.Length(views[i].Top), l.Top) || !near(p.Over+k*measure.Length(views[i].Bottom), l.Bottom) {
				t.Fatalf("view %d is not on the lines: %+v", i, l)
			}
			if p.Left < right+gap-1e-6 || p.Over < gap-1e-6 || p.Over+p.Height > sheet.H-gap+1e-6 || p.Left+p.Width > sheet.W-gap+1e-6 {
				t.Fatalf("view %d leaves its room: %+v on %v", i, p, sheet)
			}
			if q := same.Views[i]; !near(p.Left, q.Left) || !near(p.Over, q.Over) || !near(p.Width, q.Width) {
				t.Fatalf("view %d of another fineness lies elsewhere: %+v, %+v", i, p, q)
			}
			right = p.Left + p.Width
		}
	}
}
