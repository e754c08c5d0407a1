package survey

import (
	"image"
	"image/color"
	"math"
	"slices"
	"testing"

	"zestysketch/internal/core/grid"
)

// A slow change of tone has no detail, and is no empty box: it is drawn.
func TestASlowChangeOfToneIsNotEmpty(t *testing.T) {
	p, err := grid.Make(grid.Request{Picture: [2]int{600, 400}, Reference: "15 cm", Scale: "2", Method: "parts", Parts: "6 x 4"})
	if err != nil {
		t.Fatal(err)
	}
	img := image.NewRGBA(image.Rect(0, 0, 600, 400))
	for y := range 400 {
		for x := range 600 {
			v := uint8(250)
			if x > 300 { // darker to the right
				v = uint8(250 - (x-300)/2)
			}
			if x < 20 && y > 380 { // a spot, which has all the detail
				v = 0
			}
			img.SetRGBA(x, y, color.RGBA{v, v, v, 255})
		}
	}
	empty, err := Empty(img, p)
	if err != nil || !slices.Contains(empty, "A1") || slices.Contains(empty, "E2") {
		t.Errorf("empty are %v, %v; want the even boxes on the left, and none of the shaded ones", empty, err)
	}
}

// Half the picture is black: white lines stand out there and dark ones on the
// other half; a checkered patch in box C2 holds all the detail.
func TestSurvey(t *testing.T) {
	img := image.NewRGBA(image.Rect(0, 0, 400, 400))
	for y := range 400 {
		for x := range 400 {
			v := uint8(255)
			if x < 200 {
				v = 0
			}
			if x > 210 && x < 290 && y > 110 && y < 190 && x/8%2 == y/8%2 {
				v = 128
			}
			img.SetRGBA(x, y, color.RGBA{v, v, v, 255})
		}
	}
	p, err := grid.Make(grid.Request{Picture: [2]int{800, 800}, Reference: "4x4in", Scale: "2", Method: "parts", Parts: "4"})
	if err != nil {
		t.Fatal(err)
	}
	seen := Contrast(img, p)
	busy, boxes, err := Detail(img, p)
	if err != nil || len(busy.Share) != busy.Columns*busy.Rows {
		t.Fatal(err)
	}
	// Three of the six lines are level, half on black; one upright one is all on black.
	if white := seen[2]; white < 0.35 || white > 0.55 {
		t.Errorf("white is seen on %v", white)
	}
	sum := 0.0
	for _, b := range boxes {
		sum += b
	}
	c, _ := p.Find("C2")
	if share := boxes[c.Row*4+c.Column]; math.Abs(sum-1) > 1e-9 || share < 0.5 {
		t.Errorf("C2 holds %v of %v", share, sum)
	}
	if none := Contrast(img, grid.Plan{}); none != nil {
		t.Errorf("without a frame: %v", none)
	}
}

func BenchmarkSurvey(b *testing.B) {
	img := image.NewRGBA(image.Rect(0, 0, 800, 600))
	p, err := grid.Make(grid.Request{Picture: [2]int{4000, 3000}, Reference: "8x6in", Scale: "2", ReferenceSquare: "1in"})
	if err != nil {
		b.Fatal(err)
	}
	for b.Loop() {
		Contrast(img, p)
		if _, _, err := Detail(img, p); err != nil {
			b.Fatal(err)
		}
	}
}
