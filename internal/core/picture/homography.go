package picture

import (
	"errors"
	"math"
	"zestysketch/internal/core/plane"
)

// Homography is a projective map of the plane, row by row; the last entry is 1.
type Homography [9]float64

// NewHomography returns the map that carries each corner of from to the same
// corner of to: eight linear equations (Hartley & Zisserman, Multiple View
// Geometry, 2nd ed., section 4.1, with h33 = 1). Both quads must pass Check.
func NewHomography(from, to plane.Quad) (Homography, error) {
	if err := errors.Join(from.Check(), to.Check()); err != nil {
		return Homography{}, plane.ErrCorners
	}
	a := make([][]float64, 8)
	for i := range 4 {
		x, y, u, v := from[i].X, from[i].Y, to[i].X, to[i].Y
		a[2*i] = []float64{x, y, 1, 0, 0, 0, -u * x, -u * y, u}
		a[2*i+1] = []float64{0, 0, 0, x, y, 1, -v * x, -v * y, v}
	}
	h, ok := Solve(a)
	if !ok {
		return Homography{}, plane.ErrCorners
	}
	return Homography{h[0], h[1], h[2], h[3], h[4], h[5], h[6], h[7], 1}, nil
}

// Solve solves a square system, its right side as the last column, by Gaussian
// elimination with partial pivoting; a is overwritten. ok is false where it has
// no one solution.
func Solve(a [][]float64) (x []float64, ok bool) {
	n := len(a)
	for c := range n {
		pivot := c
		for r := c + 1; r < n; r++ {
			if math.Abs(a[r][c]) > math.Abs(a[pivot][c]) {
				pivot = r
			}
		}
		a[c], a[pivot] = a[pivot], a[c]
		if math.Abs(a[c][c]) < 1e-12 {
			return nil, false
		}
		for r := c + 1; r < n; r++ {
			f := a[r][c] / a[c][c]
			for k := c; k <= n; k++ {
				a[r][k] -= f * a[c][k]
			}
		}
	}
	x = make([]float64, n)
	for r := n - 1; r >= 0; r-- {
		sum := a[r][n]
		for k := r + 1; k < n; k++ {
			sum -= a[r][k] * x[k]
		}
		x[r] = sum / a[r][r]
	}
	return x, true
}

// Apply returns where p is carried.
func (h Homography) Apply(p plane.Point) plane.Point {
	w := h[6]*p.X + h[7]*p.Y + h[8]
	return plane.Pt((h[0]*p.X+h[1]*p.Y+h[2])/w, (h[3]*p.X+h[4]*p.Y+h[5])/w)
}
