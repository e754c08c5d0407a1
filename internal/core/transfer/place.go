package transfer

import (
	"fmt"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/lesson"
	"zestysketch/internal/core/plane"
)

// Placed returns where a drawing of a plan's grid lies on the final sheet, in mm from its
// upper left corner; ok is false where the grid fills the sheet, or does not fit it.
func Placed(p grid.Plan) (on plane.Rect, ok bool) {
	if p.CutOut() && p.SheetSize() == p.StockSize() {
		return plane.Rect{}, false
	}
	corner := p.Sheet.Origin
	if p.CutOut() {
		corner = plane.Pt((p.Sheet.Stock[0]-p.Sheet.Width)/2, (p.Sheet.Stock[1]-p.Sheet.Height)/2)
	}
	return plane.Rect{Min: corner, Max: corner.Add(plane.Pt(p.Sheet.Width, p.Sheet.Height))}, corner.X >= 0 && corner.Y >= 0
}

// Place says where a drawing of a plan's grid goes on the final sheet, in the
// plan's units: the grid's corners measured from the paper's edges. It is empty
// where the grid fills the sheet. A part that alone is gridded, such as a head,
// has its place so that the rest fits.
func Place(p grid.Plan) []string {
	on, ok := Placed(p)
	if !ok {
		return nil
	}
	return []string{
		fmt.Sprintf("On the final paper, mark the drawing's top left corner: %s from the left edge and %s from the top.", p.Text(on.Min.X), p.Text(on.Min.Y)),
		fmt.Sprintf("Mark its top right corner %s further along, at the same height, and its bottom left corner %s below.", p.Text(p.Sheet.Width), p.Text(p.Sheet.Height)),
		fmt.Sprintf("Lay the drawing with its corners on these marks. Free beside it: %s on the right and %s below.", p.Text(p.Sheet.Stock[0]-on.Max.X), p.Text(p.Sheet.Stock[1]-on.Max.Y)),
	}
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
