package main

import (
	"math"
	"math/rand/v2"
	"slices"
	"strings"

	"zestysketch/internal/core/accuracy"
	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/plane"
)

// What is wrong with a drawing.
const (
	right     = "right"
	moved     = "moved"
	sized     = "another size"
	turned    = "turned"
	forgotten = "forgotten"
	invented  = "invented"
	large     = "a large part 5 to 15 % too large"
)

var faults = []string{right, right, moved, moved, moved, sized, sized, forgotten, forgotten, turned, invented, large}

// fault is what was done to one part, in mm on the sheet.
type fault struct {
	what   string
	part   [][]plane.Point // as it belongs
	middle plane.Point
	move   plane.Point // boxes
	size   float64
	turn   float64 // degrees
	long   float64 // boxes
}

// leastPart and mostOfAll bound the part that is changed: boxes of line, and a share of all.
const leastPart, mostOfAll = 0.5, 0.4

// spoil returns the lines with one fault of a kind, false where no part is fit for it.
func spoil(what string, lines [][]plane.Point, p grid.Plan, rng *rand.Rand) (all [][]plane.Point, f fault, ok bool) {
	f = fault{what: what, size: 1}
	cell, total := p.Grid.SheetCell[0], 0.0
	for _, line := range lines {
		total += length(line) / cell
	}
	switch what {
	case right:
		return lines, f, true
	case invented:
		at := plane.Pt(cell+rng.Float64()*(p.Sheet.Width-2*cell), cell+rng.Float64()*(p.Sheet.Height-2*cell))
		f.part = [][]plane.Point{blob(rng, at, cell*(0.2+0.3*rng.Float64()))}
		f.measure(cell)
		return append(slices.Clone(lines), f.part[0]), f, true
	}
	part := choose(what, lines, total, cell, rng)
	if part == nil {
		return nil, f, false
	}
	for _, i := range part {
		f.part = append(f.part, lines[i])
	}
	f.measure(cell)
	f.change(rng)
	for i, line := range lines {
		if slices.Contains(part, i) {
			if what == forgotten {
				continue
			}
			line = f.changed(line, cell)
			for _, q := range line {
				if q.X < 1 || q.Y < 1 || q.X > p.Sheet.Width-1 || q.Y > p.Sheet.Height-1 {
					return nil, f, false
				}
			}
		}
		all = append(all, line)
	}
	return all, f, len(all) > 0
}

func (f *fault) change(rng *rand.Rand) {
	sin, cos := math.Sincos(2 * math.Pi * rng.Float64())
	switch f.what {
	case moved:
		f.move = plane.Pt(cos, sin).Mul(0.25 + 0.95*rng.Float64()*rng.Float64())
		if along, is := straight(f.part[0]); is && len(f.part) == 1 { // along itself nobody sees it move
			f.move = plane.Pt(-along.Y, along.X).Mul(f.move.Len())
		}
	case sized:
		if f.size = 0.6 + 0.15*rng.Float64(); rng.IntN(2) == 0 {
			f.size = 1.25 + 0.35*rng.Float64()
		}
	case turned:
		f.turn = (12 + 13*rng.Float64()) * float64(1-2*rng.IntN(2))
	case large:
		f.size = 1.05 + 0.1*rng.Float64()
	}
}

func (f *fault) changed(line []plane.Point, cell float64) []plane.Point {
	sin, cos := math.Sincos(f.turn * math.Pi / 180)
	out := make([]plane.Point, len(line))
	for i, q := range line {
		d := q.Sub(f.middle).Mul(f.size)
		out[i] = f.middle.Add(plane.Pt(d.X*cos-d.Y*sin, d.X*sin+d.Y*cos)).Add(f.move.Mul(cell))
	}
	return out
}

func (f *fault) measure(cell float64) {
	n := 0.0
	for _, line := range f.part {
		f.long += length(line) / cell
		for _, q := range line {
			f.middle, n = f.middle.Add(q), n+1
		}
	}
	f.middle = f.middle.Mul(1 / n)
}

func length(line []plane.Point) (sum float64) {
	for i := 1; i < len(line); i++ {
		sum += line[i].Sub(line[i-1]).Len()
	}
	return sum
}

// besides is how near lines are, boxes, that a hand takes for one thing: the two edges of an outline.
const besides = 0.08

// choose returns the lines of a part: those that lie side by side.
func choose(what string, lines [][]plane.Point, total, cell float64, rng *rand.Rand) []int {
	groups := touching(lines, besides*cell)
	fit := slices.DeleteFunc(groups, func(g []int) bool {
		long := 0.0
		for _, i := range g {
			long += length(lines[i]) / cell
		}
		if what == large {
			return long < 4 || long > 0.6*total
		}
		if (what == sized || what == turned) && len(g) == 1 && !closed(lines[g[0]]) {
			return true // how long an open line is, or which way a short one runs, is seen of no part
		}
		return long < leastPart || long > mostOfAll*total
	})
	if len(fit) == 0 {
		return nil
	}
	return fit[rng.IntN(len(fit))]
}

// closed reports whether a line comes back to where it began.
func closed(line []plane.Point) bool {
	return line[len(line)-1].Sub(line[0]).Len() < 0.1*length(line)
}

// straight reports whether a line hardly bends, and which way it runs.
func straight(line []plane.Point) (along plane.Point, is bool) {
	along = line[len(line)-1].Sub(line[0])
	if is = along.Len() > 0.95*length(line); is {
		along = along.Mul(1 / along.Len())
	}
	return along, is
}

// touching groups lines that come so near one another, mm.
func touching(lines [][]plane.Point, near float64) (groups [][]int) {
	group := make([]int, len(lines))
	for i := range group {
		group[i] = i
	}
	for i := range lines {
		for j := range i {
			if group[i] != group[j] && meet(lines[i], lines[j], near) {
				from, to := group[i], group[j]
				for k := range group {
					if group[k] == from {
						group[k] = to
					}
				}
			}
		}
	}
	by := map[int][]int{}
	for i, g := range group {
		by[g] = append(by[g], i)
	}
	for g := range group {
		if by[g] != nil {
			groups = append(groups, by[g])
		}
	}
	return groups
}

func meet(a, b []plane.Point, near float64) bool {
	for _, p := range a {
		for _, q := range b {
			if p.Sub(q).Len() < near {
				return true
			}
		}
	}
	return false
}

// verdict is how a report tells a fault.
type verdict struct {
	named, early, silent bool
	off, size            float64 // of what is said, beside what is so: boxes, share
	untrue               []string
}

// judge compares a report with what was done.
func (f fault) judge(r accuracy.Report, p grid.Plan) (v verdict) {
	v.off, v.size = math.NaN(), math.NaN()
	v.silent = len(r.Next) == 0 && strings.HasPrefix(r.Closing(), "Nothing needs mending")
	touches := f.touches(p)
	f.sentences(r, touches, &v)
	switch f.what {
	case forgotten:
		v.named = slices.ContainsFunc(r.Parts, func(q accuracy.Part) bool { return q.State == accuracy.PartMissing && touches(q.Cells) })
	case invented:
		v.named = slices.ContainsFunc(r.Next, func(a accuracy.Advice) bool { return a.About == accuracy.AboutOther && touches(a.Cells) })
	case moved, sized, turned, large:
		f.nearest(r, touches, &v)
		v.named = v.off < 0.12 && v.size < 0.08 || f.what == turned && !math.IsNaN(v.off)
	}
	return v
}

// sentences sorts what is said into what is untrue and what speaks of the part early.
func (f fault) sentences(r accuracy.Report, touches func([]string) bool, v *verdict) {
	for i, a := range r.Next {
		if a.About == accuracy.AboutTone || a.About == accuracy.AboutGrid {
			continue
		}
		if f.what == right || f.what != large && a.About != accuracy.AboutWhole && !touches(a.Cells) {
			v.untrue = append(v.untrue, a.Words)
		} else if i < 3 && touches(a.Cells) {
			v.early = true
		}
	}
}

// touches returns what reports whether one of some boxes holds the part, where it belongs or where it lies.
func (f fault) touches(p grid.Plan) func(cells []string) bool {
	mine := map[string]bool{}
	for _, line := range f.part {
		for _, q := range line {
			mine[p.CellAt(q).Label] = true
			mine[p.CellAt(f.middle.Add(q.Sub(f.middle).Mul(f.size)).Add(f.move.Mul(p.Grid.SheetCell[0]))).Label] = true
		}
	}
	return func(cells []string) bool { return slices.ContainsFunc(cells, func(c string) bool { return mine[c] }) }
}

// nearest finds what is said of the part that comes nearest to what is so.
func (f fault) nearest(r accuracy.Report, touches func([]string) bool, v *verdict) {
	for _, q := range r.Parts {
		if q.State != accuracy.PartMoved || !touches(q.Cells) {
			continue
		}
		if off := f.beside(q); !(off > v.off) {
			v.off, v.size = off, math.Abs(q.Size/f.size-1)
		}
	}
	for _, a := range r.Next {
		if off := a.Move.Sub(f.move).Len(); f.what == moved && a.About == accuracy.AboutLines && touches(a.Cells) && !(off > v.off) {
			v.off, v.size = off, 0
		}
	}
}

// beside returns how far off a part's move is told, boxes; of a straight line across it alone.
func (f fault) beside(q accuracy.Part) float64 {
	d := q.Move.Sub(f.move)
	if len(f.part) > 1 {
		return d.Len()
	}
	if along, is := straight(f.part[0]); is {
		return math.Abs(d.X*along.Y - d.Y*along.X)
	}
	return d.Len()
}
