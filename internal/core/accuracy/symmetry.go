package accuracy

import (
	"zestysketch/internal/core/lines"
)

// Halves compares a drawing with its own mirror image about the upright fold in
// its middle, or about a level one, or with itself turned half round about its middle: for each
// box right of the fold, or below a level one, how far its lines sit from where the first half's,
// folded over or turned round, would be.
func (d Seen) Halves(by Compare, tolerance float64) []Cell {
	fold, level := float32(d.net.x[0]+d.net.x[d.net.columns])/2, float32(d.net.y[0]+d.net.y[d.net.rows])/2
	wanted := make([][]lines.Mark, d.net.count())
	for _, m := range d.drawn.Marks {
		if by == LevelFold && m.Y >= level || by != LevelFold && m.X >= fold {
			continue
		}
		if by != LevelFold {
			m.X, m.NX = 2*fold-m.X, -m.NX
		}
		if by != Fold {
			m.Y, m.NY = 2*level-m.Y, -m.NY
		}
		if i := d.net.at(float64(m.X), float64(m.Y)); i >= 0 {
			wanted[i] = append(wanted[i], m)
		}
	}
	folded := d
	folded.wanted = wanted
	var half []Cell
	for i, c := range folded.Match().Boxes(tolerance).Cells {
		right, below := d.net.x[i%d.net.columns+1] > float64(fold)+1, d.net.y[i/d.net.columns+1] > float64(level)+1
		if by == LevelFold && below || by != LevelFold && right {
			half = append(half, c)
		}
	}
	return half
}
