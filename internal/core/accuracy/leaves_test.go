package accuracy_test

import (
	"math"
	"slices"
	"testing"

	"zestysketch/internal/core/accuracy"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/photo"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/demo"
	"zestysketch/internal/render"
)

// waves is a picture of lines that run across it, of which one may bend away from a place on.
func waves(from float64, away plane.Point) (s demo.Scene) {
	s.Page = page.Page{Size: measure.Size{W: 300, H: 200}}
	w, h := float64(s.Page.Size.W), float64(s.Page.Size.H)
	for k := range 5 {
		var points []plane.Point
		for x := 0.08; x <= 0.92; x += 0.01 {
			q := plane.Pt(x*w, h*(0.14+0.18*float64(k)+0.03*math.Sin(7*x+float64(k))))
			if k == 1 && x > from {
				q = q.Add(away.Mul(min(1, (x-from)/0.06)))
			}
			points = append(points, q)
		}
		s.Page.Items = append(s.Page.Items, page.Path{Points: points, Width: 0.9, Stroke: page.Ink})
	}
	return s
}

// Where a line leaves the picture's is found where it does; of a right drawing and of one with a line left out
// nothing is said.
func TestWhereALineLeaves(t *testing.T) {
	right := waves(2, plane.Point{})
	p := planFor(t, right, "6 x 4")
	cell, hand := float64(right.Page.Size.W)/6, demo.Hand{Size: 1, PencilWeight: 0.9, Unsteady: 0.2}
	leaves := func(s demo.Scene) (at []plane.Point) {
		r := look(t, s, p, hand, phone, func(j *accuracy.Job) { j.Reference = photo.NewShot(render.Pixels(right.Page, perMM, nil)) }).report
		for _, l := range r.Leaves {
			at = append(at, l.At.Mul(1/p.Grid.SheetCell[0]))
		}
		return at
	}
	if got := leaves(right); len(got) > 0 {
		t.Errorf("a right drawing leaves its lines at %v", got)
	}
	gone := right
	gone.Page.Items = slices.Delete(slices.Clone(right.Page.Items), 3, 4)
	if got := leaves(gone); len(got) > 0 {
		t.Errorf("a line left out leaves at %v", got)
	}
	for _, from := range []float64{0.3, 0.55, 0.7} {
		for _, away := range []plane.Point{plane.Pt(0, 0.2*cell), plane.Pt(0, -0.25*cell)} {
			got := leaves(waves(from, away))
			if len(got) != 1 || math.Abs(got[0].X-6*from) > 0.25 {
				t.Errorf("bent away at %.2f boxes by %.1f mm: leaves at %v", 6*from, away.Y, got)
			}
		}
	}
}
