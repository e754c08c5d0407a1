package values_test

import (
	"fmt"
	"image"
	"image/color"

	"zestysketch/internal/core/values"
)

// A picture half dark, half light, in two steps.
func ExampleNew() {
	img := image.NewRGBA(image.Rect(0, 0, 120, 80))
	for y := range 80 {
		for x := range 120 {
			img.Set(x, y, color.Gray{Y: 240})
			if x < 60 {
				img.Set(x, y, color.Gray{Y: 40})
			}
		}
	}
	m, err := values.New(img, values.Wish{Steps: 2, Rule: values.Otsu, PerMM: 2, LeastArea: 20, Neck: 1})
	fmt.Println(len(m.Areas), err)
	// Output: 2 <nil>
}
