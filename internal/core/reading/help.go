package reading

import "slices"

// Help is how far somebody is helped to see what is in a box: each step shows what the
// ones before it do, and one thing more.
type Help string

// The steps of help. Quarter ticks are always there.
const (
	Ticks  Help = ""
	Dots   Help = "dots"  // at the crossings
	Words  Help = "words" // how each line goes
	Traced Help = "lines" // the lines themselves, one by one
)

// Helps lists the steps in their order.
var Helps = []Help{Ticks, Dots, Words, Traced}

// Step returns the place of a step in the order, from 0; -1 for none of them.
func (h Help) Step() int { return slices.Index(Helps, h) }

// Shares returns each whole box's share of all difficulty, in the plan's order, together
// 1: by it boxes are weighed for the pace, as by it they are divided. Nil where nothing is
// drawn.
func (r Reading) Shares() []float64 {
	var shares []float64
	sum := 0.0
	for _, b := range r.Boxes {
		if b.Part == 0 {
			shares, sum = append(shares, b.Difficulty), sum+b.Difficulty
		}
	}
	if sum == 0 {
		return nil
	}
	for i := range shares {
		shares[i] /= sum
	}
	return shares
}

// Crowded returns the whole boxes that hold more than so many crossings and are not
// divided, the most crowded first.
func (r Reading) Crowded(most int) (all []Box) {
	for i, b := range r.Boxes {
		divided := i+1 < len(r.Boxes) && r.Boxes[i+1].Part > 0
		if b.Part == 0 && !divided && len(b.Crossings) > most {
			all = append(all, b)
		}
	}
	slices.SortStableFunc(all, func(a, b Box) int { return len(b.Crossings) - len(a.Crossings) })
	return all
}
