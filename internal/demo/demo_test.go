package demo

import (
	"context"
	"math"
	"os"
	"testing"

	"zestysketch/internal/core/accuracy"
	"zestysketch/internal/core/photo"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/mariadb/mariadbtest"
	"zestysketch/internal/render"
	"zestysketch/internal/store"
	"zestysketch/internal/store/storetest"
)

func TestMain(m *testing.M) { os.Exit(mariadbtest.Run(m)) }

func TestLoadOnce(t *testing.T) {
	ctx := context.Background()
	s, err := store.Open(ctx, storetest.DSN(t))
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	for range 2 {
		if err := Load(ctx, s); err != nil {
			t.Fatal(err)
		}
	}
	teacher, err := s.SignIn(ctx, Email, Password)
	if err != nil {
		t.Fatal(err)
	}
	projects, err := s.Projects(ctx, teacher.ID)
	if err != nil || len(projects) != 4 {
		t.Fatalf("%d projects, %v; want 4", len(projects), err)
	}
	class, err := s.Class(ctx, teacher.ID, *projects[0].ClassID)
	if err != nil || len(class.Students) != 24 {
		t.Errorf("%d students, %v; want 24", len(class.Students), err)
	}
}

// What the pretend camera sees, measured at the places it knows, is the error
// that the pretend student made, and nothing else.
func TestSampleIsMeasuredAsDrawn(t *testing.T) {
	s, err := NewSample()
	if err != nil {
		t.Fatal(err)
	}
	img, err := picture.Decode(s.Photo)
	if err != nil {
		t.Fatal(err)
	}
	r, err := accuracy.Measure(accuracy.Job{Plan: s.Plan, Photo: photo.NewShot(img), Corners: &s.Corners, Marks: s.Landmarks})
	if err != nil {
		t.Fatal(err)
	}
	for _, o := range r.Landmarks {
		want := s.Slips[o.Name]
		// A slip draws its near surroundings along, so small offsets elsewhere are true.
		if most := 4.0; o.OffMM.Sub(want).Len() > most {
			t.Errorf("%s is %v mm off; want %v within %v mm", o.Name, o.OffMM, want, most)
		}
		if o.Within != (o.Name != "Top of the door") {
			t.Errorf("%s within tolerance: %v", o.Name, o.Within)
		}
	}
}

// A window too high, a cloud forgotten and a sun that the picture has not are named, each once, and
// the window by how far it is off.
func TestPartsAreNamed(t *testing.T) {
	scene, plan, err := HarbourLight()
	if err != nil {
		t.Fatal(err)
	}
	camera := Camera{Width: 1500, Height: 2000, Dim: 0.3, Noise: 3}
	shot, err := Photograph(plan, partsOff(scene), Hand{Size: 1, Unsteady: 0.3, PencilWeight: 1.1}, camera, 0, 0, 0.03, seeded(7))
	if err != nil {
		t.Fatal(err)
	}
	img, err := picture.Decode(shot.Photo)
	if err != nil {
		t.Fatal(err)
	}
	r, err := accuracy.Measure(accuracy.Job{Plan: plan, Photo: photo.NewShot(img), Corners: &shot.Corners, FoundBy: photo.ByTags, Reference: photo.NewShot(render.Pixels(scene.Page, perMM, nil))})
	if err != nil {
		t.Fatal(err)
	}
	is := map[accuracy.PartState]string{}
	for _, p := range r.Parts {
		is[p.State] += p.Cell
		if len(p.Lines) == 0 {
			t.Errorf("the part in %s has no lines", p.Cell)
		}
		if p.State == accuracy.PartMoved && math.Abs(p.Move.Y*plan.Grid.SheetCell[1]+9*plan.Sheet.Width/float64(scene.Page.Size.W)) > 2 {
			t.Errorf("the window is %.2f of a box off", p.Move.Y)
		}
	}
	if is[accuracy.PartMoved] != "E5" || len(is[accuracy.PartMissing]) != 2 || is[accuracy.PartInvented] != "C1" {
		t.Errorf("parts by state %v; want the window of E5 moved, one cloud missing, a sun in C1", is)
	}
}

// The photo really shows the grid's corners where the camera says: the
// rectified sheet has a faint line along each of its edges.
func TestCameraTellsTheTruth(t *testing.T) {
	s, err := NewSample()
	if err != nil {
		t.Fatal(err)
	}
	img, err := picture.Decode(s.Photo)
	if err != nil {
		t.Fatal(err)
	}
	const k = 4 // pixels a millimetre
	out, err := picture.Rectify(img, s.Corners, int(s.Plan.Sheet.Width*k), int(s.Plan.Sheet.Height*k))
	if err != nil {
		t.Fatal(err)
	}
	column := func(x float64) (sum float64) {
		for y := 40; y < out.Rect.Dy()-40; y += 3 {
			sum += float64(out.RGBAAt(int(x*k), y).G)
		}
		return sum
	}
	for _, x := range s.Plan.Marks.SheetX[1 : len(s.Plan.Marks.SheetX)-1] {
		best, at := math.Inf(1), 0.0
		for d := -3.0; d <= 3; d += 0.25 {
			if v := column(x + d); v < best {
				best, at = v, d
			}
		}
		if math.Abs(at) > 0.6 {
			t.Errorf("the line at %v mm is seen %v mm away", x, at)
		}
	}
}

func TestScenesAreDrawnInside(t *testing.T) {
	for _, sc := range []Scene{harbourLight(), quaySheds()} {
		if len(sc.Page.Items) < 20 {
			t.Errorf("%s has %d lines and areas", sc.Page.Title, len(sc.Page.Items))
		}
		for _, l := range sc.Landmarks {
			in := plane.Rect{Max: plane.Pt(float64(sc.Page.Size.W), float64(sc.Page.Size.H))}
			if l.At.X < in.Min.X || l.At.Y < in.Min.Y || l.At.X > in.Max.X || l.At.Y > in.Max.Y {
				t.Errorf("%s: %s lies outside", sc.Page.Title, l.Name)
			}
		}
	}
}
