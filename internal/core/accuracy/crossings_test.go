package accuracy_test

import (
	"math"
	"strings"
	"testing"

	"golang.org/x/image/font/gofont/goregular"

	"zestysketch/internal/core/plane"
	"zestysketch/internal/core/reading"
	"zestysketch/internal/demo"
	"zestysketch/internal/render"
)

// Lines drawn a fifth of a box too low cross the sides where the drawing's own geometry
// has them cross, and that is said; a true drawing hears nothing of it.
func TestCrossingsOfADrawing(t *testing.T) {
	s := letters(t, goregular.TTF, "R&g5")
	p := planFor(t, s, "6 x 8")
	img := render.Pixels(s.Page, perMM, nil)
	read, err := reading.Picture(p, img, true, reading.Lines, reading.Thirds)
	if err != nil {
		t.Fatal(err)
	}
	wrongly := map[string]bool{"C4": true, "D4": true, "C5": true, "D5": true}
	down := func(at plane.Point) plane.Point {
		if wrongly[p.CellAt(at).Label] {
			return plane.Pt(0, 0.2*p.Grid.SheetCell[1])
		}
		return plane.Point{}
	}
	hand := demo.Hand{Size: 1, PencilWeight: 0.9, Unsteady: 0.2}
	if off := look(t, s, p, hand, phone, nil).report.Crossings(read.Boxes, reading.Thirds); len(off) > 0 {
		t.Errorf("a true drawing hears %q", off[0].Say)
	}
	hand.Distortion = down
	off := look(t, s, p, hand, phone, nil).report.Crossings(read.Boxes, reading.Thirds)
	if len(off) < 3 {
		t.Fatalf("%d crossings are said of four boxes that are drawn too low; want more", len(off))
	}
	for _, o := range off {
		if !wrongly[o.Cell] && math.Abs(o.Drawn-o.Wanted) > 0.12 {
			t.Errorf("%s is drawn right and hears %q", o.Cell, o.Say)
		}
		upright := o.Side == reading.Left || o.Side == reading.Right
		if wrongly[o.Cell] && upright && math.Abs(o.Drawn-o.Wanted-0.2) > 0.06 {
			t.Errorf("%s: a side is crossed %.2f lower; it was drawn 0.2 lower", o.Cell, o.Drawn-o.Wanted)
		}
		if !strings.Contains(o.Say, "the picture’s at") {
			t.Errorf("said %q", o.Say)
		}
	}
}
