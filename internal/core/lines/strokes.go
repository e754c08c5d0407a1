package lines

import (
	"cmp"
	"math"
	"slices"

	"zestysketch/internal/core/plane"
)

// Stroke is a line that a hand draws in one go, in pixels.
type Stroke struct {
	Points []plane.Point
	Weight float64 // mean strength of its marks, 0 to 1
	Closed bool    // its last point joins its first
}

// Length returns how long a stroke is, in pixels.
func (s Stroke) Length() (sum float64) {
	for i := 1; i < len(s.Points); i++ {
		sum += between(s.Points[i-1], s.Points[i])
	}
	if s.Closed {
		sum += between(s.Points[0], s.Points[len(s.Points)-1])
	}
	return sum
}

func between(a, b plane.Point) float64 { return a.Sub(b).Len() }

// Link joins marks of a picture of w × h pixels into strokes: from each mark
// that is left, the strongest first, along the line both ways, to whichever
// next mark bends it least (after Steger 1998, IEEE PAMI 20(2), section 4).
// What meets another stroke ends on it.
func Link(marks []Mark, w, h int) []Stroke {
	f := newField(w, h)
	for _, m := range marks {
		x, y := max(0, min(w-1, int(m.X))), max(0, min(h-1, int(m.Y)))
		if f.at[y*w+x] == 0 {
			f.add(x, y, m)
		}
	}
	order := make([]int32, len(f.marks))
	for i := range order {
		order[i] = int32(i)
	}
	slices.SortFunc(order, func(a, b int32) int {
		return cmp.Or(cmp.Compare(f.marks[b].Weight, f.marks[a].Weight), cmp.Compare(a, b))
	})
	l := linker{field: f, owner: make([]int32, len(f.marks))}
	var strokes []Stroke
	for _, i := range order {
		if l.owner[i] == 0 {
			strokes = append(strokes, l.stroke(i, int32(len(strokes)+1)))
		}
	}
	return strokes
}

// linker follows marks; owner is the number of the stroke that has taken a mark.
type linker struct {
	*field
	owner []int32
}

func (l *linker) stroke(start, number int32) Stroke {
	m := l.marks[start]
	l.take(start, number, -m.NY, m.NX)
	ahead, closed := l.follow(start, number, -m.NY, m.NX)
	var behind []int32
	if !closed {
		behind, _ = l.follow(start, number, m.NY, -m.NX)
	}
	slices.Reverse(behind)
	s := Stroke{Closed: closed}
	for _, i := range slices.Concat(behind, []int32{start}, ahead) {
		m := l.marks[i]
		s.Points = append(s.Points, plane.Pt(float64(m.X), float64(m.Y)))
		s.Weight += float64(m.Weight)
	}
	s.Weight /= float64(len(s.Points))
	return s
}

// take gives a mark to a stroke, with the marks right beside it across the
// line: a broad line's marks stand two abreast in places.
func (l *linker) take(i, number int32, dx, dy float32) {
	l.owner[i] = number
	m := l.marks[i]
	for _, side := range [2]float32{-1, 1} {
		x, y := int(m.X-dy*side), int(m.Y+dx*side)
		if j := l.near(x, y); j >= 0 && l.owner[j] == 0 && absf(l.marks[j].NX*m.NX+l.marks[j].NY*m.NY) > 0.8 {
			l.owner[j] = -number
		}
	}
}

// passing reports whether a line that is not the stroke's own runs on to both
// sides of a mark: what comes from across it ends there.
func (l *linker) passing(i, number int32) bool {
	m := l.marks[i]
	var sides [2]bool
	for oy := -reach; oy <= reach; oy++ {
		for ox := -reach; ox <= reach; ox++ {
			j := l.near(int(m.X)+ox, int(m.Y)+oy)
			if j < 0 || j == i || l.owner[j] == number || l.owner[j] == -number {
				continue
			}
			vx, vy := l.marks[j].X-m.X, l.marks[j].Y-m.Y
			along := (-vx*m.NY + vy*m.NX) / max(sqrtf(vx*vx+vy*vy), 1e-6)
			sides[0], sides[1] = sides[0] || along > 0.8, sides[1] || along < -0.8
		}
	}
	return sides[0] && sides[1]
}

// near returns the mark of a pixel, −1 for none.
func (l *linker) near(x, y int) int32 {
	if x < 0 || y < 0 || x >= l.w || y >= l.h {
		return -1
	}
	return l.at[y*l.w+x] - 1
}

// reach is how far the next mark may be, in pixels: where lines meet, some are missing.
const reach = 3

// onward returns the mark to which a stroke goes on from one in a direction, of those that may
// be; -1 for none.
func (l *linker) onward(here int32, dx, dy float32, may func(int32) bool) int32 {
	next, best := int32(-1), float32(math.Inf(1))
	m := l.marks[here]
	for oy := -reach; oy <= reach; oy++ {
		for ox := -reach; ox <= reach; ox++ {
			j := l.near(int(m.X)+ox, int(m.Y)+oy)
			if j < 0 || !may(j) {
				continue
			}
			o := l.marks[j]
			vx, vy := o.X-m.X, o.Y-m.Y
			long := sqrtf(vx*vx + vy*vy)
			along := (vx*dx + vy*dy) / max(long, 1e-6)
			if along < 0.5 || long > reach {
				continue
			}
			// Straight on before round a corner: where lines cross, each goes its own way.
			if cost := long + 8*(1-along) + 2*(1-absf(o.NX*m.NX+o.NY*m.NY)); cost < best {
				next, best = j, cost
			}
		}
	}
	return next
}

// follow walks from a mark in a direction and returns the marks it passes; the
// last may be one of another stroke. closed says that it came back to its start.
func (l *linker) follow(from, number int32, dx, dy float32) (passed []int32, closed bool) {
	start, here := from, from
	for {
		m := l.marks[here]
		next := l.onward(here, dx, dy, func(j int32) bool {
			return j != here && l.owner[j] != -number && (l.owner[j] != number || j == start && len(passed) > 8)
		})
		if next < 0 {
			return passed, false
		}
		if next == start {
			return passed, true
		}
		o := l.marks[next]
		if l.owner[next] != 0 || absf(o.NX*dy-o.NY*dx) < 0.7 && l.passing(next, number) { // it runs into another stroke
			return append(passed, next), false
		}
		ox, oy := -o.NY, o.NX
		if ox*(o.X-m.X)+oy*(o.Y-m.Y) < 0 {
			ox, oy = -ox, -oy
		}
		// Half the mark's own direction, half the way that led here.
		dx, dy = dx+ox, dy+oy
		long := max(1e-6, sqrtf(dx*dx+dy*dy))
		dx, dy = dx/long, dy/long
		l.take(next, number, dx, dy)
		passed, here = append(passed, next), next
	}
}
