package accuracy

import (
	"math"

	"zestysketch/internal/core/lines"
	"zestysketch/internal/core/plane"
)

// aroundCell is how far round a landmark, in boxes, lines speak for it.
const aroundCell = 0.45

// Proposal is where a landmark seems to be in the drawing.
type Proposal struct {
	At   plane.Point // mm on the sheet
	Sure bool        // the lines round it were found again
}

// Propose returns where the drawing has a point of the reference, by the lines
// round it: the shift at which most of them lie on drawn ones, not far from the
// shift of the boxes about it, then fitted as a box is.
func (d Matched) Propose(reference plane.Point) Proposal {
	n := d.net
	wanted := d.Frame.Pixel(d.Plan.ToSheet(reference))
	dx, dy := field(d.moved, n, wanted.X, wanted.Y)
	var near []lines.Mark
	for _, points := range d.wanted {
		for _, m := range points {
			if math.Hypot(float64(m.X)-wanted.X, float64(m.Y)-wanted.Y) < aroundCell*n.cell {
				near = append(near, m)
			}
		}
	}
	from := model{x: dx, y: dy}
	if len(near) < 8 {
		return Proposal{At: d.Frame.Sheet(plane.Pt(wanted.X+dx, wanted.Y+dy))}
	}
	half := int(furthest * n.cell / 2)
	v := volume{side: 2*half + 1, scale: 2}
	best := math.Inf(-1)
	for l, s := range v.one(thinned(near, 2*mostPoints), d.channels, half) {
		x, y := float64(l%v.side-half)*v.scale, float64(l/v.side-half)*v.scale
		off := math.Hypot(x-dx, y-dy) / n.cell
		if s -= 1.2 * off * off; s > best {
			best, from = s, model{x: x, y: y}
		}
	}
	var pairs []pair
	for _, reach := range reaches {
		pairs = match(near, d.drawn, wanted, n.cell, from, reach*n.cell, pairs[:0])
		from = solve(pairs, from, reach*n.cell)
	}
	sure := judge(pairs, len(near), from, n)
	return Proposal{At: d.Frame.Sheet(plane.Pt(wanted.X+from.x, wanted.Y+from.y)), Sure: sure.sure == Both}
}

// Proportion compares two distances between landmarks: how large the first is
// beside the second, wanted and drawn.
type Proportion struct {
	Part  [2]string `json:"part"`
	Whole [2]string `json:"whole"`
	Want  float64   `json:"want"`
	Have  float64   `json:"have"`
}

// Off returns by how much the drawn proportion is too large, as a share.
func (p Proportion) Off() float64 { return p.Have/p.Want - 1 }

// proportions compares every width and height between two landmarks with the
// longest of them: pairs that lie nearly level or nearly upright, as people
// measure with a pencil held out.
func proportions(marks []Offset, wanted, drawn []plane.Point) (all []Proportion) {
	type span struct {
		i, j       int
		want, have float64
	}
	var spans []span
	longest := -1
	for i := range marks {
		for j := i + 1; j < len(marks); j++ {
			x, y := math.Abs(wanted[i].X-wanted[j].X), math.Abs(wanted[i].Y-wanted[j].Y)
			if min(x, y) > max(x, y)/3 || max(x, y) == 0 {
				continue
			}
			s := span{i, j, math.Hypot(x, y), drawn[i].Sub(drawn[j]).Len()}
			if spans = append(spans, s); longest < 0 || s.want > spans[longest].want {
				longest = len(spans) - 1
			}
		}
	}
	for k, s := range spans {
		if k == longest || spans[longest].have == 0 {
			continue
		}
		l := spans[longest]
		all = append(all, Proportion{[2]string{marks[s.i].Name, marks[s.j].Name}, [2]string{marks[l.i].Name, marks[l.j].Name}, s.want / l.want, s.have / l.have})
	}
	return all
}
