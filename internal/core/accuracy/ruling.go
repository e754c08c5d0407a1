package accuracy

import (
	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/photo"
)

// Ruling says how well the grid on a sheet is ruled that is photographed before anything is
// drawn on it; false where no grid is found, or too little of it shows.
func Ruling(p grid.Plan, shot *photo.Shot) (Grid, bool) {
	j := Job{Plan: p, Photo: shot}
	quad, by, err := j.corners()
	if err != nil {
		return Grid{}, false
	}
	d, _, err := j.see(quad, by)
	if err != nil {
		return Grid{}, false
	}
	g := gridErrors(p, d.Ruled, d)
	return g, len(g.Problems) > 0 || g.Shown >= gridSeen
}
