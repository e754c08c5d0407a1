package accuracy

import (
	"encoding/json"
	"errors"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"gonum.org/v1/gonum/mat"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/core/plane"
)

var (
	from = []plane.Point{plane.Pt(30, 40), plane.Pt(200, 60), plane.Pt(180, 300), plane.Pt(50, 280), plane.Pt(120, 160)}
	to   = []plane.Point{plane.Pt(33, 38.5), plane.Pt(207, 61), plane.Pt(183, 307), plane.Pt(47, 283), plane.Pt(125, 162.5)}
)

// Against scikit-image 0.19.3, transform.SimilarityTransform.estimate; a
// weight there is a point given so many times.
func TestFitAgainstScikitImage(t *testing.T) {
	for _, c := range []struct {
		weights          []float64
		scale, angle     float64
		moveX, moveY, rm float64
	}{
		{[]float64{1, 1, 1, 1, 1}, 1.0256700476465284, 0.019175632571509078, 3.348148148148155, -4.162222222222226, 1.4681431961646096},
		{[]float64{1, 3, 1, 1, 2}, 1.025548229604231, 0.018112658962883558, 3.3606632888070465, -4.044679871027114, 1.3155897642933447},
	} {
		s, rms, err := FitSimilarity(from, to, c.weights)
		if err != nil {
			t.Fatal(err)
		}
		for _, v := range [][2]float64{{s.Scale, c.scale}, {s.Angle, c.angle}, {s.Move.X, c.moveX}, {s.Move.Y, c.moveY}, {rms, c.rm}} {
			if math.Abs(v[0]-v[1]) > 1e-9 {
				t.Errorf("weights %v: got %v; want %v", c.weights, v[0], v[1])
			}
		}
	}
}

// Against the general form of Umeyama (1991) with the singular value
// decomposition of gonum v0.17.0, on points made at random.
func TestFitAgainstGonum(t *testing.T) {
	rng := rand.New(rand.NewPCG(3, 4))
	for range 50 {
		n := 3 + rng.IntN(6)
		a, b, w := make([]plane.Point, n), make([]plane.Point, n), make([]float64, n)
		for i := range n {
			a[i] = plane.Pt(rng.Float64()*300, rng.Float64()*300)
			b[i] = plane.Pt(10+1.1*a[i].X+rng.Float64()*20, 1.1*a[i].Y-rng.Float64()*20)
			w[i] = 1 + 2*rng.Float64()
		}
		s, _, err := FitSimilarity(a, b, w)
		if err != nil {
			t.Fatal(err)
		}
		scale, cos, sin := umeyama(a, b, w)
		if math.Abs(s.Scale-scale) > 1e-9 || math.Abs(math.Cos(s.Angle)-cos) > 1e-9 || math.Abs(math.Sin(s.Angle)-sin) > 1e-9 {
			t.Fatalf("scale %v angle %v; want %v and cos %v sin %v", s.Scale, s.Angle, scale, cos, sin)
		}
	}
}

func umeyama(a, b []plane.Point, w []float64) (scale, cos, sin float64) {
	total := 0.0
	for _, v := range w {
		total += v
	}
	ca, cb := centre(a, w, total), centre(b, w, total)
	cov, spread := mat.NewDense(2, 2, nil), 0.0
	for i := range a {
		p, q := a[i].Sub(ca), b[i].Sub(cb)
		var outer mat.Dense
		outer.Outer(w[i]/total, mat.NewVecDense(2, []float64{q.X, q.Y}), mat.NewVecDense(2, []float64{p.X, p.Y}))
		cov.Add(cov, &outer)
		spread += w[i] / total * (p.X*p.X + p.Y*p.Y)
	}
	var svd mat.SVD
	svd.Factorize(cov, mat.SVDFull)
	var u, v, r mat.Dense
	svd.UTo(&u)
	svd.VTo(&v)
	sign := mat.NewDiagDense(2, []float64{1, 1})
	if mat.Det(cov) < 0 {
		sign.SetDiag(1, -1)
	}
	r.Product(&u, sign, v.T())
	d := svd.Values(nil)
	return (d[0] + sign.At(1, 1)*d[1]) / spread, r.At(0, 0), r.At(1, 0)
}

func TestFitRefusesOnePlace(t *testing.T) {
	same := []plane.Point{plane.Pt(5, 5), plane.Pt(5, 5)}
	if s, _, err := FitSimilarity(same, same, []float64{1, 1}); !errors.Is(err, ErrFlat) {
		t.Errorf("%v, %v; want ErrFlat", s, err)
	}
}

var (
	photoCorners = plane.Quad{plane.Pt(312.5, 198.25), plane.Pt(2711, 260.75), plane.Pt(2590.5, 1890), plane.Pt(405.25, 1795.5)}
	places       = map[string]plane.Point{"lamp": plane.Pt(100, 30), "door": plane.Pt(90, 200), "rock": plane.Pt(30, 220), "rail": plane.Pt(150, 90)}
)

func testPlan(t testing.TB) grid.Plan {
	t.Helper()
	p, err := grid.Make(grid.Request{Reference: "8x9 1/2in", Paper: "12x18in", Fit: "width", ReferenceSquare: "1in"})
	if err != nil {
		t.Fatal(err)
	}
	return p
}

// photographed returns the landmarks of a drawing whose every point was
// carried by wrong, as a camera at photoCorners sees them.
func photographed(t testing.TB, p grid.Plan, wrong func(name string, at plane.Point) plane.Point) []Landmark {
	t.Helper()
	toPhoto, err := picture.NewHomography(plane.Box(p.Sheet.Width, p.Sheet.Height), photoCorners)
	if err != nil {
		t.Fatal(err)
	}
	var marks []Landmark
	for _, name := range []string{"lamp", "door", "rock", "rail"} {
		at := wrong(name, p.ToSheet(places[name]))
		px := toPhoto.Apply(at)
		marks = append(marks, Landmark{Name: name, Weight: 1, Reference: places[name], Photo: &px})
	}
	return marks
}

// placed measures landmarks alone, on a photo of which nothing else is known.
func placed(p grid.Plan, corners plane.Quad, marks []Landmark, tolerance float64) (Report, error) {
	r := Report{Format: Format, Corners: corners, PhotoSize: [2]int{3000, 2000}, Tolerance: tolerance}
	r.Photo.PixelsPerCell = 200
	return r.Remark(p, marks)
}

func TestCheckFindsAKnownSimilarity(t *testing.T) {
	p := testPlan(t)
	truth := Similarity{Scale: 1.03, Angle: 2 * math.Pi / 180, Move: plane.Pt(4, -3)}
	marks := photographed(t, p, func(_ string, at plane.Point) plane.Point { return truth.Apply(at) })
	r, err := placed(p, photoCorners, marks, NormalTolerance)
	if err != nil {
		t.Fatal(err)
	}
	if math.Abs(r.Fit.Scale-3) > 1e-6 || math.Abs(r.Fit.Rotation-2) > 1e-6 || r.Fit.RMS > 1e-6 {
		t.Errorf("fit %+v; want 3 %% large, 2° clockwise, nothing left", r.Fit)
	}
	if len(r.Say) == 0 || !strings.Contains(r.Say[0], "too large, by a tenth of a box at its edges") || !strings.Contains(r.Say[0], "leans clockwise, by a tenth of a box") {
		t.Errorf("said %q", r.Say)
	}
}

func TestCheckFindsOneBadLandmark(t *testing.T) {
	p := testPlan(t)
	marks := photographed(t, p, func(name string, at plane.Point) plane.Point {
		if name == "door" {
			at.X += 0.5 * p.Grid.SheetCell[0]
			at.Y -= 0.25 * p.Grid.SheetCell[1]
		}
		return at
	})
	r, err := placed(p, photoCorners, marks, NormalTolerance)
	if err != nil {
		t.Fatal(err)
	}
	for _, o := range r.Landmarks {
		want := [2]float64{}
		if o.Name == "door" {
			want = [2]float64{0.5, -0.25}
		}
		if math.Hypot(o.Off.X-want[0], o.Off.Y-want[1]) > 1e-6 || o.Within != (o.Name != "door") {
			t.Errorf("%+v; want %v boxes off", o, want)
		}
	}
	door := r.Landmarks[1]
	if math.Abs(door.OffMM.X-19.05) > 1e-6 || math.Abs(door.OffMM.Y+9.525) > 1e-6 {
		t.Errorf("door is %v mm off; want 19.05, -9.525", door.OffMM)
	}
	for i, want := range []string{"Well placed: lamp, rock, rail.", "door, box D8: it is half a box too far right and a quarter of a box too high."} {
		if r.Say[i] != want {
			t.Errorf("said %q; want %q", r.Say[i], want)
		}
	}
}

// Weight decides the order of what is said.
func TestWeightiestFirst(t *testing.T) {
	p := testPlan(t)
	marks := photographed(t, p, func(name string, at plane.Point) plane.Point {
		at.X += map[string]float64{"lamp": 15, "rock": 12}[name]
		return at
	})
	marks[2].Weight = 3
	r, err := placed(p, photoCorners, marks, NormalTolerance)
	if err != nil {
		t.Fatal(err)
	}
	if !strings.HasPrefix(r.Next[0].Words, "rock") {
		t.Errorf("said %q; want the rock, which weighs more, before the lamp", r.Say)
	}
}

func TestCheckRefuses(t *testing.T) {
	p := testPlan(t)
	good := photographed(t, p, func(_ string, at plane.Point) plane.Point { return at })
	with := func(change func(m *Landmark)) []Landmark {
		marks := slices.Clone(good)
		change(&marks[0])
		return marks
	}
	crossed := photoCorners
	crossed[0], crossed[1] = crossed[1], crossed[0]
	for _, c := range []struct {
		name    string
		corners plane.Quad
		marks   []Landmark
		want    error
	}{
		{"corners that cross", crossed, good, plane.ErrCorners},
		{"corners that coincide", plane.Quad{}, good, plane.ErrCorners},
		{"outside the picture", photoCorners, with(func(m *Landmark) { m.Reference.X = -1 }), ErrLandmarks},
		{"not a number", photoCorners, with(func(m *Landmark) { m.Photo = &plane.Point{X: 1, Y: math.NaN()} }), ErrLandmarks},
	} {
		if r, err := placed(p, c.corners, c.marks, 0.2); !errors.Is(err, c.want) {
			t.Errorf("%s: %+v, %v; want %v", c.name, r, err, c.want)
		}
	}
}

func TestReportIsTheDocumentedJSON(t *testing.T) {
	p := testPlan(t)
	r, err := placed(p, photoCorners, photographed(t, p, func(_ string, at plane.Point) plane.Point { return at }), 0.2)
	if err != nil {
		t.Fatal(err)
	}
	b, err := json.Marshal(r)
	if err != nil {
		t.Fatal(err)
	}
	for _, key := range []string{`"format":"zesty-check/1"`, `"corners":[[`, `"pixels_per_cell"`, `"dx_cell"`,
		`"dy_cell"`, `"scale_percent"`, `"rotation_deg"`, `"rms_cell"`, `"off_cell"`, `"off_mm"`, `"weight"`,
		`"within"`, `"say"`} {
		if !strings.Contains(string(b), key) {
			t.Errorf("%s is missing from %s", key, b)
		}
	}
}

func TestDirection(t *testing.T) {
	for _, c := range []struct {
		dx, dy float64
		want   string
	}{
		{0, 0, ""},
		{0.04, -0.04, ""},
		{0.25, 0, "a quarter of a box too far right"},
		{-0.1, 0.5, "half a box too low and a tenth of a box too far left"},
		{0, -1.02, "one box too high"},
		{3.14, 0, "3.1 boxes too far right"},
	} {
		if got := Direction(c.dx, c.dy); got != c.want {
			t.Errorf("%v, %v: %q; want %q", c.dx, c.dy, got, c.want)
		}
	}
}
