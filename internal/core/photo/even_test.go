package photo_test

import (
	"image"
	"image/color"
	"math"
	"math/rand/v2"
	"strings"
	"testing"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/photo"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/core/plane"
)

// paintedSheet is a sheet in a frame, lit by light(u, v) of 1 at most, on which
// tone(x, y) says how light each pixel is drawn.
func paintedSheet(f photo.Frame, light func(u, v float64) float64, tone func(x, y int) float64) *image.RGBA {
	img := image.NewRGBA(image.Rect(0, 0, f.W, f.H))
	rng := rand.New(rand.NewPCG(6, 6))
	for y := range f.H {
		for x := range f.W {
			v := 250*light(float64(x)/float64(f.W), float64(y)/float64(f.H))*tone(x, y) + rng.NormFloat64()*2
			bound := func(v float64) uint8 { return uint8(max(0, min(255, v))) }
			img.SetRGBA(x, y, color.RGBA{bound(v), bound(v), bound(0.95 * v), 255})
		}
	}
	return img
}

func frameOfA4(t testing.TB) (grid.Plan, photo.Frame) {
	t.Helper()
	p, err := grid.Make(grid.Request{Reference: "105x148.5mm", Paper: "A4", Method: "parts", Parts: "4 x 6", Units: "cm"})
	if err != nil {
		t.Fatal(err)
	}
	return p, photo.FrameFor(p, 64)
}

// However the light falls, paper comes out as paper, a line as a line, and a
// toned patch as dark as it is.
func TestEvenTakesTheLightOut(t *testing.T) {
	_, f := frameOfA4(t)
	tone := func(x, y int) float64 {
		switch {
		case x > 60 && x < 120 && y > 60 && y < 120:
			return 0.5
		case y == 200 || y == 201:
			return 0.4
		}
		return 1
	}
	for name, light := range map[string]func(u, v float64) float64{
		"even":            func(u, v float64) float64 { return 1 },
		"falls off":       func(u, v float64) float64 { return 1 - 0.5*(u+v)/2 },
		"a bright middle": func(u, v float64) float64 { return 1 - 0.4*((u-0.5)*(u-0.5)+(v-0.5)*(v-0.5)) },
	} {
		e := photo.Even(paintedSheet(f, light, tone), f)
		if e.Dark {
			t.Errorf("%s: white paper is taken for dark", name)
		}
		for _, at := range [][2]int{{30, 30}, {200, 350}, {f.W - 20, f.H - 20}} {
			if v := e.Ink.At(at[0], at[1]); math.Abs(float64(v)-1) > 0.16 {
				t.Errorf("%s: paper's ink at %v is %.2f; want about 1", name, at, v)
			}
			if v := e.Tone.At(at[0], at[1]); math.Abs(float64(v)-1) > 0.05 {
				t.Errorf("%s: paper's tone at %v is %.2f; want 1", name, at, v)
			}
		}
		if v := e.Ink.At(150, 200); math.Abs(float64(v)-0.4) > 0.08 {
			t.Errorf("%s: the line's ink is %.2f; want 0.4", name, v)
		}
		want := picture.Lightness(picture.Luminance(125, 125, 119)) / picture.Lightness(picture.Luminance(250, 250, 238))
		if v := float64(e.Tone.At(90, 90)); math.Abs(v-want) > 0.05 {
			t.Errorf("%s: the patch's tone is %.2f; want %.2f", name, v, want)
		}
	}
}

// White lines on black paper become dark lines on light.
func TestEvenTurnsDarkPaper(t *testing.T) {
	_, f := frameOfA4(t)
	e := photo.Even(paintedSheet(f, func(u, v float64) float64 { return 1 - 0.3*u }, func(x, y int) float64 {
		if x == 100 || x == 101 {
			return 0.85
		}
		return 0.14
	}), f)
	if !e.Dark {
		t.Fatal("black paper is taken for white")
	}
	if paper, line := e.Ink.At(150, 150), e.Ink.At(100, 150); paper < 0.9 || line > 0.5 {
		t.Errorf("paper %.2f, line %.2f; want light paper and a dark line", paper, line)
	}
}

// The frame's pixels and the sheet's millimetres lead to each other, and a
// view's photo and sheet too, bent lens or not.
func TestFramesAndViewsLeadBack(t *testing.T) {
	p, f := frameOfA4(t)
	for _, mm := range []plane.Point{plane.Pt(0, 0), plane.Pt(50, 120), plane.Pt(210, 297)} {
		if q := f.Sheet(f.Pixel(mm)); q.Sub(mm).Len() > 1e-9 {
			t.Errorf("%v comes back as %v", mm, q)
		}
	}
	corners := plane.Quad{plane.Pt(300, 210), plane.Pt(1100, 260), plane.Pt(1080, 1420), plane.Pt(240, 1390)}
	for _, k := range []float64{0, 0.06, -0.05} {
		v, err := photo.NewView(p, corners, photo.NewLens(1400, 1700, k))
		if err != nil {
			t.Fatal(err)
		}
		for i, mm := range plane.Box(p.Sheet.Width, p.Sheet.Height) {
			if px := v.Photo(plane.Point(mm)); px.Sub(corners[i]).Len() > 1e-6 {
				t.Errorf("k %v: corner %d is seen at %v; want %v", k, i, px, corners[i])
			}
		}
		mm := plane.Pt(77, 133)
		if q := v.Sheet(v.Photo(mm)); q.Sub(mm).Len() > 1e-6 {
			t.Errorf("k %v: %v comes back as %v", k, mm, q)
		}
	}
	if _, err := photo.NewView(p, plane.Quad{}, photo.NewLens(10, 10, 0)); err == nil {
		t.Error("corners in one place give a view")
	}
}

// A frame never takes more room than its bound, however many boxes there are.
func TestFrameIsBounded(t *testing.T) {
	for _, parts := range []string{"2 x 2", "8 x 12", "24 x 36"} {
		p, err := grid.Make(grid.Request{Reference: "100x150mm", Paper: "A1", Method: "parts", Parts: parts, Units: "cm"})
		if err != nil {
			t.Fatal(err)
		}
		f := photo.FrameFor(p, 500)
		if f.W*f.H > 3<<20 || f.Cell > 64 || f.Cell < 24 {
			t.Errorf("%s: %d × %d pixels at %.0f a box", parts, f.W, f.H, f.Cell)
		}
	}
}

// What a photo's faults are called, and that a good one has none.
func TestQualityWords(t *testing.T) {
	p, f := frameOfA4(t)
	lined := func(x, y int) float64 {
		if x%32 < 2 || y%48 < 2 {
			return 0.3
		}
		return 1
	}
	dim := func(u, v float64) float64 { return 0.9 }
	good := paintedSheet(f, dim, lined)
	square := plane.Quad{plane.Pt(200, 200), plane.Pt(1250, 200), plane.Pt(1250, 1685), plane.Pt(200, 1685)}
	shot := photo.NewShot(image.NewRGBA(image.Rect(0, 0, 1450, 1900)))
	judge := func(straight *image.RGBA, q plane.Quad) photo.Quality {
		return photo.Judge(p, shot, q, straight, photo.Even(straight, f), f)
	}
	if q := judge(good, square); len(q.Problems) > 0 || !q.Usable {
		t.Errorf("a good photo: %+v", q)
	}
	for _, c := range []struct {
		name     string
		straight *image.RGBA
		corners  plane.Quad
		usable   bool
	}{
		{"from nearer", good, plane.Quad{plane.Pt(700, 700), plane.Pt(790, 700), plane.Pt(790, 827), plane.Pt(700, 827)}, true},
		{"outside the photo", good, plane.Quad{plane.Pt(-200, 200), plane.Pt(1250, 200), plane.Pt(1250, 1685), plane.Pt(200, 1685)}, false},
		{"looks from the side", good, plane.Quad{plane.Pt(500, 200), plane.Pt(950, 200), plane.Pt(1300, 1600), plane.Pt(150, 1600)}, true},
		{"light falls off", paintedSheet(f, func(u, v float64) float64 { return 0.95 - 0.7*u }, lined), square, true},
		{"Light shines back", paintedSheet(f, func(u, v float64) float64 {
			if u > 0.4 && u < 0.8 && v > 0.3 && v < 0.7 {
				return 9
			}
			return 0.8
		}, lined), square, true},
	} {
		q := judge(c.straight, c.corners)
		found := false
		for _, words := range q.Problems {
			found = found || strings.Contains(words, c.name)
		}
		if !found || q.Usable != c.usable {
			t.Errorf("%s: problems %q, usable %v; want it named and usable %v", c.name, q.Problems, q.Usable, c.usable)
		}
	}
}
