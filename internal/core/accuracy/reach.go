package accuracy

import "slices"

// Reach is how much of its sheet a drawing fills.
type Reach struct {
	Across  float64  `json:"across"`            // from its leftmost line to its rightmost, as a share of the sheet
	Down    float64  `json:"down"`              // and from its topmost to its lowest
	Touches []string `json:"touches,omitempty"` // edges at which it ends: left, right, top, bottom
}

// A drawing touches an edge that lines come so near, as a share of the sheet; and so many of all marks lie beyond its
// reach, as specks (ours).
const touching, beyondReach = 0.012, 0.005

// reach returns how much of its sheet a drawing fills; nil for a sheet with hardly a line.
func (d Seen) reach() *Reach {
	var across, down []float64
	left, top := d.net.x[0], d.net.y[0]
	wide, high := d.net.x[d.net.columns]-left, d.net.y[d.net.rows]-top
	for _, m := range d.drawn.Marks {
		if x, y := (float64(m.X)-left)/wide, (float64(m.Y)-top)/high; x >= 0 && x <= 1 && y >= 0 && y <= 1 {
			across, down = append(across, x), append(down, y)
		}
	}
	if float64(len(across)) < d.net.cell {
		return nil
	}
	slices.Sort(across)
	slices.Sort(down)
	skip := int(beyondReach * float64(len(across)))
	last := len(across) - 1 - skip
	r := &Reach{Across: across[last] - across[skip], Down: down[last] - down[skip]}
	for _, side := range []struct {
		name string
		off  float64
	}{{"left", across[skip]}, {"right", 1 - across[last]}, {"top", down[skip]}, {"bottom", 1 - down[last]}} {
		if side.off < touching {
			r.Touches = append(r.Touches, side.name)
		}
	}
	return r
}
