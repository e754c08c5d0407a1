package grid

import (
	"fmt"
	"math"
	"strings"

	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/plane"
)

// Make returns the plan for a request. The error is Problems, one for every
// field that cannot be used. A plan that can be reckoned but should not be
// drawn is returned with a Finding of level Stop.
func Make(r Request) (Plan, error) {
	for _, f := range r.Fields() {
		*f.Value = strings.ToValidUTF8(*f.Value, "\uFFFD") // as its file would have it
	}
	c, err := r.parse()
	if err != nil {
		return Plan{}, err
	}
	p := Plan{
		Format: Format, Name: r.Name, Units: c.units, Method: c.method, Typed: r,
	}
	p.Grid.Labels = Labels{Letters: c.letters, First: "A1"}
	if c.start != Corners[0] {
		p.Grid.Labels.Start = c.start
	}
	if c.hand == LeftHand {
		p.Hand = c.hand
	}
	p.Line, p.Grid.Split, p.Ruler = c.line, c.split, c.ruler
	if p.Line.Color == "auto" {
		p.Line.Color = Palette[0].Name // until WithContrast has looked at the picture
	}
	if err := p.frame(&c); err != nil {
		return Plan{}, err
	}
	if err := p.size(c); err != nil {
		return Plan{}, err
	}
	if err := p.divide(c); err != nil {
		return Plan{}, err
	}
	p.derive()
	for label := range c.split {
		if _, ok := p.Find(label); !ok {
			return Plan{}, Problems{{"split", "there is no box " + label + " in this grid"}}
		}
	}
	p.Findings = append(p.find(), p.Findings...)
	return p, nil
}

// frame settles the frame, trimmed to whole squares where that is wished, and
// the size at which it is printed.
func (p *Plan) frame(c *choice) error {
	p.Frame = c.frame
	if p.Frame != nil {
		ratio := float64(c.reference.W / c.reference.H)
		cut := p.Frame.CutTo(ratio)
		// A size with the whole picture's shape asks for the whole picture, whatever sizes before trimmed off it.
		if all := p.Frame.Untrimmed(); cut != *p.Frame && all.CutTo(ratio) == *all {
			cut, p.Frame = *all, all
		}
		if f, found := cropFinding(*p.Frame, cut, c.reference.Text(c.units)); found {
			p.Findings = append(p.Findings, f)
		}
		p.Frame = &cut
	}
	if c.method == Squares && c.referenceSquare == 0 && (c.sheetSquare == 0 || c.remainder == Trimmed) {
		c.referenceSquare = proposeSquare(c.reference, c.wish())
	}
	p.snap(c)
	if square := c.referenceSquare; c.remainder == Trimmed && c.method == Squares {
		whole := measure.Size{W: wholeSquares(c.reference.W, square), H: wholeSquares(c.reference.H, square)}
		if whole.W == 0 || whole.H == 0 {
			return Problems{{"reference_square", "not even one square fits; use one smaller than " + min(c.reference.W, c.reference.H).Text(c.units)}}
		}
		if p.Frame != nil {
			p.Frame.trimEnd(float64(whole.W/c.reference.W), float64(whole.H/c.reference.H))
		}
		c.reference = whole
	}
	p.Reference = Reference{tidy(float64(c.reference.W)), tidy(float64(c.reference.H))}
	return nil
}

// wish returns what is wished of the grid. A scale that is not settled yet is
// about what the paper allows.
func (c choice) wish() Wish {
	w := Wish{Units: c.units, Skill: c.skill, Minutes: c.minutes, Scale: c.scale}
	if w.Scale == 0 {
		w.Scale = max(inside(c.reference, c.paper), inside(c.reference, c.paper.Turned()))
	}
	return w
}

// snap prints the picture a hair larger or smaller where that makes its squares
// come out even: a strip thinner than half a division of the ruler is none.
func (p *Plan) snap(c *choice) {
	if c.method != Squares || c.referenceSquare == 0 {
		return
	}
	was := c.reference
	for _, side := range []*measure.Length{&c.reference.W, &c.reference.H} {
		if whole := c.referenceSquare * measure.Length(math.Round(float64(*side/c.referenceSquare))); whole > 0 && math.Abs(float64(whole-*side)) < float64(c.units.Step()/2) {
			*side = whole
		}
	}
	if !was.Holds(c.reference) || !c.reference.Holds(was) {
		p.Findings = append(p.Findings, Finding{Code: codeSnap, Level: Note,
			Message: fmt.Sprintf("The picture is printed %s, a hair off what was asked, so that whole squares fit.", c.reference.Text(c.units))})
	}
}

// trimEnd keeps the given shares of a frame's width and height, from its top left.
func (f *Frame) trimEnd(w, h float64) {
	middle := f.ToPicture(plane.Pt(f.Size[0]*w/2, f.Size[1]*h/2))
	f.Centre = plane.Pt(tidy(middle.X), tidy(middle.Y))
	f.Size = [2]float64{tidy(f.Size[0] * w), tidy(f.Size[1] * h)}
}

// size settles the sheet, the stock as it lies, where on it the drawing
// starts, and the working.
func (p *Plan) size(c choice) error {
	room, err := c.roomFor(p.Frame)
	if err != nil {
		return err
	}
	sheet, turned := c.reference.Scale(c.scale), false
	p.Working = []string{}
	if c.scale == 0 {
		var solved measure.Proportion
		if solved, turned = room.fit(c); solved.Sheet.W <= 0 || solved.Sheet.H <= 0 {
			return Problems{{"margin", "margins and strip leave nothing of the paper; make them smaller"}}
		}
		sheet, p.Working = solved.Sheet, solved.Working
	} else if c.paper != (measure.Size{}) {
		turned = !room.free(false).Holds(sheet) && room.free(true).Holds(sheet)
	}
	if err := c.bears(sheet); err != nil {
		return err
	}
	stock := c.paper
	if turned {
		stock = stock.Turned()
	}
	if stock == (measure.Size{}) {
		stock = sheet
	} else {
		room.place(p, c, sheet, turned)
	}
	if c.scale == 0 && p.Sheet.Origin == (plane.Point{}) { // nobody cuts a hair off
		sheet = sheet.Near(stock, c.units)
	}
	p.Sheet.Width, p.Sheet.Height = tidy(float64(sheet.W)), tidy(float64(sheet.H))
	p.Sheet.Stock = [2]float64{tidy(float64(stock.W)), tidy(float64(stock.H))}
	p.Sheet.Panels, p.Sheet.Strip, p.Sheet.Canvas = c.panels, tidy(float64(c.strip)), c.canvas
	return nil
}

// bears returns Problems where a side of the drawing is longer or shorter than
// anybody draws: of the scale, or of the paper that it follows from.
func (c choice) bears(sheet measure.Size) error {
	field, limit := "scale", ""
	if c.scale == 0 {
		field = "paper"
	}
	switch {
	case max(sheet.W, sheet.H) > mostSheet:
		limit = "at most " + mostSheet.Text(c.units)
	case min(sheet.W, sheet.H) < leastSheet:
		limit = "at least " + leastSheet.Text(c.units)
	default:
		return nil
	}
	return Problems{{field, "that makes a drawing of " + sheet.Text(c.units) + "; each side must be " + limit}}
}

// room is what the drawing may use of the paper.
type room struct {
	paper         measure.Size // one sheet, upright as named
	panels        [2]int
	margin, strip measure.Length
	whole         *measure.Part // nil unless the rest of the picture needs room too
}

func (c choice) roomFor(f *Frame) (room, error) {
	r := room{paper: c.paper, panels: c.panels, margin: c.margin, strip: c.strip}
	if c.room != "whole" || f == nil {
		return r, nil
	}
	if f.Angle != 0 || f.Mirror {
		return r, Problems{{"room", "room for the rest of the picture can only be left for an upright frame"}}
	}
	k := c.reference.W / measure.Length(f.Size[0]) // millimetres a pixel
	r.whole = &measure.Part{
		Whole: measure.Size{W: measure.Length(f.Picture[0]) * k, H: measure.Length(f.Picture[1]) * k},
		X:     measure.Length(f.Centre.X-f.Size[0]/2) * k, Y: measure.Length(f.Centre.Y-f.Size[1]/2) * k,
		Size: c.reference,
	}
	return r, nil
}

// hung returns all papers together as they hang.
func (r room) hung(turned bool) measure.Size {
	paper := r.paper
	if turned {
		paper = paper.Turned()
	}
	return measure.Size{W: paper.W * measure.Length(max(1, r.panels[0])), H: paper.H * measure.Length(max(1, r.panels[1]))}
}

// free returns what margins and strip leave.
func (r room) free(turned bool) measure.Size {
	all := r.hung(turned)
	return measure.Size{W: all.W - 2*r.margin, H: all.H - 2*r.margin - r.strip}
}

// fit solves the sheet from the paper, rounds the side that was worked out,
// and says whether the paper is turned.
func (r room) fit(c choice) (solved measure.Proportion, turned bool) {
	frame := c.reference
	if r.whole != nil {
		frame = r.whole.Whole
	}
	turned = c.fit == "inside" && inside(frame, r.free(true)) > inside(frame, r.free(false))*1.001
	free := r.free(turned)
	if r.whole != nil {
		return measure.SolveHeight(c.reference, c.reference.W*measure.Length(inside(frame, free)), c.units), turned
	}
	if c.fit == "width" || c.fit == "inside" && free.W/frame.W <= free.H/frame.H {
		solved = measure.SolveHeight(frame, free.W, c.units)
		solved.Sheet.H = c.round.round(solved.Sheet.H)
		return solved, turned
	}
	solved = measure.SolveWidth(frame, free.H, c.units)
	solved.Sheet.W = c.round.round(solved.Sheet.W)
	return solved, turned
}

// place sets the drawing's origin on the paper: at its corner, to be cut out,
// or within margins, centred in what they leave.
func (r room) place(p *Plan, c choice, sheet measure.Size, turned bool) {
	if r.margin == 0 && r.strip == 0 && r.whole == nil && r.panels == [2]int{} && !c.canvas {
		return
	}
	part := measure.Part{Whole: c.reference, Size: c.reference}
	if r.whole != nil {
		part = *r.whole
	}
	k := float64(sheet.W / c.reference.W)
	at, err := measure.PlaceOn(r.hung(turned), part, k, r.margin, r.strip, c.units)
	if err != nil {
		p.Findings = append(p.Findings, Finding{Code: codeRoom, Level: Stop, Message: sentence(err), Fix: "Enlarge less, or make the margins smaller.",
			Mend: map[string]string{"scale": "", "sheet_square": "", "fit": "inside"}})
		return
	}
	p.Sheet.Origin = plane.Pt(tidy(float64(at.X)), tidy(float64(at.Y)))
}

func sentence(err error) string {
	_, s, _ := strings.Cut(err.Error(), ": ")
	return strings.ToUpper(s[:1]) + s[1:] + "."
}

// inside returns the largest scale at which frame lies within stock.
func inside(frame, stock measure.Size) float64 {
	return math.Min(float64(stock.W/frame.W), float64(stock.H/frame.H))
}

// divide settles counts, cells and remainders.
func (p *Plan) divide(c choice) error {
	kx, ky := p.Sheet.Width/p.Reference.Width, p.Sheet.Height/p.Reference.Height
	g := &p.Grid
	if p.Method == Squares {
		square := float64(c.referenceSquare)
		if square == 0 {
			square = float64(c.sheetSquare) / kx
		}
		if square > math.Max(p.Reference.Width, p.Reference.Height)+slack {
			return Problems{{"reference_square", "the square is larger than the picture; use one smaller than " + p.Text(math.Min(p.Reference.Width, p.Reference.Height))}}
		}
		g.ReferenceCell = [2]float64{tidy(square), tidy(square)}
		g.Columns, g.ReferenceRemainder[0] = strips(p.Reference.Width, square)
		g.Rows, g.ReferenceRemainder[1] = strips(p.Reference.Height, square)
		g.remainderAt(c.remainder)
	} else {
		g.Columns, g.Rows = c.parts[0], c.parts[1]
		g.ReferenceCell = [2]float64{tidy(p.Reference.Width / float64(g.Columns)), tidy(p.Reference.Height / float64(g.Rows))}
	}
	if g.Columns > mostCells || g.Rows > mostCells || p.Count() > mostCells {
		field := "reference_square"
		if p.Method != Squares {
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

// derive fills in what follows from sizes and counts: scale, squash and marks.
func (p *Plan) derive() {
	p.Scale = [2]float64{p.Sheet.Width / p.Reference.Width, p.Sheet.Height / p.Reference.Height}
	p.SquashPercent = tidy(measure.Squash(p.ReferenceSize(), p.SheetSize()))
	g := &p.Grid
	g.Labels.columns, g.Labels.rows = g.Columns, g.Rows
	p.Marks = Marks{
		ReferenceX: lines(g.Columns, g.ReferenceCell[0], g.ReferenceRemainder[0], p.Reference.Width, g.RemainderAt),
		ReferenceY: lines(g.Rows, g.ReferenceCell[1], g.ReferenceRemainder[1], p.Reference.Height, g.RemainderAt),
		SheetX:     lines(g.Columns, g.SheetCell[0], g.SheetRemainder[0], p.Sheet.Width, g.RemainderAt),
		SheetY:     lines(g.Rows, g.SheetCell[1], g.SheetRemainder[1], p.Sheet.Height, g.RemainderAt),
	}
}
