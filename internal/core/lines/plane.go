// Package lines finds lines in pictures: where they run to a part of a pixel,
// across which direction they are thin, and how far anything is from them.
//
// It knows pixels and nothing of drawings, boxes or people.
package lines

import (
	"image"
	"math"

	"zestysketch/internal/core/picture"
)

// Plane is one value a pixel, row by row; 0 is black and 1 is white paper
// where it holds a picture.
type Plane struct {
	W, H int
	Pix  []float32
}

// NewPlane returns a plane of zeros.
func NewPlane(w, h int) Plane { return Plane{w, h, make([]float32, w*h)} }

// Row returns row y.
func (p Plane) Row(y int) []float32 { return p.Pix[y*p.W : (y+1)*p.W] }

// At returns the value at a pixel, the nearest one for a pixel outside.
func (p Plane) At(x, y int) float32 { return p.Pix[max(0, min(y, p.H-1))*p.W+max(0, min(x, p.W-1))] }

// Grey returns the luma of a picture, 0 to 1.
func Grey(img *image.RGBA) Plane {
	p := NewPlane(img.Rect.Dx(), img.Rect.Dy())
	for y := range p.H {
		src := img.Pix[y*img.Stride:]
		row := p.Row(y)
		for x := range row {
			row[x] = picture.Luma(src[4*x:]) / 255
		}
	}
	return p
}

// hueCounts is how much a difference of hue counts beside one of light (ours).
const hueCounts = 1. / 3

// Hues returns by how much a picture's red and its blue differ from its luma, −1 to 1, each a
// third of it: what colours as light as one another differ by.
func Hues(img *image.RGBA) [2]Plane {
	w, h := img.Rect.Dx(), img.Rect.Dy()
	out := [2]Plane{NewPlane(w, h), NewPlane(w, h)}
	for y := range h {
		src := img.Pix[y*img.Stride:]
		red, blue := out[0].Row(y), out[1].Row(y)
		for x := range red {
			p := src[4*x:]
			luma := picture.Luma(p)
			red[x], blue[x] = (float32(p[0])-luma)*(hueCounts/255), (float32(p[2])-luma)*(hueCounts/255)
		}
	}
	return out
}

// Lightness returns a picture's L* ÷ 100.
func Lightness(img *image.RGBA) Plane {
	p := NewPlane(img.Rect.Dx(), img.Rect.Dy())
	picture.Bands(p.H, func(from, to int) {
		for y := from; y < to; y++ {
			src, row := img.Pix[y*img.Stride:], p.Row(y)
			for x := range row {
				row[x] = float32(picture.LightnessOf(picture.Luminance(src[4*x], src[4*x+1], src[4*x+2])) / 100)
			}
		}
	})
	return p
}

// Blur returns the plane under a Gaussian of the given sigma in pixels; beyond
// the edge the nearest pixel is repeated. A sigma of 0 changes nothing.
func (p Plane) Blur(sigma float64) Plane {
	if sigma <= 0 || p.W == 0 || p.H == 0 {
		return p
	}
	kernel, out := gaussian(sigma), NewPlane(p.W, p.H)
	picture.Bands(p.H, func(from, to int) { p.blurRows(out, kernel, from, to) })
	return out
}

// blurRows blurs down into a row with room at its ends, and that row across. A kernel
// is even: what lies equally far on both sides is weighed together, and a whole row at
// a time, so that no sum waits for the one before.
func (p Plane) blurRows(out Plane, kernel []float32, from, to int) {
	half := len(kernel) / 2
	at := func(y int) []float32 { return p.Row(max(0, min(y, p.H-1))) }
	padded := make([]float32, p.W+2*half)
	down := padded[half : half+p.W]
	for y := from; y < to; y++ {
		weigh(down, kernel, func(i int) []float32 { return at(y + i) })
		for i := range half {
			padded[i], padded[half+p.W+i] = down[0], down[p.W-1]
		}
		weigh(out.Row(y), kernel, func(i int) []float32 { return padded[half+i : half+i+p.W] })
	}
}

// weigh sets to to the sum of rows under an even kernel, row 0 under its middle.
func weigh(to, kernel []float32, row func(i int) []float32) {
	half := len(kernel) / 2
	middle, k := row(0)[:len(to)], kernel[half]
	for x := range to {
		to[x] = middle[x] * k
	}
	i := 1
	if half%2 == 1 {
		addTwo(to, row(-1), row(1), kernel[half-1])
		i++
	}
	for ; i < half; i += 2 {
		addFour(to, row(-i), row(i), kernel[half-i], row(-i-1), row(i+1), kernel[half-i-1])
	}
}

func addTwo(to, a, b []float32, k float32) {
	a, b = a[:len(to)], b[:len(to)]
	for x := range to {
		to[x] += (a[x] + b[x]) * k
	}
}

func addFour(to, a, b []float32, k float32, c, d []float32, l float32) {
	a, b, c, d = a[:len(to)], b[:len(to)], c[:len(to)], d[:len(to)]
	for x := range to {
		to[x] += (a[x]+b[x])*k + (c[x]+d[x])*l
	}
}

func gaussian(sigma float64) []float32 {
	half := max(1, int(math.Ceil(3*sigma)))
	kernel, sum := make([]float32, 2*half+1), 0.0
	for i := range kernel {
		d := float64(i-half) / sigma
		v := math.Exp(-d * d / 2)
		kernel[i] = float32(v)
		sum += v
	}
	for i := range kernel {
		kernel[i] /= float32(sum)
	}
	return kernel
}

// Otsu returns the threshold, 0 to 1, that parts values into two classes of
// the greatest variance between them (Otsu 1979, IEEE Transactions on Systems,
// Man, and Cybernetics 9(1), equation 14), on a histogram of 256 even steps of
// 0 to 1. Values up to it belong to the lower class. Values of one step give
// that step.
func Otsu(values []float32) float64 {
	var histogram [256]float64
	for _, v := range values {
		histogram[int(max(0, min(1, v))*255+0.5)]++
	}
	total, mean := float64(len(values)), 0.0
	for i, n := range histogram {
		mean += float64(i) * n
	}
	best, at, below, moment := -1.0, 0, 0.0, 0.0
	for i, n := range histogram {
		below += n
		moment += float64(i) * n
		if n == 0 || below == 0 {
			continue
		}
		between := 0.0
		if below < total {
			d := mean*below/total - moment
			between = d * d / (below * (total - below))
		}
		if between > best {
			best, at = between, i
		}
	}
	return float64(at) / 255
}
