package grid

import (
	"strconv"

	"zestysketch/internal/core/measure"
)

// First returns the request with which a picture that nobody has planned yet
// starts: a print that fits office paper, on common drawing paper (common practice).
func First(name string, picture [2]int) Request {
	r := Request{Name: name, Units: string(measure.Inch), Picture: picture, Reference: "7 in", Paper: "12 x 18 in",
		Fit: "inside", Method: string(Squares), Letters: Across}
	if picture[0] > picture[1] {
		r.Reference = "9 in"
	}
	return r
}

// Asked returns the wishes a plan was made from, with the square written out
// where one was proposed and another would be proposed today: looking at a kept
// plan does not change it.
func (p Plan) Asked() Request {
	r := p.Typed
	if p.Method != Squares || r.ReferenceSquare != "" || r.SheetSquare != "" {
		return r
	}
	if again, err := Make(r); err != nil || !again.Alike(p) {
		r.ReferenceSquare = mm(p.Grid.ReferenceCell[0])
	}
	return r
}

// leastKept is the share of a new picture that a plan made again for it must
// still show; below that the print's shape is given up rather than the picture (ours).
const leastKept = 0.6

// For returns the plan made again for another picture: from the same wishes
// where they suit its shape, else with the print as long as it was and as high
// as the picture makes it. What was said of parts of the old picture, its frame
// and crowded boxes, is dropped. The error is Problems.
func (p Plan) For(picture [2]int) (Plan, error) {
	r := p.Typed
	r.Picture, r.Frame, r.Split = picture, "", ""
	if again, err := Make(r); err == nil && again.shown() >= leastKept {
		return again, nil
	}
	width := max(p.Reference.Width, p.Reference.Height)
	if picture[0] < picture[1] {
		width *= float64(picture[0]) / float64(picture[1])
	}
	r.Reference, r.Round, r.ReferenceSquare, r.SheetSquare = mm(width), "", "", ""
	return Make(r)
}

// shown returns the share of the picture that the frame shows, 1 without one.
func (p Plan) shown() float64 {
	if p.Frame == nil {
		return 1
	}
	return p.Frame.Size[0] * p.Frame.Size[1] / float64(p.Frame.Picture[0]*p.Frame.Picture[1])
}

// mm writes millimetres so that every unit reads them as such.
func mm(v float64) string { return strconv.FormatFloat(v, 'f', -1, 64) + "mm" }

// Coarser returns the wishes of a plan with half as many boxes each way, of the
// same drawing on the same paper.
func (p Plan) Coarser() Request { return p.regrid(2, (p.Grid.Columns+1)/2, (p.Grid.Rows+1)/2) }

// Finer returns the wishes of a plan with twice as many boxes each way, of the same drawing
// on the same paper.
func (p Plan) Finer() Request { return p.regrid(0.5, 2*p.Grid.Columns, 2*p.Grid.Rows) }

// regrid returns the wishes of a plan whose squares are so many times as large, or which has
// so many parts.
func (p Plan) regrid(times float64, columns, rows int) Request {
	r := p.Typed
	r.Split, r.Method = "", string(p.Method)
	if p.Method != Squares {
		r.Parts = strconv.Itoa(columns) + "x" + strconv.Itoa(rows)
		return r
	}
	if r.ReferenceSquare != "" && r.SheetSquare != "" {
		r.SheetSquare = mm(times * p.Grid.SheetCell[0])
	} else {
		r.SheetSquare = "" // the paper settles the size
	}
	r.ReferenceSquare = mm(times * p.Grid.ReferenceCell[0])
	if r.Remainder == string(Trimmed) { // is trimmed already, and need not be a whole number of these
		r.Remainder, r.Reference = string(AtEnd), mm(p.Reference.Width)+" x "+mm(p.Reference.Height)
		if p.Frame != nil {
			r.Frame = p.Frame.String()
		}
	}
	return r
}
