package grid

import "zestysketch/internal/core/measure"

// EasySquares returns the squares that a ruler in unit u shows well (common practice).
func EasySquares(u measure.Unit) []measure.Length {
	sizes, unit := []float64{0.5, 1, 1.5, 2, 2.5, 3, 4, 5, 6, 8, 10}, measure.Length(10)
	if u == measure.Inch {
		sizes, unit = []float64{0.5, 0.75, 1, 1.5, 2, 3, 4, 6}, measure.MillimetresPerInch
	}
	squares := make([]measure.Length, len(sizes))
	for i, s := range sizes {
		squares[i] = measure.Length(s) * unit
	}
	return squares
}

// mostDragged is how many boxes the hand may make of a picture on a screen: more
// could not be pressed (ours).
const mostDragged = 400

// EasySquaresOn returns those easy squares that fit a frame and make no more
// boxes than a hand can press.
func EasySquaresOn(frame measure.Size, u measure.Unit) (fit []measure.Length) {
	for _, s := range EasySquares(u) {
		if c, r := float64(frame.W/s), float64(frame.H/s); c*r <= mostDragged && c >= 1 && r >= 1 {
			fit = append(fit, s)
		}
	}
	return fit
}

// A beginner's grid has about 16 to 35 cells (common practice).
const beginnerLeast, beginnerMost = 16, 35

// proposeSquare returns the square of the best grid of squares on a frame. One
// too small or too large for every easy square is divided in five along its
// longer side.
func proposeSquare(frame measure.Size, w Wish) measure.Length {
	for _, c := range rank(frame, w, true) {
		if c.Method == Squares {
			return c.Square
		}
	}
	return max(frame.W, frame.H) / 5
}
