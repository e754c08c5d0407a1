package values

import (
	"image"
	"image/color"
	"math/rand/v2"
	"reflect"
	"testing"
)

// A picture of small squares, in which many areas have borders of one length, comes out in one
// way however often it is mapped: a Go map's own order is another each time.
func TestOneOrder(t *testing.T) {
	const squares, side = 36, 5
	for seed := range uint64(4) {
		r := rand.New(rand.NewPCG(seed, 1))
		img := image.NewRGBA(image.Rect(0, 0, squares*side, squares*side))
		for i := range squares * squares {
			grey := color.Gray{Y: uint8(r.IntN(256))}
			for k := range side * side {
				img.Set(i%squares*side+k%side, i/squares*side+k/side, grey)
			}
		}
		for _, least := range []float64{10, 40} {
			w := Wish{Steps: 6, PerMM: 2, LeastArea: least, Rule: EvenLight}
			first, err := New(img, w)
			if err != nil {
				t.Fatal(err)
			}
			for range 6 {
				if again, err := New(img, w); err != nil || !reflect.DeepEqual(again, first) {
					t.Fatalf("picture %d, least area %g mm²: mapped again, it is another map (%v)", seed, least, err)
				}
			}
		}
	}
}
