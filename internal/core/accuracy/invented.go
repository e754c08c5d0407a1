package accuracy

import (
	"cmp"
	"slices"

	"zestysketch/internal/core/lines"
	"zestysketch/internal/core/strokes"
)

// What is drawn and belongs to no line of the picture is spoken of where it is so long, boxes, nearly
// as dark as the others, none of hatching, and no line drawn twice: further from every line of the
// picture of its direction. Of many such things none is while much of the picture is not in place: then it is not known
// what belongs where.
const (
	leastInvented = 0.6
	nearlyAsDark  = 0.6 // of the usual strength of a drawn line
	drawnTwice    = 0.15
	inventedApart = 0.12
	hatchingFrom  = 4 // strokes of one direction
	mostInvented  = 3
)

// invented returns what is drawn that the picture has not, once every part is told and such a share of the picture's
// lines is in place.
func (s *partSearch) invented(inPlace float64) (all []Part) {
	near, reach := s.where(slices.Concat(s.wanted, s.beneath)), float32(drawnTwice*s.net.cell)
	linked := s.unexplained()
	for _, numbers := range strokes.Apart(linked, inventedApart*s.net.cell) {
		var some []strokes.Stroke
		for _, i := range numbers {
			some = append(some, linked[i])
		}
		g, twice := s.newGroup(some), 0
		for _, m := range g.all {
			if hasNear(near, m, m.X, m.Y, reach) {
				twice++
			}
		}
		if g.length >= leastInvented && 2*twice < len(g.all) && !(g.straight && len(some) >= hatchingFrom) {
			q := s.located(g.all)
			q.State, q.Length, q.Closed = PartInvented, g.length, g.closed
			all = append(all, q)
		}
	}
	if len(all) > 0 {
		all = s.notEvenFaint(all)
	}
	if len(all) > mostInvented && inPlace < mostDrawn {
		return nil
	}
	slices.SortStableFunc(all, func(a, b Part) int { return cmp.Compare(b.Length, a.Length) })
	return all
}

// unexplained links what is drawn, belongs to no line of the picture and is nearly as dark as the others.
func (s *partSearch) unexplained() []strokes.Stroke {
	usual := s.usualWeight()
	return strokes.Link(slices.DeleteFunc(slices.Clone(s.free.Marks), func(m lines.Mark) bool {
		return !m.Ridge || float64(m.Weight) < nearlyAsDark*usual || s.onEdge(m) || !s.read(m)
	}), s.net.w, s.net.h)
}

// where returns marks of the picture where the boxes have them.
func (s *partSearch) where(marks []lines.Mark) *lines.Index {
	carried := make([]lines.Mark, len(marks))
	for i, m := range marks {
		dx, dy := field(s.Boxes.moved, s.net, float64(m.X), float64(m.Y))
		m.X, m.Y = m.X+float32(dx), m.Y+float32(dy)
		carried[i] = m
	}
	return lines.NewIndex(carried, s.net.w, s.net.h, 8)
}

// Lines of a picture that are so much paler than those that are looked for may be drawn too; where so much of what is
// drawn lies on one, it is the picture's.
const faintLines, onFaint = 3, 0.4

// notEvenFaint leaves out what lies on lines of the picture that are too pale to be wanted.
func (s *partSearch) notEvenFaint(all []Part) []Part {
	pale := s.reference()
	pale.Least /= faintLines
	near, reach := s.where(lines.FindInColour(s.Wanted, pale)), float32(asDrawn*s.net.cell)
	return slices.DeleteFunc(all, func(p Part) bool {
		on, of := 0.0, 0.0
		for _, line := range p.Lines {
			for i := 1; i < len(line); i++ {
				a, b := s.Frame.Pixel(line[i-1]), s.Frame.Pixel(line[i])
				along, mid := b.Sub(a), a.To(b, 0.5)
				of += along.Len()
				m := lines.Mark{X: float32(mid.X), Y: float32(mid.Y), NX: float32(-along.Y / max(1e-9, along.Len())), NY: float32(along.X / max(1e-9, along.Len()))}
				if hasNear(near, m, m.X, m.Y, reach) {
					on += along.Len()
				}
			}
		}
		return on > onFaint*of
	})
}

// read reports whether a drawn mark lies in a box that holds the picture's lines.
func (s *partSearch) read(m lines.Mark) bool {
	i := s.net.at(float64(m.X), float64(m.Y))
	return i >= 0 && !s.Cells[i].Burnt && !s.Cells[i].Other && !s.swapped[i]
}

// usualWeight returns how strong the drawn lines are that the picture explains.
func (s *partSearch) usualWeight() float64 {
	var all []float64
	for _, g := range s.groups {
		if g.own != nil && (g.open || g.closed) {
			for _, m := range thinned(g.own.Marks, 16) {
				if m.Ridge {
					all = append(all, float64(m.Weight))
				}
			}
		}
	}
	return median(all)
}
