package picture

import (
	"image"
	"zestysketch/internal/core/plane"
)

// Framed returns what a frame shows: the picture inside four corners that run
// clockwise, or anticlockwise for a mirrored frame, w × h pixels, resampled as
// Rectify does. The error is ErrCorners.
func Framed(img *image.RGBA, corners plane.Quad, mirror bool, w, h int) (*image.RGBA, error) {
	if mirror {
		corners[0], corners[1], corners[2], corners[3] = corners[1], corners[0], corners[3], corners[2]
	}
	out, err := Rectify(img, corners, w, h)
	if err == nil && mirror {
		out = upright(out, 2) // EXIF's 2 is mirrored across
	}
	return out, err
}

// Detail measures where a picture is crowded: the frame inside the corners is
// cut into columns × rows equal patches, and each gets its share of all edges,
// row by row, together 1. A picture without edges has equal shares.
func Detail(img *image.RGBA, corners plane.Quad, mirror bool, columns, rows int) ([]float64, error) {
	const fine = 12 // pixels a patch: finer than that is texture, not form
	small, err := Framed(img, corners, mirror, columns*fine, rows*fine)
	if err != nil {
		return nil, err
	}
	light := func(x, y int) float64 { return float64(Luma(small.Pix[small.PixOffset(x, y):])) }
	shares, total := make([]float64, columns*rows), 0.0
	for y := range rows*fine - 1 {
		for x := range columns*fine - 1 {
			// Edges at the patches' own borders count for the patch on the left and above.
			edge := abs(light(x+1, y)-light(x, y)) + abs(light(x, y+1)-light(x, y))
			if edge > faintEdge {
				shares[y/fine*columns+x/fine] += edge
				total += edge
			}
		}
	}
	for i := range shares {
		if total > 0 {
			shares[i] /= total
		} else {
			shares[i] = 1 / float64(len(shares))
		}
	}
	return shares, nil
}

// faintEdge is the step of lightness, of 255, below which an edge is grain or shading.
const faintEdge = 10
