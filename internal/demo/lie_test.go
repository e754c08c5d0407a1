package demo

import (
	"math"
	"testing"

	"zestysketch/internal/core/plane"
)

var lies = map[string]Lie{
	"rolled": {Rolled: 30, Angle: 25},
	"lifted": {Lifted: 50},
	"folded": {Folded: 20, Angle: 40},
}

// Paper bends and does not stretch: short ways on it stay as long, in space.
func TestPaperDoesNotStretch(t *testing.T) {
	for name, l := range lies {
		l.Paper = plane.Rect{Min: pt(50, 60), Max: pt(347, 480)}
		highest := 0.0
		for x := 60.0; x < 340; x += 7 {
			for y := 70.0; y < 470; y += 7 {
				for _, way := range []plane.Point{pt(0.01, 0), pt(0, 0.01), pt(0.007, -0.007)} {
					a, up := l.at(pt(x, y))
					b, further := l.at(pt(x, y).Add(way))
					long := math.Hypot(b.Sub(a).Len(), further-up)
					if math.Abs(long/way.Len()-1) > 0.02 {
						t.Fatalf("%s: at %v, %v a way of %v is %v long", name, x, y, way.Len(), long)
					}
					highest = max(highest, up)
				}
			}
		}
		if highest < 10 {
			t.Errorf("%s: the highest place is %.1f mm up", name, highest)
		}
	}
}

// What a pixel shows is seen at that pixel, on the paper and beside it.
func TestCameraShowsWhatItSees(t *testing.T) {
	for name, l := range lies {
		l.Paper = plane.Rect{Min: pt(120, 120), Max: pt(417, 540)}
		c := Camera{Width: 900, Height: 1200, Lie: l, Bend: 0.02, From: plane.Quad{pt(60, 70), pt(470, 60), pt(480, 610), pt(55, 600)}}
		shows, err := c.shows()
		if err != nil {
			t.Fatal(err)
		}
		flat, aside := c, 0.0
		flat.Lie = Lie{Paper: l.Paper}
		for x := 130.0; x < 410; x += 40 {
			for y := 130.0; y < 530; y += 40 {
				px, err := c.Sees(pt(x, y))
				if err != nil {
					t.Fatal(err)
				}
				before, _ := flat.Sees(pt(x, y))
				aside = max(aside, px.Sub(before).Len())
				if back := shows(px); back.Sub(pt(x, y)).Len() > 0.2 {
					t.Errorf("%s: %v, %v is seen at %v, which shows %v", name, x, y, px, back)
				}
			}
		}
		beside, _ := c.Sees(pt(100, 100))
		still, _ := flat.Sees(pt(100, 100))
		if aside < 3 || beside != still {
			t.Errorf("%s: a place up is seen %.1f pixels aside, one on the desk %v; want more than 3, and none", name, aside, beside.Sub(still))
		}
	}
}
