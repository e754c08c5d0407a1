package page_test

import (
	"fmt"

	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
)

// Work of 8 × 9 in on a page of Letter: there is room for labels above it alone;
// and what is too large is refused with the papers that would do.
func ExampleLay() {
	letter, _ := measure.PaperNamed("Letter")
	inch := measure.Length(measure.MillimetresPerInch)
	l, err := page.Lay(measure.Size{W: 8 * inch, H: 9 * inch}, page.On(letter.Size))
	fmt.Println(l.GutterX, l.GutterY, err)
	_, err = page.Lay(measure.Size{W: 10 * inch, H: 14 * inch}, page.On(letter.Size))
	fmt.Println(err)
	// Output:
	// 0 5 <nil>
	// 254 × 355.5 mm does not fit the paper with room for the check bar; choose A3, Tabloid, or print the picture smaller
}
