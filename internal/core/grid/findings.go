package grid

import (
	"fmt"
	"math"
	"strconv"

	"zestysketch/internal/core/measure"
)

// Level says how much a finding matters.
type Level string

// The levels: good to know, better mended, must be mended.
const (
	Note Level = "note"
	Warn Level = "warn"
	Stop Level = "stop"
)

// Finding is something the plan's maker should know, and how to mend it.
type Finding struct {
	Code    string `json:"code"`
	Level   Level  `json:"level"`
	Message string `json:"message"`
	Fix     string `json:"fix"`
}

// Past this squash a drawing begins to look wrong (common practice: nobody sees less).
const visibleSquash = 2.0

// A detailed figure has 60 to 80 cells (common practice); more is a long haul.
const detailedMost = 80

// find looks over a finished plan. It returns an empty list, not nil, when all is well.
func (p Plan) find() []Finding {
	findings := []Finding{}
	for _, look := range []func(Plan) (Finding, bool){paperFinding, cropFinding, resolutionFinding, squashFinding, smallerFinding, trimFinding, remainderFinding, countFinding, rulerFinding} {
		if f, found := look(p); found {
			findings = append(findings, f)
		}
	}
	return findings
}

func paperFinding(p Plan) (Finding, bool) {
	if p.StockSize().Holds(p.SheetSize()) {
		return Finding{}, false
	}
	return Finding{"paper", Stop,
		fmt.Sprintf("The drawing would be %s, but the paper is %s.", p.SheetSize().Text(p.Units), p.StockSize().Text(p.Units)),
		"Take larger paper, a smaller scale, or fit it inside the paper."}, true
}

func cropFinding(p Plan) (Finding, bool) {
	f := p.Frame
	if f == nil || f.Min == [2]float64{} {
		return Finding{}, false
	}
	side, cut := "left and right", f.Min[0]/float64(f.Picture[0])
	if f.Min[1] > 0 {
		side, cut = "top and bottom", f.Min[1]/float64(f.Picture[1])
	}
	return Finding{"crop", Note,
		fmt.Sprintf("The picture has another shape than %s, so %.0f %% is cut away at %s.", p.ReferenceSize().Text(p.Units), cut*100, side),
		"To keep all of it, write the printed width alone."}, true
}

// Pixels per printed inch: 300 is good, 150 the least (from memory; the usual
// print-shop figures).
const goodPPI, leastPPI = 300, 150

func resolutionFinding(p Plan) (Finding, bool) {
	ppi := p.PixelsPerInch()
	if ppi == 0 || ppi >= goodPPI {
		return Finding{}, false
	}
	if ppi >= leastPPI {
		return Finding{"resolution", Note, fmt.Sprintf("Printed at this size the picture has %.0f pixels an inch: fine, though small details are soft.", ppi), ""}, true
	}
	return Finding{"resolution", Warn,
		fmt.Sprintf("Printed at this size the picture has only %.0f pixels an inch and will look blurred.", ppi),
		fmt.Sprintf("Print it at most %s wide, or find a larger picture.", p.Text(p.Frame.Size[0]/leastPPI*measure.MillimetresPerInch))}, true
}

func squashFinding(p Plan) (Finding, bool) {
	s := math.Abs(p.SquashPercent)
	if s < 0.05 {
		return Finding{}, false
	}
	how := "wider"
	if p.SquashPercent > 0 {
		how = "taller"
	}
	f := Finding{"squash", Note, fmt.Sprintf("Rounding makes the drawing %.1f %% %s than the picture. Nobody will see it.", s, how), ""}
	if s > visibleSquash {
		f.Level = Warn
		f.Message = fmt.Sprintf("Rounding makes the drawing %.1f %% %s than the picture. That can be seen.", s, how)
		f.Fix = "Round to a smaller step, or not at all."
	}
	return f, true
}

func smallerFinding(p Plan) (Finding, bool) {
	if k := math.Min(p.Scale[0], p.Scale[1]); k < 0.995 {
		return Finding{"smaller", Warn,
			fmt.Sprintf("The drawing is smaller than the picture (%s).", Times(k)),
			"Use larger paper or print the picture smaller; × 1.5 and × 2 are easy."}, true
	}
	return Finding{}, false
}

func trimFinding(p Plan) (Finding, bool) {
	w, h := p.Sheet.Stock[0]-p.Sheet.Width, p.Sheet.Stock[1]-p.Sheet.Height
	if w < slack && h < slack || !p.StockSize().Holds(p.SheetSize()) {
		return Finding{}, false
	}
	cut := ""
	switch {
	case w >= slack && h >= slack:
		cut = fmt.Sprintf("%s off the width and %s off the height", p.Text(w), p.Text(h))
	case w >= slack:
		cut = p.Text(w) + " off the width"
	default:
		cut = p.Text(h) + " off the height"
	}
	return Finding{"trim", Note, fmt.Sprintf("Trim the %s paper: %s.", p.StockSize().Text(p.Units), cut), ""}, true
}

func remainderFinding(p Plan) (Finding, bool) {
	g := p.Grid
	across, down := g.ReferenceRemainder[0] > 0, g.ReferenceRemainder[1] > 0
	if !across && !down {
		return Finding{}, false
	}
	where := ""
	if across {
		where = fmt.Sprintf("The last column is a strip: %s wide on the picture, %s on the sheet.", p.Text(g.ReferenceRemainder[0]), p.Text(g.SheetRemainder[0]))
	}
	if down {
		if across {
			where += " "
		}
		where += fmt.Sprintf("The last row is a strip: %s high on the picture, %s on the sheet.", p.Text(g.ReferenceRemainder[1]), p.Text(g.SheetRemainder[1]))
	}
	return Finding{"remainder", Note, where, "Keep it on both papers, at the same side."}, true
}

func countFinding(p Plan) (Finding, bool) {
	if n := p.Count(); n > detailedMost {
		return Finding{"count", Warn, fmt.Sprintf("%d boxes is a lot: a beginner's grid has %d to %d.", n, beginnerLeast, beginnerMost),
			"Use larger squares, or fewer parts."}, true
	}
	return Finding{}, false
}

func rulerFinding(p Plan) (Finding, bool) {
	cell := p.Grid.SheetCell
	if measure.Length(cell[0]).Readable(p.Units) && measure.Length(cell[1]).Readable(p.Units) {
		return Finding{}, false
	}
	return Finding{"ruler", Note,
		fmt.Sprintf("The sheet's boxes do not fall on the ruler's lines: about %s × %s.", measure.Length(cell[0]).Bare(p.Units), p.Text(cell[1])),
		"Mark each line from zero with the list, not box by box. Or set the sheet's square yourself."}, true
}

// Times writes a scale factor: "× 1.5".
func Times(k float64) string {
	return "× " + strconv.FormatFloat(math.Round(k*1000)/1000, 'f', -1, 64)
}
