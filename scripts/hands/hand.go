package main

import (
	"math"
	"math/rand/v2"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/plane"
)

// hand is how somebody draws, mm on the sheet.
type hand struct {
	wobble   float64 // of a line, over some ten mm
	carried  float64 // of everything, over some boxes, in boxes
	pencil   float64
	grey     uint8
	double   float64 // share of lines drawn twice
	broken   float64 // share of lines with gaps
	hatched  int     // areas
	ghosts   int     // lines erased, not quite
	smudges  int
	ruledOff float64 // of the ruled grid's lines
	faint    uint8   // of the grid, grey
}

func chanceHand(rng *rand.Rand) hand {
	h := hand{wobble: 0.2 + 0.5*rng.Float64(), carried: 0.07 * rng.Float64(), pencil: 0.5 + 0.8*rng.Float64(), grey: uint8(50 + rng.IntN(70)),
		double: 0.4 * rng.Float64(), broken: 0.3 * rng.Float64(), faint: uint8(175 + rng.IntN(45))}
	if rng.IntN(4) == 0 {
		h.hatched = 1 + rng.IntN(2)
	}
	if rng.IntN(3) == 0 {
		h.ghosts = 1 + rng.IntN(2)
	}
	if rng.IntN(3) == 0 {
		h.smudges = 1 + rng.IntN(3)
	}
	if rng.IntN(5) == 0 {
		h.ruledOff = 1
	}
	return h
}

// draw returns the sheet with lines given in mm on it.
func (h hand) draw(p grid.Plan, lines [][]plane.Point, rng *rand.Rand) page.Page {
	pg := page.Page{Size: p.SheetSize()}
	h.smudge(&pg, p, rng)
	faint := page.Color{R: h.faint, G: h.faint, B: h.faint + 3}
	inner := func(v float64) float64 { return v + h.ruledOff*rng.NormFloat64() }
	for _, x := range p.Marks.SheetX {
		a, b := inner(x), x
		pg.Line((a+b)/2, 0, (a+b)/2, p.Sheet.Height, 0.4, faint)
	}
	for _, y := range p.Marks.SheetY {
		a, b := inner(y), y
		pg.Line(0, (a+b)/2, p.Sheet.Width, (a+b)/2, 0.4, faint)
	}
	for range h.ghosts {
		line := lines[rng.IntN(len(lines))]
		off := plane.Pt(rng.NormFloat64(), rng.NormFloat64()).Mul(4)
		pale := uint8(205 + rng.IntN(25))
		var ghost []plane.Point
		for _, q := range line[:1+len(line)/2] {
			ghost = append(ghost, q.Add(off))
		}
		pg.Add(page.Path{Points: ghost, Width: h.pencil, Stroke: page.Color{R: pale, G: pale, B: pale}})
	}
	carry := h.carry(p, rng)
	for _, line := range lines {
		times := 1
		if rng.Float64() < h.double {
			times = 2
		}
		for range times {
			h.line(&pg, line, carry, rng)
		}
	}
	for range h.hatched {
		h.hatch(&pg, p, lines[rng.IntN(len(lines))], rng)
	}
	return pg
}

// carry returns how everything is carried off: smoothly, over some boxes.
func (h hand) carry(p grid.Plan, rng *rand.Rand) func(plane.Point) plane.Point {
	cell := p.Grid.SheetCell[0]
	var a [4]float64
	for i := range a {
		a[i] = 6 * rng.Float64()
	}
	return func(q plane.Point) plane.Point {
		u, v := q.X/cell, q.Y/cell
		return q.Add(plane.Pt(math.Sin(0.8*u+a[0])*math.Cos(0.7*v+a[1]), math.Sin(0.7*u+a[2])*math.Cos(0.9*v+a[3])).Mul(h.carried * cell))
	}
}

// line draws one line: it wavers, overshoots, breaks off and goes on; pressure changes.
func (h hand) line(pg *page.Page, line []plane.Point, carry func(plane.Point) plane.Point, rng *rand.Rand) {
	a, b, aside := 6*rng.Float64(), 6*rng.Float64(), plane.Pt(rng.NormFloat64(), rng.NormFloat64()).Mul(0.25)
	var run []plane.Point
	gone, lift := 0.0, math.Inf(1)
	if rng.Float64() < h.broken {
		lift = 20 + 30*rng.Float64()
	}
	flush := func() {
		if len(run) > 1 {
			grey := uint8(max(0, min(160, float64(h.grey)+15*rng.NormFloat64())))
			pg.Add(page.Path{Points: run, Width: h.pencil * (1 + 0.2*rng.Float64()), Stroke: page.Color{R: grey, G: grey, B: grey + 4}})
		}
		run = nil
	}
	for i, q := range dense(line) {
		if i > 0 {
			gone += 1
		}
		at := carry(q).Add(aside).Add(plane.Pt(math.Sin(gone/7+a), math.Sin(gone/9+b)).Mul(h.wobble))
		if gone > lift {
			flush()
			if gone > lift+1.5+1.5*rng.Float64() {
				lift = gone + 20 + 40*rng.Float64()
			}
			continue
		}
		run = append(run, at)
	}
	if n := len(run); n > 3 && rng.IntN(2) == 0 {
		if last := run[n-1].Sub(run[n-3]); last.Len() > 0 {
			run = append(run, run[n-1].Add(last.Mul(2*rng.Float64()/last.Len())))
		}
	}
	flush()
}

// dense returns a line's places about a mm apart.
func dense(line []plane.Point) (out []plane.Point) {
	for i, q := range line {
		if i > 0 {
			n := int(q.Sub(line[i-1]).Len())
			for k := 1; k < n; k++ {
				out = append(out, line[i-1].To(q, float64(k)/float64(n)))
			}
		}
		out = append(out, q)
	}
	return out
}

// hatch fills some of where a line lies with pale strokes.
func (h hand) hatch(pg *page.Page, p grid.Plan, line []plane.Point, rng *rand.Rand) {
	at, size := line[len(line)/2], p.Grid.SheetCell[0]*(0.3+0.4*rng.Float64())
	pale := uint8(150 + rng.IntN(50))
	for d := -size; d < size; d += 1.5 + 0.5*rng.Float64() {
		pg.Line(at.X+d, at.Y-size/2, at.X+d-size/2, at.Y+size/2, 0.3, page.Color{R: pale, G: pale, B: pale})
	}
}

// smudge lays pale patches.
func (h hand) smudge(pg *page.Page, p grid.Plan, rng *rand.Rand) {
	for range h.smudges {
		at := plane.Pt(rng.Float64()*p.Sheet.Width, rng.Float64()*p.Sheet.Height)
		for k := range 6 {
			grey := uint8(240 - 2*k)
			pg.Add(page.Path{Points: blob(rng, at, 18-2.5*float64(k)), Closed: true, Fill: &page.Color{R: grey, G: grey, B: grey}})
		}
	}
}
