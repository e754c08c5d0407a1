package grid

import (
	"errors"
	"fmt"
	"math"
	"reflect"
	"slices"
	"strings"
	"testing"

	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/plane"
)

func made(t testing.TB, r Request) Plan {
	t.Helper()
	p, err := Make(r)
	if err != nil {
		t.Fatal(err)
	}
	return p
}

// A plan's numbers may be what their bounds are, and no step beyond; each thing
// that contradicts itself is refused by itself.
func TestBoundsOfPlans(t *testing.T) {
	p := made(t, kept["framed"])
	for name, c := range map[string]struct {
		change func(*Plan)
		good   bool
	}{
		"as made":                  {func(*Plan) {}, true},
		"widest line":              {func(p *Plan) { p.Line.Width = mostLine }, true},
		"a wider one":              {func(p *Plan) { p.Line.Width = mostLine + 0.001 }, false},
		"no line":                  {func(p *Plan) { p.Line.Width = 0 }, true},
		"no hand":                  {func(p *Plan) { p.Hand = "" }, true},
		"the left":                 {func(p *Plan) { p.Hand = LeftHand }, true},
		"a foot":                   {func(p *Plan) { p.Hand = "foot" }, false},
		"a ruler as long as zero":  {func(p *Plan) { p.Ruler.Length, p.Ruler.Zero = 5, 5 }, false},
		"a little longer":          {func(p *Plan) { p.Ruler.Length, p.Ruler.Zero = 5.1, 5 }, true},
		"no ruler, with a zero":    {func(p *Plan) { p.Ruler.Length, p.Ruler.Zero = 0, 5 }, true},
		"a frame of nothing":       {func(p *Plan) { p.Frame.Size[0] = 0 }, false},
		"a frame of no height":     {func(p *Plan) { p.Frame.Size[1] = 0 }, false},
		"no picture":               {func(p *Plan) { p.Frame.Picture[0] = 0 }, false},
		"a picture of no height":   {func(p *Plan) { p.Frame.Picture[1] = 0 }, false},
		"a box past the last":      {func(p *Plan) { p.Grid.Split = map[string]int{"F1": 2} }, false},
		"a row past the last":      {func(p *Plan) { p.Grid.Split = map[string]int{"A5": 2} }, false},
		"the last box in 4":        {func(p *Plan) { p.Grid.Split = map[string]int{"E4": 4} }, true},
		"in 3":                     {func(p *Plan) { p.Grid.Split = map[string]int{"E4": 3} }, false},
		"off by a tenth, enlarged": {func(p *Plan) { p.Sheet.Width += 0.0999 * p.Scale[0] }, true},
		"off by more":              {func(p *Plan) { p.Sheet.Width += 0.101 * p.Scale[0] }, false},
		"a rest below nothing":     {func(p *Plan) { p.Grid.SheetRemainder[0] = -1 }, false},
		"cells of nothing":         {func(p *Plan) { p.Grid.SheetCell[0] = 0 }, false},
	} {
		q := p
		frame := *p.Frame
		q.Frame = &frame
		c.change(&q)
		if err := q.check(); (err == nil) != c.good {
			t.Errorf("%s: %v; good %v", name, err, c.good)
		}
	}
}

// A frame may reach half a pixel over its picture on each side.
func TestFramesInside(t *testing.T) {
	at := func(x, y, w, h float64) Frame {
		return Frame{Picture: [2]int{100, 80}, Centre: plane.Pt(x+w/2, y+h/2), Size: [2]float64{w, h}}
	}
	for _, c := range []struct {
		f    Frame
		want bool
	}{
		{at(-0.5, -0.5, 101, 81), true}, {at(-0.51, 0, 10, 10), false}, {at(0, -0.51, 10, 10), false}, {at(90, 0, 10.51, 10), false}, {at(0, 70, 10, 10.51), false},
		{at(90, 70, 10.5, 10.5), true},
	} {
		if got := c.f.Inside(); got != c.want {
			t.Errorf("%v: inside %v", c.f.Corners(), got)
		}
	}
	if wholePicture([2]int{0, 5}) != nil || wholePicture([2]int{5, 0}) != nil || wholePicture([2]int{1, 1}) == nil {
		t.Error("a picture of no pixels has a frame, or one of one pixel none")
	}
}

// What a person types is taken at its bounds and refused beyond.
func TestBoundsOfRequests(t *testing.T) {
	base := Request{Reference: "20x30cm", Paper: "A1", Units: "cm"}
	for _, c := range []struct {
		field, text string
		good        bool
	}{
		{"scale", "0.05", true}, {"scale", "0.049", false}, {"scale", "200", true}, {"scale", "201", false}, {"minutes", "6000", true}, {"minutes", "6001", false}, {"minutes", "0", false},
		{"minutes", "1", true}, {"minutes", "soon", false}, {"minutes", "90 min", true}, {"line_width", "3mm", true}, {"line_width", "3.1mm", false},
		{"parts", "1x1", true}, {"parts", "0x1", false}, {"parts", "26x26", true}, {"reference_square", "20cm", true}, {"reference_square", "30cm", true}, {"reference_square", "31cm", false},
		{"ruler_zero", "25.4mm", true}, {"ruler_zero", "60mm", false}, {"ruler_step", "25.4mm", true}, {"ruler_step", "26mm", false},
	} {
		r := base
		for _, f := range r.Fields() {
			if f.Name == c.field {
				*f.Value = c.text
			}
		}
		if c.field == "parts" {
			r.Method = "parts"
		}
		if c.field == "scale" {
			r.Paper = ""
		}
		_, err := Make(r)
		var bad Problems
		refused := errors.As(err, &bad)
		if refused == c.good {
			t.Errorf("%s %q: %v; good %v", c.field, c.text, err, c.good)
		}
	}
	for scale, good := range map[string]bool{"1.5": true, "1.501": true, "1.503": false} { // the squares say 1.5
		_, err := Make(Request{Reference: "20x30cm", Paper: "A1", Units: "cm", ReferenceSquare: "2cm", SheetSquare: "3cm", Scale: scale})
		if (err == nil) != good {
			t.Errorf("squares of 2 and 3 cm and a scale of %s: %v", scale, err)
		}
	}
	for text, want := range map[string]float64{"5mm": 100, "5mm up": 105, "5mm down": 100, "300mm": 102} { // of 102 mm; nothing rounds a side away
		var bad Problems
		to := Request{Round: text}.rounding(&bad, measure.Centimetre)
		if got := to.round(102); float64(got) != want || bad != nil {
			t.Errorf("102 mm to %q: %v, %v; want %v", text, got, bad, want)
		}
	}
}

// Grids are alike where boxes and names are, whatever the printed size; each
// difference alone tells them apart.
func TestAlike(t *testing.T) {
	r := kept["framed"]
	p := made(t, r)
	larger := r
	larger.Reference = "21cm"
	if !p.Alike(p) || !p.Alike(made(t, larger)) && made(t, larger).Grid.Columns == p.Grid.Columns {
		t.Error("the same grid printed larger is another")
	}
	for name, change := range map[string]func(*Plan){
		"columns":         func(q *Plan) { q.Grid.Columns++ },
		"rows":            func(q *Plan) { q.Grid.Rows++ },
		"letters down":    func(q *Plan) { q.Grid.Labels.Letters = Down },
		"no frame":        func(q *Plan) { q.Frame = nil },
		"another frame":   func(q *Plan) { f := *q.Frame; f.Angle++; q.Frame = &f },
		"a line across":   func(q *Plan) { q.Marks.ReferenceX = slices.Clone(q.Marks.ReferenceX); q.Marks.ReferenceX[1] += 0.01 },
		"a line the less": func(q *Plan) { q.Marks.ReferenceX = slices.Clone(q.Marks.ReferenceX); q.Marks.ReferenceX[1] -= 0.01 },
		"a line down":     func(q *Plan) { q.Marks.ReferenceY = slices.Clone(q.Marks.ReferenceY); q.Marks.ReferenceY[2] += 0.01 },
	} {
		q := p
		change(&q)
		if p.Alike(q) || q.Alike(p) {
			t.Errorf("%s: taken for the same grid", name)
		}
	}
	same := p
	frame := *p.Frame
	same.Frame = &frame
	bare, other := p, p
	bare.Frame, other.Frame = nil, nil
	if !p.Alike(same) || !bare.Alike(other) {
		t.Error("the same frame in another place, or none on both, is taken for another grid")
	}
	scaled := bare
	scaled.Reference.Width *= 2
	scaled.Marks.ReferenceX = nil
	for _, x := range bare.Marks.ReferenceX {
		scaled.Marks.ReferenceX = append(scaled.Marks.ReferenceX, 2*x)
	}
	if !bare.Alike(scaled) {
		t.Error("printed twice as wide it is taken for another grid")
	}
}

// Worked by hand: 6 × 6 places of a box; 33 of 36 drawn is more than nine
// tenths, 32 is less. Halves of the old grid fill a box of the new, and a box
// half of which was drawn is not done.
func TestCarryByHand(t *testing.T) {
	of := func(parts string) Plan {
		return made(t, Request{Reference: "120x120mm", Paper: "A3", Method: "parts", Parts: parts, Units: "cm"})
	}
	later := func(a, b int) int { return max(a, b) }
	done := map[string]int{"A1": 3, "B1": 9, "C1": 1}
	if got := Carry(of("4x4"), of("2x4"), done, later); len(got) != 1 || got["A1"] != 9 {
		t.Errorf("four columns to two: %v; want A1 when the later half was", got)
	}
	if got := Carry(of("2x4"), of("4x4"), map[string]int{"A1": 5}, later); len(got) != 2 || got["A1"] != 5 || got["B1"] != 5 {
		t.Errorf("two columns to four: %v; want both halves", got)
	}
	if got := Carry(of("4x4"), of("4x4"), done, later); fmt.Sprint(got) != fmt.Sprint(done) {
		t.Errorf("the same grid: %v", got)
	}
	// Columns of 12: of a sixth each, the first box of six takes the first two.
	twelve := map[string]int{}
	for _, c := range of("12x12").Cells() {
		if c.Column < 11 {
			twelve[c.Label] = 1
		}
	}
	if got := Carry(of("12x12"), of("2x2"), twelve, later); len(got) != 2 { // five of six columns of the right half are 0.83
		t.Errorf("eleven of twelve columns: %v; want the left half alone", got)
	}
}

// A line is seen from six tenths on; what the teacher chose is kept with a word.
func TestContrastAtItsEdges(t *testing.T) {
	auto := made(t, kept["low"])
	seen := func(v ...float64) []float64 {
		return append(v, make([]float64, max(0, len(Palette)-len(v)))...)[:len(Palette)]
	}
	if p := auto.WithContrast(seen(0.6, 0.9), false); p.Line.Color != Palette[0].Name || p.Line.Cased {
		t.Errorf("0.6 on the first: %+v", p.Line)
	}
	if p := auto.WithContrast(seen(0.59, 0.6), false); p.Line.Color != Palette[1].Name || p.Line.Cased {
		t.Errorf("0.59 on the first, 0.6 on the second: %+v", p.Line)
	}
	if p := auto.WithContrast(seen(0.3, 0.59, 0.59), false); p.Line.Color != Palette[1].Name || !p.Line.Cased {
		t.Errorf("none is seen: %+v; want the first of the best, cased", p.Line)
	}
	drawing := make([]float64, len(Palette))
	drawing[paletteDark], drawing[paletteRed] = 0.9, 0.6
	if p := auto.WithContrast(drawing, true); p.Line.Color != Palette[paletteRed].Name {
		t.Errorf("a line drawing under a dark grid: %+v", p.Line)
	}
	chosen := made(t, kept["seen squash"]) // red
	poor := make([]float64, len(Palette))
	poor[paletteRed], poor[(paletteRed+1)%len(Palette)] = 0.234, 0.876
	p := chosen.WithContrast(poor, false)
	last := p.Findings[len(p.Findings)-1]
	if p.Line.Color != "red" || !strings.Contains(last.Message, "only 23 %") || !strings.Contains(last.Fix, "88 %") {
		t.Errorf("%+v", last)
	}
	poor[paletteRed] = 0.6
	if p := chosen.WithContrast(poor, false); len(p.Findings) != len(chosen.Findings) {
		t.Errorf("0.6 is warned about: %+v", p.Findings)
	}
}

// The squares that a hand may press: 400 boxes at most, one at least.
func TestSquaresForTheScreen(t *testing.T) {
	if got := EasySquaresOn(measure.Size{W: 100, H: 100}, measure.Centimetre); got[0] != 5 || got[len(got)-1] != 100 {
		t.Errorf("10 × 10 cm: %v; want 5 mm, which makes 400, to 10 cm, which makes one", got)
	}
	if got := EasySquaresOn(measure.Size{W: 100, H: 101}, measure.Centimetre); got[0] != 10 {
		t.Errorf("a little more than 400: %v", got)
	}
	if got := EasySquaresOn(measure.Size{W: 99, H: 300}, measure.Centimetre); slices.Contains(got, 100) {
		t.Errorf("9.9 cm wide: %v; 10 cm does not fit", got)
	}
}

// Worked by hand for the handbook's usual papers, drawn twice as large: an even
// square before one that leaves a remainder, of those the one whose boxes suit.
func TestProposedSquares(t *testing.T) {
	for _, c := range []struct {
		w, h, want float64
		u          measure.Unit
	}{
		{203.2, 254, 50.8, measure.Inch}, // 8 × 10 in: 2 in makes 4 × 5 and no remainder
		{180, 240, 30, measure.Centimetre}, {160, 160, 40, measure.Centimetre}, {70, 70, 10, measure.Centimetre}, {3, 4, 0.8, measure.Centimetre}, {9000, 6000, 1800, measure.Centimetre},
	} {
		if got := proposeSquare(measure.Size{W: measure.Length(c.w), H: measure.Length(c.h)}, Wish{Units: c.u, Scale: 2}); math.Abs(float64(got)-c.want) > 1e-9 {
			t.Errorf("%g × %g mm: %g; want %g", c.w, c.h, float64(got), c.want)
		}
	}
}

// Letters go on after Z as on a spreadsheet; a box past the last is none.
func TestLabelsFarOut(t *testing.T) {
	p := made(t, Request{Reference: "300x90mm", Scale: "2", Method: "parts", Parts: "30x9", Units: "cm"})
	for label, column := range map[string]int{"A9": 0, "Z1": 25, "AA1": 26, "AD9": 29} {
		if c, ok := p.Find(label); !ok || c.Column != column || c.Label != label {
			t.Errorf("%s: %v %v", label, c.Column, ok)
		}
	}
	for _, none := range []string{"AE1", "A10", "A0", "1A", "[1", "a b", ""} {
		if c, ok := p.Find(none); ok {
			t.Errorf("%q is %s", none, c.Label)
		}
	}
}

// A file of before there were rulers gets the usual one; lengths are written in full.
func TestFilesOfBefore(t *testing.T) {
	p := made(t, kept["low"])
	p.Ruler = Ruler{}
	b, err := Encode(p)
	if err != nil {
		t.Fatal(err)
	}
	if old, err := Decode(b); err != nil || old.Ruler != usualRuler(ByRuler, measure.Centimetre) {
		t.Errorf("%+v, %v", old.Ruler, err)
	}
	named := made(t, kept["turned"])
	if b, err = Encode(named); err != nil {
		t.Fatal(err)
	}
	if again, err := Decode(b); err != nil || again.Ruler != named.Ruler {
		t.Errorf("a ruler of its own became %+v, %v", again.Ruler, err)
	}
	if yardstick(measure.Inch) != 914.4 || yardstick(measure.Centimetre) != 1000 || mm(12.3456) != "12.3456mm" {
		t.Error("a yard, a metre or a length is not what it is")
	}
}

// A drawing thinner or longer than anybody draws is a problem of what it was
// worked out from, not a plan whose file cannot be read.
func TestSlivers(t *testing.T) {
	for _, c := range []struct {
		r     Request
		field string // "" where it can be drawn
	}{
		{Request{Reference: "1in", Picture: [2]int{138, 99_841}, Paper: "12x18in"}, "paper"},
		{Request{Reference: "5x20000mm", Paper: "4x4in"}, "paper"},
		{Request{Reference: "5x20000mm", Paper: "20x4500mm", Units: "mm", ReferenceSquare: "200mm"}, ""},
		{Request{Reference: "10x10mm", Scale: "0.09", Units: "mm"}, "scale"},
		{Request{Reference: "10x10mm", Scale: "0.1", Units: "mm"}, ""},
		{Request{Reference: "1000x1000mm", Scale: "101", Units: "mm", Method: "parts"}, "scale"},
		{Request{Reference: "10x10mm", Paper: "30x5mm", Margin: "2.2mm", Units: "mm"}, "paper"},
	} {
		p, err := Make(c.r)
		if problems := ProblemsOf(err); c.field != "" && (len(problems) != 1 || problems.Of(c.field) == "") {
			t.Errorf("%+v: %+v, %v; want a problem of %s", c.r, p.Sheet, err, c.field)
		}
		if c.field != "" {
			continue
		}
		if file, _ := Encode(p); err != nil {
			t.Errorf("%+v: %v", c.r, err)
		} else if _, err := Decode(file); err != nil {
			t.Errorf("%+v: its file: %v", c.r, err)
		}
	}
}

// Squares asked for on the sheet, a hair more or less than it holds: no
// remainder, and the file comes back. A hair is never much of a square.
func TestAHairOff(t *testing.T) {
	for _, c := range []struct {
		r             Request
		columns, rows int
	}{
		{Request{Reference: "7in", Picture: [2]int{4019, 3015}, Paper: "12x18in", SheetSquare: "1in"}, 16, 12},
		{Request{Reference: "50x50mm", Scale: "200", SheetSquare: "1001mm", Units: "mm"}, 10, 10},
		{Request{Reference: "50x50mm", Scale: "200", SheetSquare: "998mm", Units: "mm"}, 11, 11},
		{Request{Reference: "5x5mm", Scale: "200", SheetSquare: "33.5mm", Units: "mm"}, 30, 30}, // 0.1675 mm on the print
	} {
		p, err := Make(c.r)
		if err != nil {
			t.Errorf("%+v: %v", c.r, err)
			continue
		}
		if p.Grid.Columns != c.columns || p.Grid.Rows != c.rows {
			t.Errorf("%+v: %d × %d boxes; want %d × %d", c.r, p.Grid.Columns, p.Grid.Rows, c.columns, c.rows)
		}
		file, _ := Encode(p)
		if back, err := Decode(file); err != nil || !reflect.DeepEqual(back, p) {
			t.Errorf("%+v: its file comes back as %+v, %v", c.r, back.Grid, err)
		}
	}
}

// As many papers and parts as there may be, and one more.
func TestMostOfThem(t *testing.T) {
	for _, c := range []struct {
		r    Request
		good bool
	}{
		{Request{Reference: "20x15cm", Paper: "A3", Panels: "12x12", Units: "cm"}, true},
		{Request{Reference: "20x15cm", Paper: "A3", Panels: "13x1", Units: "cm"}, false},
		{Request{Reference: "20x15cm", Paper: "A3", Panels: "1x13", Units: "cm"}, false},
		{Request{Reference: "1000x1000mm", Scale: "1", Method: "parts", Parts: "40x25", Units: "cm"}, true},
		{Request{Reference: "1000x1000mm", Scale: "1", Method: "parts", Parts: "40x26", Units: "cm"}, false},
	} {
		if _, err := Make(c.r); (err == nil) != c.good {
			t.Errorf("panels %q, parts %q: %v; good %v", c.r.Panels, c.r.Parts, err, c.good)
		}
	}
}

// A block of boxes is named by any two of its corners, whichever way labels go; a box that
// there is not makes none.
func TestBlock(t *testing.T) {
	p, err := Make(Request{Reference: "7x9in", Paper: "14x18in", ReferenceSquare: "1in", Letters: "down"})
	if err != nil {
		t.Fatal(err)
	}
	for _, name := range []string{"B2:C4", "C4:B2", "B4:C2"} {
		cells, ok := p.Block(name)
		var labels []string
		for _, c := range cells {
			labels = append(labels, c.Label)
		}
		if want := []string{"B2", "B3", "B4", "C2", "C3", "C4"}; !ok || !slices.Equal(labels, want) {
			t.Errorf("%s is %v, %v; want %v", name, labels, ok, want)
		}
	}
	for _, none := range []string{"", "B2", "B2:", ":B2", "A1:Z9", "B2:C4:D5"} {
		if cells, ok := p.Block(none); ok {
			t.Errorf("%q is %d boxes", none, len(cells))
		}
	}
}
