package sheet

import (
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/picture"
)

// histogramWide and histogramHigh are its size, mm.
const histogramWide, histogramHigh = 100.0, 26.0

// Histogram draws how much of a picture is how light, from black on the left to
// white on the right, as shares of the fullest bar; and the cuts between steps,
// L* 0 to 100.
func Histogram(bars []float64, cuts []float64) page.Page {
	pg := page.Page{Title: "How much of the picture is how light, from black to white", Size: measure.Size{W: histogramWide, H: histogramHigh + 3}}
	each := histogramWide / float64(len(bars))
	for i, share := range bars {
		high := share * histogramHigh
		if share > 0 {
			high = max(high, 0.4)
		}
		bar := page.Path{Points: page.BoxPath(page.Box(float64(i)*each, histogramHigh-high, each, high), 0, page.Ink).Points, Closed: true, Fill: &page.Faint}
		g := picture.GreyOf(100 * (float64(i) + 0.5) / float64(len(bars)))
		swatch := page.Path{Points: page.BoxPath(page.Box(float64(i)*each, histogramHigh, each, 3), 0, page.Ink).Points, Closed: true, Fill: &page.Color{R: g, G: g, B: g}}
		pg.Add(bar, swatch)
	}
	for _, c := range cuts {
		pg.Line(c, 0, c, histogramHigh+3, 0.6, endInk)
	}
	return pg
}
