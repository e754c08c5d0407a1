package lines

import (
	"image"
	"image/color"
	"math"
	"math/rand/v2"
	"slices"
	"testing"
)

// Against scipy 1.10.1, ndimage.distance_transform_edt, squared, of the same pattern.
func TestDistancesAgainstScipy(t *testing.T) {
	const w, h = 23, 19
	d := Distances(w, h, func(x, y int) bool { return (x*7+y*13)%17 == 0 && x%3 == 1 })
	sum := 0.0
	for _, v := range d {
		sum += v
	}
	row := []float64{10, 9, 8, 5, 4, 5, 2, 1, 2, 1, 0, 1, 2, 1, 2, 5, 4, 5, 8}
	if sum != 14159 || !slices.Equal(d[9*w:9*w+len(row)], row) {
		t.Errorf("sum %v, row %v; want 14159 and %v", sum, d[9*w:10*w], row)
	}
	if d := Distances(3, 2, func(int, int) bool { return false }); d[0] != Far {
		t.Errorf("nothing there: %v; want Far", d)
	}
}

// The envelope is what trying every parabola gives.
func TestEnvelopeIsTheLowest(t *testing.T) {
	rng := rand.New(rand.NewPCG(1, 2))
	for range 200 {
		f := make([]float64, 1+rng.IntN(30))
		for i := range f {
			f[i] = rng.Float64() * 20
		}
		k := 0.05 + rng.Float64()*3
		got := slices.Clone(f)
		Envelope(got, k, nil)
		for p := range f {
			want := math.Inf(1)
			for q, v := range f {
				want = min(want, v+k*float64((p-q)*(p-q)))
			}
			if math.Abs(got[p]-want) > 1e-9 {
				t.Fatalf("k %v of %v at %d: %v; want %v", k, f, p, got[p], want)
			}
		}
	}
}

// Against scikit-image 0.19.3, filters.threshold_otsu, on 8-bit values; on
// values in two clumps every threshold between them is as good.
func TestOtsuAgainstScikitImage(t *testing.T) {
	var values []float32
	for i := range 400 {
		v := (i * i * 37) % 256
		if i%3 == 0 {
			v = (i * 11) % 60
		}
		values = append(values, float32(v)/255)
	}
	if got := math.Round(Otsu(values) * 255); got != 109 {
		t.Errorf("threshold %v; want 109", got)
	}
	clumps := slices.Concat(slices.Repeat([]float32{40. / 255}, 50), slices.Repeat([]float32{45. / 255}, 30), slices.Repeat([]float32{200. / 255}, 20), slices.Repeat([]float32{210. / 255}, 40))
	if got := math.Round(Otsu(clumps) * 255); got != 45 {
		t.Errorf("clumps: threshold %v; want 45", got)
	}
	if got := Otsu([]float32{0.5, 0.5}); math.Abs(got-0.5) > 0.003 {
		t.Errorf("one tone: %v; want its own step", got)
	}
}

// Against scipy 1.10.1, ndimage.gaussian_filter(sigma=1, mode="nearest", truncate=3).
func TestBlurAgainstScipy(t *testing.T) {
	p := NewPlane(11, 9)
	p.Row(4)[5], p.Row(0)[0] = 1, 2
	g := p.Blur(1)
	for _, c := range []struct {
		x, y int
		want float64
	}{{5, 4, 0.15924112569070245}, {0, 0, 0.9786708424978061}, {3, 2, 0.00343472548562904}} {
		if got := float64(g.At(c.x, c.y)); math.Abs(got-c.want) > 1e-6 {
			t.Errorf("at %d, %d: %v; want %v", c.x, c.y, got, c.want)
		}
	}
}

// painted returns white with a dark line, thick pixels broad, whose middle is at
// X·cos + Y·sin = rho, softly edged as a camera sees it.
func painted(size int, angle, rho, thick, depth float64) Plane {
	p := NewPlane(size, size)
	sin, cos := math.Sincos(angle)
	for y := range size {
		for x := range size {
			sum := 0.0
			for i := range 16 {
				d := (float64(x)+(float64(i%4)+0.5)/4)*cos + (float64(y)+(float64(i/4)+0.5)/4)*sin - rho
				if math.Abs(d) < thick/2 {
					sum++
				}
			}
			p.Row(y)[x] = float32(1 - depth*sum/16)
		}
	}
	return p
}

// A line's marks lie on its middle, to a fifth of a pixel, whatever its
// direction and breadth; an edge's on the edge.
func TestMarksLieOnTheLine(t *testing.T) {
	for _, c := range []struct{ angle, thick float64 }{{0, 1.5}, {0.4, 2}, {1.2, 1}, {math.Pi / 2, 3}, {2.3, 1.5}} {
		sin, cos := math.Sincos(c.angle)
		rho := 32.3*cos + 31.6*sin
		marks := Find(painted(64, c.angle, rho, c.thick, 0.5), Search{Sigma: 1.3, Least: 0.05, Shortest: 10, Edges: true})
		if len(marks) < 40 {
			t.Errorf("%+v: %d marks; want the line's length", c, len(marks))
		}
		for _, m := range marks {
			if min(m.X, m.Y, 64-m.X, 64-m.Y) < 6 {
				continue // the line ends at the picture's edge
			}
			if d := float64(m.X)*cos + float64(m.Y)*sin - rho; math.Abs(d) > 0.2 || !m.Ridge {
				t.Errorf("%+v: a mark %.2f pixels off the middle, ridge %v", c, d, m.Ridge)
				break
			}
			if a := math.Abs(float64(m.NX)*cos + float64(m.NY)*sin); a < 0.99 {
				t.Errorf("%+v: across %v, %v; want along %v, %v", c, m.NX, m.NY, cos, sin)
				break
			}
		}
	}
	edge := Find(painted(64, 0, 64, 64, 0.6), Search{Sigma: 1.3, Least: 0.05, Shortest: 10, Edges: true}) // dark from 32 on
	for _, m := range edge {
		if math.Abs(float64(m.X)-32) > 0.15 || m.Ridge {
			t.Errorf("an edge's mark at %v, ridge %v; want 32", m.X, m.Ridge)
		}
	}
	if len(edge) < 50 {
		t.Errorf("%d marks on an edge", len(edge))
	}
}

// Paper's grain alone has no lines, and a scrap shorter than asked is dropped.
func TestGrainIsNoLine(t *testing.T) {
	rng := rand.New(rand.NewPCG(9, 9))
	p := NewPlane(200, 200)
	for i := range p.Pix {
		p.Pix[i] = float32(0.97 + 0.02*rng.NormFloat64())
	}
	search := Search{Sigma: 1.3, Wide: 4, Least: 0.03, Shortest: 6, Edges: true}
	if got := len(Find(p, search)); got > 40 {
		t.Errorf("%d marks in grain", got)
	}
	wild := search
	wild.Sigma, wild.Wide, wild.Shortest, wild.Grain = 1.9, 0, 10, 2 // as in a photograph
	if got := len(Find(p, wild)); got > 40 {
		t.Errorf("%d marks in a photograph's noise", got)
	}
	for x := 90; x < 94; x++ {
		p.Row(100)[x] = 0.2
	}
	search.Shortest = 30
	if got := len(Find(p, search)); got > 0 {
		t.Errorf("%d marks of a scrap of 4 pixels; want none", got)
	}
}

func TestIndexFindsWhatIsNear(t *testing.T) {
	rng := rand.New(rand.NewPCG(4, 4))
	marks := make([]Mark, 500)
	for i := range marks {
		marks[i] = Mark{X: rng.Float32() * 100, Y: rng.Float32() * 60}
	}
	index := NewIndex(marks, 100, 60, 7)
	for range 100 {
		x, y, r := rng.Float32()*110-5, rng.Float32()*70-5, rng.Float32()*15
		want, got := 0, 0
		for _, m := range marks {
			if absf(m.X-x) <= r && absf(m.Y-y) <= r {
				want++
			}
		}
		index.Around(x, y, r, func(Mark) bool { got++; return true })
		if got != want {
			t.Fatalf("%d marks near %v, %v; want %d", got, x, y, want)
		}
	}
}

// Everything of a page of A3 that a drawing's lines cost.
func BenchmarkFind(b *testing.B) {
	p := painted(1024, 0.7, 700, 2, 0.5)
	for b.Loop() {
		Find(p, Search{Sigma: 1.3, Wide: 4, Least: 0.03, Shortest: 6, Edges: true})
	}
}

// The edge between two colours as light as one another is found, to a third of a pixel, and
// once where they differ in light too; a grey picture is as without its colours.
func TestEdgesOfColour(t *testing.T) {
	const side, r = 120, 35
	disc := func(in, out color.RGBA) *image.RGBA {
		img := image.NewRGBA(image.Rect(0, 0, side, side))
		for y := range side {
			for x := range side {
				share := max(0, min(1, r+0.5-math.Hypot(float64(x)+0.5-side/2, float64(y)+0.5-side/2)))
				mix := func(a, b uint8) uint8 { return uint8(math.Round(share*float64(a) + (1-share)*float64(b))) }
				img.SetRGBA(x, y, color.RGBA{mix(in.R, out.R), mix(in.G, out.G), mix(in.B, out.B), 255})
			}
		}
		return img
	}
	s := Search{Sigma: 1.3, Least: 0.06, Shortest: 10, Edges: true}
	green, red := color.RGBA{20, 95, 20, 255}, color.RGBA{200, 40, 40, 255} // luma 73.6 and 74.0
	for name, in := range map[string]color.RGBA{"as light": red, "lighter": {255, 190, 190, 255}} {
		marks := FindInColour(disc(in, green), s)
		if round := 2 * math.Pi * r; math.Abs(float64(len(marks))-round) > 0.15*round {
			t.Errorf("%s: %d marks round %.0f pixels", name, len(marks), round)
		}
		for _, m := range marks {
			if off := math.Abs(math.Hypot(float64(m.X)-side/2, float64(m.Y)-side/2) - r); off > 1./3 {
				t.Fatalf("%s: a mark %.2f pixels off", name, off)
			}
		}
	}
	if n := len(Find(Grey(disc(red, green)), s)); n > 0 {
		t.Errorf("in grey %d marks: the colours are not as light as one another", n)
	}
	plain := disc(color.RGBA{90, 90, 90, 255}, color.RGBA{220, 220, 220, 255})
	if !slices.Equal(FindInColour(plain, s), Find(Grey(plain), s)) {
		t.Error("a grey picture has other marks in colour")
	}
}
