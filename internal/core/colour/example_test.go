package colour_test

import (
	"fmt"

	"zestysketch/internal/core/colour"
)

// A colour's name in the words of a school paint box.
func ExampleOf() {
	fmt.Println(colour.Of(0x2b, 0x63, 0x40).Name())
	// Output: green
}
