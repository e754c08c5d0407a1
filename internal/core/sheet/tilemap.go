package sheet

import (
	"math"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/core/tiles"
)

// tileName is how large the name of a tile is written, as a share of its box.
const tileName = 0.26

// TileMap returns the new grid at the size of the reference: in each place the
// name of the tile that is set there, an arrow to where the tile's own top
// comes to lie, and "flip" where it is laid face down.
func TileMap(p grid.Plan, m tiles.Map) page.Page {
	pg := tilePage(p, "Where each tile goes")
	for _, place := range m.Places {
		c, ok := p.Find(place.Label)
		if !ok {
			continue
		}
		r := c.Reference
		k := min(r.Width(), r.Height())
		mid := r.Middle()
		pg.Add(page.BoxPath(r, 0.25, page.Ink), page.Text{At: plane.Pt(mid.X, mid.Y+0.1*k), Size: tileName * k, Words: place.Tile, Anchor: page.Middle, Bold: true, Color: page.Ink},
			page.Text{At: plane.Pt(r.Min.X+0.04*k, r.Max.Y-0.05*k), Size: max(1.6, 0.12*k), Words: place.Label, Color: page.Ink})
		if place.Flip { // a bar as well, which is seen where the word is too small to be read
			bar := plane.Pt(r.Max.X-0.06*k, r.Min.Y+0.2*k)
			pg.Add(page.Path{Points: []plane.Point{bar, bar.Add(plane.Pt(0, 0.6*k))}, Width: max(0.4, 0.035*k), Stroke: page.Ink})
			pg.Add(page.Text{At: plane.Pt(r.Max.X-0.04*k, r.Min.Y+0.13*k), Size: max(1.6, 0.12*k), Words: "flip", Anchor: page.End, Color: page.Ink})
		}
		drawUpArrow(&pg, mid, 0.46*k, float64(place.Turn))
	}
	return pg
}

// drawUpArrow draws an arrow from near a middle outwards, up where turn is 0.
func drawUpArrow(pg *page.Page, mid plane.Point, reach, turn float64) {
	sin, cos := math.Sincos(turn * math.Pi / 180)
	at := func(x, y float64) plane.Point { return plane.Pt(mid.X+x*cos-y*sin, mid.Y+x*sin+y*cos) }
	pg.Add(page.Path{Points: []plane.Point{at(0, -0.62*reach), at(0, -reach)}, Width: 0.4, Stroke: page.Ink},
		page.Path{Points: []plane.Point{at(-0.12*reach, -0.86*reach), at(0, -reach), at(0.12*reach, -0.86*reach)}, Width: 0.4, Stroke: page.Ink})
}

// TilePreview returns the rearranged picture: each place shows its tile of the
// plan's frame, turned and flipped. It wants a plan with a frame.
func TilePreview(p grid.Plan, m tiles.Map) page.Page {
	pg := tilePage(p, "The picture rearranged")
	if p.Frame == nil {
		return pg
	}
	for _, place := range m.Places {
		to, ok1 := p.Find(place.Label)
		from, ok2 := p.Find(place.Tile)
		if !ok1 || !ok2 {
			continue
		}
		part := laidPart(p, from, place)
		pg.Add(page.Picture{Box: to.Reference, Name: FramePicture, Part: &part})
	}
	return pg
}

// laidPart returns what of the picture a place shows, its tile turned and flipped.
func laidPart(p grid.Plan, tile grid.Cell, place tiles.Slot) grid.Frame {
	// A tile turned to the right is the picture seen through a frame turned to the left.
	part := tilePart(p, tile)
	part.Angle, part.Mirror = p.Frame.Angle-float64(place.Turn), p.Frame.Mirror != place.Flip
	if place.Turn%180 != 0 {
		part.Size[0], part.Size[1] = part.Size[1], part.Size[0]
	}
	if place.Flip { // flipped first and turned then: the turn goes the other way round
		part.Angle = p.Frame.Angle + float64(place.Turn)
	}
	return part
}

func tilePage(p grid.Plan, title string) page.Page {
	return page.Page{Title: title, Size: measure.Size{W: measure.Length(p.Reference.Width), H: measure.Length(p.Reference.Height)}}
}
