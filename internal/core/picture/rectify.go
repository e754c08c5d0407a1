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

// samples are the places of a row of samples, in parts of 65536 of the source's pixels,
// whose centres lie at whole numbers here: where the first is, and how far it is to the next.
type samples struct{ x, y, dx, dy int }

const fine = 1 << 16

// sums are what the samples of the pixels of a block's row add up to, each in parts of
// 65536: red and green in one number, green 32 bits further up.
type sums [block]struct{ redGreen, blue uint64 }

// warpBlock fills a block of the result.
func warpBlock(out, src *image.RGBA, from func(plane.Point) plane.Point, n int, r image.Rectangle) {
	x0, y0, wide, high := float64(r.Min.X), float64(r.Min.Y), float64(r.Dx()), float64(r.Dy())
	a, b := from(plane.Pt(x0, y0)), from(plane.Pt(x0+wide, y0))
	c, d := from(plane.Pt(x0, y0+high)), from(plane.Pt(x0+wide, y0+high))
	m := from(plane.Pt(x0+wide/2, y0+high/2))
	even := math.Abs((a.X+b.X+c.X+d.X)/4-m.X)+math.Abs((a.Y+b.Y+c.Y+d.Y)/4-m.Y) < evenTo &&
		math.Abs(a.X-b.X-c.X+d.X)+math.Abs(a.Y-b.Y-c.Y+d.Y) < block
	inside := even && within(src, a, b, c, d)
	step := 1 / float64(n)
	for y := r.Min.Y; y < r.Max.Y; y++ {
		var row sums
		for j := range n {
			at := float64(y) + (float64(j)+0.5)*step
			if !even {
				row.addPlaces(src, func(i int) plane.Point { return from(plane.Pt(x0+(float64(i)+0.5)*step, at)) }, r.Dx(), n)
				continue
			}
			t := (at - y0) / high
			left := plane.Pt(a.X+(c.X-a.X)*t, a.Y+(c.Y-a.Y)*t)
			along := plane.Pt((b.X+(d.X-b.X)*t-left.X)/wide*step, (b.Y+(d.Y-b.Y)*t-left.Y)/wide*step)
			if !inside {
				row.addPlaces(src, func(i int) plane.Point { return left.Add(along.Mul(float64(i) + 0.5)) }, r.Dx(), n)
				continue
			}
			row.addInside(src, samples{
				int((left.X + along.X/2 - 0.5) * fine), int((left.Y + along.Y/2 - 0.5) * fine), int(along.X * fine), int(along.Y * fine),
			}, r.Dx(), n)
		}
		row.average(out.Pix[y*out.Stride+4*r.Min.X:y*out.Stride+4*r.Max.X], n*n)
	}
}

// within reports whether places, and what lies between them, have all their neighbours in src.
func within(src *image.RGBA, places ...plane.Point) bool {
	for _, p := range places {
		if p.X < 2 || p.Y < 2 || p.X > float64(src.Rect.Dx()-2) || p.Y > float64(src.Rect.Dy()-2) {
			return false
		}
	}
	return true
}

// average writes the pixels of so many samples each.
func (s *sums) average(pix []uint8, samples int) {
	part := uint64((1<<partBits + samples<<16 - 1) / (samples << 16)) // of a sum, a pixel's value: multiplied, not divided
	half := uint64(samples) << 15
	for i := range len(pix) / 4 {
		o := pix[4*i : 4*i+4 : 4*i+4]
		o[0] = uint8((s[i].redGreen&0xffffffff + half) * part >> partBits)
		o[1] = uint8((s[i].redGreen>>32 + half) * part >> partBits)
		o[2] = uint8((s[i].blue + half) * part >> partBits)
		o[3] = 255
	}
}

// addInside adds the colours of src at samples that have all their neighbours in it, n
// for each of so many pixels. Between two pixels of src there are 256 places.
func (s *sums) addInside(src *image.RGBA, q samples, pixels, n int) {
	for i := range s[:pixels] {
		var rg, blue uint64
		for range n {
			x, y := q.x+fine/512, q.y+fine/512
			at := y>>16*src.Stride + x>>16*4
			top, bottom := binary.LittleEndian.Uint64(src.Pix[at:]), binary.LittleEndian.Uint64(src.Pix[at+src.Stride:])
			tx, ty := uint64(x>>8&255), uint64(y>>8&255)
			wa, wb, wc, wd := (256-tx)*(256-ty), tx*(256-ty), (256-tx)*ty, tx*ty
			rg += redGreen(top)*wa + redGreen(top>>32)*wb + redGreen(bottom)*wc + redGreen(bottom>>32)*wd
			blue += (top>>16&255)*wa + (top>>48&255)*wb + (bottom>>16&255)*wc + (bottom>>48&255)*wd
			q.x, q.y = q.x+q.dx, q.y+q.dy
		}
		s[i].redGreen, s[i].blue = s[i].redGreen+rg, s[i].blue+blue
	}
}

// addPlaces adds the colours of src at the places of n samples for each of so many
// pixels: beyond its edge it is as there for a pixel, and white after that.
func (s *sums) addPlaces(src *image.RGBA, place func(i int) plane.Point, pixels, n int) {
	w, h := src.Rect.Dx(), src.Rect.Dy()
	for i := range pixels * n {
		sum := &s[i/n]
		p := place(i)
		fx, fy := p.X-0.5, p.Y-0.5
		if !(fx > -1 && fy > -1 && fx < float64(w) && fy < float64(h)) {
			sum.redGreen, sum.blue = sum.redGreen+(255<<16|255<<48), sum.blue+255<<16
			continue
		}
		ix, iy := int(fx*256+256.5)-256, int(fy*256+256.5)-256 // above -256: rounded, not cut
		x0, y0, tx, ty := ix>>8, iy>>8, uint64(ix&255), uint64(iy&255)
		left, right := 4*min(max(x0, 0), w-1), 4*min(x0+1, w-1)
		top, bottom := min(max(y0, 0), h-1)*src.Stride, min(y0+1, h-1)*src.Stride
		wa, wb, wc, wd := (256-tx)*(256-ty), tx*(256-ty), (256-tx)*ty, tx*ty
		pa, pb := pixel(src.Pix[top+left:]), pixel(src.Pix[top+right:])
		pc, pd := pixel(src.Pix[bottom+left:]), pixel(src.Pix[bottom+right:])
		sum.redGreen += redGreen(pa)*wa + redGreen(pb)*wb + redGreen(pc)*wc + redGreen(pd)*wd
		sum.blue += (pa>>16&255)*wa + (pb>>16&255)*wb + (pc>>16&255)*wc + (pd>>16&255)*wd
	}
}

func pixel(at []uint8) uint64 { return uint64(binary.LittleEndian.Uint32(at)) }

// redGreen parts two of a pixel's bytes so far that each can be multiplied by itself.
func redGreen(p uint64) uint64 { return p&0xff | p&0xff00<<24 }
