package grid

// defaultLine is a grid line's width in millimetres: seen at arm's length, and
// finer than what is drawn.
const defaultLine = 0.25

// LineColor is a colour for the grid on the reference, sRGB.
type LineColor struct {
	Name    string
	R, G, B uint8
}

// Palette lists the colours to choose from, in the order in which they are
// preferred where several can be seen: dark on light pictures; red, white or a
// light colour where the picture is dark (common practice).
var Palette = []LineColor{
	{"dark", 0x22, 0x2b, 0x26}, {"red", 0xc8, 0x10, 0x2e}, {"white", 0xff, 0xff, 0xff}, {"light blue", 0x9f, 0xd3, 0xff}, {"yellow", 0xff, 0xe1, 0x4d},
}

// Places in the Palette.
const paletteDark, paletteRed = 0, 1

// LineColors returns the palette's names.
func LineColors() []string {
	names := make([]string, len(Palette))
	for i, c := range Palette {
		names[i] = c.Name
	}
	return names
}

// Paint returns the colour of the plan's line.
func (l Line) Paint() LineColor {
	for _, c := range Palette {
		if c.Name == l.Color {
			return c
		}
	}
	return Palette[0]
}

// Panel is one of several papers that hang as one, with its own marks.
type Panel struct {
	Column, Row int        // from 0
	Size        [2]float64 // mm
	X, Y        []float64  // grid lines on this paper, from its own top left corner
}

// Panels returns the papers of a plan that hang as one, row by row; one paper
// for a plan without panels. The grid runs on across the joins: a line at a
// join is on both papers.
func (p Plan) Panels() []Panel {
	across, down := max(1, p.Sheet.Panels[0]), max(1, p.Sheet.Panels[1])
	var panels []Panel
	for row := range down {
		for column := range across {
			w, h := p.Sheet.Stock[0], p.Sheet.Stock[1]
			panels = append(panels, Panel{column, row, p.Sheet.Stock,
				within(p.Marks.SheetX, p.Sheet.Origin.X-float64(column)*w, w),
				within(p.Marks.SheetY, p.Sheet.Origin.Y-float64(row)*h, h)})
		}
	}
	return panels
}

// within returns the marks, moved by shift, that lie on a side of the given length.
func within(marks []float64, shift, side float64) (on []float64) {
	for _, m := range marks {
		if at := tidy(m + shift); at >= -1e-6 && at <= side+1e-6 {
			on = append(on, at)
		}
	}
	return on
}

// Order returns the cells in the order of drawing: row by row from the top,
// from the left for the right-handed and from the right for the left-handed,
// so that the hand does not smear (common practice).
func (p Plan) Order(leftHanded bool) []Cell {
	cells := p.Cells()
	if !leftHanded {
		return cells
	}
	for row := range p.Grid.Rows {
		line := cells[row*p.Grid.Columns : (row+1)*p.Grid.Columns]
		for i, j := 0, len(line)-1; i < j; i, j = i+1, j-1 {
			line[i], line[j] = line[j], line[i]
		}
	}
	return cells
}
