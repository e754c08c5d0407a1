package accuracy_test

import (
	"image"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"golang.org/x/image/font/gofont/gobolditalic"
	"golang.org/x/image/font/gofont/goregular"

	"zestysketch/internal/core/accuracy"
	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/photo"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/demo"
	"zestysketch/internal/render"
)

// letters are shapes of golang.org/x/image v0.47.0, its Go faces, on which
// nothing here was tuned.
func letters(t testing.TB, ttf []byte, words string) demo.Scene {
	t.Helper()
	s, err := demo.Letters(ttf, words)
	if err != nil {
		t.Fatal(err)
	}
	return s
}

const perMM = 10 // of the reference, pixels

func planFor(t testing.TB, s demo.Scene, parts string) grid.Plan {
	t.Helper()
	p, err := grid.Make(grid.Request{Name: s.Page.Title, Picture: [2]int{int(s.Page.Size.W) * perMM, int(s.Page.Size.H) * perMM},
		Reference: "180 mm", Paper: "A3", Method: "parts", Parts: parts, Margin: "10 mm", Units: "cm"})
	if err != nil {
		t.Fatal(err)
	}
	return p
}

// field is a shift that changes smoothly over the sheet, up to size boxes,
// another for every seed.
func field(p grid.Plan, size float64, seed uint64) func(plane.Point) plane.Point {
	rng := rand.New(rand.NewPCG(seed, 3))
	var a [8]float64
	for i := range a {
		a[i] = rng.Float64() * 2 * math.Pi
	}
	cell := p.Grid.SheetCell[0]
	wave := func(at plane.Point, k int) float64 {
		return (math.Sin(at.X/cell*1.1+a[k]) + math.Sin(at.Y/cell*0.9+a[k+1]) + math.Sin((at.X+at.Y)/cell*0.7+a[k+2])) / 3
	}
	return func(at plane.Point) plane.Point {
		return plane.Pt(size*cell*wave(at, 0), size*cell*wave(at, 4))
	}
}

// seen is a drawing, photographed and measured.
type seen struct {
	plan   grid.Plan
	shot   demo.Shot
	report accuracy.Report
}

func look(t testing.TB, s demo.Scene, p grid.Plan, h demo.Hand, c demo.Camera, change func(*accuracy.Job)) seen {
	t.Helper()
	shot, err := demo.Photograph(p, s, h, c, 0, 0, 0.04, rand.New(rand.NewPCG(77, 1)))
	if err != nil {
		t.Fatal(err)
	}
	img, err := picture.Decode(shot.Photo)
	if err != nil {
		t.Fatal(err)
	}
	job := accuracy.Job{Plan: p, Reference: photo.NewShot(render.Pixels(s.Page, perMM, nil)), Photo: photo.NewShot(img), Corners: &shot.Corners}
	if change != nil {
		change(&job)
	}
	r, err := accuracy.Measure(job)
	if err != nil {
		t.Fatal(err)
	}
	return seen{p, shot, r}
}

var phone = demo.Camera{Width: 1200, Height: 1600, Dim: 0.3, Noise: 3}

// score compares what was measured with what the hand did: errors in boxes
// along every direction called sure, and the share of boxes with lines measured.
func (s seen) score(truth func(plane.Point) plane.Point) (errs []float64, sure float64) {
	with, known := 0, 0
	for _, c := range s.report.Cells {
		if c.Lines < 0.15 {
			continue
		}
		with++
		if c.Sure == accuracy.None {
			continue
		}
		known++
		cell, _ := s.plan.Find(c.Label)
		want := truth(plane.Pt((cell.Sheet.Min.X+cell.Sheet.Max.X)/2, (cell.Sheet.Min.Y+cell.Sheet.Max.Y)/2))
		dx, dy := c.Shift.X-want.X/s.plan.Grid.SheetCell[0], c.Shift.Y-want.Y/s.plan.Grid.SheetCell[1]
		if c.Sure == accuracy.Both {
			errs = append(errs, math.Abs(dx), math.Abs(dy))
			continue
		}
		sin, cos := math.Sincos(c.AcrossDeg * math.Pi / 180)
		errs = append(errs, math.Abs(dx*cos+dy*sin))
	}
	slices.Sort(errs)
	return errs, float64(known) / float64(with)
}

// The numbers that measuring must hold, on letters and on the demo's own
// scene, drawn with a known error and photographed.
func TestKnownShifts(t *testing.T) {
	var errs []float64
	sures := 0.0
	scenes := []demo.Scene{letters(t, goregular.TTF, "R&g5"), letters(t, gobolditalic.TTF, "Qk3&")}
	for i, s := range scenes {
		p := planFor(t, s, "6 x 8")
		distortion := field(p, 0.16, uint64(i+1))
		got := look(t, s, p, demo.Hand{Size: 1, PencilWeight: 0.9, Unsteady: 0.2, Distortion: distortion}, phone, nil)
		e, sure := got.score(distortion)
		errs = append(errs, e...)
		sures += sure / float64(len(scenes))
	}
	slices.Sort(errs)
	median, most := errs[len(errs)/2], errs[len(errs)*9/10]
	t.Logf("median %.4f, 90 %% under %.4f of a box, %.0f %% of boxes told", median, most, 100*sures)
	if median > 0.015 || most > 0.05 || sures < 0.85 {
		t.Errorf("median %.4f, 90 %% under %.4f, %.2f told; want 0.015, 0.05 and 0.85", median, most, sures)
	}
}

// A true drawing has no wrong boxes, every box is drawn, and the whole's size
// and turn are as drawn.
func TestTrueDrawings(t *testing.T) {
	s := letters(t, goregular.TTF, "R&g5")
	p := planFor(t, s, "6 x 8")
	for _, c := range []struct {
		name       string
		size, turn float64
		camera     demo.Camera
		change     func(*demo.Hand)
	}{
		{"plain", 1, 0, phone, nil},
		{"larger and leaning", 1.02, 1.5, phone, nil},
		{"grid erased", 1, 0, phone, func(h *demo.Hand) { h.Erased = true }},
		{"white on black", 1, 0, phone, func(h *demo.Hand) { h.Pencil, h.Dark, h.Erased = page.Color{R: 235, G: 235, B: 230}, true, true }},
		{"yellow pencil", 1, 0, phone, func(h *demo.Hand) { h.Pencil = page.Color{R: 225, G: 180, B: 40} }},
		{"bent lens", 1, 0, demo.Camera{Width: 1500, Height: 2000, Dim: 0.3, Noise: 3, Bend: 0.03}, nil},
		{"hand's shadow", 1, 0, demo.Camera{Width: 1500, Height: 2000, Dim: 0.3, Noise: 3, Shadow: 0.5}, nil},
		{"faint", 1, 0, phone, func(h *demo.Hand) { h.Pencil = page.Color{R: 150, G: 150, B: 150} }},
	} {
		hand := demo.Hand{Size: c.size, Turn: c.turn, PencilWeight: 0.9, Unsteady: 0.2}
		if c.change != nil {
			c.change(&hand)
		}
		got := look(t, s, p, hand, c.camera, nil).report
		if !got.Measured {
			t.Errorf("%s: not measured: %s", c.name, got.Why)
			continue
		}
		wrong, undone, with := 0, 0, 0
		for _, b := range got.Cells {
			if b.Lines < 0.15 {
				continue
			}
			with++
			if b.Wrong {
				wrong++
			}
			if b.State != accuracy.Drawn {
				undone++
			}
		}
		if float64(wrong) > 0.02*float64(with) || float64(undone) > 0.03*float64(with) {
			t.Errorf("%s: of %d boxes %d wrong and %d not drawn; want none", c.name, with, wrong, undone)
		}
		if math.Abs(got.Fit.Scale-100*(c.size-1)) > 0.5 || math.Abs(got.Fit.Rotation-c.turn) > 0.3 {
			t.Errorf("%s: size %+.2f %%, turn %+.2f°; want %+.2f and %+.2f", c.name, got.Fit.Scale, got.Fit.Rotation, 100*(c.size-1), c.turn)
		}
	}
}

// Half a drawing: the boxes below are empty, those above drawn.
func TestHalfDone(t *testing.T) {
	s := letters(t, gobolditalic.TTF, "Qk3&")
	p := planFor(t, s, "6 x 8")
	got := look(t, s, p, demo.Hand{Size: 1, PencilWeight: 0.9, Unsteady: 0.2, Rows: 4}, phone, nil).report
	right, of := 0, 0
	for _, c := range got.Cells {
		at, _ := p.Find(c.Label)
		if c.Lines < 0.25 {
			continue
		}
		of++
		want := accuracy.Drawn
		if at.Row >= 4 {
			want = accuracy.Empty
		}
		if c.State == want {
			right++
		} else {
			t.Logf("%s is %s (%.2f done); want %s", c.Label, c.State, c.Done, want)
		}
	}
	if float64(right) < 0.97*float64(of) {
		t.Errorf("%d of %d boxes' states are right; want 97 %%", right, of)
	}
}

// What cannot be measured is not, and says why.
func TestWhatCannotBeMeasured(t *testing.T) {
	s, other := letters(t, goregular.TTF, "R&g5"), letters(t, gobolditalic.TTF, "Qk3&")
	p := planFor(t, s, "6 x 8")
	hand := demo.Hand{Size: 1, PencilWeight: 0.9, Unsteady: 0.2}
	for _, c := range []struct {
		name   string
		camera demo.Camera
		change func(*accuracy.Job)
		why    string
	}{
		{"another picture's drawing", phone, func(j *accuracy.Job) { j.Reference = photo.NewShot(render.Pixels(other.Page, perMM, nil)) }, "does not look like"},
		{"upside down", phone, func(j *accuracy.Job) {
			q := *j.Corners
			*j.Corners = plane.Quad{q[2], q[3], q[0], q[1]}
		}, "does not look like"},
		{"too far away", demo.Camera{Width: 150, Height: 200, Noise: 1}, nil, "from nearer"},
		{"blurred beyond use", demo.Camera{Width: 1500, Height: 2000, Noise: 2, Blur: 16}, nil, "blurred"},
		{"glare over all", demo.Camera{Width: 1500, Height: 2000, Noise: 2, Glare: 0.2}, nil, "Light shines back"},
		{"a corner outside", phone, func(j *accuracy.Job) { j.Corners[2].X = 1700 }, "outside the photo"},
	} {
		got := look(t, s, p, hand, c.camera, c.change).report
		if got.Measured || !strings.Contains(got.Why, c.why) || len(got.Cells) > 0 {
			t.Errorf("%s: measured %v with %d boxes, %q; want a reason with %q", c.name, got.Measured, len(got.Cells), got.Why, c.why)
		}
		if len(got.Say) == 0 || got.Say[0] != got.Why {
			t.Errorf("%s: said %q", c.name, got.Say)
		}
	}
}

// Landmarks nobody placed are proposed by the lines round them.
func TestLandmarksAreProposed(t *testing.T) {
	s, p, err := demo.HarbourLight()
	if err != nil {
		t.Fatal(err)
	}
	slips := map[string]plane.Point{"Top of the door": {X: -0.4 * p.Grid.SheetCell[0]}, "Tip of the mast": {X: 0.3 * p.Grid.SheetCell[0]}}
	near, all := 0, 0
	for seed := range uint64(3) {
		distortion := field(p, 0.12, seed+5)
		var truth []accuracy.Landmark
		hand := demo.Hand{Size: 1.01, PencilWeight: 1, Unsteady: 0.25, Distortion: distortion}
		if seed == 0 {
			hand = demo.Hand{Size: 1, PencilWeight: 1, Unsteady: 0.25, Slips: slips}
		}
		got := look(t, s, p, hand, phone, func(j *accuracy.Job) { j.Marks = nil })
		truth = got.shot.Landmarks
		free := slices.Clone(truth)
		for i := range free {
			free[i].Photo = nil
		}
		again := look(t, s, p, hand, phone, func(j *accuracy.Job) { j.Marks = free })
		for i, o := range again.report.Landmarks {
			d := math.Hypot(o.Photo.X-truth[i].Photo.X, o.Photo.Y-truth[i].Photo.Y) / again.report.Photo.PixelsPerCell
			if all++; d < 0.1 {
				near++
			} else {
				t.Logf("%s proposed %.2f of a box away, sure %v", o.Name, d, o.Sure)
			}
			if !o.Proposed {
				t.Errorf("%s is not called proposed", o.Name)
			}
		}
	}
	if float64(near) < 0.9*float64(all) {
		t.Errorf("%d of %d proposals within a tenth of a box; want 90 %%", near, all)
	}
}

// A landmark in a box that is not drawn yet is found nowhere, and nothing is
// said of it.
func TestLandmarksNotDrawnYet(t *testing.T) {
	s, p, err := demo.HarbourLight()
	if err != nil {
		t.Fatal(err)
	}
	var marks []accuracy.Landmark
	got := look(t, s, p, demo.Hand{Size: 1, PencilWeight: 1, Unsteady: 0.25, Rows: 7}, phone, func(j *accuracy.Job) {
		for _, l := range s.Landmarks {
			on := p.FromPicture(plane.Pt(l.At.X*perMM, l.At.Y*perMM))
			marks = append(marks, accuracy.Landmark{Name: l.Name, Weight: 3, Reference: on})
		}
		j.Marks = marks
	}).report
	for _, o := range got.Landmarks {
		if strings.HasPrefix(o.Name, "Foot of the tower") && o.Sure {
			t.Errorf("%s is not drawn yet and was found %v away", o.Name, o.Off)
		}
	}
	if len(got.Next) > 0 {
		t.Errorf("said %q of a true drawing that is half done", got.Say)
	}
}

// A toned drawing: its order of tones agrees with the picture's, and one with
// timid darks is told so.
func TestTones(t *testing.T) {
	s := demo.Scene{Page: page.Page{Title: "Bands", Size: measure.Size{W: 180, H: 240}}}
	for i := range 8 {
		for j := range 6 {
			grey := uint8(30 + 28*((i*3+j*5)%8))
			fill := page.Color{R: grey, G: grey, B: grey}
			x, y, r := 30*float64(j)+3, 30*float64(i)+2, float64((i*7+j*11)%13)
			s.Page.Items = append(s.Page.Items, page.Path{Points: []plane.Point{plane.Pt(x+r, y), plane.Pt(x+26, y+r),
				plane.Pt(x+24-r/2, y+26), plane.Pt(x+1, y+24-r)}, Closed: true, Width: 0.5, Stroke: page.Ink,
				Fill: &fill})
		}
	}
	p := planFor(t, s, "6 x 8")
	tonal := func(j *accuracy.Job) { j.Tonal = true }
	same := look(t, s, p, demo.Hand{Size: 1, PencilWeight: 0.5, Toned: true, Erased: true}, demo.Camera{Width: 1500, Height: 2000, Dim: 0.15, Noise: 2}, tonal).report
	if !same.Tone.Judged || same.Tone.Rank < 0.95 || math.Abs(same.Tone.Darks) > 6 {
		t.Errorf("a true drawing's tone %v %q: order %.2f, darks %+.1f; want above 0.95 and near 0", same.Tone.Judged, same.Tone.Why, same.Tone.Rank, same.Tone.Darks)
	}
	timid := s
	timid.Page.Items = nil
	for _, item := range s.Page.Items {
		path := item.(page.Path)
		lighter := page.Color{R: path.Fill.R/2 + 120, G: path.Fill.G/2 + 120, B: path.Fill.B/2 + 120}
		path.Fill = &lighter
		timid.Page.Items = append(timid.Page.Items, path)
	}
	ref := photo.NewShot(render.Pixels(s.Page, perMM, nil))
	got := look(t, timid, p, demo.Hand{Size: 1, PencilWeight: 0.5, Toned: true, Erased: true},
		demo.Camera{Width: 1500, Height: 2000, Dim: 0.15, Noise: 2},
		func(j *accuracy.Job) { j.Tonal, j.Reference = true, ref }).report
	if got.Tone.Darks < 15 || len(got.Tone.Change) != 5 || !slices.ContainsFunc(got.Say, func(w string) bool { return strings.Contains(w, "not dark enough") }) {
		t.Errorf("timid darks: %+.1f, change %v, said %q", got.Tone.Darks, got.Tone.Change, got.Say)
	}
}

// A ruled grid with one wide column, and one with a column too few, are told.
func TestGridErrors(t *testing.T) {
	s := letters(t, goregular.TTF, "R&g5")
	p := planFor(t, s, "6 x 8")
	wide := grid.Marks{SheetX: slices.Clone(p.Marks.SheetX), SheetY: p.Marks.SheetY}
	wide.SheetX[3] += 5
	got := look(t, s, p, demo.Hand{Size: 1, PencilWeight: 0.9, Grid: wide}, phone, nil).report
	if math.Abs(math.Abs(got.Grid.Worst)-5) > 0.6 || !strings.HasPrefix(got.Grid.WorstAt, "column") || len(got.Grid.Problems) != 1 {
		t.Errorf("grid %+v; want a column 5 mm off", got.Grid)
	}
	few := grid.Marks{SheetY: p.Marks.SheetY}
	for i := range 6 {
		few.SheetX = append(few.SheetX, p.Sheet.Width*float64(i)/5)
	}
	got = look(t, s, p, demo.Hand{Size: 1, PencilWeight: 0.9, Grid: few}, phone, nil).report
	if got.Grid.Counted != [2]int{5, 8} || len(got.Grid.Problems) == 0 {
		t.Errorf("grid %+v; want 5 columns counted", got.Grid)
	}
}

// The two halves of a mirrored shape agree; where one slips, its box is named.
func TestHalvesAndViews(t *testing.T) {
	s := demo.Scene{Page: page.Page{Title: "Fold", Size: measure.Size{W: 180, H: 240}}}
	mirrored := func(points ...plane.Point) {
		other := make([]plane.Point, len(points))
		for i, q := range points {
			other[i] = plane.Pt(180-q.X, q.Y)
		}
		for _, run := range [][]plane.Point{points, other} {
			s.Page.Items = append(s.Page.Items, page.Path{Points: run, Width: 0.9, Stroke: page.Ink})
		}
	}
	mirrored(plane.Pt(90, 20), plane.Pt(50, 60), plane.Pt(20, 120), plane.Pt(45, 180), plane.Pt(90, 220))
	mirrored(plane.Pt(60, 100), plane.Pt(80, 110), plane.Pt(70, 140), plane.Pt(50, 130), plane.Pt(60, 100))
	p := planFor(t, s, "6 x 8")
	folded := func(j *accuracy.Job) { j.Compare = accuracy.Fold }
	even := look(t, s, p, demo.Hand{Size: 1, PencilWeight: 0.9, Unsteady: 0.2}, phone, folded).report
	for _, c := range even.Halves {
		if c.Wrong {
			t.Errorf("%s of an even shape is called uneven: %v", c.Label, c.Shift)
		}
	}
	slip := func(at plane.Point) plane.Point {
		if at.X > p.Sheet.Width*0.55 && math.Abs(at.Y-p.Sheet.Height/2) < p.Grid.SheetCell[1] {
			return plane.Point{X: 0.35 * p.Grid.SheetCell[0]}
		}
		return plane.Point{}
	}
	odd := look(t, s, p, demo.Hand{Size: 1, PencilWeight: 0.9, Unsteady: 0.2, Distortion: slip}, phone, folded).report
	if !slices.ContainsFunc(odd.Next, func(a accuracy.Advice) bool { return strings.Contains(a.Words, "mirror") }) {
		t.Errorf("said %q; want a box that is not the mirror of its other", odd.Say)
	}

	turned := func(j *accuracy.Job) { j.Compare = accuracy.Turned }
	half := []plane.Point{plane.Pt(90, 120), plane.Pt(50, 60), plane.Pt(20, 100), plane.Pt(40, 180), plane.Pt(70, 150)}
	s.Page.Items = nil
	for _, sign := range []float64{1, -1} {
		run := make([]plane.Point, len(half))
		for i, q := range half {
			run[i] = plane.Pt(90+sign*(q.X-90), 120+sign*(q.Y-120))
		}
		s.Page.Items = append(s.Page.Items, page.Path{Points: run, Width: 0.9, Stroke: page.Ink})
	}
	known := 0
	for _, c := range look(t, s, p, demo.Hand{Size: 1, PencilWeight: 0.9, Unsteady: 0.2}, phone, turned).report.Halves {
		if c.Sure != accuracy.None {
			known++
		}
		if c.Wrong {
			t.Errorf("%s of a shape that is even under half a turn is called uneven: %v", c.Label, c.Shift)
		}
	}
	odd = look(t, s, p, demo.Hand{Size: 1, PencilWeight: 0.9, Unsteady: 0.2, Distortion: slip}, phone, turned).report
	if known < 4 || !slices.ContainsFunc(odd.Next, func(a accuracy.Advice) bool {
		return strings.Contains(a.Words, "what turning half round makes of") && len(a.Cells) == 2 && a.Cells[0] != a.Cells[1]
	}) {
		t.Errorf("%d boxes told, said %q; want a box that is not its other turned round", known, odd.Say)
	}

	views := demo.Scene{Page: page.Page{Title: "Views", Size: measure.Size{W: 180, H: 240}}}
	for i, x := range []float64{15, 75, 135} {
		bottom := 200.0
		if i == 2 {
			bottom = 190
		}
		box := []plane.Point{plane.Pt(x, 40), plane.Pt(x+30, 40), plane.Pt(x+30, bottom), plane.Pt(x, bottom), plane.Pt(x, 40)}
		views.Page.Items = append(views.Page.Items, page.Path{Points: box, Width: 0.9, Stroke: page.Ink})
	}
	got := look(t, views, planFor(t, views, "6 x 8"), demo.Hand{Size: 1, PencilWeight: 0.9, Unsteady: 0.1}, phone, func(j *accuracy.Job) { j.Compare = accuracy.Views }).report
	if len(got.Views) != 3 || !slices.ContainsFunc(got.Next, func(a accuracy.Advice) bool {
		return strings.Contains(a.Words, "View 3") && strings.Contains(a.Words, "higher")
	}) {
		t.Errorf("%d views, said %q; want three, the third ending higher", len(got.Views), got.Say)
	}
}

// Bottles side by side, one with its neck lower: by named heights the neck is told, by how much, and the belly of the
// others is not.
func TestNamedHeightsOfViews(t *testing.T) {
	bottle := func(x, neck float64) []plane.Point { // 40 broad and 160 high from y = 40, 14 broad at its neck
		half := func(side float64) []plane.Point {
			return []plane.Point{plane.Pt(x+side*20, 200), plane.Pt(x+side*20, 40+neck+28), plane.Pt(x+side*7, 40+neck+5), plane.Pt(x+side*7, 40+neck-5), plane.Pt(x+side*16, 40)}
		}
		left, right := half(-1), half(1)
		slices.Reverse(right)
		return append(append(left, right...), left[0])
	}
	for _, lower := range []float64{0, 9, -8} {
		views := demo.Scene{Page: page.Page{Title: "Bottles", Size: measure.Size{W: 180, H: 240}}}
		for i, x := range []float64{30, 90, 150} {
			neck := 40.0
			if i == 1 {
				neck += lower
			}
			views.Page.Items = append(views.Page.Items, page.Path{Points: bottle(x, neck), Width: 0.9, Stroke: page.Ink})
		}
		got := look(t, views, planFor(t, views, "6 x 8"), demo.Hand{Size: 1, PencilWeight: 0.9, Unsteady: 0.1}, phone, func(j *accuracy.Job) {
			j.Compare, j.Heights = accuracy.Views, []accuracy.Height{{Name: "neck", Share: 0.25}}
		}).report
		if len(got.Views) != 3 {
			t.Fatalf("%d views", len(got.Views))
		}
		scale := (got.Views[0].Bottom - got.Views[0].Top) / 160
		for i, v := range got.Views {
			want := 40.0
			if i == 1 {
				want += lower
			}
			if at, there := v.Named["neck"]; !there || math.Abs((at-v.Top)/scale-want) > 2.5 {
				t.Errorf("view %d: its neck is found at %.1f; drawn at %.1f", i+1, (at-v.Top)/scale, want)
			}
		}
		said := ""
		for _, a := range got.Next {
			said += a.Words + " "
		}
		told := strings.Contains(said, "View 2 from the left: its neck is") && strings.Contains(said, map[bool]string{true: "lower", false: "higher"}[lower > 0])
		if told != (lower != 0) || strings.Contains(said, "View 3 from the left: its neck") {
			t.Errorf("%g lower: %s", lower, said)
		}
	}
}

// How much of its sheet a drawing fills, and which edge it touches: frames placed by hand on a sheet of 180 by 240 mm.
func TestReach(t *testing.T) {
	for _, c := range []struct {
		from, to plane.Point
		across   float64
		down     float64
		touches  []string
	}{{plane.Pt(18, 48), plane.Pt(162, 192), 0.8, 0.6, nil}, {plane.Pt(0.5, 60), plane.Pt(90, 239.5), 0.5, 0.75, []string{"left", "bottom"}}} {
		s := demo.Scene{Page: page.Page{Title: "Filled", Size: measure.Size{W: 180, H: 240}}}
		box := []plane.Point{c.from, plane.Pt(c.to.X, c.from.Y), c.to, plane.Pt(c.from.X, c.to.Y), c.from}
		s.Page.Items = append(s.Page.Items, page.Path{Points: box, Width: 0.9, Stroke: page.Ink}, page.Path{Points: []plane.Point{c.from, c.to}, Width: 0.9, Stroke: page.Ink})
		got := look(t, s, planFor(t, s, "6 x 8"), demo.Hand{Size: 1, PencilWeight: 0.9, Unsteady: 0.1}, phone, nil).report
		if got.Reach == nil || math.Abs(got.Reach.Across-c.across) > 0.03 || math.Abs(got.Reach.Down-c.down) > 0.03 || !slices.Equal(got.Reach.Touches, c.touches) {
			t.Errorf("%+v; want %.2f across, %.2f down, touching %v", got.Reach, c.across, c.down, c.touches)
		}
	}
}

// About a level fold a shape that is even from top to bottom agrees, and where some of its lower half slips the box below and
// its other above are named.
func TestLevelFold(t *testing.T) {
	s := demo.Scene{Page: page.Page{Title: "Level", Size: measure.Size{W: 180, H: 240}}}
	for _, run := range [][]plane.Point{{plane.Pt(20, 120), plane.Pt(50, 70), plane.Pt(100, 30), plane.Pt(140, 75), plane.Pt(160, 120)},
		{plane.Pt(70, 90), plane.Pt(95, 75), plane.Pt(115, 100), plane.Pt(85, 110), plane.Pt(70, 90)}} {
		below := make([]plane.Point, len(run))
		for i, q := range run {
			below[i] = plane.Pt(q.X, 240-q.Y)
		}
		s.Page.Items = append(s.Page.Items, page.Path{Points: run, Width: 0.9, Stroke: page.Ink}, page.Path{Points: below, Width: 0.9, Stroke: page.Ink})
	}
	p := planFor(t, s, "6 x 8")
	level := func(j *accuracy.Job) { j.Compare = accuracy.LevelFold }
	even := look(t, s, p, demo.Hand{Size: 1, PencilWeight: 0.9, Unsteady: 0.2}, phone, level).report
	for _, c := range even.Halves {
		if _, row, _ := p.Grid.Labels.Place(c.Label); c.Wrong || row < 4 {
			t.Errorf("%s of a shape even about a level fold: %+v", c.Label, c)
		}
	}
	slip := func(at plane.Point) plane.Point {
		if at.Y > p.Sheet.Height*0.55 && math.Abs(at.X-p.Sheet.Width/2) < p.Grid.SheetCell[0] {
			return plane.Point{X: 0.35 * p.Grid.SheetCell[0]}
		}
		return plane.Point{}
	}
	odd := look(t, s, p, demo.Hand{Size: 1, PencilWeight: 0.9, Unsteady: 0.2, Distortion: slip}, phone, level).report
	if len(even.Halves) != 24 || !slices.ContainsFunc(odd.Next, func(a accuracy.Advice) bool {
		return strings.Contains(a.Words, "mirror") && len(a.Cells) == 2 && a.Cells[0][0] == a.Cells[1][0] && a.Cells[0] != a.Cells[1]
	}) {
		t.Errorf("%d boxes below the fold, said %q; want one that is not the mirror of the one above it", len(even.Halves), odd.Say)
	}
}

// A loose project hears nothing of small shifts.
func TestLooseHearsNothingSmall(t *testing.T) {
	s := letters(t, goregular.TTF, "R&g5")
	p := planFor(t, s, "6 x 8")
	distortion := func(at plane.Point) plane.Point {
		return plane.Point{X: 0.25 * p.Grid.SheetCell[0] * math.Sin(at.Y/80)}
	}
	hand := demo.Hand{Size: 1, PencilWeight: 0.9, Unsteady: 0.2, Distortion: distortion}
	loose := look(t, s, p, hand, phone, func(j *accuracy.Job) { j.Tolerance = accuracy.LooseTolerance }).report
	exact := look(t, s, p, hand, phone, func(j *accuracy.Job) { j.Tolerance = accuracy.ExactTolerance }).report
	if len(loose.Next) != 0 || len(exact.Next) == 0 || len(exact.Next) > 3 {
		t.Errorf("loose hears %q, exact %q; want nothing, and up to three things", loose.Say, exact.Say)
	}
	if exact.Say[0] != exact.Strength || exact.Strength == "" {
		t.Errorf("said %q; want a strength first", exact.Say)
	}
}

// Twelve megapixels from bytes to words, on one core (-cpu 1), with corner tags.
func BenchmarkCheck12MP(b *testing.B) { check12MP(b, 3, false, photo.ByTags) }

// The same without tags, by the ruled grid and by the paper's sides alone.
func BenchmarkCheck12MPByGrid(b *testing.B)  { check12MP(b, 0, false, photo.ByGrid) }
func BenchmarkCheck12MPByPaper(b *testing.B) { check12MP(b, 0, true, photo.ByPaper) }

func check12MP(b *testing.B, project uint64, erased bool, by photo.FoundBy) {
	s, p, err := demo.HarbourLight()
	if err != nil {
		b.Fatal(err)
	}
	if erased { // a margin, so that the paper's edge is not the grid's
		p = planFor(b, s, "7 x 9")
	}
	shot, err := demo.Photograph(p, s, demo.Hand{Size: 1, PencilWeight: 1, Unsteady: 0.2, Erased: erased},
		demo.Camera{Width: 3000, Height: 4000, Dim: 0.3, Noise: 3}, project, 4, 0.03, rand.New(rand.NewPCG(1, 9)))
	if err != nil {
		b.Fatal(err)
	}
	ref := render.Pixels(s.Page, perMM, nil)
	b.ReportAllocs()
	for b.Loop() {
		var img *image.RGBA
		if img, err = picture.Decode(shot.Photo); err != nil {
			b.Fatal(err)
		}
		r, err := accuracy.Measure(accuracy.Job{Plan: p, Reference: photo.NewShot(ref), Photo: photo.NewShot(img)})
		if err != nil || !r.Measured || r.FoundBy != by {
			b.Fatal(r.Why, r.FoundBy, err)
		}
	}
}
