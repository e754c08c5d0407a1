package reading

import (
	"cmp"
	"math"
	"slices"

	"zestysketch/internal/core/lines"
	"zestysketch/internal/core/plane"
)

// Piece is a line within one box, from one crossing to another or to an end inside.
type Piece struct {
	From      int           `json:"from"` // among the box's crossings; -1 an end inside
	To        int           `json:"to"`
	Closed    bool          `json:"closed,omitempty"` // it comes back to its beginning
	Bend      float64       `json:"bend"`             // height over chord: more than 0 bending right on the way, less than 0 left
	Shape     Shape         `json:"shape"`
	Near      float64       `json:"near"`          // how near that is, 0 to 1
	Direction float64       `json:"direction_deg"` // from its beginning to its end: 0 level, 90 upright
	Length    float64       `json:"length_cell"`
	Sharp     *Sharp        `json:"corner,omitempty"`  // its sharpest corner
	Turning   *plane.Point  `json:"turning,omitempty"` // its highest, lowest, leftmost or rightmost place, where that is none of its ends
	TurnsAt   string        `json:"turns_at,omitempty"`
	Edge      Edge          `json:"edge,omitempty"` // of a border between tones: soft or hard
	Points    []plane.Point `json:"points"`
	Say       string        `json:"say"`
}

// Sharp is a corner on a line.
type Sharp struct {
	At      plane.Point `json:"at"`
	Degrees float64     `json:"deg"` // by which the way turns
}

// Edge says how a border between two tones changes.
type Edge string

// The edges; none for a line.
const (
	HardEdge Edge = "hard"
	SoftEdge Edge = "soft"
)

// Limits of pieces (ours): the shortest one looked at, in boxes; how far their points may
// be simplified; what a straight one may bend; how far a line is followed to each side of
// a corner, by how many degrees it turns there, and with how much of that within a part of it.
const (
	shortPiece   = 0.05
	simplerCell  = 0.004
	straightBend = 0.025
	cornerReach  = 0.09
	cornerDeg    = 42.0
	cornerShare  = 0.55
	sShaped      = 0.3 // of the one bulge the other is at least
	hookedDeg    = 110.0
	hookedShare  = 0.7 // of the turning that lies in one half of its way
	roundBend    = 0.36
)

// take adds a piece of a run to a box; those too short to draw are left out.
func (b *Box) take(n net, s span, ends [2]int, edge func([]plane.Point) Edge) {
	cell := n.cell(s.column, s.row)
	low := plane.Pt(n.x[s.column], n.y[s.row])
	points := make([]plane.Point, len(s.points))
	for i, p := range s.points {
		points[i] = p.Sub(low).Mul(1 / cell)
	}
	p := Piece{From: ends[0], To: ends[1], Closed: s.whole}
	if backwards(points) {
		slices.Reverse(points)
		p.From, p.To = p.To, p.From
	}
	p.Length = length(points)
	if p.Length < shortPiece && p.From < 0 && p.To < 0 {
		return
	}
	p.measure(points)
	points = lines.Simplified(points, simplerCell, false)
	for _, q := range points {
		in := n.inside(s.column, s.row, q.Mul(cell).Add(low))
		p.Points = append(p.Points, plane.Pt(round(in.X), round(in.Y)))
	}
	p.turns()
	p.Edge = edge(s.points)
	p.Near = math.Round(100*p.Near) / 100
	b.Pieces = append(b.Pieces, p)
}

// backwards reports whether a line runs from right to left, or, where it is steep, upwards:
// it is told the other way.
func backwards(points []plane.Point) bool {
	d := points[len(points)-1].Sub(points[0])
	if math.Abs(d.Y) > 2*math.Abs(d.X) {
		return d.Y < 0
	}
	return d.X < 0
}

func round(v float64) float64 { return math.Round(v*1e4) / 1e4 }

func length(points []plane.Point) (sum float64) {
	for i := 1; i < len(points); i++ {
		sum += points[i].Sub(points[i-1]).Len()
	}
	return sum
}

// measure says how a line goes, by places in boxes.
func (p *Piece) measure(points []plane.Point) {
	even := spaced(points, steps)
	first, last := even[0], even[len(even)-1]
	chord := last.Sub(first)
	if p.Closed || chord.Len() < 0.15*p.Length {
		like := shapeOf(points)
		p.Shape, p.Near, p.Direction = like.name, like.near, round(slope(like.axis))
		return
	}
	p.Direction = round(slope(chord))
	way := chord.Mul(1 / chord.Len())
	right, left := 0.0, 0.0 // of the chord, on the way
	for _, q := range even {
		d := q.Sub(first)
		off := way.X*d.Y - way.Y*d.X
		right, left = max(right, off), max(left, -off)
	}
	p.Bend = round(-right / chord.Len()) // what bulges to the right bends to the left
	if left > right {
		p.Bend = round(left / chord.Len())
	}
	p.Sharp = sharpest(even, p.Length)
	turned, share := turning(even)
	switch {
	case math.Abs(p.Bend) < straightBend:
		p.Shape, p.Near = Straight, 1-math.Abs(p.Bend)/straightBend/2
	case p.Sharp != nil:
		p.Shape, p.Near = Corner, min(1, p.Sharp.Degrees/90)
	case min(right, left) > sShaped*max(right, left):
		p.Shape, p.Near = S, min(1, 2*min(right, left)/max(right, left))
	case turned > hookedDeg && share > hookedShare:
		p.Shape, p.Near = Hook, min(1, share)
	case math.Abs(p.Bend) > roundBend:
		p.Shape, p.Near = HalfDisc, max(0, 1-math.Abs(math.Abs(p.Bend)-0.5))
	default:
		p.Shape, p.Near = Arc, 1-math.Abs(share-0.5)
	}
}

// steps is into how many parts a piece is divided to see how it goes.
const steps = 48

// spaced returns places along a line at even distances, n parts of it.
func spaced(points []plane.Point, n int) []plane.Point {
	whole := length(points)
	out := make([]plane.Point, 0, n+1)
	i, before := 1, 0.0
	for k := range n + 1 {
		want := whole * float64(k) / float64(n)
		for i < len(points)-1 && before+points[i].Sub(points[i-1]).Len() < want {
			before += points[i].Sub(points[i-1]).Len()
			i++
		}
		step := points[i].Sub(points[i-1]).Len()
		t := 0.0
		if step > 0 {
			t = max(0, min(1, (want-before)/step))
		}
		out = append(out, points[i-1].To(points[i], t))
	}
	return out
}

// turn returns by how much the way turns from one place to another over so many steps.
func turn(even []plane.Point, i, reach int) float64 {
	a, b := even[i].Sub(even[max(0, i-reach)]), even[min(len(even)-1, i+reach)].Sub(even[i])
	if a.Len() == 0 || b.Len() == 0 {
		return 0
	}
	return math.Atan2(a.X*b.Y-a.Y*b.X, a.X*b.X+a.Y*b.Y) * 180 / math.Pi
}

// sharpest returns the sharpest corner of a line, nil for none: the way turns by far, and
// most of that within a part of where it is looked for, as a bend's does not.
func sharpest(even []plane.Point, long float64) *Sharp {
	reach := max(2, int(math.Round(cornerReach/long*steps)))
	if 2*reach >= len(even)-1 {
		return nil
	}
	at, most := -1, cornerDeg
	for i := reach; i < len(even)-reach; i++ {
		if d := math.Abs(turn(even, i, reach)); d > most {
			at, most = i, d
		}
	}
	if at < 0 {
		return nil
	}
	wide := min(2*reach, at, len(even)-1-at)
	if wide > reach && math.Abs(turn(even, at, wide))*cornerShare > most {
		return nil
	}
	return &Sharp{even[at], math.Round(most)}
}

// turning returns by how many degrees a line turns in all, and the share of it that lies
// in the half of its way in which it turns more.
func turning(even []plane.Point) (degrees, share float64) {
	const reach = 3
	halves := [2]float64{}
	for i := reach; i < len(even)-reach; i++ {
		d := turn(even, i, reach) / reach
		halves[i*2/len(even)] += math.Abs(d)
	}
	degrees = halves[0] + halves[1]
	return degrees, max(halves[0], halves[1]) / max(degrees, 1e-9)
}

// turns finds the place at which a bent piece is highest, lowest, leftmost or rightmost,
// where that is well inside it: the one that stands out most.
func (p *Piece) turns() {
	n := len(p.Points)
	if n < 3 || p.Closed || math.Abs(p.Bend) < 2*straightBend {
		return
	}
	a, b := p.Points[0], p.Points[n-1]
	const standsOut = 0.04 // of a box
	most := standsOut
	for _, q := range p.Points[1 : n-1] {
		for _, way := range []struct {
			out  float64
			name string
		}{
			{min(a.Y, b.Y) - q.Y, "highest"}, {q.Y - max(a.Y, b.Y), "lowest"},
			{min(a.X, b.X) - q.X, "leftmost"}, {q.X - max(a.X, b.X), "rightmost"},
		} {
			if way.out > most {
				most, p.TurnsAt = way.out, way.name
				p.Turning = &plane.Point{X: q.X, Y: q.Y}
			}
		}
	}
}

// What a box costs to draw, beside a straight line across it, which is 1 (ours): every
// further crossing has to be found, every piece drawn, every bend seen.
const (
	crossingCosts = 0.25
	pieceCosts    = 0.5
	bendCosts     = 0.4
	cornerCosts   = 0.3
	mostCrossings = 14
	mostPieces    = 10
)

// read says the rest of a box once its pieces are known.
func (b *Box) read(n net, column, row int, f Finest) {
	b.Difficulty = crossingCosts * float64(len(b.Crossings))
	for _, p := range b.Pieces {
		b.Difficulty += pieceCosts + bendCosts*min(1, math.Abs(p.Bend)/0.3)
		if p.Sharp != nil {
			b.Difficulty += cornerCosts
		}
	}
	b.Difficulty = math.Round(b.Difficulty*100) / 100
	b.TooMuch = len(b.Crossings) > mostCrossings || len(b.Pieces) > mostPieces
	slices.SortStableFunc(b.Pieces, func(p, q Piece) int { return cmp.Compare(q.worth(), p.worth()) })
	b.along(n, column, row)
	b.Empty = emptyIn(b.Pieces)
	if len(b.Pieces) > 0 {
		b.Shape, b.Near = b.Pieces[0].Shape, b.Pieces[0].Near
	}
	for i := range b.Pieces {
		b.Pieces[i].Say = b.Pieces[i].words(b.Crossings, f)
	}
	b.Say, b.Key = b.words(f)
}

// worth is the order in which pieces are drawn: what goes from side to side first, then
// the long ones, and of those the plain ones.
func (p Piece) worth() float64 {
	w := p.Length / (1 + math.Abs(p.Bend))
	if p.From >= 0 && p.To >= 0 {
		w += 2
	}
	return w
}

// A line along a side lies so near to it, in boxes, for so much of it.
const alongCell, alongShare = 0.03, 0.3

// along finds the sides along which lines run.
func (b *Box) along(n net, column, row int) {
	cell := n.cell(column, row)
	size := plane.Pt((n.x[column+1]-n.x[column])/cell, (n.y[row+1]-n.y[row])/cell)
	for _, s := range []struct {
		side Side
		off  func(plane.Point) float64
	}{
		{Top, func(p plane.Point) float64 { return p.Y * size.Y }}, {Bottom, func(p plane.Point) float64 { return (1 - p.Y) * size.Y }},
		{Left, func(p plane.Point) float64 { return p.X * size.X }}, {Right, func(p plane.Point) float64 { return (1 - p.X) * size.X }},
	} {
		sum := 0.0
		for _, p := range b.Pieces {
			for i := 1; i < len(p.Points); i++ {
				if s.off(p.Points[i]) < alongCell && s.off(p.Points[i-1]) < alongCell {
					sum += p.Points[i].Sub(p.Points[i-1]).Len()
				}
			}
		}
		if sum > alongShare {
			b.Along = append(b.Along, s.side)
		}
	}
}
