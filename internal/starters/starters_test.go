package starters

import (
	"bytes"
	"image"
	"testing"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/lesson"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/core/reading"
)

// Sixteen pictures, four megabytes together, each of which opens, whose landmarks lie on it, whose boxes are
// about square, and that are told apart by what is measured as they are by the table.
func TestStarters(t *testing.T) {
	if len(All()) != 16 {
		t.Errorf("%d pictures; want 16", len(All()))
	}
	bytesOfAll, last := 0, 1
	for _, p := range All() {
		bytesOfAll += len(p.Bytes())
		img, _, err := image.Decode(bytes.NewReader(p.Bytes()))
		if err != nil {
			t.Fatalf("%s: %v", p.Code, err)
		}
		w, h := float64(img.Bounds().Dx()), float64(img.Bounds().Dy())
		if side := max(w, h); side < 1000 || side > 2400 {
			t.Errorf("%s: %.0f × %.0f pixels", p.Code, w, h)
		}
		if box := w / float64(p.Parts[0]) * float64(p.Parts[1]) / h; box < 0.9 || box > 1.11 {
			t.Errorf("%s: boxes %.2f times as wide as high; want about square", p.Code, box)
		}
		if p.Level < last {
			t.Errorf("%s: level %d after %d; want easy ones first", p.Code, p.Level, last)
		}
		last = p.Level
		for _, m := range p.Landmarks {
			if m.Name == "" || m.Weight < 1 || m.Weight > 3 || m.At.X < 0 || m.At.X > 1 || m.At.Y < 0 || m.At.Y > 1 {
				t.Errorf("%s: landmark %+v", p.Code, m)
			}
		}
		if len(p.Landmarks) < 3 {
			t.Errorf("%s: %d landmarks; want three or more", p.Code, len(p.Landmarks))
		}
		if len(p.Thumb()) > 40_000 {
			t.Errorf("%s: a small picture of %d bytes", p.Code, len(p.Thumb()))
		}
	}
	if bytesOfAll > 4<<20 {
		t.Errorf("%d bytes together; want 4 MB at most", bytesOfAll)
	}
	if _, ok := Find("cat"); ok {
		t.Error("there is what it has not")
	}
}

// Landmarks of line drawings lie on their lines: within a hundredth of the width there is ink.
func TestLandmarksLieOnLines(t *testing.T) {
	for _, p := range All() {
		img, kind, err := image.Decode(bytes.NewReader(p.Bytes()))
		if err != nil || kind != "png" {
			continue
		}
		b := img.Bounds()
		for _, m := range p.Landmarks {
			x, y, near := int(m.At.X*float64(b.Dx())), int(m.At.Y*float64(b.Dy())), b.Dx()/50
			dark := false
			for v := y - near; v <= y+near && !dark; v++ {
				for u := x - near; u <= x+near && !dark; u++ {
					if image.Pt(u, v).In(b) {
						r, _, _, _ := img.At(u, v).RGBA()
						dark = r < 0x8000
					}
				}
			}
			if !dark && m.Name != "Where the lines meet" { // a point of the air
				t.Errorf("%s: nothing is drawn at %q", p.Code, m.Name)
			}
		}
	}
}

// What suits the pictures, by their table, also suits what is measured of them.
func TestStartersSuit(t *testing.T) {
	for code, want := range map[string]lesson.Way{"mug": lesson.ByBox, "solids": lesson.ByQuarters, "cloth": lesson.ByTracing, "jug": lesson.ByBox, "street": lesson.ByBox} {
		p, _ := Find(code)
		if way, why := p.Suited(); way != want || why == "" {
			t.Errorf("%s: %q, %q; want %q", code, way, why, want)
		}
	}
	for _, p := range All() {
		img, kind, err := image.Decode(bytes.NewReader(p.Bytes()))
		if err != nil {
			t.Fatal(err)
		}
		whole := opaque(img)
		facts := picture.Look(whole, whole)
		if facts.Drawing != (kind == "png") {
			t.Errorf("%s: a line drawing: %v; it is %s", p.Code, facts.Drawing, facts.Reason)
		}
		for _, units := range []measure.Unit{measure.Inch, measure.Centimetre} {
			plan, err := grid.Make(p.Ask(p.Name, [2]int{whole.Rect.Dx(), whole.Rect.Dy()}, units))
			if err != nil {
				t.Fatalf("%s: %v", p.Code, err)
			}
			for _, f := range plan.Findings {
				if f.Level == grid.Warn {
					t.Errorf("%s: %s", p.Code, f.Message)
				}
			}
			if stop, stopped := plan.Stopped(); stopped || plan.Frame.Size != [2]float64{float64(whole.Rect.Dx()), float64(whole.Rect.Dy())} || plan.Grid.Columns != p.Parts[0] || plan.Grid.Rows != p.Parts[1] {
				t.Errorf("%s: %d × %d boxes of %v, %+v; want %v of all", p.Code, plan.Grid.Columns, plan.Grid.Rows, plan.Frame, stop, p.Parts)
			}
		}
		small := picture.Shrink(whole, 800)
		if hard, err := reading.LookHard(small, facts.Drawing); err != nil || hard.Level < p.Level-1 || hard.Level > p.Level+1 {
			t.Errorf("%s: measured as level %d, %v; the table says %d", p.Code, hard.Level, err, p.Level)
		}
	}
}
