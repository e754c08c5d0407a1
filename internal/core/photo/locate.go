package photo

import (
	"cmp"
	"math"
	"slices"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/core/plane"
)

// Found is where a drawing's grid may lie in a photo, and how that was found.
type Found struct {
	Corners plane.Quad
	By      FoundBy
	Planned bool    // where the plan puts it on its stock
	Cut     bool    // of paper that goes on beyond the photo: how far, nobody knows
	Share   float64 // of the ruled grid that was found there, 0 to 1; 0 where it was not looked for
}

// FoundBy is how a drawing's place in a photo is known.
type FoundBy string

// The ways in which a drawing is found.
const (
	ByTags  FoundBy = "tags"
	ByThree FoundBy = "three" // tags: the fourth is where a parallelogram would have it
	ByGrid  FoundBy = "grid"
	ByPaper FoundBy = "paper"
	ByHand  FoundBy = "hand"
)

// gridShows is the share of a grid that must show for it to be proposed, and
// gridSurely the share at which nothing else is.
const gridShows, gridSurely = 0.55, 0.75

// Locate returns the places where the grid of a plan may lie in a photo without tags:
// by the ruled grid itself where it shows, by the paper's sides and by its light, where
// the plan puts it on its stock first, whichever way round the sheet lies, the photo's
// own top first. Which of them it is, only the drawing says: see Snap. It proposes;
// somebody should look.
func Locate(s *Shot, p grid.Plan) []Found {
	var found []Found
	if q, share := FindGrid(s, p); share >= gridShows {
		for _, turn := range turnsOf(q, p.Sheet.Width/p.Sheet.Height) {
			found = append(found, Found{Corners: turn, By: ByGrid, Planned: true, Share: share})
		}
		if share >= gridSurely {
			return found
		}
	}
	small, k := s.small()
	in := stepsIn(small)
	papers := bySides(in, p.Sheet.Stock[0]/p.Sheet.Stock[1])
	for _, q := range first(Papers(s), mostPapers) {
		q = in.sharpened(scaled(q, 1/k))
		if !slices.ContainsFunc(papers, func(o plane.Quad) bool { return apartBy(o, q) < 0.02*outlineSide }) {
			papers = append(papers, q)
		}
	}
	for i, q := range papers {
		papers[i] = fromTopLeft(scaled(q, k))
	}
	w, h := s.Size()
	for _, q := range papers {
		cut := cutOff(q, float64(w), float64(h))
		for _, f := range onPaper(p, q) {
			f.Cut = cut
			found = append(found, f)
		}
	}
	return found
}

// atEdge is how near a photo's edge a paper's side is that may go on beyond it: a share of the photo's size.
const atEdge = 0.01

// cutOff reports whether sides of a paper lie along the edge of a photo of w × h pixels, but not all
// four: then the photo is of the paper alone.
func cutOff(q plane.Quad, w, h float64) bool {
	at := 0
	for i, a := range q {
		b := q[(i+1)%4]
		across, down := atEdge*w, atEdge*h
		if max(a.X, b.X) < across || min(a.X, b.X) > w-across || max(a.Y, b.Y) < down || min(a.Y, b.Y) > h-down {
			at++
		}
	}
	return at > 0 && at < 4
}

func scaled(q plane.Quad, k float64) plane.Quad {
	for i := range q {
		q[i] = q[i].Mul(k)
	}
	return q
}

func first[T any](all []T, n int) []T { return all[:min(n, len(all))] }

// mostPapers is how many papers are proposed by their light.
const mostPapers = 2

// mostSqueezed is how far a camera squeezes a sheet's ratio, as a logarithm.
const mostSqueezed = 0.3

// turnsOf returns the ways in which a sheet of a ratio may lie between four corners.
func turnsOf(q plane.Quad, ratio float64) (ways []plane.Quad) {
	for turn := range 4 {
		if t := Turned(q, turn); math.Abs(math.Log(t.Ratio()/ratio)) < mostSqueezed {
			ways = append(ways, t)
		}
	}
	slices.SortStableFunc(ways, func(a, b plane.Quad) int { return cmp.Compare(tipped(a), tipped(b)) })
	return ways
}

// tipped is how many quarters a sheet's top lies away from the photo's.
func tipped(q plane.Quad) int {
	up := q[0].Add(q[1]).Sub(q[2]).Sub(q[3]) // from the sheet's foot to its top
	switch {
	case -up.Y >= math.Abs(up.X):
		return 0
	case up.Y >= math.Abs(up.X):
		return 2
	}
	return 1
}

// onPaper returns where the grid may lie on a paper with the given corners: where the
// plan puts it on its stock, or all over it where somebody cut the paper to the drawing.
func onPaper(p grid.Plan, paper plane.Quad) (found []Found) {
	size := [2]float64{p.Sheet.Width, p.Sheet.Height}
	type try struct {
		stock   [2]float64
		origin  plane.Point
		planned bool
	}
	tries := []try{{p.Sheet.Stock, p.Sheet.Origin, true}}
	if p.Sheet.Stock != size {
		tries = append(tries, try{stock: size})
	}
	for _, t := range tries {
		for _, q := range turnsOf(paper, t.stock[0]/t.stock[1]) {
			to, err := picture.NewHomography(plane.Box(t.stock[0], t.stock[1]), q)
			if err != nil {
				continue
			}
			var on plane.Quad
			for i, c := range plane.Box(size[0], size[1]) {
				on[i] = to.Apply(t.origin.Add(c))
			}
			if on.Check() == nil {
				found = append(found, Found{Corners: on, By: ByPaper, Planned: t.planned})
			}
		}
	}
	return found
}

// ruledShows is the share of a grid's inner lines that show where it is.
const ruledShows = 0.5

// inner returns the share of a grid's inner lines that show.
func inner(r Ruled) float64 {
	lines := slices.Concat(r.Columns[1:len(r.Columns)-1], r.Rows[1:len(r.Rows)-1])
	if len(lines) == 0 {
		return r.Shown()
	}
	return ShownOf(lines)
}

// ruledAt looks for the ruled grid between four corners, at so many pixels a box.
func ruledAt(s *Shot, p grid.Plan, q plane.Quad, bend, perCell float64) (Ruled, View, Frame, error) {
	f := FrameFor(p, perCell)
	w, h := s.Size()
	v, err := NewView(p, q, NewLens(w, h, bend))
	if err != nil {
		return Ruled{}, v, f, err
	}
	return FindRuled(Even(v.Straight(s, f), f).Ink, p, f), v, f, nil
}

// quick is how many pixels a box are enough to see a ruled line by, and fine to
// see how straight it is.
const quick, fine = 32, 48

// Snap moves four corners onto the crossings of the outermost ruled lines that
// show near them, where the grid inside shows too. A corner whose lines do not show, or
// lie where all the others together do not have them, as lines of the drawing do, is put
// where the others have it. Shows says whether the grid inside does.
func Snap(s *Shot, p grid.Plan, q plane.Quad) (on plane.Quad, shows bool) {
	bend := 0.0
	for _, perCell := range []float64{quick, mostPerCell} {
		r, v, _, err := ruledAt(s, p, q, bend, perCell)
		if err != nil || inner(r) < ruledShows {
			return q, perCell != quick
		}
		move, all := r.moved(p)
		c, w := r.Columns, r.Rows
		next := q
		for i, pair := range [4][2]Rule{{c[0], w[0]}, {c[len(c)-1], w[0]}, {c[len(c)-1], w[len(w)-1]}, {c[0], w[len(w)-1]}} {
			corner := plane.Pt(pair[0].At, pair[1].At)
			at, ok := pair[0].cross(pair[1], p)
			if there := corner.Add(move.of(corner)); all && (!ok || at.Sub(there).Len() > strayCell*min(p.Grid.SheetCell[0], p.Grid.SheetCell[1])) {
				at, ok = there, true
			}
			if ok {
				next[i] = v.Photo(at)
			}
		}
		if next.Check() != nil {
			return q, true
		}
		q = next
		if perCell == quick {
			bend = FindBend(s, p, q)
		}
	}
	return q, true
}

// InnerOff returns how far the ruled lines inside four corners lie from where these put
// them, in boxes, on average; false where none show. The sheet's edge is not among them.
func InnerOff(s *Shot, p grid.Plan, q plane.Quad) (off float64, ok bool) {
	r, _, _, err := ruledAt(s, p, q, 0, fine)
	if err != nil {
		return 0, false
	}
	n := 0.0
	for i, rules := range [][]Rule{r.Columns, r.Rows} {
		for _, one := range rules[1 : len(rules)-1] {
			if one.Shown() {
				off += math.Abs(one.Off()) / p.Grid.SheetCell[i]
				n++
			}
		}
	}
	return off / max(1, n), n > 0
}

// strayCell is how far, in boxes, an outermost line may lie from where all lines together
// have it: more is another line.
const strayCell = 0.07

// cross returns where an upright and a level line of the grid cross on the sheet.
func (r Rule) cross(level Rule, p grid.Plan) (plane.Point, bool) {
	x, y := r.At, level.At
	for range 2 { // each is nearly straight up or level
		x, y = r.At+r.OffAt(y/p.Sheet.Height), level.At+level.OffAt(x/p.Sheet.Width)
	}
	return plane.Pt(x, y), r.Shown() && level.Shown()
}

// mostBend is the strongest bend that is looked for: a tenth at the corners.
const mostBend = 0.1

// FindBend returns the bend of the lens, by which the ruled lines of a sheet
// run straight: the coefficient of Lens; 0 where too few lines show, or where
// they are as straight without (the plumb line method, Brown 1971, Photogrammetric Engineering 37(8)).
func FindBend(s *Shot, p grid.Plan, q plane.Quad) float64 {
	r, v, f, err := ruledAt(s, p, q, 0, fine)
	if err != nil {
		return 0
	}
	return r.bend(v, f)
}

// bend returns the bend of the lens by lines that were seen in a view without any.
func (r Ruled) bend(v View, f Frame) float64 {
	if r.Shown() < 0.5 {
		return 0
	}
	l := v.Lens
	var runs [][]plane.Point
	add := func(rule Rule, upright bool) {
		if !rule.Shown() || len(rule.places) < 6 {
			return
		}
		var run []plane.Point
		for _, s := range rule.places {
			px := plane.Pt(f.Margin+rule.At*f.PerMM+s.off, s.along)
			if !upright {
				px = plane.Pt(s.along, f.Margin+rule.At*f.PerMM+s.off)
			}
			run = append(run, v.Photo(f.Sheet(px)))
		}
		runs = append(runs, run)
	}
	for _, rule := range r.Columns {
		add(rule, true)
	}
	for _, rule := range r.Rows {
		add(rule, false)
	}
	crooked := func(k float64) float64 {
		l.K = k
		sum, n := 0.0, 0
		for _, run := range runs {
			s := crookedness(run, l)
			sum += s * s * float64(len(run))
			n += len(run)
		}
		return math.Sqrt(sum / float64(max(1, n)))
	}
	best := goldenSection(crooked, -mostBend, mostBend)
	n := 0
	for _, run := range runs {
		n += len(run)
	}
	// A bend that hardly makes the lines straighter is chance: an F test of one
	// number more, far beyond what chance gives.
	if plain, left := crooked(0), crooked(best); plain*plain < left*left*(1+20/float64(max(1, n))) {
		return 0
	}
	return best
}

// crookedness returns the root mean square distance of points from their best
// straight line, once the bend is taken out. It is in pixels of the photo as it
// is, for a bend taken out also makes the whole larger or smaller.
func crookedness(run []plane.Point, l Lens) float64 {
	var mx, my, xx, xy, yy float64
	n := float64(len(run))
	flat := make([]plane.Point, len(run))
	for i, p := range run {
		flat[i] = l.Straighten(p)
		mx += flat[i].X / n
		my += flat[i].Y / n
	}
	for _, p := range flat {
		x, y := p.X-mx, p.Y-my
		xx += x * x
		xy += x * y
		yy += y * y
	}
	least := (xx+yy)/2 - math.Hypot((xx-yy)/2, xy)
	last := len(run) - 1
	grown := flat[last].Sub(flat[0]).Len() / run[last].Sub(run[0]).Len()
	return math.Sqrt(max(0, least)/n) / grown
}

// goldenSection returns where a function of one valley is least (Kiefer 1953,
// Proceedings of the American Mathematical Society 4(3)).
func goldenSection(f func(float64) float64, a, b float64) float64 {
	ratio := (math.Sqrt(5) - 1) / 2
	c, d := b-ratio*(b-a), a+ratio*(b-a)
	fc, fd := f(c), f(d)
	for b-a > 1e-4 {
		if fc < fd {
			b, d, fd = d, c, fc
			c = b - ratio*(b-a)
			fc = f(c)
		} else {
			a, c, fc = c, d, fd
			d = a + ratio*(b-a)
			fd = f(d)
		}
	}
	return (a + b) / 2
}

// scanned is how near the sheet's own shape a picture's must be to be a scan of
// it, as a logarithm (ours).
const scanned = 0.03

// SheetIn returns the corners of a plan's grid in a photo of a whole sheet, or a
// scan: by its corner tags, else by its ruled grid. A picture of the sheet's own
// shape is a scan of it; else it lies where its paper seems to be.
func SheetIn(s *Shot, p grid.Plan) plane.Quad {
	if tagged := FindTags(s); len(tagged) > 0 {
		return tagged[0].Corners
	}
	w, h := s.Size()
	whole := plane.Box(float64(w), float64(h))
	found := Locate(s, p)
	if len(found) == 0 {
		return whole
	}
	found[0].Corners, _ = Snap(s, p, found[0].Corners)
	isScan := math.Abs(math.Log(whole.Ratio()*p.Sheet.Height/p.Sheet.Width)) < scanned
	if best := found[0]; best.By == ByGrid || !isScan {
		return best.Corners
	}
	return whole
}
