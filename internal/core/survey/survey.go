// Package survey measures what a picture shows under a plan: how well lines of
// each colour would stand out, and where it is crowded. It joins packages grid
// and picture, which do not know each other.
package survey

import (
	"image"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/core/plane"
)

// Contrast measures, for each colour of grid.Palette, the share of the plan's
// inner lines on which it would stand out from a picture, at any resolution;
// nil for a plan without a frame.
func Contrast(img *image.RGBA, p grid.Plan) []float64 {
	if p.Frame == nil {
		return nil
	}
	on := scaled(img, p)
	var lines [][2]plane.Point
	for _, l := range p.PictureLines() {
		lines = append(lines, [2]plane.Point{on(l[0]), on(l[1])})
	}
	seen := make([]float64, len(grid.Palette))
	for i, c := range grid.Palette {
		seen[i] = picture.LineContrast(img, lines, c.R, c.G, c.B)
	}
	return seen
}

// scaled returns the map from pixels of the whole picture to those of img.
func scaled(img *image.RGBA, p grid.Plan) func(plane.Point) plane.Point {
	k := float64(img.Rect.Dx()) / float64(p.Frame.Picture[0])
	return func(at plane.Point) plane.Point { return plane.Pt(at.X*k, at.Y*k) }
}

// across is on how many patches detail is measured: finer than any box.
const across = 32

// hardly is the share of its fair part of the detail that a box with nothing in
// it may hold: paper's grain (ours).
const hardly = 0.02

// Empty returns the boxes in which a picture shows nothing to draw, in the order
// of Cells; none for a plan without a frame.
func Empty(img *image.RGBA, p grid.Plan) ([]string, error) {
	if p.Frame == nil {
		return nil, nil
	}
	_, boxes, err := Detail(img, p)
	if err != nil {
		return nil, err
	}
	var empty []string
	whole := p.Reference.Width * p.Reference.Height
	for i, c := range p.Cells() {
		if boxes[i] <= hardly*c.Reference.Width()*c.Reference.Height()/whole && even(img, p, c) {
			empty = append(empty, c.Label)
		}
	}
	return empty, nil
}

// A box is even where its lightness differs by no more than evenLight between any of evenSide × evenSide places of it:
// a slow change of tone shows no detail, and is drawn.
const evenSide, evenLight = 6, 0.08

func even(img *image.RGBA, p grid.Plan, c grid.Cell) bool {
	on := scaled(img, p)
	low, high := 1.0, 0.0
	for i := range evenSide * evenSide {
		x, y := (float64(i%evenSide)+0.5)/evenSide, (float64(i/evenSide)+0.5)/evenSide
		at := on(p.ToPicture(plane.Pt(c.Reference.Min.X+x*c.Reference.Width(), c.Reference.Min.Y+y*c.Reference.Height())))
		px := img.RGBAAt(int(at.X), int(at.Y))
		light := picture.Lightness(picture.Luminance(px.R, px.G, px.B)) / 100
		low, high = min(low, light), max(high, light)
	}
	return high-low <= evenLight
}

// Detail measures where the frame is crowded: on even patches, and gathered
// into the plan's boxes, in the order of Cells, together 1. The plan must have
// a frame. The error is picture.ErrCorners.
func Detail(img *image.RGBA, p grid.Plan) (busy grid.Busy, boxes []float64, err error) {
	on := scaled(img, p)
	var corners plane.Quad
	for i, c := range p.Frame.Corners() {
		corners[i] = on(c)
	}
	busy = grid.Busy{Columns: across, Rows: max(1, min(4*across, int(across*p.Reference.Height/p.Reference.Width)))}
	if busy.Share, err = picture.Detail(img, corners, p.Frame.Mirror, busy.Columns, busy.Rows); err != nil {
		return busy, nil, err
	}
	boxes = make([]float64, p.Count())
	for i, share := range busy.Share {
		at := plane.Pt((float64(i%across)+0.5)/across*p.Sheet.Width, (float64(i/across)+0.5)/float64(busy.Rows)*p.Sheet.Height)
		c := p.CellAt(at)
		boxes[c.Row*p.Grid.Columns+c.Column] += share
	}
	return busy, boxes, nil
}
