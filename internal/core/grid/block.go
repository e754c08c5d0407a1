package grid

import "strings"

// Block returns the boxes from one to another, both with it, as A1:C4 names them, row by row;
// false where the plan has no such boxes.
func (p Plan) Block(name string) (cells []Cell, ok bool) {
	first, last, _ := strings.Cut(name, ":")
	a, there := p.Find(first)
	b, also := p.Find(last)
	if !there || !also {
		return nil, false
	}
	for row := min(a.Row, b.Row); row <= max(a.Row, b.Row); row++ {
		for column := min(a.Column, b.Column); column <= max(a.Column, b.Column); column++ {
			cells = append(cells, p.Cell(column, row))
		}
	}
	return cells, true
}
