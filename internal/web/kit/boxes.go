package kit

import (
	"context"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/reading"
	"zestysketch/internal/press"
	"zestysketch/internal/store"
)

// Boxes returns what is in the boxes of a picture by a plan, by the lines and in the
// fractions that the project wants: read once and kept.
func (k *Kit) Boxes(ctx context.Context, p store.Project, plan grid.Plan, picture *store.Picture) (reading.Reading, error) {
	if picture == nil || plan.Frame == nil {
		return reading.Reading{}, Ask("Choose a picture for this project first: its boxes are read from it.")
	}
	text, err := grid.Encode(plan)
	if err != nil {
		return reading.Reading{}, err
	}
	return Once(k, func() (reading.Reading, error) { return press.ReadBoxes(ctx, k.Store, p, plan, picture) },
		picture.ID, picture.LineDrawing(), string(text), p.Finest, p.ReadBy)
}
