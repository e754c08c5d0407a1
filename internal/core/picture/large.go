//go:build !js

package picture

import (
	"image"
	"image/color"
	"math"
)

// MaxLarge bounds the pixels of a photo that is shrunk while it is read: a JPEG as cameras and phones save it,
// whose planes alone are decoded, 1.5 bytes a pixel, and of which no more than largeKept pixels stay.
const MaxLarge = 120_000_000

const largeKept = 12_000_000

// shrunkBy returns by how much a picture's sides are divided while it is read: 1 for as it is.
func shrunkBy(b []byte, size image.Config, format string) int {
	px := int64(size.Width) * int64(size.Height)
	if format != "jpeg" || px <= MaxPixels || px > MaxLarge {
		return 1
	}
	if _, progressive := jpegSamples(b); progressive {
		return 1
	}
	return int(math.Ceil(math.Sqrt(float64(px) / largeKept)))
}

// Shrunk reports whether Decode returns fewer pixels than the file has.
func Shrunk(b []byte) bool {
	size, format, err := measured(b)
	return err == nil && shrunkBy(b, size, format) > 1
}

// reduced returns the means of k × k pixels, read from the picture's planes so that it need not be there in full.
func reduced(img image.Image, k int) *image.RGBA {
	w, h := img.Bounds().Dx()/k, img.Bounds().Dy()/k
	out := image.NewRGBA(image.Rect(0, 0, w, h))
	of := func(x, y int) color.Color { return img.At(x, y) } // of four components: one of each block
	switch v := img.(type) {
	case *image.YCbCr:
		of = func(x, y int) color.Color {
			cx, cy := v.COffset(x, y), v.COffset(x+k-1, y+k-1)
			wide, high := cy%v.CStride-cx%v.CStride+1, cy/v.CStride-cx/v.CStride+1
			return color.YCbCr{Y: meanOf(v.Y[v.YOffset(x, y):], v.YStride, k, k), Cb: meanOf(v.Cb[cx:], v.CStride, wide, high), Cr: meanOf(v.Cr[cx:], v.CStride, wide, high)}
		}
	case *image.Gray:
		of = func(x, y int) color.Color { return color.Gray{Y: meanOf(v.Pix[v.PixOffset(x, y):], v.Stride, k, k)} }
	}
	Bands(h, func(from, to int) {
		for y := from; y < to; y++ {
			for x := range w {
				out.Set(x, y, of(x*k, y*k))
			}
		}
	})
	return out
}

// meanOf returns the mean of the first w × h values of a plane.
func meanOf(plane []uint8, stride, w, h int) uint8 {
	sum := 0
	for y := range h {
		for _, v := range plane[y*stride : y*stride+w] {
			sum += int(v)
		}
	}
	return uint8((sum + w*h/2) / (w * h))
}
