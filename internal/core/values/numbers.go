package values

import (
	"math"

	"zestysketch/internal/core/lines"
	"zestysketch/internal/core/plane"
)

// NumberAt is where an area's number stands: its point furthest from every border.
type NumberAt struct {
	At   plane.Point // pixels of the map
	Room float64     // pixels to the nearest border
}

// Numbers returns where the numbers of all areas stand, in their order.
func (m Map) Numbers() []NumberAt {
	far := lines.Distances(m.W, m.H, func(x, y int) bool {
		a := m.area(x, y)
		return a != m.area(x-1, y) || a != m.area(x+1, y) || a != m.area(x, y-1) || a != m.area(x, y+1)
	})
	best := make([]NumberAt, len(m.Areas))
	for i := range best {
		best[i].Room = -1
	}
	for i, d := range far { // squared
		if p := &best[m.At[i]]; d > p.Room {
			*p = NumberAt{plane.Pt(float64(i%m.W)+0.5, float64(i/m.W)+0.5), d}
		}
	}
	for i := range best {
		best[i].Room = math.Sqrt(best[i].Room)
	}
	return best
}

// Shade returns the L* with which a step is shown: its own, or its opposite
// for light pencil on black paper.
func (m Map) Shade(step int, inverted bool) float64 {
	l := m.Levels[step].Light
	if inverted {
		return 100 - l
	}
	return l
}
