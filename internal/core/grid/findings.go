package grid

import (
	"cmp"
	"fmt"
	"math"
	"strconv"
	"strings"

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
	// Mend holds the fields of a Request that mend it, with their new values.
	Mend map[string]string `json:"mend,omitempty"`
}

// A detailed figure has 60 to 80 cells (common practice); more is a long haul.
const detailedMost = 80

// find looks over a finished plan. It returns an empty list, not nil, when all is well.
func (p Plan) find() []Finding {
	findings := []Finding{}
	for _, look := range []func(Plan) (Finding, bool){paperFinding, resolutionFinding, squashFinding, smallerFinding,
		trimFinding, remainderFinding, evenFinding, countFinding, rulerFinding, shortRulerFinding, foldingFinding} {
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
	return Finding{Code: "paper", Level: Stop,
		Message: fmt.Sprintf("The drawing would be %s, but the paper is %s.", p.SheetSize().Text(p.Units), p.StockSize().Text(p.Units)),
		Fix:     "Take larger paper, a smaller scale, or fit it inside the paper.",
		Mend:    map[string]string{"fit": "inside", "scale": "", "sheet_square": ""}}, true
}

// Findings made while choosing, which a finished plan no longer shows by itself.
const (
	codeCrop = "crop"
	codeRoom = "room"
	codeSnap = "snap"
)

// cropFinding says how much of a frame was cut away to take the print's shape.
func cropFinding(asked, used Frame, printed string) (Finding, bool) {
	left := used.Size[0] * used.Size[1] / (asked.Size[0] * asked.Size[1])
	if left > 0.995 {
		return Finding{}, false
	}
	width, _, _ := strings.Cut(printed, " ×")
	return Finding{Code: codeCrop, Level: Note,
		Message: fmt.Sprintf("The frame has another shape than %s, so %.0f %% of it is cut away.", printed, (1-left)*100),
		Fix:     "To keep all of it, write the printed width alone.",
		Mend:    map[string]string{"reference": width}}, true
}

// Pixels per printed inch: 300 is good, 150 the least (from memory; the usual
// print-shop figures).
const goodPPI, leastPPI = 300, 150

// Sharpness says whether the picture has pixels enough for its printed size.
func (p Plan) Sharpness() string {
	switch ppi := p.PixelsPerInch(); {
	case ppi >= goodPPI:
		return "plenty"
	case ppi >= leastPPI:
		return "enough, small details are soft"
	}
	return "too few: it will look blurred"
}

func resolutionFinding(p Plan) (Finding, bool) {
	ppi := p.PixelsPerInch()
	if ppi == 0 || ppi >= goodPPI {
		return Finding{}, false
	}
	if ppi >= leastPPI {
		return Finding{Code: "resolution", Level: Note, Message: fmt.Sprintf("Printed at this size the picture has %.0f pixels an inch: fine, though small details are soft.", ppi)}, true
	}
	widest := measure.Length(p.Frame.Size[0]/leastPPI*measure.MillimetresPerInch) - p.Units.Step()
	return Finding{Code: "resolution", Level: Warn,
		Message: fmt.Sprintf("Printed at this size the picture has only %.0f pixels an inch and will look blurred.", ppi),
		Fix:     fmt.Sprintf("Print it at most %s wide, or find a larger picture.", widest.Text(p.Units)),
		Mend:    map[string]string{"reference": widest.Text(p.Units)}}, true
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
	f := Finding{Code: "squash", Level: Note, Message: fmt.Sprintf("Rounding makes the drawing %.1f %% %s than the picture. Nobody will see it.", s, how)}
	if s > measure.SeenSquash {
		f.Level = Warn
		f.Message = fmt.Sprintf("Rounding makes the drawing %.1f %% %s than the picture. That can be seen.", s, how)
		f.Fix = "Round to a smaller step, or not at all."
		f.Mend = map[string]string{"round": ""}
	}
	return f, true
}

func smallerFinding(p Plan) (Finding, bool) {
	if k := math.Min(p.Scale[0], p.Scale[1]); k < 1-measure.SameWithin {
		print := p.SheetSize().Scale(1 / 1.5)
		text := print.W.Text(p.Units)
		if p.Frame == nil { // nothing to take the height from
			text = print.Text(p.Units)
		}
		return Finding{Code: "smaller", Level: Warn,
			Message: fmt.Sprintf("The drawing is smaller than the picture (%s).", Times(k)),
			Fix:     fmt.Sprintf("Use larger paper, or print the picture %s wide to enlarge it × 1.5.", print.W.Text(p.Units)),
			Mend:    map[string]string{"reference": text, "scale": "", "sheet_square": "", "reference_square": ""}}, true
	}
	return Finding{}, false
}

// canvasFinding says what stays free of a canvas, which nobody trims, and how a frame fills it.
func canvasFinding(p Plan) (Finding, bool) {
	w, h := p.Sheet.Stock[0]-p.Sheet.Width, p.Sheet.Stock[1]-p.Sheet.Height
	if thin := float64(p.Units.Step()); max(w, h) < thin || min(w, h) < -slack {
		return Finding{}, false
	}
	f := Finding{Code: "canvas", Level: Note, Message: fmt.Sprintf("A canvas is not trimmed: a border of %s at each side and %s above and below stays free.", p.Text(w/2), p.Text(h/2)),
		Fix: "Paint the border."}
	if p.Frame != nil && p.Typed.Margin == "" {
		cut := p.Frame.CutTo(p.Sheet.Stock[0] / p.Sheet.Stock[1])
		f.Fix = "Paint the border, or let the frame take the canvas’s shape."
		f.Mend = map[string]string{"frame": cut.String(), "reference": p.ReferenceSize().W.Text(p.Units), "scale": "", "sheet_square": "", "fit": "inside", "remainder": "", "round": ""}
	}
	return f, true
}

func trimFinding(p Plan) (Finding, bool) {
	if p.Sheet.Canvas && p.Sheet.Panels == [2]int{} && p.Sheet.Strip == 0 {
		return canvasFinding(p)
	}
	if !p.CutOut() {
		return Finding{Code: "place", Level: Note, Message: fmt.Sprintf("The drawing stands %s from the left and %s from the top of the paper.",
			p.Text(p.Sheet.Origin.X), p.Text(p.Sheet.Origin.Y))}, true
	}
	w, h := p.Sheet.Stock[0]-p.Sheet.Width, p.Sheet.Stock[1]-p.Sheet.Height
	thin := float64(p.Units.Step() / 2)
	if w < thin && h < thin || !p.StockSize().Holds(p.SheetSize()) {
		return Finding{}, false
	}
	cut := ""
	switch {
	case w >= thin && h >= thin:
		cut = fmt.Sprintf("%s off the width and %s off the height", p.Text(w), p.Text(h))
	case w >= thin:
		cut = p.Text(w) + " off the width"
	default:
		cut = p.Text(h) + " off the height"
	}
	return Finding{Code: "trim", Level: Note, Message: fmt.Sprintf("Trim the %s paper: %s.", p.StockSize().Text(p.Units), cut)}, true
}

func remainderFinding(p Plan) (Finding, bool) {
	g := p.Grid
	names := map[RemainderAt][2]string{AtEnd: {"The last column is a strip", "The last row is a strip"},
		AtStart: {"The first column is a strip", "The first row is a strip"},
		Shared:  {"The first and last columns are strips", "The first and last rows are strips"}}[cmp.Or(g.RemainderAt, AtEnd)]
	var where []string
	for i, how := range []string{"wide", "high"} {
		if g.ReferenceRemainder[i] > 0 {
			where = append(where, fmt.Sprintf("%s: %s %s on the picture, %s on the sheet.", names[i], p.Text(g.ReferenceRemainder[i]), how, p.Text(g.SheetRemainder[i])))
		}
	}
	if where == nil {
		return Finding{}, false
	}
	return Finding{Code: "remainder", Level: Note, Message: strings.Join(where, " "), Fix: "Keep it on both papers, at the same side. Or cut the picture to whole squares.",
		Mend: map[string]string{"remainder": string(Trimmed)}}, true
}

func countFinding(p Plan) (Finding, bool) {
	if n := p.Count(); n > detailedMost {
		return Finding{Code: "count", Level: Warn, Message: fmt.Sprintf("%d boxes is a lot: a beginner's grid has %d to %d.", n, beginnerLeast, beginnerMost),
			Fix:  "Use larger squares, or fewer parts.",
			Mend: map[string]string{"reference_square": "", "sheet_square": "", "parts": "4"}}, true
	}
	return Finding{}, false
}

func rulerFinding(p Plan) (Finding, bool) {
	cell := p.Grid.SheetCell
	if measure.Length(cell[0]).Readable(p.Units) && measure.Length(cell[1]).Readable(p.Units) || p.Ruler.Way == ByFolding || p.Ruler.Way == ByStrip {
		return Finding{}, false
	}
	f := Finding{Code: "ruler", Level: Note,
		Message: fmt.Sprintf("The sheet's boxes do not fall on the ruler's lines: about %s × %s.", measure.Length(cell[0]).Bare(p.Units), p.Text(cell[1])),
		Fix:     "Mark each line from zero with the list, not box by box. Or set the sheet's square yourself."}
	if p.Method == Squares {
		f.Mend = map[string]string{"reference_square": measure.Length(p.Grid.ReferenceCell[0]).Text(p.Units), "sheet_square": easyBelow(cell[0], p.Units).Text(p.Units), "scale": "", "round": ""}
	}
	return f, true
}

// easyBelow returns the largest length on the ruler's round lines that is not
// longer than the cell: a quarter inch or half a centimetre apart.
func easyBelow(cell float64, u measure.Unit) measure.Length {
	for _, step := range []measure.Length{u.Millimetres() / 2, u.Millimetres() / 4, u.Step()} {
		if l := measure.Length(math.Floor(cell/float64(step)+1e-9)) * step; l > 0 && float64(l) > cell*0.85 {
			return l
		}
	}
	return measure.Length(cell)
}

func shortRulerFinding(p Plan) (Finding, bool) {
	longest := max(p.Sheet.Width+p.Sheet.Origin.X, p.Sheet.Height+p.Sheet.Origin.Y)
	if p.Ruler.Way == ByFolding || p.Ruler.Way == ByStrip || p.Ruler.Length == 0 || longest <= p.Ruler.Length+slack {
		return Finding{}, false
	}
	f := Finding{Code: "short-ruler", Level: Note,
		Message: fmt.Sprintf("The marks reach to %s, farther than a ruler of %s. Moving it from mark to mark adds errors up.", p.Text(longest), p.Text(p.Ruler.Length)),
		Fix:     "Take a yardstick, or the printed strips.",
		Mend:    map[string]string{"mark_by": string(ByStrip), "ruler": ""}}
	if longest <= yardstick(p.Units) {
		f.Mend["mark_by"] = string(ByYardstick)
	}
	return f, true
}

func foldingFinding(p Plan) (Finding, bool) {
	if p.Ruler.Way != ByFolding || p.Folds() {
		return Finding{}, false
	}
	return Finding{Code: "folding", Level: Warn,
		Message: p.foldsNot(),
		Fix:     "Divide into equal parts, or mark by ruler.",
		Mend:    map[string]string{"method": string(Parts), "parts": "4"}}, true
}

// Times writes a scale factor: "× 1.5".
func Times(k float64) string {
	return "× " + strconv.FormatFloat(math.Round(k*1000)/1000, 'f', -1, 64)
}
