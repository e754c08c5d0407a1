package lesson

import (
	"strconv"
	"strings"
)

// partMark begins the label of a part with a name; no box is called so.
const partMark = "p-"

// Counted is something that progress is counted in where that is not boxes.
type Counted struct{ Label, Name string }

// Counts returns what the road counts progress in by name, none where it counts the boxes of
// the plan.
func (r Road) Counts() (parts []Counted) {
	if !r.Way.Named() {
		return nil
	}
	for i, name := range r.Parts {
		parts = append(parts, Counted{partMark + strconv.Itoa(i+1), name})
	}
	return parts
}

// IsPart reports whether a label is of a part with a name, and not of a box.
func IsPart(label string) bool { return strings.HasPrefix(label, partMark) }

// Unit returns what progress is counted in.
func (r Road) Unit() Unit {
	if r.Way.Named() && len(r.Parts) == 0 {
		return ByBox.Unit()
	}
	return r.Way.Unit()
}
