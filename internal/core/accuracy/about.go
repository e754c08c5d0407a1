package accuracy

import (
	"cmp"
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/plane"
)

func (r Report) aboutGrid() (all []Advice) {
	for _, words := range r.Grid.Problems {
		all = append(all, Advice{Words: words, Effect: 10, About: AboutGrid}) // it spoils everything after
	}
	return all
}

// sized and turned report whether the whole's size or turn is off by so much that it is said.
func (f Fit) sized() bool  { return math.Abs(f.Scale) >= sizePercent+f.ScaleUncertain }
func (f Fit) turned() bool { return math.Abs(f.Rotation) >= turnDegrees+f.RotationUncertain }

// aboutWhole speaks of the whole's size, turn and place: size and turn by how far they put the lines off at the edges.
// While much is still to come that is mended first; nobody draws a finished drawing anew for what hardly shows.
func (r Report) aboutWhole() []Advice {
	f := r.Fit
	if f.Of == OfNothing {
		return nil
	}
	const fewest = 36                                         // boxes, where only landmarks were measured
	side := math.Sqrt(float64(max(fewest, len(r.Cells)))) / 2 // boxes from the middle to the edge
	grown, leant := side*math.Abs(f.Scale)/100, side*math.Abs(f.Rotation)*math.Pi/180
	var parts []string
	if d := Direction(f.DX, f.DY); d != "" && math.Hypot(f.DX, f.DY) > r.Tolerance/2 {
		parts = append(parts, "sits "+d)
	}
	if f.sized() {
		parts = append(parts, fmt.Sprintf("is too %s, by %s at its edges", sign(f.Scale, "large", "small"), InBoxes(grown)))
	}
	if f.turned() {
		parts = append(parts, fmt.Sprintf("leans %s, by %s at its edges", sign(f.Rotation, "clockwise", "anticlockwise"), InBoxes(leant)))
	}
	if len(parts) == 0 || !r.explained() {
		return nil
	}
	off := math.Hypot(f.DX, f.DY) + grown + leant
	if r.Tolerance >= LooseTolerance && off < r.Tolerance {
		return nil
	}
	effect, then := off*float64(max(fewest, len(r.Cells)))/4, ". Mend that first, from the outside in."
	if !r.Tonal && r.InPlace >= mostDrawn && off < r.Tolerance {
		effect, then = min(off, lastOfAll), ". Next time begin from the outside in."
	}
	return []Advice{{Words: "The whole drawing " + list(parts) + then,
		Effect: effect, Move: plane.Pt(f.DX, f.DY), About: AboutWhole}}
}

// lastOfAll is the effect of what is said after everything else.
const lastOfAll = 0.05

// explained reports whether the move, turn and size of the whole account for
// at least half of what is off: else it is single boxes. Of a handful of
// landmarks it must be nearly all, for four numbers go far to fit eight. Where half of the boxes lie rather where they
// belong, the others are what is off.
func (r Report) explained() bool {
	sum, n, left, home := 0.0, 0.0, 0.5, 0
	if r.Fit.Of == OfLines {
		told := 0
		for _, c := range r.Cells {
			if c.Sure != None {
				w := min(1, c.Lines)
				sum += w * c.Size() * c.Size()
				n += w
				if told++; c.Shift.Len() < c.Local.Len() { // it lies where it belongs rather than where the whole has it
					home++
				}
			}
		}
		if 2*home >= told {
			return false
		}
	} else {
		left = 0.15
		for _, o := range r.Landmarks {
			if o.Sure {
				sum += o.Weight * o.Size() * o.Size()
				n += o.Weight
			}
		}
	}
	return r.Fit.RMS*r.Fit.RMS*n < left*sum
}

// wholeAt returns, in boxes, how far the move, turn and size of the whole put a
// point of the reference off.
func (r Report) wholeAt(p grid.Plan, reference plane.Point) (dx, dy float64) {
	at := p.ToSheet(reference)
	x, y := (at.X-p.Sheet.Width/2)/p.Grid.SheetCell[0], (at.Y-p.Sheet.Height/2)/p.Grid.SheetCell[1]
	grow, turn := r.Fit.Scale/100, r.Fit.Rotation*math.Pi/180
	return r.Fit.DX + grow*x - turn*y, r.Fit.DY + grow*y + turn*x
}

func sign(v float64, plus, minus string) string {
	if v < 0 {
		return minus
	}
	return plus
}

// aboutLandmarks speaks of landmarks that are off. Where the whole is off too,
// those that only go with it are left out.
func (r Report) aboutLandmarks(wholeOff bool, p grid.Plan) (all []Advice) {
	for _, o := range r.Landmarks {
		if o.Within || !o.Sure || o.Size() < 2*o.Uncertain {
			continue
		}
		if x, y := r.wholeAt(p, o.Reference); wholeOff && math.Hypot(o.Off.X-x, o.Off.Y-y) <= r.Tolerance {
			continue
		}
		words := fmt.Sprintf("%s, box %s: it is %s.", o.Name, o.Cell, cmp.Or(Direction(o.Off.X, o.Off.Y), "just outside the limit"))
		all = append(all, Advice{Cells: []string{o.Cell}, Words: words, Effect: o.Size() * o.Weight * 1.5, Move: o.Off, About: AboutLandmark})
	}
	worst := Proportion{Want: 1, Have: 1}
	for _, q := range r.Proportions {
		if math.Abs(q.Off()) > math.Abs(worst.Off()) {
			worst = q
		}
	}
	limit := partOff * r.Tolerance / NormalTolerance
	if math.Abs(worst.Off()) > limit && ShareInWords(worst.Want) != ShareInWords(worst.Have) {
		all = append(all, Advice{Words: fmt.Sprintf("From “%s” to “%s” should measure %s of the way from “%s” to “%s”; here it is %s of it.",
			worst.Part[0], worst.Part[1], ShareInWords(worst.Want), worst.Whole[0], worst.Whole[1], ShareInWords(worst.Have)),
			Effect: 3 * math.Abs(worst.Off()), About: AboutLandmark})
	}
	return all
}

// aboutParts speaks of parts that moved, have another size, are turned or not there, and of what the
// picture has not: what an eye sees first.
func (r Report) aboutParts() (all []Advice) {
	for _, p := range r.Parts {
		if is := p.is(r.Tolerance); len(is) > 0 {
			all = append(all, Advice{Cells: p.Cells, About: AboutPart, Move: p.Move, Words: p.called() + " " + strings.Join(is, " and ") + ".",
				Effect: (p.Move.Len() + math.Abs(p.Size-1) + math.Abs(p.Turn)/60) * min(3, 1+p.Length/4)})
		}
	}
	if cells := r.invented(); len(cells) > 0 {
		all = append(all, Advice{Cells: cells, About: AboutOther, Effect: 0.5, Words: "Something is drawn in " + several(cells) + " that the picture has not. Was it meant?"})
	}
	return append(all, r.aboutMissing()...)
}

// is says how a part that moved lies: nothing of another.
func (p Part) is(tolerance float64) (words []string) {
	if p.State != PartMoved {
		return nil
	}
	if off := math.Abs(p.Size - 1); off > 0 {
		words = append(words, fmt.Sprintf("%s about %s too %s", p.verb("is", "are"), ShareInWords(off), sign(p.Size-1, "large", "small")))
	}
	if d := Direction(p.Move.X, p.Move.Y); d != "" && p.Move.Len() > tolerance {
		words = append(words, p.verb("sits ", "sit ")+d)
	}
	if p.Turn != 0 {
		words = append(words, fmt.Sprintf("%s turned %s", p.verb("is", "are"), sign(p.Turn, "clockwise", "anticlockwise")))
	}
	return words
}

// aboutMissing names the parts that are not there.
func (r Report) aboutMissing() []Advice {
	var names []string
	a := Advice{About: AboutMissing}
	for _, p := range r.Parts {
		if p.State == PartMissing {
			names = append(names, strings.ToLower(p.called()[:1])+p.called()[1:])
			a.Cells, a.Effect = append(a.Cells, p.Cells...), a.Effect+0.25*p.Length
		}
	}
	if len(names) == 0 {
		return nil
	}
	a.Words, a.Effect = "Not there yet: "+strings.Join(names[:min(len(names), mostNamed)], ", "), min(4, a.Effect)
	if more := len(names) - mostNamed; more > 0 {
		a.Words += fmt.Sprintf(" and %d more", more)
	}
	a.Words += "."
	return []Advice{a}
}

// invented returns the boxes in which something is drawn that the picture has not, the largest of each.
func (r Report) invented() (cells []string) {
	for _, p := range r.Parts {
		if p.State == PartInvented && !slices.Contains(cells, p.Cell) {
			cells = append(cells, p.Cell)
		}
	}
	return cells
}

// within reports whether a part that moved is no further off than a tolerance, in boxes, and as large
// as it should be: nothing is to be said of it.
func (p Part) within(tolerance float64) bool {
	loose := max(1, tolerance/NormalTolerance)
	moved := p.State == PartMoved || p.State == PartDoubted && p.Move != plane.Point{}
	return moved && p.Move.Len() <= tolerance && within(p.Size-1, leastSized, loose) && within(p.Turn*math.Pi/180, leastTurn, loose)
}

// within reports whether what is off by so much is not seen where a project is so loose.
func within(off, seen, loose float64) bool {
	return off == 0 || loose > 1 && math.Abs(off) < seen*loose
}

// called returns what a part is called: by the landmark on it, else by its shape and box.
func (p Part) called() string {
	switch {
	case p.Name != "":
		return fmt.Sprintf("“%s” (%s)", p.Name, p.Cell)
	case p.Closed:
		return "The closed shape in " + p.Cell
	case len(p.Cells) > 4:
		return "The lines round " + p.Cell
	case len(p.Cells) > 1:
		return "The lines in " + list(p.Cells)
	}
	return "The line in " + p.Cell
}

// verb returns what goes with what a part is called.
func (p Part) verb(one, several string) string {
	if p.Name == "" && !p.Closed && len(p.Cells) > 1 {
		return several
	}
	return one
}

// inPart reports whether a box has lines of a part that is not where it belongs.
func (r Report) inPart(label string) bool {
	return r.partIn(label, PartMoved, PartMissing, PartDoubted)
}

// told reports whether it is known of a box where its lines lie, those of every part in it too.
func (r Report) told(c Cell) bool { return c.Sure != None && !r.partIn(c.Label, PartDoubted) }

// right reports whether all that is told of a box is in its place.
func (r Report) right(c Cell) bool {
	return r.told(c) && !c.Wrong && !r.partIn(c.Label, PartMoved, PartMissing)
}

// partIn reports whether a box has lines of a part of which one of these became.
func (r Report) partIn(label string, of ...PartState) bool {
	return slices.ContainsFunc(r.Parts, func(p Part) bool { return slices.Contains(of, p.State) && slices.Contains(p.Cells, label) })
}

// beside returns the boxes above, below, left and right of one.
func (r Report) beside(at, columns int) (all []int) {
	for _, j := range []int{at - columns, at + columns, at - 1, at + 1} {
		if j >= 0 && j < len(r.Cells) && (j%columns == at%columns || j/columns == at/columns) {
			all = append(all, j)
		}
	}
	return all
}

// aboutLines speaks of boxes whose lines sit wrong: neighbours that are off
// alike are named together. Where the whole is off too, that is left out.
func (r Report) aboutLines(wholeOff bool, p grid.Plan) (all []Advice) {
	off := func(c Cell) plane.Point {
		if wholeOff {
			return c.Local
		}
		return c.Shift
	}
	named := map[int]bool{}
	wrong := func(i int) bool {
		c := r.Cells[i]
		return c.Sure != None && !named[i] && c.off(off(c), r.Tolerance) && !r.inPart(c.Label)
	}
	for i, c := range r.Cells {
		if !wrong(i) {
			continue
		}
		named[i] = true
		group := []int{i}
		alike := func(j int) bool {
			return len(group) <= 5 && wrong(j) && off(c).Sub(off(r.Cells[j])).Len() < 0.15 && c.Slipped+r.Cells[j].Slipped == 0
		}
		for next := 0; next < len(group); next++ {
			for _, j := range r.beside(group[next], p.Grid.Columns) {
				if alike(j) {
					named[j] = true
					group = append(group, j)
				}
			}
		}
		all = append(all, r.aboutGroup(group, off))
	}
	return all
}

// aboutGroup speaks of boxes that are off alike.
func (r Report) aboutGroup(group []int, off func(Cell) plane.Point) Advice {
	a, c := Advice{About: AboutLines}, r.Cells[group[0]]
	for _, j := range group {
		v, n := off(r.Cells[j]), float64(len(group))
		a.Cells = append(a.Cells, r.Cells[j].Label)
		a.Move.X += v.X / n
		a.Move.Y += v.Y / n
		a.Effect += math.Hypot(v.X, v.Y) * min(1, r.Cells[j].Lines)
	}
	a.Words = fmt.Sprintf("%s: the lines sit %s.", list(a.Cells), cmp.Or(Direction(a.Move.X, a.Move.Y), "a little off"))
	switch {
	case c.Slipped > 0:
		a.Words, a.Effect = fmt.Sprintf("%s slipped by itself, by %s or more: compare its lines with the picture.", c.Label, AtLeast(c.Slipped)), c.Size()*min(1, c.Lines)
	case len(group) == 1 && c.Sure == Across:
		a.Words += " Along the line nothing can be told."
	}
	if len(group) == 1 && c.Broken > 0 {
		a.Words += " They do not meet the next box."
	}
	return a
}

// Of single boxes chance makes others' lines: so many must hold some to be named, more
// of a photograph, of whose edges everyone draws others; and so many are.
const leastOthers, tonalOthers, mostNamed = 2, 5, 6

// aboutOther names the boxes that hold lines, but not the picture's.
func (r Report) aboutOther() []Advice {
	var cells []string
	lines := 0.0
	for _, c := range r.Cells {
		if c.Other && !r.inPart(c.Label) {
			cells, lines = append(cells, c.Label), lines+min(2, c.Lines)
		}
	}
	if least := map[bool]int{false: leastOthers, true: tonalOthers}[r.Tonal]; len(cells) < least {
		return nil
	}
	return []Advice{{Cells: cells, About: AboutOther, Effect: 0.5 * lines, Words: several(cells) + ": lines are there, but not the picture’s. Lay the picture’s boxes beside them and compare."}}
}

// toneEffect is how much of L* weighs like one box that is off by a box, mostOfTone what all of it
// weighs at most: lines come before tone, unless they are off by little.
const toneEffect, mostOfTone = 40, 0.25

func (r Report) aboutTone() (all []Advice) {
	t := r.Tone
	if !t.Judged || !slices.ContainsFunc(r.Cells, func(c Cell) bool { return c.Sure != None }) {
		return nil // a drawing of which no box can be told may be another's
	}
	if t.Darks > timidDarks {
		all = append(all, Advice{Words: "The darks are not dark enough" + first(t.Change,
			"; begin with ") + ". Start from the darkest part.", Cells: t.Change, Effect: min(mostOfTone, t.Darks/toneEffect),
			About: AboutTone})
	}
	if t.Whites < -greyWhites {
		all = append(all, Advice{Words: "The whites have gone grey. Lift them out with a clean eraser.", Effect: min(mostOfTone, -t.Whites/toneEffect), About: AboutTone})
	}
	if len(all) == 0 && len(t.Change) > 0 {
		d := 0.0
		for _, c := range t.Cells {
			if c.Label == t.Change[0] {
				d = c.Difference
			}
		}
		all = append(all, Advice{Words: fmt.Sprintf("%s is too %s for its place.", t.Change[0],
			sign(d, "light", "dark")), Cells: t.Change[:1], Effect: math.Abs(d) / (3 * toneEffect), About: AboutTone})
	}
	if t.Edges < 0.6 {
		all = append(all, Advice{Words: "Edges between tones are softer than in the picture. Sharpen the important ones.", Effect: 0.1, About: AboutTone})
	}
	return all
}

func first(labels []string, words string) string {
	if len(labels) == 0 {
		return ""
	}
	return words + list(labels)
}

func (r Report) aboutHalves(p grid.Plan) (all []Advice) {
	for _, c := range r.Halves {
		if !c.Wrong {
			continue
		}
		other, made := c.Label, "the mirror of"
		if col, row, ok := p.Grid.Labels.Place(c.Label); ok {
			switch r.Compared {
			case Turned:
				col, row, made = p.Grid.Columns-1-col, p.Grid.Rows-1-row, "what turning half round makes of"
			case LevelFold:
				row = p.Grid.Rows - 1 - row
			default:
				col = p.Grid.Columns - 1 - col
			}
			other = p.Grid.Labels.Label(col, row)
		}
		all = append(all, Advice{Cells: []string{c.Label, other}, About: AboutHalves, Effect: c.Size(), Move: c.Shift,
			Words: fmt.Sprintf("%s is not %s %s: its lines sit %s.", c.Label, made, other, Direction(c.Shift.X, c.Shift.Y))})
	}
	slices.SortStableFunc(all, func(a, b Advice) int { return cmp.Compare(b.Effect, a.Effect) })
	return all[:min(2, len(all))]
}

// viewsMM is how far views may differ in height: a line's breadth or two.
const viewsMM = 2.0

// namedMM is how far a named height may be off: it is less sharp than an end.
const namedMM = 3.0

func (r Report) aboutViews(p grid.Plan) (all []Advice) {
	for i, v := range r.Views {
		if i == 0 {
			continue
		}
		a := r.Views[0]
		for _, d := range []struct {
			off         float64
			end         string
			plus, minus string
		}{{v.Top - a.Top, "top", "lower", "higher"}, {v.Bottom - a.Bottom, "bottom", "lower", "higher"}} {
			if math.Abs(d.off) > viewsMM {
				all = append(all, Advice{About: AboutViews, Effect: math.Abs(d.off) / 10,
					Words: fmt.Sprintf("View %d from the left: its %s is %s %s than the first view's.", i+1, d.end, p.Text(math.Abs(d.off)), sign(d.off, d.plus, d.minus))})
			}
		}
		for _, name := range slices.Sorted(maps.Keys(v.Named)) {
			first, there := a.Named[name]
			if off := v.Named[name] - first; there && math.Abs(off) > namedMM {
				all = append(all, Advice{About: AboutViews, Effect: math.Abs(off) / 10,
					Words: fmt.Sprintf("View %d from the left: its %s is %s %s than the first view's.", i+1, name, p.Text(math.Abs(off)), sign(off, "lower", "higher"))})
			}
		}
	}
	return all
}

// several names as many boxes as one reads, and counts the others.
func several(cells []string) string {
	if more := len(cells) - mostNamed; more > 0 {
		return fmt.Sprintf("%s and %d more", strings.Join(cells[:mostNamed], ", "), more)
	}
	return list(cells)
}

// list names things: "C4, C5 and C6".
func list(names []string) string {
	if len(names) < 2 {
		return strings.Join(names, "")
	}
	last := len(names) - 1
	return strings.Join(names[:last], ", ") + " and " + names[last]
}
