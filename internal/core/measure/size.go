package measure

import (
	"fmt"
	"math"
	"strings"
)

// Size is a width and a height.
type Size struct{ W, H Length }

// Text returns the size with its unit said once: "8 × 9 1/2 in".
func (s Size) Text(u Unit) string { return s.W.Bare(u) + " × " + s.H.Text(u) }

// Scale returns the size with both sides multiplied by k.
func (s Size) Scale(k float64) Size { return Size{s.W * Length(k), s.H * Length(k)} }

// Turned returns the size with width and height exchanged.
func (s Size) Turned() Size { return Size{s.H, s.W} }

// Holds reports whether o fits into s without turning, to a hundredth of a millimetre.
func (s Size) Holds(o Size) bool { return o.W <= s.W+0.01 && o.H <= s.H+0.01 }

// Near returns the size with each side that is within half a division of unit u's
// ruler of o's made equal to it.
func (s Size) Near(o Size, u Unit) Size {
	near := func(a, b Length) Length {
		if math.Abs(float64(a-b)) < float64(u.Step()/2) {
			return b
		}
		return a
	}
	return Size{near(s.W, o.W), near(s.H, o.H)}
}

// Diagonal returns the distance between opposite corners, √(w² + h²).
func (s Size) Diagonal() Length { return Length(math.Hypot(float64(s.W), float64(s.H))) }

// timesSign writes what stands between two sides as x.
var timesSign = strings.NewReplacer("×", "x", "*", "x", " by ", "x")

// ParseSize reads "8x9.5in", "8 × 9 1/2 in", "8in by 24cm" or the name of a
// paper such as "A4", "letter" or "a3 lying". A side without a unit takes the
// other side's, and u if neither has one. Errors wrap ErrSize; signs and
// zero are left for the caller to judge.
func ParseSize(s string, u Unit) (Size, error) {
	if p, ok := paperByWords(s); ok {
		return p, nil
	}
	low := strings.ToLower(strings.TrimSpace(s))
	low = timesSign.Replace(low)
	left, right, ok := strings.Cut(low, "x")
	if !ok {
		return Size{}, fmt.Errorf("%w: wanted a size such as 8 × 9 1/2 in, or a paper such as A4, got %q", ErrSize, shorten(s))
	}
	w, wBare, err := parse(left)
	if err != nil {
		return Size{}, fmt.Errorf("%w: %w", ErrSize, err)
	}
	h, hBare, err := parse(right)
	if err != nil {
		return Size{}, fmt.Errorf("%w: %w", ErrSize, err)
	}
	switch {
	case wBare && hBare:
		w, h = w*u.Millimetres(), h*u.Millimetres()
	case wBare:
		w *= unitOf(right)
	case hBare:
		h *= unitOf(left)
	}
	return Size{w, h}, nil
}

// Spell returns the text of a length or size with unit u written after it
// where it has no unit of its own, so that it means the same whatever unit is
// looked at next. Text that is neither is returned as it is.
func Spell(s string, u Unit) string {
	low := timesSign.Replace(strings.ToLower(strings.TrimSpace(s)))
	for part := range strings.SplitSeq(low, "x") {
		if _, bare, err := parse(part); err != nil || !bare {
			return s
		}
	}
	return strings.TrimSpace(s) + " " + string(u)
}

// unitOf returns the millimetres of the last unit written in s, which parse has accepted.
func unitOf(s string) Length {
	s = strings.TrimSpace(s)
	_, rest := cutNumber(s)
	for {
		word, after := cutWord(rest)
		if after == "" {
			return unitWords[strings.TrimSuffix(word, ".")]
		}
		_, rest = cutNumber(after)
	}
}
