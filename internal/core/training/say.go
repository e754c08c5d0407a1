package training

import (
	"fmt"
	"strings"
)

// Say returns a result in a sentence: the bias only where it is more than chance.
func (r Result) Say() string {
	a, ok := Named(r.Kind)
	if !ok {
		return ""
	}
	if w := r.Wrong; w != nil {
		return fmt.Sprintf("%s: %.0f %s (%.0f to %.0f)", a.Name, w.Value, a.In, w.Low, w.High)
	}
	spread := fmt.Sprintf("%s: give or take %.1f %s (%.1f to %.1f)", a.Name, r.Spread.Value, a.In, r.Spread.Low, r.Spread.High)
	in := r.Inward
	switch {
	case in != nil && in.Low > 0:
		return fmt.Sprintf("%s; marks stand %.1f %s too near the middle", spread, in.Value, a.In)
	case in != nil && in.High < 0:
		return fmt.Sprintf("%s; marks stand %.1f %s too near the ends", spread, -in.Value, a.In)
	}
	if leans := r.leans(); len(leans) > 0 {
		return spread + "; " + strings.Join(leans, ", ")
	}
	return spread + "; to no side more than chance"
}

// leans says to which sides an exercise is biased, more than chance.
func (r Result) leans() (all []string) {
	words := map[Kind][2]string{
		Along: {"too far up or left", "too far down or right"}, Halve: {"too short", "too long"}, Copy: {"too far left", "too far right"},
		Mirror: {"too narrow", "too broad"}, Heads: {"too few", "too many"},
		Angle:  {"too far turned to the right", "too far turned to the left"},
		Longer: {"the right one is taken for longer", "the left one is taken for longer"},
		Darker: {"the right one is taken for darker", "the left one is taken for darker"},
		Order:  {"the right one is taken for darker", "the left one is taken for darker"},
		Level:  {"a line is seen too low on the left", "a line is seen too high on the left"},
	}[r.Kind]
	add := func(e Estimate, less, more string) {
		switch {
		case e.Low > 0:
			all = append(all, fmt.Sprintf("%s by %.1f", more, e.Value))
		case e.High < 0:
			all = append(all, fmt.Sprintf("%s by %.1f", less, -e.Value))
		}
	}
	add(r.Bias, words[0], words[1])
	if r.Down != nil {
		add(*r.Down, "too high", "too low")
	}
	return all
}
