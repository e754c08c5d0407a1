package sheet_test

import (
	"fmt"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/sheet"
)

// The card by which a class marks up its paper.
func ExamplePages() {
	plan, err := grid.Make(grid.Request{Name: "Pier", Reference: "8x10in", Scale: "1.5", ReferenceSquare: "2in"})
	if err != nil {
		fmt.Println(err)
		return
	}
	pages, err := sheet.Pages(sheet.KindMarks, sheet.Wish{Plan: plan, Printer: page.On(measure.OfficePaper(plan.Units).Size)})
	fmt.Println(len(pages), pages[0].Title, err)
	// Output: 1 Mark-up card <nil>
}
