package photo

import (
	"math"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/core/plane"
)

// lift is how high a sheet stands above the plane of its corners: one smooth surface, from
// which follows where each of its places is seen. What stands higher is seen further from
// the camera's foot, in all directions alike; and paper does not stretch, so that a place
// on a slope lies nearer. So the lines down say what bends the lines across too, and what
// is then left of a line is its ruler's.
type lift struct {
	size   plane.Point
	foot   plane.Point // of the camera on the sheet's plane, mm
	high   float64     // of the camera, mm
	z      Surface     // mm
	change change      // the plane of the corners, seen from a little elsewhere
	drawn  [2][]float64
}

// phoneFocal is a phone's focal length, as a part of the photo's longer side: it has to be
// assumed (26 mm on a frame of 36 × 24 or 35 × 26; common practice). Of the result only
// what a slope takes away depends on it.
const phoneFocal = 0.75

// What is known of lifts and of rulers.
const (
	mostParts = 8    // of the surface, each way
	highMM    = 30.0 // from the plane of the corners
	liftsMM   = 5.0  // that it may bend from one part to the next
	ruledMM   = 0.5  // what a ruler's line is usually off by
	seenMM    = 0.2  // what the place of one is read to
	lattice   = 24   // parts each way in which slopes are summed
)

// newLift returns a flat sheet in a view.
func newLift(v View, p grid.Plan) lift {
	l := lift{size: plane.Pt(p.Sheet.Width, p.Sheet.Height)}
	l.z = Surface{Across: min(p.Grid.Columns, mostParts), Down: min(p.Grid.Rows, mostParts)}
	l.z.At = make([]float64, (l.z.Across+3)*(l.z.Down+3))
	l.change = change{size: max(l.size.X, l.size.Y), terms: make([]float64, 8)}
	f := phoneFocal * 2 * v.Lens.Centre.X
	if v.Lens.Centre.Y > v.Lens.Centre.X {
		f = phoneFocal * 2 * v.Lens.Centre.Y
	}
	h := v.ToPhoto
	axis := func(k int) [3]float64 {
		return [3]float64{(h[k] - v.Lens.Centre.X*h[6+k]) / f, (h[3+k] - v.Lens.Centre.Y*h[6+k]) / f, h[6+k]}
	}
	right, down, to := axis(0), axis(1), axis(2)
	scale := math.Sqrt(math.Sqrt(inner3(right, right) * inner3(down, down)))
	away := [3]float64{right[1]*down[2] - right[2]*down[1], right[2]*down[0] - right[0]*down[2], right[0]*down[1] - right[1]*down[0]}
	l.foot = plane.Pt(-inner3(right, to)/inner3(right, right), -inner3(down, to)/inner3(down, down))
	l.high = math.Abs(inner3(away, to)) / (math.Sqrt(inner3(away, away)) * scale)
	return l
}

func inner3(a, b [3]float64) float64 { return a[0]*b[0] + a[1]*b[1] + a[2]*b[2] }

// height returns how high a place stands.
func (l lift) height(at plane.Point) float64 { return l.z.of(at.X/l.size.X, at.Y/l.size.Y) }

// draw sums what slopes take away, from the middle of the sheet outwards. Of a sheet that
// is bent one way only, and any paper is nearly, it is exact to the second degree: along
// x half the square of the slope along x, along y half the product of the two.
func (l *lift) draw() {
	n := lattice + 1
	step := plane.Pt(l.size.X/lattice, l.size.Y/lattice)
	slopes := make([]plane.Point, n*n)
	for j := range n {
		for i := range n {
			at := plane.Pt(float64(i)*step.X, float64(j)*step.Y)
			from := plane.Pt(max(0, at.X-step.X/2), max(0, at.Y-step.Y/2))
			to := plane.Pt(min(l.size.X, at.X+step.X/2), min(l.size.Y, at.Y+step.Y/2))
			slopes[j*n+i] = plane.Pt((l.height(plane.Pt(to.X, at.Y))-l.height(plane.Pt(from.X, at.Y)))/(to.X-from.X),
				(l.height(plane.Pt(at.X, to.Y))-l.height(plane.Pt(at.X, from.Y)))/(to.Y-from.Y))
		}
	}
	own := func(k int, s plane.Point) float64 {
		if k == 0 {
			return s.X * s.X / 2
		}
		return s.Y * s.Y / 2
	}
	for k := range 2 {
		sum := make([]float64, n*n)
		// First along the middle line of the other direction, then out from it.
		stride, other, along, across := 1, n, step.X, step.Y
		if k == 1 {
			stride, other, along, across = n, 1, step.Y, step.X
		}
		mid := lattice / 2
		for _, way := range []int{1, -1} {
			for j := mid; j+way >= 0 && j+way < n; j += way {
				a, b := slopes[mid*stride+j*other], slopes[mid*stride+(j+way)*other]
				sum[mid*stride+(j+way)*other] = sum[mid*stride+j*other] - float64(way)*across*(a.X*a.Y+b.X*b.Y)/4
			}
		}
		for j := range n {
			for _, way := range []int{1, -1} {
				for i := mid; i+way >= 0 && i+way < n; i += way {
					a, b := i*stride+j*other, (i+way)*stride+j*other
					sum[b] = sum[a] - float64(way)*along*(own(k, slopes[a])+own(k, slopes[b]))/2
				}
			}
		}
		l.drawn[k] = sum
	}
}

// nearer returns by how much a place lies nearer because of slopes.
func (l lift) nearer(at plane.Point) (off plane.Point) {
	if l.drawn[0] == nil {
		return off
	}
	x, y := max(0, min(lattice-1e-9, at.X/l.size.X*lattice)), max(0, min(lattice-1e-9, at.Y/l.size.Y*lattice))
	i, j := int(x), int(y)
	s, t := x-float64(i), y-float64(j)
	of := func(d []float64) float64 {
		k := j*(lattice+1) + i
		return (d[k]*(1-s)+d[k+1]*s)*(1-t) + (d[k+lattice+1]*(1-s)+d[k+lattice+2]*s)*t
	}
	return plane.Pt(of(l.drawn[0]), of(l.drawn[1]))
}

// off returns how far off a flat sheet would show a place.
func (l lift) off(at plane.Point) plane.Point {
	near := l.nearer(at)
	z := l.height(at)
	return near.Add(at.Add(near).Sub(l.foot).Mul(z / (l.high - z))).Add(l.change.of(at))
}

// curl returns how a sheet is curled by the lines that were ruled on it: the lift that
// explains where they were seen, each being off by itself at both its ends as well.
// Iteratively reweighted least squares, the lift's own second degree taken from the round
// before. Pinned says that the sheet's corners are known otherwise; else they are where
// the outermost lines are.
func (all seenLines) curl(v View, p grid.Plan, pinned bool) *Curl {
	s := solving{lift: newLift(v, p), columns: p.Grid.Columns + 1, rows: p.Grid.Rows + 1}
	s.rulers = len(s.z.At) + len(s.change.terms)
	s.unknown = make([]float64, s.rulers+2*s.columns+2*s.rows)
	s.row = make([]float64, len(s.unknown))
	for round := range liftRounds {
		a := picture.NewNormal(len(s.unknown))
		s.believed(a, pinned)
		s.seen(a, all, round == 0)
		if pinned {
			s.pinned(a)
		}
		x, ok := a.Solve()
		if !ok {
			break
		}
		s.unknown = x
		s.z.At, s.change.terms = x[:len(s.z.At)], x[len(s.z.At):s.rulers]
		s.draw()
	}
	return s.lift.curl()
}

// solving is a lift that is solved for: its heights, the change of its corners' plane, and
// from rulers on by how much each line is off at its two ends.
type solving struct {
	lift
	columns, rows, rulers int
	unknown, row          []float64
}

// sure is what a place that was read says.
const sure = 1 / (seenMM * seenMM)

// believed says what is known before anything is seen: sheets bend gently, a plane that
// stands or leans is a change of the corners' too, and most lines are ruled rightly.
func (s *solving) believed(a picture.Normal, pinned bool) {
	s.z.smooth(a, liftsMM)
	for i := range s.unknown {
		k := (i - s.rulers) / 2
		outer := k == 0 || k == s.columns-1 || k == s.columns || k == s.columns+s.rows-1
		switch {
		case i < len(s.z.At):
			a.Hold(i, 0, 1/(highMM*highMM))
		case i < s.rulers:
			a.Hold(i, 0, 1e-6)
		case outer && !pinned:
			a.Hold(i, 0, 100*sure)
		default:
			a.Hold(i, 0, 1/(ruledMM*(math.Abs(s.unknown[i])+ruledMM)))
		}
	}
}

// seen says where the lines were seen. A place off by far counts for little.
func (s *solving) seen(a picture.Normal, all seenLines, first bool) {
	for side, seen := range all {
		for _, q := range seen {
			off := q.flat.Sub(q.on)
			if side == 1 {
				off.X = off.Y
			}
			off.X -= s.tells(q.on, side)
			k := s.rulers + 2*(q.rule+side*s.columns)
			s.row[k], s.row[k+1] = 1-q.along, q.along
			weight := sure
			if d := off.X - dot(s.row, s.unknown); !first {
				weight /= 1 + d*d/(4*seenMM*seenMM)
			}
			a.Add(s.row, off.X, weight)
		}
	}
}

// pinned says that the corners are where they are.
func (s *solving) pinned(a picture.Normal) {
	for _, corner := range plane.Box(s.size.X, s.size.Y) {
		for side := range 2 {
			known := s.tells(corner, side)
			a.Add(s.row, -known, 100*sure)
		}
	}
}

// tells writes into row what a place tells of the unknown, across or down, and returns what
// is known of it already.
func (s *solving) tells(at plane.Point, side int) (known float64) {
	clear(s.row)
	near := s.nearer(at)
	from := at.Add(near).Sub(s.foot).Mul(1 / (s.high - s.height(at)))
	x, y := s.change.rows(at)
	terms := s.z.terms(at.X/s.size.X, at.Y/s.size.Y)
	if side == 1 {
		from.X, near.X, x = from.Y, near.Y, y
	}
	terms.addTo(s.row, from.X)
	copy(s.row[len(s.z.At):], x[:])
	return near.X
}

// liftRounds is how often the equations are solved.
const liftRounds = 8

func dot(a, b []float64) (sum float64) {
	for i := range a {
		sum += a[i] * b[i]
	}
	return sum
}

// curl returns the lift as surfaces of what it does.
func (l lift) curl() *Curl {
	c := &Curl{Size: l.size}
	n := len(l.z.At)
	ax, ay := picture.NewNormal(n), picture.NewNormal(n)
	row := make([]float64, n)
	for i := range n {
		ax.Hold(i, 0, 1e-9)
		ay.Hold(i, 0, 1e-9)
	}
	const each = 3 // places for every part
	for j := range each*l.z.Down + 1 {
		for i := range each*l.z.Across + 1 {
			u, v := float64(i)/float64(each*l.z.Across), float64(j)/float64(each*l.z.Down)
			off := l.off(plane.Pt(u*l.size.X, v*l.size.Y))
			clear(row)
			l.z.terms(u, v).addTo(row, 1)
			ax.Add(row, off.X, 1)
			ay.Add(row, off.Y, 1)
		}
	}
	for s, a := range map[*Surface]picture.Normal{&c.X: ax, &c.Y: ay} {
		*s = l.z
		s.At, _ = a.Solve()
		for i, v := range s.At {
			s.At[i] = math.Round(v*100) / 100 // mm: finer than is known
		}
	}
	return c
}
