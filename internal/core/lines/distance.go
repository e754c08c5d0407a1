package lines

import (
	"math"

	"zestysketch/internal/core/picture"
)

// Far is the squared distance given where there is nothing to be near to.
const Far = 1e12

// Envelope replaces f by the lowest of all parabolas f[q] + k·(p − q)², for
// every p: one dimension of the distance transform of Felzenszwalb and
// Huttenlocher (2012), Theory of Computing 8(19). k is more than 0. The scratch
// is reused between calls and may be nil.
func Envelope(f []float64, k float64, s *Scratch) {
	n := len(f)
	if s == nil {
		s = &Scratch{}
	}
	s.grow(n)
	v, z, old := s.v, s.z, s.old
	copy(old, f)
	last := 0
	v[0], z[0], z[1] = 0, math.Inf(-1), math.Inf(1)
	for q := 1; q < n; q++ {
		var at float64
		for {
			r := v[last]
			at = ((old[q] + k*float64(q*q)) - (old[r] + k*float64(r*r))) / (2 * k * float64(q-r))
			if at > z[last] {
				break
			}
			last--
		}
		last++
		v[last], z[last], z[last+1] = q, at, math.Inf(1)
	}
	last = 0
	for p := range n {
		for z[last+1] < float64(p) {
			last++
		}
		d := float64(p - v[last])
		f[p] = old[v[last]] + k*d*d
	}
}

// Scratch is working room for Envelope.
type Scratch struct {
	v      []int
	z, old []float64
}

func (s *Scratch) grow(n int) {
	if cap(s.v) < n {
		s.v, s.z, s.old = make([]int, n), make([]float64, n+1), make([]float64, n)
	}
	s.v, s.z, s.old = s.v[:n], s.z[:n+1], s.old[:n]
}

// Distances returns, for every pixel of w × h, the squared Euclidean distance
// in pixels to the nearest pixel for which there is true; Far where nothing is.
func Distances(w, h int, there func(x, y int) bool) []float64 {
	d := make([]float64, w*h)
	// Down and up each column the distance is a count.
	for y := range h {
		for x := range w {
			switch {
			case there(x, y):
			case y == 0:
				d[x] = Far
			default:
				d[y*w+x] = d[(y-1)*w+x] + 1 // Far and more is none
			}
		}
	}
	for y := h - 2; y >= 0; y-- {
		row, below := d[y*w:(y+1)*w], d[(y+1)*w:(y+2)*w]
		for x := range row {
			row[x] = min(row[x], below[x]+1)
		}
	}
	picture.Bands(h, func(from, to int) {
		var s Scratch
		for y := from; y < to; y++ {
			row := d[y*w : (y+1)*w]
			for x, v := range row {
				if row[x] = v * v; v >= Far {
					row[x] = Far
				}
			}
			Envelope(row, 1, &s)
			for x := range row {
				row[x] = min(row[x], Far)
			}
		}
	})
	return d
}
