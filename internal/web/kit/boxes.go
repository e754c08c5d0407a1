package kit

import (
	"cmp"
	"context"
	"image"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/reading"
	"zestysketch/internal/intake"
	"zestysketch/internal/store"
)

// Boxes returns what is in the boxes of a picture by a plan, in the fractions that the
// project wants: read once and kept.
func (k *Kit) Boxes(ctx context.Context, p store.Project, plan grid.Plan, picture *store.Picture) (reading.Reading, error) {
	if picture == nil || plan.Frame == nil {
		return reading.Reading{}, Ask("Choose a picture for this project first: its boxes are read from it.")
	}
	text, err := grid.Encode(plan)
	if err != nil {
		return reading.Reading{}, err
	}
	finest := cmp.Or(p.Finest, reading.Thirds)
	return Once(k, func() (r reading.Reading, err error) {
		file, err := k.Store.PictureFile(ctx, p.TeacherID, picture.ID, store.View)
		if err != nil {
			return r, err
		}
		err = intake.Use(ctx, file.Bytes, func(img *image.RGBA) error {
			r, err = reading.Picture(plan, img, picture.LineDrawing(), reading.Lines, finest)
			return err
		})
		return r, err
	}, picture.ID, picture.LineDrawing(), string(text), finest)
}
