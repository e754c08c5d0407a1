package grid

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/plane"
)

// Marks from the ruler's zero, common practice: 4-inch squares on 16 × 20 are
// at 0, 4, 8, 12, 16, and the diagonal of 16 × 20 is 25.61 in.
func TestCard(t *testing.T) {
	p := mustMake(t, Request{Reference: "8x10", Paper: "16x20", ReferenceSquare: "2", SheetSquare: "4"})
	c := p.CardFor(p.Panels()[0])
	if got := c.Edges[0].List(); got != "0, 4, 8, 12, 16" || !c.Edges[0].Ends {
		t.Errorf("across %s", got)
	}
	if got := measure.Length(25.61 * 25.4).About(measure.Inch); c.Check != got {
		t.Errorf("diagonal %s; want %s", c.Check, got)
	}
	all := strings.Join(c.Words(), "\n")
	for _, want := range []string{"zero line, not the end of the wood", "0, 4, 8, 12, 16 in", "at 16 in and 20 in", "4 boxes across, 5 down, 20 in all"} {
		if !strings.Contains(all, want) {
			t.Errorf("%q is missing from\n%s", want, all)
		}
	}
	// A quarter inch of wood before zero, and eighths on the ruler.
	p = mustMake(t, Request{Reference: "8x10", Paper: "12x18", ReferenceSquare: "2", SheetSquare: "2 3/16", RulerZero: "1/4", RulerStep: "1/8"})
	c = p.CardFor(p.Panels()[0])
	if got := c.Edges[0].List(); got != "0, ≈ 2 1/4, 4 3/8, ≈ 6 5/8, 8 3/4" {
		t.Errorf("eighths: %s", got)
	}
	if got := c.Edges[0].WoodList(); !strings.HasPrefix(got, "1/4, 2 1/2, 4 5/8") {
		t.Errorf("from the end of the wood: %s", got)
	}
}

func TestWaysOfMarking(t *testing.T) {
	for _, c := range []struct {
		ask  Request
		say  []string
		code string
	}{
		{Request{MarkBy: "yardstick"}, []string{"long rule"}, ""},
		{Request{MarkBy: "t-square"}, []string{"Tape the paper's corners to the board", "Slide the T-square"}, ""},
		{Request{MarkBy: "strip"}, []string{"Zero is at the very end of the strip", "tick off every line"}, ""},
		{Request{MarkBy: "folding", Method: "parts", Parts: "4x8"}, []string{"in half, and in half again", "in half three times"}, ""},
		{Request{MarkBy: "folding", Method: "parts", Parts: "3x5"}, []string{"this grid has 3 × 5"}, "folding"},
		{Request{Ruler: "12in"}, []string{"zero line"}, "short-ruler"},
		{Request{Method: "quarters"}, []string{"Do not rule the lines through"}, ""},
		{Request{Method: "diagonals"}, []string{"corner-to-corner lines"}, ""},
		{Request{Split: "B2 4"}, []string{"B2 in 4"}, ""},
	} {
		c.ask.Reference, c.ask.Paper = "8x10", "16x20"
		p := mustMake(t, c.ask)
		all := strings.Join(p.CardFor(p.Panels()[0]).Words(), "\n")
		for _, want := range c.say {
			if !strings.Contains(all, want) {
				t.Errorf("%+v: %q is missing from\n%s", c.ask, want, all)
			}
		}
		has := slices.ContainsFunc(p.Findings, func(f Finding) bool { return f.Code == c.code })
		if c.code != "" && !has {
			t.Errorf("%+v: findings %+v; want %s", c.ask, p.Findings, c.code)
		}
	}
	for field, ask := range map[string]Request{
		"ruler_zero": {Ruler: "5cm", RulerZero: "6cm"},
		"ruler":      {Ruler: "long"},
		"mark_by":    {MarkBy: "eye"},
		"ruler_step": {RulerStep: "2in"},
		"minutes":    {Minutes: "soon"},
		"skill":      {Skill: "wizard"},
	} {
		ask.Reference, ask.Paper = "8x10", "16x20"
		if _, err := Make(ask); ProblemsOf(err).Of(field) == "" {
			t.Errorf("%+v: %v; want a problem at %s", ask, err, field)
		}
	}
}

// A law: what a finding offers as its mend leaves a plan without that finding.
func TestMendsMend(t *testing.T) {
	codes := map[string]bool{}
	for _, ask := range []Request{
		{Reference: "8x9.5", Paper: "12x18", Fit: "width", Round: "3in"},
		{Reference: "10x13", Paper: "8x10"},
		{Reference: "8x10", Paper: "9x12", Scale: "3"},
		{Reference: "8x10", Paper: "9x12", Scale: "1", Margin: "1"},
		{Reference: "8x10", Paper: "16x20", ReferenceSquare: "1/2"},
		{Reference: "8x10", Paper: "17x22", ReferenceSquare: "1 1/2"},
		{Reference: "8x10", Paper: "16x20", MarkBy: "folding", Method: "parts", Parts: "3"},
		{Reference: "8x10", Paper: "16x20", Ruler: "12in"},
		{Reference: "8x10", Paper: "50x60", Ruler: "12in"},
		{Reference: "20x20", Paper: "22x22", Picture: [2]int{600, 800}},
	} {
		p := mustMake(t, ask)
		for _, f := range p.Findings {
			if f.Mend == nil {
				continue
			}
			codes[f.Code] = true
			again, err := Make(ask.Set(f.Mend))
			if err != nil {
				t.Errorf("%s of %+v: %v", f.Code, ask, err)
				continue
			}
			if slices.ContainsFunc(again.Findings, func(g Finding) bool { return g.Code == f.Code && g.Level == f.Level }) {
				t.Errorf("%s of %+v is still there after %v", f.Code, ask, f.Mend)
			}
		}
	}
	for _, code := range []string{"squash", "smaller", "paper", "room", "count", "remainder", "ruler", "folding", "short-ruler", "resolution", "crop"} {
		if !codes[code] {
			t.Errorf("no plan had %s", code)
		}
	}
}

func TestWithContrast(t *testing.T) {
	ask := Request{Reference: "8x10", Scale: "2", Picture: [2]int{800, 1000}, ReferenceSquare: "2"}
	p := mustMake(t, ask)
	lines := p.PictureLines()
	if len(lines) != 3+4 || lines[0] != [2]plane.Point{plane.Pt(200, 0), plane.Pt(200, 1000)} {
		t.Fatalf("lines %v", lines)
	}
	if got := p.WithContrast([]float64{0.2, 0.3, 0.9, 0.8, 0.7}, false); got.Line.Color != "white" || got.Line.Cased {
		t.Errorf("on a dark picture: %+v; want white", got.Line)
	}
	if got := p.WithContrast([]float64{0.5, 0.3, 0.4, 0.2, 0.1}, true); got.Line.Color != "dark" || !got.Line.Cased {
		t.Errorf("on a mixed picture: %+v; want dark with a casing", got.Line)
	}
	for drawing, want := range map[bool]string{false: "dark", true: "red"} {
		if got := p.WithContrast([]float64{0.95, 0.9, 0.1, 0.1, 0.1}, drawing); got.Line.Color != want {
			t.Errorf("on light paper, drawing %v: %+v; want %s", drawing, got.Line, want)
		}
	}
	ask.Line = "red"
	chosen := mustMake(t, ask).WithContrast([]float64{0.2, 0.3, 0.9, 0.8, 0.7}, false)
	last := chosen.Findings[len(chosen.Findings)-1]
	if chosen.Line.Color != "red" || last.Code != "line" || last.Mend["line"] != "white" {
		t.Errorf("red on a dark picture: %+v %+v", chosen.Line, last)
	}
	file, err := Encode(chosen)
	if err != nil {
		t.Fatal(err)
	}
	if back, err := Decode(file); err != nil || !slices.ContainsFunc(back.Findings, func(f Finding) bool { return f.Code == "line" }) {
		t.Errorf("the file lost what was measured: %v", err)
	}
}

// Ranking: squares that are easy on both papers and make 16 to 35 boxes come
// first for beginners, a class with little time gets fewer boxes, and detail
// in one corner asks for more.
func TestRank(t *testing.T) {
	frame := measure.Size{W: 8 * 25.4, H: 10 * 25.4}
	list := Rank(frame, Wish{Units: measure.Inch, Scale: 1.5})
	if best := list[0]; best.Count() < 16 || best.Count() > 35 || best.Remainder {
		t.Errorf("best for beginners %+v", best)
	}
	quick := Rank(frame, Wish{Units: measure.Inch, Scale: 1.5, Minutes: 45})
	if quick[0].Count() > 20 {
		t.Errorf("in 45 minutes %+v", quick[0])
	}
	fine := Rank(frame, Wish{Units: measure.Inch, Scale: 1.5, Skill: Detailed})
	if fine[0].Count() < 55 {
		t.Errorf("for a detailed figure %+v", fine[0])
	}
	busy := Busy{8, 8, make([]float64, 64)}
	busy.Share[9], busy.Share[10] = 0.5, 0.5
	cost := func(b Busy) float64 {
		for _, c := range Rank(frame, Wish{Units: measure.Inch, Scale: 1.5, Busy: b}) {
			if c.Square == 2*25.4 {
				return c.Cost
			}
		}
		t.Fatal("no 2-inch squares")
		return 0
	}
	if cost(busy) <= cost(Busy{}) {
		t.Error("detail in one box costs nothing")
	}
	for _, c := range list {
		if len(c.Reasons) == 0 {
			t.Errorf("%+v has no reason", c)
		}
	}
}

func TestRoundingUpAndDown(t *testing.T) {
	for round, want := range map[string]float64{"1in": 14, "1in up": 15, "1in down": 14, "1/4in up": 14.25, "": 14.25} {
		p := mustMake(t, Request{Reference: "8x9.5", Paper: "12x18", Fit: "width", Round: round})
		if got := p.Sheet.Height / 25.4; got < want-1e-6 || got > want+1e-6 {
			t.Errorf("rounded %q: %v in high; want %v", round, got, want)
		}
	}
}

// A law: looking at other units never changes a length, however often.
func TestSpelledKeepsLengths(t *testing.T) {
	ask := Request{Units: "in", Reference: "8 × 9 1/2", Paper: "12x18", Round: "1/2 up", ReferenceSquare: "1", Fit: "width", Margin: "1 cm", RulerZero: "1/4"}
	want := mustMake(t, ask)
	for _, unit := range []string{"cm", "mm", "in", "cm", "in"} {
		var changed map[string]string
		was, err := measure.ParseUnit(ask.Units)
		if err != nil {
			t.Fatal(err)
		}
		ask, changed = ask.Spelled(was)
		if ask.Units = unit; unit == "cm" && ask.Reference != "8 × 9 1/2 in" {
			t.Errorf("spelled %q, changed %v", ask.Reference, changed)
		}
		got := mustMake(t, ask)
		if got.Sheet != want.Sheet || got.Reference != want.Reference || got.Ruler.Zero != want.Ruler.Zero || !slices.Equal(got.Marks.SheetX, want.Marks.SheetX) {
			t.Errorf("in %s: %+v; want %+v", unit, got.Sheet, want.Sheet)
		}
	}
	for text, want := range map[string]string{"7": "7 in", "7 cm": "7 cm", "8x9.5": "8x9.5 in", "A4": "A4", "": "", "wide": "wide", "8 in x 9": "8 in x 9"} {
		if got := measure.Spell(text, measure.Inch); got != want {
			t.Errorf("%q is spelled %q; want %q", text, got, want)
		}
	}
}

// A box is divided in two, then in four, then whole again, and the others stay;
// what is returned is read back as it was meant.
func TestDivided(t *testing.T) {
	p := mustMake(t, Request{Reference: "4x3in", Scale: "2", ReferenceSquare: "1in", Split: "B2 4, D3 2"})
	for i, want := range []string{"A1 2, B2 4, D3 2", "A1 4, B2 4, D3 2", "B2 4, D3 2", "A1 2, B2 4, D3 2"} {
		got := p.Divided("A1")
		if got != want {
			t.Fatalf("press %d: %q; want %q", i+1, got, want)
		}
		p = mustMake(t, Request{Reference: "4x3in", Scale: "2", ReferenceSquare: "1in", Split: got})
	}
	if got := p.Divided("B2"); got != "A1 2, D3 2" {
		t.Errorf("B2 pressed at 4: %q; want it whole again", got)
	}
}

// The squares that a hand may drag fit the frame and make no more than 400 boxes.
func TestEasySquaresOn(t *testing.T) {
	for _, frame := range []measure.Size{{W: 50, H: 60}, {W: 203.2, H: 241.3}, {W: 2000, H: 3000}, {W: 3, H: 3}} {
		for _, u := range []measure.Unit{measure.Inch, measure.Centimetre} {
			on := EasySquaresOn(frame, u)
			for _, s := range EasySquares(u) {
				boxes := float64(frame.W/s) * float64(frame.H/s)
				want := frame.W >= s && frame.H >= s && boxes <= 400
				if slices.Contains(on, s) != want {
					t.Errorf("%s on %s: offered %v; want %v", s.Text(u), frame.Text(u), !want, want)
				}
			}
		}
	}
}

// Where there is no ruler nothing is measured: a card for folding or for printed
// strips never says so, whatever the sizes; quarter marks begin with a fold.
func TestCardsWithoutARuler(t *testing.T) {
	for _, way := range []Way{ByFolding, ByStrip} {
		for _, r := range []Request{{Reference: "8x11in", Paper: "16x20in", Method: "parts", Parts: "4x8"},
			{Reference: "6x8in", Paper: "12x18in", Method: "quarters"},
			{Reference: "5x7in", Paper: "10x14in", ReferenceSquare: "1in"}} {
			r.MarkBy = string(way)
			p := made(t, r)
			for _, step := range p.CardFor(p.Panels()[0]).Words() {
				if strings.Contains(strings.ToLower(step), "measure") {
					t.Errorf("%s, %s: %q", way, r.Method, step)
				}
			}
		}
	}
	p := made(t, Request{Reference: "9x12in", Paper: "18x24in", Method: "quarters"})
	if steps := p.CardFor(p.Panels()[0]).Words(); !strings.HasPrefix(steps[0], "Begin with a fold") {
		t.Errorf("quarter marks begin with %q", steps[0])
	}
}

// A fold finds marks where halving the edge, or the stretch in which the drawing lies on it, gives them,
// on every paper of several; else it is said, and what finds them. The examples are reckoned by hand.
func TestFoldedMarks(t *testing.T) {
	side := Request{Reference: "6x4.5cm", Paper: "60x90cm", Panels: "2x1", Method: "quarters", Units: "cm"}
	within := side
	within.Margin = "5cm"
	for _, c := range []struct {
		name  string
		ask   Request
		panel int
		want  []string
	}{
		{"two papers side by side", side, 1, []string{"as long as the top edge, once, in half", "2 across and 4 down on this sheet", "A ruler would find them at 0, 30, 60 across"}},
		{"within a margin", within, 0, []string{"tick where the drawing begins and ends on this sheet", "from tick to tick, once, in half"}},
		{"three columns by quarters' folds", Request{Reference: "8x10", Paper: "16x20", MarkBy: "folding", Method: "parts", Parts: "4x4", Margin: "1in"}, 0,
			[]string{"this grid's lines lie otherwise"}},
	} {
		p := mustMake(t, c.ask)
		panels := p.Panels()
		if c.panel >= len(panels) {
			t.Fatalf("%s: %d papers", c.name, len(panels))
		}
		all := strings.Join(p.CardFor(panels[c.panel]).Words(), "\n")
		for _, want := range c.want {
			if !strings.Contains(all, want) {
				t.Errorf("%s: %q is missing from\n%s", c.name, want, all)
			}
		}
	}
}

// Of 2,000 plans by seed every mark that a fold is said to find lies within 0.2 mm of the plan's,
// reckoned anew from the words' own numbers: halves of halves of the stretch between the outer marks.
func TestFoldsFindTheMarks(t *testing.T) {
	rng := rand.New(rand.NewPCG(3, 37))
	folded := 0
	for range 2000 {
		r := Request{Reference: fmt.Sprintf("%d x %d mm", 50+rng.IntN(200), 50+rng.IntN(200)), Paper: fmt.Sprintf("%d x %d mm", 200+rng.IntN(700), 200+rng.IntN(700)),
			Method: []string{"quarters", "parts"}[rng.IntN(2)], MarkBy: "folding", Units: "cm"}
		if r.Method == "parts" {
			r.Parts = fmt.Sprintf("%dx%d", 1+rng.IntN(8), 1+rng.IntN(8))
		}
		if rng.IntN(2) == 0 {
			r.Margin = fmt.Sprintf("%d mm", rng.IntN(40))
		}
		if rng.IntN(2) == 0 {
			r.Panels = fmt.Sprintf("%dx%d", 1+rng.IntN(3), 1+rng.IntN(3))
		}
		p, err := Make(r)
		if err != nil {
			continue
		}
		for _, panel := range p.Panels() {
			for k, e := range p.CardFor(panel).Edges {
				n, ok := e.Folded()
				if !ok {
					continue
				}
				folded++
				creases := []float64{e.Marks[0].At, e.Marks[len(e.Marks)-1].At}
				for len(creases) < n+1 {
					for i := len(creases) - 1; i > 0; i-- {
						creases = slices.Insert(creases, i, (creases[i-1]+creases[i])/2)
					}
				}
				marks := [][]float64{panel.X, panel.Y}[k]
				for i, at := range creases {
					if i >= len(marks) || math.Abs(at-marks[i]) > 0.2 {
						t.Fatalf("%+v, paper %d, %d: creases %v, marks %v", r, panel.Column, panel.Row, creases, marks)
					}
				}
			}
		}
	}
	if folded < 500 {
		t.Errorf("%d edges fold; the plans say too little", folded)
	}
}
