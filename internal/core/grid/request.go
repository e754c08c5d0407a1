package grid

import (
	"errors"
	"fmt"
	"math"
	"strconv"
	"strings"

	"zestysketch/internal/core/measure"
)

// Problem is a field of a request that cannot be used, and how to mend it.
type Problem struct{ Field, Message string }

// Problems is the error of a request: every field that needs mending.
type Problems []Problem

func (p Problems) Error() string {
	lines := make([]string, len(p))
	for i, one := range p {
		lines[i] = one.Field + ": " + one.Message
	}
	return strings.Join(lines, "; ")
}

// Of returns the message for a field, empty if it is fine.
func (p Problems) Of(field string) string {
	for _, one := range p {
		if one.Field == field {
			return one.Message
		}
	}
	return ""
}

func (p *Problems) add(field, format string, args ...any) {
	*p = append(*p, Problem{field, fmt.Sprintf(format, args...)})
}

// ProblemsOf returns the problems in err, nil if err has none.
func ProblemsOf(err error) Problems {
	var p Problems
	errors.As(err, &p)
	return p
}

// choice is a request understood: lengths in millimetres, 0 where nothing was asked.
type choice struct {
	units           measure.Unit
	reference       measure.Size
	paper           measure.Size
	fit             string
	round           rounding
	method          Method
	referenceSquare measure.Length
	sheetSquare     measure.Length
	scale           float64
	parts           [2]int
	letters, start  string
	remainder       string
	split           map[string]int
	frame           *Frame
	margin, strip   measure.Length
	room            string
	panels          [2]int
	line            Line
	hand            string
	ruler           Ruler
}

// Bounds of what a person can mean: a stamp to a wall, and a grid that can be
// printed and ticked.
const (
	leastSide  = measure.Length(5)
	mostSide   = measure.Length(20_000)
	mostCells  = 1000
	leastScale = 0.05
	mostScale  = 200
)

// parse understands the request or returns Problems.
func (r Request) parse() (choice, error) {
	var bad Problems
	c := choice{
		fit: orElse(r.Fit, "inside"), method: Method(orElse(r.Method, string(Squares))), letters: orElse(r.Letters, Across),
		start: orElse(r.Start, Corners[0]), remainder: orElse(r.Remainder, AtEnd), room: orElse(r.Room, "frame"), hand: orElse(r.Hand, "right"),
		line: Line{Color: orElse(r.Line, "auto"), Width: defaultLine},
	}
	var err error
	if c.units, err = measure.ParseUnit(orElse(r.Units, "in")); err != nil {
		bad.add("units", "%v", err)
		c.units = measure.Inch
	}
	c.frame = r.frame(&bad)
	c.reference = r.printed(&bad, c.units, c.frame)
	c.paper = r.size(&bad, "paper", r.Paper, c.units, false)
	c.round = r.rounding(&bad, c.units)
	c.referenceSquare = r.length(&bad, "reference_square", r.ReferenceSquare, c.units, 1)
	c.sheetSquare = r.length(&bad, "sheet_square", r.SheetSquare, c.units, 1)
	c.scale = r.scale(&bad)
	c.margin = r.length(&bad, "margin", r.Margin, c.units, 0)
	c.strip = r.length(&bad, "strip", r.Strip, c.units, 0)
	if w := r.length(&bad, "line_width", r.LineWidth, measure.Millimetre, 0); w > 0 {
		c.line.Width = float64(w)
		if w > 3 {
			bad.add("line_width", "a grid line is at most 3 mm wide, got %s", w.Text(measure.Millimetre))
		}
	}
	c.parts = r.divisions(&bad, c.method)
	c.split = r.splits(&bad)
	c.panels = r.panelCount(&bad)
	c.ruler = r.ruler(&bad, c.units)
	oneOf(&bad, "fit", c.fit, "width", "height", "inside")
	oneOf(&bad, "method", string(c.method), string(Squares), string(Parts), string(Quarters), string(Diagonals))
	oneOf(&bad, "letters", c.letters, Across, Down)
	oneOf(&bad, "start", c.start, Corners...)
	oneOf(&bad, "remainder", c.remainder, AtEnd, AtStart, Shared, Trimmed)
	oneOf(&bad, "room", c.room, "frame", "whole")
	oneOf(&bad, "hand", c.hand, "right", "left")
	oneOf(&bad, "skill", orElse(r.Skill, string(Beginner)), string(Beginner), string(Middle), string(Detailed))
	r.minutes(&bad)
	oneOf(&bad, "line", c.line.Color, append([]string{"auto"}, LineColors()...)...)
	r.agree(&bad, &c)
	if bad != nil {
		return choice{}, bad
	}
	return c, nil
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

// printed returns the frame's size on the reference print. A width alone takes
// the frame's own ratio.
func (r Request) printed(bad *Problems, u measure.Unit, f *Frame) measure.Size {
	width, err := measure.Parse(r.Reference, u)
	if err != nil || f == nil {
		return r.size(bad, "reference", r.Reference, u, true)
	}
	height := width * measure.Length(f.Size[1]/f.Size[0])
	return bounded(bad, "reference", r.Reference, measure.Size{W: width, H: height}, u)
}

func (r Request) size(bad *Problems, field, text string, u measure.Unit, needed bool) measure.Size {
	if strings.TrimSpace(text) == "" {
		if needed {
			bad.add(field, "write the picture's printed size, such as 8 × 9 1/2 in")
		}
		return measure.Size{}
	}
	s, err := measure.ParseSize(text, u)
	if err != nil {
		bad.add(field, "%v", plain(err))
		return s
	}
	return bounded(bad, field, text, s, u)
}

func bounded(bad *Problems, field, text string, s measure.Size, u measure.Unit) measure.Size {
	switch {
	case s.W <= 0 || s.H <= 0:
		bad.add(field, "both sides must be more than 0, got %q", text)
	case min(s.W, s.H) < leastSide || max(s.W, s.H) > mostSide:
		bad.add(field, "each side must be between 5 mm and 20 m, got %s", s.Text(u))
	}
	return s
}

func (r Request) length(bad *Problems, field, text string, u measure.Unit, least measure.Length) measure.Length {
	if strings.TrimSpace(text) == "" {
		return 0
	}
	l, err := measure.Parse(text, u)
	switch {
	case err != nil:
		bad.add(field, "%v", plain(err))
	case l <= 0:
		bad.add(field, "must be more than 0, got %q", text)
	case l < least:
		bad.add(field, "%s is too small to draw in; use at least %s", l.Text(measure.Millimetre), least.Text(measure.Millimetre))
	case l > mostSide:
		bad.add(field, "must be less than 20 m, got %q", text)
	}
	return l
}

func (r Request) scale(bad *Problems) float64 {
	text := strings.TrimSpace(strings.TrimLeft(strings.TrimSpace(r.Scale), "×x"))
	if text == "" {
		return 0
	}
	number, percent := strings.CutSuffix(text, "%")
	// A bare millimetre is the plain number, so a scale may be written 1 1/2 too.
	l, err := measure.Parse(number, measure.Millimetre)
	k := float64(l)
	if percent {
		k /= 100
	}
	if err != nil || strings.ContainsAny(number, "abcdefghijklmnopqrstuvwxyz\"'") {
		bad.add("scale", "wanted a number such as 1.5 or 150%%, got %q", r.Scale)
		return 0
	}
	if k < leastScale || k > mostScale {
		bad.add("scale", "wanted between 0.05 and 200, got %q; 1.5 and 2 are usual", r.Scale)
	}
	return k
}

// plain drops the sentinel from the front of an error: the rest says it all.
func plain(err error) string {
	s := strings.ReplaceAll(err.Error(), measure.ErrSize.Error()+": ", "")
	return strings.ReplaceAll(s, measure.ErrLength.Error()+": ", "")
}

func oneOf(bad *Problems, field, got string, allowed ...string) {
	for _, a := range allowed {
		if got == a {
			return
		}
	}
	bad.add(field, "wanted %s, got %q", strings.Join(allowed, ", "), got)
}

func orElse(s, usual string) string {
	if s = strings.ToLower(strings.TrimSpace(s)); s == "" {
		return usual
	}
	return s
}

// rounding is a step to which a side is rounded, to the nearest or one way.
type rounding struct {
	step     measure.Length
	up, down bool
}

// rounding reads "1/2 in", "1/2 in up" or "5 mm down".
func (r Request) rounding(bad *Problems, u measure.Unit) (to rounding) {
	text := strings.TrimSpace(strings.ToLower(r.Round))
	text, to.up = strings.CutSuffix(text, " up")
	if !to.up {
		text, to.down = strings.CutSuffix(text, " down")
	}
	to.step = r.length(bad, "round", text, u, 0)
	return to
}

// round never rounds a side away.
func (to rounding) round(l measure.Length) measure.Length {
	out := l.RoundTo(to.step)
	switch {
	case to.up && out < l-0.01:
		out += to.step
	case to.down && out > l+0.01:
		out -= to.step
	}
	if out <= 0 {
		return l
	}
	return out
}

// minutes returns the minutes there are, 0 where nobody said.
func (r Request) minutes(bad *Problems) float64 {
	text := strings.TrimSpace(strings.TrimSuffix(strings.TrimSpace(strings.ToLower(r.Minutes)), "min"))
	if text == "" {
		return 0
	}
	v, err := strconv.ParseFloat(text, 64)
	if err != nil || !(v > 0 && v <= 6000) {
		bad.add("minutes", "wanted minutes such as 90, got %q", r.Minutes)
		return 0
	}
	return v
}

// Wish returns what the request says of the class, for Rank; perBox is the
// class's own minutes a box, 0 for the usual.
func (p Plan) Wish(perBox float64, busy Busy) Wish {
	var ignore Problems // a plan was made from it
	return Wish{Units: p.Units, Skill: Skill(orElse(p.Typed.Skill, string(Beginner))), Scale: (p.Scale[0] + p.Scale[1]) / 2,
		Minutes: p.Typed.minutes(&ignore), PerBox: perBox, Busy: busy}
}
