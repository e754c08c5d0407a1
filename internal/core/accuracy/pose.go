package accuracy

import (
	"math"

	"zestysketch/internal/core/lines"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/core/plane"
)

// group is what may be one part: strokes of the picture that lie side by side.
type group struct {
	all    []lines.Mark
	points []lines.Mark // a few of them, evenly
	wanted *lines.Index
	own    *lines.Index // the drawn marks that its strokes explain where they belong
	in     map[int]bool // the boxes it lies in
	middle plane.Point
	radius float64 // root mean square distance from the middle, pixels
	reach  float64 // of the furthest mark from the middle, along an axis, pixels
	length float64 // boxes
	closed bool
	open   bool // one line that does not close

	straight bool
	across   plane.Point // if so, the direction across it
}

// groupPoints is by how many marks a group is looked for.
const groupPoints = 64

// pose is where a group lies: turned and sized about its middle, and moved. Pixels, radians.
type pose struct {
	about, move plane.Point
	size, turn  float64
}

func (t pose) carry(m lines.Mark) lines.Mark {
	sin, cos := math.Sincos(t.turn)
	dx, dy := float64(m.X)-t.about.X, float64(m.Y)-t.about.Y
	nx, ny := float64(m.NX), float64(m.NY)
	m.X = float32(t.about.X + t.move.X + t.size*(dx*cos-dy*sin))
	m.Y = float32(t.about.Y + t.move.Y + t.size*(dx*sin+dy*cos))
	m.NX, m.NY = float32(nx*cos-ny*sin), float32(nx*sin+ny*cos)
	return m
}

// nearest returns how far across a carried mark's line the nearest drawn one of its direction lies,
// pixels; false where none does within reach. What other strokes explain does not count.
func (s *partSearch) nearest(g group, m lines.Mark, reach float32) (across float32, found bool) {
	across, found = nearestAcross(s.free, m, reach)
	if g.own != nil {
		if off, too := nearestAcross(g.own, m, reach); too && (!found || max(off, -off) < max(across, -across)) {
			return off, true
		}
	}
	return across, found
}

// nearestAcross returns how far across a mark's line the nearest one of its direction lies.
func nearestAcross(among *lines.Index, m lines.Mark, reach float32) (across float32, found bool) {
	best := reach
	among.Around(m.X, m.Y, reach+1, func(d lines.Mark) bool {
		if c := d.NX*m.NX + d.NY*m.NY; c < 0.85 && c > -0.85 {
			return true
		}
		ex, ey := d.X-m.X, d.Y-m.Y
		along, off := ex*m.NY-ey*m.NX, ex*m.NX+ey*m.NY
		if size := max(off, -off); along > -1.2 && along < 1.2 && size < best {
			best, across, found = size, off, true
		}
		return true
	})
	return across, found
}

// A group is fitted in rounds, each with a nearer reach, boxes. Size and turn are kept where so
// many marks would have them.
var fitReaches = []float64{0.2, 0.2, 0.14, 0.1, 0.07, 0.07}

const keepSize = 3.0

// fit moves a group to where its marks lie best on drawn ones near by: point to line as in refine,
// with Tukey's weights; sized and turned too, where that is asked.
func (s *partSearch) fit(g group, t pose, whole bool) pose {
	for _, share := range fitReaches {
		reach := share * s.net.cell
		a := picture.NewNormal(4)
		for _, p := range g.points {
			m := t.carry(p)
			off, found := s.nearest(g, m, float32(reach))
			if !found {
				continue
			}
			r := float64(off) / reach
			vx, vy := (float64(m.X)-t.about.X-t.move.X)/g.radius, (float64(m.Y)-t.about.Y-t.move.Y)/g.radius
			nx, ny := float64(m.NX), float64(m.NY)
			row := [4]float64{nx, ny, nx*vx + ny*vy, ny*vx - nx*vy}
			a.Add(row[:], float64(off), sq(1-r*r))
		}
		keep := keepSize
		if !whole || g.straight {
			keep = 1e9
		}
		for i, weight := range [4]float64{0.3, 0.3, keep, keep} {
			a.Hold(i, 0, weight)
		}
		x, ok := a.Solve()
		if !ok {
			break
		}
		t.move = t.move.Add(plane.Pt(x[0], x[1]))
		t.size, t.turn = t.size*(1+x[2]/g.radius), t.turn+x[3]/g.radius
		if t.size < 0.5 || t.size > 2 || math.Abs(t.turn) > 0.6 {
			break
		}
	}
	return t
}

// How likely a drawn line is so far from where a part has it: as a hand draws, boxes, most within
// closeSpread, the others within wideSpread, and not at all in missed of it. What is drawn with no
// regard to the part lies anywhere.
const (
	closeSpread, wideSpread = 0.02, 0.06
	closeShare, wideShare   = 0.65, 0.25
	missed                  = 0.1
	seenWithin              = 0.16
	leastChance             = 0.15 // lines a box of what lies there by chance
)

// support returns how much likelier what is drawn is where a group lies so than where it is not drawn
// at all: the logarithm, errors along so much of a stroke being one. Chance is lines a box of what is
// drawn about there whatever it is. Both are asked: the part's marks whether they are drawn, and what is
// drawn about there and nothing else explains whether it is the part's.
func (s *partSearch) support(g group, t pose, chance float64, asItShould bool) (sum float64) {
	reach := float32(seenWithin * s.net.cell)
	for _, p := range g.points {
		off, found := s.nearest(g, t.carry(p), reach)
		if asItShould { // two lines of the picture side by side may be one of the drawing
			off, found = nearestAcross(s.drawn, t.carry(p), reach)
		}
		sum += s.drawnOr(off, found, chance)
	}
	sum *= g.length / (strokeCell * float64(len(g.points)))
	home := t.undone()
	there := func(marks []lines.Mark) {
		few := thinned(marks, groupPoints)
		each := float64(len(marks)) / max(1, float64(len(few))) / (strokeCell * s.net.cell)
		for _, d := range few {
			if off, found := nearestAcross(g.wanted, home.carry(d), reach); found {
				sum += max(0, s.likelier(off, chance)) * each
			}
		}
	}
	if g.own != nil {
		there(g.own.Marks)
	}
	there(s.freeAbout(g, t))
	return sum * bothWays
}

// bothWays is what one of two answers counts that go together.
const bothWays = 0.7

// drawnOr returns how much likelier than by chance it is that a mark's line is drawn so far off, or missed.
func (s *partSearch) drawnOr(off float32, found bool, chance float64) float64 {
	if !found {
		return math.Log(missed)
	}
	return max(s.likelier(off, chance), math.Log(missed))
}

// likelier returns how much likelier than by chance a line is drawn so far off, pixels: the logarithm.
func (s *partSearch) likelier(off float32, chance float64) float64 {
	r := math.Abs(float64(off)) / s.net.cell
	return math.Log((closeShare*gauss(r, closeSpread) + wideShare*gauss(r, wideSpread) + missed*chance) / chance)
}

// freeAbout returns the drawn marks that nothing explains where a group would lie.
func (s *partSearch) freeAbout(g group, t pose) (all []lines.Mark) {
	mid := g.middle.Add(t.move)
	reach := float32(g.reach*t.size + seenWithin*s.net.cell)
	s.free.Around(float32(mid.X), float32(mid.Y), reach, func(m lines.Mark) bool { all = append(all, m); return true })
	return all
}

// undone returns what takes back what is drawn to where it belongs.
func (t pose) undone() pose {
	return pose{t.about.Add(t.move), t.move.Mul(-1), 1 / t.size, -t.turn}
}

func gauss(v, spread float64) float64 {
	return math.Exp(-v*v/(2*spread*spread)) / (spread * math.Sqrt(2*math.Pi))
}

// chance returns how many drawn lines of a group's directions there are a box across them, where a
// part of it may have gone.
func (s *partSearch) chance(g group) float64 {
	reach, n, of := float32(furthestPart*s.net.cell), 0.0, 0.0
	for i := 0; i < len(g.points); i += 8 {
		m := g.points[i]
		of++
		count := func(d lines.Mark) bool {
			if c := d.NX*m.NX + d.NY*m.NY; c > 0.85 || c < -0.85 {
				n++
			}
			return true
		}
		if s.free.Around(m.X, m.Y, reach, count); g.own != nil {
			g.own.Around(m.X, m.Y, reach, count)
		}
	}
	return max(leastChance, n/of/s.net.cell/(4*furthestPart*furthestPart))
}

// vote returns the move that most pairs of a group's marks, in a size, and drawn ones of their direction
// have: a generalized Hough transform (Ballard 1981, Pattern Recognition 13(2); from memory).
func (s *partSearch) vote(g group, size float64) plane.Point {
	reach, step := furthestPart*s.net.cell, voteCell*s.net.cell
	half := int(reach/step) + 1
	side := 2*half + 1
	votes := make([]float32, side*side)
	t := pose{about: g.middle, size: size}
	for _, p := range g.points {
		m := t.carry(p)
		look := func(f lines.Mark) bool {
			if c := f.NX*m.NX + f.NY*m.NY; c > 0.9 || c < -0.9 {
				x, y := half+int(math.Round(float64(f.X-m.X)/step)), half+int(math.Round(float64(f.Y-m.Y)/step))
				if x > 0 && y > 0 && x < side-1 && y < side-1 {
					votes[y*side+x]++
				}
			}
			return true
		}
		s.free.Around(m.X, m.Y, float32(reach), look)
		if g.own != nil {
			g.own.Around(m.X, m.Y, float32(reach), look)
		}
	}
	best, most := half*side+half, float32(0)
	for y := 1; y < side-1; y++ {
		for x := 1; x < side-1; x++ {
			i := y*side + x
			if sum := 2*votes[i] + votes[i-1] + votes[i+1] + votes[i-side] + votes[i+side]; sum > most {
				best, most = i, sum
			}
		}
	}
	return plane.Pt(float64(best%side-half)*step, float64(best/side-half)*step)
}

// How far a part is looked for, boxes, how many times as large or small, how far turned, radians, and how finely votes are
// counted.
const furthestPart, mostResized, mostTurned, voteCell = 1.25, 2.0, 0.46, 0.05
