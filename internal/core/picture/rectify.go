package picture

import (
	"encoding/binary"
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
	return max(1, min(mostSamples, int(math.Ceil(math.Sqrt(ratio)-0.25))))
}

// Warp returns w × h pixels, each the average of n × n bilinear samples of src, 4 × 4 at most,
// at the places to which from carries it. From is called from several
// goroutines.
func Warp(src *image.RGBA, from func(plane.Point) plane.Point, w, h, n int) *image.RGBA {
	out := image.NewRGBA(image.Rect(0, 0, w, h))
	Bands(h, func(top, bottom int) { warpRows(out, src, from, n, top, bottom) })
	return out
}

// block is how many pixels of the result, along and down, are carried together: over
// so few the way back is as good as even.
const block = 16

// mostSamples is how many samples a pixel of the result has along and down at most.
const mostSamples = 4

// partBits is how finely what a sum is multiplied by is known.
const partBits = 36

// evenTo is how far, in the source's pixels, the middle of a block may be from where
// an even way would have it.
const evenTo = 0.03

func warpRows(out, src *image.RGBA, from func(plane.Point) plane.Point, n, top, bottom int) {
	w := out.Rect.Dx()
	for y := top; y < bottom; y += block {
		for x := 0; x < w; x += block {
			warpBlock(out, src, from, n, image.Rect(x, y, min(x+block, w), min(y+block, bottom)))
		}
	}
}

// warpBlock fills a block of the result.
func warpBlock(out, src *image.RGBA, from func(plane.Point) plane.Point, n int, r image.Rectangle) {
	x0, y0, wide, high := float64(r.Min.X), float64(r.Min.Y), float64(r.Dx()), float64(r.Dy())
	a, b := from(plane.Pt(x0, y0)), from(plane.Pt(x0+wide, y0))
	c, d := from(plane.Pt(x0, y0+high)), from(plane.Pt(x0+wide, y0+high))
	m := from(plane.Pt(x0+wide/2, y0+high/2))
	even := math.Abs((a.X+b.X+c.X+d.X)/4-m.X)+math.Abs((a.Y+b.Y+c.Y+d.Y)/4-m.Y) < evenTo &&
		math.Abs(a.X-b.X-c.X+d.X)+math.Abs(a.Y-b.Y-c.Y+d.Y) < block
	step, samples := 1/float64(n), n*n
	part := uint64((1<<partBits + samples<<16 - 1) / (samples << 16)) // of a sum, a pixel's value: multiplied, not divided
	var left, along [mostSamples]plane.Point                          // of the rows of samples in a row of pixels
	for y := r.Min.Y; y < r.Max.Y; y++ {
		for j := range n {
			t := (float64(y) + (float64(j)+0.5)*step - y0) / high
			l := plane.Pt(a.X+(c.X-a.X)*t, a.Y+(c.Y-a.Y)*t)
			left[j], along[j] = l, plane.Pt((b.X+(d.X-b.X)*t-l.X)/wide, (b.Y+(d.Y-b.Y)*t-l.Y)/wide)
		}
		row := out.Pix[y*out.Stride:]
		for x := r.Min.X; x < r.Max.X; x++ {
			var sum [3]int
			for j := range n {
				for i := range n {
					px := float64(x) + (float64(i)+0.5)*step
					at := plane.Pt(left[j].X+along[j].X*(px-x0), left[j].Y+along[j].Y*(px-x0))
					if !even {
						at = from(plane.Pt(px, float64(y)+(float64(j)+0.5)*step))
					}
					addBilinear(&sum, src, at)
				}
			}
			o := row[4*x : 4*x+4 : 4*x+4]
			for k := range 3 {
				o[k] = uint8(uint64(sum[k]+samples<<15) * part >> partBits)
			}
			o[3] = 255
		}
	}
}

// addBilinear adds the colour of src at p, whose pixel centres lie at halves, in
// parts of 65536: between two pixels there are 256 places.
func addBilinear(sum *[3]int, src *image.RGBA, p plane.Point) {
	w, h := src.Rect.Dx(), src.Rect.Dy()
	fx, fy := p.X-0.5, p.Y-0.5
	if !(fx > -1 && fy > -1 && fx < float64(w) && fy < float64(h)) {
		for c := range sum {
			sum[c] += 255 << 16
		}
		return
	}
	ix, iy := int(fx*256+256.5)-256, int(fy*256+256.5)-256 // above -256: rounded, not cut
	x0, y0, tx, ty := ix>>8, iy>>8, ix&255, iy&255
	left, right := 4*min(max(x0, 0), w-1), 4*min(x0+1, w-1)
	top, bottom := min(max(y0, 0), h-1)*src.Stride, min(y0+1, h-1)*src.Stride
	wa, wb, wc, wd := (256-tx)*(256-ty), tx*(256-ty), (256-tx)*ty, tx*ty
	pa, pb := pixel(src.Pix[top+left:]), pixel(src.Pix[top+right:])
	pc, pd := pixel(src.Pix[bottom+left:]), pixel(src.Pix[bottom+right:])
	rg := redGreen(pa)*uint64(wa) + redGreen(pb)*uint64(wb) + redGreen(pc)*uint64(wc) + redGreen(pd)*uint64(wd)
	sum[0] += int(uint32(rg))
	sum[1] += int(rg >> 32)
	sum[2] += int(pa>>16&255)*wa + int(pb>>16&255)*wb + int(pc>>16&255)*wc + int(pd>>16&255)*wd
}

func pixel(at []uint8) uint32 { return binary.LittleEndian.Uint32(at) }

// redGreen parts two of a pixel's bytes so far that each can be multiplied by itself.
func redGreen(p uint32) uint64 { return uint64(p&0xff) | uint64(p&0xff00)<<24 }
