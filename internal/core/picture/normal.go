package picture

// Normal is the normal equations of a least squares problem, as they are summed.
type Normal [][]float64

// NewNormal returns those of so many unknown numbers, of which nothing is known.
func NewNormal(unknown int) Normal {
	a := make(Normal, unknown)
	for i := range a {
		a[i] = make([]float64, unknown+1)
	}
	return a
}

// Add says that the numbers, each multiplied by its part of row, add up to value.
func (a Normal) Add(row []float64, value, weight float64) {
	n := len(a)
	for j, r := range row {
		if r == 0 {
			continue
		}
		w, to := weight*r, a[j]
		for k, s := range row {
			to[k] += w * s
		}
		to[n] += w * value
	}
}

// Hold says that number i is near value.
func (a Normal) Hold(i int, value, weight float64) {
	a[i][i] += weight
	a[i][len(a)] += weight * value
}

// Solve returns the numbers, and false where they are not told; a is overwritten.
func (a Normal) Solve() ([]float64, bool) { return Solve(a) }

// Inverse returns a column of the inverse of the matrix: how unsure one number is, and
// how it goes with the others; false where it is not told.
func (a Normal) Inverse(column int) ([]float64, bool) {
	b := NewNormal(len(a))
	for i := range b {
		copy(b[i], a[i][:len(a)])
	}
	b[column][len(a)] = 1
	return b.Solve()
}
