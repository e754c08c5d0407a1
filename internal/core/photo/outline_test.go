package photo

import (
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"zestysketch/internal/core/picture"
	"zestysketch/internal/core/plane"
)

// Against OpenCV 4.6.0, cv2.convexHull(clockwise=True), of the same points.
func TestHullAgainstOpenCV(t *testing.T) {
	points := []plane.Point{plane.Pt(3, 1), plane.Pt(10, 2), plane.Pt(12, 9), plane.Pt(7, 14), plane.Pt(1, 8), plane.Pt(6, 6), plane.Pt(9, 7), plane.Pt(3, 1)}
	want := []plane.Point{plane.Pt(3, 1), plane.Pt(10, 2), plane.Pt(12, 9), plane.Pt(7, 14), plane.Pt(1, 8)}
	got := hull(points)
	first := slices.Index(got, want[0])
	if first < 0 || len(got) != len(want) {
		t.Fatalf("hull %v; want %v", got, want)
	}
	for i := range want {
		if got[(first+i)%len(got)] != want[i] {
			t.Errorf("hull %v; want %v, clockwise as seen", got, want)
			break
		}
	}
}

// The four-cornered shape round points of a four-cornered shape is that shape,
// and it holds every point.
func TestQuadAround(t *testing.T) {
	rng := rand.New(rand.NewPCG(2, 5))
	corners := plane.Quad{plane.Pt(10, 12), plane.Pt(210, 30), plane.Pt(190, 260), plane.Pt(25, 240)}
	var points []plane.Point
	to, err := picture.NewHomography(plane.Box(1, 1), corners)
	if err != nil {
		t.Fatal(err)
	}
	for range 4000 {
		points = append(points, to.Apply(plane.Pt(rng.Float64(), rng.Float64())))
	}
	for i := range 41 { // along the sides
		s := float64(i) / 40
		for _, p := range []plane.Point{{X: s}, plane.Pt(s, 1), {Y: s}, plane.Pt(1, s)} {
			points = append(points, to.Apply(p))
		}
	}
	q, area := quadAround(hull(points))
	if math.Abs(area-corners.Area()) > 0.01*area {
		t.Errorf("area %.0f; want %.0f", area, corners.Area())
	}
	for _, want := range corners {
		if !slices.ContainsFunc(q[:], func(p plane.Point) bool { return p.Sub(want).Len() < 2 }) {
			t.Errorf("corners %v; want %v among them", q, want)
		}
	}
	if _, area := quadAround([]plane.Point{plane.Pt(1, 1), plane.Pt(2, 2), plane.Pt(3, 1)}); area != 0 {
		t.Error("a triangle has four corners")
	}
}

// A quad turned four times is itself, and the one from the top left starts there.
func TestTurned(t *testing.T) {
	q := plane.Quad{plane.Pt(5, 90), plane.Pt(3, 4), plane.Pt(70, 2), plane.Pt(80, 95)}
	if got := Turned(Turned(Turned(Turned(q, 1), 1), 1), 1); got != q {
		t.Errorf("four quarters make %v", got)
	}
	if got := fromTopLeft(q); got[0] != q[1] || got[1] != q[2] {
		t.Errorf("from the top left: %v", got)
	}
}

// The least of a valley is found to a ten-thousandth.
func TestGoldenSection(t *testing.T) {
	for _, want := range []float64{-0.07, 0, 0.031} {
		if got := goldenSection(func(v float64) float64 { return math.Abs(v - want) }, -0.1, 0.1); math.Abs(got-want) > 1e-4 {
			t.Errorf("got %v; want %v", got, want)
		}
	}
}

// Of places on a line and others at random, those on the line are chosen.
func TestStraightest(t *testing.T) {
	rng := rand.New(rand.NewPCG(3, 3))
	var all []linePoint
	for i := range 20 {
		along := float64(16 * i)
		all = append(all, linePoint{along, 2 + 0.01*along + rng.NormFloat64()*0.2, 0.1}, linePoint{along, rng.Float64()*28 - 14, 0.3})
	}
	on := straightest(all)
	if len(on) < 19 {
		t.Fatalf("%d places on the line; want 20", len(on))
	}
	a, b, c := parabola(on)
	if math.Abs(a-2) > 0.4 || math.Abs(b-0.01) > 0.003 || math.Abs(c) > 1e-4 {
		t.Errorf("the line is %.2f + %.4f·t + %.6f·t²; want 2 + 0.01·t", a, b, c)
	}
}
