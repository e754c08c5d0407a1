package finish

import (
	"image"
	"image/color"
	"image/draw"
	"slices"
	"strings"
	"testing"

	"zestysketch/internal/core/lines"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/core/reading"
)

// Lines are named by what they are and the boxes at their ends; the weightiest first, no name twice, and none that a
// landmark names already.
func TestMainLines(t *testing.T) {
	at := func(points ...float64) (out []plane.Point) { // mm on the sheet of 4 × 4 boxes of 40 mm
		for i := 0; i < len(points); i += 2 {
			out = append(out, plane.Pt(points[i]*perMM, points[i+1]*perMM))
		}
		return out
	}
	s := lines.Sketch{PerMM: perMM, Strokes: []lines.Stroke{
		{Points: at(5, 5, 155, 150)},
		{Points: at(10, 100, 60, 60, 150, 100), Closed: true},
		{Points: at(8, 8, 150, 155)},
		{Points: at(90, 90, 110, 110)},
		{Points: at(130, 10, 130, 60)},
	}}
	c := Carried{Plan: four(t)}
	want := []string{"the line from A1 to D4", "the closed shape from A3 to D3", "the line in C3", "the line from D1 to D2"}
	names := func(most int) (names []string) {
		for _, line := range c.mainLines(s, most) {
			if !slices.Contains(names, line.Name) {
				names = append(names, line.Name)
			}
		}
		return names
	}
	if got := names(8); !slices.Equal(got, want) || len(c.mainLines(s, 8)) != len(s.Strokes) {
		t.Errorf("%q; want %q", got, want)
	}
	if got := names(2); len(got) != 2 {
		t.Errorf("%q; want two", got)
	}
	on := c.Plan.ToReference(plane.Pt(133, 20)) // beside the line from D1 to D2
	c.Pins = []reading.Pin{{Name: "handle", At: on, Weight: 3}}
	if got := names(8); !slices.Equal(got, []string{want[0], want[1], want[2], "handle"}) {
		t.Errorf("with a landmark: %q", got)
	}
}

// The whole list: what must be right first, then lines, then the shadow of a toned picture by its boxes.
func TestCarriedList(t *testing.T) {
	p := four(t)
	img := image.NewRGBA(image.Rect(0, 0, int(p.Sheet.Width*perMM), int(p.Sheet.Height*perMM)))
	draw.Draw(img, img.Rect, image.NewUniform(color.RGBA{230, 230, 230, 255}), image.Point{}, draw.Src)
	dark := image.Rect(int(45*perMM), int(45*perMM), int(115*perMM), int(75*perMM)) // B2 to C2 of boxes of 40 mm
	draw.Draw(img, dark, image.NewUniform(color.RGBA{30, 30, 30, 255}), image.Point{}, draw.Src)
	draw.Draw(img, image.Rect(int(20*perMM), int(125*perMM), int(140*perMM), int(150*perMM)), image.NewUniform(color.RGBA{140, 140, 140, 255}), image.Point{}, draw.Src)
	pins := []reading.Pin{{Name: "ear", At: p.ToReference(plane.Pt(10, 10)), Weight: 1}, {Name: "left eye", At: p.ToReference(plane.Pt(150, 10)), Weight: 3}}
	list, err := Carried{Plan: p, Image: img, PerMM: perMM, Pins: pins}.List()
	if err != nil || len(list) < 4 || list[0] != "left eye (must be right)" || list[1] != "ear" || list[len(list)-1] != "the edge of the shadow from B2 to C2" {
		t.Errorf("%q, %v", list, err)
	}
	drawn, err := Carried{Plan: p, Image: img, PerMM: perMM, Drawing: true}.List()
	if err != nil || slices.ContainsFunc(drawn, func(s string) bool { return strings.Contains(s, "shadow") }) {
		t.Errorf("of a line drawing: %q, %v", drawn, err)
	}
}
