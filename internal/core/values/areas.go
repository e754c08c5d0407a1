package values

import (
	"cmp"
	"container/heap"
	"image"
	"maps"
	"slices"
)

// run is a stretch of one row that has one step.
type run struct {
	from, to int // pixels of the row, to not counted
	step     uint8
	area     int32
}

// parts is a picture in connected areas, by sides, while they are joined: areas
// are found by runs of rows with union and find (after Rosenfeld and Pfaltz
// 1966, Journal of the ACM 13(4)).
type parts struct {
	w, h    int
	runs    []run
	row     []int // index of each row's first run, and the end
	parent  []int32
	step    []uint8
	pixels  []int
	borders []map[int32]int // with other areas, in pixel sides
	pinned  map[int32]bool  // areas at a landmark, which are kept however small
}

// settle parts the picture into connected areas of one step and joins those of
// fewer than least pixels to the neighbour they share most border with, the
// smallest first, until none is left but dark shapes that are kept, whose step is
// the darkest. It returns each pixel's area; areas are
// numbered in the order of their first pixel.
func settle(steps []uint8, w, h, least int, pins ...image.Point) (at []int32, areas []Area) {
	p := newParts(steps, w, h)
	p.meet()
	p.pin(pins)
	p.joinSmall(least)
	p.joinKept()
	return p.numbered()
}

func newParts(steps []uint8, w, h int) *parts {
	p := &parts{w: w, h: h, row: make([]int, h+1)}
	for y := range h {
		p.row[y] = len(p.runs)
		line := steps[y*w : (y+1)*w]
		above := 0 // the run of the row above that may touch the next one
		if y > 0 {
			above = p.row[y-1]
		}
		for x := 0; x < w; {
			r := run{from: x, to: x + 1, step: line[x], area: -1}
			for r.to < w && line[r.to] == r.step {
				r.to++
			}
			for ; y > 0 && above < p.row[y] && p.runs[above].from < r.to; above++ {
				if o := p.runs[above]; o.step == r.step && o.to > r.from {
					r.area = p.union(r.area, o.area)
				}
				if p.runs[above].to > r.to {
					break // it touches the next run too
				}
			}
			if r.area < 0 {
				r.area = int32(len(p.parent))
				p.parent = append(p.parent, r.area)
				p.step, p.pixels = append(p.step, r.step), append(p.pixels, 0)
			}
			p.runs = append(p.runs, r)
			x = r.to
		}
	}
	p.row[h] = len(p.runs)
	for i := range p.runs {
		r := &p.runs[i]
		r.area = p.find(r.area)
		p.pixels[r.area] += r.to - r.from
	}
	return p
}

func (p *parts) find(a int32) int32 {
	for p.parent[a] != a {
		p.parent[a] = p.parent[p.parent[a]]
		a = p.parent[a]
	}
	return a
}

// union makes one area of two, and returns it; a negative one is none.
func (p *parts) union(a, b int32) int32 {
	b = p.find(b)
	if a < 0 {
		return b
	}
	a = p.find(a)
	p.parent[max(a, b)] = min(a, b)
	return min(a, b)
}

// meet measures the borders of all areas.
func (p *parts) meet() {
	p.borders = make([]map[int32]int, len(p.parent))
	touch := func(a, b int32, length int) {
		for _, k := range [2][2]int32{{a, b}, {b, a}} {
			if p.borders[k[0]] == nil {
				p.borders[k[0]] = map[int32]int{}
			}
			p.borders[k[0]][k[1]] += length
		}
	}
	for y := range p.h {
		above := 0
		if y > 0 {
			above = p.row[y-1]
		}
		for i := p.row[y]; i < p.row[y+1]; i++ {
			r := p.runs[i]
			if i > p.row[y] {
				touch(p.runs[i-1].area, r.area, 1)
			}
			for ; y > 0 && above < p.row[y] && p.runs[above].from < r.to; above++ {
				if o := p.runs[above]; o.area != r.area && o.to > r.from {
					touch(o.area, r.area, min(o.to, r.to)-max(o.from, r.from))
				}
				if p.runs[above].to > r.to {
					break
				}
			}
		}
	}
}

// smallest is a heap of areas by pixels; one that has grown since it was put in
// has another entry.
type smallest struct {
	area   []int32
	pixels []int
}

func (s smallest) Len() int { return len(s.area) }
func (s smallest) Less(i, j int) bool {
	return cmp.Or(cmp.Compare(s.pixels[i], s.pixels[j]), cmp.Compare(s.area[i], s.area[j])) < 0
}
func (s smallest) Swap(i, j int) {
	s.area[i], s.area[j] = s.area[j], s.area[i]
	s.pixels[i], s.pixels[j] = s.pixels[j], s.pixels[i]
}
func (s *smallest) Push(x any) {
	e := x.([2]int)
	s.area, s.pixels = append(s.area, int32(e[0])), append(s.pixels, e[1])
}
func (s *smallest) Pop() any {
	n := len(s.area) - 1
	e := [2]int{int(s.area[n]), s.pixels[n]}
	s.area, s.pixels = s.area[:n], s.pixels[:n]
	return e
}

// pin keeps the areas in which points lie.
func (p *parts) pin(points []image.Point) {
	p.pinned = map[int32]bool{}
	for _, at := range points {
		if at.X < 0 || at.Y < 0 || at.X >= p.w || at.Y >= p.h {
			continue
		}
		line := p.runs[p.row[at.Y]:p.row[at.Y+1]]
		i := slices.IndexFunc(line, func(r run) bool { return at.X < r.to })
		p.pinned[p.find(line[i].area)] = true
	}
}

// joinSmall joins areas of fewer than least pixels to a neighbour, the smallest first.
func (p *parts) joinSmall(least int) {
	var queue smallest
	put := func(a int32) {
		if p.pixels[a] < least && p.step[a] != kept && !p.pinned[a] {
			heap.Push(&queue, [2]int{int(a), p.pixels[a]})
		}
	}
	for a := range p.parent {
		if p.parent[a] == int32(a) {
			put(int32(a))
		}
	}
	for queue.Len() > 0 {
		e := heap.Pop(&queue).([2]int)
		a := int32(e[0])
		if p.parent[a] != a || p.pixels[a] != e[1] {
			continue
		}
		best := p.longestBorder(a)
		if best < 0 {
			return // it is the whole picture
		}
		// Everything of that step around it becomes one area, in the order of their numbers:
		// a map's own order is another each time.
		p.step[a] = p.step[best]
		for _, b := range slices.Sorted(maps.Keys(p.borders[a])) {
			if p.step[b] == p.step[a] {
				a = p.join(a, b)
			}
		}
		put(a)
	}
}

// longestBorder returns the area with which one has the longest border, -1 where it has none.
func (p *parts) longestBorder(a int32) (best int32) {
	best, most := -1, 0
	for b, length := range p.borders[a] {
		if length > most || length == most && b < best {
			best, most = b, length
		}
	}
	return best
}

// joinKept gives kept shapes the darkest step, and joins them to what has it already.
func (p *parts) joinKept() {
	for n := range p.parent {
		if p.parent[n] != int32(n) || p.step[n] != kept {
			continue
		}
		a := int32(n)
		p.step[a] = 0
		var same []int32
		for b := range p.borders[a] {
			if p.step[b] == 0 {
				same = append(same, b)
			}
		}
		slices.Sort(same)
		for _, b := range same {
			a = p.join(a, b)
			p.step[a] = 0
		}
	}
}

// join makes one area of two neighbours of one step: the one with fewer borders
// goes into the other, which is returned.
func (p *parts) join(a, b int32) int32 {
	if len(p.borders[a]) < len(p.borders[b]) {
		a, b = b, a
	}
	p.parent[b] = a
	p.pixels[a] += p.pixels[b]
	for n, length := range p.borders[b] {
		delete(p.borders[n], b)
		if n != a {
			p.borders[a][n] += length
			p.borders[n][a] += length
		}
	}
	p.borders[b] = nil
	if p.pinned[b] {
		p.pinned[a] = true
	}
	return a
}

// numbered returns every pixel's area and the areas.
func (p *parts) numbered() ([]int32, []Area) {
	at := make([]int32, p.w*p.h)
	number := make([]int32, len(p.parent))
	var areas []Area
	for y := range p.h {
		for _, r := range p.runs[p.row[y]:p.row[y+1]] {
			root := p.find(r.area)
			if number[root] == 0 {
				areas = append(areas, Area{Step: int(p.step[root]), Pixels: p.pixels[root]})
				number[root] = int32(len(areas))
			}
			line := at[y*p.w+r.from : y*p.w+r.to]
			for x := range line {
				line[x] = number[root] - 1
			}
		}
	}
	return at, areas
}
