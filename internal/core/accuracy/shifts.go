package accuracy

import (
	"math"

	"zestysketch/internal/core/lines"
	"zestysketch/internal/core/plane"
)

// net is the grid in a frame's pixels.
type net struct {
	columns, rows int
	x, y          []float64 // every line
	cell          float64   // pixels a box
	w, h          int
}

func (n net) count() int { return n.columns * n.rows }

// at returns the index of the box in which a pixel lies, -1 outside the grid.
func (n net) at(x, y float64) int {
	i, j := strip(n.x, x), strip(n.y, y)
	if i < 0 || j < 0 {
		return -1
	}
	return j*n.columns + i
}

func strip(marks []float64, v float64) int {
	if v < marks[0] || v >= marks[len(marks)-1] {
		return -1
	}
	i := 0
	for v >= marks[i+1] {
		i++
	}
	return i
}

func (n net) middle(i int) (x, y float64) {
	c, r := i%n.columns, i/n.columns
	return (n.x[c] + n.x[c+1]) / 2, (n.y[r] + n.y[r+1]) / 2
}

// neighbours calls visit for the boxes left, right, above and below.
func (n net) neighbours(i int, visit func(side, j int)) {
	c, r := i%n.columns, i/n.columns
	if c > 0 {
		visit(0, i-1)
	}
	if c < n.columns-1 {
		visit(1, i+1)
	}
	if r > 0 {
		visit(2, i-n.columns)
	}
	if r < n.rows-1 {
		visit(3, i+n.columns)
	}
}

// The coarse search: how far a line may have strayed, how wide a line's trace
// is taken to be, how dearly neighbours pay for disagreeing, and for what they
// disagree no more than this. All in boxes.
const (
	furthest   = 0.6
	traceSigma = 0.045
	agreeing   = 2.0 // a box squared
	disagree   = 0.18
	directions = 8 // channels of direction
	mostPoints = 90
)

// channels holds, for each direction across, how near a drawn line of that
// direction is: 1 on it. Half the frame's resolution.
type channels struct {
	w, h int
	of   [directions]lines.Plane
}

func newChannels(drawn []lines.Mark, n net) channels {
	c := channels{w: n.w/2 + 1, h: n.h/2 + 1}
	for k := range c.of {
		c.of[k] = lines.NewPlane(c.w, c.h)
	}
	for _, m := range drawn {
		x, y := int(m.X/2), int(m.Y/2)
		if x < 0 || y < 0 || x >= c.w || y >= c.h {
			continue
		}
		for _, k := range channelsOf(m) {
			p := &c.of[k.at].Pix[y*c.w+x]
			*p = max(*p, k.share)
		}
	}
	sigma := traceSigma * n.cell / 2
	// A line blurred keeps 1/(√(2π)σ) of its height; it is brought back to 1.
	up := float32(math.Sqrt(2*math.Pi) * sigma)
	for k := range c.of {
		c.of[k] = c.of[k].Blur(sigma)
		for i, v := range c.of[k].Pix {
			c.of[k].Pix[i] = min(1, v*up)
		}
	}
	return c
}

type channel struct {
	at    int
	share float32
}

// channelsOf returns the two channels between which a mark's direction lies.
func channelsOf(m lines.Mark) [2]channel {
	a := math.Atan2(float64(m.NY), float64(m.NX)) / math.Pi * directions
	a = math.Mod(a+2*directions, directions)
	k := int(a)
	t := float32(a - float64(k))
	// Both count fully where the direction lies between them.
	return [2]channel{{k % directions, min(1, 2*(1-t))}, {(k + 1) % directions, min(1, 2*t)}}
}

// volume holds each box's score for every shift, row by row, side × side of
// them, in steps of half the frame's resolution.
type volume struct {
	side  int // odd
	scale float64
	score [][]float64 // by box; nil where there is nothing to compare
	sure  []float64   // 0 to 1: how much a box has to say
}

// search returns how well the wanted marks of each box lie on drawn lines at
// every shift: the directional matching of Liu, Tuzel, Veeraraghavan and
// Chellappa (2010), CVPR, with lines blurred instead of distances.
func search(wanted [][]lines.Mark, c channels, n net) volume {
	half := int(furthest * n.cell / 2)
	v := volume{side: 2*half + 1, scale: 2, score: make([][]float64, n.count()), sure: make([]float64, n.count())}
	for i, points := range wanted {
		if len(points) < 4 {
			continue
		}
		v.score[i] = v.one(thinned(points, mostPoints), c, half)
		v.sure[i] = min(1, float64(len(points))/n.cell)
	}
	return v
}

func thinned(points []lines.Mark, most int) []lines.Mark {
	if len(points) <= most {
		return points
	}
	out := make([]lines.Mark, most)
	for i := range out {
		out[i] = points[i*len(points)/most]
	}
	return out
}

func (v volume) one(points []lines.Mark, c channels, half int) []float64 {
	score := make([]float64, v.side*v.side)
	for _, m := range points {
		x, y := int(m.X/2), int(m.Y/2)
		near := channelsOf(m)
		k := near[0]
		if near[1].share > k.share {
			k = near[1]
		}
		from, to := max(-half, -x), min(half, c.w-1-x)
		for dy := max(-half, -y); dy <= min(half, c.h-1-y); dy++ {
			row := c.of[k.at].Row(y + dy)[x+from : x+to+1]
			out := score[(dy+half)*v.side+from+half:]
			for i, s := range row {
				out[i] += float64(s)
			}
		}
	}
	for i := range score {
		score[i] /= float64(len(points))
	}
	return score
}

// agree returns the shift of every box, in pixels, that scores best while
// neighbours pay for disagreeing: max-product belief propagation with truncated
// quadratic costs, its messages by lower envelopes (Felzenszwalb and
// Huttenlocher 2006, International Journal of Computer Vision 70(1)).
func (v volume) agree(n net) []plane.Point {
	labels := v.side * v.side
	perStep := v.scale / n.cell // boxes
	cost := make([][]float64, n.count())
	messages := make([][4][]float64, n.count()) // from each side
	for i := range cost {
		cost[i] = make([]float64, labels)
		for l := range labels {
			dx, dy := float64(l%v.side-v.side/2)*perStep, float64(l/v.side-v.side/2)*perStep
			cost[i][l] = 0.06 * (dx*dx + dy*dy) // nothing known is nothing moved
			if v.score[i] != nil {
				cost[i][l] += v.sure[i] * (1 - v.score[i][l])
			}
		}
		for s := range messages[i] {
			messages[i][s] = make([]float64, labels)
		}
	}
	belief := func(i, without int) []float64 {
		sum := append([]float64(nil), cost[i]...)
		for s, m := range messages[i] {
			if s != without {
				for l, c := range m {
					sum[l] += c
				}
			}
		}
		return sum
	}
	const rounds = 4
	var scratch lines.Scratch
	for round := range rounds {
		for i := range cost {
			if (i%n.columns+i/n.columns+round)%2 == 0 {
				continue // as on a chessboard: half at a time
			}
			n.neighbours(i, func(side, j int) {
				out := belief(i, side)
				spread(out, v.side, agreeing*perStep*perStep, &scratch)
				messages[j][side^1] = out
			})
		}
	}
	shifts := make([]plane.Point, n.count())
	for i := range shifts {
		best, at := math.Inf(1), 0
		for l, c := range belief(i, -1) {
			if c < best {
				best, at = c, l
			}
		}
		shifts[i] = plane.Pt(float64(at%v.side-v.side/2)*v.scale, float64(at/v.side-v.side/2)*v.scale)
	}
	return shifts
}

// spread turns a belief into a message: the least of it and a quadratic cost
// of moving, truncated, and lowered so that its least is 0.
func spread(f []float64, side int, k float64, s *lines.Scratch) {
	least := math.Inf(1)
	for _, v := range f {
		least = min(least, v)
	}
	column := make([]float64, side)
	for y := range side {
		lines.Envelope(f[y*side:(y+1)*side], k, s)
	}
	for x := range side {
		for y := range side {
			column[y] = f[y*side+x]
		}
		lines.Envelope(column, k, s)
		for y := range side {
			f[y*side+x] = min(column[y]-least, disagree)
		}
	}
}
