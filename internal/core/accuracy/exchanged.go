package accuracy

import (
	"cmp"
	"slices"

	"zestysketch/internal/core/lines"
)

// Two rows or columns beside one another hold each other's lines where of the boxes with lines
// in either fewer than such a share know their place, and exchanged the picture suits the
// drawing so much better, both ways. So many that know least are tried: each costs a match of
// the whole drawing.
const (
	exchangedKnown, exchangedGain = 0.5, 0.04
	mostExchanged                 = 3
)

// exchange is two rows or columns, box by box, and the greater share of either that knows its place.
type exchange struct {
	these, those []int
	shareKnown   float64
}

// inExchanged returns which boxes stand in rows or columns that are exchanged, given what is drawn
// in each.
func (m Matched) inExchanged(in []drawnIn) []bool {
	is, out := m.agreementIn(in), make([]bool, m.net.count())
	for _, e := range m.exchanges(in) {
		wanted := slices.Clone(m.wanted)
		for j, a := range e.these {
			b := e.those[j]
			wanted[a], wanted[b] = m.carried(b, a), m.carried(a, b)
		}
		if then := m.agreementOf(wanted); then.found < is.found+exchangedGain || then.explained < is.explained+exchangedGain {
			continue
		}
		for j, a := range e.these {
			out[a], out[e.those[j]] = true, true
		}
	}
	return out
}

// exchanges returns the rows and columns that may be exchanged, those that know least first.
func (m Matched) exchanges(in []drawnIn) (all []exchange) {
	n := m.net
	add := func(count, long int, at func(line, along int) int) {
		for k := range count - 1 {
			var e exchange
			for j := range long {
				e.these, e.those = append(e.these, at(k, j)), append(e.those, at(k+1, j))
			}
			if e.shareKnown = max(m.shareKnown(in, e.these), m.shareKnown(in, e.those)); e.shareKnown < exchangedKnown {
				all = append(all, e)
			}
		}
	}
	add(n.rows, n.columns, func(row, column int) int { return row*n.columns + column })
	add(n.columns, n.rows, func(column, row int) int { return row*n.columns + column })
	slices.SortStableFunc(all, func(a, b exchange) int { return cmp.Compare(a.shareKnown, b.shareKnown) })
	return all[:min(len(all), mostExchanged)]
}

// shareKnown returns the share of boxes with lines that know where they are, 1 where hardly any has.
func (m Matched) shareKnown(in []drawnIn, boxes []int) float64 {
	know, of, least := 0.0, 0.0, leastForBoth*m.net.cell
	for _, i := range boxes {
		if float64(len(m.wanted[i])) > least && in[i].marks > least {
			if of++; m.shifts[i].sure != None {
				know++
			}
		}
	}
	if of < 2 {
		return 1
	}
	return know / of
}

// carried returns a box's lines in another's place.
func (d Seen) carried(from, to int) []lines.Mark {
	x, y := d.net.middle(to)
	fx, fy := d.net.middle(from)
	out := slices.Clone(d.wanted[from])
	for i := range out {
		out[i].X += float32(x - fx)
		out[i].Y += float32(y - fy)
	}
	return out
}
