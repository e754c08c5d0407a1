package grid

import (
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
		{"units", &r.Units, "in, cm or mm; in"},
		{"reference", &r.Reference, "printed size of the frame, 8x9.5in, or its width alone where the picture is known"},
		{"paper", &r.Paper, "the drawing paper, 12x18in or A3; may be empty with a scale"},
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
