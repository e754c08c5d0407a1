package reading

import (
	"cmp"
	"math"
	"slices"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/plane"
)

// cut is where a run crosses a line of the net.
type cut struct {
	t    float64 // place along the run: the number of a point, and how far on to the next
	line int     // of the net
	down bool    // the line is upright; else level
}

// beyondCell is how far beyond a line of the net, in boxes, a run must go to have crossed it: a
// line that touches it or wavers along it does not.
const beyondCell = 0.012

// cuts returns where a run crosses the net's lines for good, in its order.
func (n net) cuts(r run) (all []cut) {
	for line, x := range n.x {
		all = append(all, crossed(r, func(p plane.Point) float64 { return p.X - x }, line, true, beyondCell*n.usual())...)
	}
	for line, y := range n.y {
		all = append(all, crossed(r, func(p plane.Point) float64 { return p.Y - y }, line, false, beyondCell*n.usual())...)
	}
	slices.SortFunc(all, func(a, b cut) int { return cmp.Compare(a.t, b.t) })
	return all
}

// crossed returns where a run crosses one line, of which off is how far a place lies
// beyond it, for good.
func crossed(r run, off func(plane.Point) float64, line int, down bool, beyond float64) (cuts []cut) {
	var far []float64 // how far beyond the line it goes between two cuts
	most := 0.0
	last := off(r.points[0])
	for i := 1; i < len(r.points); i++ {
		most = max(most, math.Abs(last))
		here := off(r.points[i])
		if (here >= 0) != (last >= 0) {
			far = append(far, most)
			cuts = append(cuts, cut{float64(i-1) + last/(last-here), line, down})
			most = 0
		}
		last = here
	}
	far = append(far, max(most, math.Abs(last)))
	for {
		end := len(far) - 1
		if r.closed { // the way from its last cut goes on to its first
			far[0] = max(far[0], far[end])
			far[end] = far[0]
		}
		k := 0
		for i := range far {
			if far[i] < far[k] {
				k = i
			}
		}
		switch {
		case len(cuts) == 0 || far[k] >= beyond:
			return cuts
		case k > 0 && k < end: // there and back again is nowhere
			far[k-1] = max(far[k-1], far[k+1])
			cuts, far = slices.Delete(cuts, k-1, k+1), slices.Delete(far, k, k+2)
		case r.closed && len(cuts) == 1:
			return nil
		case r.closed:
			cuts, far = cuts[1:end-1], far[1:end]
		case k == 0:
			cuts, far = cuts[1:], far[1:]
		default:
			cuts, far = cuts[:end-1], far[:end]
		}
	}
}

// place returns the place of a run at t.
func (r run) place(t float64) plane.Point {
	i := min(int(t), len(r.points)-2)
	return r.points[i].To(r.points[i+1], t-float64(i))
}

// way returns how a run goes at t, over so far to each side, as a unit vector.
func (r run) way(t, reach float64) plane.Point {
	at := min(int(t), len(r.points)-2)
	here := r.gone[at] + (r.gone[at+1]-r.gone[at])*(t-float64(at))
	ahead, behind := r.after(here+reach), r.after(here-reach)
	d := ahead.Sub(behind)
	if d.Len() == 0 {
		return plane.Pt(1, 0)
	}
	return d.Mul(1 / d.Len())
}

// after returns the place of a run so far along it; of a closed one round and round.
func (r run) after(gone float64) plane.Point {
	whole := r.gone[len(r.gone)-1]
	if r.closed {
		gone = math.Mod(gone+whole, whole)
	}
	gone = max(0, min(whole, gone))
	i, _ := slices.BinarySearch(r.gone, gone)
	if i == 0 {
		return r.points[0]
	}
	step := r.gone[i] - r.gone[i-1]
	if step == 0 {
		return r.points[i]
	}
	return r.points[i-1].To(r.points[i], (gone-r.gone[i-1])/step)
}

// span is a part of a run between two cuts, or from an end; -1 for no cut.
type span struct {
	from, to     int // among the cuts
	points       []plane.Point
	column, row  int
	ok           bool
	whole        bool // a closed run that crosses nothing
	start, until float64
}

// spans returns the parts into which cuts divide a run.
func (n net) spans(r run, cuts []cut) (all []span) {
	end := float64(len(r.points) - 1)
	add := func(from, to int, a, b float64) {
		s := span{from: from, to: to, start: a, until: b}
		s.points = append(s.points, r.place(a))
		if b < a { // a closed run, past its beginning
			s.points = append(s.points, r.points[int(a)+1:len(r.points)-1]...)
			s.points = append(s.points, r.points[:int(b)+1]...)
		} else if int(a)+1 <= int(math.Ceil(b))-1 {
			s.points = append(s.points, r.points[int(a)+1:int(math.Ceil(b))]...)
		}
		s.points = append(s.points, r.place(b))
		s.column, s.row, s.ok = n.at(middle(s.points))
		all = append(all, s)
	}
	if len(cuts) == 0 {
		add(-1, -1, 0, end)
		all[0].whole = r.closed
		return all
	}
	for i := 1; i < len(cuts); i++ {
		add(i-1, i, cuts[i-1].t, cuts[i].t)
	}
	if last := len(cuts) - 1; r.closed {
		add(last, 0, cuts[last].t, cuts[0].t)
	} else {
		add(-1, 0, 0, cuts[0].t)
		add(last, -1, cuts[last].t, end)
	}
	return all
}

// middle returns the mean place of a run of points, by length.
func middle(points []plane.Point) plane.Point {
	var sum plane.Point
	long := 0.0
	for i := 1; i < len(points); i++ {
		d := points[i].Sub(points[i-1]).Len()
		sum, long = sum.Add(points[i].To(points[i-1], 0.5).Mul(d)), long+d
	}
	if long == 0 {
		return points[0]
	}
	return sum.Mul(1 / long)
}

// directionCell is over how much of a box to each side a line's direction is taken, and
// cornerCell how near a corner a crossing is called one.
const directionCell, cornerCell = 0.06, 0.03

// boxes reads all boxes of a net; crossings are numbered from the reader's next.
func (r *reader) boxes(n net) []Box {
	boxes := make([]Box, n.columns()*n.rows())
	for i := range boxes {
		boxes[i] = Box{Label: n.label(i%n.columns(), i/n.columns()), Crossings: []Crossing{}, Pieces: []Piece{}, Empty: []Empty{}}
	}
	for _, run := range r.runs {
		if !n.meets(run) {
			continue
		}
		cuts := n.cuts(run)
		first := r.next
		r.next += len(cuts)
		for _, s := range n.spans(run, cuts) {
			if !s.ok {
				continue
			}
			b := &boxes[s.row*n.columns()+s.column]
			ends := [2]int{-1, -1}
			for k, c := range [2]int{s.from, s.to} {
				if c >= 0 {
					if x, ok := n.crossing(run, cuts[c], s, r.wish, r.plan); ok {
						x.ID = first + c
						ends[k] = len(b.Crossings)
						b.Crossings = append(b.Crossings, x)
					}
				}
			}
			b.take(n, s, ends, r.edge)
		}
	}
	for i := range boxes {
		b := &boxes[i]
		column, row := i%n.columns(), i/n.columns()
		low, high := plane.Pt(n.x[column], n.y[row]), plane.Pt(n.x[column+1], n.y[row+1])
		if r.wish.Light != nil {
			b.Tone = toneWords(tones(func(at plane.Point) float64 { return r.wish.Light(r.pixel(at)) }, low, high))
		}
		if r.wish.Touch != nil && b.Tone == "" && len(b.Pieces)+len(b.Along) == 0 {
			if k, ok := r.wish.Touch(r.pixel(low), r.pixel(high)); ok {
				b.Tone = "Only a touch of tone or colour, " + ninth(k) + "."
			}
		}
		b.read(n, i%n.columns(), i/n.columns(), r.wish.Finest)
	}
	return boxes
}

// meets reports whether a run comes near a net.
func (n net) meets(r run) bool {
	low, high := r.points[0], r.points[0]
	for _, p := range r.points {
		low, high = plane.Pt(min(low.X, p.X), min(low.Y, p.Y)), plane.Pt(max(high.X, p.X), max(high.Y, p.Y))
	}
	return high.X >= n.x[0] && low.X <= n.x[len(n.x)-1] && high.Y >= n.y[0] && low.Y <= n.y[len(n.y)-1]
}

// crossing returns a cut as the box of a span has it; false where it is none of its sides.
func (n net) crossing(r run, c cut, s span, w Wish, p grid.Plan) (Crossing, bool) {
	at := r.place(c.t)
	in := n.inside(s.column, s.row, at)
	cell := n.cell(s.column, s.row)
	way := r.way(c.t, directionCell*cell)
	x := Crossing{Direction: math.Round(10*slope(way)) / 10}
	switch {
	case c.down && c.line == s.column:
		x.Side, x.At = Left, in.Y
	case c.down && c.line == s.column+1:
		x.Side, x.At = Right, in.Y
	case !c.down && c.line == s.row:
		x.Side, x.At = Top, in.X
	case !c.down && c.line == s.row+1:
		x.Side, x.At = Bottom, in.X
	default:
		return x, false
	}
	x.At = round(max(0, min(1, x.At)))
	x.Corner = x.At < cornerCell || x.At > 1-cornerCell
	x.Say = w.Finest.side(x.Side, x.At)
	if w.Breadth != nil { // on the picture, then on the sheet
		i := min(int(c.t), len(r.stroke.Points)-1)
		px := r.stroke.Points[i]
		along := plane.Pt(way.X/p.Scale[0], way.Y/p.Scale[1])
		broad := p.ToSheet(p.FromPicture(px.Add(plane.Pt(w.Breadth(px, along.Mul(1/along.Len())), 0)))).Sub(p.ToSheet(p.FromPicture(px)))
		x.Breadth = round(broad.Len() / cell)
	}
	return x, true
}

// slope returns a direction in degrees, above -90 to 90: 0 level, more than 0 rising to
// the right.
func slope(way plane.Point) float64 {
	a := math.Atan2(-way.Y, way.X) * 180 / math.Pi
	switch {
	case a > 90:
		a -= 180
	case a <= -90:
		a += 180
	}
	return a
}
