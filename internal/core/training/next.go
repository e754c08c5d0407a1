package training

import "slices"

// Fault is something that a drawing shows its maker's eye did not see.
type Fault string

// The faults.
const (
	Places      Fault = "places"      // lines or points stand beside their places
	Proportions Fault = "proportions" // one length beside another
	Sizes       Fault = "sizes"       // the whole is too large or too small
	Leaning     Fault = "leaning"     // the whole leans
	Ruling      Fault = "ruling"      // the grid is not even
	Tones       Fault = "tones"       // darks and lights
	Lost        Fault = "lost"        // what is drawn is another box's, or left out
	Halves      Fault = "halves"      // two halves that should be alike are not
)

// trains says which exercises train what was not seen, the nearest first (ours).
var trains = map[Fault][]Kind{
	Places: {Along, Copy}, Proportions: {Halve, Heads}, Sizes: {Heads, Longer}, Leaning: {Level, Angle},
	Ruling: {Halve, Longer}, Tones: {Order, Darker}, Lost: {Which, Along}, Halves: {Mirror, Longer},
}

// Next returns the exercises that faults ask for, those of the first fault first, none
// twice.
func Next(faults []Fault) (kinds []Kind) {
	for _, f := range faults {
		for _, k := range trains[f] {
			if !slices.Contains(kinds, k) {
				kinds = append(kinds, k)
			}
		}
	}
	return kinds
}
