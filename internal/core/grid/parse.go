package grid

import (
	"slices"
	"strconv"
	"strings"
	"zestysketch/internal/core/measure"
)

// printed returns the frame's size on the reference print. A width alone takes
// the frame's own ratio.
func (r Request) printed(bad *Problems, u measure.Unit, f *Frame) measure.Size {
	width, err := measure.Parse(r.Reference, u)
	if err != nil || f == nil {
		return r.size(bad, "reference", r.Reference, u, true)
	}
	height := width * measure.Length(f.Size[1]/f.Size[0])
	return bounded(bad, "reference", r.Reference, measure.Size{W: width, H: height}, u)
}

func (r Request) size(bad *Problems, field, text string, u measure.Unit, needed bool) measure.Size {
	if strings.TrimSpace(text) == "" {
		if needed {
			bad.add(field, "write the picture's printed size, such as 8 × 9 1/2 in")
		}
		return measure.Size{}
	}
	s, err := measure.ParseSize(text, u)
	if err != nil {
		bad.add(field, "%v", plain(err))
		return s
	}
	return bounded(bad, field, text, s, u)
}

func bounded(bad *Problems, field, text string, s measure.Size, u measure.Unit) measure.Size {
	switch {
	case s.W <= 0 || s.H <= 0:
		bad.add(field, "both sides must be more than 0, got %q", text)
	case min(s.W, s.H) < leastSide || max(s.W, s.H) > mostSide:
		bad.add(field, "each side must be between 5 mm and 20 m, got %s", s.Text(u))
	}
	return s
}

func (r Request) length(bad *Problems, field, text string, u measure.Unit, least measure.Length) measure.Length {
	if strings.TrimSpace(text) == "" {
		return 0
	}
	l, err := measure.Parse(text, u)
	switch {
	case err != nil:
		bad.add(field, "%v", plain(err))
	case l <= 0:
		bad.add(field, "must be more than 0, got %q", text)
	case l < least:
		bad.add(field, "%s is too small to draw in; use at least %s", l.Text(u), least.Text(u))
	case l > mostSide:
		bad.add(field, "must be less than 20 m, got %q", text)
	}
	return l
}

func (r Request) scale(bad *Problems) float64 {
	text := strings.TrimSpace(strings.TrimLeft(strings.TrimSpace(r.Scale), "×x"))
	if text == "" {
		return 0
	}
	number, percent := strings.CutSuffix(text, "%")
	// A bare millimetre is the plain number, so a scale may be written 1 1/2 too.
	l, err := measure.Parse(number, measure.Millimetre)
	k := float64(l)
	if percent {
		k /= 100
	}
	if err != nil || strings.ContainsAny(number, "abcdefghijklmnopqrstuvwxyz\"'") {
		bad.add("scale", "wanted a number such as 1.5 or 150%%, got %q", r.Scale)
		return 0
	}
	if k < leastScale || k > mostScale {
		bad.add("scale", "wanted between 0.05 and 200, got %q; 1.5 and 2 are usual", r.Scale)
	}
	return k
}

// plain drops the sentinel from the front of an error: the rest says it all.
func plain(err error) string {
	s := strings.ReplaceAll(err.Error(), measure.ErrSize.Error()+": ", "")
	return strings.ReplaceAll(s, measure.ErrLength.Error()+": ", "")
}

func oneOf[T ~string](bad *Problems, field string, got T, allowed ...T) {
	if slices.Contains(allowed, got) {
		return
	}
	words := make([]string, len(allowed))
	for i, a := range allowed {
		words[i] = string(a)
	}
	bad.add(field, "wanted %s, got %q", strings.Join(words, ", "), string(got))
}

func orElse(s, usual string) string {
	if s = strings.ToLower(strings.TrimSpace(s)); s == "" {
		return usual
	}
	return s
}

// rounding is a step to which a side is rounded, to the nearest or one way.
type rounding struct {
	step     measure.Length
	up, down bool
}

// rounding reads "1/2 in", "1/2 in up" or "5 mm down".
func (r Request) rounding(bad *Problems, u measure.Unit) (to rounding) {
	text := strings.TrimSpace(strings.ToLower(r.Round))
	text, to.up = strings.CutSuffix(text, " up")
	if !to.up {
		text, to.down = strings.CutSuffix(text, " down")
	}
	to.step = r.length(bad, "round", text, u, 0)
	return to
}

// round never rounds a side away.
func (to rounding) round(l measure.Length) measure.Length {
	out := l.RoundTo(to.step)
	switch {
	case to.up && out < l-0.01:
		out += to.step
	case to.down && out > l+0.01:
		out -= to.step
	}
	if out <= 0 {
		return l
	}
	return out
}

// minutes returns the minutes there are, 0 where nobody said.
func (r Request) minutes(bad *Problems) float64 {
	text := strings.TrimSpace(strings.TrimSuffix(strings.TrimSpace(strings.ToLower(r.Minutes)), "min"))
	if text == "" {
		return 0
	}
	v, err := strconv.ParseFloat(text, 64)
	if err != nil || !(v > 0 && v <= 6000) {
		bad.add("minutes", "wanted minutes such as 90, got %q", r.Minutes)
		return 0
	}
	return v
}
