package kit

import (
	"zestysketch/internal/core/accuracy"
	"zestysketch/internal/core/grid"
	"zestysketch/internal/store"
)

// MarkOn returns a landmark as a plan sees it; ok is false where the plan does
// not show it: it may have been placed on a part that was cropped away later.
func MarkOn(p grid.Plan, l store.Landmark) (m accuracy.Landmark, ok bool) {
	at := p.FromPicture(grid.Point{X: l.X, Y: l.Y})
	m = accuracy.Landmark{Name: l.Name, Weight: float64(l.Weight), Reference: [2]float64{at.X, at.Y}}
	return m, at.X >= 0 && at.Y >= 0 && at.X <= p.Reference.Width && at.Y <= p.Reference.Height
}

// Placed returns the landmarks that a plan shows and a check-in has a place
// for, ready to measure.
func Placed(p grid.Plan, c store.CheckIn, landmarks []store.Landmark) (marks []accuracy.Landmark) {
	for _, l := range landmarks {
		if photo, has := c.Marks[l.ID]; has {
			if m, ok := MarkOn(p, l); ok {
				m.Photo = photo
				marks = append(marks, m)
			}
		}
	}
	return marks
}
