package accuracy

import (
	"cmp"
	"maps"
	"math"
	"slices"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/lines"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/core/strokes"
)

// Part is a piece of the picture's lines that a drawing has elsewhere than the lines round it, in
// another size, turned or not at all; or lines of the drawing that the picture has not.
type Part struct {
	Cell   string      `json:"cell"`           // the box in which its middle belongs
	Cells  []string    `json:"cells"`          // all in which it has lines
	Name   string      `json:"name,omitempty"` // of the landmark that lies on it
	State  PartState   `json:"state"`
	Length float64     `json:"length_cell"` // of its lines
	Move   plane.Point `json:"off_cell"`    // of its middle, drawn minus wanted; of a doubted part, where it may be
	Size   float64     `json:"size"`        // beside what is wanted, 1 for as large
	Turn   float64     `json:"turn_deg"`    // clockwise as seen
	Closed bool        `json:"closed"`      // its line comes back to its start
	Where  plane.Rect  `json:"where_mm"`    // on the sheet, where it belongs; of an invented one, where it lies

	Lines [][]plane.Point `json:"lines_mm,omitempty"` // likewise
}

// PartState is what became of a part.
type PartState string

// What becomes of a part: drawn elsewhere, in another size or turned; forgotten; neither for sure; or
// drawn although the picture has nothing like it.
const (
	PartMoved    PartState = "moved"
	PartMissing  PartState = "missing"
	PartDoubted  PartState = "doubted"
	PartInvented PartState = "invented"
)

// What of a part is spoken of. Lengths are boxes; all of it is ours.
const (
	asDrawn    = 0.09 // how near a drawn line must be for a mark to be in place
	leastPart  = 0.45 // length of a part
	leastRun   = 0.2  // of what is not there, of a stroke
	mostPart   = 0.6  // share of all lines
	partsApart = 0.5  // how far apart strokes of one part may lie
	leastMoved = 0.13
	leastSized = 0.15 // or half of it, where that puts the part's edge off by edgeSeen
	leastTurn  = 0.17 // radians, or half of it likewise
	edgeSeen   = 0.1
	leastInBox = 0.1 // how much of a part's line makes it one of a box too
)

// parts returns what of the picture is drawn elsewhere, otherwise or not at all, the longest first,
// and the share of its lines that is where it belongs, 1 of a photograph, of whose edges everyone
// draws others.
func (d Boxes) parts() (all []Part, inPlace float64) {
	if d.Tonal {
		return nil, 1
	}
	s := d.newPartSearch()
	for range mostParts {
		best, ok := s.next()
		if !ok {
			break
		}
		s.take(best)
		all = append(all, s.part(best))
	}
	short := slices.IndexFunc(all, func(p Part) bool { return p.Length < leastPart })
	if r, ok := s.doubted(); ok {
		all = append(all, s.part(r))
	} else if short >= 0 { // too short to be spoken of, and yet not as it should be
		all = append(all, all[short])
		all[len(all)-1].State, all[len(all)-1].Length = PartDoubted, leastPart
	}
	all = slices.DeleteFunc(all, func(p Part) bool { return p.Length < leastPart })
	inPlace = s.inPlace()
	all = append(d.joined(d.timely(all, inPlace)), s.invented(inPlace)...)
	slices.SortStableFunc(all, func(a, b Part) int { return cmp.Compare(b.Length, a.Length) })
	return all, inPlace
}

// joined makes parts one that lie beside each other and are all not there, or all drawn as one of them is.
func (d Boxes) joined(all []Part) (out []Part) {
	cell := d.Plan.Grid.SheetCell[0]
	for _, p := range all {
		alike := func(o Part) bool {
			if o.State != p.State || apart(o.Where, p.Where) > partsApart*cell {
				return false
			}
			mid := p.Where.Middle()
			carried := p.State == PartMoved && math.Abs(o.Size-p.Size) < leastSized/2 && o.Carry(mid, d.Plan).Sub(p.Carry(mid, d.Plan)).Len() < asDrawn*cell
			return carried || p.State == PartMissing
		}
		if i := slices.IndexFunc(out, alike); i >= 0 {
			out[i] = out[i].with(p, d.Plan)
		} else {
			out = append(out, p)
		}
	}
	return out
}

// with returns two parts as one, drawn as the longer is.
func (q Part) with(p Part, plan grid.Plan) Part {
	if p.Length > q.Length {
		p, q = q, p
	}
	mid := q.Where.Union(p.Where).Middle()
	move := q.Carry(mid, plan).Sub(mid)
	q.Move = plane.Pt(move.X/plan.Grid.SheetCell[0], move.Y/plan.Grid.SheetCell[1])
	q.Lines, q.Where, q.Length, q.Closed = append(q.Lines, p.Lines...), q.Where.Union(p.Where), q.Length+p.Length, false
	q.Cell = plan.CellAt(q.Where.Middle()).Label
	for _, label := range p.Cells {
		if !slices.Contains(q.Cells, label) {
			q.Cells = append(q.Cells, label)
		}
	}
	slices.Sort(q.Cells)
	return q
}

// mostParts is how many parts of a drawing are told.
const mostParts = 16

// leastOfHalf is how long a part must be, boxes, to have moved in a drawing of which much is not there:
// what is to come finds something like it by chance.
const leastOfHalf = 2.0

// From mostDrawn of a picture's lines on what is not there was forgotten, from halfDrawn on a few
// parts were, none in boxes that are empty as others are; before that it is still to come.
const mostDrawn, halfDrawn, fewMissing, othersToCome = 0.8, 0.5, 3, 3

// timely leaves out what is not there of a drawing of which much is still to come.
func (d Boxes) timely(all []Part, inPlace float64) []Part {
	missing := 0
	for _, p := range all {
		if p.State == PartMissing {
			missing++
		}
	}
	if inPlace < mostDrawn {
		all = slices.DeleteFunc(all, func(p Part) bool {
			return p.State == PartDoubted || p.State == PartMoved && (p.Length < leastOfHalf || d.mostlyEmpty(p))
		})
	}
	all = slices.DeleteFunc(all, func(p Part) bool { return p.State == PartMissing && d.mostlyEmpty(p) && d.othersEmpty(p) })
	if inPlace < halfDrawn || inPlace < mostDrawn && missing > fewMissing {
		all = slices.DeleteFunc(all, func(p Part) bool { return p.State == PartMissing })
	}
	return all
}

// mostlyEmpty reports whether most boxes in which a part belongs are empty.
func (d Boxes) mostlyEmpty(p Part) bool {
	empty := 0
	for _, c := range d.Cells {
		if c.State == Empty && slices.Contains(p.Cells, c.Label) {
			empty++
		}
	}
	return 2*empty >= len(p.Cells)
}

// othersEmpty reports whether boxes are empty in which a part has no lines, and the picture has.
func (d Boxes) othersEmpty(p Part) bool {
	n := 0
	for _, c := range d.Cells {
		if c.State == Empty && c.Lines > leastForBoth && !slices.Contains(p.Cells, c.Label) {
			n++
		}
	}
	return n >= othersToCome
}

// smooth returns how the boxes round a group are shifted, pixels: the middle of what those tell that
// are sure and hold none of its lines, each way, so that a part has no say in where it belongs.
func (d Boxes) smooth(g group) plane.Point {
	const round, enough = 2, 3 // boxes
	var xs, ys []float64
	home := d.net.at(g.middle.X, g.middle.Y)
	for i, s := range d.shifts {
		if s.sure != Both || g.in[i] || home < 0 {
			continue
		}
		if dc, dr := i%d.net.columns-home%d.net.columns, i/d.net.columns-home/d.net.columns; max(dc, -dc, dr, -dr) <= round {
			xs, ys = append(xs, s.shift.X), append(ys, s.shift.Y)
		}
	}
	if len(xs) >= enough {
		return plane.Pt(median(xs), median(ys))
	}
	x, y := d.whole.at(g.middle.X-float64(d.net.w)/2, g.middle.Y-float64(d.net.h)/2)
	return plane.Pt(x, y)
}

// part says in the sheet's units what became of a group.
func (s *partSearch) part(r ruling) Part {
	cw, ch := s.Plan.Grid.SheetCell[0]*s.Frame.PerMM, s.Plan.Grid.SheetCell[1]*s.Frame.PerMM
	q := s.located(r.all)
	q.State, q.Length, q.Closed, q.Size = r.state, r.length, r.closed, 1
	if r.at.size == 0 { // it lies nowhere
		return q
	}
	move := r.at.move
	if r.straight { // along itself nothing is known
		move = r.across.Mul(move.X*r.across.X + move.Y*r.across.Y)
	}
	q.Move = plane.Pt(move.X/cw, move.Y/ch)
	if size := r.at.size / (1 + s.whole.grow); r.sizeSeen(size, s.net.cell) {
		q.Size = size
	}
	if turn := r.at.turn - s.whole.turn; r.turnSeen(turn, s.net.cell) {
		q.Turn = turn * 180 / math.Pi
	}
	return q
}

// located returns a part that says where marks lie.
func (d Boxes) located(marks []lines.Mark) Part {
	at := func(m lines.Mark) plane.Point { return d.Frame.Sheet(plane.Pt(float64(m.X), float64(m.Y))) }
	q := Part{Size: 1, Where: plane.Rect{Min: at(marks[0]), Max: at(marks[0])}}
	q.Lines = d.drawnThrough(marks)
	in, middle := map[string]float64{}, plane.Point{}
	for _, m := range marks {
		on := at(m)
		in[d.Plan.CellAt(on).Label]++
		q.Where = q.Where.Union(plane.Rect{Min: on, Max: on})
		middle = middle.Add(on.Mul(1 / float64(len(marks))))
	}
	q.Cell = d.Plan.CellAt(middle).Label
	for _, label := range slices.Sorted(maps.Keys(in)) {
		if in[label] >= leastInBox*d.net.cell {
			q.Cells = append(q.Cells, label)
		}
	}
	return q
}

// onLine is how far apart, pixels, marks of one stroke follow each other at most; of them every
// everyMark-th is enough to draw it by.
const onLine, everyMark = 4.0, 4

// drawnThrough returns the lines that marks in the order of their strokes make, mm on the sheet.
func (d Boxes) drawnThrough(marks []lines.Mark) (all [][]plane.Point) {
	var last plane.Point
	for i, m := range marks {
		here := plane.Pt(float64(m.X), float64(m.Y))
		switch at := d.Frame.Sheet(here); {
		case i == 0 || here.Sub(last).Len() > onLine:
			all = append(all, []plane.Point{at})
		case len(all[len(all)-1]) == 1 || i%everyMark == 0 || i == len(marks)-1:
			all[len(all)-1] = append(all[len(all)-1], at)
		}
		last = here
	}
	return all
}

// apart returns how far two rectangles are from each other, 0 where they touch.
func apart(a, b plane.Rect) float64 {
	return math.Hypot(max(0, a.Min.X-b.Max.X, b.Min.X-a.Max.X), max(0, a.Min.Y-b.Max.Y, b.Min.Y-a.Max.Y))
}

// partAt returns the part on which a place of the sheet lies, the smallest of several.
func (r Report) partAt(at plane.Point, p grid.Plan) (part Part, on bool) {
	for _, one := range r.Parts {
		if one.State != PartInvented && apart(one.Where, plane.Rect{Min: at, Max: at}) <= asDrawn*p.Grid.SheetCell[0] && (!on || one.Length < part.Length) {
			part, on = one, true
		}
	}
	return part, on
}

// Carry returns where a place on a part that moved is drawn.
func (q Part) Carry(at plane.Point, p grid.Plan) plane.Point {
	mid := q.Where.Middle()
	sin, cos := math.Sincos(q.Turn * math.Pi / 180)
	d := at.Sub(mid).Mul(q.Size)
	return mid.Add(plane.Pt(d.X*cos-d.Y*sin, d.X*sin+d.Y*cos)).Add(plane.Pt(q.Move.X*p.Grid.SheetCell[0], q.Move.Y*p.Grid.SheetCell[1]))
}

// nameParts gives parts the name of the weightiest landmark that lies on them.
func nameParts(parts []Part, p grid.Plan, marks []Landmark) {
	for i := range parts {
		weight := -1.0
		for _, m := range marks {
			at, near := p.ToSheet(m.Reference), leastRun*p.Grid.SheetCell[0]
			if parts[i].State != PartInvented && apart(parts[i].Where, plane.Rect{Min: at, Max: at}) <= near && m.Weight > weight {
				parts[i].Name, weight = m.Name, m.Weight
			}
		}
	}
}

// isFree reports whether a part's landmark is one that everyone puts as they like.
func isFree(q Part, marks []Landmark) bool {
	return slices.ContainsFunc(marks, func(m Landmark) bool { return q.Name != "" && m.Name == q.Name && m.Class == Free })
}

// newGroup returns strokes as one group.
func (d Boxes) newGroup(of []strokes.Stroke) group {
	g := group{in: map[int]bool{}, closed: len(of) == 1 && of[0].Closed, open: len(of) == 1 && !of[0].Closed}
	for _, s := range of {
		g.all = append(g.all, s.Marks...)
	}
	for _, m := range g.all {
		g.middle = g.middle.Add(plane.Pt(float64(m.X), float64(m.Y)).Mul(1 / float64(len(g.all))))
		g.in[d.net.at(float64(m.X), float64(m.Y))] = true
	}
	var a, b, c float64
	for _, m := range g.all {
		dx, dy := float64(m.X)-g.middle.X, float64(m.Y)-g.middle.Y
		g.radius, g.reach = g.radius+dx*dx+dy*dy, max(g.reach, dx, -dx, dy, -dy)
		a, b, c = a+float64(m.NX*m.NX), b+float64(m.NY*m.NY), c+float64(m.NX*m.NY)
	}
	g.radius = max(1, math.Sqrt(g.radius/float64(len(g.all))))
	mid, half := (a+b)/2, math.Hypot((a-b)/2, c)
	sin, cos := math.Sincos(math.Atan2(2*c, a-b) / 2)
	g.across, g.straight = plane.Pt(cos, sin), mid-half < bentPart*(mid+half)
	g.length, g.points = float64(len(g.all))/d.net.cell, thinned(g.all, groupPoints)
	g.wanted = lines.NewIndex(g.all, d.net.w, d.net.h, 32)
	return g
}

// bentPart is the second over the first eigenvalue of a group's directions from which on it is not straight.
const bentPart = 0.05
