package plane_test

import (
	"fmt"

	"zestysketch/internal/core/plane"
)

// Half way from one landmark to another, and whether it lies in a box.
func ExamplePoint_To() {
	chimney, door := plane.Pt(20, 10), plane.Pt(60, 90)
	mid := chimney.To(door, 0.5)
	fmt.Println(mid, mid.In(plane.Rect{Min: plane.Pt(25, 25), Max: plane.Pt(50, 50)}))
	// Output: {40 50} false
}
