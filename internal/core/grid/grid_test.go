package grid

import (
	"bytes"
	"errors"
	"fmt"
	"math"
	"math/rand/v2"
	"reflect"
	"regexp"
	"slices"
	"strings"
	"testing"

	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/plane"
)

func mustMake(t testing.TB, r Request) Plan {
	t.Helper()
	p, err := Make(r)
	if err != nil {
		t.Fatalf("Make(%+v): %v", r, err)
	}
	return p
}

func inchesOf(mm []float64) []float64 {
	in := make([]float64, len(mm))
	for i, v := range mm {
		in[i] = math.Round(v/25.4*1000) / 1000
	}
	return in
}

// The worked examples of the trade, common practice.
func TestWorkedPlans(t *testing.T) {
	for _, c := range []struct {
		name          string
		ask           Request
		columns, rows int
		sheet         [2]float64 // mm
		remainder     [2]float64 // on the reference, mm
		findings      string
	}{
		{"8 × 9 1/2 at 1 in on 12 × 18 paper",
			Request{Reference: "8x9 1/2in", Paper: "12x18in", Fit: "width", ReferenceSquare: "1in"},
			8, 10, [2]float64{304.8, 361.95}, [2]float64{0, 12.7}, "trim remainder even"},
		{"the same, cut at 14 in",
			Request{Reference: "8x9 1/2in", Paper: "12x18in", Fit: "width", Round: "1in", ReferenceSquare: "1in"},
			8, 10, [2]float64{304.8, 355.6}, [2]float64{0, 12.7}, "squash trim remainder even ruler"},
		{"16 × 20 cm in 4 cm squares is 20 × 25 at 5 cm",
			Request{Units: "cm", Reference: "16x20", ReferenceSquare: "4", SheetSquare: "5"},
			4, 5, [2]float64{200, 250}, [2]float64{}, ""},
		{"7 × 9 at 1 in doubled",
			Request{Reference: "7x9", ReferenceSquare: "1", Scale: "2"},
			7, 9, [2]float64{355.6, 457.2}, [2]float64{}, ""},
		{"2 × 2 1/2 at 1/2 in to 2 in from Letter: trim 1/2 and 1",
			Request{Reference: "2x2 1/2in", ReferenceSquare: "1/2", SheetSquare: "2", Paper: "letter"},
			4, 5, [2]float64{203.2, 254}, [2]float64{}, "trim"},
		{"9 × 12 at 2 in has a one-inch last column",
			Request{Reference: "9x12", ReferenceSquare: "2", Scale: "1"},
			5, 6, [2]float64{228.6, 304.8}, [2]float64{25.4, 0}, "remainder even"},
		{"12 × 14 in four parts each way",
			Request{Reference: "12x14", Method: "parts", Parts: "4x4", Scale: "1"},
			4, 4, [2]float64{304.8, 355.6}, [2]float64{}, ""},
	} {
		p := mustMake(t, c.ask)
		if p.Grid.Columns != c.columns || p.Grid.Rows != c.rows {
			t.Errorf("%s: %d × %d boxes; want %d × %d", c.name, p.Grid.Columns, p.Grid.Rows, c.columns, c.rows)
		}
		if got := [2]float64{p.Sheet.Width, p.Sheet.Height}; got != c.sheet {
			t.Errorf("%s: sheet %v mm; want %v", c.name, got, c.sheet)
		}
		if p.Grid.ReferenceRemainder != c.remainder {
			t.Errorf("%s: remainder %v mm; want %v", c.name, p.Grid.ReferenceRemainder, c.remainder)
		}
		var codes []string
		for _, f := range p.Findings {
			codes = append(codes, f.Code)
		}
		if got := strings.Join(codes, " "); got != c.findings {
			t.Errorf("%s: findings %q; want %q", c.name, got, c.findings)
		}
	}
}

func TestMarksOfParts(t *testing.T) {
	// Common practice: 12 × 14 in 4 × 4 parts has marks at 3, 6, 9 and 3 1/2, 7, 10 1/2.
	p := mustMake(t, Request{Reference: "12x14", Method: "parts", Parts: "4", Scale: "1"})
	if got, want := inchesOf(p.Marks.SheetX), []float64{0, 3, 6, 9, 12}; !slices.Equal(got, want) {
		t.Errorf("marks across %v; want %v", got, want)
	}
	if got, want := inchesOf(p.Marks.SheetY), []float64{0, 3.5, 7, 10.5, 14}; !slices.Equal(got, want) {
		t.Errorf("marks down %v; want %v", got, want)
	}
}

func TestTrimAndSquashInWords(t *testing.T) {
	p := mustMake(t, Request{Reference: "2x2 1/2in", ReferenceSquare: "1/2", SheetSquare: "2", Paper: "letter"})
	if got, want := p.Findings[0].Message, "Trim the 8 1/2 × 11 in paper: 1/2 in off the width and 1 in off the height."; got != want {
		t.Errorf("trim says %q; want %q", got, want)
	}
	p = mustMake(t, Request{Reference: "8x9 1/2in", Paper: "12x18in", Fit: "width", Round: "2in", ReferenceSquare: "1in"})
	if p.SquashPercent > -1.75 || p.SquashPercent < -1.76 {
		t.Errorf("squash %v %%; want -1.754", p.SquashPercent)
	}
	p = mustMake(t, Request{Reference: "8x9 1/2in", Paper: "12x18in", Fit: "width", Round: "3in", ReferenceSquare: "1in"})
	if f := p.Findings[0]; f.Code != "squash" || f.Level != Warn || f.Fix == "" {
		t.Errorf("squash of %.1f %% gives %+v; want a warning that says how to mend it", p.SquashPercent, f)
	}
}

func TestPaperTooSmallStops(t *testing.T) {
	p := mustMake(t, Request{Reference: "8x10", Paper: "letter", Scale: "2", ReferenceSquare: "1"})
	if f, stopped := p.Stopped(); !stopped || f.Code != "paper" {
		t.Errorf("a 16 × 20 drawing on Letter: %+v, %v; want a stop", f, stopped)
	}
}

func TestInsideTurnsThePaper(t *testing.T) {
	p := mustMake(t, Request{Units: "cm", Reference: "20x10", Paper: "A4"})
	if p.Sheet.Stock != [2]float64{297, 210} || p.Sheet.Width != 297 {
		t.Errorf("stock %v, sheet width %v; want A4 lying, filled across", p.Sheet.Stock, p.Sheet.Width)
	}
}

// Laws of every plan: cells tile both papers exactly, marks correspond by the
// scale, labels are unique and found again, and the file comes back unchanged.
func TestLaws(t *testing.T) {
	rng := rand.New(rand.NewPCG(1, 2))
	for i := range 300 {
		ask := Request{
			Reference: fmt.Sprintf("%.2fx%.2f", 2+rng.Float64()*10, 2+rng.Float64()*10),
			Paper:     fmt.Sprintf("%.1fx%.1f", 12+rng.Float64()*10, 12+rng.Float64()*10),
			Fit:       []string{"width", "height", "inside"}[i%3],
			Method:    []string{"squares", "parts", "quarters", "diagonals"}[i%4],
			Parts:     []string{"", fmt.Sprintf("%dx%d", 1+rng.IntN(9), 1+rng.IntN(9)), "8", "4"}[i%4],
			Letters:   []string{"across", "down"}[i%2],
			Start:     Corners[i%4],
			Remainder: []string{"", "end", "start", "shared", "trim"}[i%5],
			Hand:      []string{"", "left"}[i%2],
			Split:     []string{"", "A1 2"}[i%2],
			Margin:    []string{"", "", "0.5"}[i%3],
			Strip:     []string{"", "1", ""}[i%3],
			Panels:    []string{"", "2x1"}[i/2%2],
			Line:      LineColors()[i%5],
			Picture:   [][2]int{{}, {3000, 2000}, {1200, 1600}}[i%3],
		}
		p := mustMake(t, ask)
		if _, stopped := p.Stopped(); stopped && ask.Fit == "inside" {
			t.Fatalf("%+v: fitted inside, and yet %+v", ask, p.Findings)
		}
		var onReference, onSheet float64
		seen := map[string]bool{}
		for _, c := range p.Cells() {
			onReference += c.Reference.Width() * c.Reference.Height()
			onSheet += c.Sheet.Width() * c.Sheet.Height()
			if again, ok := p.Find(c.Label); !ok || again != c || seen[c.Label] {
				t.Fatalf("%+v: label %s found %v %v, seen before %v", ask, c.Label, again, ok, seen[c.Label])
			}
			seen[c.Label] = true
			middle := plane.Pt((c.Sheet.Min.X+c.Sheet.Max.X)/2, (c.Sheet.Min.Y+c.Sheet.Max.Y)/2)
			if got := p.CellAt(middle); got.Label != c.Label {
				t.Fatalf("%+v: middle of %s lies in %s", ask, c.Label, got.Label)
			}
		}
		if want := p.Reference.Width * p.Reference.Height; math.Abs(onReference-want) > 1e-3 {
			t.Errorf("%+v: cells cover %v mm² of the reference; want %v", ask, onReference, want)
		}
		if want := p.Sheet.Width * p.Sheet.Height; math.Abs(onSheet-want) > 1e-3 {
			t.Errorf("%+v: cells cover %v mm² of the sheet; want %v", ask, onSheet, want)
		}
		if p.Frame != nil {
			at := plane.Pt(p.Reference.Width*0.3, p.Reference.Height*0.8)
			if back := p.FromPicture(p.ToPicture(at)); back.Sub(at).Len() > 1e-6 {
				t.Fatalf("%+v: %v on the picture and back is %v", ask, at, back)
			}
		}
		for j, x := range p.Marks.ReferenceX {
			if got := p.ToSheet(plane.Pt(x, 0)).X; math.Abs(got-p.Marks.SheetX[j]) > 1e-4 {
				t.Errorf("%+v: line %d is at %v on the sheet; want %v", ask, j, p.Marks.SheetX[j], got)
			}
		}
		file, err := Encode(p)
		if err != nil {
			t.Fatal(err)
		}
		back, err := Decode(file)
		if err != nil || !reflect.DeepEqual(back, p) {
			t.Fatalf("%+v: file came back as\n%+v, %v; want\n%+v", ask, back, err, p)
		}
	}
}

func TestRefuses(t *testing.T) {
	ok := Request{Reference: "8x10", Paper: "12x18", ReferenceSquare: "1"}
	for _, c := range []struct {
		name, field string
		change      func(*Request)
	}{
		{"no picture size", "reference", func(r *Request) { r.Reference = "" }},
		{"zero", "reference", func(r *Request) { r.Reference = "0x10" }},
		{"negative", "reference", func(r *Request) { r.Reference = "-8x10" }},
		{"absurd", "reference", func(r *Request) { r.Reference = "8x10000in" }},
		{"text", "paper", func(r *Request) { r.Paper = "big" }},
		{"no paper and no scale", "paper", func(r *Request) { r.Paper = "" }},
		{"square of zero", "reference_square", func(r *Request) { r.ReferenceSquare = "0" }},
		{"square larger than the picture", "reference_square", func(r *Request) { r.ReferenceSquare = "11" }},
		{"ten thousand boxes", "reference_square", func(r *Request) { r.ReferenceSquare = "2mm" }},
		{"parts of 0", "parts", func(r *Request) { r.Method, r.Parts = "parts", "0x4" }},
		{"parts past counting", "parts", func(r *Request) { r.Method, r.Parts = "parts", "999x999" }},
		{"unknown school", "method", func(r *Request) { r.Method = "spiral" }},
		{"a scale that is a length", "scale", func(r *Request) { r.Scale = "2in" }},
		{"scale of 0", "scale", func(r *Request) { r.Scale = "0" }},
		{"scale against squares", "scale", func(r *Request) { r.SheetSquare, r.Scale = "2", "3" }},
		{"frame outside", "frame", func(r *Request) { r.Picture, r.Frame = [2]int{800, 1000}, "790,500 400x500" }},
		{"frame of no area", "frame", func(r *Request) { r.Picture, r.Frame = [2]int{800, 1000}, "400,500 0x500" }},
		{"frame in words", "frame", func(r *Request) { r.Picture, r.Frame = [2]int{800, 1000}, "the middle" }},
		{"split of a box that is not there", "split", func(r *Request) { r.Split = "Z9 2" }},
		{"split in three", "split", func(r *Request) { r.Split = "A1 3" }},
		{"unknown start", "start", func(r *Request) { r.Start = "middle" }},
		{"six parts of quarters", "parts", func(r *Request) { r.Method, r.Parts = "quarters", "6" }},
		{"margins wider than the paper", "margin", func(r *Request) { r.Margin = "9" }},
		{"a line as wide as a finger", "line_width", func(r *Request) { r.LineWidth = "12mm" }},
		{"no such colour", "line", func(r *Request) { r.Line = "plaid" }},
		{"panels of nothing", "panels", func(r *Request) { r.Panels = "0x1" }},
		{"unit", "units", func(r *Request) { r.Units = "cubits" }},
	} {
		r := ok
		c.change(&r)
		p, err := Make(r)
		if ProblemsOf(err).Of(c.field) == "" {
			t.Errorf("%s: got %+v, %v; want a problem with %s", c.name, p, err, c.field)
		}
	}
}

func TestFrame(t *testing.T) {
	whole := mustMake(t, Request{Picture: [2]int{2400, 3000}, Reference: "8in", Scale: "1.5"})
	if whole.Reference.Height != 254 || !whole.Frame.Whole() {
		t.Errorf("8 in wide: %+v %+v; want 10 in high and the whole picture", whole.Reference, whole.Frame)
	}
	cut := mustMake(t, Request{Picture: [2]int{3000, 2000}, Reference: "8x8in", Scale: "1.5"})
	if want := (Frame{Picture: [2]int{3000, 2000}, Centre: plane.Pt(1500, 1000), Size: [2]float64{2000, 2000}}); *cut.Frame != want || cut.Findings[len(cut.Findings)-1].Code != "crop" {
		t.Errorf("a square of it: %+v; want the middle, and a word about it", cut.Frame)
	}
	trimmed := mustMake(t, Request{Picture: [2]int{900, 1200}, Reference: "9x12in", ReferenceSquare: "2in", Scale: "1", Remainder: "trim"})
	if trimmed.Reference.Width != 203.2 || trimmed.Grid.Columns != 4 || trimmed.Frame.Size != [2]float64{800, 1200} || trimmed.Frame.Centre != plane.Pt(400, 600) {
		t.Errorf("trimmed to whole squares: %+v %+v", trimmed.Reference, trimmed.Frame)
	}
	for _, c := range []struct {
		width string
		level Level
	}{{"8in", ""}, {"12in", Note}, {"20in", Warn}} {
		p := mustMake(t, Request{Picture: [2]int{2400, 2400}, Reference: c.width, Scale: "1.5", Method: "parts"})
		var got Level
		for _, f := range p.Findings {
			if f.Code == "resolution" {
				got = f.Level
			}
		}
		if got != c.level {
			t.Errorf("2400 pixels on %s: %q; want %q", c.width, got, c.level)
		}
	}
}

// A frame at an angle: its corners by hand, and millimetres keep their lengths.
func TestFrameAtAnAngle(t *testing.T) {
	p := mustMake(t, Request{Picture: [2]int{1000, 1000}, Frame: "500,500 400x300 90", Reference: "8in", Scale: "1.5"})
	for i, want := range [4]plane.Point{plane.Pt(650, 300), plane.Pt(650, 700), plane.Pt(350, 700), plane.Pt(350, 300)} {
		if got := p.Frame.Corners()[i]; got.Sub(want).Len() > 1e-9 {
			t.Errorf("corner %d is %v; want %v", i, got, want)
		}
	}
	p = mustMake(t, Request{Picture: [2]int{1000, 1000}, Frame: "480,510 400x300 27.5 mirror", Reference: "8in", Scale: "1.5"})
	a, b := p.FromPicture(plane.Pt(450, 500)), p.FromPicture(plane.Pt(450, 600))
	if got, want := a.Sub(b).Len(), 100*203.2/400; math.Abs(got-want) > 1e-9 {
		t.Errorf("100 pixels are %v mm; want %v", got, want)
	}
	if again := mustMake(t, Request{Picture: [2]int{1000, 1000}, Frame: p.Frame.String(), Reference: "8in", Scale: "1.5"}); *again.Frame != *p.Frame {
		t.Errorf("written and read: %+v; want %+v", again.Frame, p.Frame)
	}
}

func TestRemainderPlaces(t *testing.T) {
	for _, c := range []struct {
		where   string
		columns int
		marks   []float64 // inches on the sheet
	}{
		{"end", 5, []float64{0, 2, 4, 6, 8, 9}},
		{"start", 5, []float64{0, 1, 3, 5, 7, 9}},
		{"shared", 6, []float64{0, 0.5, 2.5, 4.5, 6.5, 8.5, 9}},
		{"trim", 4, []float64{0, 2, 4, 6, 8}},
	} {
		p := mustMake(t, Request{Reference: "9x12", ReferenceSquare: "2", Scale: "1", Remainder: c.where})
		if got := inchesOf(p.Marks.SheetX); p.Grid.Columns != c.columns || !slices.Equal(got, c.marks) {
			t.Errorf("%s: %d columns at %v; want %d at %v", c.where, p.Grid.Columns, got, c.columns, c.marks)
		}
	}
}

func TestLabelsFromAnyCorner(t *testing.T) {
	for start, want := range map[string]string{"top left": "A1", "top right": "D1", "bottom left": "A3", "bottom right": "D3"} {
		p := mustMake(t, Request{Reference: "4x3", Method: "parts", Parts: "4x3", Scale: "2", Start: start})
		if got := p.Cell(0, 0).Label; got != want {
			t.Errorf("started %s, the top left box is %s; want %s", start, got, want)
		}
	}
	p := mustMake(t, Request{Reference: "4x3", Method: "parts", Parts: "4x3", Scale: "2"})
	if got := p.Order(LeftHand)[0].Label + p.Order(LeftHand)[4].Label + p.Order(RightHand)[0].Label; got != "D1D2A1" {
		t.Errorf("left-handed D1, then D2; right-handed A1; got %s", got)
	}
}

// Two 12 × 18 sheets as one: worked by hand, an 8 × 9 frame in 24 × 18 is
// enlarged twice to 16 × 18 and stands 4 in from the left, so the lines at 4,
// 6, 8, 10 and 12 are on the first sheet and 0, 2, 4, 6, 8 on the second.
func TestPanelsAndPlacing(t *testing.T) {
	p := mustMake(t, Request{Reference: "8x9", Paper: "12x18", Panels: "2x1", ReferenceSquare: "1"})
	panels := p.Panels()
	if len(panels) != 2 || !slices.Equal(inchesOf(panels[0].X), []float64{4, 6, 8, 10, 12}) || !slices.Equal(inchesOf(panels[1].X), []float64{0, 2, 4, 6, 8}) {
		t.Fatalf("panels %+v", panels)
	}
	p = mustMake(t, Request{Reference: "8x10", Paper: "12x18", Margin: "1", Strip: "1", ReferenceSquare: "1"})
	if got := inchesOf([]float64{p.Sheet.Origin.X, p.Sheet.Origin.Y}); got[0] != 1 || p.Sheet.Width/25.4 > 10.001 || (p.Sheet.Origin.Y+p.Sheet.Height)/25.4 > 16.001 {
		t.Errorf("origin %v, sheet %v × %v in; want margins of 1 and a strip of 1 in kept", got, p.Sheet.Width/25.4, p.Sheet.Height/25.4)
	}
	// Only the head is gridded, and the rest of the picture still fits the paper.
	p = mustMake(t, Request{Picture: [2]int{1000, 1400}, Frame: "500,350 400x500", Reference: "4in", Room: "whole", Paper: "18x24", Margin: "1", ReferenceSquare: "1/2"})
	k := p.Scale[0] * p.Reference.Width / 400 // mm on the sheet a pixel
	if left, right := p.Sheet.Origin.X-300*k, p.Sheet.Origin.X+700*k; left < 25.39 || right > 17*25.4+0.01 {
		t.Errorf("the whole picture would stand from %v to %v mm", left, right)
	}
	if bottom := p.Sheet.Origin.Y + 1300*k; bottom > 23*25.4+0.01 {
		t.Errorf("the whole picture would end %v mm down", bottom)
	}
}

func TestLabelsPastZ(t *testing.T) {
	for n, want := range map[int]string{0: "A", 25: "Z", 26: "AA", 51: "AZ", 52: "BA", 701: "ZZ", 702: "AAA"} {
		if got := letters(n); got != want {
			t.Errorf("letter %d is %s; want %s", n, got, want)
		}
	}
	for _, label := range []string{"", "4", "C", "C0", "C04", "C4x", "é4", "C-1", "AAAAAAAA9"} {
		if column, row, ok := (Labels{Letters: Across}).Place(label); ok {
			t.Errorf("%q is at %d, %d; want no place", label, column, row)
		}
	}
}

// The first files said where a frame's top left corner lies, and not its centre.
func TestFirstFiles(t *testing.T) {
	p, err := Make(Request{Picture: [2]int{900, 1100}, Reference: "6in", Paper: "12x18in", ReferenceSquare: "1in"})
	if err != nil {
		t.Fatal(err)
	}
	file, err := Encode(p)
	if err != nil {
		t.Fatal(err)
	}
	centre := regexp.MustCompile(`"centre_px": *(\[[^]]*\]|\{[^}]*\})`)
	if !centre.Match(file) {
		t.Fatalf("no centre in %s", file)
	}
	first := centre.ReplaceAllString(string(file), fmt.Sprintf(`"min_px":[%g,%g]`, p.Frame.Centre.X-p.Frame.Size[0]/2, p.Frame.Centre.Y-p.Frame.Size[1]/2))
	if back, err := Decode([]byte(first)); err != nil || !reflect.DeepEqual(back, p) {
		t.Errorf("a file of the first days came back as %+v, %v; want %+v", back, err, p)
	}
}

func TestDecodeRefuses(t *testing.T) {
	file, err := Encode(mustMake(t, Request{Reference: "8x10", Paper: "12x18", ReferenceSquare: "1"}))
	if err != nil {
		t.Fatal(err)
	}
	for _, c := range []struct{ name, from, to string }{
		{"later version", `zesty-plan/1`, `zesty-plan/2`},
		{"another file", `zesty-plan/1`, `else`},
		{"columns that do not add up", `"columns": 8`, `"columns": 9`},
		{"no rows", `"rows": 10`, `"rows": 0`},
		{"unknown unit", `"units": "in"`, `"units": "ell"`},
		{"endless side", `"width_mm": 203.2`, `"width_mm": 1e300`},
		{"split that is not there", `"split": {}`, `"split": {"Z99": 2}`},
		{"cut off", "\n}", ""},
	} {
		bad := bytes.Replace(file, []byte(c.from), []byte(c.to), 1)
		if bytes.Equal(bad, file) {
			t.Fatalf("%s: nothing replaced in\n%s", c.name, file)
		}
		if p, err := Decode(bad); !errors.Is(err, ErrFile) {
			t.Errorf("%s: got %+v, %v; want ErrFile", c.name, p, err)
		}
	}
}

func FuzzDecode(f *testing.F) {
	p, err := Make(Request{Reference: "8x10", Paper: "12x18"})
	if err != nil {
		f.Fatal(err)
	}
	file, _ := Encode(p)
	f.Add(file)
	f.Add([]byte(`{"format":"zesty-plan/1"}`))
	f.Fuzz(func(t *testing.T, b []byte) {
		p, err := Decode(b)
		if err != nil {
			return
		}
		if len(p.Cells()) != p.Count() {
			t.Fatalf("%d cells; want %d", len(p.Cells()), p.Count())
		}
	})
}

func TestProposeSquare(t *testing.T) {
	for _, c := range []struct {
		size string
		unit measure.Unit
	}{{"8x10", measure.Inch}, {"16x20", measure.Centimetre}, {"5x7", measure.Inch}, {"A4", measure.Centimetre}, {"18x24", measure.Inch}} {
		size, err := measure.ParseSize(c.size, c.unit)
		if err != nil {
			t.Fatal(err)
		}
		square := proposeSquare(size, Wish{Units: c.unit, Scale: 2})
		columns, _ := strips(float64(size.W), float64(square))
		rows, _ := strips(float64(size.H), float64(square))
		if n := columns * rows; n < 16 || n > 48 || !slices.Contains(EasySquares(c.unit), square) {
			t.Errorf("%s: square %s makes %d boxes; want an easy square and 16 to 35, or 48 without a remainder", c.size, square.Text(c.unit), n)
		}
	}
}

func BenchmarkMake(b *testing.B) {
	for b.Loop() {
		mustMake(b, Request{Reference: "8x9 1/2in", Paper: "12x18in", Fit: "width", ReferenceSquare: "1in"})
	}
}

func ExampleMake() {
	p, _ := Make(Request{Reference: "8 x 9 1/2 in", Paper: "12 x 18 in", Fit: "width", ReferenceSquare: "1 in"})
	fmt.Println(p.Grid.Columns, "×", p.Grid.Rows, "boxes on", p.SheetSize().Text(p.Units))
	fmt.Println(p.Working[2])
	// Output:
	// 8 × 10 boxes on 12 × 14 1/4 in
	// 114 ÷ 8 = 14 1/4
}

// A plan whose lengths are written in centimetres is in centimetres, where no unit is chosen.
func TestUnitsOfTheLengths(t *testing.T) {
	for _, c := range []struct {
		reference, paper, units string
		want                    measure.Unit
	}{
		{"20x25cm", "40x50cm", "", measure.Centimetre}, {"200x250mm", "400x500 mm", "", measure.Millimetre}, {"8x10in", "16x20in", "", measure.Inch},
		{"8x10", "A3", "", measure.Inch}, {"8x10in", "40x50cm", "in", measure.Inch}, {"20x25cm", "16x20", "", measure.Inch}, {"20x25cm", "A3", "", measure.Centimetre},
	} {
		p, err := Make(Request{Reference: c.reference, Paper: c.paper, Units: c.units})
		if err != nil || p.Units != c.want {
			t.Errorf("%s on %s, units %q: %s, %v; want %s", c.reference, c.paper, c.units, p.Units, err, c.want)
		}
	}
}
