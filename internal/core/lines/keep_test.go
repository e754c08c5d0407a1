package lines

import (
	"image"
	"image/color"
	"image/draw"
	"testing"

	"zestysketch/internal/core/plane"
)

// A small faint mark that the main outlines leave out is kept where a landmark lies on it, and only there.
func TestLandmarksKeepTheirLines(t *testing.T) {
	img := image.NewRGBA(image.Rect(0, 0, 600, 600))
	draw.Draw(img, img.Rect, image.NewUniform(color.RGBA{235, 235, 235, 255}), image.Point{}, draw.Src)
	draw.Draw(img, image.Rect(100, 100, 500, 500), image.NewUniform(color.RGBA{60, 60, 60, 255}), image.Point{}, draw.Src)
	for _, at := range []image.Point{{200, 200}, {400, 400}} { // 14 mm broad and 3 high, a little lighter
		draw.Draw(img, image.Rectangle{Min: at, Max: at.Add(image.Pt(56, 12))}, image.NewUniform(color.RGBA{95, 95, 95, 255}), image.Point{}, draw.Src)
	}
	for _, detail := range []Detail{Bare, Usual} {
		wish := Wish{Detail: detail, PerMM: 4}
		bare, err := Draw(img, wish)
		if err != nil {
			t.Fatal(err)
		}
		wish.Keep = []plane.Point{plane.Pt(228, 206)}
		kept, err := Draw(img, wish)
		if err != nil {
			t.Fatal(err)
		}
		near := func(s Sketch, x, y float64) (n int) {
			for _, st := range s.Strokes {
				if st.reaches(plane.Pt(x, y), 30) {
					n++
				}
			}
			return n
		}
		if detail == Bare && near(bare, 228, 206) > 0 || near(kept, 228, 206) == 0 || near(kept, 428, 406) != near(bare, 428, 406) || near(kept, 100, 300) != near(bare, 100, 300) {
			t.Errorf("detail %d: %d and %d lines at the landmark, %d and %d at its twin", detail, near(bare, 228, 206), near(kept, 228, 206), near(bare, 428, 406), near(kept, 428, 406))
		}
	}
}
