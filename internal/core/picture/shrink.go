package picture

import (
	"encoding/binary"
	"image"
	"math"
)

// Shrink returns img no longer than side on its longer side, averaged so that
// fine lines stay; img itself where it is small enough already. Halving comes
// first, which costs one pass over the pixels; the rest is done by a tent.
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
	return narrow(narrow(img, w), h)
}

// taps says of which of the pixels along a side one of the result is made, and how
// much of each: a tent as wide as the result's pixels, in parts of 1 << weightBits.
type taps struct {
	from    int
	weights []uint32
}

const weightBits = 16

// tent returns the taps for a side of n pixels that becomes m, not longer.
func tent(n, m int) []taps {
	ratio := float64(n) / float64(m)
	all := make([]taps, m)
	for i := range all {
		middle := (float64(i)+0.5)*ratio - 0.5
		from, to := max(0, int(math.Ceil(middle-ratio))), min(n-1, int(math.Floor(middle+ratio)))
		var sum float64
		parts := make([]float64, 0, to-from+1)
		for x := from; x <= to; x++ {
			part := max(0, 1-math.Abs(float64(x)-middle)/ratio)
			parts, sum = append(parts, part), sum+part
		}
		t := taps{from: from, weights: make([]uint32, len(parts))}
		left, most := uint32(1<<weightBits), 0
		for k, part := range parts {
			t.weights[k] = uint32(part / sum * (1 << weightBits))
			left -= t.weights[k]
			if t.weights[k] > t.weights[most] {
				most = k
			}
		}
		t.weights[most] += left // together they are one
		all[i] = t
	}
	return all
}

// narrow makes a picture m pixels wide, lying on its side: rows become columns. Twice,
// it is upright again and smaller both ways.
func narrow(src *image.RGBA, m int) *image.RGBA {
	w, h := src.Rect.Dx(), src.Rect.Dy()
	all := tent(w, m)
	out := image.NewRGBA(image.Rect(0, 0, h, m))
	Bands(h, func(from, to int) {
		for y := from; y < to; y++ {
			row := src.Pix[y*src.Stride : y*src.Stride+4*w]
			at := 4 * y
			for _, t := range all {
				var r, g, b, a uint32
				pix := row[4*t.from : 4*(t.from+len(t.weights))]
				for k, weight := range t.weights {
					p := pix[4*k : 4*k+4 : 4*k+4]
					r, g, b, a = r+weight*uint32(p[0]), g+weight*uint32(p[1]), b+weight*uint32(p[2]), a+weight*uint32(p[3])
				}
				const half = 1 << (weightBits - 1)
				o := out.Pix[at : at+4 : at+4]
				o[0], o[1], o[2], o[3] = uint8((r+half)>>weightBits), uint8((g+half)>>weightBits), uint8((b+half)>>weightBits), uint8((a+half)>>weightBits)
				at += out.Stride
			}
		}
	})
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
		for x := range w / 2 {
			// Two of a pixel's bytes at a time, each with room above it for the sum of four.
			t, b := top[8*x:8*x+8:8*x+8], bottom[8*x:8*x+8:8*x+8]
			t0, t1 := binary.LittleEndian.Uint32(t), binary.LittleEndian.Uint32(t[4:])
			b0, b1 := binary.LittleEndian.Uint32(b), binary.LittleEndian.Uint32(b[4:])
			const low, two = 0x00ff00ff, 0x00020002
			even := (t0&low + t1&low + b0&low + b1&low + two) >> 2 & low
			odd := (t0>>8&low + t1>>8&low + b0>>8&low + b1>>8&low + two) >> 2 & low
			binary.LittleEndian.PutUint32(row[4*x:], even|odd<<8)
		}
		if w%2 == 1 {
			for c, at := 0, 4*(w-1); c < 4; c++ {
				row[2*(w-1)+c] = uint8((2*uint(top[at+c]) + 2*uint(bottom[at+c]) + 2) / 4)
			}
		}
	}
}
