package checkin

import (
	"context"
	"image"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/photo"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/intake"
	"zestysketch/internal/store"
)

// View returns how the sheet lies in a check-in's photo: as it was measured,
// else as four corners say.
func (j Job) View(c store.CheckIn, corners plane.Quad) (photo.View, error) {
	if c.Report != nil && c.Report.Corners == corners {
		return c.Report.View(j.Plan)
	}
	return photo.NewView(j.Plan, corners, photo.NewLens(c.Picture.Width, c.Picture.Height, 0))
}

// straightSide is how large a photo is kept for the screen, which is fine enough.
const straightSide = 1600

// Straight returns the drawing of one of a teacher's check-ins, made by a plan,
// seen straight on, its longer side so many pixels, from the photo as large as
// the screen shows it; nil where nobody knows yet where the drawing lies.
func Straight(ctx context.Context, s *store.Store, teacher uint64, p grid.Plan, c store.CheckIn, side float64) (*image.RGBA, error) {
	if c.Corners == nil {
		return nil, nil
	}
	file, err := s.PictureFile(ctx, teacher, c.PictureID, store.View)
	if err != nil {
		return nil, err
	}
	img, err := intake.Small(ctx, file.Bytes, straightSide)
	if err != nil {
		return nil, err
	}
	k := float64(img.Rect.Dx()) / float64(c.Picture.Width)
	var bend float64
	var curl *photo.Curl
	corners := *c.Corners
	for i := range corners {
		corners[i].X, corners[i].Y = corners[i].X*k, corners[i].Y*k
	}
	if c.Gist != nil {
		bend, curl = c.Gist.Bend, c.Gist.Curl
	}
	view, err := photo.NewCurledView(p, corners, photo.NewLens(img.Rect.Dx(), img.Rect.Dy(), bend), curl)
	if err != nil {
		return nil, nil // corners that were placed in a heap: there is no drawing to show
	}
	return view.Straight(photo.NewShot(img), photo.SheetFrame(p, side)), nil
}
