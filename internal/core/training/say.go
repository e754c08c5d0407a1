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
		var all []string
		for _, l := range leans {
			all = append(all, fmt.Sprintf("%s by %.1f", l.side, l.by))
		}
		return spread + "; " + strings.Join(all, ", ")
	}
	return spread + "; to no side more than chance"
}

// Plain returns a result in one sentence for who did the exercise, without figures.
func (r Result) Plain() string {
	a, ok := Named(r.Kind)
	if !ok {
		return ""
	}
	name := a.Name + ": "
	if strings.HasSuffix(a.Name, "?") {
		name = a.Name + " "
	}
	in, leans := r.Inward, r.leans()
	switch {
	case r.Wrong != nil && r.Wrong.Value <= 10:
		return name + "nearly all right."
	case r.Wrong != nil && r.Wrong.Value <= 40:
		return name + "most were right."
	case r.Wrong != nil:
		return name + "look twice, many were taken for another."
	case in != nil && in.Low > 0:
		return name + "mostly a little too near the middle."
	case in != nil && in.High < 0:
		return name + "mostly a little too near the ends."
	case len(leans) == 0:
		return name + "now to one side, now to the other, as good eyes err."
	}
	var sides []string
	for _, l := range leans {
		sides = append(sides, l.side)
	}
	return name + "mostly " + strings.Join(sides, " and ") + "."
}

// lean is a side to which an exercise is biased, and by how much.
type lean struct {
	side string
	by   float64
}

// leans says to which sides an exercise is biased, more than chance.
func (r Result) leans() (all []lean) {
	words := map[Kind][2]string{
		Along: {"too far up or left", "too far down or right"}, Halve: {"too short", "too long"}, Copy: {"too far left", "too far right"},
		Leaves: {"too far left", "too far right"},
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
			all = append(all, lean{more, e.Value})
		case e.High < 0:
			all = append(all, lean{less, -e.Value})
		}
	}
	add(r.Bias, words[0], words[1])
	if r.Down != nil {
		add(*r.Down, "too high", "too low")
	}
	return all
}
