package lines

import (
	"errors"
	"image"
	"image/color"
	"math"
	"testing"

	"zestysketch/internal/core/plane"
)

// inked is white paper with a pen on it: inked wherever pen is within half its
// width of the line.
func inked(w, h int, width float64, far func(x, y float64) float64) *image.RGBA {
	img := image.NewRGBA(image.Rect(0, 0, w, h))
	for y := range h {
		for x := range w {
			d := far(float64(x)+0.5, float64(y)+0.5) - width/2
			g := uint8(255 * max(0, min(1, d+0.5)))
			img.SetRGBA(x, y, color.RGBA{g, g, g, 255})
		}
	}
	return img
}

func segment(ax, ay, bx, by float64) func(x, y float64) float64 {
	return func(x, y float64) float64 {
		t := max(0, min(1, ((x-ax)*(bx-ax)+(y-ay)*(by-ay))/((bx-ax)*(bx-ax)+(by-ay)*(by-ay))))
		return math.Hypot(x-ax-t*(bx-ax), y-ay-t*(by-ay))
	}
}

func nearest(all ...func(x, y float64) float64) func(x, y float64) float64 {
	return func(x, y float64) float64 {
		d := math.Inf(1)
		for _, f := range all {
			d = min(d, f(x, y))
		}
		return d
	}
}

func drawn(t testing.TB, img *image.RGBA, w Wish) Sketch {
	t.Helper()
	s, err := Draw(img, w)
	if err != nil {
		t.Fatal(err)
	}
	return s
}

// A pen's circle is one closed stroke along its middle, with no end.
func TestCircleIsOneClosedStroke(t *testing.T) {
	ring := func(x, y float64) float64 { return math.Abs(math.Hypot(x-150, y-140) - 90) }
	s := drawn(t, inked(300, 280, 4, ring), Wish{Detail: Usual, PerMM: 4, Drawing: true})
	if len(s.Strokes) != 1 || !s.Strokes[0].Closed || len(s.Ends) != 0 {
		t.Fatalf("%d strokes, %d ends", len(s.Strokes), len(s.Ends))
	}
	if got, want := s.Strokes[0].Length(), 2*math.Pi*90; math.Abs(got/want-1) > 0.01 {
		t.Errorf("%.1f pixels long; want %.1f", got, want)
	}
	for _, p := range s.Strokes[0].Points {
		if d := ring(p.X, p.Y); d > 0.7 {
			t.Errorf("a point %.2f pixels off the circle", d)
		}
	}
}

// Lines that go on after a gap are joined, scraps are dropped, and what meets
// another line has no loose end; what stops in the open has one.
func TestJoinedDroppedAndMissing(t *testing.T) {
	long := nearest(segment(20, 60, 130, 60), segment(138, 60, 280, 60)) // a gap of 2 mm
	down := segment(200, 60, 200, 220)                                   // begins on the long one, ends in the open
	scrap := segment(60, 180, 72, 186)                                   // 3 mm
	s := drawn(t, inked(300, 260, 3, nearest(long, down, scrap)), Wish{Detail: Usual, PerMM: 4, Drawing: true})
	if len(s.Strokes) != 2 {
		t.Fatalf("%d strokes; want 2", len(s.Strokes))
	}
	if got := s.Strokes[0].Length(); math.Abs(got-260) > 6 {
		t.Errorf("the long line has %.1f pixels; want 260 in one", got)
	}
	if len(s.Ends) != 3 {
		t.Errorf("ends %v; want both of the long line and the lower one", s.Ends)
	}
	for _, e := range s.Ends {
		if math.Hypot(e.At.X-200, e.At.Y-60) < 20 {
			t.Errorf("the line that meets another has an end at %v", e.At)
		}
	}
}

// Of areas the borders become lines, once; of a line drawing's too, where its lines are told by their middle. What is
// filled in a colour as light as the paper's neighbour has a border as well.
func TestEdgesOfTones(t *testing.T) {
	img := image.NewRGBA(image.Rect(0, 0, 320, 240))
	for y := range 240 {
		for x := range 320 {
			g := uint8(210)
			if math.Hypot(float64(x)-160, float64(y)-120) < 80 {
				g = 90
			}
			img.SetRGBA(x, y, color.RGBA{g, g, g, 255})
		}
	}
	s := drawn(t, img, Wish{Detail: Usual, PerMM: 4})
	if len(s.Strokes) != 1 || !s.Strokes[0].Closed || math.Abs(s.Strokes[0].Length()/(2*math.Pi*80)-1) > 0.02 {
		t.Fatalf("%d strokes; want the disc's edge", len(s.Strokes))
	}
	for y := range 240 { // a line of three pixels, to the disc and beyond
		for x := 10; x < 60; x++ {
			if y >= 119 && y < 122 {
				img.SetRGBA(x, y, color.RGBA{20, 20, 20, 255})
			}
		}
	}
	s = drawn(t, img, Wish{Detail: Usual, PerMM: 4, Drawing: true})
	if len(s.Strokes) != 2 || math.Abs(s.Strokes[0].Length()/(2*math.Pi*80)-1) > 0.04 || math.Abs(s.Strokes[1].Length()-50) > 6 {
		t.Errorf("as a drawing it has %d strokes; want the disc's border and the line's middle", len(s.Strokes))
	}
	heart := image.NewRGBA(image.Rect(0, 0, 320, 240))
	for y := range 240 {
		for x := range 320 {
			c := color.RGBA{255, 255, 255, 255}
			if math.Hypot(float64(x)-160, float64(y)-120) < 60 {
				c = color.RGBA{240, 200, 80, 255}
			}
			heart.SetRGBA(x, y, c)
		}
	}
	if s := drawn(t, heart, Wish{Detail: Rich, PerMM: 4, Drawing: true}); len(s.Strokes) != 1 || math.Abs(s.Strokes[0].Length()/(2*math.Pi*60)-1) > 0.04 {
		t.Errorf("a yellow disc in a drawing has %d strokes; want its border", len(s.Strokes))
	}
}

// More detail never has fewer lines; every stroke is long enough.
func TestDetail(t *testing.T) {
	circles := func(x, y float64) float64 {
		d := math.Inf(1)
		for i, r := range []float64{8, 16, 30, 60, 100} {
			d = min(d, math.Abs(math.Hypot(x-60-80*float64(i), y-140)-r))
		}
		return d
	}
	img, last := inked(560, 280, 3, circles), 0
	for _, d := range []Detail{Bare, Usual, Rich} {
		s := drawn(t, img, Wish{Detail: d, PerMM: 4, Drawing: true})
		if len(s.Strokes) < last {
			t.Errorf("detail %d: %d strokes, fewer than %d", d, len(s.Strokes), last)
		}
		last = len(s.Strokes)
		for _, st := range s.Strokes {
			if st.Length() < 0.5*details[d].shortest*4 {
				t.Errorf("detail %d keeps a scrap of %.1f pixels", d, st.Length())
			}
		}
	}
	if last == 0 {
		t.Error("no lines at all")
	}
}

// Pictures with nothing to trace, and wishes that cannot be.
func TestNothingToTrace(t *testing.T) {
	for name, img := range map[string]*image.RGBA{"one pixel": inked(1, 1, 1, segment(0, 0, 1, 0)),
		"flat":     inked(60, 40, 0, func(x, y float64) float64 { return 9 }),
		"a thread": inked(400, 1, 1, segment(0, 0, 1, 0))} {
		if s := drawn(t, img, Wish{Detail: Usual, PerMM: 4}); len(s.Strokes) != 0 {
			t.Errorf("%s: %d strokes", name, len(s.Strokes))
		}
	}
	for _, w := range []Wish{{Detail: 0, PerMM: 4}, {Detail: 9, PerMM: 4}, {Detail: Usual}, {Detail: Usual, PerMM: math.Inf(1)}} {
		if _, err := Draw(inked(9, 9, 1, segment(0, 0, 1, 0)), w); !errors.Is(err, ErrWish) {
			t.Errorf("%+v: %v; want ErrWish", w, err)
		}
	}
}

func BenchmarkDraw1600(b *testing.B) {
	waves := func(x, y float64) float64 {
		return 12 * math.Abs(math.Sin(x/50)+math.Sin(y/40)+math.Sin((x+y)/70)-0.3)
	}
	img := inked(1600, 1200, 6, waves)
	for b.Loop() {
		if _, err := Draw(img, Wish{Detail: Usual, PerMM: 6}); err != nil {
			b.Fatal(err)
		}
	}
}

// A wavy line across the picture comes back as one stroke along itself, as long
// as it is, wherever it lies and however it is turned.
func TestWavesComeBack(t *testing.T) {
	for turn := range 6 {
		sin, cos := math.Sincos(float64(turn) * math.Pi / 7)
		wave := func(x, y float64) float64 { // distance, near enough for a gentle wave
			u, v := (x-160)*cos+(y-160)*sin, -(x-160)*sin+(y-160)*cos
			if u < -110 || u > 110 {
				return 99
			}
			return math.Abs(v-14*math.Sin(u/22)) / math.Hypot(1, 14.0/22*math.Cos(u/22))
		}
		s := drawn(t, inked(320, 320, 3, wave), Wish{Detail: Usual, PerMM: 4, Drawing: true})
		if len(s.Strokes) != 1 {
			t.Errorf("turn %d: %d strokes", turn, len(s.Strokes))
			continue
		}
		long := 0.0
		for u := -110.0; u < 110; u++ {
			long += math.Hypot(1, 14.0/22*math.Cos((u+0.5)/22))
		}
		if got := s.Strokes[0].Length(); math.Abs(got/long-1) > 0.03 {
			t.Errorf("turn %d: %.1f pixels long; want %.1f", turn, got, long)
		}
		for _, p := range s.Strokes[0].Points[1 : len(s.Strokes[0].Points)-1] {
			if d := wave(p.X, p.Y); d > 1.2 {
				t.Errorf("turn %d: a point %.2f pixels off the wave", turn, d)
			}
		}
		if len(s.Ends) != 2 {
			t.Errorf("turn %d: %d ends; want both", turn, len(s.Ends))
		}
	}
}

// Thinning keeps every point within its tolerance, and ends where they are.
func TestSimplerStaysNear(t *testing.T) {
	var points []plane.Point
	for i := range 200 {
		points = append(points, plane.Pt(float64(i), 20*math.Sin(float64(i)/15)))
	}
	few := Simplified(points, 0.5, false)
	if len(few) > 40 || few[0] != points[0] || few[len(few)-1] != points[199] {
		t.Fatalf("%d points from %v to %v", len(few), few[0], few[len(few)-1])
	}
	for _, p := range points {
		best := math.Inf(1)
		for i := 1; i < len(few); i++ {
			best = min(best, p.FromSegment(few[i-1], few[i]))
		}
		if best > 0.5 {
			t.Errorf("%v lies %.2f from what is left", p, best)
		}
	}
	ring := Simplified([]plane.Point{plane.Pt(0, 0), plane.Pt(5, 0.1), plane.Pt(10, 0), plane.Pt(10, 10), plane.Pt(0, 10), plane.Pt(0, 5)}, 0.5, true)
	if len(ring) != 4 {
		t.Errorf("a square's ring keeps %v", ring)
	}
}
