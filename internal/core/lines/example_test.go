package lines_test

import (
	"fmt"
	"image"
	"image/color"

	"zestysketch/internal/core/lines"
)

// A dark bar on paper, found as two long lines to trace: its edges.
func ExampleDraw() {
	img := image.NewRGBA(image.Rect(0, 0, 200, 100))
	for y := range 100 {
		for x := range 200 {
			img.Set(x, y, color.White)
			if y > 40 && y < 60 {
				img.Set(x, y, color.Black)
			}
		}
	}
	sketch, err := lines.Draw(img, lines.Wish{PerMM: 4, Detail: lines.Bare})
	fmt.Println(len(sketch.Strokes), err)
	// Output: 2 <nil>
}
