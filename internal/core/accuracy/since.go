package accuracy

// Change tells what became of boxes between two check-ins of one drawing.
type Change struct {
	Mended, Worse []string // labels
}

// Since compares a report with an earlier one of the same drawing and plan: a
// box is mended where it was wrong and is so no longer.
func (r Report) Since(before Report) (c Change) {
	was := map[string]Cell{}
	for _, b := range before.Cells {
		was[b.Label] = b
	}
	for _, now := range r.Cells {
		old, known := was[now.Label]
		switch {
		case !known || old.Sure == None || now.Sure == None:
		case old.Wrong && !now.Wrong:
			c.Mended = append(c.Mended, now.Label)
		case now.Wrong && !old.Wrong:
			c.Worse = append(c.Worse, now.Label)
		}
	}
	return c
}
