package grid

import (
	"math"

	"zestysketch/internal/core/measure"
)

// slack is what a ruler cannot show: a remainder narrower than this is none.
const slack = 0.05

// Make returns the plan for a request. The error is Problems, one for every
// field that cannot be used. A plan that can be reckoned but should not be
// drawn is returned with a Finding of level Stop.
func Make(r Request) (Plan, error) {
	c, err := r.parse()
	if err != nil {
		return Plan{}, err
	}
	p := Plan{
		Format: Format, Name: r.Name, Units: c.units, Method: c.method, Typed: r,
		Reference: Reference{tidy(float64(c.reference.W)), tidy(float64(c.reference.H))},
	}
	p.Frame = centred(r.Picture, c.reference)
	p.Grid.Labels = Labels{c.letters, "A1"}
	p.Grid.Split = map[string]int{}
	p.size(c)
	if err := p.divide(c); err != nil {
		return Plan{}, err
	}
	p.derive()
	p.Findings = p.find()
	return p, nil
}

// centred returns the largest frame of the printed ratio in the middle of the
// picture, nil for no picture. A ratio that differs by less than half a per
// cent is rounding, and the whole picture is used.
func centred(picture [2]int, printed measure.Size) *Frame {
	if picture[0] <= 0 || picture[1] <= 0 {
		return nil
	}
	w, h := float64(picture[0]), float64(picture[1])
	f := &Frame{Picture: picture, Size: [2]float64{w, h}}
	ratio := float64(printed.W / printed.H)
	switch have := w / h; {
	case have > ratio*1.005:
		f.Size[0] = tidy(h * ratio)
	case have < ratio/1.005:
		f.Size[1] = tidy(w / ratio)
	}
	f.Min = [2]float64{tidy((w - f.Size[0]) / 2), tidy((h - f.Size[1]) / 2)}
	return f
}

// size settles the sheet, the stock as it lies, and the working.
func (p *Plan) size(c choice) {
	sheet, stock := c.reference.Scale(c.scale), c.paper
	p.Working = []string{}
	if c.scale == 0 {
		var solved measure.Proportion
		solved, stock = fit(c)
		sheet, p.Working = solved.Sheet, solved.Working
	} else if !stock.Holds(sheet) && stock.Turned().Holds(sheet) {
		stock = stock.Turned()
	}
	if stock == (measure.Size{}) {
		stock = sheet
	}
	p.Sheet.Width, p.Sheet.Height = tidy(float64(sheet.W)), tidy(float64(sheet.H))
	p.Sheet.Stock = [2]float64{tidy(float64(stock.W)), tidy(float64(stock.H))}
}

// fit solves the sheet from the paper, rounds the side that was worked out,
// and returns the paper the way round it is used.
func fit(c choice) (measure.Proportion, measure.Size) {
	frame, stock := c.reference, c.paper
	if c.fit == "inside" && inside(frame, stock.Turned()) > inside(frame, stock)*1.001 {
		stock = stock.Turned()
	}
	byWidth := c.fit == "width" || c.fit == "inside" && stock.W/frame.W <= stock.H/frame.H
	if byWidth {
		solved := measure.SolveHeight(frame, stock.W, c.units)
		solved.Sheet.H = rounded(solved.Sheet.H, c.round)
		return solved, stock
	}
	solved := measure.SolveWidth(frame, stock.H, c.units)
	solved.Sheet.W = rounded(solved.Sheet.W, c.round)
	return solved, stock
}

// inside returns the largest scale at which frame lies within stock.
func inside(frame, stock measure.Size) float64 {
	return math.Min(float64(stock.W/frame.W), float64(stock.H/frame.H))
}

// rounded never rounds a side away.
func rounded(l, step measure.Length) measure.Length {
	if r := l.RoundTo(step); r > 0 {
		return r
	}
	return l
}

// divide settles counts, cells and remainders.
func (p *Plan) divide(c choice) error {
	kx, ky := p.Sheet.Width/p.Reference.Width, p.Sheet.Height/p.Reference.Height
	g := &p.Grid
	if p.Method == Squares {
		square := float64(c.referenceSquare)
		switch {
		case square == 0 && c.sheetSquare > 0:
			square = float64(c.sheetSquare) / kx
		case square == 0:
			square = float64(ProposeSquare(c.reference, c.units))
		}
		if square > math.Max(p.Reference.Width, p.Reference.Height)+slack {
			return Problems{{"reference_square", "the square is larger than the picture; use one smaller than " + p.Text(math.Min(p.Reference.Width, p.Reference.Height))}}
		}
		g.ReferenceCell = [2]float64{tidy(square), tidy(square)}
		g.Columns, g.ReferenceRemainder[0] = strips(p.Reference.Width, square)
		g.Rows, g.ReferenceRemainder[1] = strips(p.Reference.Height, square)
	} else {
		g.Columns, g.Rows = 4, 4
		if p.Method == Parts {
			g.Columns, g.Rows = c.parts[0], c.parts[1]
		}
		g.ReferenceCell = [2]float64{tidy(p.Reference.Width / float64(g.Columns)), tidy(p.Reference.Height / float64(g.Rows))}
	}
	if g.Columns > mostCells || g.Rows > mostCells || p.Count() > mostCells {
		field := "reference_square"
		if p.Method == Parts {
			field = "parts"
		}
		var bad Problems
		bad.add(field, "that makes %d × %d boxes; use fewer than %d in all", g.Columns, g.Rows, mostCells)
		return bad
	}
	g.SheetCell = [2]float64{tidy(g.ReferenceCell[0] * kx), tidy(g.ReferenceCell[1] * ky)}
	g.SheetRemainder = [2]float64{tidy(g.ReferenceRemainder[0] * kx), tidy(g.ReferenceRemainder[1] * ky)}
	return nil
}

// strips returns how many strips a side makes, a remainder counted as one, and
// the remainder's width, 0 where the square divides the side.
func strips(side, square float64) (count int, remainder float64) {
	count = int(math.Floor(side/square + slack/square))
	remainder = side - float64(count)*square
	if count == 0 {
		return 1, tidy(side)
	}
	if remainder <= slack {
		return count, 0
	}
	return count + 1, tidy(remainder)
}

// derive fills in what follows from sizes and counts: scale, squash and marks.
func (p *Plan) derive() {
	p.Scale = [2]float64{p.Sheet.Width / p.Reference.Width, p.Sheet.Height / p.Reference.Height}
	p.SquashPercent = tidy(measure.Squash(p.ReferenceSize(), p.SheetSize()))
	g := p.Grid
	p.Marks = Marks{
		ReferenceX: lines(g.Columns, g.ReferenceCell[0], p.Reference.Width),
		ReferenceY: lines(g.Rows, g.ReferenceCell[1], p.Reference.Height),
		SheetX:     lines(g.Columns, g.SheetCell[0], p.Sheet.Width),
		SheetY:     lines(g.Rows, g.SheetCell[1], p.Sheet.Height),
	}
}

// lines returns count+1 marks, each measured from 0 so that errors do not add
// up, the last one on the far edge.
func lines(count int, cell, side float64) []float64 {
	marks := make([]float64, count+1)
	for i := range count {
		marks[i] = tidy(float64(i) * cell)
	}
	marks[count] = side
	return marks
}

// EasySquares returns the squares that a ruler in unit u shows well (common practice).
func EasySquares(u measure.Unit) []measure.Length {
	sizes, unit := []float64{0.5, 1, 1.5, 2, 2.5, 3, 4, 5, 6, 8, 10}, measure.Length(10)
	if u == measure.Inch {
		sizes, unit = []float64{0.5, 0.75, 1, 1.5, 2, 3, 4, 6}, measure.MillimetresPerInch
	}
	squares := make([]measure.Length, len(sizes))
	for i, s := range sizes {
		squares[i] = measure.Length(s) * unit
	}
	return squares
}

// A beginner's grid has about 16 to 35 cells (common practice).
const beginnerLeast, beginnerMost = 16, 35

// ProposeSquare returns the easy square that makes a beginner's grid on the
// frame, preferring one that divides both sides. A frame too small or too
// large for every easy square is divided in five along its longer side.
func ProposeSquare(frame measure.Size, u measure.Unit) measure.Length {
	best, least := measure.Length(0), math.Inf(1)
	for _, square := range EasySquares(u) {
		columns, restX := strips(float64(frame.W), float64(square))
		rows, restY := strips(float64(frame.H), float64(square))
		if columns > mostCells || rows > mostCells {
			continue
		}
		cost := math.Abs(math.Log(float64(columns*rows) / 24))
		if n := columns * rows; n < beginnerLeast || n > beginnerMost {
			cost += 1
		}
		for _, rest := range []float64{restX, restY} {
			if rest > 0 {
				cost += 0.25
			}
		}
		if cost < least {
			best, least = square, cost
		}
	}
	if best == 0 || least > 2 {
		return max(frame.W, frame.H) / 5
	}
	return best
}
