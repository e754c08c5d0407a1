package accuracy

import (
	"math"
	"slices"
)

// Shared is one box over several students' drawings.
type Shared struct {
	Label string
	Wrong int
	Of    int // drawings in which it could be measured
}

// Share returns the part that gets it wrong, 0 to 1.
func (s Shared) Share() float64 { return float64(s.Wrong) / float64(max(1, s.Of)) }

// ClassPicture returns how many of a class's drawings are wrong in each box that
// could be measured in any of them.
func ClassPicture(drawings []Gist) (boxes []Shared) {
	at := map[string]int{}
	of := func(label string) *Shared {
		i, known := at[label]
		if !known {
			i = len(boxes)
			at[label] = i
			boxes = append(boxes, Shared{Label: label})
		}
		return &boxes[i]
	}
	for _, g := range drawings {
		for _, label := range g.Told {
			of(label).Of++
		}
		for _, label := range g.Wrong {
			of(label).Wrong++
		}
	}
	return boxes
}

// Reteach returns the boxes that at least half of at least three drawings get
// wrong, the worst first: three at most.
func Reteach(boxes []Shared) []Shared {
	var most []Shared
	for _, b := range boxes {
		if b.Of >= 3 && 2*b.Wrong >= b.Of {
			most = append(most, b)
		}
	}
	slices.SortStableFunc(most, func(a, b Shared) int {
		if d := b.Share() - a.Share(); d != 0 {
			return int(math.Copysign(1, d))
		}
		return b.Wrong - a.Wrong
	})
	return most[:min(mostAdvice, len(most))]
}
