package accuracy

import (
	"cmp"
	"math"
	"slices"

	"zestysketch/internal/core/lines"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/core/plane"
)

// boxShift is how far the drawing sits from where it should in one box.
type boxShift struct {
	shift     plane.Point // pixels, drawn minus wanted; of a straight line only what is across it
	sure      Sure
	across    float64 // degrees, of the direction that is known best
	uncertain float64 // pixels, one standard deviation along the worst direction that counts as sure
	matched   float64 // share of the wanted marks that found a line
	slipped   float64 // pixels; a box that slipped alone, known across a line only, is off by so much at least
}

// Sure is what a box's lines tell of its shift.
type Sure string

// How sure a box is.
const (
	Both   Sure = "both"
	Across Sure = "across"
	None   Sure = "none"
)

// The fine search, in boxes: how near a drawn line is looked for, round by
// round, and the limits of what is called sure.
var reaches = []float64{0.14, 0.1, 0.07, 0.05, 0.05}

const (
	leastMatched = 0.22 // share of a box's wanted marks
	leastLength  = 0.16 // of matched line, in boxes
	leastForBoth = 0.3  // of matched line for both directions, in boxes: less is a stub
	mostUnsure   = 0.055
	strokeCell   = 0.12  // along so much of a line errors go together
	slopeCell    = 0.05  // how far what neighbours say of the change across a box may be off
	handCell     = 0.01  // how far a hand, and another reading of its line, differ from themselves
	bentCell     = 0.3   // and with what a drawing is bent within a box
	otherCell    = 0.035 // and with what is not explained
	leastSpread  = 0.07  // second over first eigenvalue of the directions
	asGood       = 0.96  // of the best score: another shift that explains the lines as well
	elsewhere    = 0.12  // how far such a shift must be to matter, in boxes
)

// pair is a wanted mark and the drawn one found for it.
type pair struct {
	m      lines.Mark // as wanted
	dx, dy float64    // from the box's middle, in boxes
	off    float64    // of the drawn line across the wanted one, from where it is wanted, pixels
	w      float64
}

// model is how a box is shifted: at its middle, and how that changes across
// and down a box: pixels, and pixels a box.
type model struct{ x, y, xx, xy, yx, yy float64 }

// at returns the shift at a place in the box, in boxes from its middle.
func (m model) at(dx, dy float64) (x, y float64) {
	return m.x + m.xx*dx + m.xy*dy, m.y + m.yx*dx + m.yy*dy
}

// refine measures every box's shift to a part of a pixel: each wanted mark
// looks across its own line for the nearest drawn one of its direction, and the
// shift that explains most of them is solved for (point to line, after Chen and
// Medioni 1992, Image and Vision Computing 10(3), with Tukey's weights). Within
// a box the shift may change evenly; how, the neighbours say where the box does not.
func refine(wanted [][]lines.Mark, drawn *lines.Index, n net, v volume) ([]boxShift, [][]pair) {
	at := make([]model, n.count())
	for i, s := range v.agree(n) {
		at[i] = model{x: s.X, y: s.Y}
	}
	pairs := make([][]pair, n.count())
	out := make([]boxShift, n.count())
	for round, reach := range reaches {
		slopes(at, n)
		for i, points := range wanted {
			if len(points) == 0 {
				continue
			}
			x, y := n.middle(i)
			pairs[i] = match(points, drawn, plane.Pt(x, y), n.cell, at[i], reach*n.cell, pairs[i][:0])
			at[i] = solve(pairs[i], at[i], reach*n.cell)
			if round == len(reaches)-1 {
				out[i] = judge(pairs[i], len(points), at[i], n)
			}
		}
	}
	l := newOutlierTest(v, wanted, drawn, n, at, out)
	for i := range wanted {
		out[i], pairs[i] = l.reassess(i, out[i], pairs[i])
	}
	return out, pairs
}

// slopes sets how each box's shift changes to what its neighbours' shifts say.
func slopes(at []model, n net) {
	mid := make([]plane.Point, len(at))
	for i, m := range at {
		mid[i] = plane.Pt(m.x, m.y)
	}
	for i := range at {
		c, r := i%n.columns, i/n.columns
		l, rt := i-min(c, 1), i+min(n.columns-1-c, 1)
		u, d := i-n.columns*min(r, 1), i+n.columns*min(n.rows-1-r, 1)
		wx, wy := float64(max(1, rt-l)), float64(max(1, (d-u)/n.columns))
		at[i].xx, at[i].yx = (mid[rt].X-mid[l].X)/wx, (mid[rt].Y-mid[l].Y)/wx
		at[i].xy, at[i].yy = (mid[d].X-mid[u].X)/wy, (mid[d].Y-mid[u].Y)/wy
	}
}

// field returns the shift at a place: between the boxes' middles it changes evenly.
func field(at []plane.Point, n net, x, y float64) (dx, dy float64) {
	i0, i1, tx := between(n.x, x)
	j0, j1, ty := between(n.y, y)
	a, b := at[j0*n.columns+i0], at[j0*n.columns+i1]
	c, d := at[j1*n.columns+i0], at[j1*n.columns+i1]
	mix := a.To(b, tx).To(c.To(d, tx), ty)
	return mix.X, mix.Y
}

// between returns the strips between whose middles v lies, and how far along.
func between(marks []float64, v float64) (i, j int, t float64) {
	last := len(marks) - 2
	middle := func(k int) float64 { return (marks[k] + marks[k+1]) / 2 }
	for i < last && middle(i+1) <= v {
		i++
	}
	j = min(i+1, last)
	if i == j || v <= middle(i) {
		return i, j, 0
	}
	return i, j, min(1, (v-middle(i))/(middle(j)-middle(i)))
}

// match pairs every wanted mark with the nearest drawn one across its line.
// The model is about the middle; cell is a box in pixels.
func match(points []lines.Mark, drawn *lines.Index, middle plane.Point, cell float64, at model, reach float64, out []pair) []pair {
	for _, m := range points {
		dx, dy := (float64(m.X)-middle.X)/cell, (float64(m.Y)-middle.Y)/cell
		vx, vy := at.at(dx, dy)
		px, py := m.X+float32(vx), m.Y+float32(vy)
		best, found := float32(reach), false
		drawn.Around(px, py, float32(reach)+1, func(d lines.Mark) bool {
			if c := d.NX*m.NX + d.NY*m.NY; c < 0.85 && c > -0.85 {
				return true
			}
			ex, ey := d.X-px, d.Y-py
			along := ex*m.NY - ey*m.NX
			across := ex*m.NX + ey*m.NY
			if size := max(across, -across); along > -1.2 && along < 1.2 && size < max(best, -best) {
				best, found = across, true
			}
			return true
		})
		if found {
			out = append(out, pair{m, dx, dy, float64(best) + float64(m.NX)*vx + float64(m.NY)*vy, 1})
		}
	}
	return out
}

// How firmly a box keeps to where it was, and to its neighbours' slopes, in
// marks: little beside what its own lines say.
const placeWeight, slopeWeight = 3.0, 4.0

// solve returns the model that the pairs agree on, starting from one.
func solve(pairs []pair, from model, reach float64) model {
	m := from
	was := [6]float64{from.x, from.y, from.xx, from.xy, from.yx, from.yy}
	for range 4 {
		a := picture.NewNormal(6)
		for k := range 6 {
			keep := placeWeight
			if k >= 2 {
				keep = slopeWeight
			}
			a.Hold(k, was[k], keep)
		}
		weigh(pairs, m, reach)
		for _, p := range pairs {
			nx, ny := float64(p.m.NX), float64(p.m.NY)
			row := [6]float64{nx, ny, nx * p.dx, nx * p.dy, ny * p.dx, ny * p.dy}
			a.Add(row[:], p.off, p.w)
		}
		if x, ok := a.Solve(); ok {
			m = model{x[0], x[1], x[2], x[3], x[4], x[5]}
		}
	}
	return m
}

// weigh sets how much each pair counts by how far it is from what a model says, 1 to 0 at
// the reach, pixels: Tukey's biweight.
func weigh(pairs []pair, m model, reach float64) {
	for i := range pairs {
		p := &pairs[i]
		x, y := m.at(p.dx, p.dy)
		r := (p.off - float64(p.m.NX)*x - float64(p.m.NY)*y) / reach
		p.w = 0
		if r < 1 && r > -1 {
			p.w = (1 - r*r) * (1 - r*r)
		}
	}
}

// judge says how sure a box's shift is, and reduces it to what is known.
func judge(pairs []pair, points int, m model, n net) boxShift {
	out := boxShift{sure: None, matched: float64(len(pairs)) / float64(points)}
	d := plane.Pt(m.x, m.y)
	var a, b, c, sum, res float64
	rests := make([]float64, 0, len(pairs))
	for _, p := range pairs {
		nx, ny := float64(p.m.NX), float64(p.m.NY)
		a += p.w * nx * nx
		b += p.w * ny * ny
		c += p.w * nx * ny
		sum += p.w
		x, y := m.at(p.dx, p.dy)
		r := p.off - nx*x - ny*y
		res += p.w * r * r
		rests = append(rests, math.Abs(r))
	}
	if out.matched < leastMatched || sum < leastLength*n.cell {
		return out
	}
	slices.SortFunc(rests, cmp.Compare)
	spread := max(0.2, 1.4826*rests[len(rests)/2], math.Sqrt(res/sum))
	known, ok := knowledge(pairs, spread, n.cell, differs(m, sum/float64(points), n.cell))
	if !ok {
		return out
	}
	first, second := known.sd[0], known.sd[1]
	mid, half := (a+b)/2, math.Hypot((a-b)/2, c)
	out.across = known.angle * 180 / math.Pi
	switch {
	case second < mostUnsure*n.cell && mid-half > leastSpread*(mid+half) && sum > leastForBoth*n.cell:
		out.sure, out.shift, out.uncertain = Both, d, math.Hypot(first, second)/math.Sqrt2
	case first < mostUnsure*n.cell:
		nx, ny := math.Cos(known.angle), math.Sin(known.angle)
		along := nx*d.X + ny*d.Y
		out.sure, out.shift, out.uncertain = Across, plane.Pt(along*nx, along*ny), first
	}
	return out
}

// differs returns by how much, pixels, a hand and another reading of its lines differ
// from what the lines say together: more where the drawing is bent within the box, and
// where fewer of its lines are explained.
func differs(m model, known, cell float64) float64 {
	bent := math.Hypot(math.Hypot(m.xx, m.xy), math.Hypot(m.yx, m.yy)) / cell
	return cell * math.Sqrt(handCell*handCell+sq(bentCell*bent)+sq(otherCell*(1-known)))
}

// known is what is known of a shift at a box's middle: along which direction best,
// radians, and the standard deviations along it and across it, pixels.
type known struct {
	angle float64
	sd    [2]float64
}

// knowledge returns what pairs, whose offsets scatter by spread, tell of the shift in
// the middle: the inverse of what they say of the six numbers of the model together.
// Lines far from the middle tell less of it, for how the shift changes on the way the
// neighbours only guess. To that comes what a hand differs by from itself, pixels.
func knowledge(pairs []pair, spread, cell, hand float64) (k known, ok bool) {
	info := picture.NewNormal(6)
	one := 1 / (spread * spread * strokeCell * cell) // what a mark says, errors along a stroke being one
	for _, p := range pairs {
		nx, ny := float64(p.m.NX), float64(p.m.NY)
		row := [6]float64{nx, ny, nx * p.dx, nx * p.dy, ny * p.dx, ny * p.dy}
		info.Add(row[:], 0, p.w*one)
	}
	guess := 1 / (slopeCell * slopeCell * cell * cell)
	for i := range 6 {
		if info.Hold(i, 0, 1e-9); i >= 2 {
			info.Hold(i, 0, guess)
		}
	}
	var cov [2][2]float64
	for c := range 2 {
		x, solved := info.Inverse(c)
		if !solved {
			return k, false
		}
		cov[c] = [2]float64{x[0], x[1]}
	}
	mid, half := (cov[0][0]+cov[1][1])/2, math.Hypot((cov[0][0]-cov[1][1])/2, cov[0][1])
	k.sd = [2]float64{math.Hypot(math.Sqrt(max(0, mid-half)), hand), math.Hypot(math.Sqrt(mid+half), hand)}
	k.angle = 0.5*math.Atan2(2*cov[0][1], cov[0][0]-cov[1][1]) + math.Pi/2 // of the least
	if k.angle > math.Pi/2 {
		k.angle -= math.Pi
	}
	return k, true
}
