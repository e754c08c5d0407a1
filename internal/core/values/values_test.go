package values

import (
	"errors"
	"image"
	"image/color"
	"image/draw"
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"zestysketch/internal/core/picture"
	"zestysketch/internal/core/plane"
)

// blobby is a picture of soft hills, another for every seed.
func blobby(w, h int, seed uint64) *image.RGBA {
	rng := rand.New(rand.NewPCG(seed, 1))
	type hill struct{ x, y, r, v float64 }
	hills := make([]hill, 14)
	for i := range hills {
		hills[i] = hill{rng.Float64() * float64(w), rng.Float64() * float64(h), (0.05 + 0.2*rng.Float64()) * float64(w), rng.Float64()*2 - 1}
	}
	img := image.NewRGBA(image.Rect(0, 0, w, h))
	for y := range h {
		for x := range w {
			v := 0.5
			for _, k := range hills {
				dx, dy := (float64(x)-k.x)/k.r, (float64(y)-k.y)/k.r
				v += 0.5 * k.v * math.Exp(-(dx*dx+dy*dy)/2)
			}
			g := uint8(max(0, min(255, 255*v+rng.NormFloat64()*4)))
			img.SetRGBA(x, y, color.RGBA{g, g, g, 255})
		}
	}
	return img
}

// Laws of every map: the areas add up to the picture, in pixels and inside
// their rings; each ring is closed and simple; every piece of border belongs to
// two areas, once each way, or to one along the edge; no area is too small; and
// neighbours are of different steps.
func TestLawsOfAreas(t *testing.T) {
	for seed := range uint64(12) {
		wish := Wish{Steps: 2 + int(seed)%6, Rule: []Rule{EvenLight, EvenArea, Otsu}[seed%3], PerMM: 2, LeastArea: 10, Neck: []float64{0, 2.5, 6.5}[seed%3]}
		m, err := New(blobby(150, 110, seed), wish)
		if err != nil {
			t.Fatal(err)
		}
		pixels, inside := 0, 0.0
		type side struct{ a, b plane.Point }
		sides := map[side]int{}
		for i, a := range m.Areas {
			pixels += a.Pixels
			inside += a.Size()
			if len(m.Areas) > 1 && m.MM2(a) < wish.LeastArea {
				t.Errorf("seed %d: an area of %.1f mm²; want %v at least", seed, m.MM2(a), wish.LeastArea)
			}
			for k, r := range a.Rings {
				if (r.Area() > 0) != (k == 0) {
					t.Errorf("seed %d: ring %d of area %d encloses %.1f", seed, k, i, r.Area())
				}
				for n, p := range r {
					sides[side{p, r[(n+1)%len(r)]}]++
				}
				if crosses(r) {
					t.Errorf("seed %d: a ring of area %d crosses itself", seed, i)
				}
			}
		}
		if !holdSquares(m, wish.half()) {
			t.Errorf("seed %d: an area holds no square of %d pixels", seed, 2*wish.half()+1)
		}
		if pixels != m.W*m.H || math.Abs(inside-float64(m.W*m.H)) > 1e-6 {
			t.Errorf("seed %d: areas of %d pixels and %.3f inside rings; the picture has %d", seed, pixels, inside, m.W*m.H)
		}
		for s, n := range sides {
			edge := s.a.X == s.b.X && (s.a.X == 0 || s.a.X == float64(m.W)) || s.a.Y == s.b.Y && (s.a.Y == 0 || s.a.Y == float64(m.H))
			back := sides[side{s.b, s.a}]
			if n != 1 || edge && back != 0 || !edge && back != 1 {
				t.Errorf("seed %d: the border from %v to %v is passed %d times this way, %d back", seed, s.a, s.b, n, back)
				break
			}
		}
		for y := range m.H {
			for x := 1; x < m.W; x++ {
				if a, b := m.area(x-1, y), m.area(x, y); a != b && m.Areas[a].Step == m.Areas[b].Step {
					t.Fatalf("seed %d: two neighbours of step %d", seed, m.Areas[a].Step)
				}
			}
		}
	}
}

// holdSquares reports whether a square of 2r + 1 pixels fits into every area,
// cut off where the picture ends.
func holdSquares(m Map, r int) bool {
	holds := make([]bool, len(m.Areas))
	for y := range m.H {
		for x := range m.W {
			a, all := m.area(x, y), true
			for j := max(0, y-r); j <= min(m.H-1, y+r) && all; j++ {
				for i := max(0, x-r); i <= min(m.W-1, x+r) && all; i++ {
					all = m.area(i, j) == a
				}
			}
			holds[a] = holds[a] || all
		}
	}
	return !slices.Contains(holds, false)
}

// crosses reports whether two pieces of a ring that are not neighbours cross.
func crosses(r plane.Ring) bool {
	turn := func(a, b, c plane.Point) float64 { return (b.X-a.X)*(c.Y-a.Y) - (b.Y-a.Y)*(c.X-a.X) }
	for i := range r {
		a, b := r[i], r[(i+1)%len(r)]
		for j := i + 2; j < len(r); j++ {
			c, d := r[j], r[(j+1)%len(r)]
			if max(a.X, b.X) < min(c.X, d.X) || max(c.X, d.X) < min(a.X, b.X) || max(a.Y, b.Y) < min(c.Y, d.Y) || max(c.Y, d.Y) < min(a.Y, b.Y) {
				continue
			}
			if turn(a, b, c)*turn(a, b, d) < 0 && turn(c, d, a)*turn(c, d, b) < 0 {
				return true
			}
		}
	}
	return false
}

// Otsu's cuts are the best of all: every pair of cuts tried on small histograms.
func TestOtsuIsTheBest(t *testing.T) {
	rng := rand.New(rand.NewPCG(2, 2))
	for range 5 {
		var h [bins]float64
		for range 60 {
			h[rng.IntN(bins)] += float64(rng.IntN(9))
		}
		between := func(cuts []int) float64 {
			sum, from := 0.0, 0
			for _, to := range append(append([]int{}, cuts...), bins-1) {
				n, s := 0.0, 0.0
				for b := from; b <= to; b++ {
					n += h[b]
					s += h[b] * float64(b)
				}
				if n > 0 {
					sum += s * s / n
				}
				from = to + 1
			}
			return sum
		}
		got := between(otsu(h, 3))
		for a := 0; a < bins-2; a += 3 {
			for b := a + 1; b < bins-1; b += 3 {
				if v := between([]int{a, b}); v > got*(1+1e-12) {
					t.Fatalf("cuts %d and %d part better: %v over %v", a, b, v, got)
				}
			}
		}
	}
}

// The rules on a ramp: even light and even areas part it alike, into thirds.
func TestRulesOnARamp(t *testing.T) {
	var h [bins]float64
	for b := range h {
		h[b] = 1
	}
	for name, cuts := range map[string][]int{"light": evenLight(h, 3), "area": evenAreas(h, 3), "otsu": otsu(h, 3)} {
		for i, want := range []int{85, 170} {
			if d := cuts[i] - want; d < -2 || d > 2 {
				t.Errorf("%s: cuts %v; want about 85 and 170", name, cuts)
			}
		}
	}
}

// The darkest of squares is what trying every pixel of the square gives.
func TestDarkestOfSquares(t *testing.T) {
	rng := rand.New(rand.NewPCG(5, 1))
	for range 20 {
		w, h, r := 1+rng.IntN(17), 1+rng.IntN(13), 1+rng.IntN(4)
		in := make([]uint8, w*h)
		for i := range in {
			in[i] = uint8(rng.IntN(7))
		}
		got := darkest(in, w, h, r)
		for y := range h {
			for x := range w {
				want := uint8(9)
				for j := max(0, y-r); j <= min(h-1, y+r); j++ {
					for i := max(0, x-r); i <= min(w-1, x+r); i++ {
						want = min(want, in[j*w+i])
					}
				}
				if got[y*w+x] != want {
					t.Fatalf("%d × %d, r %d, at %d, %d: %d; want %d", w, h, r, x, y, got[y*w+x], want)
				}
			}
		}
	}
}

// Nothing is thinner than the square: bands between two other steps, bridges
// and specks go to what is beside them, and what is broad enough stays.
func TestBroadened(t *testing.T) {
	const w, h, r = 60, 40, 3
	steps := make([]uint8, w*h)
	for y := range h {
		for x := range w {
			s := uint8(0)
			switch {
			case x >= 25 && x < 29: // a band of 4 between 0 and 2
				s = 1
			case x >= 29:
				s = 2
			}
			if y >= 30 && x >= 40 { // a block of its own
				s = 1
			}
			if y == 34 && x > 10 && x < 40 || x == 8 && y == 8 { // a bridge to it, and a speck
				s = 1
			}
			steps[y*w+x] = s
		}
	}
	got := broadened(steps, w, h, r)
	for y := range h {
		for x := range w {
			want := uint8(0)
			switch {
			case y >= 30 && x >= 40:
				want = 1
			case x >= 27:
				want = 2
			}
			if got[y*w+x] != want {
				t.Fatalf("at %d, %d: step %d; want %d", x, y, got[y*w+x], want)
			}
		}
	}
	// Noise that no square fits into becomes one step.
	noise := make([]uint8, w*h)
	for i := range noise {
		noise[i] = uint8(i % 3 * 2 % 5)
	}
	if got := broadened(noise, w, h, r); slices.ContainsFunc(got, func(s uint8) bool { return s != got[0] }) {
		t.Error("noise without a square is not one step")
	}
}

// Areas are numbered as flooding them one by one numbers them.
func TestAreasAgainstFlooding(t *testing.T) {
	rng := rand.New(rand.NewPCG(6, 1))
	for range 50 {
		w, h := 1+rng.IntN(20), 1+rng.IntN(20)
		steps := make([]uint8, w*h)
		for i := range steps {
			steps[i] = uint8(rng.IntN(3))
		}
		at, areas := settle(steps, w, h, 0)
		want := make([]int32, w*h)
		for i := range want {
			want[i] = -1
		}
		n := int32(0)
		for start := range steps {
			if want[start] >= 0 {
				continue
			}
			todo := []int{start}
			want[start] = n
			for len(todo) > 0 {
				i := todo[len(todo)-1]
				todo = todo[:len(todo)-1]
				x, y := i%w, i/w
				for _, q := range [4][2]int{{x - 1, y}, {x + 1, y}, {x, y - 1}, {x, y + 1}} {
					if j := q[1]*w + q[0]; q[0] >= 0 && q[1] >= 0 && q[0] < w && q[1] < h && want[j] < 0 && steps[j] == steps[i] {
						want[j] = n
						todo = append(todo, j)
					}
				}
			}
			n++
		}
		if int(n) != len(areas) {
			t.Fatalf("%d areas; flooding finds %d", len(areas), n)
		}
		for i := range want {
			if at[i] != want[i] {
				t.Fatalf("pixel %d is of area %d; want %d", i, at[i], want[i])
			}
		}
	}
}

// Simplified, a picture has few areas, each a fiftieth of it or more.
func TestFigure(t *testing.T) {
	img, wish := blobby(240, 180, 5), Wish{Steps: 6, Rule: EvenLight, PerMM: 2, LeastArea: 5, Neck: 1}
	const mm2 = 240 * 180 / 4.0
	all, err1 := New(img, wish)
	bare, err2 := New(img, wish.Figure(mm2))
	if err := errors.Join(err1, err2); err != nil {
		t.Fatal(err)
	}
	if len(bare.Levels) != 3 || len(bare.Areas) >= len(all.Areas) || len(bare.Areas) < 2 {
		t.Errorf("%d areas in %d steps; all of it has %d", len(bare.Areas), len(bare.Levels), len(all.Areas))
	}
	for _, a := range bare.Areas {
		if bare.MM2(a) < mm2/50 {
			t.Errorf("an area of %.0f mm²; want %.0f at least", bare.MM2(a), mm2/50)
		}
	}
	if hand := (Wish{Steps: 5, Rule: ByHand, Cuts: []float64{20, 40, 60, 80}}).Figure(mm2); hand.Steps != 5 {
		t.Error("cuts made by hand are not kept")
	}
}

// Of a simplified picture stays what a thing is known by: small darks inside a
// light shape, as large as a pencil traces. What is smaller goes, as do darks
// inside darkness, light specks, and all of it where it is not asked for.
func TestFigureKeepsItsFeatures(t *testing.T) {
	const w, h, perMM = 360, 480, 2.0
	img := image.NewRGBA(image.Rect(0, 0, w, h))
	type spot struct {
		x, y, rx, ry float64
		grey         uint8
	}
	for y := range h {
		for x := range w {
			grey := uint8(60) // a dark wall
			for _, s := range []spot{{180, 240, 130, 170, 220},
				{130, 190, 14, 8, 50}, {230, 190, 14, 8, 90}, // two windows: 88 mm²
				{180, 330, 50, 6, 110},                        // a letter box
				{180, 260, 1.2, 1.2, 20}, {90, 240, 1, 1, 20}, // specks that no pencil traces
				{40, 60, 10, 10, 40},  // a dark on the dark wall
				{180, 120, 9, 9, 250}, // a light speck
			} {
				if d := math.Hypot((float64(x)-s.x)/s.rx, (float64(y)-s.y)/s.ry); d < 1 {
					grey = s.grey
				}
			}
			img.SetRGBA(x, y, color.RGBA{grey, grey, grey, 255})
		}
	}
	wish := Wish{Steps: 3, Rule: Otsu, PerMM: perMM}.Figure(w * h / perMM / perMM)
	at := func(m Map, x, y int) Area { return m.Areas[m.At[y*w+x]] }
	m, err := New(img, wish)
	if err != nil {
		t.Fatal(err)
	}
	light := at(m, 180, 200)
	for _, c := range []struct {
		x, y int
		kept bool
	}{{130, 190, true}, {230, 190, true}, {180, 330, true}, {180, 260, false}, {90, 240, false}, {180, 120, false}} {
		a := at(m, c.x, c.y)
		if got := a.Step < light.Step && m.MM2(a) < wish.LeastArea; got != c.kept {
			t.Errorf("at %d, %d: step %d of %.0f mm² in the light step %d; kept %v", c.x, c.y, a.Step, m.MM2(a), light.Step, c.kept)
		}
	}
	if at(m, 40, 60).Step != 0 || m.MM2(at(m, 40, 60)) < wish.LeastArea {
		t.Errorf("a dark on the dark wall is its own: %+v", at(m, 40, 60))
	}
	if a, b := m.MM2(at(m, 130, 190)), math.Pi*14*8/perMM/perMM; math.Abs(a/b-1) > 0.25 {
		t.Errorf("a window of %.0f mm² is drawn with %.0f", b, a)
	}
	wish.Darks = 0
	if bare, err := New(img, wish); err != nil || len(bare.Areas) >= len(m.Areas) {
		t.Errorf("not asked for: %d areas, %v", len(bare.Areas), err)
	}
}

// A histogram's fullest bar is 1, and each tone falls into its own.
func TestHistogram(t *testing.T) {
	img := image.NewRGBA(image.Rect(0, 0, 40, 10))
	for i := range 400 {
		l := 30.5 // L*, in bar 15
		if i%4 == 0 {
			l = 81 // in bar 40
		}
		g := picture.GreyOf(l)
		img.SetRGBA(i%40, i/40, color.RGBA{g, g, g, 255})
	}
	for b, share := range Histogram(img) {
		if want := map[int]float64{15: 1, 40: 1.0 / 3}[b]; math.Abs(share-want) > 1e-9 {
			t.Errorf("bar %d: %v; want %v", b, share, want)
		}
	}
}

// waves is a picture by formula, to be made alike elsewhere: 160 × 120, greys 0 to 255.
func waves() (grey []uint8, w, h int) {
	w, h = 160, 120
	for y := range h {
		for x := range w {
			v := (((x-70)*(x-70)+(y-55)*(y-55))/9 + 2*x) % 512
			v = min(v, 511-v)
			grey = append(grey, uint8(v*v/255))
		}
	}
	return grey, w, h
}

// Against scikit-image 0.19.3, filters.threshold_multiotsu, four classes.
func TestOtsuAgainstScikitImage(t *testing.T) {
	var h [bins]float64
	grey, _, _ := waves()
	for _, v := range grey {
		h[v]++
	}
	if got := otsu(h, 4); !slices.Equal(got, []int{47, 110, 179}) {
		t.Errorf("cuts %v; want 47, 110 and 179", got)
	}
}

// Against scikit-image 0.19.3, measure.label by sides, measure.find_contours at
// one half (marching squares) for what each area's outline encloses, and OpenCV
// 4.6.0, findContours, for its holes; areas of 150 pixels and more, by their
// first pixel.
func TestAreasAndContoursAgainstVisionLibraries(t *testing.T) {
	grey, w, h := waves()
	steps := make([]uint8, len(grey))
	for i, v := range grey {
		for _, cut := range []uint8{40, 100, 180} {
			if v >= cut {
				steps[i]++
			}
		}
	}
	m := Map{W: w, H: h, PerMM: 1}
	m.At, m.Areas = settle(steps, w, h, 0)
	m.outline()
	sum := 0
	for _, a := range m.Areas {
		sum += a.Pixels * a.Pixels
	}
	if len(m.Areas) != 34 || sum != 42973000 {
		t.Errorf("%d areas, their squares together %d; want 34 and 42973000", len(m.Areas), sum)
	}
	want := []struct {
		first, pixels int
		inside        float64
		holes         int
	}{{25, 5067, 5067, 1}, {98, 581, 580.5, 0}, {104, 500, 499.5, 0}, {110, 690, 689.5, 0}, {117, 418, 417.5, 0}, {121, 436, 435.5, 0}, {126, 1340, 1339.5, 0},
		{138, 359, 358.5, 0}, {142, 293, 292.5, 0}, {857, 1672, 1672, 1}, {1814, 1528, 1528, 1}, {2774, 2332, 2332, 1}, {4536, 1556, 1556, 1}, {6299, 821, 820.5, 0},
		{12159, 165, 164.5, 0}, {12800, 215, 214.5, 0}, {15360, 151, 150.5, 0}}
	for _, c := range want {
		a := m.Areas[m.At[c.first]]
		if a.Pixels != c.pixels || len(a.Rings)-1 != c.holes || math.Abs(a.Size()/c.inside-1) > 0.02 {
			t.Errorf("the area from pixel %d: %d pixels, %.1f inside, %d holes; want %d, %.1f, %d", c.first, a.Pixels, a.Size(), len(a.Rings)-1, c.pixels, c.inside, c.holes)
		}
	}
}

// Pictures that have little to part, and wishes that cannot be met.
func TestStrangePicturesAndWishes(t *testing.T) {
	flat := image.NewRGBA(image.Rect(0, 0, 40, 30))
	for i := range flat.Pix {
		flat.Pix[i] = 128
	}
	noise := image.NewRGBA(image.Rect(0, 0, 60, 60))
	rng := rand.New(rand.NewPCG(7, 1))
	for i := range noise.Pix {
		noise.Pix[i] = uint8(rng.IntN(256))
	}
	for name, img := range map[string]*image.RGBA{"one tone": flat, "noise": noise, "one pixel": image.NewRGBA(image.Rect(0, 0, 1, 1))} {
		for _, rule := range []Rule{EvenLight, EvenArea, Otsu} {
			m, err := New(img, Wish{Steps: 7, Rule: rule, PerMM: 1, LeastArea: 30, Neck: 2})
			if err != nil {
				t.Errorf("%s, %s: %v", name, rule, err)
				continue
			}
			sum := 0.0
			for _, a := range m.Areas {
				sum += a.Size()
			}
			if math.Abs(sum-float64(m.W*m.H)) > 1e-9 {
				t.Errorf("%s, %s: areas of %v pixels in all", name, rule, sum)
			}
		}
	}
	good := Wish{Steps: 4, Rule: Otsu, PerMM: 2}
	for name, change := range map[string]func(*Wish){
		"one step":      func(w *Wish) { w.Steps = 1 },
		"eight steps":   func(w *Wish) { w.Steps = 8 },
		"no size":       func(w *Wish) { w.PerMM = 0 },
		"no such rule":  func(w *Wish) { w.Rule = "moon" },
		"no cuts":       func(w *Wish) { w.Rule = ByHand },
		"falling cuts":  func(w *Wish) { w.Rule, w.Cuts = ByHand, []float64{50, 40, 60} },
		"negative area": func(w *Wish) { w.LeastArea = -1 },
		"not a number":  func(w *Wish) { w.Neck = math.NaN() },
	} {
		w := good
		change(&w)
		if _, err := New(flat, w); !errors.Is(err, ErrWish) {
			t.Errorf("%s: %v; want ErrWish", name, err)
		}
	}
}

// 1600 × 1200 in 4 steps, as closed areas: 150 ms at most.
func BenchmarkMap1600(b *testing.B) {
	img := blobby(1600, 1200, 3)
	for b.Loop() {
		if _, err := New(img, Wish{Steps: 4, Rule: Otsu, PerMM: 8, LeastArea: 20, Neck: 1}); err != nil {
			b.Fatal(err)
		}
	}
}

// A small area that joins its neighbour is kept where a landmark lies on it, and its twin is not.
func TestLandmarksKeepTheirAreas(t *testing.T) {
	img := image.NewRGBA(image.Rect(0, 0, 400, 400))
	draw.Draw(img, img.Rect, image.NewUniform(color.RGBA{60, 60, 60, 255}), image.Point{}, draw.Src)
	for _, at := range []image.Point{{100, 100}, {300, 300}} { // light, 5 by 5 mm
		draw.Draw(img, image.Rectangle{Min: at, Max: at.Add(image.Pt(20, 20))}, image.NewUniform(color.RGBA{220, 220, 220, 255}), image.Point{}, draw.Src)
	}
	w := Wish{Steps: 2, Rule: ByHand, Cuts: []float64{60}, PerMM: 4, LeastArea: 100}
	for pins, want := range map[int]int{0: 1, 1: 2} {
		w.Keep = []plane.Point{plane.Pt(110, 110)}[:pins]
		m, err := New(img, w)
		if err != nil || len(m.Areas) != want {
			t.Errorf("%d landmarks: %d areas, %v; want %d", pins, len(m.Areas), err, want)
		}
	}
}
