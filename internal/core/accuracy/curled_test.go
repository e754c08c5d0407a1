package accuracy_test

import (
	"encoding/json"
	"math"
	"slices"
	"testing"

	"golang.org/x/image/font/gofont/gobolditalic"
	"golang.org/x/image/font/gofont/goregular"

	"zestysketch/internal/core/accuracy"
	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/demo"
)

// A sheet that is rolled, lifted at a corner or folded is measured as a flat one is, and
// a column that was ruled too wide on it is still told: what the paper does and what the
// ruler did are kept apart.
func TestCurledSheets(t *testing.T) {
	s := letters(t, gobolditalic.TTF, "Qk3&")
	p := planFor(t, s, "6 x 8")
	wide := grid.Marks{SheetX: slices.Clone(p.Marks.SheetX), SheetY: p.Marks.SheetY}
	wide.SheetX[3] += 4
	for _, c := range []struct {
		name string
		lie  demo.Lie
		grid grid.Marks
		find bool
	}{
		{"flat", demo.Lie{}, wide, true},
		{"rolled", demo.Lie{Rolled: 20, Angle: 20}, grid.Marks{}, true},
		{"rolled far", demo.Lie{Rolled: 35}, grid.Marks{}, false},
		{"a corner up", demo.Lie{Lifted: 60}, grid.Marks{}, true},
		{"rolled, a column wide", demo.Lie{Rolled: 15, Angle: 10}, wide, true},
		{"folded, a column wide", demo.Lie{Folded: 12, Angle: 15}, wide, false},
	} {
		camera, distortion := phone, field(p, 0.1, 5)
		camera.Lie = c.lie
		got := look(t, s, p, demo.Hand{Size: 1, PencilWeight: 0.9, Unsteady: 0.2, Distortion: distortion, Grid: c.grid}, camera, func(j *accuracy.Job) {
			if c.find {
				j.Corners = nil
			}
		})
		r := got.report
		errs, known := got.score(distortion)
		if len(errs) == 0 {
			t.Errorf("%s: nothing was told: %s", c.name, r.Why)
			continue
		}
		median, most := errs[len(errs)/2], errs[len(errs)*9/10]
		t.Logf("%s: median %.3f, 90 %% under %.3f, %.0f %% told, grid %.1f mm at %s", c.name, median, most, 100*known, r.Grid.Worst, r.Grid.WorstAt)
		if median > 0.012 || most > 0.035 || known < 0.75 {
			t.Errorf("%s: median %.3f, 90 %% under %.3f, %.2f told; want 0.012, 0.035 and 0.75", c.name, median, most, known)
		}
		if (r.Grid.Curl != nil) != (c.lie != demo.Lie{}) {
			t.Errorf("%s: curl found: %v", c.name, r.Grid.Curl != nil)
		}
		switch {
		case c.grid.SheetX == nil && len(r.Grid.Problems) > 0:
			t.Errorf("%s: the grid is blamed: %q", c.name, r.Grid.Problems)
		case c.grid.SheetX != nil && (math.Abs(math.Abs(r.Grid.Worst)-4) > 0.8 || len(r.Grid.Problems) != 1):
			t.Errorf("%s: %+.1f mm at %s; want 4 mm at a column beside the third line", c.name, r.Grid.Worst, r.Grid.WorstAt)
		}
	}
}

// A report of a curled sheet, kept and read back, still knows where the photo shows each
// place, and its gist too.
func TestCurlIsKept(t *testing.T) {
	s := letters(t, goregular.TTF, "R&g5")
	p := planFor(t, s, "6 x 8")
	camera := phone
	camera.Lie = demo.Lie{Rolled: 20}
	got := look(t, s, p, demo.Hand{Size: 1, PencilWeight: 0.9, Unsteady: 0.2}, camera, nil).report
	kept, err := json.Marshal(got)
	if err != nil {
		t.Fatal(err)
	}
	var back accuracy.Report
	if err := json.Unmarshal(kept, &back); err != nil {
		t.Fatal(err)
	}
	was, err := got.View(p)
	if err != nil {
		t.Fatal(err)
	}
	now, err := back.View(p)
	if err != nil {
		t.Fatal(err)
	}
	moved := 0.0
	for _, x := range p.Marks.SheetX {
		for _, y := range p.Marks.SheetY {
			at := plane.Pt(x, y)
			if d := was.Photo(at).Sub(now.Photo(at)).Len(); d > 1e-6 {
				t.Fatalf("%v is shown %.3f pixels elsewhere once it was kept", at, d)
			}
			if d := now.Sheet(now.Photo(at)).Sub(at).Len(); d > 0.05 {
				t.Errorf("%v comes back %.2f mm off", at, d)
			}
			moved = max(moved, got.Grid.Curl.Off(at).Len())
		}
	}
	if moved < 3 || got.Gist().Curl == nil {
		t.Errorf("a curl of %.1f mm is kept, in the gist: %v; want more than 3 mm, and so", moved, got.Gist().Curl != nil)
	}
	back.Grid.Curl.X.At = back.Grid.Curl.X.At[:5]
	if _, err := back.View(p); err == nil {
		t.Error("a curl that was cut off is taken")
	}
}
