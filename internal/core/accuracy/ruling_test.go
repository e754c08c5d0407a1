package accuracy_test

import (
	"image"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"zestysketch/internal/core/photo"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/demo"
)

// Before anything is drawn a photo tells whether the grid is ruled true, and which column
// is not.
func TestRuling(t *testing.T) {
	s := rings(false)
	p := planFor(t, s, "6 x 8")
	bare := demo.Scene{Page: s.Page}
	bare.Page.Items = nil
	look := func(wrong float64) photo.Grid {
		h := steady(nil)
		h.Grid = p.Marks
		if wrong > 0 { // one mark is set so many mm too far: C is wide and D narrow
			h.Grid.SheetX = slices.Clone(p.Marks.SheetX)
			h.Grid.SheetX[3] += wrong
		}
		shot, err := demo.Photograph(p, bare, h, phone, 3, 3, 0.04, rand.New(rand.NewPCG(5, 1)))
		if err != nil {
			t.Fatal(err)
		}
		img, err := picture.Decode(shot.Photo)
		if err != nil {
			t.Fatal(err)
		}
		g, found := photo.Ruling(p, photo.NewShot(img))
		if !found {
			t.Fatal("no grid is found")
		}
		return g
	}
	if g := look(0); len(g.Problems) > 0 {
		t.Errorf("a true grid hears %q", g.Problems)
	}
	for _, wrong := range []float64{4, 8, 11} {
		g := look(wrong)
		if len(g.Problems) != 1 || !strings.Contains(g.Problems[0], "column") || math.Abs(math.Abs(g.Worst)-wrong) > 1 {
			t.Errorf("a column %g mm wrong: %.1f mm, %q", wrong, g.Worst, g.Problems)
		}
	}
	if _, found := photo.Ruling(p, photo.NewShot(picture.Shrink(photoOf(t), 400))); found {
		t.Error("a grid is found where there is none")
	}
}

// photoOf is a photo of bare wood.
func photoOf(t *testing.T) *image.RGBA {
	t.Helper()
	img := image.NewRGBA(image.Rect(0, 0, 800, 600))
	for i := range img.Pix {
		img.Pix[i] = uint8(100 + i%5)
	}
	return img
}
