package lines

import (
	"cmp"
	"errors"
	"fmt"
	"image"
	"math"
	"slices"

	"zestysketch/internal/core/plane"
)

// Detail says how much of a picture becomes lines.
type Detail int

// The steps of detail.
const (
	Bare  Detail = 1 // the main outlines
	Usual Detail = 2
	Rich  Detail = 3 // folds and marks too
)

// Wish is what is wanted of a line sheet.
type Wish struct {
	Detail  Detail
	PerMM   float64       // pixels of the picture a millimetre, as printed
	Drawing bool          // the picture is a line drawing: its lines are cleaned and thinned, tones are not looked at
	Keep    []plane.Point // pixels where a landmark lies: the lines round it are kept, whatever the detail
	Exact   bool          // lines are kept to a part of a pixel, and colours as light as one another told apart, as they are read; else as they are traced
}

// ErrWish is wrapped by errors about what was asked for.
var ErrWish = errors.New("line sheet")

// Sketch is a picture as lines to trace.
type Sketch struct {
	W, H    int
	PerMM   float64
	Strokes []Stroke // the weightiest first
	Ends    []End    // that meet nothing
}

// End is where a stroke stops in the open: a line is missing there, or it fades out.
type End struct {
	Stroke int
	At     plane.Point
}

// Of a sketch, in millimetres on paper: the Gaussian, the gap that is joined,
// the shortest stroke kept (ours, by what a pencil can follow), and the weakest
// change of tone that is a line.
var details = map[Detail]struct{ sigma, gap, shortest, least float64 }{
	Bare:  {0.9, 4, 25, 0.16},
	Usual: {0.55, 3, 12, 0.09},
	Rich:  {0.35, 2, 6, 0.05},
}

// leastSigma and mostSigma bound the blur, in pixels: a line is followed to a
// part of a pixel from a sigma of one.
const leastSigma, mostSigma = 1.0, 6.0

// Draw returns the lines of a picture: its edges and dark lines, or for a
// drawing its lines alone, joined into long strokes; short scraps are dropped.
// The error wraps ErrWish.
func Draw(img *image.RGBA, w Wish) (Sketch, error) {
	d, ok := details[w.Detail]
	if !ok {
		return Sketch{}, fmt.Errorf("%w: detail is 1 (main outlines), 2 or 3 (folds and marks), got %d", ErrWish, w.Detail)
	}
	if !(w.PerMM > 0) || math.IsInf(w.PerMM, 0) {
		return Sketch{}, fmt.Errorf("%w: wanted the picture's printed size, got %g pixels a millimetre", ErrWish, w.PerMM)
	}
	p := Lightness(img)
	s := Sketch{W: p.W, H: p.H, PerMM: w.PerMM}
	var marks []Mark
	if w.Drawing {
		marks = marksOfDrawing(img, p, searchOfDrawing(w.PerMM, w.Detail), w.PerMM)
	} else {
		sigma := max(leastSigma, min(mostSigma, d.sigma*w.PerMM))
		marks = Find(p, Search{Sigma: sigma, Least: d.least, Shortest: 4, Edges: true})
		if w.Exact {
			marks = append(marks, edgesOfHues(img, Search{Sigma: sigma, Least: leastHue, Shortest: 4}, marks)...)
		}
	}
	strokes := Link(marks, p.W, p.H)
	strokes = join(strokes, max(3, d.gap*w.PerMM))
	for _, st := range strokes {
		if st.Length() >= d.shortest*w.PerMM || st.Closed && st.Length() >= 0.5*d.shortest*w.PerMM {
			if !w.Exact {
				st.Points = Simplified(eased(st.Points, st.Closed), 0.12*w.PerMM, st.Closed)
			}
			s.Strokes = append(s.Strokes, st)
		}
	}
	if len(w.Keep) > 0 && w.Detail < Rich {
		if err := s.keep(img, w); err != nil {
			return s, err
		}
	}
	slices.SortStableFunc(s.Strokes, func(a, b Stroke) int { return cmp.Compare(b.Worth(), a.Worth()) })
	s.Ends = s.open(max(3, 1.2*w.PerMM))
	return s, nil
}

// Lines so near a landmark are kept that are not so near one that is there already, mm (ours).
const keptReach, sameLine = 6.0, 1.5

// keep adds the lines of a richer sheet that lie at a landmark and are not there yet.
func (s *Sketch) keep(img *image.RGBA, w Wish) error {
	keep := w.Keep
	w.Detail, w.Keep = Rich, nil
	rich, err := Draw(img, w)
	if err != nil {
		return err
	}
	there := slices.Clone(s.Strokes)
	for _, st := range rich.Strokes {
		at := func(p plane.Point) bool { return st.reaches(p, keptReach*w.PerMM) }
		middle := st.Points[len(st.Points)/2]
		known := func(o Stroke) bool { return o.reaches(middle, sameLine*w.PerMM) }
		if slices.ContainsFunc(keep, at) && !slices.ContainsFunc(there, known) {
			s.Strokes = append(s.Strokes, st)
		}
	}
	return nil
}

// reaches reports whether a stroke comes so near a point.
func (s Stroke) reaches(p plane.Point, near float64) bool {
	for i := 1; i < len(s.Points); i++ {
		if p.FromSegment(s.Points[i-1], s.Points[i]) <= near {
			return true
		}
	}
	return s.Closed && p.FromSegment(s.Points[0], s.Points[len(s.Points)-1]) <= near
}

// Worth weighs a stroke: long and strong ones matter.
func (s Stroke) Worth() float64 { return s.Length() * s.Weight }

// join puts strokes together whose ends lie within gap of one another and run
// the same way, the nearest first.
func join(strokes []Stroke, gap float64) []Stroke {
	type pair struct {
		a, b   int // ends: 2·stroke, or 2·stroke + 1 for the last point
		length float64
	}
	ends := endsOf(strokes)
	near := newBuckets(gap)
	for e, end := range ends {
		if end.ok {
			near.add(e, end.at)
		}
	}
	var pairs []pair
	for e, end := range ends {
		if !end.ok {
			continue
		}
		near.around(end.at, func(o int) {
			other := ends[o]
			long := between(end.at, other.at)
			if o <= e || o/2 == e/2 && strokes[e/2].Length() < 4*gap || long > gap {
				return
			}
			if !end.faces(other, long) {
				return
			}
			pairs = append(pairs, pair{e, o, long})
		})
	}
	slices.SortStableFunc(pairs, func(a, b pair) int { return cmp.Compare(a.length, b.length) })
	to := make([]int, len(ends))
	for i := range to {
		to[i] = -1
	}
	for _, p := range pairs {
		if to[p.a] < 0 && to[p.b] < 0 {
			to[p.a], to[p.b] = p.b, p.a
		}
	}
	return chained(strokes, to)
}

// end is one end of a stroke: where it is, and the way it would go on.
type end struct {
	at     plane.Point
	dx, dy float64
	ok     bool
}

// faces reports whether two ends run towards one another.
func (e end) faces(o end, long float64) bool {
	const alike = 0.6
	if -(e.dx*o.dx + e.dy*o.dy) < alike {
		return false
	}
	if long < 2 {
		return true
	}
	vx, vy := (o.at.X-e.at.X)/long, (o.at.Y-e.at.Y)/long
	return e.dx*vx+e.dy*vy > alike && -(o.dx*vx+o.dy*vy) > alike
}

func endsOf(strokes []Stroke) []end {
	const back = 6 // points over which an end's direction is taken
	ends := make([]end, 2*len(strokes))
	for i, s := range strokes {
		n := len(s.Points)
		if s.Closed || n < 2 {
			continue
		}
		for k, at := range [2][2]int{{0, min(back, n-1)}, {n - 1, max(0, n-1-back)}} {
			p, q := s.Points[at[0]], s.Points[at[1]]
			if long := between(p, q); long > 0 {
				ends[2*i+k] = end{p, (p.X - q.X) / long, (p.Y - q.Y) / long, true}
			}
		}
	}
	return ends
}

// chained strings strokes together as their ends were paired.
func chained(strokes []Stroke, to []int) []Stroke {
	used := make([]bool, len(strokes))
	var out []Stroke
	chain := func(first int) { // an end from which nothing goes on, or any of a ring
		s, marks := Stroke{}, 0.0
		for e := first; ; {
			i := e / 2
			used[i] = true
			points := slices.Clone(strokes[i].Points)
			if e%2 == 1 {
				slices.Reverse(points)
			}
			s.Points = append(s.Points, points...)
			s.Weight += strokes[i].Weight * float64(len(points))
			marks += float64(len(points))
			s.Closed = strokes[i].Closed
			e = to[e^1] // from its other end
			if e < 0 {
				break
			}
			if used[e/2] {
				s.Closed = true
				break
			}
		}
		s.Weight /= max(1, marks)
		out = append(out, s)
	}
	for i := range strokes {
		for k := range 2 {
			if !used[i] && to[2*i+k] < 0 {
				chain(2*i + k)
			}
		}
	}
	for i := range strokes {
		if !used[i] {
			chain(2 * i)
		}
	}
	return out
}

// open returns the ends that lie further than r from every other line and from
// the picture's edge.
func (s Sketch) open(r float64) (open []End) {
	near := newBuckets(r)
	var strokes []int // of each run
	for i, st := range s.Strokes {
		for _, run := range dense(st, r/2) {
			near.add(len(strokes), run)
			strokes = append(strokes, i)
		}
	}
	for i, st := range s.Strokes {
		if st.Closed {
			continue
		}
		for _, p := range [2]plane.Point{st.Points[0], st.Points[len(st.Points)-1]} {
			if p.X < r || p.Y < r || p.X > float64(s.W)-r || p.Y > float64(s.H)-r {
				continue
			}
			met := false
			near.around(p, func(k int) { met = met || strokes[k] != i && between(near.at[k], p) <= r })
			if !met {
				open = append(open, End{i, p})
			}
		}
	}
	return open
}

// Apart returns the parts of strokes that lie further than r pixels from all others and are at least so long.
func Apart(strokes, others []Stroke, r, shortest float64) (all []Stroke) {
	near := newBuckets(r)
	n := 0
	for _, st := range others {
		for _, p := range dense(st, r/2) {
			near.add(n, p)
			n++
		}
	}
	for _, st := range strokes {
		points := dense(st, r/2)
		if st.Closed {
			points = append(points, points[0])
		}
		var part []plane.Point
		for i, p := range points {
			free := true
			near.around(p, func(k int) { free = free && between(near.at[k], p) > r })
			if free {
				part = append(part, p)
			}
			if free && i < len(points)-1 {
				continue
			}
			s := Stroke{Points: part, Weight: st.Weight}
			if s.Closed = st.Closed && len(part) == len(points); s.Closed {
				s.Points = part[:len(part)-1]
			}
			if s.Length() >= shortest {
				all = append(all, s)
			}
			part = nil
		}
	}
	return all
}

// dense returns points along a stroke no further than step apart.
func dense(s Stroke, step float64) (out []plane.Point) {
	for i, p := range s.Points {
		out = append(out, p)
		next := i + 1
		if next == len(s.Points) {
			if !s.Closed {
				break
			}
			next = 0
		}
		q := s.Points[next]
		for n, k := int(between(p, q)/step), 1; k <= n; k++ {
			t := float64(k) / float64(n+1)
			out = append(out, plane.Pt(p.X+(q.X-p.X)*t, p.Y+(q.Y-p.Y)*t))
		}
	}
	return out
}

// buckets find points near a place.
type buckets struct {
	side float64
	in   map[[2]int][]int
	at   map[int]plane.Point
}

func newBuckets(side float64) *buckets {
	return &buckets{side, map[[2]int][]int{}, map[int]plane.Point{}}
}

func (b *buckets) key(p plane.Point) [2]int {
	return [2]int{int(math.Floor(p.X / b.side)), int(math.Floor(p.Y / b.side))}
}

func (b *buckets) add(i int, p plane.Point) {
	k := b.key(p)
	b.in[k], b.at[i] = append(b.in[k], i), p
}

// around calls visit for every point within a side of p, and some beyond.
func (b *buckets) around(p plane.Point, visit func(int)) {
	k := b.key(p)
	for y := -1; y <= 1; y++ {
		for x := -1; x <= 1; x++ {
			for _, i := range b.in[[2]int{k[0] + x, k[1] + y}] {
				visit(i)
			}
		}
	}
}
