// Package grid makes plans: how a frame of a reference becomes a gridded
// sheet of equal counts, by measured squares, equal parts or quarter marks.
//
// A Plan is a value made by a pure function from what the teacher chose. Its
// JSON is the open file format zesty-plan/1, docs/formats.md. The package
// knows no pictures and draws nothing.
package grid

import (
	"math"
	"slices"

	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/plane"
)

// Format names the version of the plan file that this package writes.
const Format = "zesty-plan/1"

// Method is the school by which both grids are ruled.
type Method string

// The schools of gridding.
const (
	Squares   Method = "squares"   // one square size each for reference and sheet, with a remainder
	Parts     Method = "parts"     // each side divided equally, cells oblong where they must be
	Quarters  Method = "quarters"  // half and quarter marks at the edges, not ruled through
	Diagonals Method = "diagonals" // halves found by corner-to-corner lines, without a ruler
)

// Methods lists the schools.
var Methods = []Method{Squares, Parts, Quarters, Diagonals}

// Plan says everything about size and grid. Lengths are millimetres, x right
// and y down from the frame's top left corner.
type Plan struct {
	Format        string       `json:"format"`
	Name          string       `json:"name,omitempty"`
	Units         measure.Unit `json:"units"`
	Method        Method       `json:"method"`
	Reference     Reference    `json:"reference"`
	Frame         *Frame       `json:"frame,omitempty"` // nil where no picture is known
	Sheet         Sheet        `json:"sheet"`
	Grid          Grid         `json:"grid"`
	Scale         [2]float64   `json:"scale"`
	SquashPercent float64      `json:"squash_percent"`
	Marks         Marks        `json:"marks"`
	Working       []string     `json:"working"`
	Findings      []Finding    `json:"findings"`
	Line          Line         `json:"line"`
	Hand          Hand         `json:"hand,omitempty"` // left for drawing order from the top right
	Ruler         Ruler        `json:"ruler"`
	Typed         Request      `json:"typed,omitzero"` // what the teacher wrote, so that nothing drifts
}

// Reference is the printed size of the frame that is copied.
type Reference struct {
	Width  float64 `json:"width_mm"`
	Height float64 `json:"height_mm"`
}

// Sheet is the drawing's size, the paper it is cut from and where on it it starts.
type Sheet struct {
	Width  float64     `json:"width_mm"`
	Height float64     `json:"height_mm"`
	Stock  [2]float64  `json:"stock_mm"` // one paper, as it lies
	Origin plane.Point `json:"origin_mm"`
	Panels [2]int      `json:"panels,omitzero"`   // papers across and down that hang as one; none is one
	Strip  float64     `json:"strip_mm,omitzero"` // kept free at the bottom for trying materials
	Canvas bool        `json:"canvas,omitempty"`  // stretched: it is never trimmed
}

// Grid counts and sizes the cells. Columns and rows count a remainder strip as one.
type Grid struct {
	Columns            int            `json:"columns"`
	Rows               int            `json:"rows"`
	ReferenceCell      [2]float64     `json:"reference_cell_mm"`
	SheetCell          [2]float64     `json:"sheet_cell_mm"`
	ReferenceRemainder [2]float64     `json:"reference_remainder_mm"`
	SheetRemainder     [2]float64     `json:"sheet_remainder_mm"`
	RemainderAt        RemainderAt    `json:"remainder_at,omitempty"` // end, start or shared; end where it is missing
	Labels             Labels         `json:"labels"`
	Split              map[string]int `json:"split"`
}

// Marks holds every line of both grids, from 0 to the far edge.
type Marks struct {
	ReferenceX []float64 `json:"reference_x_mm"`
	ReferenceY []float64 `json:"reference_y_mm"`
	SheetX     []float64 `json:"sheet_x_mm"`
	SheetY     []float64 `json:"sheet_y_mm"`
}

// Line is how the grid is drawn on the reference.
type Line struct {
	Color string  `json:"color"` // one of LineColors
	Width float64 `json:"width_mm"`
	Cased bool    `json:"cased,omitempty"` // edged with its opposite, where no colour is seen along most of the lines
}

// Cell is one box of the net, the same on reference and sheet.
type Cell struct {
	Column, Row      int // from 0
	Label            string
	Reference, Sheet plane.Rect
}

// Cells returns all cells, row by row from the top left.
func (p Plan) Cells() []Cell {
	cells := make([]Cell, 0, p.Count())
	for row := range p.Grid.Rows {
		for column := range p.Grid.Columns {
			cells = append(cells, p.Cell(column, row))
		}
	}
	return cells
}

// Cell returns the cell in the given column and row, both from 0 and inside the grid.
func (p Plan) Cell(column, row int) Cell {
	box := func(x, y []float64) plane.Rect {
		return plane.Rect{Min: plane.Pt(x[column], y[row]), Max: plane.Pt(x[column+1], y[row+1])}
	}
	return Cell{
		Column: column, Row: row, Label: p.Grid.Labels.Label(column, row),
		Reference: box(p.Marks.ReferenceX, p.Marks.ReferenceY),
		Sheet:     box(p.Marks.SheetX, p.Marks.SheetY),
	}
}

// Count returns the number of cells.
func (p Plan) Count() int { return p.Grid.Columns * p.Grid.Rows }

// Find returns the cell called label.
func (p Plan) Find(label string) (Cell, bool) {
	column, row, ok := p.Grid.Labels.Place(label)
	if !ok || column >= p.Grid.Columns || row >= p.Grid.Rows {
		return Cell{}, false
	}
	return p.Cell(column, row), true
}

// CellAt returns the cell of the sheet in which the point lies, the nearest
// one for a point outside.
func (p Plan) CellAt(sheet plane.Point) Cell { return p.Cell(p.StripsAt(sheet)) }

// StripsAt returns the column and the row in which a point of the sheet lies,
// the nearest ones for a point beside the grid.
func (p Plan) StripsAt(sheet plane.Point) (column, row int) {
	return stripAt(p.Marks.SheetX, sheet.X), stripAt(p.Marks.SheetY, sheet.Y)
}

func stripAt(marks []float64, v float64) int {
	i, found := slices.BinarySearch(marks, v)
	if !found {
		i--
	}
	return max(0, min(i, len(marks)-2))
}

// ToSheet returns where a point of the reference belongs on the sheet.
func (p Plan) ToSheet(reference plane.Point) plane.Point {
	return plane.Pt(reference.X*p.Scale[0], reference.Y*p.Scale[1])
}

// ToReference undoes ToSheet.
func (p Plan) ToReference(sheet plane.Point) plane.Point {
	return plane.Pt(sheet.X/p.Scale[0], sheet.Y/p.Scale[1])
}

// ReferenceSize and SheetSize return the sizes as lengths.
func (p Plan) ReferenceSize() measure.Size {
	return measure.Size{W: measure.Length(p.Reference.Width), H: measure.Length(p.Reference.Height)}
}

// SheetSize returns the size of the drawing.
func (p Plan) SheetSize() measure.Size {
	return measure.Size{W: measure.Length(p.Sheet.Width), H: measure.Length(p.Sheet.Height)}
}

// StockSize returns the paper that the sheet is cut from, turned as it is
// used; with panels, all of them as they hang.
func (p Plan) StockSize() measure.Size {
	across, down := max(1, p.Sheet.Panels[0]), max(1, p.Sheet.Panels[1])
	return measure.Size{W: measure.Length(p.Sheet.Stock[0] * float64(across)), H: measure.Length(p.Sheet.Stock[1] * float64(down))}
}

// Text returns a length of the plan in its own units.
func (p Plan) Text(mm float64) string { return measure.Length(mm).Text(p.Units) }

// Stopped returns the first finding that forbids printing, if there is one.
func (p Plan) Stopped() (Finding, bool) {
	for _, f := range p.Findings {
		if f.Level == Stop {
			return f, true
		}
	}
	return Finding{}, false
}

// tidy drops what binary fractions add below a nanometre, so that plans compare and print cleanly.
func tidy(mm float64) float64 { return math.Round(mm*1e6) / 1e6 }
