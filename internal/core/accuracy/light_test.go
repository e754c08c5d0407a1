package accuracy_test

import (
	"image"
	"math"
	"slices"
	"testing"

	"zestysketch/internal/core/accuracy"
	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/photo"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/demo"
	"zestysketch/internal/render"

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

// A crease across the paper is no line of anybody's: no box slipped because of it, of a sheet
// that was folded once, or into quarters that show as sharp shadows.
func TestCreasesAreNoSlips(t *testing.T) {
	creased := phone
	creased.Worn = demo.Worn{Fold: true}
	hand := demo.Hand{Size: 1, PencilWeight: 0.8, Unsteady: 0.3, Strokes: true}
	for _, words := range []string{"R&g5", "Qa8s", "m%2k"} {
		s := letters(t, goregular.TTF, words)
		folded := s
		w, h := float64(s.Page.Size.W), float64(s.Page.Size.H)
		for _, ends := range [][2]plane.Point{{plane.Pt(0, 0.47*h), plane.Pt(w, 0.47*h)}, {plane.Pt(0.46*w, 0), plane.Pt(0.46*w, h)}} {
			folded.Page.Items = append(slices.Clone(folded.Page.Items), page.Path{Points: ends[:], Width: 0.7, Stroke: page.Color{R: 150, G: 150, B: 150}})
		}
		ref := photo.NewShot(render.Pixels(s.Page, perMM, nil))
		for _, parts := range []string{"5 x 7", "6 x 8", "4 x 5"} {
			p := planFor(t, s, parts)
			for what, got := range map[string]seen{
				"folded once":   look(t, s, p, hand, creased, nil),
				"into quarters": look(t, folded, p, hand, phone, func(j *accuracy.Job) { j.Reference = ref }),
			} {
				for _, c := range got.report.Cells {
					if c.Slipped > 0 || c.Wrong {
						t.Errorf("%q in %s, %s: %s is said to be off by %.2f, %.2f", words, parts, what, c.Label, c.Shift, c.Slipped)
					}
				}
			}
		}
	}
}
