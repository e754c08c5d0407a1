package grid

import "zestysketch/internal/core/measure"

// Bounds of what a person can mean: a stamp to a wall, and a grid that can be
// printed and ticked. The form and the plan file are held to the same.
const (
	leastSide  = measure.Length(5)
	mostSide   = measure.Length(20_000)  // of what is printed or bought
	leastSheet = measure.Length(1)       // of what is drawn, and the paper it is drawn on
	mostSheet  = measure.Length(100_000) // a wall along a street
	mostCells  = 1000
	leastScale = 0.05
	mostScale  = 200
	mostPanels = 12  // papers each way that hang as one
	mostLine   = 3.0 // mm, a grid line's width
	leastRuler = measure.Length(50)
	mostZero   = measure.Length(50)   // from the end of a ruler's wood to its zero line
	mostStep   = measure.Length(25.4) // between a ruler's finest lines
)
