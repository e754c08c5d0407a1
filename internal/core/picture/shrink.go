package picture

import (
	"image"
	"math"

	"golang.org/x/image/draw"
)

// Shrink returns img no longer than side on its longer side, averaged so that
// fine lines stay; img itself where it is small enough already. Halving comes
// first, which costs one pass over the pixels; the rest is done by a bilinear kernel.
func Shrink(img *image.RGBA, side int) *image.RGBA {
	longer := max(img.Rect.Dx(), img.Rect.Dy())
	if longer <= side {
		return img
	}
	for longer >= 2*side {
		img = Halve(img)
		longer = max(img.Rect.Dx(), img.Rect.Dy())
	}
	if longer <= side {
		return img
	}
	k := float64(side) / float64(longer)
	w := max(1, int(math.Round(float64(img.Rect.Dx())*k)))
	h := max(1, int(math.Round(float64(img.Rect.Dy())*k)))
	out := image.NewRGBA(image.Rect(0, 0, w, h))
	draw.BiLinear.Scale(out, out.Rect, img, img.Rect, draw.Src, nil)
	return out
}

// Halve averages blocks of 2 × 2 pixels; an odd last row or column counts twice.
func Halve(src *image.RGBA) *image.RGBA {
	w, h := src.Rect.Dx(), src.Rect.Dy()
	out := image.NewRGBA(image.Rect(0, 0, (w+1)/2, (h+1)/2))
	Bands(out.Rect.Dy(), func(from, to int) { halveRows(out, src, from, to) })
	return out
}

func halveRows(out, src *image.RGBA, from, to int) {
	w, h := src.Rect.Dx(), src.Rect.Dy()
	for y := from; y < to; y++ {
		top := src.Pix[2*y*src.Stride:]
		bottom := src.Pix[min(2*y+1, h-1)*src.Stride:]
		row := out.Pix[y*out.Stride:]
		for x := range out.Rect.Dx() {
			l, r := 8*x, 4*min(2*x+1, w-1)
			for c := range 4 {
				row[4*x+c] = uint8((int(top[l+c]) + int(top[r+c]) + int(bottom[l+c]) + int(bottom[r+c]) + 2) / 4)
			}
		}
	}
}
