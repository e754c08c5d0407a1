package photo

import (
	"zestysketch/internal/core/picture"
	"zestysketch/internal/core/plane"
)

// Curl is how a sheet does not lie flat: how far off, mm, each of its places is seen
// from where a flat one with the same corners would show it.
type Curl struct {
	Size plane.Point `json:"size_mm"` // of the sheet
	X    Surface     `json:"x"`
	Y    Surface     `json:"y"`
}

// Surface is a smooth surface over a sheet: uniform cubic B-splines (de Boor 1978, A
// Practical Guide to Splines) in so many parts across and down, with three more numbers
// each way than parts.
type Surface struct {
	Across int       `json:"across"`
	Down   int       `json:"down"`
	At     []float64 `json:"at"` // row by row
}

// Off returns how far off a place of the sheet, mm, is seen; beyond the sheet it is as
// at its edge. It is nothing for no curl.
func (c *Curl) Off(at plane.Point) plane.Point {
	if c == nil {
		return plane.Point{}
	}
	u, v := at.X/c.Size.X, at.Y/c.Size.Y
	return plane.Pt(c.X.of(u, v), c.Y.of(u, v))
}

// Bent returns where a flat sheet would have the place that is seen for one of the curled
// sheet; Flat undoes it.
func (c *Curl) Bent(at plane.Point) plane.Point { return at.Add(c.Off(at)) }

// Flat returns the place of the curled sheet that is seen where a flat one would have at.
func (c *Curl) Flat(at plane.Point) plane.Point {
	if c == nil {
		return at
	}
	p := at
	for range 6 { // a curl changes slowly: each round leaves a tenth of what was wrong
		p = at.Sub(c.Off(p))
	}
	return p
}

// usable reports whether a curl that was read from a file can be asked.
func (c *Curl) usable() bool {
	if c == nil {
		return true
	}
	for _, s := range []Surface{c.X, c.Y} {
		if s.Across < 1 || s.Down < 1 || len(s.At) != (s.Across+3)*(s.Down+3) {
			return false
		}
	}
	return c.Size.X > 0 && c.Size.Y > 0
}

// terms are the numbers that make up a place of a surface, and by how much each.
type terms struct {
	at [16]int
	by [16]float64
}

func (s Surface) terms(u, v float64) (t terms) {
	i, across := spline(u, s.Across)
	j, down := spline(v, s.Down)
	for b := range 4 {
		for a := range 4 {
			t.at[4*b+a] = (j+b)*(s.Across+3) + i + a
			t.by[4*b+a] = across[a] * down[b]
		}
	}
	return t
}

// of returns the surface at a place, in parts of the sheet.
func (s Surface) of(u, v float64) (sum float64) {
	t := s.terms(u, v)
	for k, i := range t.at {
		sum += t.by[k] * s.At[i]
	}
	return sum
}

// spline returns the first of the four numbers that matter at t, 0 to 1 over so many
// parts, and how much each does.
func spline(t float64, parts int) (first int, by [4]float64) {
	t = max(0, min(1, t)) * float64(parts)
	first = min(int(t), parts-1)
	t -= float64(first)
	s := 1 - t
	return first, [4]float64{s * s * s / 6, (3*t*t*t - 6*t*t + 4) / 6, (3*s*s*s - 6*s*s + 4) / 6, t * t * t / 6}
}

// addTo adds the terms to a row of an equation, each multiplied.
func (t terms) addTo(row []float64, by float64) {
	for k, i := range t.at {
		row[i] += by * t.by[k]
	}
}

// smooth says in a system of equations that a surface bends by no more than so many
// millimetres from one number to the next.
func (s Surface) smooth(a picture.Normal, mm float64) {
	w, h := s.Across+3, s.Down+3
	row := make([]float64, len(a))
	say := func(before, here, after int) {
		row[before], row[here], row[after] = 1, -2, 1
		a.Add(row, 0, 1/(mm*mm))
		row[before], row[here], row[after] = 0, 0, 0
	}
	for j := range h {
		for i := range w {
			k := j*w + i
			if i > 0 && i < w-1 {
				say(k-1, k, k+1)
			}
			if j > 0 && j < h-1 {
				say(k-w, k, k+w)
			}
		}
	}
}
