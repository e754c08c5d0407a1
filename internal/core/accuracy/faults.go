package accuracy

import (
	"slices"

	"zestysketch/internal/core/training"
)

// Faults returns what a drawing shows its maker's eye did not see, in the order in which
// it is to be mended: what exercises are chosen by.
func (r Report) Faults() (all []training.Fault) {
	add := func(f training.Fault) {
		if !slices.Contains(all, f) {
			all = append(all, f)
		}
	}
	for _, a := range r.Next {
		switch a.About {
		case AboutGrid:
			add(training.Ruling)
		case AboutWhole:
			r.addWhole(add)
		case AboutLandmark:
			if len(a.Cells) == 0 { // one length beside another
				add(training.Proportions)
			} else {
				add(training.Places)
			}
		case AboutPart:
			add(training.Places)
		case AboutLines:
			add(training.Places)
		case AboutOther, AboutMissing:
			add(training.Lost)
		case AboutTone:
			add(training.Tones)
		case AboutHalves:
			add(training.Halves)
		case AboutViews:
			add(training.Proportions)
		}
	}
	return all
}

// addWhole adds what is off of the whole: its turn, its size or its place.
func (r Report) addWhole(add func(training.Fault)) {
	turned, sized := r.Fit.turned(), r.Fit.sized()
	if turned {
		add(training.Leaning)
	}
	if sized {
		add(training.Sizes)
	}
	if !turned && !sized {
		add(training.Places)
	}
}
