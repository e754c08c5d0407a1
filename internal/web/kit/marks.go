package kit

import "math"

// Tenths returns a place to a tenth of a pixel, as pages show and send it.
func Tenths(at [2]float64) [2]float64 {
	return [2]float64{math.Round(at[0]*10) / 10, math.Round(at[1]*10) / 10}
}
