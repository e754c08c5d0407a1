package picture

import (
	"image"
	"math"
	"zestysketch/internal/core/plane"
)

// linear holds the decoded value of every 8-bit sRGB component (IEC 61966-2-1).
var linear = func() (table [256]float64) {
	for i := range table {
		v := float64(i) / 255
		if v <= 0.04045 {
			table[i] = v / 12.92
		} else {
			table[i] = math.Pow((v+0.055)/1.055, 2.4)
		}
	}
	return table
}()

// Luminance returns the relative luminance of an sRGB colour, 0 to 1 (weights of ITU-R BT.709).
func Luminance(r, g, b uint8) float64 { return 0.2126*linear[r] + 0.7152*linear[g] + 0.0722*linear[b] }

// Luma returns a pixel's luma, 0 to 255: the weights of ITU-R BT.709 on its coded
// components, which is near enough to lightness to find lines by.
func Luma(p []uint8) float32 {
	return 0.2126*float32(p[0]) + 0.7152*float32(p[1]) + 0.0722*float32(p[2])
}

// Lightness returns CIE L*, 0 to 100, of a relative luminance (CIE 15 / ISO 11664-4).
func Lightness(y float64) float64 {
	const epsilon, kappa = 216.0 / 24389, 24389.0 / 27
	if y <= epsilon {
		return kappa * y
	}
	return 116*math.Cbrt(y) - 16
}

// GreyOf returns the sRGB grey of a lightness L*, 0 to 100: Lightness and the
// sRGB decoding undone.
func GreyOf(l float64) uint8 {
	y := (l + 16) / 116
	y = y * y * y
	if l <= 8 {
		y = l * 27 / 24389
	}
	v := 12.92 * y
	if y > 0.0031308 {
		v = 1.055*math.Pow(y, 1/2.4) - 0.055
	}
	return uint8(math.Round(min(1, max(0, v)) * 255))
}

// Contrast returns the ratio of two relative luminances, 1 to 21 (WCAG 2).
func Contrast(a, b float64) float64 { return (max(a, b) + 0.05) / (min(a, b) + 0.05) }

// VisibleContrast is what a graphical line needs to be seen (WCAG 2, 1.4.11).
const VisibleContrast = 3

// LineContrast returns the share of the length of straight lines, 0 to 1,
// along which a colour stands out from img by VisibleContrast or more. Lines
// are pairs of pixel places; what lies outside img is not counted. No length is 0.
func LineContrast(img *image.RGBA, lines [][2]plane.Point, r, g, b uint8) float64 {
	colour, seen, all := Luminance(r, g, b), 0, 0
	for _, l := range lines {
		steps := int(l[1].Sub(l[0]).Len()) + 1
		for i := range steps {
			t := (float64(i) + 0.5) / float64(steps)
			x, y := int(l[0].X+(l[1].X-l[0].X)*t), int(l[0].Y+(l[1].Y-l[0].Y)*t)
			if !image.Pt(x, y).In(img.Rect) {
				continue
			}
			p := img.Pix[img.PixOffset(x, y):]
			all++
			if Contrast(colour, Luminance(p[0], p[1], p[2])) >= VisibleContrast {
				seen++
			}
		}
	}
	if all == 0 {
		return 0
	}
	return float64(seen) / float64(all)
}

// Linear returns the decoded value of an 8-bit sRGB component, 0 to 1.
func Linear(v uint8) float64 { return linear[v] }
