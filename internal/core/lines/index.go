package lines

// Index finds the marks near a place.
type Index struct {
	Marks []Mark // sorted by bucket
	w, h  int
	side  float32
	first []int32 // of each bucket, and the end
}

// NewIndex sorts marks of a picture of w × h pixels into buckets of about r pixels.
func NewIndex(marks []Mark, w, h int, r float64) *Index {
	side := max(float32(r), 2)
	x := &Index{side: side, w: int(float32(w)/side) + 1, h: int(float32(h)/side) + 1}
	x.first = make([]int32, x.w*x.h+1)
	for _, m := range marks {
		x.first[x.bucket(m.X, m.Y)+1]++
	}
	for i := 1; i < len(x.first); i++ {
		x.first[i] += x.first[i-1]
	}
	next := append([]int32(nil), x.first...)
	x.Marks = make([]Mark, len(marks))
	for _, m := range marks {
		b := x.bucket(m.X, m.Y)
		x.Marks[next[b]] = m
		next[b]++
	}
	return x
}

func (x *Index) bucket(px, py float32) int {
	return max(0, min(int(py/x.side), x.h-1))*x.w + max(0, min(int(px/x.side), x.w-1))
}

// Around calls visit for every mark within r of a place in each axis, until it
// returns false.
func (x *Index) Around(px, py, r float32, visit func(Mark) bool) {
	left, right := max(0, int((px-r)/x.side)), min(x.w-1, int((px+r)/x.side))
	top, bottom := max(0, int((py-r)/x.side)), min(x.h-1, int((py+r)/x.side))
	for by := top; by <= bottom; by++ {
		for bx := left; bx <= right; bx++ {
			b := by*x.w + bx
			for _, m := range x.Marks[x.first[b]:x.first[b+1]] {
				if absf(m.X-px) <= r && absf(m.Y-py) <= r && !visit(m) {
					return
				}
			}
		}
	}
}
