package demo

import (
	"image"
	"image/draw"
	"math"

	xdraw "golang.org/x/image/draw"
	"golang.org/x/image/math/f64"
)

// Printer is a pretend printer: it shrinks or stretches a page about its
// middle, feeds it a little askew, and leaves the paper's edges white.
type Printer struct {
	Across, Down float64 // printed ÷ true; 1 is true
	Skew         float64 // degrees by which the paper is fed askew
	Margin       float64 // mm at every edge that stay white
}

// StaffRoom is the demo school's printer.
var StaffRoom = Printer{Across: 0.972, Down: 0.986, Skew: 0.2, Margin: 5}

// Print returns what comes out for a page of perMM pixels a millimetre, on
// paper of the same size.
func (p Printer) Print(page image.Image, perMM float64) *image.RGBA {
	b := page.Bounds()
	out := image.NewRGBA(b)
	draw.Draw(out, b, image.White, image.Point{}, draw.Src)
	cx, cy := float64(b.Dx())/2, float64(b.Dy())/2
	sin, cos := math.Sincos(p.Skew * math.Pi / 180)
	// The page's middle stays where it is.
	m := f64.Aff3{p.Across * cos, -p.Down * sin, 0, p.Across * sin, p.Down * cos, 0}
	m[2], m[5] = cx-m[0]*cx-m[1]*cy, cy-m[3]*cx-m[4]*cy
	xdraw.ApproxBiLinear.Transform(out, m, page, b, draw.Src, nil)
	edge := int(math.Round(p.Margin * perMM))
	for _, r := range []image.Rectangle{
		{b.Min, image.Pt(b.Max.X, b.Min.Y+edge)}, {image.Pt(b.Min.X, b.Max.Y-edge), b.Max},
		{b.Min, image.Pt(b.Min.X+edge, b.Max.Y)}, {image.Pt(b.Max.X-edge, b.Min.Y), b.Max},
	} {
		draw.Draw(out, r, image.White, image.Point{}, draw.Src)
	}
	return out
}
