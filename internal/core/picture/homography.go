package picture

import (
	"errors"
	"math"
)

// Point is a place in pixels or millimetres, x right and y down. The centre of
// the top left pixel is (0.5, 0.5).
type Point struct{ X, Y float64 }

// Quad is four corners: top left, top right, bottom right, bottom left.
type Quad [4]Point

// ErrCorners is the error of four corners that enclose no sheet.
var ErrCorners = errors.New("the four corners cross or lie too close together; put them on the grid's corners, starting top left and going round clockwise")

// Box returns the quad of an upright rectangle from (0, 0) to (w, h).
func Box(w, h float64) Quad { return Quad{{0, 0}, {w, 0}, {w, h}, {0, h}} }

// Check returns ErrCorners unless the quad is convex, runs clockwise as seen
// and has no corner on the line of two others.
func (q Quad) Check() error {
	longest := 0.0
	for i := range q {
		longest = max(longest, q.Side(i))
	}
	for i := range q {
		a, b, c := q[i], q[(i+1)%4], q[(i+2)%4]
		// Twice the corner's triangle, which is positive clockwise as y points down.
		turn := (b.X-a.X)*(c.Y-b.Y) - (b.Y-a.Y)*(c.X-b.X)
		if !(turn > 0.005*longest*longest) || math.IsInf(turn, 0) {
			return ErrCorners
		}
	}
	return nil
}

// Area returns the area enclosed by the corners, by the shoelace formula.
func (q Quad) Area() float64 {
	sum := 0.0
	for i := range q {
		next := q[(i+1)%4]
		sum += q[i].X*next.Y - next.X*q[i].Y
	}
	return math.Abs(sum) / 2
}

// Side returns the length of the side from corner i to the next.
func (q Quad) Side(i int) float64 {
	next := q[(i+1)%4]
	return math.Hypot(next.X-q[i].X, next.Y-q[i].Y)
}

// Ratio returns about the width ÷ height of what the corners show: of the
// sides' means.
func (q Quad) Ratio() float64 { return (q.Side(0) + q.Side(2)) / (q.Side(1) + q.Side(3)) }

// Homography is a projective map of the plane, row by row; the last entry is 1.
type Homography [9]float64

// NewHomography returns the map that carries each corner of from to the same
// corner of to: eight linear equations (Hartley & Zisserman, Multiple View
// Geometry, 2nd ed., section 4.1, with h33 = 1). Both quads must pass Check.
func NewHomography(from, to Quad) (Homography, error) {
	if err := errors.Join(from.Check(), to.Check()); err != nil {
		return Homography{}, ErrCorners
	}
	a := make([][]float64, 8)
	for i := range 4 {
		x, y, u, v := from[i].X, from[i].Y, to[i].X, to[i].Y
		a[2*i] = []float64{x, y, 1, 0, 0, 0, -u * x, -u * y, u}
		a[2*i+1] = []float64{0, 0, 0, x, y, 1, -v * x, -v * y, v}
	}
	h, ok := Solve(a)
	if !ok {
		return Homography{}, ErrCorners
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
func (h Homography) Apply(p Point) Point {
	w := h[6]*p.X + h[7]*p.Y + h[8]
	return Point{(h[0]*p.X + h[1]*p.Y + h[2]) / w, (h[3]*p.X + h[4]*p.Y + h[5]) / w}
}
