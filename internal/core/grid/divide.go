package grid

import (
	"fmt"
	"maps"
	"strings"
)

// Divided returns the request's split after a box is divided once more: a whole
// one in halves, halves in quarters, and quarters are whole again.
func (p Plan) Divided(label string) string {
	split := maps.Clone(p.Grid.Split)
	if split == nil {
		split = map[string]int{}
	}
	switch split[label] {
	case 0, 1:
		split[label] = 2
	case 2:
		split[label] = 4
	default:
		delete(split, label)
	}
	return p.splitting(split)
}

// Halved returns the request's split after whole boxes are divided in halves as well.
func (p Plan) Halved(labels ...string) string {
	split := map[string]int{}
	for _, l := range labels {
		split[l] = 2
	}
	maps.Copy(split, p.Grid.Split)
	return p.splitting(split)
}

// splitting writes divided boxes as Request.Split reads them, in the plan's order.
func (p Plan) splitting(split map[string]int) string {
	var parts []string
	for _, c := range p.Cells() {
		if n := split[c.Label]; n > 1 {
			parts = append(parts, fmt.Sprintf("%s %d", c.Label, n))
		}
	}
	return strings.Join(parts, ", ")
}
