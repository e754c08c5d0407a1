package accuracy_test

import (
	"image"
	"math"
	"testing"

	"golang.org/x/image/font/gofont/goregular"

	"zestysketch/internal/core/accuracy"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/photo"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/demo"
	"zestysketch/internal/render"
)

// Boxes of which none, half or all is drawn are empty, started and drawn.
func TestStartedBoxes(t *testing.T) {
	wanted := demo.Scene{Page: page.Page{Title: "Strokes", Size: measure.Size{W: 180, H: 240}}}
	drawn := wanted
	for row := range 8 {
		for column := range 6 {
			for k := range 4 {
				x, y := 30*float64(column)+4, 30*float64(row)+4+6*float64(k)
				turn := float64((row*5+column*3+k*7)%11) - 5
				stroke := page.Path{Points: []plane.Point{plane.Pt(x, y), plane.Pt(x+11, y+turn/2), plane.Pt(x+22, y+2)}, Width: 0.9, Stroke: page.Ink}
				wanted.Page.Items = append(wanted.Page.Items, stroke)
				if part := (column + row) % 3; part == 2 || part == 1 && k < 2 {
					drawn.Page.Items = append(drawn.Page.Items, stroke)
				}
			}
		}
	}
	p := planFor(t, wanted, "6 x 8")
	ref := photo.NewShot(render.Pixels(wanted.Page, perMM, nil))
	got := look(t, drawn, p, demo.Hand{Size: 1, PencilWeight: 0.9, Unsteady: 0.15}, phone, func(j *accuracy.Job) { j.Reference = ref }).report
	right := 0
	for i, c := range got.Cells {
		want := []accuracy.State{accuracy.Empty, accuracy.Started, accuracy.Drawn}[(i%6+i/6)%3]
		if c.State == want {
			right++
		} else {
			t.Logf("%s is %s, %.2f done; want %s", c.Label, c.State, c.Done, want)
		}
	}
	if float64(right) < 0.97*float64(len(got.Cells)) || len(got.Cells) == 0 {
		t.Errorf("%d of %d boxes' states are right; want 97 %%", right, len(got.Cells))
	}
}

// Watercolour washed over the lines, and a photo of a screen with its stripes,
// are measured as what they are: true drawings with nothing wrong.
func TestWashesAndScreens(t *testing.T) {
	s := letters(t, goregular.TTF, "R&g5")
	p := planFor(t, s, "6 x 8")
	ref := photo.NewShot(render.Pixels(s.Page, perMM, nil))
	washed := demo.Scene{Page: page.Page{Title: s.Page.Title, Size: s.Page.Size}}
	for i, c := range []page.Color{{R: 205, G: 222, B: 240}, {R: 240, G: 226, B: 190}, {R: 214, G: 236, B: 205}} {
		x, y := 15+50*float64(i), 20+60*float64(i)
		washed.Page.Items = append(washed.Page.Items, page.Path{Points: []plane.Point{plane.Pt(x, y), plane.Pt(x+70, y+12), plane.Pt(x+60, y+90), plane.Pt(x-10, y+80)}, Closed: true, Fill: &c})
	}
	washed.Page.Items = append(washed.Page.Items, s.Page.Items...)
	hand := demo.Hand{Size: 1, PencilWeight: 0.9, Unsteady: 0.2}
	toned := hand
	toned.Toned = true
	for name, got := range map[string]accuracy.Report{
		"washed": look(t, washed, p, toned, phone, func(j *accuracy.Job) { j.Reference = ref }).report,
		"screen": look(t, s, p, hand, phone, func(j *accuracy.Job) { stripe(j.Photo.Full) }).report,
	} {
		wrong := 0
		for _, c := range got.Cells {
			if c.Wrong {
				wrong++
			}
		}
		if !got.Measured || float64(wrong) > 0.02*float64(len(got.Cells)) || math.Abs(got.Fit.Scale) > 0.5 {
			t.Errorf("%s: measured %v (%s), %d wrong, size %+.2f %%", name, got.Measured, got.Why, wrong, got.Fit.Scale)
		}
	}
}

// stripe lays the beat of a screen's pixels and a sensor's over a photo.
func stripe(img *image.RGBA) {
	for y := range img.Rect.Dy() {
		row := img.Pix[y*img.Stride:]
		for x := range img.Rect.Dx() {
			k := 1 - 0.06*(1+math.Sin(float64(x)/2.3+float64(y)/37)) - 0.05*(1+math.Sin(float64(y)/2.9))
			for c := range 3 {
				row[4*x+c] = uint8(float64(row[4*x+c]) * k)
			}
		}
	}
}
