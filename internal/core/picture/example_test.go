package picture_test

import (
	"fmt"

	"zestysketch/internal/core/picture"
	"zestysketch/internal/core/plane"
)

// A sheet photographed askew, and where its middle is in the photo: where the
// diagonals cross.
func ExampleNewHomography() {
	photo := plane.Quad{plane.Pt(100, 80), plane.Pt(900, 120), plane.Pt(860, 1180), plane.Pt(140, 1100)}
	toPhoto, err := picture.NewHomography(plane.Box(300, 400), photo)
	if err != nil {
		fmt.Println(err)
		return
	}
	middle := toPhoto.Apply(plane.Pt(150, 200))
	fmt.Printf("%.0f, %.0f\n", middle.X, middle.Y)
	// Output: 492, 647
}
