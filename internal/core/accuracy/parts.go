package accuracy

import (
	"cmp"
	"maps"
	"math"
	"slices"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/lines"
	"zestysketch/internal/core/plane"
)

// Part is a piece of the picture's lines that a drawing has elsewhere than the lines round it, in
// another size, or not at all.
type Part struct {
	Cell   string      `json:"cell"`           // the box in which its middle belongs
	Cells  []string    `json:"cells"`          // all in which it has lines
	Name   string      `json:"name,omitempty"` // of the landmark that lies on it
	State  PartState   `json:"state"`
	Length float64     `json:"length_cell"` // of its lines
	Move   plane.Point `json:"off_cell"`    // of its middle, drawn minus wanted; of a part that is moved
	Size   float64     `json:"size"`        // beside what is wanted, 1 for as large
	Closed bool        `json:"closed"`      // its line comes back to its start
	Where  plane.Rect  `json:"where_mm"`    // on the sheet, where it belongs
}

// PartState is what became of a part.
type PartState string

// What becomes of a part: drawn elsewhere or in another size, forgotten, or neither for sure.
const (
	PartMoved   PartState = "moved"
	PartMissing PartState = "missing"
	PartDoubted PartState = "doubted"
)

// A stroke of the picture is looked for where the boxes round it have it. Lengths are boxes, and
// all of it is ours, tried on pictures of letters and of our own.
const (
	asDrawn          = 0.09 // how near a drawn line must be
	leastPart        = 0.5  // length of a part that is spoken of by itself
	besidePart       = 0.3  // and of one that became what a longer one did
	leastResized     = 0.8  // of one that may have another size
	leastRun         = 0.25 // of what is not there, of a stroke
	shortStroke      = 4.0  // of which the whole is looked for elsewhere, where so much is not there
	partOfStroke     = 0.3
	mostOfStroke     = 0.6 // of a longer one
	furthestPart     = 1.2
	voteCell         = 0.04
	partFound        = 0.62 // share of a part's marks that only its other place explains
	surelyFound      = 0.75 // and of a straight line's, or of one in another size
	bentPart         = 0.1  // second over first eigenvalue of its directions, from which on it is not straight
	furthestStraight = 0.6
	furthestSized    = 0.5
	besideHome       = 0.2 // so near where it belongs another size is likely
	partDoubted      = 0.5
	otherSize        = 0.08 // how much more another size must explain
	leastMoved       = 0.13 // and how far off, or how much larger or smaller, it must be then
	leastSized       = 0.15
	partsApart       = 0.6 // of two parts that moved alike and are one
	nearlyGone       = 0.8 // share of a forgotten part's marks that are not there
	bareRound        = 0.3 // round which nothing else is drawn
	mostBare         = 0.3 // but beside so many
)

// partSizes are those that are tried.
var partSizes = []float64{1, 0.9, 1.1, 0.85, 1.17, 0.8, 1.24, 0.75, 1.32, 0.7, 1.4, 0.65, 0.6, 1.5}

// piece is a stroke, or a run of one, some of whose marks are not where they belong.
type piece struct {
	marks  []lines.Mark
	gone   float64 // share of them that is not there
	whole  bool    // a stroke, not a run of one
	closed bool
	middle plane.Point
}

// parts returns what of the picture is drawn elsewhere or not at all, the longest first, and the
// share of its lines that is where it belongs, 1 of a photograph, of whose edges everyone draws
// others.
func (d Boxes) parts() (all []Part, inPlace float64) {
	if d.Tonal {
		return nil, 1
	}
	own := d.moved
	d.moved = d.smooth()
	pieces, inPlace := d.pieces()
	slices.SortStableFunc(pieces, func(a, b piece) int { return cmp.Compare(len(b.marks), len(a.marks)) })
	free := lines.NewIndex(d.unexplained(), d.net.w, d.net.h, 8)
	for _, p := range pieces {
		if d.byBoxes(p, own) {
			continue
		}
		part, used := d.judgePiece(p, free)
		if part.State == "" {
			continue
		}
		if used != nil {
			left := slices.DeleteFunc(free.Marks, func(m lines.Mark) bool { return hasNear(used, m, m.X, m.Y, float32(asDrawn*d.net.cell)) })
			free = lines.NewIndex(left, d.net.w, d.net.h, 8)
		}
		if inPlace < mostDrawn && (part.State == PartDoubted || part.State == PartMoved && part.Length < leastOfHalf) {
			continue
		}
		all = append(all, part)
	}
	all = d.joined(all)
	there := slices.DeleteFunc(slices.Clone(all), func(p Part) bool { return p.State == PartMissing })
	if inPlace < halfDrawn || inPlace < mostDrawn && len(all)-len(there) > fewMissing {
		all = there
	}
	return all, inPlace
}

// From mostDrawn of a picture's lines on what is not there was forgotten, from halfDrawn on a few
// parts were; before that it is still to come. A piece of which withBoxes went where its boxes did is
// left to them.
const mostDrawn, halfDrawn, fewMissing, withBoxes = 0.8, 0.6, 2, 0.6

// leastOfHalf is how long a part must be to have moved in a drawing of which much is not there: what
// is to come finds something like it by chance.
const leastOfHalf = 2.0

// byBoxes reports whether a piece went where its boxes did.
func (d Boxes) byBoxes(p piece, own []plane.Point) bool {
	n, reach := 0.0, float32(asDrawn*d.net.cell)
	for _, m := range p.marks {
		dx, dy := field(own, d.net, float64(m.X), float64(m.Y))
		if hasNear(d.drawn, m, m.X+float32(dx), m.Y+float32(dy), reach) {
			n++
		}
	}
	return n >= withBoxes*float64(len(p.marks))
}

// smooth returns how the boxes round each box are shifted, pixels: the middle of what those tell
// that are sure, each way, so that a part that moved has no say in where it belongs.
func (d Boxes) smooth() []plane.Point {
	const round = 2 // boxes
	out := make([]plane.Point, d.net.count())
	for i := range out {
		var xs, ys []float64
		c, r := i%d.net.columns, i/d.net.columns
		for y := max(0, r-round); y <= min(d.net.rows-1, r+round); y++ {
			for x := max(0, c-round); x <= min(d.net.columns-1, c+round); x++ {
				if s := d.shifts[y*d.net.columns+x]; s.sure == Both {
					xs, ys = append(xs, s.shift.X), append(ys, s.shift.Y)
				}
			}
		}
		mx, my := d.net.middle(i)
		if out[i].X, out[i].Y = d.whole.at(mx-float64(d.net.w)/2, my-float64(d.net.h)/2); len(xs) >= 4 {
			out[i] = plane.Pt(median(xs), median(ys))
		}
	}
	return out
}

// there reports whether a wanted mark is drawn where the boxes round it have it, or where it
// belongs; also where that cannot be told.
func (d Boxes) there(m lines.Mark) bool {
	if i := d.net.at(float64(m.X), float64(m.Y)); i < 0 || d.Cells[i].Burnt || d.swapped[i] {
		return true
	}
	reach := float32(asDrawn * d.net.cell)
	dx, dy := field(d.moved, d.net, float64(m.X), float64(m.Y))
	carried := m
	carried.X, carried.Y = m.X+float32(dx), m.Y+float32(dy)
	return hasNear(d.drawn, m, carried.X, carried.Y, reach) || hasNear(d.drawn, m, m.X, m.Y, reach) || d.alongRule(carried, 3*alongRule*d.net.cell) != nil || d.onEdge(m)
}

// pieces returns the strokes of the picture of which much is not there, and the share of all its
// lines that is.
func (d Boxes) pieces() (all []piece, inPlace float64) {
	there, of := 0, 0
	wanted := slices.Concat(d.wanted...)
	at := make(map[plane.Point]lines.Mark, len(wanted))
	for _, m := range wanted {
		at[plane.Pt(float64(m.X), float64(m.Y))] = m
	}
	for _, s := range lines.Link(wanted, d.net.w, d.net.h) {
		marks, gone, n := make([]lines.Mark, len(s.Points)), make([]bool, len(s.Points)), 0
		for i, q := range s.Points {
			marks[i] = at[q]
			if gone[i] = !d.there(marks[i]); gone[i] {
				n++
			}
		}
		there, of = there+len(marks)-n, of+len(marks)
		long := float64(len(marks)) / d.net.cell
		switch {
		case float64(n) < leastRun*d.net.cell:
		case float64(n) >= mostOfStroke*float64(len(marks)), long <= shortStroke && float64(n) >= partOfStroke*float64(len(marks)):
			all = append(all, newPiece(marks, float64(n), true, s.Closed))
		default:
			all = append(all, d.runs(marks, gone)...)
		}
	}
	return all, float64(there) / float64(max(1, of))
}

// runs returns the parts of a long stroke that are not there.
func (d Boxes) runs(marks []lines.Mark, gone []bool) (all []piece) {
	const gap = 4 // marks
	for i := 0; i < len(gone); i++ {
		if !gone[i] {
			continue
		}
		last := i
		for j := i + 1; j < len(gone) && j-last <= gap; j++ {
			if gone[j] {
				last = j
			}
		}
		if run := marks[i : last+1]; float64(len(run)) >= leastRun*d.net.cell {
			all = append(all, newPiece(run, float64(len(run)), false, false))
		}
		i = last
	}
	return all
}

func newPiece(marks []lines.Mark, gone float64, whole, closed bool) piece {
	p := piece{marks: marks, gone: gone / float64(len(marks)), whole: whole, closed: closed}
	if first, last := marks[0], marks[len(marks)-1]; whole {
		p.closed = closed || math.Hypot(float64(last.X-first.X), float64(last.Y-first.Y)) < nearlyClosed*float64(len(marks))
	}
	for _, m := range marks {
		p.middle = p.middle.Add(plane.Pt(float64(m.X), float64(m.Y)).Mul(1 / float64(len(marks))))
	}
	return p
}

// nearlyClosed is how far its ends may be apart, as a share of its length, for a stroke to be called a
// shape.
const nearlyClosed = 0.15

// unexplained returns the drawn marks that no line of the picture explains where it was found.
func (d Boxes) unexplained() (free []lines.Mark) {
	wanted := lines.NewIndex(slices.Concat(d.wanted...), d.net.w, d.net.h, 8)
	reach := float32(asDrawn * d.net.cell)
	for _, m := range d.drawn.Marks {
		dx, dy := field(d.moved, d.net, float64(m.X), float64(m.Y))
		if !hasNear(wanted, m, m.X-float32(dx), m.Y-float32(dy), reach) && !hasNear(wanted, m, m.X, m.Y, reach) {
			free = append(free, m)
		}
	}
	return free
}

// displacement is where a piece may have gone: moved so many pixels, in a size, and the share of it that
// is found there.
type displacement struct {
	move        plane.Point
	size, share float64
	close       float64 // the share found half as far away, by which alike sizes are told apart
}

// seek returns where most of a piece is found among free marks.
func (d Boxes) seek(p piece, free *lines.Index) (best displacement) {
	best.size = 1
	for _, k := range partSizes {
		if k != 1 && (!p.whole || p.long(d.net) < leastResized) {
			break
		}
		e := displacement{size: k}
		at := p.sized(k)
		e.move = d.vote(at, free)
		e.close = d.foundAt(at, e.move, free, asDrawn/2)
		if e.share = d.foundAt(at, e.move, free, asDrawn); k != 1 {
			e.share -= otherSize
			if far := e.move.Len() / d.net.cell; far > furthestSized || far > besideHome && e.share < surelyFound-otherSize {
				continue
			}
		}
		if e.share+e.close > best.share+best.close {
			best = e
		}
	}
	return best
}

// judgePiece says what became of a piece, and which places it takes of those that are free.
func (d Boxes) judgePiece(p piece, free *lines.Index) (Part, *lines.Index) {
	part, e := d.newPart(p), d.seek(p, free)
	far := e.move.Len() >= leastMoved*d.net.cell || math.Abs(e.size-1) >= leastSized
	switch {
	case part.Length < besidePart:
	case far && e.share >= d.enough(p, e):
		moved := p.sized(e.size)
		for i := range moved {
			moved[i].X, moved[i].Y = moved[i].X+float32(e.move.X), moved[i].Y+float32(e.move.Y)
		}
		part.State, part.Size = PartMoved, e.size
		if normal, straight := p.straight(); straight { // along itself nothing is known
			e.move = normal.Mul(e.move.X*normal.X + e.move.Y*normal.Y)
		}
		part.Move = plane.Pt(e.move.X/(d.Plan.Grid.SheetCell[0]*d.Frame.PerMM), e.move.Y/(d.Plan.Grid.SheetCell[1]*d.Frame.PerMM))
		return part, lines.NewIndex(moved, d.net.w, d.net.h, 8)
	case e.share < partDoubted && p.gone >= nearlyGone && d.bare(p, free):
		part.State = PartMissing
	case p.gone >= partOfStroke:
		part.State = PartDoubted
	}
	return part, nil
}

// long returns a piece's length, boxes.
func (p piece) long(n net) float64 { return float64(len(p.marks)) / n.cell }

func (d Boxes) newPart(p piece) Part {
	first := d.Frame.Sheet(plane.Pt(float64(p.marks[0].X), float64(p.marks[0].Y)))
	part := Part{Length: p.long(d.net), Size: 1, Closed: p.closed, Cell: d.Plan.CellAt(d.Frame.Sheet(p.middle)).Label, Where: plane.Rect{Min: first, Max: first}}
	in := map[string]float64{}
	for _, m := range p.marks {
		at := d.Frame.Sheet(plane.Pt(float64(m.X), float64(m.Y)))
		in[d.Plan.CellAt(at).Label]++
		part.Where = part.Where.Union(plane.Rect{Min: at, Max: at})
	}
	for _, label := range slices.Sorted(maps.Keys(in)) {
		if in[label] >= leastInBox*d.net.cell {
			part.Cells = append(part.Cells, label)
		}
	}
	return part
}

// leastInBox is how much of a part's line, in boxes, makes it one of a box too.
const leastInBox = 0.1

// straight reports whether a piece is a straight line, and the direction across it.
func (p piece) straight() (normal plane.Point, straight bool) {
	var a, b, c float64
	for _, m := range p.marks {
		a, b, c = a+float64(m.NX*m.NX), b+float64(m.NY*m.NY), c+float64(m.NX*m.NY)
	}
	mid, half := (a+b)/2, math.Hypot((a-b)/2, c)
	sin, cos := math.Sincos(math.Atan2(2*c, a-b) / 2)
	return plane.Pt(cos, sin), mid-half < bentPart*(mid+half)
}

// enough returns the share of a piece that must be found elsewhere for it to have moved there: of
// a straight line, which many others are like, more, and nothing is enough far away.
func (d Boxes) enough(p piece, e displacement) float64 {
	switch _, straight := p.straight(); {
	case straight && e.move.Len() > furthestStraight*d.net.cell:
		return math.Inf(1)
	case straight:
		return surelyFound
	case e.size != 1:
		return partFound - otherSize
	}
	return partFound
}

// bare reports whether where a piece belongs hardly anything is drawn that the picture does not
// explain: what is there may be the piece, drawn otherwise.
func (d Boxes) bare(p piece, free *lines.Index) bool {
	n, reach := 0, float32(bareRound*d.net.cell)
	for _, m := range p.marks {
		near := false
		free.Around(m.X, m.Y, reach, func(lines.Mark) bool { near = true; return false })
		if near {
			n++
		}
	}
	return float64(n) < mostBare*float64(len(p.marks))
}

// sized returns a piece's marks in another size about its middle.
func (p piece) sized(k float64) []lines.Mark {
	out := slices.Clone(p.marks)
	for i, m := range out {
		out[i].X = float32(p.middle.X + k*(float64(m.X)-p.middle.X))
		out[i].Y = float32(p.middle.Y + k*(float64(m.Y)-p.middle.Y))
	}
	return out
}

// vote returns the move that most pairs of a piece's marks and free ones of their direction have:
// a generalized Hough transform (Ballard 1981, Pattern Recognition 13(2); from memory).
func (d Boxes) vote(marks []lines.Mark, free *lines.Index) plane.Point {
	reach, step := furthestPart*d.net.cell, voteCell*d.net.cell
	half := int(reach/step) + 1
	side := 2*half + 1
	votes := make([]float32, side*side)
	for _, m := range thinned(marks, mostPoints) {
		free.Around(m.X, m.Y, float32(reach), func(f lines.Mark) bool {
			if c := f.NX*m.NX + f.NY*m.NY; c > 0.9 || c < -0.9 {
				x, y := half+int(math.Round(float64(f.X-m.X)/step)), half+int(math.Round(float64(f.Y-m.Y)/step))
				if x > 0 && y > 0 && x < side-1 && y < side-1 {
					votes[y*side+x]++
				}
			}
			return true
		})
	}
	best, most := 0, float32(0)
	for y := 1; y < side-1; y++ {
		for x := 1; x < side-1; x++ {
			i := y*side + x
			sum := 2*votes[i] + votes[i-1] + votes[i+1] + votes[i-side] + votes[i+side]
			if sum > most {
				best, most = i, sum
			}
		}
	}
	if most == 0 {
		return plane.Point{}
	}
	return plane.Pt(float64(best%side-half)*step, float64(best/side-half)*step)
}

// foundAt returns the share of marks that have a free one of their direction so far on, within a reach
// in boxes.
func (d Boxes) foundAt(marks []lines.Mark, to plane.Point, free *lines.Index, reach float64) float64 {
	n := 0.0
	for _, m := range marks {
		if hasNear(free, m, m.X+float32(to.X), m.Y+float32(to.Y), float32(reach*d.net.cell)) {
			n++
		}
	}
	return n / float64(len(marks))
}

// joined makes one of parts that became alike and lie side by side, the longest first.
func (d Boxes) joined(all []Part) (out []Part) {
	gap := partsApart * min(d.Plan.Grid.SheetCell[0], d.Plan.Grid.SheetCell[1])
	for _, p := range all {
		i := slices.IndexFunc(out, func(o Part) bool {
			return o.State == p.State && o.Move.Sub(p.Move).Len() < 0.12 && math.Abs(o.Size-p.Size) < 0.1 && apart(o.Where, p.Where) < gap
		})
		if i < 0 {
			out = append(out, p)
			continue
		}
		o := &out[i]
		o.Move = o.Move.Mul(o.Length / (o.Length + p.Length)).Add(p.Move.Mul(p.Length / (o.Length + p.Length)))
		o.Length += p.Length
		o.Closed = false
		for _, label := range p.Cells {
			if !slices.Contains(o.Cells, label) {
				o.Cells = append(o.Cells, label)
			}
		}
		o.Where = o.Where.Union(p.Where)
		o.Cell = d.Plan.CellAt(o.Where.Middle()).Label
	}
	out = slices.DeleteFunc(out, func(p Part) bool { return p.Length < leastPart })
	slices.SortStableFunc(out, func(a, b Part) int { return cmp.Compare(b.Length, a.Length) })
	return out
}

// apart returns how far two rectangles are from each other, 0 where they touch.
func apart(a, b plane.Rect) float64 {
	return math.Hypot(max(0, a.Min.X-b.Max.X, b.Min.X-a.Max.X), max(0, a.Min.Y-b.Max.Y, b.Min.Y-a.Max.Y))
}

// partAt returns the part on which a place of the sheet lies, the smallest of several.
func (r Report) partAt(at plane.Point, p grid.Plan) (part Part, on bool) {
	for _, one := range r.Parts {
		if apart(one.Where, plane.Rect{Min: at, Max: at}) <= asDrawn*p.Grid.SheetCell[0] && (!on || one.Length < part.Length) {
			part, on = one, true
		}
	}
	return part, on
}

// Carry returns where a place on a part that moved is drawn.
func (q Part) Carry(at plane.Point, p grid.Plan) plane.Point {
	mid := q.Where.Middle()
	return mid.Add(at.Sub(mid).Mul(q.Size)).Add(plane.Pt(q.Move.X*p.Grid.SheetCell[0], q.Move.Y*p.Grid.SheetCell[1]))
}

// nameParts gives parts the name of the weightiest landmark that lies on them.
func nameParts(parts []Part, p grid.Plan, marks []Landmark) {
	for i := range parts {
		weight := -1.0
		for _, m := range marks {
			at, near := p.ToSheet(m.Reference), leastRun*p.Grid.SheetCell[0]
			if apart(parts[i].Where, plane.Rect{Min: at, Max: at}) <= near && m.Weight > weight {
				parts[i].Name, weight = m.Name, m.Weight
			}
		}
	}
}
