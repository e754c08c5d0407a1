package accuracy_test

import (
	"math/rand/v2"
	"slices"
	"testing"

	"zestysketch/internal/core/accuracy"
	"zestysketch/internal/core/finish"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/photo"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/demo"
	"zestysketch/internal/render"
)

// Of a tracing whose lines are gone over in a second colour but for two, those two are named, in dim light and in warm,
// from a hand that wanders too; of one that nobody has gone over yet no colour is seen.
func TestRetraced(t *testing.T) {
	for k, s := range append(rowScenes(t), lantern(1)) {
		p := planFor(t, s, "6 x 8")
		var all []finish.Named
		for _, item := range s.Page.Items {
			path := item.(page.Path)
			line, points := finish.Named{}, path.Points
			if path.Closed {
				points = slices.Concat(points, points[:1])
			}
			for _, q := range points {
				line.Points = append(line.Points, p.ToSheet(p.FromPicture(q.Mul(perMM))))
			}
			all = append(all, line)
		}
		left := []int{1, len(all) - 1}
		for _, over := range []bool{true, false} {
			hand := steady(func(h *demo.Hand) {
				h.Distortion = field(p, 0.06, uint64(k+40))
				h.Over = func(line int) bool { return over && !slices.Contains(left, line) }
			})
			camera := phone
			camera.Dim = 0.5
			shot, err := demo.Photograph(p, s, hand, camera, 0, 0, 0.04, rand.New(rand.NewPCG(uint64(k), 3)))
			if err != nil {
				t.Fatal(err)
			}
			img, err := picture.Decode(shot.Photo)
			if err != nil {
				t.Fatal(err)
			}
			for i := 0; i < len(img.Pix); i += 4 { // an evening's lamp
				img.Pix[i+1], img.Pix[i+2] = uint8(float64(img.Pix[i+1])*0.93), uint8(float64(img.Pix[i+2])*0.75)
			}
			got, coloured, err := accuracy.Retraced(accuracy.Job{Plan: p, Reference: photo.NewShot(render.Pixels(s.Page, perMM, nil)),
				Photo: photo.NewShot(img), Corners: &shot.Corners}, all)
			if err != nil || coloured != over || len(got) != len(all) {
				t.Fatalf("%s: %d of %d lines, coloured %v: %v", s.Page.Title, len(got), len(all), coloured, err)
			}
			for i, one := range got {
				length := 0.0
				for _, run := range one.Left {
					for j := 1; j < len(run); j++ {
						length += run[j].Sub(run[j-1]).Len()
					}
				}
				whole := 0.0
				for j := 1; j < len(one.Points); j++ {
					whole += one.Points[j].Sub(one.Points[j-1]).Len()
				}
				if missed := !over || slices.Contains(left, i); missed && length < 0.8*whole || !missed && length > 0 {
					t.Errorf("%s, gone over %v, line %d: %.0f of %.0f mm are left", s.Page.Title, over && !missed, i, length, whole)
				}
			}
		}
	}
}
