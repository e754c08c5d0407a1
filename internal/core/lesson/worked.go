package lesson

import "slices"

// Ticked is a box that was ticked off at a moment, in minutes from any start.
type Ticked struct {
	At     float64
	Weight float64
}

// Span is a time of drawing, from the end of setting up to the beginning of
// clearing away, in the same minutes.
type Span struct{ From, To float64 }

// A gap longer than this between two ticks outside lessons is a break, and
// boxes ticked within half a minute of each other were ticked together (ours).
const (
	longestGap = 30.0
	together   = 0.5
)

// WorkOf returns what somebody drew, and how long it took, from their ticks. In
// a lesson the first box is reckoned from its beginning; outside lessons only
// gaps that are no breaks count. Boxes ticked together share the time before
// them.
func WorkOf(ticks []Ticked, lessons []Span) (worked []Worked) {
	ticks = slices.Clone(ticks)
	slices.SortStableFunc(ticks, func(a, b Ticked) int {
		switch {
		case a.At < b.At:
			return -1
		case a.At > b.At:
			return 1
		}
		return 0
	})
	for i := 0; i < len(ticks); {
		j := i + 1
		for j < len(ticks) && ticks[j].At-ticks[j-1].At < together {
			j++
		}
		if minutes := since(ticks, i, lessons); minutes > 0 {
			worked = append(worked, shared(ticks[i:j], minutes)...)
		}
		i = j
	}
	return worked
}

// since returns how long was drawn before tick i, 0 where that cannot be known.
func since(ticks []Ticked, i int, lessons []Span) float64 {
	at := ticks[i].At
	for _, l := range lessons {
		if at < l.From || at > l.To {
			continue
		}
		if i > 0 && ticks[i-1].At > l.From {
			return at - ticks[i-1].At
		}
		return at - l.From
	}
	if i == 0 || at-ticks[i-1].At > longestGap {
		return 0
	}
	return at - ticks[i-1].At
}

// shared divides minutes among boxes by their weights.
func shared(ticks []Ticked, minutes float64) (worked []Worked) {
	whole := 0.0
	for _, t := range ticks {
		whole += t.Weight
	}
	for _, t := range ticks {
		worked = append(worked, Worked{t.Weight, minutes * t.Weight / whole})
	}
	return worked
}
