package photo_test

import (
	"fmt"

	"zestysketch/internal/core/photo"
)

// What a corner tag's code says, written and read.
func ExampleParseTag() {
	tag := photo.Tag{Project: 12, Student: 345, Corner: 2}
	fmt.Println(tag)
	fmt.Println(photo.ParseTag(tag.String()))
	// Output:
	// ZS/C/9L/2
	// ZS/C/9L/2 true
}
