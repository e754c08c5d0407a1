package grid

import (
	"fmt"
	"math"
	"math/rand/v2"
	"regexp"
	"strings"
	"testing"

	"zestysketch/internal/core/measure"
)

// A second way of reckoning, over 2,000 plans by seed: squares, parts and quarters, on papers that hang as one, with
// margins and strips, marked by every tool. What a card's words tell to mark, by measuring or by folding, is worked out
// as a person would, from the words alone, and lies on the lines that the sizes of drawing, boxes and papers give.
func TestCardsReckonedAgain(t *testing.T) {
	rng := rand.New(rand.NewPCG(37, 2000))
	made, told, folded := 0, 0, 0
	for seed := 0; made < 2000; seed++ {
		ask := chance(rng)
		p, err := Make(ask)
		if err != nil {
			continue
		}
		if _, stopped := p.Stopped(); stopped {
			continue
		}
		made++
		for _, panel := range p.Panels() {
			card := p.CardFor(panel)
			for i, edge := range []Shown{ShowTop, ShowLeft} {
				want := linesOn(p, panel, i)
				got, fold, ok := markedBy(p, card, edge, i)
				if !ok {
					continue // words that tell no marks: other tools are offered
				}
				told++
				if fold {
					folded++
				}
				if why := apartBy(got, want, p); why != "" {
					t.Fatalf("%+v\npanel %+v, %s: %s\ntold %v\nwant %v\n%+v", ask, panel, edge, why, got, want, card.Steps)
				}
			}
			if n := p.Sheet.Panels; n != [2]int{} {
				across, down := boxesOn(p, panel, 0), boxesOn(p, panel, 1)
				if say := fmt.Sprintf("%d across and %d down on this sheet", across, down); !strings.HasPrefix(card.Counts, say) {
					t.Fatalf("%+v, panel %+v: %q; want %q", ask, panel, card.Counts, say)
				}
			}
		}
	}
	if told < 4000 || folded < 200 {
		t.Errorf("%d edges were told, %d of them folded", told, folded)
	}
}

// chance is what a teacher might ask for.
func chance(rng *rand.Rand) Request {
	pick := func(of ...string) string { return of[rng.IntN(len(of))] }
	r := Request{Picture: [2]int{600 + rng.IntN(1800), 600 + rng.IntN(1800)}, Units: pick("in", "cm", "mm"), Reference: fmt.Sprint(100+rng.IntN(120)) + " mm",
		Paper: pick("A3", "A2", "60 x 90 cm", "12 x 18 in", "18 x 24 in", "canvas 50 x 70 cm"), Method: pick("squares", "parts", "parts", "quarters", "quarters"),
		MarkBy: pick("ruler", "yardstick", "t-square", "folding", "folding", "strip"), Panels: pick("", "", "2x1", "1x2", "2x2"), Margin: pick("", "", "2 cm", "5 cm", "1 1/2 in")}
	switch r.Method {
	case "parts":
		r.Parts = fmt.Sprintf("%dx%d", []int{2, 4, 8, 3, 5, 6}[rng.IntN(6)], []int{2, 4, 8, 16, 3, 7}[rng.IntN(6)])
	case "quarters":
		r.Parts = pick("2", "4")
	default:
		r.ReferenceSquare, r.Remainder = fmt.Sprint(15+rng.IntN(30))+" mm", pick("", "start", "shared")
	}
	if rng.IntN(4) == 0 && r.Panels == "" {
		r.Strip = "3 cm"
	}
	return r
}

// linesOn returns where a plan's lines lie on a paper's edge, from its own corner: worked out from the drawing's size,
// its boxes and where it hangs, not from the plan's marks.
func linesOn(p Plan, panel Panel, i int) (at []float64) {
	side, cell := [2]float64{p.Sheet.Width, p.Sheet.Height}[i], p.Grid.SheetCell[i]
	from, n := [2]float64{p.Sheet.Origin.X, p.Sheet.Origin.Y}[i], [2]int{p.Grid.Columns, p.Grid.Rows}[i]
	paper, which := p.Sheet.Stock[i], [2]int{panel.Column, panel.Row}[i]
	all := []float64{0}
	switch rest := p.Grid.SheetRemainder[i]; {
	case rest == 0:
		for k := 1; k <= n; k++ {
			all = append(all, side*float64(k)/float64(n))
		}
	default:
		first := cell
		if p.Grid.RemainderAt == AtStart || p.Grid.RemainderAt == Shared {
			first = rest
		}
		for k := 0; k < n-1; k++ {
			all = append(all, first+float64(k)*cell)
		}
		all = append(all, side)
	}
	for _, v := range all {
		v += from - float64(which)*paper
		if p.CutOut() {
			v = v - from
		}
		if v > -slack && v < map[bool]float64{true: side, false: paper}[p.CutOut()]+slack {
			at = append(at, v)
		}
	}
	return at
}

// boxesOn counts the boxes of which a part lies on a paper.
func boxesOn(p Plan, panel Panel, i int) (n int) {
	side, from, count := [2]float64{p.Sheet.Width, p.Sheet.Height}[i], [2]float64{p.Sheet.Origin.X, p.Sheet.Origin.Y}[i], [2]int{p.Grid.Columns, p.Grid.Rows}[i]
	paper, which := p.Sheet.Stock[i], [2]int{panel.Column, panel.Row}[i]
	cell, rest := p.Grid.SheetCell[i], p.Grid.SheetRemainder[i]
	at := from - float64(which)*paper
	for k := range count {
		wide := cell
		switch last := k == count-1; {
		case rest == 0:
			wide = side / float64(count)
		case p.Grid.RemainderAt == Shared && (k == 0 || last), p.Grid.RemainderAt == AtStart && k == 0, (p.Grid.RemainderAt == AtEnd || p.Grid.RemainderAt == "") && last:
			wide = rest
		}
		if at < paper-slack && at+wide > slack {
			n++
		}
		at += wide
	}
	return n
}

var (
	numbersTold = regexp.MustCompile(`(?:marks from zero:|mark|at|across|down) ((?:≈ )?[0-9][0-9 ./]*(?:, (?:≈ )?[0-9][0-9 ./]*)*)`)
	oneTold     = regexp.MustCompile(`(≈ )?([0-9]+ [0-9]+/[0-9]+|[0-9]+/[0-9]+|[0-9.]+)`)
	halvings    = map[string]int{"not at all": 1, "once, in half": 2, "in half, and in half again": 4, "in half three times": 8, "in half four times": 16}
)

// told is a mark that words tell to make, and how far off the words say it may be.
type told struct{ at, about float64 }

// markedBy does what a card says for one edge, and returns the marks made from zero.
func markedBy(p Plan, card Card, edge Shown, i int) (marks []told, fold, ok bool) {
	side := card.Edges[i].Side
	name := []string{"top", "left"}[i]
	var begin, end told
	begin, end = told{0, 0}, told{side, 0}
	for k, s := range card.Steps {
		switch {
		case s.Show == edge && strings.Contains(s.Words, "tick where the drawing begins and ends"):
			if strings.Contains(s.Words, "by the printed strip") {
				first, last := card.Edges[i].Marks[0], card.Edges[i].Marks[len(card.Edges[i].Marks)-1]
				begin, end = told{first.At, 0}, told{last.At, 0} // the strip is printed true
				continue
			}
			ticks := numbers(p, s.Words[strings.Index(s.Words, ", at ")+5:])
			begin, end = ticks[0], ticks[1]
		case s.Show == edge && strings.Contains(s.Words, "No line crosses the "+name):
			return []told{begin, end}, true, true
		case s.Show == edge && strings.Contains(s.Words, "tick the creases"):
			parts := 0
			for words, n := range halvings {
				if strings.Contains(card.Steps[k-1].Words, ", "+words+".") && n > parts {
					parts = n
				}
			}
			for j := range parts + 1 {
				share := float64(j) / float64(parts)
				marks = append(marks, told{begin.at + (end.at-begin.at)*share, max(begin.about, end.about)})
			}
			return marks, true, true
		case s.Show == edge && strings.Contains(s.Words, "marks from zero:"), s.Show == edge && strings.Contains(s.Words, "Folding does not find") && strings.Contains(s.Words, ": mark "):
			found := numbersTold.FindStringSubmatch(s.Words[strings.Index(s.Words, ":")-15:])
			if found == nil {
				return nil, false, false
			}
			return numbers(p, found[1]), false, true
		case s.Show == []Shown{ShowFoldTall, ShowFoldWide}[i]:
			for words, n := range halvings {
				if strings.Contains(s.Words, "fold the paper "+words+":") || strings.Contains(s.Words, "fold it "+words+":") {
					for j := range n + 1 {
						marks = append(marks, told{side * float64(j) / float64(n), 0})
					}
				}
			}
			return marks, true, true
		}
	}
	return nil, false, false
}

// numbers reads a list of lengths in a plan's units.
func numbers(p Plan, list string) (marks []told) {
	for _, m := range oneTold.FindAllStringSubmatch(list, -1) {
		l, err := measure.Parse(m[2], p.Units)
		if err != nil {
			continue
		}
		about := 0.0
		if m[1] != "" {
			about = p.Ruler.Step / 2
		}
		marks = append(marks, told{float64(l), about})
	}
	return marks
}

// apartBy says what two lists of marks differ in: a fifth of a millimetre, and where words say about, half a division
// of the ruler more. Marks on the very corners need not be told.
func apartBy(got []told, want []float64, p Plan) string {
	near := func(a, b, about float64) bool { return math.Abs(a-b) <= 0.2+about }
	for _, g := range got {
		found := false
		for _, w := range want {
			found = found || near(g.at, w, g.about)
		}
		if !found && g.at > 0.2 {
			return fmt.Sprintf("%.2f mm is no line of the plan", g.at)
		}
	}
	for _, w := range want {
		found := w < 0.2
		for _, g := range got {
			found = found || near(g.at, w, g.about)
		}
		if !found {
			return fmt.Sprintf("the line at %.2f mm is not told", w)
		}
	}
	return ""
}
