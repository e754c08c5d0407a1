package grid

import (
	"maps"
	"math"
	"slices"
	"strings"
	"testing"
)

// Boxes done in one grid carry over to another where they cover its boxes:
// halved squares, moved letters, a frame cut out of the same picture.
func TestCarry(t *testing.T) {
	base := Request{Picture: [2]int{800, 800}, Reference: "8x8in", Scale: "2", ReferenceSquare: "2in"}
	from := mustMake(t, base)
	done := map[string]int{"A1": 3, "B1": 5, "A2": 7, "B2": 4}
	later := func(a, b int) int { return max(a, b) }
	for name, c := range map[string]struct {
		change func(*Request)
		want   string
	}{
		"the same":           {func(*Request) {}, "A1 A2 B1 B2"},
		"printed larger":     {func(r *Request) { r.Reference, r.ReferenceSquare = "12x12in", "3in" }, "A1 A2 B1 B2"},
		"halved":             {func(r *Request) { r.ReferenceSquare = "1in" }, "A1 A2 A3 A4 B1 B2 B3 B4 C1 C2 C3 C4 D1 D2 D3 D4"},
		"doubled":            {func(r *Request) { r.ReferenceSquare = "4in" }, "A1"},
		"letters down":       {func(r *Request) { r.Letters = "down" }, "A1 A2 B1 B2"},
		"from bottom right":  {func(r *Request) { r.Start = "bottom right" }, "C3 C4 D3 D4"},
		"the upper half":     {func(r *Request) { r.Frame, r.Reference = "400,200 800x400", "8x4in" }, "A1 A2 B1 B2"},
		"another part of it": {func(r *Request) { r.Frame, r.Reference = "600,600 400x400", "4x4in" }, ""},
	} {
		ask := base
		c.change(&ask)
		to := mustMake(t, ask)
		got := Carry(from, to, done, later)
		if labels := strings.Join(slices.Sorted(maps.Keys(got)), " "); labels != c.want {
			t.Errorf("%s: done are %s; want %s", name, labels, c.want)
		}
		if name == "doubled" && got["A1"] != 7 {
			t.Errorf("the doubled box was done at %d; want the latest, 7", got["A1"])
		}
	}
}

// Larger boxes are half as many each way, smaller ones twice as many, of the same drawing on
// the same paper.
func TestCoarser(t *testing.T) {
	for name, ask := range map[string]Request{
		"squares":     {Reference: "8x10in", Paper: "18x24in", Fit: "width", ReferenceSquare: "1in"},
		"a remainder": {Reference: "7.5x9.25in", Paper: "18x24in", Fit: "inside", Round: "1/2in", ReferenceSquare: "1in"},
		"two squares": {Reference: "8x10in", ReferenceSquare: "1in", SheetSquare: "3/2in", Paper: "18x24in"},
		"trimmed":     {Reference: "7.6x9.3in", Paper: "18x24in", Fit: "inside", ReferenceSquare: "1in", Remainder: string(Trimmed), Picture: [2]int{760, 930}},
		"centimetres": {Reference: "20x25cm", Paper: "A2", SheetSquare: "4cm", Units: "cm"},
		"parts":       {Reference: "8x10in", Paper: "18x24in", Fit: "width", Parts: "5x6", Method: "parts"},
		"split boxes": {Reference: "8x10in", Paper: "18x24in", Fit: "width", ReferenceSquare: "1in", Split: "A1=2"},
	} {
		fine := mustMake(t, ask)
		coarse := mustMake(t, fine.Coarser())
		half := func(n int) int { return (n + 1) / 2 }
		if coarse.Grid.Columns != half(fine.Grid.Columns) || coarse.Grid.Rows != half(fine.Grid.Rows) || len(coarse.Grid.Split) != 0 {
			t.Errorf("%s: %d × %d boxes became %d × %d", name, fine.Grid.Columns, fine.Grid.Rows, coarse.Grid.Columns, coarse.Grid.Rows)
		}
		finer := mustMake(t, fine.Finer())
		if twice := finer.Grid.ReferenceCell[0] * 2; math.Abs(twice-fine.Grid.ReferenceCell[0]) > 0.01 || finer.Grid.Columns < 2*fine.Grid.Columns-1 || finer.Grid.Rows < 2*fine.Grid.Rows-1 {
			t.Errorf("%s: %d × %d boxes of %g mm became %d × %d of %g, finer", name, fine.Grid.Columns,
				fine.Grid.Rows, fine.Grid.ReferenceCell[0], finer.Grid.Columns, finer.Grid.Rows,
				finer.Grid.ReferenceCell[0])
		}
		for i, was := range [2]float64{fine.Sheet.Width, fine.Sheet.Height} {
			for _, now := range []float64{[2]float64{coarse.Sheet.Width, coarse.Sheet.Height}[i], [2]float64{finer.Sheet.Width, finer.Sheet.Height}[i]} {
				if math.Abs(now-was) > 0.01 {
					t.Errorf("%s: the drawing's side %d was %g mm and is %g", name, i, was, now)
				}
			}
		}
	}
}
