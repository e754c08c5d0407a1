package grid

import (
	"math"
	"zestysketch/internal/core/measure"
)

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

// ProposeSquare returns the easy square that makes a beginner's grid on the
// frame, preferring one that divides both sides. A frame too small or too
// large for every easy square is divided in five along its longer side.
func ProposeSquare(frame measure.Size, u measure.Unit) measure.Length {
	best, least := measure.Length(0), math.Inf(1)
	for _, square := range EasySquares(u) {
		columns, restX := strips(float64(frame.W), float64(square))
		rows, restY := strips(float64(frame.H), float64(square))
		if columns > mostCells || rows > mostCells {
			continue
		}
		cost := math.Abs(math.Log(float64(columns*rows) / 24))
		if n := columns * rows; n < beginnerLeast || n > beginnerMost {
			cost += 1
		}
		for _, rest := range []float64{restX, restY} {
			if rest > 0 {
				cost += 0.25
			}
		}
		if cost < least {
			best, least = square, cost
		}
	}
	if best == 0 || least > 2 {
		return max(frame.W, frame.H) / 5
	}
	return best
}
