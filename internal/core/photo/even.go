package photo

import (
	"image"
	"math"
	"slices"

	"zestysketch/internal/core/lines"
	"zestysketch/internal/core/picture"
)

// Evened is a straight drawing with its lighting taken out.
type Evened struct {
	Ink  lines.Plane // 1 paper, less where something is drawn, in whatever colour; the light of the neighbourhood taken out
	Tone lines.Plane // lightness L* ÷ 100 beside the paper's, which is 1; only the light's slow fall taken out
	Dark bool        // white lines on dark paper: Ink is turned so that lines are dark all the same
	Fall float64     // how much darker the paper's darkest part is than its lightest, 0 to 1
}

// Paper is taken from blocks of this part of a box, as the value that all but
// a few of a block's pixels lie below: paper shows between lines.
const (
	blockCell   = 0.25
	paperShare  = 0.8
	darkPaper   = 0.38 // mean luma below which the paper itself may be dark
	sampled     = 17   // of so many pixels one is looked at to tell dark paper
	neighbourly = 3    // blocks to each side in which the brightest is the paper's
)

// Even takes the lighting out of a straight drawing in a frame.
func Even(img *image.RGBA, f Frame) Evened { return even(img, f, isDark(img)) }

// EvenBeside is Even of a drawing whose picture in the same frame is known: where that is dark too and
// the paper beside the grid is not, the paper was toned and is not dark.
func EvenBeside(img, wanted *image.RGBA, f Frame) Evened {
	toned := func() bool {
		return lightAt(wanted, f.Margin, math.Inf(1)) < darkPaper && lightAt(img, 0.3*f.Margin, 0.7*f.Margin) > darkPaper
	}
	return even(img, f, isDark(img) && !toned())
}

// lightAt returns the median luma, 0 to 1, of what lies between two distances, pixels, from a picture's edge.
func lightAt(img *image.RGBA, from, to float64) float64 {
	var counts [256]int
	n := 0
	for y := range img.Rect.Dy() {
		for x := range img.Rect.Dx() {
			if edge := float64(min(x, y, img.Rect.Dx()-1-x, img.Rect.Dy()-1-y)); edge >= from && edge < to {
				counts[uint8(picture.Luma(img.Pix[y*img.Stride+4*x:]))]++
				n++
			}
		}
	}
	return float64(quantile(&counts, n/2)) / 255
}

func even(img *image.RGBA, f Frame, dark bool) Evened {
	e := Evened{Dark: dark}
	side := max(4, int(f.Cell*blockCell))
	blocks := papers(img, side, e.Dark)
	// The lightest of the neighbourhood, and not darkest after that: a broad tone
	// keeps its edges, and paper that comes out a little dark has none.
	e.Ink = inkOf(img, blocks.widest(e.Dark).blurred(), e.Dark)
	if e.Dark {
		e.Tone = tonesOf(img, flatPaper(img.Rect.Dx(), img.Rect.Dy(), side))
		return e
	}
	slow := blocks.slow()
	e.Fall = slow.fall()
	e.Tone = tonesOf(img, slow)
	return e
}

// isDark reports whether a drawing is light lines on dark paper: most of it is
// dark, and what differs from the paper is lighter.
func isDark(img *image.RGBA) bool {
	var counts [256]int
	n := 0
	for y := range img.Rect.Dy() {
		row := img.Pix[y*img.Stride:]
		for x := y % sampled; x < img.Rect.Dx(); x += sampled {
			counts[uint8(picture.Luma(row[4*x:]))]++
			n++
		}
	}
	at := func(share float64) float64 { return float64(quantile(&counts, int(share*float64(n-1)))) / 255 }
	return at(0.5) < darkPaper && at(0.99)-at(0.5) > at(0.5)-at(0.01)
}

// paper is the light of the paper, by block and component, 0 to 255.
type paper struct {
	side, w, h int
	rgb        [3]lines.Plane
}

func flatPaper(w, h, side int) paper {
	p := paper{side: side, w: (w + side - 1) / side, h: (h + side - 1) / side}
	for c := range p.rgb {
		p.rgb[c] = lines.NewPlane(p.w, p.h)
		for i := range p.rgb[c].Pix {
			p.rgb[c].Pix[i] = 255
		}
	}
	return p
}

// papers returns each block's paper: its light part, its dark part on dark paper.
func papers(img *image.RGBA, side int, dark bool) paper {
	p := flatPaper(img.Rect.Dx(), img.Rect.Dy(), side)
	share := paperShare
	if dark {
		share = 1 - paperShare
	}
	for by := range p.h {
		for bx := range p.w {
			var counts [3][256]int
			n := 0
			for y := by * side; y < min((by+1)*side, img.Rect.Dy()); y++ {
				row := img.Pix[y*img.Stride:]
				for x := bx * side; x < min((bx+1)*side, img.Rect.Dx()); x++ {
					for c := range 3 {
						counts[c][row[4*x+c]]++
					}
					n++
				}
			}
			for c := range 3 {
				p.rgb[c].Pix[by*p.w+bx] = float32(quantile(&counts[c], int(share*float64(n))))
			}
		}
	}
	return p
}

func quantile(counts *[256]int, rank int) int {
	for v, n := range counts {
		if rank -= n; rank < 0 {
			return v
		}
	}
	return 255
}

// widest returns the paper with each block at the lightest, or darkest, of its neighbourhood.
func (p paper) widest(dark bool) paper {
	out := flatPaper(p.w*p.side, p.h*p.side, p.side)
	for c := range 3 {
		for y := range p.h {
			for x := range p.w {
				best := p.rgb[c].Pix[y*p.w+x]
				for j := max(0, y-neighbourly); j <= min(p.h-1, y+neighbourly); j++ {
					for i := max(0, x-neighbourly); i <= min(p.w-1, x+neighbourly); i++ {
						if v := p.rgb[c].Pix[j*p.w+i]; dark && v < best || !dark && v > best {
							best = v
						}
					}
				}
				out.rgb[c].Pix[y*p.w+x] = best
			}
		}
	}
	return out
}

func (p paper) blurred() paper {
	for c := range 3 {
		p.rgb[c] = p.rgb[c].Blur(1)
	}
	return p
}

// along sets rgb to the paper at the pixels of row y, smoothly between the blocks' middles.
func (p paper) along(y int, rgb [][3]float32) {
	y0, y1, ty := between(y, p.side, p.h)
	blocks := make([][3]float32, p.w)
	for x := range blocks {
		for c := range 3 {
			blocks[x][c] = p.rgb[c].Pix[y0*p.w+x]*(1-ty) + p.rgb[c].Pix[y1*p.w+x]*ty
		}
	}
	for x := range rgb {
		x0, x1, tx := between(x, p.side, p.w)
		a, b := &blocks[x0], &blocks[x1]
		rgb[x] = [3]float32{a[0] + (b[0]-a[0])*tx, a[1] + (b[1]-a[1])*tx, a[2] + (b[2]-a[2])*tx}
	}
}

// between returns the two of n blocks between whose middles a pixel lies, and how far.
func between(at, side, n int) (before, after int, t float32) {
	f := max(0, min(float32(n-1), (float32(at)+0.5)/float32(side)-0.5))
	before = int(f)
	return before, min(before+1, n-1), f - float32(before)
}

// inkOf divides a picture by its paper. Of the three components the darkest
// counts, so that a yellow pencil is a line as well as a grey one.
func inkOf(img *image.RGBA, p paper, dark bool) lines.Plane {
	out := lines.NewPlane(img.Rect.Dx(), img.Rect.Dy())
	light := make([][3]float32, out.W)
	for y := range out.H {
		src, row := img.Pix[y*img.Stride:], out.Row(y)
		p.along(y, light)
		for x, rgb := range light {
			v := float32(1.2)
			for c := range 3 {
				have := float32(src[4*x+c])
				if dark {
					v = min(v, 1-(have-rgb[c])/max(60, 255-rgb[c]))
				} else {
					v = min(v, have/max(8, rgb[c]))
				}
			}
			row[x] = max(0, min(1.05, v))
		}
	}
	return out
}

// slow fits a surface of the second degree to the logarithm of the paper's
// light. Blocks that are darker than it are toned, not paper, and lose their
// say round by round.
func (p paper) slow() paper {
	out := flatPaper(p.w*p.side, p.h*p.side, p.side)
	for c := range 3 {
		var rows [][6]float64
		var logs []float64
		for y := range p.h {
			for x := range p.w {
				rows = append(rows, surface(2*float64(x)/float64(p.w)-1, 2*float64(y)/float64(p.h)-1))
				logs = append(logs, math.Log(float64(max(4, p.rgb[c].Pix[y*p.w+x]))))
			}
		}
		fit := fitSurface(rows, logs)
		for i, r := range rows {
			out.rgb[c].Pix[i] = float32(min(255, math.Exp(dot6(r, fit))))
		}
	}
	return out
}

func surface(x, y float64) [6]float64 { return [6]float64{1, x, y, x * x, x * y, y * y} }

func dot6(a, b [6]float64) (sum float64) {
	for i := range a {
		sum += a[i] * b[i]
	}
	return sum
}

// fitSurface solves for the surface that lies along the upper part of the
// values: iteratively reweighted least squares (Holland and Welsch 1977), in
// which a value counts less the further it lies below.
func fitSurface(rows [][6]float64, values []float64) (fit [6]float64) {
	top := slices.Clone(values)
	slices.Sort(top)
	fit[0] = top[len(top)*9/10]
	for range 12 {
		a := picture.NewNormal(6)
		for i, r := range rows {
			below := dot6(r, fit) - values[i]
			w := 1.0
			if below > 0.02 {
				w = math.Exp(-(below - 0.02) / 0.03)
			}
			a.Add(r[:], values[i], w)
		}
		for j := 1; j < 6; j++ {
			a.Hold(j, 0, 1e-3*float64(len(rows))) // what nothing tells stays flat
		}
		if x, ok := a.Solve(); ok {
			fit = [6]float64(x)
		}
	}
	return fit
}

// fall returns how much darker the darkest paper is than the lightest.
func (p paper) fall() float64 {
	least, most := float32(255), float32(1)
	for _, v := range p.rgb[1].Pix {
		least, most = min(least, v), max(most, v)
	}
	return 1 - float64(least/most)
}

// tonesOf returns lightness beside the paper's, which is 1.
func tonesOf(img *image.RGBA, p paper) lines.Plane {
	out := lines.NewPlane(img.Rect.Dx(), img.Rect.Dy())
	light := make([][3]float32, out.W)
	for y := range out.H {
		src, row := img.Pix[y*img.Stride:], out.Row(y)
		p.along(y, light)
		for x, rgb := range light {
			var c [3]uint8
			for k := range 3 {
				c[k] = uint8(min(255, 255*float32(src[4*x+k])/max(8, rgb[k])))
			}
			row[x] = float32(picture.LightnessOf(picture.Luminance(c[0], c[1], c[2])) / 100)
		}
	}
	return out
}
