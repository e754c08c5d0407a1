package tiles

import (
	"image"
	"image/color"
	"math"
	"math/rand/v2"
	"testing"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/plane"
)

func shuffled(t testing.TB, p grid.Plan, seed uint64, flips bool) Map {
	t.Helper()
	m, err := Shuffle(p, seed, flips)
	if err != nil {
		t.Fatal(err)
	}
	return m
}

// gradient is a picture in which every pixel tells its own place.
func gradient(w, h int) *image.RGBA {
	img := image.NewRGBA(image.Rect(0, 0, w, h))
	for y := range h {
		for x := range w {
			img.SetRGBA(x, y, color.RGBA{uint8(255 * x / w), uint8(255 * y / h), 90, 255})
		}
	}
	return img
}

// rearranged cuts a picture into square tiles and lays them by the words of a
// map alone, pixel by pixel: flip left to right, then quarter turns to the right.
func rearranged(p grid.Plan, m Map, img *image.RGBA, side int) *image.RGBA {
	out := image.NewRGBA(img.Rect)
	for _, place := range m.Places {
		to, _ := p.Find(place.Label)
		from, _ := p.Find(place.Tile)
		tile := make([]color.RGBA, side*side)
		for y := range side {
			for x := range side {
				tile[y*side+x] = img.RGBAAt(from.Column*side+x, from.Row*side+y)
			}
		}
		change := func(at func(x, y int) (int, int)) {
			next := make([]color.RGBA, side*side)
			for y := range side {
				for x := range side {
					fx, fy := at(x, y)
					next[y*side+x] = tile[fy*side+fx]
				}
			}
			tile = next
		}
		if place.Flip {
			change(func(x, y int) (int, int) { return side - 1 - x, y })
		}
		for range place.Turn / 90 {
			change(func(x, y int) (int, int) { return y, side - 1 - x })
		}
		for y := range side {
			for x := range side {
				out.SetRGBA(to.Column*side+x, to.Row*side+y, tile[y*side+x])
			}
		}
	}
	return out
}

// A picture cut up by a map's words is put back together as it was.
func TestRestoredAsItWas(t *testing.T) {
	p := parts(t, "5 x 4")
	// Boxes of the plan are oblong; on square tiles all turns are tried.
	square := plan(t, grid.Request{Reference: "100x80mm", Paper: "500x500mm", ReferenceSquare: "20mm", SheetSquare: "40mm", Units: "cm"})
	for seed := range uint64(12) {
		m := shuffled(t, square, seed, true)
		const side = 24
		img := gradient(5*side, 4*side)
		cut := rearranged(square, m, img, side)
		back, laid := m.Restore(cut, square), m.Arrange(img, square)
		worst := 0
		for y := range img.Rect.Dy() {
			for x := range img.Rect.Dx() {
				if x%side < 2 || y%side < 2 || x%side > side-3 || y%side > side-3 {
					continue // samples beyond a tile's edge see its neighbour
				}
				a, b := img.RGBAAt(x, y), back.RGBAAt(x, y)
				worst = max(worst, int(math.Abs(float64(a.R)-float64(b.R))), int(math.Abs(float64(a.G)-float64(b.G))))
				a, b = cut.RGBAAt(x, y), laid.RGBAAt(x, y)
				worst = max(worst, int(math.Abs(float64(a.R)-float64(b.R))), int(math.Abs(float64(a.G)-float64(b.G))))
			}
		}
		if worst > 3 {
			t.Fatalf("seed %d: a pixel is %d away from where it was", seed, worst)
		}
	}
	if m := shuffled(t, p, 1, false); m.Restore(gradient(3, 2), p).Rect.Dx() != 3 {
		t.Error("a tiny photo changes its size")
	}
}

// straightRuns are random lines across the picture, mm.
func straightRuns(p grid.Plan, rng *rand.Rand, n int) (runs [][]plane.Point) {
	for range n {
		at := func() plane.Point {
			return plane.Pt(rng.Float64()*p.Reference.Width, rng.Float64()*p.Reference.Height)
		}
		runs = append(runs, []plane.Point{at(), at(), at()})
	}
	return runs
}

func length(runs [][]plane.Point) (sum float64) {
	for _, r := range runs {
		for i := 1; i < len(r); i++ {
			sum += apart(r[i-1], r[i])
		}
	}
	return sum
}

// Laws of rearranged lines: none is lost or made longer, each piece lies in one
// place; and after the proposals no line end hangs at an edge alone.
func TestLooseEndsAreClosed(t *testing.T) {
	rng := rand.New(rand.NewPCG(4, 4))
	for seed := range uint64(60) {
		p := parts(t, []string{"4 x 4", "6 x 5", "3 x 7"}[seed%3])
		m := shuffled(t, p, seed, true)
		runs := straightRuns(p, rng, 6)
		lines := m.Lines(p, runs)
		if got, want := length(lines), length(runs); math.Abs(got-want) > 1e-6 {
			t.Fatalf("seed %d: %.4f mm of lines; want %.4f", seed, got, want)
		}
		b := BordersOf(p, lines)
		hanging := map[plane.Point]int{}
		for _, l := range b.Loose {
			if !l.Closes || len(l.Along) < 2 || l.Along[0] != l.At || l.Place == "" {
				t.Fatalf("seed %d: %+v is not closed", seed, l)
			}
			for i := 1; i < len(l.Along); i++ {
				q, r := l.Along[i-1], l.Along[i]
				if q.X != r.X && q.Y != r.Y {
					t.Fatalf("seed %d: the proposal leaves the edges from %v to %v", seed, q, r)
				}
			}
			hanging[l.Along[0]]++
			hanging[l.Along[len(l.Along)-1]]++
		}
		if b.Meet%2 != 0 || len(b.Loose) == 0 {
			t.Errorf("seed %d: %d ends meet, %d are loose", seed, b.Meet, len(b.Loose))
		}
		for _, run := range lines {
			for k, at := range [2]plane.Point{run[0], run[len(run)-1]} {
				if inner(p, at) && hanging[at] == 0 && !company(lines, run, k, at) && hanging[snapped(p, at)] == 0 {
					t.Fatalf("seed %d: the end at %v hangs", seed, at)
				}
			}
		}
	}
}

// inner reports whether a point lies on an edge between tiles.
func inner(p grid.Plan, at plane.Point) bool {
	_, onX := near(p.Marks.ReferenceX[1:p.Grid.Columns], at.X)
	_, onY := near(p.Marks.ReferenceY[1:p.Grid.Rows], at.Y)
	frame := at.X < onEdge || at.Y < onEdge || at.X > p.Reference.Width-onEdge || at.Y > p.Reference.Height-onEdge
	return (onX || onY) && !frame
}

func snapped(p grid.Plan, at plane.Point) plane.Point {
	at.X, _ = near(p.Marks.ReferenceX, at.X)
	at.Y, _ = near(p.Marks.ReferenceY, at.Y)
	return at
}

// company reports whether another line ends within reach of an end.
func company(lines [][]plane.Point, mine []plane.Point, k int, at plane.Point) bool {
	for _, run := range lines {
		for j, other := range [2]plane.Point{run[0], run[len(run)-1]} {
			if (&run[0] != &mine[0] || j != k) && apart(other, at) <= meets {
				return true
			}
		}
	}
	return false
}

// A line that goes on across a border in its old place is loose in its new one,
// and the nearest way along the edges is proposed.
func TestTheNearestEndIsProposed(t *testing.T) {
	p := parts(t, "4 x 4") // boxes of 50 mm on the reference
	b := BordersOf(p, [][]plane.Point{{plane.Pt(10, 20), plane.Pt(50, 20)}, {plane.Pt(50, 30), plane.Pt(90, 30)}, {plane.Pt(120, 70), plane.Pt(150, 70)}, {plane.Pt(150, 70.4), plane.Pt(180, 70)}})
	if b.Meet != 2 || len(b.Loose) != 1 {
		t.Fatalf("%d meet, loose %+v; want 2 and one for both ends", b.Meet, b.Loose)
	}
	l := b.Loose[0]
	if want := (plane.Pt(50, 30)); l.Place != "A1" || l.Along[len(l.Along)-1] != want || len(l.Along) != 2 {
		t.Errorf("%+v; want from 50, 20 straight to %v", l, want)
	}
}

// Everybody's seed is their own and stays.
func TestSeedsOfStudents(t *testing.T) {
	seen := map[uint64]bool{}
	for student := range uint64(2000) {
		seen[SeedFor(7, student)] = true
	}
	if len(seen) < 1999 || SeedFor(7, 3) == SeedFor(8, 3) {
		t.Errorf("%d seeds for 2000 students", len(seen))
	}
	// Keys that were printed must still be true: these seeds may never change.
	for student, want := range map[uint64]uint64{0: 2917018, 3: 2267371} {
		if got := SeedFor(7, student); got != want {
			t.Errorf("student %d's seed is %d; it was %d when keys were printed", student, got, want)
		}
	}
}

func BenchmarkRestore(b *testing.B) {
	p := plan(b, grid.Request{Reference: "160x120mm", Paper: "500x500mm", ReferenceSquare: "20mm", SheetSquare: "40mm", Units: "cm"})
	m, img := shuffled(b, p, 1, true), gradient(1600, 1200)
	for b.Loop() {
		m.Restore(img, p)
	}
}
