package demo

import (
	"fmt"

	"golang.org/x/image/font/sfnt"
	"golang.org/x/image/math/fixed"

	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/plane"
)

// Letters returns a line drawing, 180 × 240 mm, of the outlines of up to four
// letters of a typeface: shapes that somebody else drew, to try measuring on.
func Letters(ttf []byte, words string) (Scene, error) {
	face, err := sfnt.Parse(ttf)
	if err != nil {
		return Scene{}, err
	}
	s := Scene{Page: page.Page{Title: words, Size: measure.Size{W: 180, H: 240}}}
	var b sfnt.Buffer
	for i, r := range words {
		index, err := face.GlyphIndex(&b, r)
		if err != nil {
			return s, err
		}
		segments, err := face.LoadGlyph(&b, index, fixed.I(110), nil)
		if err != nil {
			return s, fmt.Errorf("the letter %q: %w", r, err)
		}
		x, y := 12+84*float64(i%2), 100+110*float64(i/2)
		for _, run := range outlines(segments, x, y) {
			s.Page.Items = append(s.Page.Items, page.Path{Points: run, Width: pencil, Stroke: page.Ink})
		}
	}
	return s, nil
}

// outlines flattens a glyph's curves.
func outlines(segments sfnt.Segments, x, y float64) (runs [][]plane.Point) {
	at := func(p fixed.Point26_6) plane.Point {
		return plane.Pt(x+float64(p.X)/64, y+float64(p.Y)/64)
	}
	var run []plane.Point
	for _, s := range segments {
		switch s.Op {
		case sfnt.SegmentOpMoveTo:
			runs, run = append(runs, run), []plane.Point{at(s.Args[0])}
		case sfnt.SegmentOpLineTo:
			run = append(run, at(s.Args[0]))
		case sfnt.SegmentOpQuadTo:
			a, c, z := run[len(run)-1], at(s.Args[0]), at(s.Args[1])
			for i := 1; i <= 8; i++ {
				u := float64(i) / 8
				v := 1 - u
				run = append(run, plane.Pt(v*v*a.X+2*u*v*c.X+u*u*z.X, v*v*a.Y+2*u*v*c.Y+u*u*z.Y))
			}
		}
	}
	return append(runs, run)[1:]
}
