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
	mostUnsure   = 0.05
	strokeCell   = 0.12  // along so much of a line errors go together
	slopeCell    = 0.05  // how far what neighbours say of the change across a box may be off
	handCell     = 0.008 // how far a hand, and another reading of its line, differ from themselves
	bentCell     = 0.25  // and with what a drawing is bent within a box
	otherCell    = 0.025 // and with what is not explained
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
	all := lines.NewIndex(slices.Concat(wanted...), n.w, n.h, 8)
	for i, points := range wanted {
		out[i], pairs[i] = v.alone(i, points, all, drawn, n, at[i], out[i], pairs[i])
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
const keepPlace, keepSlope = 3.0, 4.0

// solve returns the model that the pairs agree on, starting from one.
func solve(pairs []pair, from model, reach float64) model {
	m := from
	was := [6]float64{from.x, from.y, from.xx, from.xy, from.yx, from.yy}
	for range 4 {
		a := system(6)
		for k := range 6 {
			keep := keepPlace
			if k >= 2 {
				keep = keepSlope
			}
			a[k][k], a[k][6] = keep, keep*was[k]
		}
		for i := range pairs {
			p := &pairs[i]
			nx, ny := float64(p.m.NX), float64(p.m.NY)
			x, y := m.at(p.dx, p.dy)
			r := (p.off - nx*x - ny*y) / reach
			p.w = 0
			if r < 1 && r > -1 {
				p.w = (1 - r*r) * (1 - r*r)
			}
			row := [6]float64{nx, ny, nx * p.dx, nx * p.dy, ny * p.dx, ny * p.dy}
			for j := range 6 {
				for k := range 6 {
					a[j][k] += p.w * row[j] * row[k]
				}
				a[j][6] += p.w * row[j] * p.off
			}
		}
		if x, ok := picture.Solve(a); ok {
			m = model{x[0], x[1], x[2], x[3], x[4], x[5]}
		}
	}
	return m
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
func differs(m model, told, cell float64) float64 {
	bent := math.Hypot(math.Hypot(m.xx, m.xy), math.Hypot(m.yx, m.yy)) / cell
	return cell * math.Sqrt(handCell*handCell+sq(bentCell*bent)+sq(otherCell*(1-told)))
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
	info := system(6)
	one := 1 / (spread * spread * strokeCell * cell) // what a mark says, errors along a stroke being one
	for _, p := range pairs {
		nx, ny := float64(p.m.NX), float64(p.m.NY)
		row := [6]float64{nx, ny, nx * p.dx, nx * p.dy, ny * p.dx, ny * p.dy}
		for i := range 6 {
			for j := range 6 {
				info[i][j] += p.w * one * row[i] * row[j]
			}
		}
	}
	guess := 1 / (slopeCell * slopeCell * cell * cell)
	for i := range 6 {
		if info[i][i] += 1e-9; i >= 2 {
			info[i][i] += guess
		}
	}
	var cov [2][2]float64
	for c := range 2 {
		x, solved := inverseColumn(info, c)
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

// What a box that slipped by itself looks like: where its neighbours have it, no more
// of its lines are explained than that; alone, by a shift at least so long and not at
// the end of what is searched, mostly all are, and nowhere else nearly as many: of few
// strokes, more than chance gives. So many places are tried.
const (
	unexplained  = 0.75
	slipCell     = 0.2
	furthestTold = 0.55
	leastAlone   = 1.5 // boxes of line
	mostlyTold   = 0.62
	moreTold     = 0.6 // standard deviations of the difference of two shares of strokes
	placesTried  = 4
)

// alone looks once more at a box, for it alone: its neighbours may have outvoted it, and
// its lines may lie as well elsewhere. Where another place explains it clearly better it
// has slipped there; where one explains it as well, nothing is known.
func (v volume) alone(box int, points []lines.Mark, all, drawn *lines.Index, n net, was model, had boxShift, pairs []pair) (boxShift, []pair) {
	if had.shift.Len() > slipCell*n.cell && insideOwn(pairs, was, box, n) < leastInside {
		had = boxShift{sure: None, matched: had.matched}
	}
	told, length := explained(pairs, len(points)), float64(len(points))/n.cell
	doubted := v.doubt(box, had, n)
	if v.score[box] == nil || length < leastForBoth || told > unexplained && doubted == had {
		return doubted, pairs
	}
	at, found, best, next := v.elsewhere(box, points, drawn, n, was)
	chance := moreTold * math.Sqrt(0.5*strokeCell/length)
	if best >= mostlyTold && best >= max(told, next)+chance && length >= leastAlone && math.Hypot(at.x, at.y) < furthestTold*n.cell {
		if repeats(points, all, at.x-was.x, at.y-was.y, n) || insideOwn(found, at, box, n) < leastInside {
			return boxShift{sure: None, matched: had.matched}, pairs
		}
		if s := judge(found, len(points), at, n); s.shift.Len() >= slipCell*n.cell { // zero where nothing is sure
			return s, found
		}
	}
	switch {
	case best >= told+chance/2:
		return boxShift{sure: None, matched: had.matched}, pairs
	case told >= mostlyTold && told > best+2*chance && length >= leastAlone && had.shift.Len() < furthestTold*n.cell:
		return had, pairs // as well by far nowhere else
	}
	return doubted, pairs
}

// alike is the share of a box's wanted lines that lie on wanted ones again a step on, at
// which they repeat: rails and posts look the same at the next.
const alike = 0.85

// repeats reports whether the picture's own lines look alike so many pixels on.
func repeats(points []lines.Mark, all *lines.Index, dx, dy float64, n net) bool {
	again, reach := 0.0, float32(foreignCell*n.cell)
	for _, m := range points {
		if hasNear(all, m, m.X+float32(dx), m.Y+float32(dy), reach) {
			again++
		}
	}
	return again >= alike*float64(len(points))
}

// leastInside is the share of the lines of a box that slipped which lie in it still: what
// lies in the next alone is the next one's.
const leastInside = 0.35

// insideOwn returns the share of pairs whose drawn lines lie in the box.
func insideOwn(pairs []pair, at model, box int, n net) float64 {
	in := 0.0
	for _, p := range pairs {
		dx, dy := at.at(p.dx, p.dy)
		if n.at(float64(p.m.X)+dx, float64(p.m.Y)+dy) == box {
			in++
		}
	}
	return in / float64(max(1, len(pairs)))
}

// elsewhere returns the place away from where a box is that explains most of its lines,
// the share, and the share at the next best that is another.
func (v volume) elsewhere(box int, points []lines.Mark, drawn *lines.Index, n net, was model) (at model, found []pair, best, next float64) {
	x, y := n.middle(box)
	for _, from := range v.peaks(box, elsewhere*n.cell) {
		m := model{x: from.X, y: from.Y}
		var here []pair
		for _, reach := range reaches[1:] {
			here = match(points, drawn, plane.Pt(x, y), n.cell, m, reach*n.cell, here[:0])
			m = solve(here, m, reach*n.cell)
		}
		if math.Hypot(m.x-was.x, m.y-was.y) < elsewhere*n.cell {
			continue
		}
		share, same := explained(here, len(points)), math.Hypot(m.x-at.x, m.y-at.y) < elsewhere*n.cell
		if share > best {
			share, best, at, found = best, share, m, here
		}
		if !same { // else two ways to one place
			next = max(next, share)
		}
	}
	return at, found, best, next
}

// explained returns the share of a box's wanted marks whose lines lie where they are
// taken to be.
func explained(pairs []pair, points int) float64 {
	sum := 0.0
	for _, p := range pairs {
		sum += p.w
	}
	return sum / float64(max(1, points))
}

// peaks returns the shifts at which a box scores best, pixels, each so far from the
// others.
func (v volume) peaks(box int, away float64) (at []plane.Point) {
	half := v.side / 2
	for range placesTried {
		best, top := 0.0, plane.Point{}
		for l, s := range v.score[box] {
			if s <= best {
				continue
			}
			p := plane.Pt(float64(l%v.side-half)*v.scale, float64(l/v.side-half)*v.scale)
			if !slices.ContainsFunc(at, func(q plane.Point) bool { return p.Sub(q).Len() < away }) {
				best, top = s, p
			}
		}
		at = append(at, top)
	}
	return at
}

// doubt takes back what a box cannot know because its lines would lie as well
// elsewhere: rails and other lines that repeat look the same a step further.
func (v volume) doubt(box int, s boxShift, n net) boxShift {
	if s.sure == None || v.score[box] == nil {
		return s
	}
	if s.shift.Len() > furthestTold*n.cell { // at the end of what is searched nothing says that it ends there
		return boxShift{sure: None, matched: s.matched}
	}
	half := v.side / 2
	at := func(x, y int) float64 {
		return v.score[box][max(0, min(v.side-1, y+half))*v.side+max(0, min(v.side-1, x+half))]
	}
	cx, cy := int(math.Round(s.shift.X/v.scale)), int(math.Round(s.shift.Y/v.scale))
	best := 0.0
	for y := cy - 1; y <= cy+1; y++ {
		for x := cx - 1; x <= cx+1; x++ {
			best = max(best, at(x, y))
		}
	}
	sin, cos := math.Sincos(s.across * math.Pi / 180)
	away := elsewhere * n.cell / v.scale
	across, along := false, false
	for y := -half; y <= half; y++ {
		for x := -half; x <= half; x++ {
			dx, dy := float64(x-cx), float64(y-cy)
			if dx*dx+dy*dy < away*away || at(x, y) < asGood*best {
				continue
			}
			if math.Abs(dx*cos+dy*sin) > 0.7*away {
				across = true
			} else {
				along = true
			}
		}
	}
	switch {
	case across && s.sure == Across:
		return boxShift{sure: None, matched: s.matched}
	case across && along:
		return boxShift{sure: None, matched: s.matched}
	case across: // known along the weaker direction only
		return s.only(s.across + 90)
	case along && s.sure == Both:
		return s.only(s.across)
	}
	return s
}

// only reduces a shift to its part along one direction, in degrees.
func (s boxShift) only(across float64) boxShift {
	if across > 90 {
		across -= 180
	}
	sin, cos := math.Sincos(across * math.Pi / 180)
	along := s.shift.X*cos + s.shift.Y*sin
	s.sure, s.across, s.shift = Across, across, plane.Pt(along*cos, along*sin)
	return s
}
