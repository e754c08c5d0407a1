package kit

import (
	"math"

	"zestysketch/internal/core/plane"
)

// Tenths returns a place to a tenth of a pixel, as pages show and send it.
func Tenths(at plane.Point) plane.Point {
	return plane.Pt(math.Round(at.X*10)/10, math.Round(at.Y*10)/10)
}
