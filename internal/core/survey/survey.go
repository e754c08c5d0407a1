// Package survey measures what a picture shows under a plan: how well lines of
// each colour would stand out, and where it is crowded. It joins packages grid
// and picture, which do not know each other.
package survey

import (
	"image"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/picture"
)

// Seen is what a picture shows along a plan's lines and in its boxes.
type Seen struct {
	Contrast []float64 // by colour of grid.Palette: share of the lines' length on which it stands out
	Busy     grid.Busy // detail on even patches of the frame
	Boxes    []float64 // detail by box, in the order of Cells, together 1
}

// patches each way, on which detail is measured for ranking grids.
const patches = 12

// Look measures a picture, at any resolution, under a plan. A plan without a
// frame sees nothing. The error is picture.ErrCorners.
func Look(img *image.RGBA, p grid.Plan) (Seen, error) {
	if p.Frame == nil {
		return Seen{}, nil
	}
	scale := float64(img.Rect.Dx()) / float64(p.Frame.Picture[0])
	on := func(at grid.Point) picture.Point { return picture.Point{X: at.X * scale, Y: at.Y * scale} }
	var lines [][2]picture.Point
	for _, l := range p.PictureLines() {
		lines = append(lines, [2]picture.Point{on(l[0]), on(l[1])})
	}
	var s Seen
	for _, c := range grid.Palette {
		s.Contrast = append(s.Contrast, picture.LineContrast(img, lines, c.R, c.G, c.B))
	}
	var corners picture.Quad
	for i, c := range p.Frame.Corners() {
		corners[i] = on(c)
	}
	share, err := picture.Detail(img, corners, p.Frame.Mirror, patches, patches)
	if err != nil {
		return Seen{}, err
	}
	s.Busy = grid.Busy{Columns: patches, Rows: patches, Share: share}
	s.Boxes, err = boxes(img, corners, p)
	return s, err
}

// boxes gathers fine even patches into the plan's boxes, which may differ in
// size where there is a remainder.
func boxes(img *image.RGBA, corners picture.Quad, p grid.Plan) ([]float64, error) {
	const across = 48
	down := max(1, min(4*across, int(across*p.Reference.Height/p.Reference.Width)))
	fine, err := picture.Detail(img, corners, p.Frame.Mirror, across, down)
	if err != nil {
		return nil, err
	}
	shares := make([]float64, p.Count())
	for i, share := range fine {
		c := p.CellAt(grid.Point{X: (float64(i%across) + 0.5) / across * p.Sheet.Width, Y: (float64(i/across) + 0.5) / float64(down) * p.Sheet.Height})
		shares[c.Row*p.Grid.Columns+c.Column] += share
	}
	return shares, nil
}
