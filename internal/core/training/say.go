package training

import (
	"fmt"
	"math"
)

// Say returns a result in a sentence: the bias only where it is more than chance.
func (r Result) Say() string {
	a, ok := Named(r.Kind)
	if !ok {
		return ""
	}
	spread := fmt.Sprintf("%s: give or take %.1f %s (%.1f to %.1f)", a.Name, r.Spread.Value, a.In, r.Spread.Low, r.Spread.High)
	in := r.Inward
	switch {
	case in != nil && in.Low > 0:
		return fmt.Sprintf("%s; marks stand %.1f %s too near the middle", spread, in.Value, a.In)
	case in != nil && in.High < 0:
		return fmt.Sprintf("%s; marks stand %.1f %s too near the ends", spread, -in.Value, a.In)
	case r.Bias.Low > 0 || r.Bias.High < 0:
		return fmt.Sprintf("%s; %s by %.1f", spread, r.lean(), math.Abs(r.Bias.Value))
	}
	return spread + "; to no side more than chance"
}

// lean says to which side a bias goes.
func (r Result) lean() string {
	more := r.Bias.Value > 0
	word := map[Kind][2]string{
		Along: {"too far up or left", "too far down or right"}, Halve: {"too short", "too long"},
		Angle:  {"too far turned to the right", "too far turned to the left"},
		Longer: {"the right one is taken for longer", "the left one is taken for longer"},
		Darker: {"the right one is taken for darker", "the left one is taken for darker"},
	}[r.Kind]
	if more {
		return word[1]
	}
	return word[0]
}
