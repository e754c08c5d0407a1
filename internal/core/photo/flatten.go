package photo

import (
	"math"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/core/plane"
)

// How a sheet is flattened by its ruled lines. What a student ruled is straight, each
// line off by itself; what the paper does is smooth from line to line and bends them.
const (
	bowedCell      = 0.007 // boxes by which lines that are not straight leave their own straight line
	bowedAlike     = 0.6   // share of that which may be left by one lift of the sheet
	betterThanLens = 0.8   // what may be left by it, of what a bent lens leaves
	fewestBowed    = 0.5   // share of lines across, or down, that must show
	longEnough     = 0.6   // share of its length by which a line tells that it is bowed
)

// reaches are how many boxes to each side the lines of a curled sheet are looked for, round
// by round: nearer once it is known how it curls, for the paper's edge may lie beside them.
var reaches = [...]float64{lookCell, lookCell, lookCell / 2, lookCell / 2}

// seenAt is where a part of a ruled line was seen: on the sheet, as it is known so far, and
// where a flat sheet would have that, mm.
type seenAt struct {
	on, flat plane.Point
	rule     int
	along    float64 // of its own length, 0 to 1
}

// seenLines are all parts seen of the columns and of the rows.
type seenLines [2][]seenAt

// Flatten returns how the sheet lies between four corners: the bend of the lens, and, where
// the ruled lines show that the sheet itself is curled or folded, its curl. Corners that
// were not read from tags are then drawn to where the ruled grid has them.
func Flatten(s *Shot, p grid.Plan, q plane.Quad, tagged bool) (View, plane.Quad, error) {
	r, v, f, err := ruledAt(s, p, q, 0, fine)
	if err != nil {
		return v, q, err
	}
	flat, seen := v, v.seen(r, p, f, lookCell)
	if flat.Lens.K = r.bend(v, f); flat.Lens.K != 0 {
		if flat, err = NewView(p, q, flat.Lens); err != nil {
			return v, q, nil
		}
		seen = flat.lookAgain(s, p, lookCell)
	}
	limit := bowedCell * math.Sqrt(p.Grid.SheetCell[0]*p.Grid.SheetCell[1])
	bow, told := seen.bowed(p, nil)
	if bow < limit && flat.Lens.K == 0 {
		return flat, q, nil
	}
	// A curl may have been taken for the lens's bend, and holds that too.
	for _, reach := range reaches {
		seen = v.lookAgain(s, p, reach)
		v.Curl = seen.curl(v, p, tagged)
	}
	before, _ := seen.bowed(p, nil)
	after, ok := seen.bowed(p, v.Curl)
	if !ok || after > bowedAlike*before || told && after > betterThanLens*bow {
		return flat, q, nil
	}
	if tagged {
		return v, q, nil
	}
	return seen.redraw(v, q, p, flat)
}

// redraw returns the view of a curled sheet whose corners are where its ruled grid has them; flat
// where there is none.
func (seen seenLines) redraw(v View, q plane.Quad, p grid.Plan, flat View) (View, plane.Quad, error) {
	moved := q
	for i, c := range plane.Box(p.Sheet.Width, p.Sheet.Height) {
		moved[i] = v.Photo(c)
	}
	now, err := NewView(p, moved, v.Lens)
	if err != nil {
		return flat, q, nil
	}
	for _, side := range seen {
		for i := range side {
			side[i].flat = now.ToSheet.Apply(v.ToPhoto.Apply(side[i].flat))
		}
	}
	now.Curl = seen.curl(now, p, false)
	return now, moved, nil
}

// lookAgain looks for the ruled lines in a view, so many boxes to each side of where they
// are known to be, and follows them.
func (v View) lookAgain(s *Shot, p grid.Plan, reach float64) seenLines {
	f := FrameFor(p, fine)
	return v.seen(findRuled(Even(v.Straight(s, f), f).Ink, p, f, reach), p, f, reach)
}

// seen follows ruled lines that were found so in a view.
func (v View) seen(r Ruled, p grid.Plan, f Frame, reach float64) (all seenLines) {
	for side, rules := range [2][]Rule{r.Columns, r.Rows} {
		for i, rule := range rules {
			for _, q := range chain(rule.seen, f.Cell/2, reach*f.Cell) {
				px := plane.Pt(f.Margin+rule.At*f.PerMM+q.off, q.along)
				if side == 1 {
					px = plane.Pt(px.Y, px.X)
				}
				at := f.Sheet(px)
				one := seenAt{plane.Pt(rule.At, at.Y), v.Curl.Bent(at), i, at.Y / p.Sheet.Height}
				if side == 1 {
					one.on, one.along = plane.Pt(at.X, rule.At), at.X/p.Sheet.Width
				}
				all[side] = append(all[side], one)
			}
		}
	}
	return all
}

// bowed returns by how much, root mean square in mm, lines leave their own straight lines
// when a curl is taken from them; false where too few show to tell.
func (all seenLines) bowed(p grid.Plan, c *Curl) (mm float64, ok bool) {
	sum, n := 0.0, 0
	for side, rules := range [2]int{p.Grid.Columns + 1, p.Grid.Rows + 1} {
		lines := 0
		for i := range rules {
			var on [][2]float64
			for _, q := range all[side] {
				if off := q.flat.Sub(q.on).Sub(c.Off(q.on)); q.rule == i && side == 0 {
					on = append(on, [2]float64{q.along, off.X})
				} else if q.rule == i {
					on = append(on, [2]float64{q.along, off.Y})
				}
			}
			if len(on) < 6 || on[len(on)-1][0]-on[0][0] < longEnough {
				continue
			}
			lines++
			n += len(on)
			sum += crooked(on)
		}
		if float64(lines) < fewestBowed*float64(rules) {
			return 0, false
		}
	}
	return math.Sqrt(sum / float64(n)), true
}

// crooked returns the sum of the squares by which values leave their best straight line.
func crooked(on [][2]float64) (sum float64) {
	a := picture.NewNormal(2)
	for _, q := range on {
		a.Add([]float64{1, q[0]}, q[1], 1)
	}
	line, ok := a.Solve()
	if !ok {
		return 0
	}
	for _, q := range on {
		d := q[1] - line[0] - line[1]*q[0]
		sum += d * d
	}
	return sum
}

// A line of a curled sheet goes on where it went before: to within so many pixels, over
// gaps of so many parts; and it leans no more.
const goesOnPx, mostGap, steepest = 2.0, 3, 0.15

// chain returns the longest row of places, one a part of a line, each of which goes on
// from the two before it; of two as long the one nearer to where the line is looked for.
func chain(all []linePoint, step, reach float64) (best []linePoint) {
	most := 0.0
	for i, a := range all {
		for _, b := range all[i+1:] {
			if b.along-a.along < 1 {
				continue
			}
			if b.along-a.along > 1.5*step {
				break
			}
			if math.Abs(b.off-a.off) > steepest*step {
				continue
			}
			on, worth := follow(all[i+1:], []linePoint{a, b}, step), 0.0
			for _, q := range on {
				worth += 1 - 0.5*math.Abs(q.off)/reach
			}
			if worth > most {
				best, most = on, worth
			}
		}
	}
	return best
}

// follow goes on from the last two places as far as there are more.
func follow(all, on []linePoint, step float64) []linePoint {
	for {
		n := len(on)
		a, b := on[max(0, n-3)], on[n-1]
		slope := (b.off - a.off) / (b.along - a.along)
		next, least := linePoint{}, goesOnPx
		for _, q := range all {
			if q.along-b.along < 1 {
				continue
			}
			if q.along-b.along > mostGap*step+1 || next.depth > 0 && q.along-next.along > 1 {
				break
			}
			if d := math.Abs(q.off - b.off - slope*(q.along-b.along)); d < least {
				next, least = q, d
			}
		}
		if next.depth == 0 {
			return on
		}
		on = append(on, next)
	}
}
