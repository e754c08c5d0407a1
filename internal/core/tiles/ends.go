package tiles

import (
	"cmp"
	"container/heap"
	"math"
	"slices"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/plane"
)

// Loose is a line that stops at the edge of its tile: nothing on the other side
// goes on from it. Millimetres on the reference.
type Loose struct {
	At     plane.Point
	Place  string        // whose line it is
	Along  []plane.Point // the proposal: from there along the edges until another line, or the frame, is met
	Closes bool          // there is a way to close it
}

// Borders is how the lines of a rearrangement meet at the edges of its tiles.
type Borders struct {
	Meet  int // ends that meet one on the other side
	Loose []Loose
}

// meets is how far apart, in millimetres on the reference, two ends may be and
// still run into one another: about a pencil line (ours).
const meets = 1.0

// junction is a place on the net of edges: the end of a line, or a crossing of
// the net itself.
type junction struct {
	at    plane.Point
	line  bool // a line ends here; else it is a crossing
	frame bool // on the outer frame, which closes whatever meets it
	met   bool
	place string
	to    []road
}

type road struct {
	to     int
	length float64
}

// BordersOf finds the ends of rearranged lines at the tiles' edges and proposes
// how the loose ones are carried along the edges, the shortest way to another
// end or to the outer frame, so that every area closes.
func BordersOf(p grid.Plan, rearranged [][]plane.Point) Borders {
	net := newNet(p)
	for _, run := range rearranged {
		for k, at := range [2]plane.Point{run[0], run[len(run)-1]} {
			inner := run[min(1, len(run)-1)]
			if k == 1 {
				inner = run[max(0, len(run)-2)]
			}
			if run[0] != run[len(run)-1] {
				net.end(p, at, inner)
			}
		}
	}
	b := Borders{Meet: net.match()}
	net.connect()
	for i, j := range net.all {
		if !j.line || j.met || j.frame {
			continue
		}
		along := net.nearest(i)
		l := Loose{At: j.at, Place: j.place, Closes: along != nil}
		for _, k := range along {
			l.Along = append(l.Along, net.all[k].at)
		}
		if along != nil {
			net.all[along[len(along)-1]].met = true // both are closed by one piece
			net.all[i].met = true
		}
		b.Loose = append(b.Loose, l)
	}
	return b
}

// network is the edges of a grid with what lies on them.
type network struct {
	xs, ys []float64
	all    []junction
}

func newNet(p grid.Plan) *network {
	n := &network{xs: p.Marks.ReferenceX, ys: p.Marks.ReferenceY}
	for j, y := range n.ys {
		for i, x := range n.xs {
			frame := i == 0 || j == 0 || i == len(n.xs)-1 || j == len(n.ys)-1
			n.all = append(n.all, junction{at: plane.Pt(x, y), frame: frame})
		}
	}
	return n
}

// onEdge is how near an edge an end must be to lie on it, mm.
const onEdge = 0.02

// near returns the mark next to a value, if there is one.
func near(marks []float64, v float64) (float64, bool) {
	for _, m := range marks {
		if math.Abs(m-v) < onEdge {
			return m, true
		}
	}
	return v, false
}

// end adds the end of a line, if it lies on an edge; inner is the point before it.
func (n *network) end(p grid.Plan, at, inner plane.Point) {
	x, onX := near(n.xs, at.X)
	y, onY := near(n.ys, at.Y)
	if !onX && !onY {
		return // it stops within its tile
	}
	frame := onX && (x == n.xs[0] || x == n.xs[len(n.xs)-1]) || onY && (y == n.ys[0] || y == n.ys[len(n.ys)-1])
	mid := plane.Pt((at.X+inner.X)/2, (at.Y+inner.Y)/2)
	n.all = append(n.all, junction{at: plane.Pt(x, y), line: true, frame: frame, place: p.CellAt(p.ToSheet(mid)).Label})
}

// match pairs ends that meet across an edge, the nearest first, and returns how
// many ends are in pairs.
func (n *network) match() (met int) {
	var ends []int
	for i, j := range n.all {
		if j.line && !j.frame {
			ends = append(ends, i)
		}
	}
	slices.SortFunc(ends, func(a, b int) int { return cmp.Compare(n.all[a].at.X, n.all[b].at.X) })
	type pair struct {
		a, b int
		long float64
	}
	var pairs []pair
	for i, a := range ends {
		for _, b := range ends[i+1:] {
			if n.all[b].at.X-n.all[a].at.X > meets {
				break
			}
			if long := apart(n.all[a].at, n.all[b].at); long <= meets && n.all[a].place != n.all[b].place {
				pairs = append(pairs, pair{a, b, long})
			}
		}
	}
	slices.SortStableFunc(pairs, func(a, b pair) int { return cmp.Compare(a.long, b.long) })
	for _, k := range pairs {
		if !n.all[k.a].met && !n.all[k.b].met {
			n.all[k.a].met, n.all[k.b].met = true, true
			met += 2
		}
	}
	return met
}

func apart(a, b plane.Point) float64 { return a.Sub(b).Len() }

// connect joins neighbours along every line of the net.
func (n *network) connect() {
	along := func(on func(plane.Point) bool, at func(plane.Point) float64) {
		var here []int
		for i, j := range n.all {
			if on(j.at) {
				here = append(here, i)
			}
		}
		slices.SortStableFunc(here, func(a, b int) int { return cmp.Compare(at(n.all[a].at), at(n.all[b].at)) })
		for k := 1; k < len(here); k++ {
			a, b := here[k-1], here[k]
			long := apart(n.all[a].at, n.all[b].at)
			n.all[a].to, n.all[b].to = append(n.all[a].to, road{b, long}), append(n.all[b].to, road{a, long})
		}
	}
	for _, x := range n.xs {
		along(func(p plane.Point) bool { return p.X == x }, func(p plane.Point) float64 { return p.Y })
	}
	for _, y := range n.ys {
		along(func(p plane.Point) bool { return p.Y == y }, func(p plane.Point) float64 { return p.X })
	}
}

// reach is a junction and how far it is.
type reach struct {
	at   int
	long float64
}

// frontier is what the search has reached and not left, the nearest first.
type frontier []reach

func (f frontier) Len() int           { return len(f) }
func (f frontier) Less(i, j int) bool { return f[i].long < f[j].long }
func (f frontier) Swap(i, j int)      { f[i], f[j] = f[j], f[i] }
func (f *frontier) Push(x any)        { *f = append(*f, x.(reach)) }
func (f *frontier) Pop() any {
	last := (*f)[len(*f)-1]
	*f = (*f)[:len(*f)-1]
	return last
}

// nearest returns the shortest way along the edges from an end to another end
// or to the frame (Dijkstra 1959, Numerische Mathematik 1); nil if there is none.
func (n *network) nearest(from int) []int {
	type reached struct {
		long float64
		by   int
	}
	best := map[int]reached{from: {0, -1}}
	var open frontier
	heap.Push(&open, reach{from, 0})
	for open.Len() > 0 {
		here := heap.Pop(&open).(reach)
		if here.long > best[here.at].long {
			continue
		}
		if j := n.all[here.at]; here.at != from && (j.line || j.frame) {
			var way []int
			for k := here.at; k >= 0; k = best[k].by {
				way = append(way, k)
			}
			slices.Reverse(way)
			return way
		}
		for _, r := range n.all[here.at].to {
			long := here.long + r.length
			if known, ok := best[r.to]; !ok || long < known.long {
				best[r.to] = reached{long, here.at}
				heap.Push(&open, reach{r.to, long})
			}
		}
	}
	return nil
}
