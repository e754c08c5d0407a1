package photo_test

import (
	"image"
	"math"
	"math/rand/v2"
	"testing"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/photo"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/demo"
)

// off returns how far the worst corner is from where the camera knows it, in
// millimetres, whichever way up the corners were given.
func off(t testing.TB, p grid.Plan, q plane.Quad, s demo.Shot, c demo.Camera) float64 {
	t.Helper()
	best := math.Inf(1)
	for turn := range 4 {
		v, err := photo.NewView(p, photo.Turned(q, turn), photo.NewLens(c.Width, c.Height, c.Bend))
		if err != nil {
			t.Fatal(err)
		}
		worst := 0.0
		for i, want := range plane.Box(p.Sheet.Width, p.Sheet.Height) {
			at := v.Sheet(plane.Pt(s.Corners[i].X, s.Corners[i].Y))
			worst = max(worst, at.Sub(want).Len())
		}
		best = min(best, worst)
	}
	return best
}

// Without tags the ruled grid is found, or the paper; the proposal is near
// enough to be measured by, and is sharpened on the ruled lines.
func TestLocate(t *testing.T) {
	sc, plan, err := demo.HarbourLight()
	if err != nil {
		t.Fatal(err)
	}
	inset, err := grid.Make(grid.Request{Name: "Inset", Picture: [2]int{1750, 2250}, Reference: "175 mm", Paper: "A3", Method: "parts", Parts: "7 x 9", Margin: "20 mm", Units: "cm"})
	if err != nil {
		t.Fatal(err)
	}
	c := demo.Camera{Width: 1200, Height: 1600, Dim: 0.3, Noise: 3}
	for _, try := range []struct {
		name string
		p    grid.Plan
		hand demo.Hand
		tags uint64
		by   photo.FoundBy
		most float64 // mm
	}{
		{"grid to the paper's edge", plan, demo.Hand{}, 0, photo.ByGrid, 1.5},
		{"grid in from the edge", inset, demo.Hand{}, 0, photo.ByGrid, 1.5},
		{"half drawn", inset, demo.Hand{Rows: 3}, 0, photo.ByGrid, 1.5},
		{"somebody else's tags beside it", plan, demo.Hand{}, 9, photo.ByGrid, 1.5},
		{"erased, only the paper", inset, demo.Hand{Erased: true}, 0, photo.ByPaper, 5},
	} {
		try.hand.Size, try.hand.PencilWeight, try.hand.Unsteady = 1, 1, 0.25
		shot, err := demo.Photograph(try.p, sc, try.hand, c, try.tags, 5, 0.02, rand.New(rand.NewPCG(2, 7)))
		if err != nil {
			t.Fatal(err)
		}
		img, err := picture.Decode(shot.Photo)
		if err != nil {
			t.Fatal(err)
		}
		found := photo.Locate(photo.NewShot(img), try.p)
		if len(found) == 0 || found[0].By != try.by {
			t.Errorf("%s: found %+v; want by %s", try.name, found, try.by)
			continue
		}
		d := math.Inf(1) // of what is proposed first, or as good
		for _, f := range found {
			if f.By == found[0].By {
				q, _ := photo.Snap(photo.NewShot(img), try.p, f.Corners)
				d = min(d, off(t, try.p, q, shot, c))
			}
		}
		if d > try.most {
			t.Errorf("%s: the worst corner is %.2f mm off; want %v at most; found %+v, truth %v", try.name, d, try.most, found, shot.Corners)
		}
	}
}

// A photo of nothing like a sheet proposes nothing.
func TestLocateNothing(t *testing.T) {
	_, plan, err := demo.HarbourLight()
	if err != nil {
		t.Fatal(err)
	}
	desk := demo.NewDesk(plan.StockSize())
	c := demo.Camera{Width: 600, Height: 800, Noise: 6, Dim: 0.2, From: plane.Box(300, 400)}
	b, err := c.Shoot(desk, rand.New(rand.NewPCG(1, 1)))
	if err != nil {
		t.Fatal(err)
	}
	img, err := picture.Decode(b)
	if err != nil {
		t.Fatal(err)
	}
	s := photo.NewShot(img)
	if found := photo.Locate(s, plan); len(found) > 0 {
		t.Errorf("an empty table: %+v; want nothing", found)
	}
	if tags := photo.FindTags(s); len(tags) > 0 {
		t.Errorf("tags on an empty table: %+v", tags)
	}
}

// A bent lens is undone by bending, to a millionth of a pixel, and told by the
// ruled lines.
func TestLens(t *testing.T) {
	for _, k := range []float64{-0.08, 0, 0.05} {
		l := photo.NewLens(3000, 2000, k)
		for _, p := range []plane.Point{plane.Pt(10, 20), plane.Pt(1500, 1000), plane.Pt(2900, 1500)} {
			if q := l.Straighten(l.Bend(p)); q.Sub(p).Len() > 1e-6 {
				t.Errorf("k %v: %v comes back as %v", k, p, q)
			}
		}
	}
	sc, plan, err := demo.HarbourLight()
	if err != nil {
		t.Fatal(err)
	}
	for _, k := range []float64{0, 0.04, -0.04} {
		c := demo.Camera{Width: 1200, Height: 1600, Dim: 0.3, Noise: 3, Bend: k}
		shot, err := demo.Photograph(plan, sc, demo.Hand{Size: 1, PencilWeight: 1}, c, 0, 0, 0.02, rand.New(rand.NewPCG(2, 7)))
		if err != nil {
			t.Fatal(err)
		}
		img, err := picture.Decode(shot.Photo)
		if err != nil {
			t.Fatal(err)
		}
		if got := photo.FindBend(photo.NewShot(img), plan, shot.Corners); math.Abs(got-k) > 0.012 {
			t.Errorf("bend %v; want %v", got, k)
		}
	}
}

// Any bytes are looked through without a panic, and give corners in the photo
// or none.
func FuzzFindTags(f *testing.F) {
	f.Add([]byte("\xff\xd8\xff"), uint16(40))
	f.Fuzz(func(t *testing.T, b []byte, width uint16) {
		w := int(width)%200 + 16
		h := len(b)/w + 16
		img := image.NewRGBA(image.Rect(0, 0, w, h))
		for i, v := range b {
			img.Pix[4*(i%(w*h))] = v
			img.Pix[4*(i%(w*h))+1] = v
		}
		s := photo.NewShot(img)
		for _, tag := range photo.FindTags(s) {
			if tag.Corners.Check() != nil {
				t.Errorf("corners %v", tag.Corners)
			}
		}
		photo.Papers(s)
	})
}
