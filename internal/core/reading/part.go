package reading

import (
	"fmt"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/plane"
)

// Part is some boxes of a plan, side by side, that are drawn instead of all of them.
type Part struct {
	From, To string // its first and last box, top left and bottom right
	Boxes    int
	Minutes  float64 // what is left to draw of it
	Detail   float64 // its share of the picture's detail, 0 to 1
	Marks    int     // landmarks in it
}

// String names the part as Plan.Block reads it.
func (p Part) String() string { return p.From + ":" + p.To }

// Say says why it is this one.
func (p Part) Say() string {
	say := fmt.Sprintf("%s to %s: %d boxes, about %.0f minutes to go, %.0f %% of the picture’s detail", p.From, p.To, p.Boxes, p.Minutes, 100*p.Detail)
	switch p.Marks {
	case 0:
		return say
	case 1:
		return say + ", one landmark"
	}
	return fmt.Sprintf("%s, %d landmarks", say, p.Marks)
}

// Pin is a landmark pressed on the picture, in millimetres of the printed picture from the
// frame's top left, with its weight, 1 to 3.
type Pin struct {
	Name   string
	At     plane.Point
	Weight float64
}

// What a landmark adds to a part beside its boxes' difficulty, and what a line that its edge
// cuts takes away (ours); it has at least so many boxes on each side.
const (
	worthOfMark = 3.0
	priceOfCut  = 0.5
	leastSide   = 2
)

// BestPart returns the part to do well where the time does not do for the whole picture: of
// all that can be drawn in some minutes the one with the most detail and landmarks, cutting
// few lines at its edge. left tells how many minutes a box still takes, 0 for one that is
// drawn. ok is false where not even four boxes fit, or all of them do.
func (r Reading) BestPart(p grid.Plan, pins []Pin, left func(label string) float64, minutes float64) (best Part, ok bool) {
	b := newBoard(r, p, pins, left)
	if b.sum(b.minutes, 0, 0, b.columns, b.rows) <= minutes {
		return best, false
	}
	worth := 0.0
	for x := range b.columns {
		for y := range b.rows {
			for x2 := x + leastSide; x2 <= b.columns; x2++ {
				for y2 := y + leastSide; y2 <= b.rows; y2++ {
					time := b.sum(b.minutes, x, y, x2, y2)
					if time > minutes {
						break // taller takes longer
					}
					detail := b.sum(b.detail, x, y, x2, y2)
					w := detail + worthOfMark*b.sum(b.weight, x, y, x2, y2) - priceOfCut*b.cut(x, y, x2, y2)
					if !ok || w > worth {
						ok, worth = true, w
						best = Part{p.Cell(x, y).Label, p.Cell(x2-1, y2-1).Label, (x2 - x) * (y2 - y), time, detail, int(b.sum(b.pins, x, y, x2, y2))}
					}
				}
			}
		}
	}
	if all := b.sum(b.detail, 0, 0, b.columns, b.rows); all > 0 {
		best.Detail /= all
	}
	return best, ok
}

// blocks holds what boxes have, so that any rectangle of them is summed at once: each list
// has the sums over all boxes above and left of a corner (summed-area table, Crow 1984).
type blocks struct {
	columns, rows                 int
	detail, minutes, weight, pins []float64
	across, down                  []float64 // lines that cross the right side of a box, and its bottom
}

func newBoard(r Reading, p grid.Plan, pins []Pin, left func(string) float64) blocks {
	b := blocks{columns: p.Grid.Columns, rows: p.Grid.Rows}
	n := b.columns * b.rows
	detail, minutes, weight, count, across, down := make([]float64, n), make([]float64, n), make([]float64, n), make([]float64, n), make([]float64, n), make([]float64, n)
	for _, box := range r.Boxes {
		c, there := p.Find(box.Label)
		if !there || box.Part != 0 {
			continue
		}
		i := c.Row*b.columns + c.Column
		detail[i] = box.Difficulty
		for _, x := range box.Crossings {
			switch x.Side {
			case Right:
				across[i]++
			case Bottom:
				down[i]++
			}
		}
	}
	for _, c := range p.Cells() {
		minutes[c.Row*b.columns+c.Column] = left(c.Label)
	}
	for _, pin := range pins {
		if pin.At.X < 0 || pin.At.Y < 0 || pin.At.X > p.Reference.Width || pin.At.Y > p.Reference.Height {
			continue // on a part of the picture that the frame leaves out
		}
		c := p.CellAt(p.ToSheet(pin.At))
		i := c.Row*b.columns + c.Column
		weight[i], count[i] = weight[i]+pin.Weight, count[i]+1
	}
	b.detail, b.minutes, b.weight, b.pins, b.across, b.down = b.summed(detail), b.summed(minutes), b.summed(weight), b.summed(count), b.summed(across), b.summed(down)
	return b
}

func (b blocks) summed(v []float64) []float64 {
	wide := b.columns + 1
	out := make([]float64, wide*(b.rows+1))
	for y := range b.rows {
		for x := range b.columns {
			out[(y+1)*wide+x+1] = v[y*b.columns+x] + out[y*wide+x+1] + out[(y+1)*wide+x] - out[y*wide+x]
		}
	}
	return out
}

// sum returns what the boxes from column x and row y to before x2 and y2 have together.
func (b blocks) sum(of []float64, x, y, x2, y2 int) float64 {
	wide := b.columns + 1
	return of[y2*wide+x2] - of[y*wide+x2] - of[y2*wide+x] + of[y*wide+x]
}

// cut returns how many lines the edge of such boxes cuts, within the picture.
func (b blocks) cut(x, y, x2, y2 int) (n float64) {
	if x > 0 {
		n += b.sum(b.across, x-1, y, x, y2)
	}
	if x2 < b.columns {
		n += b.sum(b.across, x2-1, y, x2, y2)
	}
	if y > 0 {
		n += b.sum(b.down, x, y-1, x2, y)
	}
	if y2 < b.rows {
		n += b.sum(b.down, x, y2-1, x2, y2)
	}
	return n
}
