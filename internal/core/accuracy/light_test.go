package accuracy_test

import (
	"image"
	"math"
	"testing"

	"zestysketch/internal/core/accuracy"
	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/photo"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/demo"

	"golang.org/x/image/font/gofont/goregular"
)

// A box that light burnt out is not judged: nothing is said to be missing in it, and it is
// named; the others are measured as ever.
func TestBurntBoxes(t *testing.T) {
	s := letters(t, goregular.TTF, "R&g5")
	p := planFor(t, s, "6 x 8")
	burn := map[string]bool{"C3": true, "D3": true, "C4": true}
	got := look(t, s, p, demo.Hand{Size: 1, PencilWeight: 0.9, Unsteady: 0.2}, phone, func(j *accuracy.Job) {
		corners := *j.Corners
		wash(j.Photo.Full, p, corners, burn)
	}).report
	for _, c := range got.Cells {
		if c.Burnt != burn[c.Label] {
			t.Errorf("%s: burnt %v; want %v", c.Label, c.Burnt, burn[c.Label])
		}
		if burn[c.Label] && (c.Missing > 0 || c.Wrong || c.Sure != accuracy.None) {
			t.Errorf("%s is judged: %+v", c.Label, c)
		}
	}
	for _, a := range got.Next {
		for _, label := range a.Cells {
			if burn[label] {
				t.Errorf("of a box that nobody sees it is said: %q", a.Words)
			}
		}
	}
}

// wash burns boxes of a photographed sheet out.
func wash(img *image.RGBA, p grid.Plan, q plane.Quad, boxes map[string]bool) {
	for row := range p.Grid.Rows {
		for column := range p.Grid.Columns {
			if !boxes[p.Grid.Labels.Label(column, row)] {
				continue
			}
			const steps = 400
			for i := range steps {
				for k := range steps {
					u, v := (float64(column)+float64(i)/steps)/float64(p.Grid.Columns), (float64(row)+float64(k)/steps)/float64(p.Grid.Rows)
					top := q[0].Mul(1 - u).Add(q[1].Mul(u))
					bottom := q[3].Mul(1 - u).Add(q[2].Mul(u))
					at := top.Mul(1 - v).Add(bottom.Mul(v)) // the camera looks nearly straight
					o := img.PixOffset(int(at.X), int(at.Y))
					img.Pix[o], img.Pix[o+1], img.Pix[o+2] = 255, 255, 255
				}
			}
		}
	}
}

// A hand's exact corners stay where they are, also of few and large boxes that reach nearly to
// the paper's edge; a hand that missed is drawn to the lines.
func TestHandsCornersOfLargeBoxes(t *testing.T) {
	s := letters(t, goregular.TTF, "R&g5")
	for _, parts := range []string{"2 x 3", "3 x 4", "4 x 4"} {
		for margin, off := range map[string]float64{"8 mm": 0, "12 mm": 0, "14 mm": 0.06} { // nearer to the edge a hand's corners stay as they are
			p, err := grid.Make(grid.Request{Name: "Large", Picture: [2]int{int(s.Page.Size.W) * perMM, int(s.Page.Size.H) * perMM},
				Reference: "180 mm", Paper: "A3", Method: "parts", Parts: parts, Margin: margin, Units: "cm"})
			if err != nil {
				t.Fatal(err)
			}
			got := look(t, s, p, demo.Hand{Size: 1, PencilWeight: 0.9, Unsteady: 0.2}, phone, func(j *accuracy.Job) {
				corners := *j.Corners
				cell := photo.PixelsPerCell(p, corners)
				corners[1] = corners[1].Add(plane.Pt(off*cell, -off*cell))
				j.Corners, j.FoundBy = &corners, photo.ByHand
			})
			cell, worst := photo.PixelsPerCell(p, got.shot.Corners), 0.0
			for i, c := range got.report.Corners {
				worst = math.Max(worst, c.Sub(got.shot.Corners[i]).Len()/cell)
			}
			if few := parts == "2 x 3" && off > 0; worst > 0.05 && !few { // three lines inside tell no more
				t.Errorf("%s, a corner set %.2f of a box off: measured by corners that are %.2f off", parts, off, worst)
			}
		}
	}
}
