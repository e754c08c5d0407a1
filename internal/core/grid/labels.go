package grid

import (
	"strconv"
	"strings"
)

// Labels says how cells are named: letters on one axis, numbers on the other.
type Labels struct {
	Letters string `json:"letters"`         // "across" or "down": the axis that has the letters
	First   string `json:"first"`           // the label of the first cell, A1
	Start   string `json:"start,omitempty"` // the corner of the first cell; top left where it is missing

	columns, rows int // of the grid, to count from another corner
}

// Corners at which the labels may start.
var Corners = []string{"top left", "top right", "bottom left", "bottom right"}

// flip exchanges places counted from the start corner and from the top left; it undoes itself.
func (l Labels) flip(column, row int) (int, int) {
	if strings.HasSuffix(l.Start, "right") {
		column = l.columns - 1 - column
	}
	if strings.HasPrefix(l.Start, "bottom") {
		row = l.rows - 1 - row
	}
	return column, row
}

// Letters on the axis named by Labels.Letters.
const (
	Across = "across"
	Down   = "down"
)

// Label returns the name of the cell, such as C4; column and row from 0.
func (l Labels) Label(column, row int) string {
	column, row = l.flip(column, row)
	return l.letter(column, row) + strconv.Itoa(l.number(column, row)+1)
}

func (l Labels) letter(column, row int) string {
	if l.Letters == Down {
		return letters(row)
	}
	return letters(column)
}

func (l Labels) number(column, row int) int {
	if l.Letters == Down {
		return column
	}
	return row
}

// Column and Row return what stands at the head of a column or row, from 0.
func (l Labels) Column(column int) string {
	column, _ = l.flip(column, 0)
	if l.Letters == Down {
		return strconv.Itoa(column + 1)
	}
	return letters(column)
}

// Row returns what stands beside a row, from 0.
func (l Labels) Row(row int) string {
	_, row = l.flip(0, row)
	if l.Letters == Down {
		return letters(row)
	}
	return strconv.Itoa(row + 1)
}

// Place returns the column and row, from 0, of a label in either case.
func (l Labels) Place(label string) (column, row int, ok bool) {
	label = strings.ToUpper(strings.TrimSpace(label))
	cut := strings.IndexFunc(label, func(r rune) bool { return r >= '0' && r <= '9' })
	if cut < 1 || len(label) > 8 {
		return 0, 0, false
	}
	letter := 0
	for _, r := range label[:cut] {
		if r < 'A' || r > 'Z' {
			return 0, 0, false
		}
		letter = letter*26 + int(r-'A') + 1
	}
	number, err := strconv.Atoi(label[cut:])
	if err != nil || number < 1 || strconv.Itoa(number) != label[cut:] {
		return 0, 0, false
	}
	column, row = letter-1, number-1
	if l.Letters == Down {
		column, row = row, column
	}
	column, row = l.flip(column, row)
	return column, row, column >= 0 && row >= 0
}

// letters returns A to Z, then AA, AB and so on.
func letters(n int) string {
	s := ""
	for n++; n > 0; n = (n - 1) / 26 {
		s = string(rune('A'+(n-1)%26)) + s
	}
	return s
}
