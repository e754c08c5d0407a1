package tiles_test

import (
	"fmt"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/tiles"
)

// The tiles of a drawing in other places: the same seed is the same map.
func ExampleShuffle() {
	plan, err := grid.Make(grid.Request{Reference: "4x4in", Scale: "2", ReferenceSquare: "1in"})
	if err != nil {
		fmt.Println(err)
		return
	}
	m, err := tiles.Shuffle(plan, tiles.SeedFor(7, 3), false)
	fmt.Println(len(m.Places), m.Places[0].Label != m.Places[0].Tile, err)
	// Output: 16 true <nil>
}
