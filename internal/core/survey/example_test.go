package survey_test

import (
	"fmt"
	"image"
	"image/color"
	"image/draw"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/survey"
)

// On a dark picture dark lines are lost; red and white ones are seen all along.
func ExampleContrast() {
	plan, err := grid.Make(grid.Request{Picture: [2]int{400, 400}, Reference: "8in", Scale: "1.5"})
	if err != nil {
		fmt.Println(err)
		return
	}
	img := image.NewRGBA(image.Rect(0, 0, 400, 400))
	draw.Draw(img, img.Rect, image.NewUniform(color.Gray{Y: 20}), image.Point{}, draw.Src)
	for i, seen := range survey.Contrast(img, plan)[:3] {
		fmt.Printf("%s %.0f%%\n", grid.Palette[i].Name, 100*seen)
	}
	// Output:
	// dark 0%
	// red 100%
	// white 100%
}
