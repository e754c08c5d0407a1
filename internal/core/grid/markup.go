package grid

import (
	"fmt"
	"math"
	"strings"

	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/plane"
)

// Way is how the drawing sheet is marked up.
type Way string

// The ways of marking up.
const (
	ByRuler     Way = "ruler"
	ByYardstick Way = "yardstick" // one long rule for both sides
	ByTSquare   Way = "t-square"  // on a board, lines slid along its edge
	ByFolding   Way = "folding"
	ByStrip     Way = "strip" // cut from a printed scale, no ruler at all
)

// Ways lists them all, the commonest first.
var Ways = []Way{ByRuler, ByYardstick, ByTSquare, ByFolding, ByStrip}

// Ruler is what the class measures with.
type Ruler struct {
	Way    Way     `json:"way"`
	Length float64 `json:"length_mm"` // what it measures in one go; 0 where nobody said, and it is taken to reach
	Zero   float64 `json:"zero_mm"`   // how far the zero line lies from the end of the wood
	Step   float64 `json:"step_mm"`   // its finest division in use
}

// usualRuler is one of which nothing is known but its way and unit.
func usualRuler(w Way, u measure.Unit) Ruler { return Ruler{Way: w, Step: float64(u.Step())} }

// yardstick is the long rule of a classroom: a yard or a metre (common practice).
func yardstick(u measure.Unit) float64 {
	if u == measure.Inch {
		return 914.4
	}
	return 1000
}

// ruler reads the ruler, or takes the usual one.
func (r Request) ruler(bad *Problems, u measure.Unit) Ruler {
	way := Way(orElse(r.MarkBy, string(ByRuler)))
	oneOf(bad, "mark_by", way, Ways...)
	out := usualRuler(way, u)
	if l := r.length(bad, "ruler", r.Ruler, u, leastRuler); l > 0 {
		out.Length = float64(l)
	}
	if strings.TrimSpace(r.RulerZero) != "" && strings.TrimSpace(r.RulerZero) != "0" {
		out.Zero = float64(r.length(bad, "ruler_zero", r.RulerZero, u, 0))
	}
	if step := r.length(bad, "ruler_step", r.RulerStep, u, 0); step > 0 {
		out.Step = float64(step)
	}
	switch {
	case out.Length > 0 && out.Zero >= out.Length:
		bad.add("ruler_zero", "the zero line lies %s from the end of a ruler of %s; measure that gap again", measure.Length(out.Zero).Text(u), measure.Length(out.Length).Text(u))
	case out.Zero > float64(mostZero):
		bad.add("ruler_zero", "%s is a very wide gap before zero; it is commonly about a quarter inch", measure.Length(out.Zero).Text(u))
	}
	if out.Step > float64(mostStep) {
		bad.add("ruler_step", "a ruler's finest lines are at most an inch apart, got %s", measure.Length(out.Step).Text(u))
	}
	return out
}

// Mark is one tick at the paper's edge.
type Mark struct {
	At    float64 // mm from the paper's corner
	Text  string  // as the ruler shows it from its zero line
	Wood  string  // as it shows where the end of the wood lies on the corner; empty where that is the same
	About bool    // it falls between the ruler's lines
}

// Edge is the marks of two facing edges of one paper.
type Edge struct {
	Name  string // "Top and bottom edge"
	Short string // "across" or "down"
	Marks []Mark
	Side  float64 // the paper's side
	Ends  bool    // the last mark is on the far edge
}

// Shown says what a step of marking up looks like.
type Shown string

// What steps look like.
const (
	ShowPaper    Shown = "paper"    // the paper, and where it is cut
	ShowZero     Shown = "zero"     // the ruler's zero on the corner
	ShowTop      Shown = "top"      // marks along the top and bottom
	ShowLeft     Shown = "left"     // marks along the left and right
	ShowFar      Shown = "far"      // the last marks on the far edges
	ShowStrip    Shown = "strip"    // printed strips, or folded ones
	ShowTape     Shown = "tape"     // the paper taped to a board
	ShowFoldTall Shown = "tall"     // folded side to side
	ShowFoldWide Shown = "wide"     // folded top to bottom
	ShowOpen     Shown = "open"     // every crease, laid flat
	ShowMarks    Shown = "marks"    // marks alone, nothing ruled through
	ShowJoin     Shown = "join"     // facing marks joined
	ShowCross    Shown = "cross"    // corner to corner, again and again
	ShowCount    Shown = "count"    // boxes counted
	ShowDivide   Shown = "divide"   // some boxes divided again
	ShowDiagonal Shown = "diagonal" // both diagonals measured
)

// Step is one thing to do, and what it looks like.
type Step struct {
	Show  Shown
	Words string
}

// String returns a step's words.
func (s Step) String() string { return s.Words }

// Words returns what to do, step by step.
func (c Card) Words() (words []string) {
	for _, s := range c.Steps {
		words = append(words, s.Words)
	}
	return words
}

// Card is how to mark up one paper, as a card to follow.
type Card struct {
	Panel  Panel
	Title  string
	Paper  string // what to take
	Cut    string // what to cut it to; empty if nothing is cut
	Edges  []Edge
	Steps  []Step
	Check  string // both diagonals of the drawing
	Counts string // boxes across, down and in all
}

// CardFor returns the card of one of the plan's papers.
func (p Plan) CardFor(panel Panel) Card {
	c := Card{Panel: panel, Title: "Mark up the drawing sheet", Paper: measure.Size{W: measure.Length(panel.Size[0]), H: measure.Length(panel.Size[1])}.Text(p.Units)}
	if n := p.Sheet.Panels; n != [2]int{} {
		c.Title = fmt.Sprintf("Mark up sheet %d of %d", panel.Row*n[0]+panel.Column+1, n[0]*n[1])
	}
	if p.CutOut() {
		if !p.SheetSize().Near(p.StockSize(), p.Units).Holds(p.StockSize()) {
			c.Cut = p.SheetSize().Text(p.Units)
		}
	}
	c.Edges = p.edges(panel)
	c.Check = p.SheetSize().Diagonal().About(p.Units)
	c.Counts = p.counts(panel)
	c.Steps = p.steps(c)
	return c
}

// counts says how many boxes a paper holds.
func (p Plan) counts(panel Panel) string {
	all := fmt.Sprintf("%d boxes across, %d down, %d in all", p.Grid.Columns, p.Grid.Rows, p.Count())
	if p.Sheet.Panels == [2]int{} {
		return all
	}
	across, down := p.On(panel)
	return fmt.Sprintf("%d across and %d down on this sheet, cut ones too; on all sheets %s", across, down, all)
}

// On returns how many columns and rows of boxes a paper holds, those it cuts too.
func (p Plan) On(panel Panel) (across, down int) {
	if p.Sheet.Panels == [2]int{} {
		return p.Grid.Columns, p.Grid.Rows
	}
	on := func(marks []float64, from, side float64) (n int) {
		for i := range len(marks) - 1 {
			if marks[i]-from < side-slack && marks[i+1]-from > slack {
				n++
			}
		}
		return n
	}
	w, h := p.Sheet.Stock[0], p.Sheet.Stock[1]
	return on(p.Marks.SheetX, float64(panel.Column)*w-p.Sheet.Origin.X, w), on(p.Marks.SheetY, float64(panel.Row)*h-p.Sheet.Origin.Y, h)
}

// edges returns the marks of a paper's edges, across and down: of one cut to the drawing, the drawing's.
func (p Plan) edges(panel Panel) []Edge {
	if p.CutOut() {
		panel.Size = [2]float64{p.Sheet.Width, p.Sheet.Height}
	}
	return []Edge{p.edge("Top and bottom edge", "across", panel.X, panel.Size[0]), p.edge("Left and right edge", "down", panel.Y, panel.Size[1])}
}

// CutOut reports whether the paper is trimmed to the drawing, which then fills it.
func (p Plan) CutOut() bool {
	return p.Sheet.Origin == plane.Point{} && p.Sheet.Panels == [2]int{} && !p.Sheet.Canvas
}

func (p Plan) edge(name, short string, marks []float64, side float64) Edge {
	e := Edge{Name: name, Short: short, Side: side}
	for _, at := range marks {
		read := measure.Length(at).RoundTo(measure.Length(p.Ruler.Step))
		m := Mark{At: at, Text: read.Bare(p.Units), About: math.Abs(float64(read)-at) > 0.01}
		if p.Ruler.Zero > 0 {
			m.Wood = measure.Length(at + p.Ruler.Zero).RoundTo(measure.Length(p.Ruler.Step)).Bare(p.Units)
		}
		e.Marks = append(e.Marks, m)
	}
	e.Ends = len(marks) > 0 && math.Abs(marks[len(marks)-1]-side) < 0.05
	return e
}

// List writes the marks with commas, "≈" before those between the ruler's lines.
func (e Edge) List() string {
	words := make([]string, len(e.Marks))
	for i, m := range e.Marks {
		words[i] = m.said()
	}
	return strings.Join(words, ", ")
}

// said writes a mark, "≈" before one between the ruler's lines.
func (m Mark) said() string {
	if m.About {
		return "≈ " + m.Text
	}
	return m.Text
}

// WoodList is List for a ruler laid with the end of its wood on the corner.
func (e Edge) WoodList() string {
	words := make([]string, len(e.Marks))
	for i, m := range e.Marks {
		words[i] = m.Wood
	}
	return strings.Join(words, ", ")
}

// steps writes what to do in order, in words a child of eleven can follow.
func (p Plan) steps(c Card) []Step {
	first := "Take the " + c.Paper + " paper."
	if c.Cut != "" {
		first += map[bool]string{false: " Measure, mark and cut it to " + c.Cut + ".",
			true: " Cut it to " + c.Cut + ": tick the size off by a printed strip, and cut along a folded edge."}[p.withoutRuler()]
	}
	steps := append([]Step{{ShowPaper, first}}, p.marking(c)...)
	if p.Method == Quarters && c.Cut == "" && p.Ruler.Way != ByStrip {
		steps = steps[1:] // loose work begins with a fold
	}
	for _, more := range [][]Step{p.closing(c), p.ruling(), {{ShowCount, "Count: " + c.Counts + ". The picture must have just as many."}}} {
		steps = append(steps, more...)
	}
	if len(p.Grid.Split) > 0 {
		steps = append(steps, Step{ShowDivide, "Divide these boxes again, as on the picture: " + p.SplitWords() + "."})
	}
	return append(steps, p.diagonals(c)...)
}

// inMargins reports whether a drawing lies within one paper that is not cut to it, and is measured there.
func (p Plan) inMargins() bool {
	return !p.CutOut() && p.Sheet.Panels == [2]int{} && !p.withoutRuler() && p.Method != Quarters
}

// closing says where the last marks must fall.
func (p Plan) closing(c Card) []Step {
	across, down := c.Edges[0], c.Edges[1]
	if across.Ends && down.Ends && p.Ruler.Way != ByFolding {
		tool := "ruler"
		if p.Ruler.Way == ByStrip {
			tool = "strip"
		}
		return []Step{{ShowFar, fmt.Sprintf("The last marks must fall on the far edges, at %s and %s. If not, the %s slipped or the paper is not square.",
			p.Text(across.Side), p.Text(down.Side), tool)}}
	}
	if !p.inMargins() {
		return nil
	}
	right, below := p.within()
	return []Step{{ShowFar, fmt.Sprintf("The last marks close the drawing: %s must stay free on the right and %s below. If not, the ruler slipped or the paper is not square.", right, below)}}
}

// ruling says how the marks become lines, where they do.
func (p Plan) ruling() []Step {
	switch {
	case p.Method == Quarters:
		return []Step{{ShowMarks, "Do not rule the lines through. The marks at the edges are enough; an L of paper covers all but the part in hand."}}
	case p.Method == Diagonals:
		return []Step{{ShowCross, "Rule both corner-to-corner lines faintly. They cross in the middle. Do the same in each quarter, as often as the plan shows."}}
	case p.Ruler.Way == ByTSquare:
		return nil
	}
	return []Step{{ShowJoin, "Join the facing marks with faint lines: spread fingers hold the ruler down, the pencil is pulled, not pushed."}}
}

// diagonals says how the whole is checked for being square.
func (p Plan) diagonals(c Card) []Step {
	switch {
	case p.CutOut() && p.withoutRuler():
		return []Step{{ShowDiagonal, "Compare both diagonals with a strip of paper: they must be equally long."}}
	case p.CutOut():
		return []Step{{ShowDiagonal, "Measure both diagonals: each must be " + c.Check + "."}}
	case p.inMargins():
		return []Step{{ShowDiagonal, "Measure both diagonals of the drawing, corner to corner: each must be " + c.Check + "."}}
	}
	return nil
}

// within returns what stays free of the paper to the right of a drawing and below it.
func (p Plan) within() (right, below string) {
	return p.Text(p.Sheet.Stock[0] - p.Sheet.Origin.X - p.Sheet.Width), p.Text(p.Sheet.Stock[1] - p.Sheet.Origin.Y - p.Sheet.Height)
}

// withoutRuler reports whether a sheet is marked up where there is no ruler to measure by.
func (p Plan) withoutRuler() bool { return p.Ruler.Way == ByFolding || p.Ruler.Way == ByStrip }

// marking writes how the marks are found, by the ruler's way.
func (p Plan) marking(c Card) []Step {
	if p.Method == Quarters && p.Ruler.Way != ByStrip {
		return p.quartered(c)
	}
	across, down := c.Edges[0], c.Edges[1]
	lists := []Step{
		{ShowTop, fmt.Sprintf("Top edge, all marks from zero: %s %s. The same on the bottom edge.", across.List(), p.Units)},
		{ShowLeft, fmt.Sprintf("Left edge, all marks from zero: %s %s. The same on the right edge.", down.List(), p.Units)},
	}
	zero := "Put the ruler's zero line, not the end of the wood, on the paper's corner."
	if p.Ruler.Zero > 0 {
		zero += fmt.Sprintf(" On this ruler the zero is %s in. With the wood on the corner you would read: across %s; down %s %s.",
			p.Text(p.Ruler.Zero), across.WoodList(), down.WoodList(), p.Units)
	}
	switch p.Ruler.Way {
	case ByYardstick:
		return append([]Step{{ShowZero, "Lay the long rule along the edge: its zero line, not the end of the wood, on the corner. Keep it there for all marks of the side."}}, lists...)
	case ByTSquare:
		return []Step{
			{ShowTape, "Tape the paper's corners to the board, one side along the board's edge."},
			{ShowZero, zero},
			{ShowLeft, fmt.Sprintf("Left edge, all marks from zero: %s %s. Slide the T-square down, stop at each mark, and rule across.", down.List(), p.Units)},
			{ShowTop, fmt.Sprintf("Top edge, all marks from zero: %s %s. Set the T-square, or a set square on it, to each mark, and rule down.", across.List(), p.Units)},
		}
	case ByFolding:
		return p.folding(c)
	case ByStrip:
		return []Step{
			{ShowStrip, "Cut out the printed strips. Zero is at the very end of the strip."},
			{ShowTop, fmt.Sprintf("Lay strip “across” along the top edge, its end on the corner, and tick off every line: %d marks. The same along the bottom.", len(across.Marks))},
			{ShowLeft, fmt.Sprintf("Lay strip “down” along the left edge and tick off every line: %d marks. The same along the right.", len(down.Marks))},
		}
	}
	return append([]Step{{ShowZero, zero}}, lists...)
}

// quartered finds quarter marks as loose work does, by a fold and not by a ruler
// (common practice); where there is one it checks them.
func (p Plan) quartered(c Card) []Step {
	steps := p.foldedStrip(c.Edges[0], "top", "bottom", ShowTop)
	steps = append(steps, p.foldedStrip(c.Edges[1], "left", "right", ShowLeft)...)
	if !p.withoutRuler() {
		steps = append(steps, Step{ShowZero, fmt.Sprintf("A ruler would find them at %s across and %s %s down.", c.Edges[0].List(), c.Edges[1].List(), p.Units)})
	}
	return steps
}

// foldedStrip finds the marks of an edge, and of the one that faces it, by a folded strip of paper: as
// long as the edge, or as where the drawing lies on it; what no fold finds is measured.
func (p Plan) foldedStrip(e Edge, side, facing string, show Shown) []Step {
	parts, ok := e.Folded()
	if !ok {
		by := fmt.Sprintf("mark %s %s from zero", e.List(), p.Units)
		if p.withoutRuler() {
			by = "tick them off by the printed strip"
		}
		return []Step{{show, fmt.Sprintf("Folding does not find the marks of the %s edge: %s. The same on the %s.", side, by, facing)}}
	}
	first, last := e.Marks[0], e.Marks[len(e.Marks)-1]
	var steps []Step
	long, from := "the "+side+" edge", ""
	if !e.whole() {
		ticks := fmt.Sprintf("at %s and %s %s", first.said(), last.said(), p.Units)
		if p.withoutRuler() {
			ticks = "by the printed strip"
		}
		steps = append(steps, Step{show, fmt.Sprintf("On the %s edge tick where the drawing begins and ends on this sheet, %s. The same on the %s.", side, ticks, facing)})
		long, from = "from tick to tick", " between the ticks"
	}
	if parts == 1 {
		return append(steps, Step{show, fmt.Sprintf("No line crosses the %s edge between its ends.", side)})
	}
	words := "Fold a strip of paper"
	if e.whole() && show == ShowTop {
		words = "Begin with a fold: a strip of paper"
	}
	return append(steps, Step{ShowStrip, fmt.Sprintf("%s as long as %s, %s. Its creases are the marks.", words, long, times(parts))},
		Step{show, fmt.Sprintf("Lay it along the %s edge%s and tick the creases at the very edge. The same along the %s.", side, from, facing)})
}

// times says how often a strip is folded for so many equal parts.
func times(parts int) string {
	return map[int]string{1: "not at all", 2: "once, in half", 4: "in half, and in half again", 8: "in half three times", 16: "in half four times"}[parts]
}

// foldFine is how far a crease may lie from a mark, mm: less than a pencil's line.
const foldFine = 0.2

// Folded returns into how many equal parts, by halving, an edge's marks divide the stretch from the first
// to the last: 1, 2, 4, 8 or 16; false where they do not.
func (e Edge) Folded() (parts int, ok bool) {
	if parts = len(e.Marks) - 1; parts < 1 || parts > 16 || parts&(parts-1) != 0 {
		return 0, false
	}
	first, last := e.Marks[0].At, e.Marks[parts].At
	for i, m := range e.Marks {
		if math.Abs(m.At-first-float64(i)*(last-first)/float64(parts)) > foldFine {
			return 0, false
		}
	}
	return parts, true
}

// whole reports whether an edge's marks reach from corner to corner.
func (e Edge) whole() bool {
	return e.Ends && math.Abs(e.Marks[0].At) < foldFine
}

// folding tells how often to fold one paper, where halving gives its marks.
func (p Plan) folding(c Card) []Step {
	across, wide := c.Edges[0].Folded()
	down, tall := c.Edges[1].Folded()
	if !wide || !tall || !c.Edges[0].whole() || !c.Edges[1].whole() {
		return []Step{{ShowOpen, p.foldsNot() + " Choose equal parts that fill the paper, or mark by the printed strips or a ruler."}}
	}
	return []Step{
		{ShowFoldTall, fmt.Sprintf("Side to side, fold the paper %s: %d parts across.", times(across), across)},
		{ShowFoldWide, fmt.Sprintf("Open it. Top to bottom, fold it %s: %d parts down.", times(down), down)},
		{ShowOpen, "Press every crease with a fingernail, then open the paper flat."},
	}
}

// foldsNot is what is said where folding does not give a grid.
func (p Plan) foldsNot() string {
	power := func(n int) bool { return n >= 1 && n <= 16 && n&(n-1) == 0 }
	if !power(p.Grid.Columns) || !power(p.Grid.Rows) {
		return fmt.Sprintf("Folding gives 2, 4, 8 or 16 equal parts, and this grid has %d × %d.", p.Grid.Columns, p.Grid.Rows)
	}
	return "Folding gives equal parts of a whole paper, and this grid's lines lie otherwise on it."
}

// Folds reports whether folding every paper in halves gives this grid.
func (p Plan) Folds() bool {
	for _, panel := range p.Panels() {
		c := p.edges(panel)
		_, wide := c[0].Folded()
		_, tall := c[1].Folded()
		if !wide || !tall || !c[0].whole() || !c[1].whole() {
			return false
		}
	}
	return true
}

// SplitWords writes the boxes divided again: "C4 in 2, D5 in 4".
func (p Plan) SplitWords() string {
	var words []string
	for _, c := range p.Cells() {
		if n := p.Grid.Split[c.Label]; n > 0 {
			words = append(words, fmt.Sprintf("%s in %d", c.Label, n))
		}
	}
	return strings.Join(words, ", ")
}
