package colour

import (
	"fmt"
	"image"
	"math"
)

// Balance is where the dark of a picture is heaviest: how far its centre of weight lies
// right of the middle and below it, as shares of half the width and height, -1 to 1.
type Balance struct{ Across, Down float64 }

// level is how far the weight may lie from the middle without being seen (ours).
const level = 0.06

// Weigh returns the balance of a picture: every place weighs by how dark it is.
func Weigh(img *image.RGBA) Balance {
	w, h := img.Rect.Dx(), img.Rect.Dy()
	var b Balance
	sum := 0.0
	for at, p := range places(img) {
		dark := 100 - Of(p[0], p[1], p[2]).L
		sum += dark
		b.Across += dark * (2*(float64(at.X)+0.5)/float64(w) - 1)
		b.Down += dark * (2*(float64(at.Y)+0.5)/float64(h) - 1)
	}
	if sum == 0 {
		return Balance{}
	}
	return Balance{b.Across / sum, b.Down / sum}
}

// Even reports whether light and dark balance about the middle.
func (b Balance) Even() bool { return math.Hypot(b.Across, b.Down) < level }

// Say says in words where a picture is heavier, and what evens it out.
func (b Balance) Say() string {
	if b.Even() {
		return "Light and dark balance about the middle."
	}
	way := func(v float64, minus, plus string) (heavy, light string) {
		switch {
		case v > level/2:
			return plus, minus
		case v < -level/2:
			return minus, plus
		}
		return "", ""
	}
	down, up := way(b.Down, "at the top", "at the bottom")
	side, other := way(b.Across, "on the left", "on the right")
	if down != "" && side != "" {
		down, up = down+" and ", up+" or "
	}
	return fmt.Sprintf("It is heavier %s%s. A dark %s%s evens it out; or leave it so, if it is meant.", down, side, up, other)
}
