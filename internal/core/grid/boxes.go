package grid

import (
	"fmt"
	"regexp"
	"strings"
)

// between parts a stretch of boxes from one corner to the other: "B2 to C4", "B2-C4".
var between = regexp.MustCompile(`(?i)\s*(?:\bto\b|[-–:])\s*`)

// Boxes reads boxes and stretches of them, such as "A1 to C2, F5", and returns their labels in the
// plan's order; the error says which box there is not.
func (p Plan) Boxes(words string) (labels []string, err error) {
	in := map[string]bool{}
	for _, one := range strings.FieldsFunc(words, func(r rune) bool { return r == ',' || r == ';' || r == '\n' }) {
		if one = strings.TrimSpace(one); one == "" {
			continue
		}
		ends := between.Split(one, 2)
		c, r, err := p.box(ends[0])
		if err != nil {
			return nil, err
		}
		c2, r2, err := p.box(ends[len(ends)-1])
		if err != nil {
			return nil, err
		}
		for column := min(c, c2); column <= max(c, c2); column++ {
			for row := min(r, r2); row <= max(r, r2); row++ {
				in[p.Grid.Labels.Label(column, row)] = true
			}
		}
	}
	for _, c := range p.Cells() {
		if in[c.Label] {
			labels = append(labels, c.Label)
		}
	}
	return labels, nil
}

func (p Plan) box(label string) (column, row int, err error) {
	column, row, ok := p.Grid.Labels.Place(label)
	if !ok || column >= p.Grid.Columns || row >= p.Grid.Rows {
		return 0, 0, fmt.Errorf("wanted boxes such as A1 to C2, F5; this grid has no box %q", strings.TrimSpace(label))
	}
	return column, row, nil
}
