package photo

import (
	"math"
	"slices"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/core/plane"
)

// knot is where a column's and a row's line cross, and how far off that is, mm.
type knot struct {
	at, off     plane.Point
	column, row int
}

// knots returns all crossings of lines that show.
func (r Ruled) knots(p grid.Plan) (all []knot) {
	for i, c := range r.Columns {
		for j, w := range r.Rows {
			if at, ok := c.cross(w, p); ok {
				home := plane.Pt(c.At, w.At)
				all = append(all, knot{home, at.Sub(home), i, j})
			}
		}
	}
	return all
}

// change is how far off places of a sheet are if a camera a little elsewhere looks at
// it: the first degree of a change of homography, by places in parts of size.
type change struct {
	size  float64
	terms []float64
}

func (c change) rows(at plane.Point) (x, y [8]float64) {
	u, v := at.X/c.size, at.Y/c.size
	return [8]float64{1, u, v, 0, 0, 0, u * u, u * v}, [8]float64{0, 0, 0, 1, u, v, u * v, v * v}
}

func (c change) of(at plane.Point) (off plane.Point) {
	x, y := c.rows(at)
	for k, f := range c.terms {
		off.X, off.Y = off.X+f*x[k], off.Y+f*y[k]
	}
	return off
}

// goesWith is how far a line may lie from where the others have it, in boxes, to have a
// say in it, and fewestSaid how many crossings must tell, across or down.
const goesWith, fewestSaid = 0.04, 24

// moved returns how far off the sheet is by all crossings of its ruled lines together;
// lines that do not go with the others have no say. False where too few do.
func (r Ruled) moved(p grid.Plan) (c change, ok bool) {
	all := r.knots(p)
	c.size = max(p.Sheet.Width, p.Sheet.Height)
	limit := goesWith * min(p.Grid.SheetCell[0], p.Grid.SheetCell[1])
	columns, rows := ones(len(r.Columns)), ones(len(r.Rows))
	for range 4 {
		if ok = c.fit(all, columns, rows); !ok {
			return c, false
		}
		offColumns, offRows := make([][]float64, len(columns)), make([][]float64, len(rows))
		for _, q := range all {
			rest := q.off.Sub(c.of(q.at))
			offColumns[q.column] = append(offColumns[q.column], math.Abs(rest.X))
			offRows[q.row] = append(offRows[q.row], math.Abs(rest.Y))
		}
		columns, rows = says(offColumns, limit), says(offRows, limit)
	}
	return c, mean(columns) >= mostlyAgreed && mean(rows) >= mostlyAgreed
}

// mostlyAgreed is what the lines must have to say on average for them to be right about a
// sheet together: those of a curled one do not agree.
const mostlyAgreed = 0.6

func mean(values []float64) (m float64) {
	for _, v := range values {
		m += v / float64(len(values))
	}
	return m
}

// fit solves for the change by least squares, every line with its say.
func (c *change) fit(all []knot, columns, rows []float64) bool {
	a := picture.NewNormal(8)
	for k := range a {
		a.Hold(k, 0, 1e-9)
	}
	said := 0
	add := func(row [8]float64, off, say float64) {
		if say > 0 {
			said++
		}
		a.Add(row[:], off, say)
	}
	for _, q := range all {
		x, y := c.rows(q.at)
		add(x, q.off.X, columns[q.column])
		add(y, q.off.Y, rows[q.row])
	}
	terms, ok := a.Solve()
	c.terms = terms
	return ok && said >= fewestSaid
}

// says returns what lines have to say by how far off they are, the middle of each: all
// where that is nothing, and nothing at the limit.
func says(off [][]float64, limit float64) []float64 {
	say := make([]float64, len(off))
	for i, d := range off {
		if len(d) > 0 {
			slices.Sort(d)
			say[i] = max(0, 1-math.Pow(d[len(d)/2]/limit, 2))
		}
	}
	return say
}

func ones(n int) []float64 {
	out := make([]float64, n)
	for i := range out {
		out[i] = 1
	}
	return out
}
