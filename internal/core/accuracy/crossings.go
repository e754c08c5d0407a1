package accuracy

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"zestysketch/internal/core/reading"
)

// Leaves is a place where a line crosses a side of a box elsewhere than the picture's.
type Leaves struct {
	Cell          string
	Side          reading.Side
	Drawn, Wanted float64 // from the side's left or top, 0 to 1
	Say           string
}

// A crossing is told where its box is sure in both directions and the lines there run
// across the side, not along it; it is off by so much at least, in boxes.
const leastLeaves, acrossSide = 0.07, 0.35

// Crossings returns where lines leave a drawing's boxes elsewhere than the picture's, the
// furthest off first, each once: what is known of a box's shift carries the picture's own
// crossings to where they were drawn.
func (r Report) Crossings(boxes []reading.Box, f reading.Finest) (all []Leaves) {
	cells := map[string]Cell{}
	for _, c := range r.Cells {
		cells[c.Label] = c
	}
	seen := map[int]bool{}
	for _, b := range boxes {
		c, ok := cells[b.Label]
		if !ok || b.Part > 0 || c.Sure != Both || c.State == Empty {
			continue
		}
		for _, x := range b.Crossings {
			to, known := drawnAt(x, c)
			if !known || seen[x.ID] || math.Abs(to-x.At) < leastLeaves || to < 0 || to > 1 {
				continue
			}
			seen[x.ID] = true
			if drawn, wanted := f.Say(to), f.Say(x.At); drawn != wanted && min(len(drawn), len(wanted)) > 0 {
				all = append(all, Leaves{b.Label, x.Side, to, x.At, fmt.Sprintf("%s: your line crosses the %s side at %s, the picture’s at %s.", b.Label, x.Side, drawn, wanted)})
			}
		}
	}
	slices.SortStableFunc(all, func(a, b Leaves) int { return cmp.Compare(math.Abs(b.Drawn-b.Wanted), math.Abs(a.Drawn-a.Wanted)) })
	return all
}

// drawnAt returns where on its side a box's line was drawn to cross; false where the line
// runs along the side, so that a hair's breadth moves it far.
func drawnAt(x reading.Crossing, c Cell) (float64, bool) {
	sin, cos := math.Sincos(x.Direction * math.Pi / 180)
	// The line is (cos, -sin) in places down and to the right.
	aside, along, across := c.Shift.X, c.Shift.Y, cos
	if x.Side == reading.Top || x.Side == reading.Bottom {
		aside, along, across = along, aside, sin
	}
	if math.Abs(across) <= acrossSide {
		return 0, false
	}
	return x.At + along + aside*sin*cos/(across*across), true
}
