package photo

import (
	"cmp"
	"math"
	"slices"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/lines"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/core/plane"
)

// straightLine is a line across a photo: X·cos + Y·sin = rho, in pixels.
type straightLine struct {
	cos, sin, rho float64
	votes         float64
}

func (l straightLine) meet(m straightLine) (plane.Point, bool) {
	det := l.cos*m.sin - l.sin*m.cos
	if math.Abs(det) < 0.2 {
		return plane.Point{}, false
	}
	return plane.Pt((l.rho*m.sin-m.rho*l.sin)/det, (m.rho*l.cos-l.rho*m.cos)/det), true
}

// FindGrid returns where a plan's ruled grid lies in a photo, and the share of
// its lines' length that shows there, 0 to 1. The long straight lines of the
// photo are found by their votes (Duda and Hart 1972, Communications of the ACM
// 15(1)); of all pairs of two of about one direction and two of about the other
// the one counts between which the plan's other lines show too. The corners
// run clockwise, so that the plan's columns lie between the first two; which
// way up the drawing is, the grid alone cannot tell.
func FindGrid(s *Shot, p grid.Plan) (plane.Quad, float64) {
	small, k := s.small()
	marks := lines.Find(lines.Grey(small), lines.Search{Sigma: 1, Least: 0.012, Shortest: 12, Edges: true})
	w, h := small.Rect.Dx(), small.Rect.Dy()
	all := vote(marks, w, h)
	if len(all) < 4 {
		return plane.Quad{}, 0
	}
	across, down := families(all)
	onAcross, onDown := presence(marks, across, w, h), presence(marks, down, w, h)
	var best plane.Quad
	score := 0.0
	for _, turned := range []bool{false, true} {
		columns, rows := fractions(p.Marks.SheetX), fractions(p.Marks.SheetY)
		if turned {
			columns, rows = rows, columns
		}
		for i, left := range across {
			for _, right := range across[i+1:] {
				for j, top := range down {
					for _, bottom := range down[j+1:] {
						q, ok := between4(left, right, top, bottom, w, h)
						if !ok || !shaped(q, p, turned) {
							continue
						}
						if now := showing(q, columns, rows, onAcross, onDown, w, h); now > score {
							score, best = now, q
							if turned {
								best = Turned(q, 1)
							}
						}
					}
				}
			}
		}
		if p.Grid.Columns == p.Grid.Rows {
			break
		}
	}
	for i := range best {
		best[i].X *= k
		best[i].Y *= k
	}
	return best, score
}

// mostLines is how many straight lines of a direction are tried.
const mostLines = 14

// vote returns the straight lines that most marks lie on.
func vote(marks []lines.Mark, w, h int) (found []straightLine) {
	const angles, perDegree = 360, 2
	const step = 2.0
	reach := math.Hypot(float64(w), float64(h))
	bins := int(2*reach/step) + 2
	votes := make([]float32, angles*bins)
	for _, m := range marks {
		a := math.Atan2(float64(m.NY), float64(m.NX))
		for d := -4; d <= 4; d++ { // a mark's own direction is out by a degree or two
			k := int(math.Round(a*180/math.Pi*perDegree)) + d
			t := float64(k) / perDegree * math.Pi / 180
			sin, cos := math.Sincos(t)
			rho := float64(m.X)*cos + float64(m.Y)*sin
			k = ((k % (2 * angles)) + 2*angles) % (2 * angles)
			if k >= angles {
				k, rho = k-angles, -rho
			}
			votes[k*bins+int((rho+reach)/step)]++
		}
	}
	least := float32(min(w, h)) / 5
	for range 6 * mostLines {
		best := slices.Index(votes, slices.Max(votes))
		if votes[best] < least {
			break
		}
		k, r := best/bins, best%bins
		sin, cos := math.Sincos(float64(k) / perDegree * math.Pi / 180)
		found = append(found, straightLine{cos, sin, (float64(r)+0.5)*step - reach, float64(votes[best])})
		clearRound(votes, k, r, angles, bins)
	}
	return found
}

// clearRound takes away the votes of lines that are nearly the one found.
func clearRound(votes []float32, k, r, angles, bins int) {
	for dk := -10; dk <= 10; dk++ {
		for dr := -6; dr <= 6; dr++ {
			kk, rr := k+dk, r+dr
			if kk < 0 || kk >= angles { // half a turn on, the sign of rho changes
				kk, rr = (kk+angles)%angles, bins-1-rr
			}
			if rr >= 0 && rr < bins {
				votes[kk*bins+rr] = 0
			}
		}
	}
}

// families parts lines into those across whose direction x changes most and
// those across whose direction y does, the strongest of each, in order of place.
func families(all []straightLine) (across, down []straightLine) {
	for _, l := range all {
		if math.Abs(l.cos) > math.Abs(l.sin) {
			if l.cos < 0 {
				l.cos, l.sin, l.rho = -l.cos, -l.sin, -l.rho
			}
			across = append(across, l)
		} else {
			if l.sin < 0 {
				l.cos, l.sin, l.rho = -l.cos, -l.sin, -l.rho
			}
			down = append(down, l)
		}
	}
	for _, family := range []*[]straightLine{&across, &down} {
		f := *family
		f = f[:min(mostLines, len(f))] // they come the strongest first
		slices.SortFunc(f, func(a, b straightLine) int { return cmp.Compare(a.rho, b.rho) })
		*family = f
	}
	return across, down
}

// presence marks the pixels near marks that run along lines of a family.
func presence(marks []lines.Mark, family []straightLine, w, h int) []bool {
	near := make([]bool, w*h)
	for _, m := range marks {
		along := false
		for _, l := range family {
			c := float64(m.NX)*l.cos + float64(m.NY)*l.sin
			along = along || math.Abs(c) > 0.985
		}
		if !along {
			continue
		}
		for y := max(0, int(m.Y)-1); y <= min(h-1, int(m.Y)+1); y++ {
			for x := max(0, int(m.X)-1); x <= min(w-1, int(m.X)+1); x++ {
				near[y*w+x] = true
			}
		}
	}
	return near
}

func fractions(marks []float64) []float64 {
	out := make([]float64, len(marks))
	for i, m := range marks {
		out[i] = m / marks[len(marks)-1]
	}
	return out
}

// between4 returns the corners in which four lines meet, if they lie in the photo.
func between4(left, right, top, bottom straightLine, w, h int) (q plane.Quad, ok bool) {
	for i, pair := range [4][2]straightLine{{left, top}, {right, top}, {right, bottom}, {left, bottom}} {
		if q[i], ok = pair[0].meet(pair[1]); !ok {
			return q, false
		}
		if q[i].X < -2 || q[i].Y < -2 || q[i].X > float64(w)+2 || q[i].Y > float64(h)+2 {
			return q, false
		}
	}
	return q, q.Check() == nil && q.Area() > float64(w*h)/12
}

// shaped reports whether a quad's sides are about as long to each other as the
// sheet's: a camera from above does not squeeze them by more than a third.
func shaped(q plane.Quad, p grid.Plan, turned bool) bool {
	want := p.Sheet.Width / p.Sheet.Height
	if turned {
		want = 1 / want
	}
	return math.Abs(math.Log(q.Ratio()/want)) < 0.3
}

// showing returns how much of a grid shows between four corners, 0 to 1: the
// mean over its lines of the share of their length that does.
func showing(q plane.Quad, columns, rows []float64, across, down []bool, w, h int) float64 {
	to, err := picture.NewHomography(plane.Box(1, 1), q)
	if err != nil {
		return 0
	}
	const samples = 24
	there := func(near []bool, at func(t float64) plane.Point) float64 {
		n := 0
		for i := range samples {
			p := to.Apply(at((float64(i) + 0.5) / samples))
			if x, y := int(p.X), int(p.Y); x >= 0 && y >= 0 && x < w && y < h && near[y*w+x] {
				n++
			}
		}
		return float64(n) / samples
	}
	sum := 0.0
	for _, c := range columns {
		sum += there(across, func(t float64) plane.Point { return plane.Pt(c, t) })
	}
	for _, r := range rows {
		sum += there(down, func(t float64) plane.Point { return plane.Pt(t, r) })
	}
	return sum / float64(len(columns)+len(rows))
}
