package reading

import (
	"fmt"
	"math"
	"strings"

	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/plane"
)

// Direction returns a direction in words, of degrees above -90 to 90.
func Direction(deg float64) string {
	steep := math.Abs(deg)
	rising := "rising to the right"
	if deg < 0 {
		rising = "falling to the right"
	}
	switch {
	case steep <= 7:
		return "level"
	case steep >= 83:
		return "upright"
	case steep < 33:
		return "flat, " + rising
	case steep <= 57:
		return "half-way between level and upright, " + rising
	}
	return "steep, " + rising
}

// towards names the way to which a line bulges.
func towards(way plane.Point) string {
	up := map[bool]string{true: "up", false: "down"}[way.Y < 0]
	side := map[bool]string{true: "to the left", false: "to the right"}[way.X < 0]
	switch {
	case math.Abs(way.X) < 0.4:
		return up
	case math.Abs(way.Y) < 0.4:
		return side
	}
	return up + " and " + side
}

// words says a piece in one sentence.
func (p Piece) words(all []Crossing, f Finest) string {
	if p.Closed {
		return p.closedWords(f)
	}
	from, begin := p.end(all, p.From, p.Points[0], f)
	to, end := p.end(all, p.To, p.Points[len(p.Points)-1], f)
	line := p.kind()
	var way string
	switch {
	case p.From >= 0 && p.To >= 0:
		way = fmt.Sprintf("%s goes from %s to %s", line, begin, end)
	case p.From >= 0:
		way = fmt.Sprintf("%s comes in %s and ends %s", line, begin, end)
	case p.To >= 0: // told from the side on, where its dot is
		way = fmt.Sprintf("%s comes in %s and ends %s", line, end, begin)
		return way + p.goes(back(p.Points), to, from, begin, f)
	default:
		way = fmt.Sprintf("%s inside goes from %s to %s", line, begin, end)
	}
	return way + p.goes(p.Points, from, to, end, f)
}

// kind says what is told: a line, or a border between two tones.
func (p Piece) kind() string {
	switch p.Edge {
	case SoftEdge:
		return "A soft border"
	case HardEdge:
		return "A border"
	}
	return "A line"
}

// end returns where an end of a piece is put by who hears of it, and in words.
func (p Piece) end(all []Crossing, crossing int, at plane.Point, f Finest) (plane.Point, string) {
	if crossing < 0 {
		return plane.Pt(f.heard(at.X), f.heard(at.Y)), f.place(at.X, at.Y)
	}
	c := all[crossing]
	said := Crossing{Side: c.Side, At: f.heard(c.At)}
	return said.Place(), c.Say
}

// goes says how a piece goes between its told ends: straight, in a bow, or in legs.
func (p Piece) goes(line []plane.Point, from, to plane.Point, end string, f Finest) string {
	legs := f.told(line, from, to)
	switch {
	case len(legs) == 1 && legs[0].bow == 0:
		return "; it is straight, " + Direction(round(slope(to.Sub(from)))) + "."
	case len(legs) == 1:
		return "; it goes " + strings.TrimSuffix(bowWords(from, legs[0]), ",") + "."
	}
	return p.like() + ". It goes " + f.legWords(from, legs, end) + "."
}

// like names what a piece of several legs is like, where it has a name.
func (p Piece) like() string {
	switch p.Shape {
	case Corner:
		return ", with a corner"
	case S, Hook:
		return ", like " + map[Shape]string{S: "an S", Hook: "a hook"}[p.Shape]
	case Straight, Arc, HalfDisc, None:
		return ""
	}
	return ", almost round like a " + string(p.Shape)
}

// closedWords says a closed piece: by name and size where that is enough, else by how one goes round it.
func (p Piece) closedWords(f Finest) string {
	box := plane.Ring(p.Points).Bounds()
	mid, size := box.Min.To(box.Max, 0.5), box.Max.Sub(box.Min)
	name := "shape"
	if p.Shape != None {
		name = string(p.Shape)
	}
	heard := plane.Pt(f.heard(mid.X), f.heard(mid.Y))
	across := plane.Pt(sizeHeard(size.X), sizeHeard(size.Y))
	if told := plainly(p.Shape, heard, across); max(size.X, size.Y) < dotCell || told != nil && furthest(p.Points, told) <= closedOff {
		return fmt.Sprintf("A closed %s lies inside, its middle %s, %s of the box wide and %s of it high.",
			name, f.place(mid.X, mid.Y), sizeWords(size.X), sizeWords(size.Y))
	}
	// Round from its highest place, clockwise.
	ring := p.Points[:len(p.Points)-1]
	if plane.Ring(ring).Area() < 0 {
		ring = back(ring)
	}
	top := 0
	for i, q := range ring {
		if q.Y < ring[top].Y {
			top = i
		}
	}
	round := append(append(append([]plane.Point{}, ring[top:]...), ring[:top]...), ring[top])
	at := plane.Pt(f.heard(round[0].X), f.heard(round[0].Y))
	return fmt.Sprintf("A closed %s lies inside, its highest place %s. Round it goes %s.", name, f.place(round[0].X, round[0].Y), f.legWords(at, f.told(round, at, at), "where it began"))
}

// A closed shape smaller than dotCell is told by its place and size alone; else it may lie so far from what is drawn
// by its name.
const dotCell, closedOff = 0.12, 0.07

// sizes are the parts of a box by which a shape is said to be wide and high.
var sizes = []measure.Share{{Of: 0.05, Name: "hardly anything"}, {Of: 0.1, Name: "a tenth"}, {Of: 0.2, Name: "a fifth"}, measure.ShareNear(0.25), measure.ShareNear(1. / 3),
	{Of: 0.4, Name: "two fifths"}, measure.ShareNear(0.5), {Of: 0.6, Name: "three fifths"}, measure.ShareNear(2. / 3), measure.ShareNear(0.75), {Of: 0.87, Name: "most"}, {Of: 1, Name: "all"}}

func sizeNear(v float64) (near measure.Share) {
	near = sizes[0]
	for _, s := range sizes {
		if math.Abs(s.Of-v) < math.Abs(near.Of-v) {
			near = s
		}
	}
	return near
}

func sizeHeard(v float64) float64 { return sizeNear(v).Of }
func sizeWords(v float64) string  { return sizeNear(v).Name }

// plainly returns what is drawn of a closed shape by its name, middle and size; nil for those whose name does not
// say which way they point.
func plainly(s Shape, mid, size plane.Point) (ring []plane.Point) {
	half := size.Mul(0.5)
	switch s {
	case Disc, Oval:
		for i := range toldSteps + 1 {
			sin, cos := math.Sincos(2 * math.Pi * float64(i) / toldSteps)
			ring = append(ring, mid.Add(plane.Pt(half.X*cos, half.Y*sin)))
		}
	case Rectangle:
		for _, c := range [5][2]float64{{-1, -1}, {1, -1}, {1, 1}, {-1, 1}, {-1, -1}} {
			ring = append(ring, mid.Add(plane.Pt(half.X*c[0], half.Y*c[1])))
		}
	}
	return ring
}

// words says a box line by line for a child, the largest first, and all of it for the teacher.
func (b Box) words(f Finest) (say []string, key string) {
	for _, p := range b.Pieces {
		say = append(say, p.Say)
	}
	for _, s := range b.Along {
		say = append(say, fmt.Sprintf("A line runs along the %s side, hard to tell from the grid.", s))
	}
	if b.Tone != "" {
		say = append(say, b.Tone)
	}
	if e, ok := b.telling(); ok {
		say = append(say, fmt.Sprintf("What stays empty %s is like a %s.", where(e), e.Shape))
	}
	if len(b.Pieces)+len(b.Along) == 0 && b.Tone != "" {
		say[0] = "No line is here. " + say[0]
	}
	if len(say) == 0 {
		say = []string{"Nothing is drawn here: the box stays empty."}
	}
	key = strings.Join(say, " ")
	if b.TooMuch {
		key = fmt.Sprintf("%d crossings and %d lines: divide this box again. ", len(b.Crossings), len(b.Pieces)) + key
	}
	return say, key
}

// byParts says a divided box part by part: those in which something is.
func byParts(parts []Box, n int) (say []string) {
	for k, p := range parts {
		for _, s := range p.Say {
			if len(p.Pieces) > 0 {
				say = append(say, PartName(k, n)+": "+s)
			}
		}
	}
	if len(say) == 0 {
		return parts[0].Say
	}
	return say
}

// PartName names a part of a box that is divided into n by n, row by row from 0.
func PartName(k, n int) string {
	if n == 2 {
		return [4]string{"Upper left part", "Upper right part", "Lower left part", "Lower right part"}[k]
	}
	return fmt.Sprintf("Part %d of row %d", k%n+1, k/n+1)
}

// telling returns the empty shape that says most: the largest that is like something.
func (b Box) telling() (Empty, bool) {
	for _, e := range b.Empty {
		if e.Shape != None && e.Area < 0.9 {
			return e, true
		}
	}
	return Empty{}, false
}

// where says where in its box an empty shape lies.
func where(e Empty) string {
	m := middle(append(e.Outline[:len(e.Outline):len(e.Outline)], e.Outline[0]))
	down := ""
	switch {
	case m.Y < 0.4:
		down = "above"
	case m.Y > 0.6:
		down = "below"
	}
	side := ""
	switch {
	case m.X < 0.4:
		side = "on the left"
	case m.X > 0.6:
		side = "on the right"
	}
	switch {
	case down == "" && side == "":
		return "in the middle"
	case down == "":
		return side
	case side == "":
		return down
	}
	return down + " " + side
}
