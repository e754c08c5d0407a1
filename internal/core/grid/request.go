package grid

import (
	"math"
	"slices"
	"strings"
	"zestysketch/internal/core/measure"
)

// Request is a plan as asked for, in the asker's own words. An empty field
// takes its usual value. It is kept with the plan, so that a length typed in
// inches is still that length after centimetres were looked at.
type Request struct {
	Name            string `json:"name,omitempty"`
	Units           string `json:"units,omitempty"`
	Picture         [2]int `json:"picture_px,omitzero"` // pixels of the upright picture, if there is one
	Reference       string `json:"reference,omitempty"`
	Paper           string `json:"paper,omitempty"`
	Fit             string `json:"fit,omitempty"`
	Round           string `json:"round,omitempty"`
	Method          string `json:"method,omitempty"`
	ReferenceSquare string `json:"reference_square,omitempty"`
	SheetSquare     string `json:"sheet_square,omitempty"`
	Scale           string `json:"scale,omitempty"`
	Parts           string `json:"parts,omitempty"`
	Letters         string `json:"letters,omitempty"`
	Start           string `json:"start,omitempty"`
	Remainder       string `json:"remainder,omitempty"`
	Split           string `json:"split,omitempty"`
	Frame           string `json:"frame,omitempty"`
	Margin          string `json:"margin,omitempty"`
	Strip           string `json:"strip,omitempty"`
	Room            string `json:"room,omitempty"`
	Panels          string `json:"panels,omitempty"`
	Line            string `json:"line,omitempty"`
	LineWidth       string `json:"line_width,omitempty"`
	Hand            string `json:"hand,omitempty"`
	MarkBy          string `json:"mark_by,omitempty"`
	Ruler           string `json:"ruler,omitempty"`
	RulerZero       string `json:"ruler_zero,omitempty"`
	RulerStep       string `json:"ruler_step,omitempty"`
	Skill           string `json:"skill,omitempty"`
	Minutes         string `json:"minutes,omitempty"`
}

// Field is one thing that may be asked for, by the name it has in files, forms
// and on the command line.
type Field struct {
	Name  string
	Value *string
	What  string // and the usual value
}

// Fields returns every field of the request but the picture's size, to be read
// or set by name.
func (r *Request) Fields() []Field {
	return []Field{
		{"name", &r.Name, "printed on every page"},
		{"units", &r.Units, "in, cm or mm; that of the lengths, or in"},
		{"reference", &r.Reference, "printed size of the frame, 8x9.5in, or its width alone where the picture is known"},
		{"paper", &r.Paper, "the drawing paper, 12x18in or A3, or canvas 16x20in; may be empty with a scale"},
		{"fit", &r.Fit, "width, height or inside; inside"},
		{"round", &r.Round, "step to which the worked-out side is rounded: 1/4in, 5mm, 1/2in up, 5mm down"},
		{"method", &r.Method, "squares, parts, quarters or diagonals; squares"},
		{"reference_square", &r.ReferenceSquare, "square on the picture; proposed if empty"},
		{"sheet_square", &r.SheetSquare, "square on the sheet"},
		{"scale", &r.Scale, "how much to enlarge: 1.5, 1 1/2, 150%"},
		{"parts", &r.Parts, "parts across x down: 4x6, or 4 both ways"},
		{"letters", &r.Letters, "across or down; across"},
		{"start", &r.Start, "corner of the first box; top left"},
		{"remainder", &r.Remainder, "where the remainder stands: end, start, shared or trim; end"},
		{"split", &r.Split, "boxes divided again: C4 2, D5 4"},
		{"frame", &r.Frame, "the part of the picture used, in its pixels: centre x,y, w×h, angle, mirror; all of it"},
		{"margin", &r.Margin, "kept free round the drawing, which is then not cut out"},
		{"strip", &r.Strip, "kept free at the bottom, for trying materials"},
		{"room", &r.Room, "frame, or whole to leave room for the rest of the picture; frame"},
		{"panels", &r.Panels, "papers that hang as one: 2x1"},
		{"line", &r.Line, "colour of the grid on the picture; auto, chosen by contrast"},
		{"line_width", &r.LineWidth, "of the grid on the picture; 0.25mm"},
		{"hand", &r.Hand, "right or left, for the order of drawing; right"},
		{"mark_by", &r.MarkBy, "ruler, yardstick, t-square, folding or strip; ruler"},
		{"ruler", &r.Ruler, "the ruler's length; long enough if empty"},
		{"ruler_zero", &r.RulerZero, "how far its zero line lies from the end of the wood; 0"},
		{"ruler_step", &r.RulerStep, "its finest division in use; 1/16in or 0.5mm"},
		{"skill", &r.Skill, "beginner, middle or detailed, for ranking grids; beginner"},
		{"minutes", &r.Minutes, "of drawing there are, for ranking grids"},
	}
}

// Set returns the request with fields changed by name, as a finding's Mend
// says. Names that are no field are passed over.
func (r Request) Set(values map[string]string) Request {
	for _, f := range r.Fields() {
		if v, ok := values[f.Name]; ok {
			*f.Value = v
		}
	}
	return r
}

// unitsTyped returns the unit in which a request that names none is written: the metric one of its picture,
// where its paper is no bare number, else inches.
func (r Request) unitsTyped() string {
	reference := strings.ToLower(strings.TrimSpace(r.Reference))
	paper, _ := OnCanvas(strings.TrimSpace(r.Paper))
	bare := paper != "" && strings.ContainsRune("0123456789", rune(paper[0])) && strings.ContainsRune("0123456789", rune(paper[len(paper)-1]))
	for _, u := range []measure.Unit{measure.Millimetre, measure.Centimetre} {
		if !bare && strings.HasSuffix(reference, string(u)) {
			return string(u)
		}
	}
	return string(measure.Inch)
}

// inUnits are the fields whose bare numbers are in the request's units.
var inUnits = []string{"reference", "paper", "round", "reference_square", "sheet_square", "margin", "strip", "ruler", "ruler_zero", "ruler_step"}

// Spelled returns the request with unit u written after every bare length, and
// the fields that this changed: done with the old unit before another is
// looked at, it keeps every length as it was typed.
func (r Request) Spelled(u measure.Unit) (Request, map[string]string) {
	changed := map[string]string{}
	for _, f := range r.Fields() {
		if !slices.Contains(inUnits, f.Name) {
			continue
		}
		text, way := *f.Value, ""
		for _, end := range []string{" up", " down"} {
			if cut, ok := strings.CutSuffix(text, end); ok {
				text, way = cut, end
			}
		}
		if spelled := measure.Spell(text, u) + way; spelled != *f.Value {
			changed[f.Name], *f.Value = spelled, spelled
		}
	}
	return r, changed
}

// choice is a request understood: lengths in millimetres, 0 where nothing was asked.
type choice struct {
	units           measure.Unit
	reference       measure.Size
	paper           measure.Size
	canvas          bool
	fit             string
	round           rounding
	method          Method
	referenceSquare measure.Length
	sheetSquare     measure.Length
	scale           float64
	parts           [2]int
	letters, start  string
	remainder       RemainderAt
	split           map[string]int
	frame           *Frame
	margin, strip   measure.Length
	room            string
	panels          [2]int
	line            Line
	hand            Hand
	ruler           Ruler
	skill           Skill
	minutes         float64
}

// parse understands the request or returns Problems.
func (r Request) parse() (choice, error) {
	var bad Problems
	c := choice{
		fit: orElse(r.Fit, "inside"), method: Method(orElse(r.Method, string(Squares))), letters: orElse(r.Letters, Across),
		start: orElse(r.Start, Corners[0]), remainder: RemainderAt(orElse(r.Remainder, string(AtEnd))), room: orElse(r.Room, "frame"), hand: Hand(orElse(r.Hand, string(RightHand))),
		line: Line{Color: orElse(r.Line, "auto"), Width: defaultLine},
	}
	var err error
	if c.units, err = measure.ParseUnit(orElse(r.Units, r.unitsTyped())); err != nil {
		bad.add("units", "%v", err)
		c.units = measure.Inch
	}
	c.frame = r.frame(&bad)
	c.reference = r.printed(&bad, c.units, c.frame)
	paper, canvas := OnCanvas(r.Paper)
	c.paper, c.canvas = r.size(&bad, "paper", paper, c.units, false), canvas
	c.round = r.rounding(&bad, c.units)
	c.referenceSquare = r.length(&bad, "reference_square", r.ReferenceSquare, c.units, 1)
	c.sheetSquare = r.length(&bad, "sheet_square", r.SheetSquare, c.units, 1)
	c.scale = r.scale(&bad)
	c.margin = r.length(&bad, "margin", r.Margin, c.units, 0)
	c.strip = r.length(&bad, "strip", r.Strip, c.units, 0)
	if w := r.length(&bad, "line_width", r.LineWidth, measure.Millimetre, 0); w > 0 {
		c.line.Width = float64(w)
		if w > mostLine {
			bad.add("line_width", "a grid line is at most %g mm wide, got %s", mostLine, w.Text(measure.Millimetre))
		}
	}
	c.parts = r.divisions(&bad, c.method)
	c.split = r.splits(&bad)
	c.panels = r.panelCount(&bad)
	c.ruler = r.ruler(&bad, c.units)
	oneOf(&bad, "fit", c.fit, "width", "height", "inside")
	oneOf(&bad, "method", c.method, Methods...)
	oneOf(&bad, "letters", c.letters, Across, Down)
	oneOf(&bad, "start", c.start, Corners...)
	oneOf(&bad, "remainder", c.remainder, AtEnd, AtStart, Shared, Trimmed)
	oneOf(&bad, "room", c.room, "frame", "whole")
	oneOf(&bad, "hand", c.hand, RightHand, LeftHand)
	c.skill, c.minutes = Skill(orElse(r.Skill, string(Beginner))), r.minutes(&bad)
	oneOf(&bad, "skill", c.skill, Beginner, Middle, Detailed)
	oneOf(&bad, "line", c.line.Color, append([]string{"auto"}, LineColors()...)...)
	r.agree(&bad, &c)
	if bad != nil {
		return choice{}, bad
	}
	return c, nil
}

// OnCanvas returns the size in what was typed for the drawing paper, and whether it is of a canvas.
func OnCanvas(paper string) (size string, canvas bool) {
	const word = "canvas"
	if i := strings.Index(strings.ToLower(paper), word); i >= 0 {
		return strings.TrimSpace(paper[:i] + paper[i+len(word):]), true
	}
	return paper, false
}

// agree settles what the scale follows from, and objects where two wishes contradict.
func (r Request) agree(bad *Problems, c *choice) {
	if c.method == Squares && c.referenceSquare > 0 && c.sheetSquare > 0 {
		k := float64(c.sheetSquare / c.referenceSquare)
		if c.scale != 0 && math.Abs(c.scale/k-1) > 0.001 {
			bad.add("scale", "the two squares already enlarge by %s; empty the scale or one of the squares", Times(k))
		}
		c.scale = k
	}
	if c.scale == 0 && r.Paper == "" {
		bad.add("paper", "write the paper's size, such as 12 × 18 in or A3, or a scale such as 1.5")
	}
}
