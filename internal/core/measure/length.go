package measure

import (
	"errors"
	"fmt"
	"math"
	"strconv"
	"strings"
	"unicode"
)

// Length is a distance in millimetres.
type Length float64

// Unit is a unit in which lengths are written.
type Unit string

// The units people use in the room. Feet, yards and metres are read but not written.
const (
	Inch       Unit = "in"
	Centimetre Unit = "cm"
	Millimetre Unit = "mm"
)

// MillimetresPerInch is exact: international yard and pound agreement, 1959.
const MillimetresPerInch = 25.4

var (
	// ErrLength is wrapped by every error of a text that is not a length.
	ErrLength = errors.New("not a length")
	// ErrSize is wrapped by every error of a text that is not a size.
	ErrSize = errors.New("not a size")
)

// unitWords lists every spelling read after a number, in millimetres.
var unitWords = map[string]Length{
	"in": 25.4, "inch": 25.4, "inches": 25.4, `"`: 25.4, "″": 25.4, "”": 25.4, "''": 25.4,
	"ft": 304.8, "foot": 304.8, "feet": 304.8, "'": 304.8, "′": 304.8, "’": 304.8,
	"yd": 914.4, "yard": 914.4, "yards": 914.4,
	"mm": 1, "millimetre": 1, "millimetres": 1, "millimeter": 1, "millimeters": 1,
	"cm": 10, "centimetre": 10, "centimetres": 10, "centimeter": 10, "centimeters": 10,
	"m": 1000, "metre": 1000, "metres": 1000, "meter": 1000, "meters": 1000,
}

var vulgar = map[rune]string{
	'½': "1/2", '⅓': "1/3", '⅔': "2/3", '¼': "1/4", '¾': "3/4",
	'⅛': "1/8", '⅜': "3/8", '⅝': "5/8", '⅞': "7/8",
}

// Millimetres returns one of unit u in millimetres. An unknown unit counts as millimetres.
func (u Unit) Millimetres() Length {
	switch u {
	case Inch:
		return MillimetresPerInch
	case Centimetre:
		return 10
	}
	return 1
}

// ParseUnit returns the unit named s, "in", "cm" or "mm".
func ParseUnit(s string) (Unit, error) {
	switch u := Unit(strings.ToLower(strings.TrimSpace(s))); u {
	case Inch, Centimetre, Millimetre:
		return u, nil
	}
	return "", fmt.Errorf("wanted in, cm or mm as the unit, got %q", s)
}

// Parse reads a length such as "9 1/2 in", `9.5"`, "1' 6\"", "24 cm" or "240mm".
// A bare number is taken in unit u. The sign is kept; infinities and text
// are errors that wrap ErrLength.
func Parse(s string, u Unit) (Length, error) {
	l, bare, err := parse(s)
	if err != nil {
		return 0, err
	}
	if bare {
		l *= u.Millimetres()
	}
	return l, nil
}

// parse returns the length of s; bare says that no unit was written, and then
// the length is the plain number.
func parse(s string) (l Length, bare bool, err error) {
	fail := func() (Length, bool, error) {
		return 0, false, fmt.Errorf("%w: wanted a length such as 9 1/2 in or 24 cm, got %q", ErrLength, shorten(s))
	}
	rest := strings.TrimSpace(expandVulgar(s))
	sign := Length(1)
	if strings.HasPrefix(rest, "-") || strings.HasPrefix(rest, "−") {
		sign = -1
		rest = strings.TrimLeft(rest, "-− ")
	}
	if rest == "" || len(rest) > 60 {
		return fail()
	}
	terms := 0
	for rest != "" {
		number, after := cutNumber(rest)
		v, ok := parseNumber(number)
		if !ok {
			return fail()
		}
		word, after := cutWord(after)
		per, known := unitWords[strings.ToLower(strings.TrimSuffix(word, "."))]
		switch {
		case known:
			l += Length(v) * per
		case word == "" && terms == 0 && after == "":
			return sign * Length(v), true, nil
		default:
			return fail()
		}
		terms++
		rest = after
	}
	return sign * l, false, nil
}

func shorten(s string) string {
	if r := []rune(s); len(r) > 40 {
		return string(r[:40]) + "…"
	}
	return s
}

func expandVulgar(s string) string {
	var b strings.Builder
	for _, r := range s {
		if f, ok := vulgar[r]; ok {
			b.WriteString(" " + f)
			continue
		}
		b.WriteRune(r)
	}
	return b.String()
}

func cutNumber(s string) (number, rest string) {
	end := strings.IndexFunc(s, func(r rune) bool {
		return !(r >= '0' && r <= '9' || strings.ContainsRune(".,/ -\u00a0\u2044", r))
	})
	if end < 0 {
		end = len(s)
	}
	return s[:end], s[end:]
}

func cutWord(s string) (word, rest string) {
	end := strings.IndexFunc(s, func(r rune) bool { return unicode.IsDigit(r) || unicode.IsSpace(r) })
	if end < 0 {
		end = len(s)
	}
	return s[:end], strings.TrimSpace(s[end:])
}

// plainNumber writes decimal commas, hard spaces and fraction slashes plainly.
var plainNumber = strings.NewReplacer(",", ".", "\u00a0", " ", "\u2044", "/")

// parseNumber reads "9", "9.5", "9,5", "1/2", "9 1/2" and "9-1/2".
func parseNumber(s string) (float64, bool) {
	s = plainNumber.Replace(s)
	fields := strings.FieldsFunc(s, func(r rune) bool { return r == ' ' || r == '-' })
	switch len(fields) {
	case 1:
		return parsePart(fields[0])
	case 2:
		whole, err := strconv.ParseUint(fields[0], 10, 32)
		part, ok := parsePart(fields[1])
		if err != nil || !ok || !strings.Contains(fields[1], "/") || part >= 1 {
			return 0, false
		}
		return float64(whole) + part, true
	}
	return 0, false
}

func parsePart(s string) (float64, bool) {
	top, bottom, isFraction := strings.Cut(s, "/")
	if !isFraction {
		v, err := strconv.ParseFloat(s, 64)
		return v, err == nil && v <= 1e9
	}
	n, err1 := strconv.ParseUint(top, 10, 16)
	d, err2 := strconv.ParseUint(bottom, 10, 16)
	if err1 != nil || err2 != nil || d == 0 {
		return 0, false
	}
	return float64(n) / float64(d), true
}

// Text returns l as a ruler reads it, with its unit: inches to the nearest
// sixteenth ("9 1/2 in"), centimetres and millimetres to the nearest half
// millimetre ("24.05 cm", "240.5 mm").
func (l Length) Text(u Unit) string { return l.Bare(u) + " " + string(u) }

// About is Text with ≈ before it where that is not exactly the length.
func (l Length) About(u Unit) string {
	if l.Readable(u) {
		return l.Text(u)
	}
	return "≈ " + l.Text(u)
}

// Long is About with the feet beside inches that are many and whole feet.
func (l Length) Long(u Unit) string {
	const foot, many = 12 * MillimetresPerInch, 10
	feet := math.Round(float64(l) / foot)
	if u == Inch && feet >= many && math.Abs(feet*foot-float64(l)) < 1e-3 {
		return fmt.Sprintf("%s (%.0f ft)", l.Text(u), feet)
	}
	return l.About(u)
}

// Bare is Text without the unit, for tables that name the unit once.
func (l Length) Bare(u Unit) string {
	switch u {
	case Inch:
		return mixed(math.Round(float64(l) / MillimetresPerInch * 16))
	case Centimetre:
		return trimZeros(math.Round(float64(l)*2)/20, 2)
	}
	return trimZeros(math.Round(float64(l)*2)/2, 1)
}

// Readable reports whether Text says l exactly, to a thousandth of a millimetre.
func (l Length) Readable(u Unit) bool {
	step := u.Step()
	return math.Abs(math.Round(float64(l/step))*float64(step)-float64(l)) < 1e-3
}

// Step returns the smallest division written in unit u: 1/16 in or 0.5 mm.
func (u Unit) Step() Length {
	if u == Inch {
		return MillimetresPerInch / 16
	}
	return 0.5
}

// RoundTo returns l rounded to the nearest multiple of step; a step of 0 or less leaves it.
func (l Length) RoundTo(step Length) Length {
	if step <= 0 {
		return l
	}
	return Length(math.Round(float64(l/step))) * step
}

func mixed(sixteenths float64) string {
	sign := ""
	if sixteenths < 0 {
		sign, sixteenths = "-", -sixteenths
	}
	n, d := int64(sixteenths), int64(16)
	whole, n := n/d, n%d
	for n != 0 && n%2 == 0 {
		n, d = n/2, d/2
	}
	switch {
	case n == 0 && whole == 0:
		return "0"
	case n == 0:
		return fmt.Sprintf("%s%d", sign, whole)
	case whole == 0:
		return fmt.Sprintf("%s%d/%d", sign, n, d)
	}
	return fmt.Sprintf("%s%d %d/%d", sign, whole, n, d)
}

func trimZeros(v float64, places int) string {
	s := strconv.FormatFloat(v, 'f', places, 64)
	if strings.Contains(s, ".") {
		s = strings.TrimRight(strings.TrimRight(s, "0"), ".")
	}
	if s == "-0" {
		return "0"
	}
	return s
}
