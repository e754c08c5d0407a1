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

// wholeWeight is how firmly the whole keeps to its size and turn, in marks a pixel of its
// width: without lines nothing moved. Next to nothing keeps it to its place.
const wholeWeight, noWeight = 0.05, 1e-6

// fitPairs explains the shifts of all sure boxes by one similarity, by least
// squares over the single pairs, each of which tells only across its line;
// Tukey's weights let single boxes that slipped have little say. It keeps to its place as so
// many marks would have it.
func fitPairs(pairs [][]pair, shifts []boxShift, n net, keep float64) (Fit, similar) {
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
	var s similar
	rests := make([]float64, len(use))
	limit := math.Inf(1)
	for range 8 {
		a := picture.NewNormal(4)
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
			a.Add(row[:], p.off, w)
		}
		for j, hold := range [4]float64{keep, keep, wholeWeight * float64(n.w), wholeWeight * float64(n.w)} {
			a.Hold(j, 0, hold)
		}
		if x, ok := a.Solve(); ok {
			s = similar{x[0], x[1], x[2], x[3]}
		}
		limit = max(0.08*n.cell, 3*1.4826*median(rests))
	}
	f := Fit{DX: s.dx / n.cell, DY: s.dy / n.cell, Scale: (math.Hypot(1+s.grow, s.turn) - 1) * 100, Rotation: math.Atan2(s.turn, 1+s.grow) * 180 / math.Pi, Of: OfNothing}
	if grow, turn, ok := wholeUncertain(use, s, n); ok && spreadOut(shifts, n) {
		f.Of, f.ScaleUncertain, f.RotationUncertain = OfLines, grow*100, turn*180/math.Pi
	}
	return f, s
}

// The whole is told by so many boxes that tell, no fewer, which lie this far from their
// middle, across as well as down: root mean square, in boxes.
const leastBoxesKnown, leastFar = 6, 0.7

func spreadOut(shifts []boxShift, n net) bool {
	var known, x, y, xx, yy float64
	for i, s := range shifts {
		if s.sure != None {
			c, r := float64(i%n.columns), float64(i/n.columns)
			known, x, y, xx, yy = known+1, x+c, y+r, xx+c*c, yy+r*r
		}
	}
	if known < leastBoxesKnown {
		return false
	}
	x, y = x/known, y/known
	return xx/known-x*x >= leastFar*leastFar && yy/known-y*y >= leastFar*leastFar
}

func sq(v float64) float64 { return v * v }

// wholeUncertain returns one standard deviation of the size, as a share, and of the
// turn, radians: every box's lines together count as one, for what is off in a box is
// off in all its lines.
func wholeUncertain(use []pair, s similar, n net) (grow, turn float64, ok bool) {
	marks := map[int]float64{}
	for _, p := range use {
		marks[n.at(float64(p.m.X), float64(p.m.Y))]++
	}
	info, rest, sum := picture.NewNormal(4), 0.0, 0.0
	for _, p := range use {
		w := 1 / marks[n.at(float64(p.m.X), float64(p.m.Y))]
		r := min(math.Abs(p.off-across(p, s, n)), 0.2*n.cell)
		rest, sum = rest+w*r*r, sum+w
		row := basis(p, n)
		info.Add(row[:], 0, w)
	}
	each := max(rest/max(sum, 1), sq(handCell*n.cell))
	var sd [4]float64
	for j := 2; j < 4; j++ {
		x, solved := info.Inverse(j)
		if !solved || x[j] < 0 {
			return 0, 0, false
		}
		sd[j] = math.Sqrt(x[j] * each)
	}
	return sd[2], sd[3], true
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
