package measure

import "math"

// Share is a part of a whole, 0 to 1, as people say it.
type Share struct {
	Of   float64
	Name string
}

// Shares are the parts that people say, in rising order.
var Shares = []Share{
	{0.1, "a tenth"}, {0.125, "an eighth"}, {1.0 / 6, "a sixth"}, {0.2, "a fifth"}, {0.25, "a quarter"}, {1.0 / 3, "a third"},
	{0.4, "two fifths"}, {0.5, "a half"}, {0.6, "three fifths"}, {2.0 / 3, "two thirds"}, {0.75, "three quarters"},
	{0.8, "four fifths"}, {0.9, "nine tenths"}, {1, "the whole"},
}

// ShareNear returns the part that is nearest to a share by ratio; 0 and less counts as a twentieth.
func ShareNear(share float64) (best Share) {
	least := math.Inf(1)
	for _, p := range Shares {
		if d := math.Abs(math.Log(max(share, 0.05) / p.Of)); d < least {
			least, best = d, p
		}
	}
	return best
}
