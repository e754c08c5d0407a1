package bench

import (
	"cmp"
	"fmt"
	"net/http"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/plans"
	"zestysketch/internal/store"
)

// crossingsFor is how many crossings a box may hold for a class of a skill (ours).
var crossingsFor = map[grid.Skill]int{grid.Beginner: 6, grid.Middle: 9, grid.Detailed: 12}

// mostCrowded is how many crowded boxes are named.
const mostCrowded = 6

// crowdedView says which boxes of the kept plan hold more than the class's level.
type crowdedView struct {
	Most  int
	Boxes []string // with their counts
	Split string   // what divides them, with what is divided already
}

// crowded answers with the boxes of the kept plan that hold more crossings than suits the
// class, to be divided again; with nothing where no plan is kept yet.
func (a area) crowded(w http.ResponseWriter, r *http.Request, p store.Project) (err error) {
	plan, err := plans.Kept(r.Context(), a.Store, p)
	if err != nil {
		return err
	}
	var v crowdedView
	if plan != nil && p.Picture != nil && plan.Frame != nil {
		read, err := a.Boxes(r.Context(), p, *plan, p.Picture)
		if err != nil {
			return err
		}
		v.Most = crossingsFor[cmp.Or(plan.Wish(0, grid.Busy{}).Skill, grid.Beginner)]
		all := read.Crowded(v.Most)
		var labels []string
		for _, b := range all[:min(len(all), mostCrowded)] {
			v.Boxes = append(v.Boxes, fmt.Sprintf("%s has %d", b.Label, len(b.Crossings)))
			labels = append(labels, b.Label)
		}
		v.Split = plan.Halved(labels...)
	}
	return pages.Part(w, r, "bench.html", "crowded", http.StatusOK, v)
}
