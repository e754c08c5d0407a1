package measure

import (
	"fmt"
	"math"
	"strconv"
)

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

// working writes a : b = c : x and solves it by cross-multiplying.
func working(a, b, c, x Length, u Unit) []string {
	product := float64(c) / float64(u.Millimetres()) * float64(b) / float64(u.Millimetres())
	shown, exact := number(product, u)
	result := x.Bare(u)
	equals, means := "=", "="
	if !exact {
		equals = "≈"
	}
	if !x.Readable(u) {
		means = "≈"
	}
	return []string{
		fmt.Sprintf("%s : %s = %s : x", a.Bare(u), b.Bare(u), c.Bare(u)),
		fmt.Sprintf("%s × %s %s %s", c.Bare(u), b.Bare(u), equals, shown),
		fmt.Sprintf("%s ÷ %s %s %s", shown, a.Bare(u), means, result),
	}
}

// number writes a product of two lengths: a mixed fraction where sixteenths
// say it exactly and inches are in use, else a decimal.
func number(v float64, u Unit) (text string, exact bool) {
	if n := v * 16; u == Inch && math.Abs(n-math.Round(n)) < 1e-6 {
		return mixed(math.Round(n)), true
	}
	r := math.Round(v*1000) / 1000
	return strconv.FormatFloat(r, 'f', -1, 64), math.Abs(r-v) < 1e-9
}

// Squash returns how much the vertical scale exceeds the horizontal, in per
// cent: (vertical ÷ horizontal − 1) × 100. Plus means stretched in height.
func Squash(frame, sheet Size) float64 {
	return (float64(sheet.H)/float64(frame.H)/(float64(sheet.W)/float64(frame.W)) - 1) * 100
}
