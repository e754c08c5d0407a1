package photo_test

import (
	"math/rand/v2"
	"testing"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/photo"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/demo"
)

// a3 is the harbour light on a sheet of A3.
func a3(t testing.TB) (demo.Scene, grid.Plan) {
	t.Helper()
	sc, _, err := demo.HarbourLight()
	if err != nil {
		t.Fatal(err)
	}
	p, err := grid.Make(grid.Request{Name: "Harbour light", Picture: [2]int{1750, 2250}, Reference: "175 mm", Paper: "A3", Method: "parts", Parts: "7 x 9", Units: "cm"})
	if err != nil {
		t.Fatal(err)
	}
	return sc, p
}

// Corners from tags, on a sheet of A3 and over the pretend camera's faults,
// within half a millimetre of where the camera knows them to be.
func TestTagsOnA3(t *testing.T) {
	sc, p := a3(t)
	for name, c := range map[string]demo.Camera{
		"12 megapixels": {Width: 3000, Height: 4000, Noise: 3, Dim: 0.3},
		"4 megapixels":  {Width: 1740, Height: 2320, Noise: 3, Dim: 0.3},
		"blurred":       {Width: 2100, Height: 2800, Noise: 4, Dim: 0.4, Blur: 1.5, Quality: 70},
		"shadow":        {Width: 1740, Height: 2320, Noise: 4, Dim: 0.3, Shadow: 0.5},
	} {
		t.Run(name, func(t *testing.T) {
			s, err := demo.Photograph(p, sc, demo.Hand{Size: 1, PencilWeight: 0.8, Unsteady: 0.2}, c, 3, 17, 0.06, rand.New(rand.NewPCG(5, 6)))
			if err != nil {
				t.Fatal(err)
			}
			img, err := picture.Decode(s.Photo)
			if err != nil {
				t.Fatal(err)
			}
			found := photo.FindTags(photo.NewShot(img))
			if len(found) != 1 || found[0].Project != 3 || found[0].Student != 17 || !found[0].Whole() {
				t.Fatalf("found %+v; want one drawing of project 3 and student 17 with four tags", found)
			}
			if worst := off(t, p, found[0].Corners, s, c); worst > 0.5 {
				t.Errorf("a corner is %.2f mm off; want 0.5 at most", worst)
			}
		})
	}
}
