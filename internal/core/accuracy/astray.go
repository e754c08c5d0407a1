package accuracy

import (
	"slices"

	"zestysketch/internal/core/lines"
)

// Two rows or columns beside one another hold each other's lines where of the boxes with lines
// in either fewer than such a share know their place, and exchanged the picture suits the
// drawing so much better, both ways.
const knowingAstray, suitsAstray = 0.5, 0.04

// astray returns which boxes stand in rows or columns that are exchanged, given what is drawn
// in each.
func (m Matched) astray(in []drawnIn) []bool {
	n := m.net
	out := make([]bool, n.count())
	is := m.suits(in)
	try := func(count, long int, at func(line, along int) int) {
		for k := range count - 1 {
			if !m.lost(in, long, k, at) || !m.lost(in, long, k+1, at) {
				continue
			}
			wanted := slices.Clone(m.wanted)
			for j := range long {
				a, b := at(k, j), at(k+1, j)
				wanted[a], wanted[b] = m.carried(b, a), m.carried(a, b)
			}
			if then := m.suitsOf(wanted); then.found < is.found+suitsAstray || then.explained < is.explained+suitsAstray {
				continue
			}
			for j := range long {
				out[at(k, j)], out[at(k+1, j)] = true, true
			}
		}
	}
	try(n.rows, n.columns, func(row, column int) int { return row*n.columns + column })
	try(n.columns, n.rows, func(column, row int) int { return row*n.columns + column })
	return out
}

// lost reports whether in a row or column there are boxes with lines, of which few know where
// they are.
func (m Matched) lost(in []drawnIn, long, line int, at func(line, along int) int) bool {
	know, of := 0.0, 0.0
	for j := range long {
		i := at(line, j)
		if least := leastForBoth * m.net.cell; float64(len(m.wanted[i])) > least && in[i].marks > least {
			if of++; m.shifts[i].sure != None {
				know++
			}
		}
	}
	return of >= 2 && know < knowingAstray*of
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
