package accuracy

import (
	"math"
	"testing"

	"zestysketch/internal/core/plane"
)

// Corners and places come from a form: they are points, or words that say not.
func FuzzPlaces(f *testing.F) {
	f.Add("181,190 1040,172 1082,1311 128,1290")
	f.Add("1,2")
	f.Add("NaN,1e400 , 5,5 5")
	f.Fuzz(func(t *testing.T, text string) {
		corners, err := ParseCorners(text)
		points := corners[:]
		if err != nil {
			points = nil
		}
		if at, err := ParsePlace(text); err == nil {
			points = append(points, at)
		}
		for _, p := range points {
			if bad := p.Sub(plane.Pt(0, 0)).Len(); math.IsNaN(bad) || math.IsInf(bad, 0) {
				t.Errorf("%q is taken as %v", text, points)
			}
		}
	})
}
