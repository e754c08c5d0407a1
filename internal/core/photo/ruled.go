package photo

import (
	"cmp"
	"math"
	"slices"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/lines"
)

// Ruled is the grid that was ruled on the sheet, as far as it still shows.
type Ruled struct {
	Columns, Rows []Rule  // one for each line of the plan, in its order
	Depth         float64 // how much darker the lines are than the paper, 0 to 1; 0 where none show
}

// Rule is one line of the grid.
type Rule struct {
	At     float64    // where the plan has it, mm
	Seen   float64    // share of its length that shows, 0 to 1
	Ends   [2]float64 // how far off it is at its two ends, mm, plus right or down
	Curve  float64    // how far it bows in its middle, mm
	Depth  float64
	places []linePoint // that lie on it
	seen   []linePoint // and all that may
}

// Shown reports whether the line is there.
func (r Rule) Shown() bool { return r.Seen >= mostlySeen }

// Off returns how far off the line is in its middle, mm.
func (r Rule) Off() float64 { return r.OffAt(0.5) }

// OffAt returns how far off it is at a share of its length, mm.
func (r Rule) OffAt(along float64) float64 {
	return r.Ends[0]*(1-along) + r.Ends[1]*along + r.Curve*4*along*(1-along)
}

// linePoint is where one short part of a line was seen: along and off it, in pixels.
type linePoint struct{ along, off, depth float64 }

// A ruled line is looked for within this part of a box of where the plan has
// it; it shows where so much of its length does; parts of it lie within a
// pixel and a half of one straight line.
const (
	lookCell   = 0.22
	mostlySeen = 0.5
	leastDip   = 0.018
	straightPx = 1.5
	paperEnds  = 4.0  // mm from the grid, at most, where the paper's edge may be taken for it
	tableDark  = 0.25 // how much darker than the paper what it lies on must be
)

// FindRuled looks for the lines of a plan's grid in evened ink.
func FindRuled(ink lines.Plane, p grid.Plan, f Frame) Ruled { return findRuled(ink, p, f, lookCell) }

// findRuled looks for them so many boxes to each side of where the plan has them.
func findRuled(ink lines.Plane, p grid.Plan, f Frame, reach float64) Ruled {
	var r Ruled
	across := func(along, off int) float32 { return ink.At(off, along) }
	down := func(along, off int) float32 { return ink.At(along, off) }
	// Where a paper ends with the grid, its edge may stand for an outermost line.
	stock, at := p.Sheet.Stock, p.Sheet.Origin
	right, foot := stock[0]-at.X-p.Sheet.Width, stock[1]-at.Y-p.Sheet.Height
	last := len(p.Marks.SheetX) - 1
	for i, x := range p.Marks.SheetX {
		ends := i == 0 && at.X < paperEnds || i == last && right < paperEnds
		r.Columns = append(r.Columns, trace(across, x, p.Sheet.Height, ends, reach*f.Cell, f))
	}
	last = len(p.Marks.SheetY) - 1
	for i, y := range p.Marks.SheetY {
		ends := i == 0 && at.Y < paperEnds || i == last && foot < paperEnds
		r.Rows = append(r.Rows, trace(down, y, p.Sheet.Width, ends, reach*f.Cell, f))
	}
	var depths []float64
	for _, l := range r.all() {
		if l.Shown() {
			depths = append(depths, l.Depth)
		}
	}
	if len(depths) > 0 {
		slices.Sort(depths)
		r.Depth = depths[len(depths)/2]
	}
	return r
}

func (r Ruled) all() []Rule { return slices.Concat(r.Columns, r.Rows) }

// Shown returns the share of the grid's lines that show.
func (r Ruled) Shown() float64 { return ShownOf(r.all()) }

// ShownOf returns the share of lines that show.
func ShownOf(rules []Rule) float64 {
	n := 0
	for _, l := range rules {
		if l.Shown() {
			n++
		}
	}
	return float64(n) / float64(max(1, len(rules)))
}

// trace follows one line: at is its place and long its length, mm; the value
// at (along, off) is read in pixels, so many to each side. Where an outermost line was not ruled
// because the paper ends there, the paper's edge is it.
func trace(value func(along, off int) float32, at, long float64, outer bool, reach float64, f Frame) Rule {
	rule := Rule{At: at}
	px := f.Margin + at*f.PerMM
	step := f.Cell / 2
	n := max(2, int(long*f.PerMM/step))
	var all []linePoint
	for i := range n {
		from := f.Margin + float64(i)*step
		all = append(all, dips(value, int(from), int(from+step), px, reach, outer)...)
	}
	rule.seen = all
	best := straightest(all)
	rule.Seen = math.Min(1, float64(len(best))/float64(n))
	if len(best) < 3 {
		return rule
	}
	a, b, c := parabola(best)
	end := long * f.PerMM
	first, last := f.Margin, f.Margin+end
	mid := (first + last) / 2
	line := func(t float64) float64 { return a + b*t }
	// The best straight line leaves a bow's ends two thirds of it behind, its middle one.
	rule.Curve = -c * (mid - first) * (mid - first) / f.PerMM
	rule.Ends = [2]float64{line(first)/f.PerMM - 2*rule.Curve/3, line(last)/f.PerMM - 2*rule.Curve/3}
	depths := make([]float64, len(best))
	for i, q := range best {
		depths[i] = q.depth
	}
	slices.Sort(depths)
	rule.Depth, rule.places = depths[len(depths)/2], best
	return rule
}

// dips returns the dark lines that cross one short part of the strip about a
// line: the three deepest. Along the part the median counts, so that what is
// drawn across does not.
func dips(value func(along, off int) float32, from, to int, px, reach float64, outer bool) []linePoint {
	n := 2*int(reach) + 1
	first := int(px) - int(reach)
	profile, column := make([]float64, n), make([]float32, 0, to-from)
	for i := range n {
		column = column[:0]
		for t := from; t < to; t++ {
			column = append(column, value(t, first+i))
		}
		slices.Sort(column)
		profile[i] = float64(column[len(column)/2])
	}
	sorted := slices.Clone(profile)
	slices.Sort(sorted)
	ground, grain := sorted[n*2/3], sorted[n*3/4]-sorted[n/3]
	var found []linePoint
	dark := sorted[0]
	middle := (sorted[n*9/10] + dark) / 2
	ends := outer && sorted[n*9/10]-dark > tableDark && (profile[0] < middle) != (profile[n-1] < middle)
	for i := 1; i < n-1; i++ {
		if a, b := profile[i]-middle, profile[i-1]-middle; ends && a*b <= 0 && a != b {
			found = append(found, linePoint{float64(from+to) / 2, float64(first+i-1) + 0.5 + b/(b-a) - px, 1})
		}
		if profile[i] > profile[i-1] || profile[i] >= profile[i+1] || ends && profile[i] < middle {
			continue
		}
		var sum, moment float64
		for j := max(0, i-2); j <= min(n-1, i+2); j++ {
			d := max(0, ground-profile[j])
			sum += d
			moment += d * (float64(first+j) + 0.5)
		}
		if depth := ground - profile[i]; depth > max(leastDip, 2.5*grain) {
			found = append(found, linePoint{float64(from+to) / 2, moment/sum - px, depth})
		}
	}
	slices.SortFunc(found, func(a, b linePoint) int { return cmp.Compare(b.depth, a.depth) })
	return found[:min(3, len(found))]
}

// straightest returns the largest set of places, one a part, that lie on one
// straight line within straightPx: every pair is tried.
func straightest(all []linePoint) (best []linePoint) {
	const mostSlope = 0.04
	score := 0.0
	for i, a := range all {
		for _, b := range all[i+1:] {
			if b.along-a.along < 1 || math.Abs(b.off-a.off) > mostSlope*(b.along-a.along)+straightPx {
				continue
			}
			slope := (b.off - a.off) / (b.along - a.along)
			var on []linePoint
			for _, q := range all {
				d := math.Abs(q.off - a.off - slope*(q.along-a.along))
				if d > straightPx {
					continue
				}
				if last := len(on) - 1; last >= 0 && on[last].along == q.along {
					if d < math.Abs(on[last].off-a.off-slope*(q.along-a.along)) {
						on[last] = q
					}
					continue
				}
				on = append(on, q)
			}
			// Of two lines as long, the nearer to the plan's.
			if s := float64(len(on)) - 0.02*math.Abs(a.off+b.off); s > score {
				score, best = s, on
			}
		}
	}
	return best
}

// parabola fits off = a + b·along, and c: the second degree about the middle.
func parabola(on []linePoint) (a, b, c float64) {
	n := float64(len(on))
	var st, so float64
	for _, q := range on {
		st += q.along
		so += q.off
	}
	mt, mo := st/n, so/n
	var tt, to, t3, t4, t2o float64
	for _, q := range on {
		t, o := q.along-mt, q.off-mo
		tt += t * t
		to += t * o
		t3 += t * t * t
		t4 += t * t * t * t
		t2o += t * t * o
	}
	if tt == 0 {
		return mo, 0, 0
	}
	b = to / tt
	a = mo - b*mt
	if under := t4 - tt*tt/n - t3*t3/tt; under > 1e-9 {
		c = (t2o - t3*b) / under
	}
	return a, b, c
}

// CountRuled returns how many columns and rows of boxes were really ruled between a
// sheet's outermost lines: the plan's, unless the lines of some other number show and
// the plan's do not; 0 where neither does.
func CountRuled(ink lines.Plane, p grid.Plan, f Frame) (columns, rows int) {
	across := func(along, off int) float32 { return ink.At(off, along) }
	down := func(along, off int) float32 { return ink.At(along, off) }
	return countAlong(across, p.Sheet.Width, p.Sheet.Height, p.Grid.Columns, f), countAlong(down, p.Sheet.Height, p.Sheet.Width, p.Grid.Rows, f)
}

// Lines of another number of boxes are looked for close to where they would be; so
// many must show, and so many fewer of the plan's own.
const (
	countCell   = 0.07
	countedSeen = 0.8
	moreCounted = 0.3
	countBeside = 3 // boxes more or fewer, and half and double
)

func countAlong(value func(along, off int) float32, side, long float64, planned int, f Frame) int {
	shown := func(n int) float64 {
		seen := 0.0
		for i := 1; i < n; i++ {
			if r := trace(value, side*float64(i)/float64(n), long, false, countCell*f.Cell, f); r.Shown() {
				seen++
			}
		}
		return seen / float64(max(1, n-1))
	}
	own := shown(planned)
	if own >= countedSeen {
		return planned
	}
	best, most := 0, max(countedSeen-1e-9, own+moreCounted)
	tries := []int{planned / 2, planned * 2}
	for d := 1; d <= countBeside; d++ {
		tries = append(tries, planned-d, planned+d)
	}
	for _, n := range tries {
		if n < 3 {
			continue // one line may be the drawing's
		}
		if s := shown(n); s > most {
			best, most = n, s
		}
	}
	return best
}
