package sheet

import (
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/picture"
)

// histogramWide and histogramHigh are its size, mm.
const histogramWide, histogramHigh = 100.0, 26.0

// Histogram draws how much of a picture is how light, from black on the left to
// white on the right, as shares of the fullest bar; and the cuts between steps,
// L* 0 to 100.
func Histogram(bars []float64, cuts []float64) Page {
	page := Page{Title: "How much of the picture is how light, from black to white", Size: measure.Size{W: histogramWide, H: histogramHigh + 3}}
	each := histogramWide / float64(len(bars))
	for i, share := range bars {
		high := share * histogramHigh
		if share > 0 {
			high = max(high, 0.4)
		}
		bar := Path{Points: BoxPath(box(float64(i)*each, histogramHigh-high, each, high), 0, Ink).Points, Closed: true, Fill: &Faint}
		g := picture.GreyOf(100 * (float64(i) + 0.5) / float64(len(bars)))
		swatch := Path{Points: BoxPath(box(float64(i)*each, histogramHigh, each, 3), 0, Ink).Points, Closed: true, Fill: &Color{g, g, g}}
		page.add(bar, swatch)
	}
	for _, c := range cuts {
		page.line(c, 0, c, histogramHigh+3, 0.6, endInk)
	}
	return page
}
