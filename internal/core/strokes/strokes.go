// Package strokes links the marks of lines to strokes, as a hand draws them in one go, and strokes that
// lie side by side to groups: what an eye takes for one part of a picture.
//
// Places are pixels of the picture in which the marks were found.
package strokes

import (
	"cmp"
	"math"
	"slices"

	"zestysketch/internal/core/lines"
	"zestysketch/internal/core/plane"
)

// Stroke is a line drawn in one go: its marks from end to end.
type Stroke struct {
	Marks  []lines.Mark
	Closed bool // it comes back to its start
}

// nearlyClosed is how far its ends may be apart, as a share of its length, for a stroke to be closed.
const nearlyClosed = 0.15

// Link joins marks found in w × h pixels to strokes; every mark is in one at most.
func Link(marks []lines.Mark, w, h int) (all []Stroke) {
	at := make(map[plane.Point]lines.Mark, len(marks))
	for _, m := range marks {
		at[plane.Pt(float64(m.X), float64(m.Y))] = m
	}
	for _, s := range lines.Link(marks, w, h) {
		one := Stroke{Marks: make([]lines.Mark, len(s.Points))}
		for i, q := range s.Points {
			one.Marks[i] = at[q]
		}
		first, last := s.Points[0], s.Points[len(s.Points)-1]
		one.Closed = s.Closed || last.Sub(first).Len() < nearlyClosed*float64(len(s.Points))
		all = append(all, one)
	}
	return all
}

// Runs returns the runs of a stroke's marks of which is holds, across gaps of so many marks of which
// it does not.
func (s Stroke) Runs(is func(lines.Mark) bool, gap int) (all []Stroke) {
	first, last := -1, -1
	for i, m := range s.Marks {
		if !is(m) {
			continue
		}
		if first >= 0 && i-last > gap+1 {
			all, first = append(all, Stroke{Marks: s.Marks[first : last+1]}), -1
		}
		if first < 0 {
			first = i
		}
		last = i
	}
	if first < 0 {
		return all
	}
	return append(all, Stroke{Marks: s.Marks[first : last+1], Closed: s.Closed && last-first+1 == len(s.Marks)})
}

// Groups returns every group that strokes make as the distance grows at which neighbours count as one,
// up to a reach in pixels: first each stroke alone, then two that are nearest, and so on (single
// linkage: Gower and Ross 1969, Applied Statistics 18(1); from memory). A group is the numbers of its strokes.
func Groups(all []Stroke, reach float64) (groups [][]int) {
	of := make([][]int, len(all))
	for i := range all {
		of[i] = []int{i}
		groups = append(groups, of[i])
	}
	group := make([]int, len(all))
	for i := range group {
		group[i] = i
	}
	for _, e := range neighbours(all, reach) {
		a, b := group[e.a], group[e.b]
		if a == b {
			continue
		}
		of[a] = slices.Concat(of[a], of[b])
		for _, i := range of[b] {
			group[i] = a
		}
		groups = append(groups, of[a])
	}
	return groups
}

type edge struct {
	a, b int
	far  float64
}

// neighbours returns the pairs of strokes that come within reach, the nearest first.
func neighbours(all []Stroke, reach float64) (edges []edge) {
	const step = 3 // marks: a stroke's place to within so many pixels is near enough
	type seat struct {
		x, y int
	}
	seats, side := map[seat][]int{}, max(reach, 1)
	at := func(m lines.Mark) seat { return seat{int(float64(m.X) / side), int(float64(m.Y) / side)} }
	least := map[[2]int]float64{}
	type place struct {
		stroke int
		m      lines.Mark
	}
	var places []place
	for i, s := range all {
		for k := 0; k < len(s.Marks); k += step {
			seats[at(s.Marks[k])] = append(seats[at(s.Marks[k])], len(places))
			places = append(places, place{i, s.Marks[k]})
		}
	}
	for _, p := range places {
		home := at(p.m)
		for dy := -1; dy <= 1; dy++ {
			for dx := -1; dx <= 1; dx++ {
				for _, j := range seats[seat{home.x + dx, home.y + dy}] {
					o := places[j]
					if o.stroke <= p.stroke {
						continue
					}
					far, pair := math.Hypot(float64(o.m.X-p.m.X), float64(o.m.Y-p.m.Y)), [2]int{p.stroke, o.stroke}
					if was, known := least[pair]; far <= reach && (!known || far < was) {
						least[pair] = far
					}
				}
			}
		}
	}
	for pair, far := range least {
		edges = append(edges, edge{pair[0], pair[1], far})
	}
	slices.SortFunc(edges, func(x, y edge) int {
		return cmp.Or(cmp.Compare(x.far, y.far), cmp.Compare(x.a, y.a), cmp.Compare(x.b, y.b))
	})
	return edges
}

// Apart returns the groups of strokes that no neighbours within a reach, pixels, join.
func Apart(all []Stroke, reach float64) (groups [][]int) {
	group := make([]int, len(all))
	for i := range group {
		group[i] = i
	}
	root := func(i int) int {
		for group[i] != i {
			i = group[i]
		}
		return i
	}
	for _, e := range neighbours(all, reach) {
		if a, b := root(e.a), root(e.b); a != b {
			group[max(a, b)] = min(a, b)
		}
	}
	at := map[int]int{}
	for i := range all {
		r := root(i)
		if _, known := at[r]; !known {
			at[r] = len(groups)
			groups = append(groups, nil)
		}
		groups[at[r]] = append(groups[at[r]], i)
	}
	return groups
}
