package grid

// Hand is the one that somebody draws with.
type Hand string

// The hands. Any other word counts as the right one.
const (
	RightHand Hand = "right"
	LeftHand  Hand = "left"
)

// Order returns the cells in the order of drawing: row by row from the top,
// from the left for the right-handed and from the right for the left-handed,
// so that the hand does not smear (common practice).
func (p Plan) Order(hand Hand) []Cell {
	cells := p.Cells()
	if hand != LeftHand {
		return cells
	}
	for row := range p.Grid.Rows {
		line := cells[row*p.Grid.Columns : (row+1)*p.Grid.Columns]
		for i, j := 0, len(line)-1; i < j; i, j = i+1, j-1 {
			line[i], line[j] = line[j], line[i]
		}
	}
	return cells
}
