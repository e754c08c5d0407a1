package grid

import (
	"math"
	"zestysketch/internal/core/measure"
)

// slack is what a ruler cannot show: a remainder narrower than this is none.
const slack = 0.05

// slackOf returns slack, less where the squares are so small that it would be
// much of one.
func slackOf(square float64) float64 { return min(slack, square/20) }

// RemainderAt is where the remainder stands.
type RemainderAt string

// Where a remainder may stand: where the measuring ends, unless it is asked for
// elsewhere (handbook of the trade, common practice).
const (
	AtEnd   RemainderAt = "end"   // right and bottom
	AtStart RemainderAt = "start" // left and top
	Shared  RemainderAt = "shared"
	Trimmed RemainderAt = "trim" // cut away from the picture
)

// strips returns how many strips a side makes, a remainder counted as one, and
// the remainder's width, 0 where the square divides the side.
func strips(side, square float64) (count int, remainder float64) {
	count = int(math.Floor((side + slackOf(square)) / square))
	remainder = side - float64(count)*square
	if count == 0 {
		return 1, tidy(side)
	}
	if remainder <= slackOf(square) {
		return count, 0
	}
	return count + 1, tidy(remainder)
}

func wholeSquares(side, square measure.Length) measure.Length {
	return measure.Length(math.Floor((float64(side)+slackOf(float64(square)))/float64(square))) * square
}

// remainderAt moves the remainders found at the end to where they are wished.
// A shared one becomes two strips of half the width.
func (g *Grid) remainderAt(where RemainderAt) {
	if g.ReferenceRemainder == [2]float64{} || where == AtEnd || where == Trimmed {
		return
	}
	g.RemainderAt = where
	if where != Shared {
		return
	}
	for i, n := range []*int{&g.Columns, &g.Rows} {
		if g.ReferenceRemainder[i] > 0 {
			*n++
			g.ReferenceRemainder[i] = tidy(g.ReferenceRemainder[i] / 2)
		}
	}
}

// lines returns count+1 marks, each measured from 0 so that errors do not add
// up, the last one on the far edge.
func lines(count int, cell, rest, side float64, where RemainderAt) []float64 {
	marks := make([]float64, count+1)
	first := cell
	if rest > 0 && (where == AtStart || where == Shared) {
		first = rest
	}
	for i := 1; i < count; i++ {
		marks[i] = tidy(first + float64(i-1)*cell)
	}
	marks[count] = side
	return marks
}
