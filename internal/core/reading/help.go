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
