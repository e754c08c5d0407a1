package transfer_test

import (
	"fmt"

	"zestysketch/internal/core/transfer"
)

// The first way for a room with a window and tape, and how often a drawn side is turned onto paper.
func ExampleNew() {
	plan, err := transfer.New(transfer.Usual)
	if err != nil {
		fmt.Println(err)
		return
	}
	fmt.Printf("%s: turned over %d times\n", plan.Ways[0].Name, plan.Ways[0].TurnOvers)
	// Output: Back shaded and pressed through: turned over 2 times
}
