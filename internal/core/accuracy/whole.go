package accuracy

import (
	"math"

	"zestysketch/internal/core/picture"
)

// similar is a small move, turn and size about the frame's middle: the shift
// at (x, y) is (move x + grow·x − turn·y, move y + grow·y + turn·x). Pixels and
// radians.
type similar struct{ dx, dy, grow, turn float64 }

func (s similar) at(x, y float64) (dx, dy float64) {
	return s.dx + s.grow*x - s.turn*y, s.dy + s.grow*y + s.turn*x
}

// fitPairs explains the shifts of all sure boxes by one similarity, by least
// squares over the single pairs, each of which tells only across its line;
// Tukey's weights let single boxes that slipped have little say.
func fitPairs(pairs [][]pair, shifts []boxShift, n net) (Fit, similar) {
	var use []pair
	for i, s := range shifts {
		if s.sure == None {
			continue
		}
		// Crowded boxes do not outvote the rest.
		w := min(1, 1.5*n.cell/float64(len(pairs[i])))
		for _, p := range pairs[i] {
			if p.w > 0 {
				p.w = w
				use = append(use, p)
			}
		}
	}
	of := OfLines
	if len(use) < int(n.cell) {
		of = OfNothing
	}
	var s similar
	rests := make([]float64, len(use))
	limit := math.Inf(1)
	for range 8 {
		a := system(4)
		for i, p := range use {
			r := p.off - across(p, s, n)
			rests[i] = math.Abs(r)
			w := p.w
			if r > limit || r < -limit {
				continue
			} else if !math.IsInf(limit, 1) {
				w *= (1 - r*r/(limit*limit)) * (1 - r*r/(limit*limit))
			}
			row := basis(p, n)
			for j := range 4 {
				for k := range 4 {
					a[j][k] += w * row[j] * row[k]
				}
				a[j][4] += w * row[j] * p.off
			}
		}
		for j := range 4 {
			a[j][j] += 1e-6 + 0.05*float64(n.w)*float64(j/2) // without lines nothing moved
		}
		if x, ok := picture.Solve(a); ok {
			s = similar{x[0], x[1], x[2], x[3]}
		}
		limit = max(0.08*n.cell, 3*1.4826*median(rests))
	}
	return Fit{DX: s.dx / n.cell, DY: s.dy / n.cell, Scale: s.grow * 100, Rotation: s.turn * 180 / math.Pi, Of: of}, s
}

func basis(p pair, n net) [4]float64 {
	x, y := float64(p.m.X)-float64(n.w)/2, float64(p.m.Y)-float64(n.h)/2
	nx, ny := float64(p.m.NX), float64(p.m.NY)
	return [4]float64{nx, ny, nx*x + ny*y, ny*x - nx*y}
}

func across(p pair, s similar, n net) float64 {
	b := basis(p, n)
	return b[0]*s.dx + b[1]*s.dy + b[2]*s.grow + b[3]*s.turn
}

func system(n int) [][]float64 {
	a := make([][]float64, n)
	for i := range a {
		a[i] = make([]float64, n+1)
	}
	return a
}
