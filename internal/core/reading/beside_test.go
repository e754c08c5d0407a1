package reading_test

import (
	"cmp"
	"encoding/json"
	"math"
	"os"
	"path/filepath"
	"slices"
	"testing"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/core/reading"
)

// A picture by another program (OpenCV 4.6.0: its own faces, an ellipse, an area) is read
// as an independent library has its contours: scikit-image 0.19.3, find_contours half-way
// between paper and ink; both of Debian. Its crossings with the grid were reckoned from
// those contours by a script and are kept beside the picture.
func TestBesideContours(t *testing.T) {
	kept, err := os.ReadFile(filepath.Join("testdata", "glyphs.json"))
	if err != nil {
		t.Fatal(err)
	}
	var known struct {
		Crossings [][4]any `json:"crossings"`
	}
	if err := json.Unmarshal(kept, &known); err != nil {
		t.Fatal(err)
	}
	file, err := os.ReadFile(filepath.Join("testdata", "glyphs.png"))
	if err != nil {
		t.Fatal(err)
	}
	img, err := picture.Decode(file)
	if err != nil {
		t.Fatal(err)
	}
	p, err := grid.Make(grid.Request{Name: "Glyphs", Picture: [2]int{960, 720}, Reference: "200 mm", Paper: "A3", Method: "parts", Parts: "8 x 6", Units: "cm"})
	if err != nil {
		t.Fatal(err)
	}
	for _, from := range []reading.Source{reading.Lines, reading.Borders} {
		r, err := reading.Picture(p, img, false, from, reading.Thirds)
		if err != nil {
			t.Fatal(err)
		}
		got := found(p, r)
		used := make([]bool, len(got))
		var errs []float64
		want := 0
		for _, k := range known.Crossings {
			q := place{k[0] == "x", int(k[1].(float64)), k[2].(float64), k[3].(float64)}
			a := math.Abs(q.deg)
			graze := q.down && a > 75 && a < 105 || !q.down && (a < 15 || a > 165) // whether it crosses is a matter of a hair
			if !graze {
				want++
			}
			best, at := 0.06, -1
			for i, g := range got {
				if d := math.Abs(g.at - q.at); !used[i] && g.down == q.down && g.line == q.line && d < best {
					best, at = d, i
				}
			}
			if at >= 0 {
				used[at] = true
			}
			switch {
			case graze:
			case at < 0:
				t.Logf("%s: %+v is not found", from, q)
			default:
				errs = append(errs, best)
			}
		}
		slices.SortFunc(errs, cmp.Compare)
		extra := 0
		for i, g := range got {
			if !used[i] && !grazes(g) {
				extra++
				t.Logf("%s: %+v is no contour's", from, g)
			}
		}
		t.Logf("%s: %d of %d found, %d more, median %.4f, 95 %% under %.4f of a box", from, len(errs), want, extra, errs[len(errs)/2], errs[len(errs)*95/100])
		if float64(len(errs)) < 0.95*float64(want) || float64(extra) > 0.04*float64(want) || errs[len(errs)/2] > 0.006 || errs[len(errs)*95/100] > 0.02 {
			t.Errorf("%s: %d of %d found, %d more, median %.4f, 95 %% under %.4f; want 95 %%, hardly any, 0.006 and 0.02", from, len(errs), want, extra, errs[len(errs)/2], errs[len(errs)*95/100])
		}
	}
}
