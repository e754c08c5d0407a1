package kit

import (
	"context"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/store"
)

// Plans are the plans by which a class draws.
type Plans struct {
	Class grid.Plan            // the project's
	own   map[uint64]grid.Plan // of students with a picture or frame of their own
	given map[uint64]store.Assignment
}

// Of returns the plan by which a student draws.
func (p Plans) Of(student uint64) grid.Plan {
	if own, ok := p.own[student]; ok {
		return own
	}
	return p.Class
}

// PictureOf returns the number of the picture that a student draws from, given the project's.
func (p Plans) PictureOf(student uint64, main *uint64) *uint64 {
	if a := p.given[student]; a.PictureID != nil {
		return a.PictureID
	}
	return main
}

// Plans returns the plans of a project that the caller has fetched. A
// student's own is made from the same wishes; where they cannot be met with
// that picture, the class's plan stands in.
func (k *Kit) Plans(ctx context.Context, p store.Project, class grid.Plan) (Plans, error) {
	given, err := k.Store.Assignments(ctx, p.ID)
	plans := Plans{class, map[uint64]grid.Plan{}, given}
	for student, a := range given {
		if a.Picture == nil {
			continue
		}
		if own, err := grid.Make(ownAsk(class.Typed, a)); err == nil {
			plans.own[student] = own
		}
	}
	return plans, err
}

func ownAsk(ask grid.Request, a store.Assignment) grid.Request {
	ask.Picture, ask.Frame = [2]int{a.Picture.Width, a.Picture.Height}, ""
	if a.Frame != nil {
		ask.Frame = a.Frame.Frame
	}
	ask.Split = "" // those boxes were crowded in another picture
	return ask
}
