package render

import (
	"fmt"
	"strings"

	"rsc.io/qr"
)

// quiet is the empty border of a code, in modules: four, as ISO/IEC 18004 asks for.
const quiet = 4

// QR returns words as a QR code, an SVG that fills its place.
func QR(words string) (string, error) {
	code, err := qr.Encode(words, qr.M)
	if err != nil {
		return "", fmt.Errorf("a code for %q: %w", words, err)
	}
	side := code.Size + 2*quiet
	var path strings.Builder
	for y := range code.Size {
		for x := range code.Size {
			if code.Black(x, y) {
				fmt.Fprintf(&path, "M%d %dh1v1h-1z", x+quiet, y+quiet)
			}
		}
	}
	return fmt.Sprintf(`<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 %d %d" role="img" aria-label="QR code" shape-rendering="crispEdges"><path fill="#fff" d="M0 0h%[1]dv%[2]dH0z"/><path d="%s"/></svg>`,
		side, side, path.String()), nil
}
