package transfer

import (
	"fmt"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/lesson"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/plane"
)

// Final is the final sheet and where the drawing goes on it. The zero one is of nobody.
type Final struct {
	Paper     measure.Size
	Drawing   measure.Size
	Left, Top measure.Length // of the drawing's corner from the paper's
	Strip     measure.Length // kept free at the bottom for trying materials
	Units     measure.Unit
}

// NewFinal returns the final sheet of a plan's own paper with the drawing, so many times as large, where the plan
// has it, or in the middle where the plan cuts it out; or, where that is too small, paper as large as the drawing.
func NewFinal(p grid.Plan, times float64) Final {
	f := Final{Paper: p.StockSize(), Drawing: p.SheetSize().Scale(times), Left: measure.Length(p.Sheet.Origin.X), Top: measure.Length(p.Sheet.Origin.Y),
		Strip: measure.Length(p.Sheet.Strip), Units: p.Units}
	switch {
	case !f.Paper.Holds(f.Drawing):
		f = Final{Paper: f.Drawing, Drawing: f.Drawing, Units: p.Units}
	case p.CutOut() || times != 1:
		f.Centre()
	}
	return f
}

// Centre puts the drawing in the middle of what the strip leaves, to a division of the ruler.
func (f *Final) Centre() {
	step := f.Units.Step()
	f.Left, f.Top = ((f.Paper.W - f.Drawing.W) / 2).RoundTo(step), ((f.Paper.H - f.Strip - f.Drawing.H) / 2).RoundTo(step)
}

// Check says what of a final sheet cannot be. The error wraps ErrWish.
func (f Final) Check() error {
	const hair = 0.05
	switch {
	case f.Drawing.W > f.Paper.W+hair || f.Drawing.H > f.Paper.H-f.Strip+hair:
		return fmt.Errorf("%w: the drawing of %s does not go on %s with a strip of %s; take larger paper", ErrWish, f.Drawing.Text(f.Units), f.Paper.Text(f.Units), f.Strip.Text(f.Units))
	case f.Left < -hair || f.Top < -hair || f.Left+f.Drawing.W > f.Paper.W+hair || f.Top+f.Drawing.H > f.Paper.H-f.Strip+hair:
		return fmt.Errorf("%w: at %s from the left and %s from the top the drawing of %s would lie over the edge or the strip; move it in", ErrWish,
			f.Left.Text(f.Units), f.Top.Text(f.Units), f.Drawing.Text(f.Units))
	}
	return nil
}

// Fills reports whether the drawing is as large as the paper: there is nothing to place.
func (f Final) Fills() bool { return f.Drawing.Holds(f.Paper) }

// On returns where the drawing lies on the paper, in mm.
func (f Final) On() plane.Rect {
	at := plane.Pt(float64(f.Left), float64(f.Top))
	return plane.Rect{Min: at, Max: at.Add(plane.Pt(float64(f.Drawing.W), float64(f.Drawing.H)))}
}

// Say says where a drawing goes on the final sheet: its corners measured from the paper's edges, in divisions of a
// ruler that add up to the paper. It is empty where the drawing fills the sheet.
func (f Final) Say() []string {
	if f.Fills() {
		return nil
	}
	step, text := f.Units.Step(), func(l measure.Length) string { return l.Text(f.Units) }
	left, top, w, h := f.Left.RoundTo(step), f.Top.RoundTo(step), f.Drawing.W.RoundTo(step), f.Drawing.H.RoundTo(step)
	words := []string{
		fmt.Sprintf("On the final paper, mark the drawing's top left corner: %s from the left edge and %s from the top.", text(left), text(top)),
		fmt.Sprintf("Mark its top right corner %s further along, at the same height, and its bottom left corner %s below.", text(w), text(h)),
		fmt.Sprintf("Lay the drawing with its corners on these marks. Free beside it: %s on the right and %s below.",
			text(f.Paper.W.RoundTo(step)-left-w), text(f.Paper.H.RoundTo(step)-top-h)),
	}
	if f.Strip > 0 {
		words = append(words, fmt.Sprintf("The lowest %s are for trying materials.", text(f.Strip)))
	}
	return append(words, "Settle and cut the paper's edges last of all.")
}

// Cautions returns what to take care of on this way, and last the sentence that
// defers to the school.
func (way Way) Cautions(b Backing) []string {
	var tools []lesson.Tool
	for _, t := range way.Tools {
		switch t {
		case LightTable, Lamp:
			tools = append(tools, lesson.LightBox)
		case Window:
			tools = append(tools, lesson.Window)
		}
	}
	if way.shades && b.Soft {
		tools = append(tools, lesson.Dust)
	}
	return lesson.Cautions(append(tools, lesson.Originals)...)
}

// Shades reports whether something is rubbed off on the final sheet.
func (way Way) Shades() bool { return way.shades }
