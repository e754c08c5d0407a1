package measure

import (
	"fmt"
	"math"
	"math/big"
	"slices"
	"strconv"
	"strings"
)

// Figure is a number as it is written on the board, and exactly what is written:
// whoever does the sum again with the figures they read must come to the same.
type Figure struct {
	text  string
	value *big.Rat
	about bool // the number itself was a little different
}

// String returns the figure as it is written.
func (f Figure) String() string { return f.text }

// Float returns what is written as a number.
func (f Figure) Float() float64 {
	v, _ := f.value.Float64()
	return v
}

// fractions are the denominators that people write: a ruler's in inches, and
// thirds in every unit.
func fractions(u Unit) []int64 {
	if u == Inch {
		return inchFractions
	}
	return thirds
}

var inchFractions, thirds = []int64{1, 2, 4, 8, 16, 3, 6, 12}, []int64{1, 3}

// places of a decimal on the board where it is only about right, and most of one that is exact.
const usualPlaces, mostPlaces = 3, 6

// FigureOf writes a number: as a whole or mixed fraction where a ruler or
// thirds have it, else as a decimal.
func FigureOf(v float64, u Unit) Figure { return figureOf(v, u, usualPlaces) }

// drift is what sums with binary fractions add to a number, at most.
const drift = 1e-7

func figureOf(v float64, u Unit, places int) Figure {
	for _, d := range fractions(u) {
		if n := v * float64(d); math.Abs(n-math.Round(n)) < drift {
			return fraction(int64(math.Round(n)), d)
		}
	}
	f := decimal(v, places)
	f.about = math.Abs(f.Float()-v) > drift
	return f
}

func decimal(v float64, places int) Figure {
	text := trimZeros(v, places)
	value, _ := new(big.Rat).SetString(text)
	return Figure{text: text, value: value}
}

// fraction writes n/d as a mixed fraction.
func fraction(n, d int64) Figure {
	value := big.NewRat(n, d)
	n, d = value.Num().Int64(), value.Denom().Int64()
	text := strconv.FormatInt(n, 10)
	switch whole, rest := n/d, n%d; {
	case d > 1 && whole == 0:
		text += "/" + strconv.FormatInt(d, 10)
	case d > 1:
		text = strconv.FormatInt(whole, 10) + " " + strconv.FormatInt(max(rest, -rest), 10) + "/" + strconv.FormatInt(d, 10)
	}
	return Figure{text: text, value: value}
}

// Figure returns the length as it stands on the board, in unit u.
func (l Length) Figure(u Unit) Figure { return FigureOf(float64(l/u.Millimetres()), u) }

// written returns an exact value as a figure: a fraction or a short decimal
// where that says it, else a decimal that is about it.
func written(exact *big.Rat, u Unit) Figure {
	if n, d := exact.Num(), exact.Denom(); n.IsInt64() && d.IsInt64() && slices.Contains(fractions(u), d.Int64()) {
		return fraction(n.Int64(), d.Int64())
	}
	v, _ := exact.Float64()
	f := decimal(v, usualPlaces+1)
	if f.value.Cmp(exact) != 0 {
		f = decimal(v, usualPlaces)
	}
	f.about = f.value.Cmp(exact) != 0
	return f
}

// Multiply and Divide return the line of a sum of two figures as it is written,
// "12 × 9 1/2 = 114", with ≈ where the figure after it is only about right, and
// that figure. The divisor must not be 0.
func Multiply(a, b Figure, u Unit) (line string, product Figure) {
	product = written(new(big.Rat).Mul(a.value, b.value), u)
	return sumLine(a, "×", b, product), product
}

// Divide is Multiply's other half.
func Divide(a, b Figure, u Unit) (line string, quotient Figure) {
	quotient = written(new(big.Rat).Quo(a.value, b.value), u)
	return sumLine(a, "÷", b, quotient), quotient
}

func sumLine(a Figure, sign string, b, result Figure) string {
	return a.text + " " + sign + " " + b.text + " " + equals(result.about) + " " + result.text
}

func equals(about bool) string {
	if about {
		return "≈"
	}
	return "="
}

// OnRuler returns the line that says where on the ruler a figure is marked that
// no ruler shows: "9 1/3 ≈ 9 5/16 on the ruler, 0.02 in less"; empty where it shows it.
func OnRuler(f Figure, u Unit) string {
	l := Length(f.Float()) * u.Millimetres()
	if l.Readable(u) {
		return ""
	}
	read := l.RoundTo(u.Step())
	off, side := float64((read-l)/u.Millimetres()), "more"
	if off < 0 {
		off, side = -off, "less"
	}
	line := fmt.Sprintf("%s ≈ %s on the ruler", f, read.Bare(u))
	if off := trimZeros(off, usualPlaces); off != "0" {
		line += fmt.Sprintf(", %s %s %s", off, u, side)
	}
	return line
}

// odd reports whether a figure is a decimal that no ruler shows.
func (f Figure) odd(u Unit) bool {
	return strings.Contains(f.text, ".") && !(Length(f.Float()) * u.Millimetres()).Readable(u)
}

// mostTerm bounds the whole numbers of a ratio that is said as one: 3 : 2, 16 : 9.
const mostTerm = 20

// RatioOf returns a ratio of small whole numbers, where the sides of a size have one
// to a ten-thousandth part: 3 : 2, 4 : 3, 16 : 9 for a camera's pictures.
func RatioOf(w, h Length) (a, b int64, ok bool) {
	for q := int64(1); q <= mostTerm; q++ {
		p := math.Round(float64(w/h) * float64(q))
		if p >= 1 && p <= mostTerm && math.Abs(float64(w/h)*float64(q)/p-1) < 1e-4 {
			return int64(p), q, true
		}
	}
	return 0, 0, false
}
