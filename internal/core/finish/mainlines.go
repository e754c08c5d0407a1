package finish

import (
	"fmt"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/lines"
	"zestysketch/internal/core/plane"
)

// MainLines names the weightiest lines of a sketch, which is as large as the
// plan's sheet, by the boxes that they run through: what must be there when the
// tape comes off.
func MainLines(s lines.Sketch, p grid.Plan, most int) (names []string) {
	known := map[string]bool{}
	for _, st := range s.Strokes {
		if len(names) == most {
			break
		}
		box := func(i int) string {
			q := st.Points[i]
			return p.CellAt(plane.Pt(q.X/s.PerMM, q.Y/s.PerMM)).Label
		}
		first, last := box(0), box(len(st.Points)-1)
		name := fmt.Sprintf("the line from %s to %s", first, last)
		if st.Closed || first == last {
			left, right := 0, 0
			for i, q := range st.Points {
				if q.X < st.Points[left].X {
					left = i
				}
				if q.X > st.Points[right].X {
					right = i
				}
			}
			name = fmt.Sprintf("the line round %s and %s", box(left), box(right))
			if box(left) == box(right) {
				name = "the line in " + first
			}
		}
		if !known[name] {
			known[name] = true
			names = append(names, name)
		}
	}
	return names
}
