package colour

import (
	"image"
	"image/color"
	"image/draw"
	"math"
	"slices"
	"testing"
)

// Bars on paper, placed by hand: what they reach, and which edges they touch; a fleck is no reach, and bare paper
// has none.
func TestCompose(t *testing.T) {
	on := func(bars ...image.Rectangle) *image.RGBA {
		img := image.NewRGBA(image.Rect(0, 0, 400, 300))
		draw.Draw(img, img.Rect, image.NewUniform(color.RGBA{240, 236, 225, 255}), image.Point{}, draw.Src)
		for _, b := range bars {
			draw.Draw(img, b, image.NewUniform(color.RGBA{40, 40, 50, 255}), image.Point{}, draw.Src)
		}
		return img
	}
	for _, c := range []struct {
		bars    []image.Rectangle
		touches []string
		reach   [4]float64
	}{
		{nil, nil, [4]float64{}},
		{[]image.Rectangle{image.Rect(100, 60, 300, 240)}, nil, [4]float64{0.25, 0.2, 0.75, 0.8}},
		{[]image.Rectangle{image.Rect(0, 150, 200, 300)}, []string{"left", "bottom"}, [4]float64{0, 0.5, 0.5, 1}},
		{[]image.Rectangle{image.Rect(200, 0, 400, 90), image.Rect(20, 280, 22, 282)}, []string{"right", "top"}, [4]float64{0.5, 0, 1, 0.3}},
	} {
		got := Compose(on(c.bars...))
		for i, v := range []float64{got.Reach.Min.X, got.Reach.Min.Y, got.Reach.Max.X, got.Reach.Max.Y} {
			if math.Abs(v-c.reach[i]) > 0.012 {
				t.Errorf("%v reach %+v; want %v", c.bars, got.Reach, c.reach)
			}
		}
		if !slices.Equal(got.Touches, c.touches) {
			t.Errorf("%v touch %v; want %v", c.bars, got.Touches, c.touches)
		}
	}
}
