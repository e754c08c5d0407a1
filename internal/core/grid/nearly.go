package grid

import (
	"fmt"
	"math"

	"zestysketch/internal/core/measure"
)

// How far a print may be changed and a picture enlarged otherwise to be called
// nearly the same (ours).
const nearPrint, nearScale = 0.16, 0.25

// evenFinding says of a plan with a remainder which sizes near its own come out
// even, if there are such.
func evenFinding(p Plan) (Finding, bool) {
	if p.Method != Squares || !p.CutOut() || p.Grid.ReferenceRemainder == [2]float64{} || p.Typed.Remainder == string(Trimmed) {
		return Finding{}, false
	}
	best, least := Proposal{}, math.Inf(1)
	easy := EasySquares(p.Units)
	for _, square := range easy {
		p.near(square, easy, func(q Proposal) {
			if q.Cost < least {
				best, least = q, q.Cost
			}
		})
	}
	if math.IsInf(least, 1) {
		return Finding{}, false
	}
	mend := map[string]string{"reference": best.Picture.Text(p.Units), "reference_square": best.Square.Text(p.Units), "sheet_square": best.Sheet.Text(p.Units),
		"scale": "", "round": "", "fit": "inside", "remainder": "", "split": ""}
	if p.Frame != nil {
		mend["frame"] = p.Frame.trimmed(best.Trim).String()
	}
	say := "Squares of another size come out even"
	if was, now := p.ReferenceSize().Text(p.Units), best.Picture.Text(p.Units); was != now {
		say = fmt.Sprintf("Nearly: print the picture %s instead of %s, and squares come out even", now, was)
	}
	return Finding{Code: "even", Level: Note,
		Message: fmt.Sprintf("%s: %d × %d of %s, on the sheet %s.", say, best.Columns, best.Rows, best.Square.Text(p.Units), best.Sheet.Text(p.Units)), Mend: mend}, true
}

// near finds the even grids of a square that are near the plan's own, each with
// how far it lies from it as its cost.
func (p *Plan) near(square measure.Length, easy []measure.Length, found func(Proposal)) {
	stock := p.StockSize()
	was, k := p.ReferenceSize(), (p.Scale[0]+p.Scale[1])/2
	a := Advice{Wish: Wish{Units: p.Units}, Frame: p.Frame, Shape: float64(was.W / was.H)}
	if p.Frame != nil {
		a.Shape = p.Frame.Size[0] / p.Frame.Size[1]
	}
	w, h := math.Floor(float64(was.W/square)), math.Floor(float64(was.H/square))
	for _, n := range [][2]float64{{w, h}, {w + 1, h}, {w, h + 1}, {w + 1, h + 1}} {
		if min(n[0], n[1]) < 1 || n[0]*n[1] < fewestBoxes || n[0]*n[1] > 2*detailedMost {
			continue
		}
		print := measure.Size{W: square * measure.Length(n[0]), H: square * measure.Length(n[1])}
		moved := math.Abs(math.Log(area(print)/area(was))) / 2
		if moved > nearPrint {
			continue
		}
		trim, ok := a.trim(n[0] / n[1])
		if !ok {
			continue
		}
		for _, on := range easy {
			scale := float64(on / square)
			if scale < max(1-measure.SameWithin, k/(1+2*nearScale)) || scale > k*(1+2*nearScale) {
				continue // far from it, before anything is worked out
			}
			other := math.Abs(math.Log(scale / k))
			if sheet := print.Scale(scale); other <= nearScale && (stock.Holds(sheet) || stock.Turned().Holds(sheet)) {
				boxes := math.Abs(math.Log(n[0] * n[1] / float64(p.Count())))
				found(Proposal{Candidate: Candidate{Method: Squares, Square: square, Sheet: on, Columns: int(n[0]),
					Rows: int(n[1]), Cost: moved + other + boxes/2 + trim[0] + trim[1] + trim[2] + trim[3]},
					Picture: print, Trim: trim, Scale: scale})
			}
		}
	}
}
