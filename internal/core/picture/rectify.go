package picture

import (
	"image"
	"math"
	"zestysketch/internal/core/plane"
)

// Rectify returns the sheet whose corners are in src, seen straight on, w × h
// pixels. Samples are bilinear; where the photo is finer than the result,
// several samples are averaged so that thin lines neither vanish nor jag.
// Outside the photo is white. The corners must pass Quad.Check.
func Rectify(src *image.RGBA, corners plane.Quad, w, h int) (*image.RGBA, error) {
	toPhoto, err := NewHomography(plane.Box(float64(w), float64(h)), corners)
	if err != nil {
		return nil, err
	}
	return Warp(src, toPhoto.Apply, w, h, SamplesFor(corners.Area()/float64(w*h))), nil
}

// SamplesFor returns how many samples a side cover a result pixel that spans
// the given number of photo pixels.
func SamplesFor(ratio float64) int {
	return max(1, min(4, int(math.Ceil(math.Sqrt(ratio)-0.25))))
}

// Warp returns w × h pixels, each the average of n × n bilinear samples of src
// at the places to which from carries it. From is called from several
// goroutines.
func Warp(src *image.RGBA, from func(plane.Point) plane.Point, w, h, n int) *image.RGBA {
	out := image.NewRGBA(image.Rect(0, 0, w, h))
	Bands(h, func(top, bottom int) { warpRows(out, src, from, n, top, bottom) })
	return out
}

func warpRows(out, src *image.RGBA, from func(plane.Point) plane.Point, n, top, bottom int) {
	step, inv, w := 1/float64(n), 1/float64(n*n), out.Rect.Dx()
	for y := top; y < bottom; y++ {
		row := out.Pix[y*out.Stride:]
		for x := range w {
			var sum [3]float64
			for j := range n {
				for i := range n {
					p := from(plane.Pt(float64(x)+(float64(i)+0.5)*step, float64(y)+(float64(j)+0.5)*step))
					addBilinear(&sum, src, p)
				}
			}
			for c := range 3 {
				row[4*x+c] = uint8(sum[c]*inv + 0.5)
			}
			row[4*x+3] = 255
		}
	}
}

// addBilinear adds the colour of src at p, whose pixel centres lie at halves.
func addBilinear(sum *[3]float64, src *image.RGBA, p plane.Point) {
	w, h := src.Rect.Dx(), src.Rect.Dy()
	fx, fy := p.X-0.5, p.Y-0.5
	if !(fx > -1 && fy > -1 && fx < float64(w) && fy < float64(h)) {
		for c := range sum {
			sum[c] += 255
		}
		return
	}
	x0, y0 := math.Floor(fx), math.Floor(fy)
	tx, ty := fx-x0, fy-y0
	left, right := max(int(x0), 0), min(int(x0)+1, w-1)
	top := src.Pix[max(int(y0), 0)*src.Stride:]
	bottom := src.Pix[min(int(y0)+1, h-1)*src.Stride:]
	for c := range sum {
		a := float64(top[4*left+c])*(1-tx) + float64(top[4*right+c])*tx
		b := float64(bottom[4*left+c])*(1-tx) + float64(bottom[4*right+c])*tx
		sum[c] += a*(1-ty) + b*ty
	}
}
