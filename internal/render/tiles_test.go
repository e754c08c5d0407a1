package render

import (
	"image"
	"image/color"
	"testing"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/sheet"
	"zestysketch/internal/core/tiles"
)

// The preview shows every tile as its map says: a picture whose every box has
// its own tone, with a dark corner at its top left, is rearranged; where the
// corner comes to lie is reckoned by hand: flipped left to right first, then
// turned clockwise.
func TestTilePreview(t *testing.T) {
	const px = 40 // a box
	img := image.NewRGBA(image.Rect(0, 0, 4*px, 4*px))
	tone := func(column, row int) uint8 { return uint8(100 + 9*(row*4+column)) }
	for y := range 4 * px {
		for x := range 4 * px {
			g := tone(x/px, y/px)
			if x%px < px/3 && y%px < px/3 {
				g = 0
			}
			img.SetRGBA(x, y, color.RGBA{g, g, g, 255})
		}
	}
	p, err := grid.Make(grid.Request{Picture: [2]int{4 * px, 4 * px}, Reference: "100 mm", Paper: "A3", Method: "parts", Parts: "4 x 4", Units: "cm"})
	if err != nil {
		t.Fatal(err)
	}
	turns := map[int]int{}
	for seed := range uint64(4) {
		m, err := tiles.Shuffle(p, seed, true)
		if err != nil {
			t.Fatal(err)
		}
		out := Pixels(sheet.TilePreview(p, m), 2, map[string]image.Image{sheet.FramePicture: img})
		for _, place := range m.Places {
			to, _ := p.Find(place.Label)
			from, _ := p.Find(place.Tile)
			at := func(u, v float64) uint8 {
				return out.RGBAAt(int((to.Reference.Min.X+u*25)*2), int((to.Reference.Min.Y+v*25)*2)).G
			}
			if got, want := at(0.5, 0.5), tone(from.Column, from.Row); got > want+2 || got+2 < want {
				t.Errorf("seed %d, %s shows tone %d; want %s with %d", seed, place.Label, got, place.Tile, want)
			}
			corner := 0 // top left, then clockwise
			if place.Flip {
				corner = 1
			}
			corner = (corner + place.Turn/90) % 4
			for i, uv := range [4][2]float64{{0.14, 0.14}, {0.86, 0.14}, {0.86, 0.86}, {0.14, 0.86}} {
				if dark := at(uv[0], uv[1]) < 50; dark != (i == corner) {
					t.Errorf("seed %d, %s turned %d°, flipped %v: corner %d dark is %v", seed, place.Label, place.Turn, place.Flip, i, dark)
				}
			}
			turns[place.Turn]++
		}
		if page := sheet.TileMap(p, m); len(page.Items) < 16*4 {
			t.Errorf("the map has %d items", len(page.Items))
		}
	}
	if len(turns) != 4 {
		t.Errorf("turns tried: %v; want all four", turns)
	}
}
