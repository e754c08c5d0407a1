package measure

import "math"

// Rounding is a sheet whose worked-out side was rounded to something easy to
// cut, with what that costs.
type Rounding struct {
	Step   Length  // the side is a multiple of this
	Sheet  Size    // after rounding
	Squash float64 // per cent, as Squash
	Offcut Length  // what is cut off the stock along the rounded side
}

// RoundSteps returns the steps to which people round in unit u: 1/4, 1/2 and
// 1 in, or 5 and 10 mm.
func RoundSteps(u Unit) []Length {
	if u == Inch {
		return []Length{MillimetresPerInch / 4, MillimetresPerInch / 2, MillimetresPerInch}
	}
	return []Length{5, 10}
}

// Roundings returns the sheets nearest below and above the worked-out one for
// every step, least squash first and without repeats. byHeight says that the
// height was worked out and is rounded, else the width. What the stock cannot
// hold, and what would be nothing, is left out.
func Roundings(frame, sheet, stock Size, byHeight bool, u Unit) []Rounding {
	side, whole := sheet.W, stock.W
	if byHeight {
		side, whole = sheet.H, stock.H
	}
	var list []Rounding
	for _, step := range RoundSteps(u) {
		down := Length(math.Floor(float64(side/step)+1e-9)) * step
		for _, to := range []Length{down, down + step} {
			if to <= 0 || to > whole+0.01 || to == down+step && side-down < 0.01 {
				continue
			}
			r := Rounding{Step: step, Sheet: sheet, Offcut: whole - to}
			if byHeight {
				r.Sheet.H = to
			} else {
				r.Sheet.W = to
			}
			r.Squash = Squash(frame, r.Sheet)
			list = insert(list, r)
		}
	}
	return list
}

// insert keeps the list in rising order of squash; a size that is there
// already keeps its coarsest step, which is the easiest to say.
func insert(list []Rounding, r Rounding) []Rounding {
	for i, other := range list {
		if math.Abs(float64(other.Sheet.W-r.Sheet.W))+math.Abs(float64(other.Sheet.H-r.Sheet.H)) < 0.01 {
			list[i].Step = max(other.Step, r.Step)
			return list
		}
	}
	at := len(list)
	for at > 0 && math.Abs(list[at-1].Squash) > math.Abs(r.Squash)+1e-9 {
		at--
	}
	list = append(list, Rounding{})
	copy(list[at+1:], list[at:])
	list[at] = r
	return list
}
