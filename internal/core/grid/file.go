package grid

import (
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"slices"
	"strings"

	"zestysketch/internal/core/measure"
)

// ErrFile is wrapped by every error of a plan file that cannot be used.
var ErrFile = errors.New("not a plan")

// Encode returns the plan as zesty-plan/1 JSON, indented, with a final newline.
func Encode(p Plan) ([]byte, error) {
	b, err := json.MarshalIndent(p, "", "  ")
	return append(b, '\n'), err
}

// Decode reads zesty-plan/1 JSON. Sizes and counts are believed only where they
// agree with each other; scale, squash and marks are worked out again. Errors wrap ErrFile.
func Decode(b []byte) (Plan, error) {
	var p Plan
	if err := json.Unmarshal(b, &p); err != nil {
		return Plan{}, fmt.Errorf("%w: the file is damaged or cut off (%v); export it again", ErrFile, err)
	}
	p.fillIn()
	if p.Format != Format {
		if strings.HasPrefix(p.Format, "zesty-plan/") {
			return Plan{}, fmt.Errorf("%w: the file is %s and this program reads %s; use a newer program", ErrFile, p.Format, Format)
		}
		return Plan{}, fmt.Errorf("%w: wanted a file whose format is %s, got %q", ErrFile, Format, p.Format)
	}
	if err := p.check(); err != nil {
		return Plan{}, fmt.Errorf("%w: %w; export it again", ErrFile, err)
	}
	if p.Grid.Split == nil {
		p.Grid.Split = map[string]int{}
	}
	if p.Working == nil {
		p.Working = []string{}
	}
	p.derive()
	made := slices.DeleteFunc(p.Findings, func(f Finding) bool { return f.Code != codeCrop && f.Code != codeRoom && f.Code != codeLine })
	p.Findings = append(p.find(), made...)
	return p, nil
}

// fillIn gives files of before what they could not say yet.
func (p *Plan) fillIn() {
	if p.Line == (Line{}) {
		p.Line = Line{Color: "dark", Width: defaultLine}
	}
	if p.Ruler == (Ruler{}) {
		p.Ruler = usualRuler(ByRuler, p.Units)
	}
}

// check says what in a plan contradicts itself or cannot be.
func (p Plan) check() error {
	if _, err := measure.ParseUnit(string(p.Units)); err != nil {
		return err
	}
	if !slices.Contains([]Method{Squares, Parts, Quarters, Diagonals}, p.Method) {
		return fmt.Errorf("wanted squares, parts, quarters or diagonals as the method, got %q", p.Method)
	}
	if p.Grid.Labels.Letters != Across && p.Grid.Labels.Letters != Down {
		return fmt.Errorf("wanted letters across or down, got %q", p.Grid.Labels.Letters)
	}
	for _, side := range []float64{p.Reference.Width, p.Reference.Height, p.Sheet.Width, p.Sheet.Height, p.Sheet.Stock[0], p.Sheet.Stock[1]} {
		if !(side >= 1 && side <= float64(mostSide)*mostScale) {
			return fmt.Errorf("a side of %g mm cannot be", side)
		}
	}
	if f := p.Frame; f != nil && !(f.Picture[0] > 0 && f.Picture[1] > 0 && f.Size[0] > 0 && f.Size[1] > 0 && f.Inside()) {
		return fmt.Errorf("the frame lies outside its picture of %d × %d pixels", f.Picture[0], f.Picture[1])
	}
	for _, v := range []float64{p.Sheet.Origin.X, p.Sheet.Origin.Y, p.Sheet.Strip, float64(p.Sheet.Panels[0]), float64(p.Sheet.Panels[1]), p.Line.Width} {
		if !(v >= 0 && v <= float64(mostSide)) {
			return fmt.Errorf("a place of %g mm on the paper cannot be", v)
		}
	}
	if r := p.Ruler; !slices.Contains(Ways, r.Way) || !(r.Length == 0 || r.Length > r.Zero && r.Length <= float64(mostSide)) || !(r.Zero >= 0 && r.Zero <= 100 && r.Step > 0 && r.Step <= 26) {
		return fmt.Errorf("a ruler of %g mm with its zero at %g mm cannot be", r.Length, r.Zero)
	}
	if !slices.Contains(LineColors(), p.Line.Color) {
		return fmt.Errorf("wanted a line colour such as dark or white, got %q", p.Line.Color)
	}
	g := p.Grid
	if g.Columns < 1 || g.Rows < 1 || g.Columns > mostCells || g.Rows > mostCells || p.Count() > mostCells {
		return fmt.Errorf("%d × %d boxes cannot be", g.Columns, g.Rows)
	}
	g.Labels.columns, g.Labels.rows = g.Columns, g.Rows
	for label, n := range g.Split {
		column, row, ok := g.Labels.Place(label)
		if !ok || column >= g.Columns || row >= g.Rows || n != 2 && n != 4 {
			return fmt.Errorf("box %q split in %d cannot be", label, n)
		}
	}
	for _, s := range []struct {
		what            string
		n               int
		cell, rest, all float64
	}{
		{"the picture's columns", g.Columns, g.ReferenceCell[0], g.ReferenceRemainder[0], p.Reference.Width},
		{"the picture's rows", g.Rows, g.ReferenceCell[1], g.ReferenceRemainder[1], p.Reference.Height},
		{"the sheet's columns", g.Columns, g.SheetCell[0], g.SheetRemainder[0], p.Sheet.Width},
		{"the sheet's rows", g.Rows, g.SheetCell[1], g.SheetRemainder[1], p.Sheet.Height},
	} {
		whole, rests := float64(s.n), 0.0
		if s.rest > 0 {
			rests = 1
			if g.RemainderAt == Shared {
				rests = 2
			}
		}
		if !(s.cell > 0 && s.rest >= 0) || math.Abs((whole-rests)*s.cell+rests*s.rest-s.all) > 0.1 {
			return fmt.Errorf("%s do not add up to %g mm", s.what, s.all)
		}
	}
	return nil
}
