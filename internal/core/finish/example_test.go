package finish_test

import (
	"fmt"
	"image"
	"image/color"

	"zestysketch/internal/core/finish"
	"zestysketch/internal/core/grid"
)

// One large black on a sheet: outlined fine, filled with something broad.
func ExampleNewInk() {
	plan, err := grid.Make(grid.Request{Reference: "100x100mm", Scale: "1", Method: "parts", Parts: "4", Units: "cm"})
	if err != nil {
		fmt.Println(err)
		return
	}
	img := image.NewRGBA(image.Rect(0, 0, 400, 400))
	for y := range 400 {
		for x := range 400 {
			img.Set(x, y, color.White)
			if x > 20 && x < 180 && y > 20 && y < 180 {
				img.Set(x, y, color.Black)
			}
		}
	}
	ink, err := finish.NewInk(img, finish.InkWish{Plan: plan, PerMM: 4, Dark: 40})
	if err != nil {
		fmt.Println(err)
		return
	}
	fmt.Println(len(ink.Areas), "area,", ink.Areas[0].Tool)
	// Output: 1 area, outline fine, fill with a broad marker
}
