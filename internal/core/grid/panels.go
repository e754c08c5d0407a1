package grid

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

// within returns the marks, moved by shift, that lie on a side of the given length; one that is off its end by less
// than a ruler shows lies on the end.
func within(marks []float64, shift, side float64) (on []float64) {
	for _, m := range marks {
		if at := tidy(m + shift); at >= -slack && at <= side+slack {
			on = append(on, max(0, min(at, side)))
		}
	}
	return on
}
