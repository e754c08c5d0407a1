package accuracy

import (
	"image"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/photo"
	"zestysketch/internal/core/picture"
)

// Job is what a check is made of.
type Job struct {
	Plan      grid.Plan
	Reference *image.RGBA // nil where only landmarks are measured
	Tonal     bool        // the reference is no line drawing
	Photo     *image.RGBA
	Corners   [4][2]float64 // of the outer grid rectangle, in photo pixels
	Marks     []Landmark
	Tolerance float64 // in boxes
}

// Measure measures a photographed drawing.
func Measure(j Job) (Report, error) {
	quad := Corners(j.Corners)
	view, err := photo.NewView(j.Plan, quad, photo.NewLens(j.Photo.Rect.Dx(), j.Photo.Rect.Dy(), 0))
	if err != nil {
		return Report{}, err
	}
	r := Report{Format: Format, Corners: j.Corners, Tolerance: j.Tolerance, Photo: judgePhoto(j.Plan, quad)}
	d := See(j.Plan, j.Reference, j.Tonal, j.Photo, view, r.Photo.PixelsPerCell)
	r.Cells, r.Fit = d.Lines(j.Tolerance)
	_ = picture.Point{}
	return r, nil
}
