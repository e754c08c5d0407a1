package picture

import (
	"image"
	"image/color"
	"image/draw"
	"math/rand/v2"
	"testing"
)

// Two to six blocks by seed, of their own widths and heights, side by side on a ground of any tone with grain and
// flecks: each is found where it was put, to three pixels.
func TestApart(t *testing.T) {
	rng := rand.New(rand.NewPCG(7, 31))
	for trial := range 40 {
		img := image.NewRGBA(image.Rect(0, 0, 1200, 500))
		ground := uint8(30 + rng.IntN(200))
		for i := range img.Pix {
			img.Pix[i] = ground + uint8(rng.IntN(9))
		}
		n := 2 + trial%5
		var want []image.Rectangle
		for i, x := 0, 30; i < n; i++ {
			w := 60 + rng.IntN(1000/n-80)
			b := image.Rect(x, 40+rng.IntN(100), x+w, 300+rng.IntN(160))
			want, x = append(want, b), x+w+25+rng.IntN(20)
			draw.Draw(img, b, image.NewUniform(color.RGBA{ground + 90, ground / 2, ground + 60, 255}), image.Point{}, draw.Src)
		}
		img.SetRGBA(1190, 250, color.RGBA{ground + 120, 0, 0, 255})
		got := Apart(img)
		if len(got) != n {
			t.Fatalf("trial %d: %d of %d: %v", trial, len(got), n, got)
		}
		for i, b := range got {
			for _, off := range []int{b.Min.X - want[i].Min.X, b.Max.X - want[i].Max.X, b.Min.Y - want[i].Min.Y, b.Max.Y - want[i].Max.Y} {
				if max(off, -off) > 3 {
					t.Errorf("trial %d: %v; want %v", trial, b, want[i])
				}
			}
		}
	}
}
