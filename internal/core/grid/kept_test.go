package grid

import (
	"bytes"
	"encoding/json"
	"flag"
	"fmt"
	"os"
	"path/filepath"
	"testing"

	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/plane"
)

var keep = flag.Bool("keep", false, "write testdata/kept anew; look through what changed in it")

// kept are requests that between them use everything a plan has. What each
// makes was looked through once and lies in testdata/kept: a plan that hangs on
// a wall comes out of a later program as it was.
var kept = map[string]Request{
	"inches":  {Reference: "8x9.5in", Paper: "12x18in", Fit: "width", Round: "1/2in", Units: "in"},
	"turned":  {Reference: "10x7in", Paper: "12x18in", Fit: "inside", Units: "in", SheetSquare: "1.5in", RulerZero: "1/4in", Ruler: "12in", Hand: "left"},
	"upright": {Reference: "7x10in", Paper: "18x12in", Fit: "inside", Round: "1/4in down", Units: "in", MarkBy: "strip", Remainder: "start"},
	"shared":  {Reference: "175x232mm", Paper: "A3", Units: "cm", ReferenceSquare: "2cm", SheetSquare: "3cm", Remainder: "shared", Start: "bottom right", Letters: "down"},
	"low":     {Picture: [2]int{900, 1200}, Reference: "18cm", Paper: "A2", Fit: "inside", Units: "cm", Skill: "detailed", Minutes: "90"},
	"framed": {Picture: [2]int{3000, 2400}, Reference: "14cm", Paper: "A3", Fit: "inside", Units: "cm",
		ReferenceSquare: "3cm", Frame: "1400,1100 1600x1200 12 mirror", Split: "B2 2, C3 4", Margin: "2cm",
		Strip: "3cm"},
	"whole":       {Picture: [2]int{3000, 2400}, Reference: "10cm", Paper: "A2", Units: "cm", Frame: "900,1100 1200x900", Room: "whole"},
	"panels":      {Reference: "20x15cm", Paper: "A3", Panels: "2x3", Scale: "3", Units: "cm", SheetSquare: "10cm", MarkBy: "yardstick", Ruler: "1m"},
	"parts":       {Reference: "8x11in", Paper: "16x20in", Method: "parts", Parts: "4x8", Units: "in", MarkBy: "folding", Hand: "left"},
	"unfolded":    {Reference: "8x11in", Paper: "16x20in", Method: "parts", Parts: "5x6", Units: "in", MarkBy: "folding"},
	"quarters":    {Reference: "20x30cm", Paper: "A2", Method: "quarters", Units: "cm", MarkBy: "t-square", RulerZero: "5mm"},
	"diagonals":   {Reference: "20x30cm", Scale: "1.5", Method: "diagonals", Units: "cm"},
	"smaller":     {Reference: "40x30cm", Paper: "A4", Fit: "inside", Units: "cm", Ruler: "15cm", RulerStep: "5mm"},
	"squashed":    {Reference: "8x9.5in", Paper: "12x18in", Fit: "width", Round: "1in up", Units: "in"},
	"seen squash": {Reference: "8x9.5in", Paper: "12x18in", Fit: "width", Round: "3in", Units: "in", Line: "red", LineWidth: "0.5mm"},
	"trimmed":     {Picture: [2]int{1800, 2100}, Reference: "17.5x23.2cm", Paper: "A3", Units: "cm", ReferenceSquare: "3cm", Remainder: "trim"},
}

// busyCorner is a picture whose detail sits at one place.
var busyCorner = Busy{Columns: 3, Rows: 4, Share: []float64{0.03, 0.02, 0.05, 0.04, 0.4, 0.06, 0.02, 0.08, 0.1, 0.1, 0.05, 0.05}}

func TestKeptPlansStayAsTheyWere(t *testing.T) {
	for name, r := range kept {
		p, err := Make(r)
		if err != nil {
			t.Errorf("%s: %v", name, err)
			continue
		}
		var out bytes.Buffer
		file, err := Encode(p)
		if err != nil {
			t.Fatal(err)
		}
		out.Write(file)
		show := json.NewEncoder(&out)
		show.SetEscapeHTML(false)
		for _, panel := range p.Panels() {
			show.Encode(panel)
			show.Encode(p.CardFor(panel))
		}
		for _, c := range Rank(measure.Size{W: measure.Length(p.Reference.Width), H: measure.Length(p.Reference.Height)}, p.Wish(2, busyCorner)) {
			fmt.Fprintf(&out, "%s %v %v %d × %d %v %.6f %q\n", c.Method, c.Square, c.Sheet, c.Columns, c.Rows, c.Remainder, c.Cost, c.Reasons)
		}
		for _, at := range []plane.Point{plane.Pt(0, 0), plane.Pt(31.3, 17.9), plane.Pt(p.Reference.Width/2, p.Reference.Height)} {
			px := p.ToPicture(at)
			fmt.Fprintf(&out, "%.4f %.4f %.4f %s\n", px, p.FromPicture(px), p.ToSheet(at), p.CellAt(p.ToSheet(at)).Label)
		}
		path := filepath.Join("testdata", "kept", name+".txt")
		if *keep {
			if err := os.WriteFile(path, out.Bytes(), 0o644); err != nil {
				t.Fatal(err)
			}
		}
		want, err := os.ReadFile(path)
		if err != nil {
			t.Fatal(err)
		}
		if got := out.Bytes(); !bytes.Equal(got, want) {
			t.Errorf("%s is another plan than it was:\n%s", name, firstLine(got, want))
		}
	}
}

// firstLine returns the first line that differs, as it is and as it was.
func firstLine(got, want []byte) string {
	a, b := bytes.Split(got, []byte("\n")), bytes.Split(want, []byte("\n"))
	for i := range min(len(a), len(b)) {
		if !bytes.Equal(a[i], b[i]) {
			return fmt.Sprintf("line %d is  %s\nline %d was %s", i+1, a[i], i+1, b[i])
		}
	}
	return fmt.Sprintf("%d lines; were %d", len(a), len(b))
}
