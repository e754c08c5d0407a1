package kit

import (
	"context"
	"fmt"
	"image"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/store"
)

// measuredSide is how fine a picture is measured for contrast and detail: lines
// and forms are seen, grain is not.
const measuredSide = 800

// pixels returns one of the teacher's pictures decoded for measuring. A
// picture's pixels never change, so the last few stay in memory.
func (k *Kit) pixels(ctx context.Context, teacher, id uint64) (*image.RGBA, error) {
	if img, ok := k.measured.Get(id); ok {
		return img, nil
	}
	f, err := k.Store.PictureFile(ctx, teacher, id, store.View)
	if err != nil {
		return nil, err
	}
	img, err := picture.Decode(f.Bytes)
	if err != nil {
		return nil, fmt.Errorf("picture %d, which was taken in: %w", id, err)
	}
	img = picture.Shrink(img, measuredSide)
	k.measured.Add(id, img)
	return img, nil
}

// Seen is what a picture shows along a plan's lines and in its boxes.
type Seen struct {
	Contrast []float64 // by colour of grid.Palette: share of the lines' length on which it stands out
	Busy     grid.Busy // detail on even patches of the frame
	Boxes    []float64 // detail by box, in the order of Cells
}

// Look measures the teacher's picture under a plan.
func (k *Kit) Look(ctx context.Context, teacher, id uint64, p grid.Plan) (Seen, error) {
	if p.Frame == nil {
		return Seen{}, nil
	}
	img, err := k.pixels(ctx, teacher, id)
	if err != nil {
		return Seen{}, err
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
	const patches = 12
	s.Busy = grid.Busy{Columns: patches, Rows: patches}
	if s.Busy.Share, err = picture.Detail(img, corners, p.Frame.Mirror, patches, patches); err != nil {
		return Seen{}, err
	}
	// Boxes may differ in size where there is a remainder, so they gather finer patches.
	s.Boxes, err = boxDetail(img, corners, p)
	return s, err
}

// boxDetail gathers fine even patches into the plan's boxes.
func boxDetail(img *image.RGBA, corners picture.Quad, p grid.Plan) ([]float64, error) {
	const across = 48
	down := max(1, int(across*p.Reference.Height/p.Reference.Width))
	fine, err := picture.Detail(img, corners, p.Frame.Mirror, across, min(down, 4*across))
	if err != nil {
		return nil, err
	}
	down = len(fine) / across
	boxes := make([]float64, p.Count())
	for i, share := range fine {
		at := grid.Point{X: (float64(i%across) + 0.5) / across * p.Sheet.Width, Y: (float64(i/across) + 0.5) / float64(down) * p.Sheet.Height}
		c := p.CellAt(at)
		boxes[c.Row*p.Grid.Columns+c.Column] += share
	}
	return boxes, nil
}
