package grid

import (
	"fmt"
	"math"
	"zestysketch/internal/core/plane"
)

// A line is seen where its contrast is high enough on most of its length (ours).
const seenOnMost = 0.6

const codeLine = "line"

// PictureLines returns the grid's inner lines as pairs of places in picture
// pixels, for measuring what they cross; nil without a frame.
func (p Plan) PictureLines() [][2]plane.Point {
	if p.Frame == nil {
		return nil
	}
	w, h := p.Reference.Width, p.Reference.Height
	var lines [][2]plane.Point
	for _, x := range p.Marks.ReferenceX[1 : len(p.Marks.ReferenceX)-1] {
		lines = append(lines, [2]plane.Point{p.ToPicture(plane.Pt(x, 0)), p.ToPicture(plane.Pt(x, h))})
	}
	for _, y := range p.Marks.ReferenceY[1 : len(p.Marks.ReferenceY)-1] {
		lines = append(lines, [2]plane.Point{p.ToPicture(plane.Pt(0, y)), p.ToPicture(plane.Pt(w, y))})
	}
	return lines
}

// WithContrast settles the line by what was measured along PictureLines: seen
// holds, for each colour of the Palette, the share of the lines' length on
// which it stands out. A colour left to the program becomes the first that is
// seen on most, or the best; where none is, the line gets a casing. drawing
// says that the picture is a line drawing: a dark grid would be taken for its
// lines, and red goes first. A colour
// the teacher chose is kept, with a finding where it is hidden.
func (p Plan) WithContrast(seen []float64, drawing bool) Plan {
	if len(seen) != len(Palette) {
		return p
	}
	best, chosen := 0, -1
	for i, share := range seen {
		if share > seen[best] {
			best = i
		}
		if chosen < 0 && share >= seenOnMost {
			chosen = i
		}
	}
	if chosen < 0 {
		chosen = best
	}
	if drawing && chosen == paletteDark && seen[paletteRed] >= seenOnMost {
		chosen = paletteRed
	}
	if auto(p.Typed.Line) {
		p.Line.Color, p.Line.Cased = Palette[chosen].Name, seen[chosen] < seenOnMost
		return p
	}
	for i, c := range Palette {
		if c.Name == p.Line.Color && seen[i] < seenOnMost {
			p.Findings = append(p.Findings, Finding{Code: codeLine, Level: Warn,
				Message: fmt.Sprintf("The %s grid is easy to see on only %.0f %% of its length.", c.Name, math.Round(seen[i]*100)),
				Fix:     fmt.Sprintf("Take %s: it stands out on %.0f %%.", Palette[chosen].Name, math.Round(seen[chosen]*100)),
				Mend:    map[string]string{"line": Palette[chosen].Name}})
		}
	}
	return p
}

func auto(line string) bool { return orElse(line, "auto") == "auto" }
