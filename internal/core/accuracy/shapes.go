package accuracy

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/lines"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/core/reading"
)

// Shaped is a shape that lines close in the picture, beside what was drawn of it. Places
// are parts of the sheet, 0 to 1, right and down.
type Shaped struct {
	Where  string // its boxes
	Wanted plane.Ring
	Drawn  plane.Ring // nil where it does not close
	Open   []string   // boxes in which a line stops before it closes
	Gap    plane.Ring // where tone would run out: round the longest stretch that is not drawn; nil where it closes
	Area   float64    // drawn by wanted; 0 where it does not close
	Aspect float64    // how much broader for its height than wanted: 1 for as wanted
	Off    bool       // somebody should look at it
	Say    string
}

// Shapes are compared on so many places a box, finely first. Lines are taken as broad as
// shapeReach to each side, so that they close where a ruled line was taken away or a hand
// lifted; what stands open further, and openCell of a box, is said. Of a shape half the
// outline must be drawn. What differs by less in area or proportion, and by lineOff of a box
// all round, which is a line's own breadth, is as it should be: ours.
const (
	fineSide    = 36.0
	shapeSide   = 24.0
	shapeReach  = 2
	openCell    = 0.2
	openReach   = 0.12
	leastDrawn  = 0.5
	leaksInto   = 2.2
	leastShared = 0.4
	parted      = 0.25
	islandIn    = 0.9
	areaOff     = 0.2
	aspectOff   = 0.13
	lineOff     = 0.04
)

// CompareShapes returns how shapes that lines close in the picture were drawn, those that
// do not close and differ most first; those that nobody has drawn yet are left out. Rings
// are parts of the sheet, as reading's gaps are. A photo whose drawing is not found has none.
func CompareShapes(j Job, rings []plane.Ring) ([]Shaped, error) {
	if j.Reference == nil || j.Corners == nil || len(rings) == 0 {
		return nil, nil
	}
	m, err := j.match()
	if err != nil {
		return nil, err
	}
	return m.shapes(rings), nil
}

// match sees a measured photo again, and lays the reference on it.
func (j Job) match() (Matched, error) {
	quad, by, err := j.corners()
	if err != nil {
		return Matched{}, err
	}
	d, _, err := j.see(quad, by)
	if err != nil {
		return Matched{}, err
	}
	return d.Match(), nil
}

// shapes compares shapes with the empty parts between the drawn lines. Where a shape
// leaks, what runs along a ruled line, which nobody can tell, is taken for drawn.
func (d Matched) shapes(rings []plane.Ring) (all []Shaped) {
	var walks []walk
	for _, ring := range rings {
		walks = append(walks, d.walk(ring))
	}
	boards := []empties{d.between(fineSide, nil), d.between(shapeSide, nil), d.between(shapeSide, walks)}
	for i, ring := range rings {
		s := Shaped{Where: boxesOf(d.Plan, ring), Wanted: ring}
		drawn, open, gap := d.closed(walks[i])
		if drawn < leastDrawn {
			continue
		}
		how := leaks
		for _, b := range boards {
			if how = d.fill(&s, b); how == closes {
				break
			}
		}
		if how == leaks {
			s.Open, s.Gap = open, gap
		}
		if s.tell(d.Plan); s.Say != "" {
			all = append(all, s)
		}
	}
	if d.Tonal { // a picture of tones is traced in closed areas
		all = append(all, d.loneStrokes(walks, boards)...)
	}
	slices.SortStableFunc(all, func(a, b Shaped) int { return cmp.Compare(b.effect(), a.effect()) })
	return all
}

// empties are the empty parts between lines, which are broad, and the same lines thin.
type empties struct {
	*reading.Board
	thin *reading.Board
	all  []reading.Blank
}

// between returns what is empty between the drawn lines, and the parts of walks along
// ruled ones, on so many places a box.
func (d Matched) between(side float64, walks []walk) empties {
	p := d.Plan
	w, h := int(side*p.Sheet.Width/p.Grid.SheetCell[0]), int(side*p.Sheet.Height/p.Grid.SheetCell[1])
	b, thin := reading.NewBoard(w, h), reading.NewBoard(w, h)
	for _, m := range d.drawn.Marks {
		at := d.sheetPart(plane.Pt(float64(m.X), float64(m.Y)))
		b.Dot(at, shapeReach)
		thin.Dot(at, 0)
	}
	for _, w := range walks {
		for k, at := range w.candidates {
			if w.there[k] == underRule {
				b.Dot(d.sheetPart(at), shapeReach)
			}
		}
	}
	return empties{b, thin, b.Blanks()}
}

// filled says what lies where a shape belongs.
type filled int

const (
	closes filled = iota
	leaks         // into something much larger
	unlike        // other lines part it
)

// fill finds what was drawn of a shape.
func (d Matched) fill(s *Shaped, b empties) filled {
	in, all := d.within(s.Wanted, b)
	if all == 0 || len(in) == 0 {
		return unlike
	}
	k := slices.Index(in, slices.Max(in))
	if b.all[k].Edge {
		return leaks
	}
	shape := []reading.Blank{b.all[k]} // and what is drawn in it, as islands
	for i, n := range in {
		if i != k && float64(n) > parted*float64(all) {
			return unlike
		}
		if whole := float64(b.all[i].Places); i != k && float64(n) > islandIn*whole && whole < parted*float64(all) {
			shape = append(shape, b.all[i])
		}
	}
	drawn := plane.Ring(lines.Simplified(b.Joined(shape, shapeReach, b.thin), 1.2/float64(max(b.W, b.H)), true))
	area, aspect := compare(drawn, s.Wanted)
	switch {
	case area > leaksInto:
		return leaks
	case float64(in[k]) < leastShared*float64(all) || area < 1/leaksInto:
		return unlike
	}
	s.Drawn, s.Area, s.Aspect = drawn, area, aspect
	return closes
}

// sheetPart returns a pixel of the frame as parts of the sheet.
func (d Seen) sheetPart(px plane.Point) plane.Point {
	at := d.Frame.Sheet(px)
	return plane.Pt(at.X/d.Plan.Sheet.Width, at.Y/d.Plan.Sheet.Height)
}

// pixel undoes sheetPart, and moves the place to where it was drawn.
func (d Matched) pixel(at plane.Point) plane.Point {
	px := d.Frame.Pixel(plane.Pt(at.X*d.Plan.Sheet.Width, at.Y*d.Plan.Sheet.Height))
	dx, dy := field(d.moved, d.net, px.X, px.Y)
	return px.Add(plane.Pt(dx, dy))
}

// walk is the way along a shape's outline, where it was drawn, in pixels.
type walk struct {
	candidates []plane.Point
	there      []presence
	step       float64
}

// presence says whether a line is drawn at a place; along a ruled line it cannot be told.
type presence int

const (
	missing presence = iota
	present
	underRule
)

func (d Matched) walk(ring plane.Ring) walk {
	w := walk{step: 0.04 * d.net.cell}
	reach, under := float32(openReach*d.net.cell), 2*alongRule*d.net.cell
	for i, p := range ring {
		from, to := d.pixel(p), d.pixel(ring[(i+1)%len(ring)])
		way := to.Sub(from)
		if way.Len() == 0 {
			continue
		}
		n := max(1, int(way.Len()/w.step))
		for k := range n {
			at, is := from.To(to, float64(k)/float64(n)), missing
			m := lines.Mark{X: float32(at.X), Y: float32(at.Y), NX: float32(-way.Y / way.Len()), NY: float32(way.X / way.Len())}
			d.drawn.Around(m.X, m.Y, reach, func(lines.Mark) bool {
				is = present
				return false
			})
			if is == missing && d.alongRule(m, under) != nil {
				is = underRule
			}
			w.candidates, w.there = append(w.candidates, at), append(w.there, is)
		}
	}
	return w
}

// closed returns which part of a shape's outline is drawn, and the boxes of the longest
// stretch that is not, where it is long enough to be seen, and a ring round it.
func (d Matched) closed(w walk) (drawn float64, open []string, gap plane.Ring) {
	for _, is := range w.there {
		if is != missing {
			drawn++
		}
	}
	from, long := longestRun(w.there)
	if float64(long)*w.step >= openCell*d.net.cell {
		gap = d.around(w.candidates[from], w.candidates[(from+long/2)%len(w.candidates)], w.candidates[(from+long-1)%len(w.candidates)])
		for i := range long {
			at := w.candidates[(from+i)%len(w.candidates)]
			k := d.net.at(at.X, at.Y)
			if k < 0 {
				continue
			}
			if label := d.Plan.Cells()[k].Label; !slices.Contains(open, label) {
				open = append(open, label)
			}
		}
	}
	return drawn / float64(len(w.candidates)), open, gap
}

// around returns a ring about the middle of a stretch that holds its ends, given in pixels.
func (d Matched) around(first, middle, last plane.Point) (ring plane.Ring) {
	far := max(0.25*d.net.cell, first.Sub(middle).Len(), last.Sub(middle).Len()) + 0.08*d.net.cell
	for i := range 24 {
		sin, cos := math.Sincos(float64(i) * math.Pi / 12)
		ring = append(ring, d.sheetPart(middle.Add(plane.Pt(far*cos, far*sin))))
	}
	return ring
}

// longestRun returns the longest stretch of a ring of places that are not there.
func longestRun(there []presence) (from, long int) {
	n := len(there)
	start := slices.IndexFunc(there, func(is presence) bool { return is != missing })
	if start < 0 {
		return 0, n
	}
	run := 0
	for i := 1; i <= n; i++ {
		if k := (start + i) % n; there[k] == missing {
			run++
			continue
		}
		if run > long {
			from, long = (start+i-run)%n, run
		}
		run = 0
	}
	return from, long
}

// within returns how many places of each blank lie in a shape that is moved to where its
// boxes were drawn, and how many places it has.
func (d Matched) within(ring plane.Ring, b empties) (in []int, all int) {
	moved := make(plane.Ring, len(ring))
	for i, p := range ring {
		moved[i] = d.sheetPart(d.pixel(p))
	}
	in = make([]int, len(b.all))
	box := moved.Bounds()
	for y := math.Ceil(box.Min.Y * float64(b.H)); y < box.Max.Y*float64(b.H); y++ {
		for x := math.Ceil(box.Min.X * float64(b.W)); x < box.Max.X*float64(b.W); x++ {
			at := plane.Pt((x+0.5)/float64(b.W), (y+0.5)/float64(b.H))
			if !moved.Has(at) {
				continue
			}
			all++
			if k := b.In(at); k >= 0 {
				in[k]++
			}
		}
	}
	return in, all
}

// compare returns how large a drawn shape is beside the wanted one, and how much broader
// for its height.
func compare(drawn, wanted plane.Ring) (area, aspect float64) {
	have, want := drawn.Bounds(), wanted.Bounds()
	return drawn.Area() / wanted.Area(), have.Width() / have.Height() / (want.Width() / want.Height())
}

// effect is by how much a shape is to be looked at.
func (s Shaped) effect() float64 {
	if s.Drawn == nil {
		return 10 + s.Wanted.Area()
	}
	return math.Abs(math.Log(s.Area)) + 2*math.Abs(math.Log(s.Aspect))
}

// tell fills in what is said of a shape; nothing where it is not sure what it does. The
// smaller a shape is, the more of it is its line's own breadth.
func (s *Shaped) tell(p grid.Plan) {
	if s.Drawn == nil {
		if len(s.Open) > 0 {
			s.Off, s.Say = true, fmt.Sprintf("%s: its outline is open in %s. Close it.", s.Where, list(s.Open))
		}
		return
	}
	var parts []string
	var wanted plane.Ring // in boxes
	for _, q := range s.Wanted {
		wanted = append(wanted, plane.Pt(q.X*p.Sheet.Width/p.Grid.SheetCell[0], q.Y*p.Sheet.Height/p.Grid.SheetCell[1]))
	}
	box := wanted.Bounds()
	area, aspect := 1+areaOff+lineOff*wanted.Length()/wanted.Area(), 1+aspectOff+2*lineOff/min(box.Width(), box.Height())
	if off := s.Area - 1; s.Area > area || 1/s.Area > area {
		parts = append(parts, fmt.Sprintf("about %s too %s", ShareInWords(math.Abs(off)), sign(off, "large", "small")))
	}
	if s.Aspect > aspect || 1/s.Aspect > aspect {
		parts = append(parts, "too "+sign(s.Aspect-1, "broad", "narrow")+" for its height")
	}
	if s.Off = len(parts) > 0; s.Off {
		s.Say = fmt.Sprintf("%s: yours is %s.", s.Where, strings.Join(parts, " and "))
	} else {
		s.Say = s.Where + ": as it should be."
	}
}

// boxesOf names the boxes over which a ring lies.
func boxesOf(p grid.Plan, ring plane.Ring) string {
	box := ring.Bounds()
	const inset = 1e-3
	at := func(q plane.Point, by float64) string {
		return p.CellAt(plane.Pt((q.X+by)*p.Sheet.Width, (q.Y+by)*p.Sheet.Height)).Label
	}
	from, to := at(box.Min, inset), at(box.Max, -inset)
	if from == to {
		return from
	}
	return from + " to " + to
}
