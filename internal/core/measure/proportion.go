package measure

import "fmt"

// Proportion is a solved w : h = W : H, with the steps a teacher writes on the board.
type Proportion struct {
	Sheet   Size     // what x came to, with the side that was given
	Working []string // the cross-multiplication, line by line
}

// SolveHeight returns the sheet of the given width that has the ratio of frame.
// The working is in unit u. Sides must be more than 0.
func SolveHeight(frame Size, width Length, u Unit) Proportion {
	h := frame.H * width / frame.W
	return Proportion{Size{width, h}, working(frame.W, frame.H, width, h, u)}
}

// SolveWidth returns the sheet of the given height that has the ratio of frame.
func SolveWidth(frame Size, height Length, u Unit) Proportion {
	w := frame.W * height / frame.H
	return Proportion{Size{w, height}, working(frame.H, frame.W, height, w, u)}
}

// working writes a : b = c : x and solves it by cross-multiplying, every line a
// sum that can be done again with the figures that stand there. Sides that no
// ruler shows are said as a ratio of whole numbers, where they have one.
func working(a, b, c, x Length, u Unit) []string {
	first, second, third := a.Figure(u), b.Figure(u), c.Figure(u)
	if p, q, ok := RatioOf(a, b); ok && (first.odd(u) || second.odd(u)) {
		first, second = fraction(p, 1), fraction(q, 1)
	}
	for places := usualPlaces; ; places++ { // until the figures lead to the ruler's right line
		product, result := Figure{}, Figure{}
		lines := []string{fmt.Sprintf("%s : %s %s %s : x", first, second, equals(first.about || second.about || third.about), third), "", ""}
		lines[1], product = Multiply(third, second, u)
		lines[2], result = Divide(product, first, u)
		if got := Length(result.Float()) * u.Millimetres(); got.Bare(u) == x.Bare(u) || places == mostPlaces {
			if last := OnRuler(result, u); last != "" {
				lines = append(lines, last)
			}
			return lines
		}
		first, second, third = figureOf(float64(a/u.Millimetres()), u, places+1), figureOf(float64(b/u.Millimetres()), u, places+1), figureOf(float64(c/u.Millimetres()), u, places+1)
	}
}

// Squash returns how much the vertical scale exceeds the horizontal, in per
// cent: (vertical ÷ horizontal − 1) × 100. Plus means stretched in height.
func Squash(frame, sheet Size) float64 {
	return (float64(sheet.H)/float64(frame.H)/(float64(sheet.W)/float64(frame.W)) - 1) * 100
}
