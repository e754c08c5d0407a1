package accuracy_test

import (
	"fmt"

	"zestysketch/internal/core/accuracy"
)

// A distance in boxes as people say it, and where it points.
func ExampleInBoxes() {
	fmt.Println(accuracy.InBoxes(0.25), "·", accuracy.Direction(0.25, 0), "·", accuracy.Loose.Tolerance())
	// Output: a quarter of a box · a quarter of a box too far right · 0.4
}
