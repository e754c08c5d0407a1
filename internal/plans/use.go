package plans

import (
	"context"
	"maps"
	"slices"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/lesson"
	"zestysketch/internal/store"
)

// Use is what stands by a project's plan of now and fits no other: boxes that are ticked, sheets that are printed, papers
// that are ruled.
type Use struct {
	AtWork  []uint64 // students who have boxes ticked, by number
	Boxes   int      // that they ticked
	Ruled   []uint64 // students who have marked up their sheets
	Printed bool
}

// Any reports whether there is anything of it.
func (u Use) Any() bool { return u.Printed || len(u.AtWork)+len(u.Ruled) > 0 }

// InUse returns what a new plan would part from; nothing where there is no old one, or its sheets are those of now.
func InUse(ctx context.Context, s *store.Store, p store.Project, old *grid.Plan, plan grid.Plan) (u Use, err error) {
	if old == nil || old.SameSheets(plan) {
		return u, err
	}
	ticks, err := s.Ticks(ctx, p.ID)
	if err != nil {
		return u, err
	}
	road := p.EffectiveRoad()
	for student, labels := range ticks {
		if len(road.Counts()) == 0 && len(labels) > 0 { // parts with names stay what they are
			u.AtWork, u.Boxes = append(u.AtWork, student), u.Boxes+len(labels)
		}
	}
	slices.Sort(u.AtWork)
	state, err := s.RoadState(ctx, p.ID, 0)
	if err != nil {
		return u, err
	}
	for _, student := range slices.Sorted(maps.Keys(state.Done)) {
		for _, stage := range road.Stages {
			if stage.Kind == lesson.MarkUp && state.Done[student][stage.ID] {
				u.Ruled = append(u.Ruled, student)
				break
			}
		}
	}
	u.Printed = p.PrintedAt != nil
	return u, nil
}
