package picture_test

import (
	"image"
	"image/color"
	"math"
	"testing"

	"zestysketch/internal/core/picture"
)

// Vase, pinwheel and flag, drawn point by point: folding, turning, and neither.
func TestHalvesMatch(t *testing.T) {
	const w, h = 300, 360
	drawn := func(ink func(x, y float64) bool) *image.RGBA { // x and y from the middle, −1 to 1 across
		img := image.NewRGBA(image.Rect(0, 0, w, h))
		for y := range h {
			for x := range w {
				c := color.RGBA{255, 255, 255, 255}
				if ink((float64(x)-140)/140, (float64(y)-170)/140) {
					c = color.RGBA{20, 20, 20, 255}
				}
				img.SetRGBA(x, y, c)
			}
		}
		return img
	}
	edge := func(d float64) bool { return math.Abs(d) < 0.02 }
	vase := func(x, y float64) bool {
		return math.Abs(y) < 0.9 && (edge(math.Abs(x)-0.4-0.25*math.Sin(3*y)) || edge(y-0.3) && math.Abs(x) < 0.5)
	}
	pinwheel := func(x, y float64) bool {
		r, a := math.Hypot(x, y), math.Atan2(y, x)
		return r < 0.9 && r > 0.1 && (edge(math.Mod(a+8*math.Pi+r*2, math.Pi)-0.5) || edge(r*math.Cos(a)-0.3*r*r*math.Sin(a)*math.Cos(a)-0.1))
	}
	flag := func(x, y float64) bool {
		return edge(x+0.7) || y < 0 && y > -0.8 && x > -0.7 && x < 0.6 && (edge(y+0.02) || edge(y+0.78) || edge(x-0.58))
	}
	for name, c := range map[string]struct {
		ink  func(x, y float64) bool
		want picture.Halves
	}{
		"vase": {vase, picture.Mirrored}, "pinwheel": {pinwheel, picture.Unlike}, "flag": {flag, picture.Unlike},
		"nothing": {func(x, y float64) bool { return false }, picture.Unlike},
		"S of two bows": {func(x, y float64) bool {
			return edge(math.Hypot(x-0.3, y+0.4)-0.4) && x < 0.4 || edge(math.Hypot(x+0.3, y-0.4)-0.4) && x > -0.4
		}, picture.Turned},
		"vase with a handle": {func(x, y float64) bool { return vase(x, y) || x > 0.4 && edge(math.Hypot(x-0.5, y)-0.35) }, picture.Unlike},
	} {
		if got := picture.HalvesOf(drawn(c.ink)); got != c.want {
			t.Errorf("%s: halves %q; want %q", name, got, c.want)
		}
	}
}
