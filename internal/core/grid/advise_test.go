package grid

import (
	"errors"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/plane"
)

// prints are the largest prints on Letter and A4 with labels round them, upright and lying.
var prints = map[measure.Unit][]measure.Size{
	measure.Inch:       {{W: 195.9, H: 245.9}, {W: 259.4, H: 182.4}},
	measure.Centimetre: {{W: 190, H: 263.5}, {W: 277, H: 176.5}},
}

// handbookPapers are those that its examples use.
var handbookPapers = []string{"Letter", "9x12in", "12x18in", "18x24in", "A4", "A3"}

func unitFor(paper string) measure.Unit {
	if strings.HasPrefix(paper, "A") {
		return measure.Centimetre
	}
	return measure.Inch
}

func asking(t testing.TB, picture [2]int, papers ...string) Advice {
	t.Helper()
	u := unitFor(papers[0])
	a := Advice{Wish: Wish{Units: u, Skill: Beginner}, Frame: wholePicture(picture), Print: prints[u]}
	for _, name := range papers {
		size, err := measure.ParseSize(name, u)
		if err != nil {
			t.Fatal(err)
		}
		a.Papers = append(a.Papers, size)
	}
	return a
}

func advised(t testing.TB, a Advice, n int) []Proposal {
	t.Helper()
	list, err := Advise(a, n)
	if err != nil {
		t.Fatal(err)
	}
	return list
}

// falls reports whether every mark of a plan is a multiple of a step.
func falls(p Plan, step float64) bool {
	for _, marks := range [][]float64{p.Marks.ReferenceX, p.Marks.ReferenceY, p.Marks.SheetX, p.Marks.SheetY} {
		for _, m := range marks {
			if math.Abs(m/step-math.Round(m/step)) > 1e-4/step {
				return false
			}
		}
	}
	return true
}

// Pictures of five hundred shapes between 1 : 3 and 3 : 1 on the handbook's
// papers: the first proposal comes out even in 97 of 100, its marks are lines of
// the ruler, and no side loses more than 3 %.
func TestFirstProposalsComeOutEven(t *testing.T) {
	dice := rand.New(rand.NewPCG(14, 500))
	all, even, fine, easy := 0, 0, 0, 0
	for range 500 {
		shape := math.Pow(3, 2*dice.Float64()-1)
		picture := [2]int{int(3000 * math.Sqrt(shape)), int(3000 / math.Sqrt(shape))}
		for _, paper := range handbookPapers {
			best := advised(t, asking(t, picture, paper), 1)[0]
			p, u := best.Plan, float64(unitFor(paper).Millimetres())
			all++
			if p.Grid.ReferenceRemainder == [2]float64{} && p.Grid.SheetRemainder == [2]float64{} {
				even++
			}
			if falls(p, map[bool]float64{true: u / 8, false: 1}[u == measure.MillimetresPerInch]) {
				fine++
			}
			if falls(p, map[bool]float64{true: u / 4, false: 5}[u == measure.MillimetresPerInch]) {
				easy++
			}
			for _, share := range best.Trim {
				if share < 0 || share > mostTrim+1e-9 {
					t.Errorf("%v on %s: %v is trimmed", picture, paper, best.Trim)
				}
			}
			if kept := p.Frame.Size[0] * p.Frame.Size[1] / float64(picture[0]*picture[1]); math.Abs(kept-(1-best.Trim[0]-best.Trim[1])*(1-best.Trim[2]-best.Trim[3])) > 1e-3 ||
				math.Abs(p.SquashPercent) > 0.02 {
				t.Errorf("%v on %s: %.4f kept, %v said to be trimmed, squash %g %%", picture, paper, kept, best.Trim, p.SquashPercent)
			}
		}
	}
	if share := func(n int) float64 { return float64(n) / float64(all) }; share(even) < 0.97 || share(fine) < 0.97 || share(easy) < 0.9 {
		t.Errorf("of %d: even %.3f, on the ruler %.3f, easy on it %.3f; want 0.97, 0.97, 0.9", all, share(even), share(fine), share(easy))
	}
}

// The camera's shapes always come out even, whatever the handbook's paper and the class.
func TestCamerasComeOutEven(t *testing.T) {
	for _, picture := range [][2]int{{6000, 4000}, {4000, 3000}, {1920, 1080}, {1414, 1000}} {
		for _, paper := range handbookPapers {
			for _, skill := range []Skill{Beginner, Middle, Detailed} {
				for _, shape := range [][2]int{picture, {picture[1], picture[0]}} {
					a := asking(t, shape, paper)
					a.Skill = skill
					if p := advised(t, a, 1)[0].Plan; p.Grid.ReferenceRemainder != [2]float64{} {
						t.Errorf("%v on %s, %s: remainders of %v", shape, paper, skill, p.Grid.ReferenceRemainder)
					}
				}
			}
		}
	}
}

// Worked by hand: a picture of 2 : 3 fills 12 × 18 with 3-inch squares; one of
// 4 : 5 on Letter is drawn 8 × 10 in 2-inch squares (common practice).
func TestAdviceByHand(t *testing.T) {
	for _, c := range []struct {
		picture       [2]int
		paper         string
		picked, sheet string
		boxes         [2]int
	}{
		{[2]int{2000, 3000}, "12x18in", "6 × 9 in", "12 × 18 in", [2]int{4, 6}},
		{[2]int{2400, 3000}, "Letter", "4 × 5 in", "8 × 10 in", [2]int{4, 5}},
		{[2]int{2400, 3000}, "A3", "16 × 20 cm", "24 × 30 cm", [2]int{4, 5}},
	} {
		best := advised(t, asking(t, c.picture, c.paper), 1)[0]
		p := best.Plan
		if got := p.ReferenceSize().Text(p.Units); got != c.picked || p.SheetSize().Text(p.Units) != c.sheet || [2]int{p.Grid.Columns, p.Grid.Rows} != c.boxes {
			t.Errorf("%v on %s: %s to %s, %d × %d; want %+v", c.picture, c.paper, got, p.SheetSize().Text(p.Units), p.Grid.Columns, p.Grid.Rows, c)
		}
	}
}

// A second solver, written in another way, finds no better even grid: it goes
// over every print in sixteenths of an inch and weighs it with the numbers as
// they are said in words.
func TestNoBetterGridIsFound(t *testing.T) {
	easy := []int{8, 12, 16, 24, 32, 48, 64, 96} // sixteenths
	for _, c := range []struct {
		picture [2]int
		paper   [2]int // sixteenths
		name    string
	}{{[2]int{4000, 3000}, [2]int{192, 288}, "12x18in"}, {[2]int{1000, 1437}, [2]int{144, 192}, "9x12in"}, {[2]int{900, 2100}, [2]int{136, 176}, "Letter"}} {
		shape, least := float64(c.picture[0])/float64(c.picture[1]), math.Inf(1)
		for w := 8; w <= 163; w++ {
			for h := 8; h <= 163; h++ {
				if !(w <= 123 && h <= 154 || w <= 163 && h <= 114) { // Letter, with labels
					continue
				}
				lost := 1 - min(float64(w)/float64(h)/shape, shape*float64(h)/float64(w))
				if lost > 0.06 {
					continue
				}
				for _, square := range easy {
					if w%square != 0 || h%square != 0 {
						continue
					}
					boxes := float64(w / square * (h / square))
					for _, on := range easy {
						k := float64(on) / float64(square)
						sw, sh := w/square*on, h/square*on
						if boxes < 4 || boxes > 160 || k < 1 || !(sw <= c.paper[0] && sh <= c.paper[1] || sw <= c.paper[1] && sh <= c.paper[0]) {
							continue
						}
						cost := map[float64]float64{1.5: 0, 2: 0, 1: 0.1, 3: 0.1}[k]
						if k != 1 && k != 1.5 && k != 2 && k != 3 {
							cost = 0.35
						}
						if boxes < 16 {
							cost += 2 * math.Log(16/boxes)
						} else if boxes > 35 {
							cost += 2 * math.Log(boxes/35)
						}
						cost += 4*lost + 0.8*(1-float64(sw*sh)/float64(c.paper[0]*c.paper[1]))
						cost += 0.3 * (1 - float64(w*h)*25.4*25.4/256/(195.9*245.9))
						least = min(least, cost)
					}
				}
			}
		}
		var best Proposal
		for _, p := range advised(t, asking(t, c.picture, c.name), 40) {
			if p.Method == Squares && !p.Remainder && (best.Columns == 0 || p.Cost < best.Cost) {
				best = p
			}
		}
		if math.Abs(best.Cost-least) > 1e-9 {
			t.Errorf("%v on %s: the best even grid costs %.6f; the plain search finds %.6f", c.picture, c.name, best.Cost, least)
		}
	}
}

// What must not be trimmed away is not: the cut moves to the other side, as far
// as 3 % go, and where that does not do it, it is said.
func TestLandmarksAreNotTrimmed(t *testing.T) {
	whole := asking(t, [2]int{4000, 3000}, "12x18in") // comes to 7 × 5, with 2.4 % off the top and the bottom
	free := advised(t, whole, 1)[0]
	if free.Trim[2] < 0.02 || math.Abs(free.Trim[2]-free.Trim[3]) > 1e-12 {
		t.Fatalf("trimmed %v; want as much at the top as at the bottom", free.Trim)
	}
	low := whole
	low.Landmarks = []plane.Point{plane.Pt(2000, 2940)}
	for _, p := range advised(t, low, 5) {
		bottom := p.Plan.Frame.Corners()[2].Y
		if lost := strings.Contains(strings.Join(p.Reasons, " "), "a landmark would be trimmed"); lost != (bottom < 2940) {
			t.Errorf("the picture ends at %.0f of 3000, reasons %q", bottom, p.Reasons)
		}
	}
	if best := advised(t, low, 1)[0]; best.Plan.Frame.Corners()[2].Y < 2940 {
		t.Errorf("the best proposal loses the landmark: %v", best.Trim)
	}
}

// Every odd wish is answered, with the reason: by proposals that say it, or by
// an error that does.
func TestOddAdvice(t *testing.T) {
	for name, c := range map[string]struct {
		change func(*Advice)
		say    string
	}{
		"a hair-thin picture": {func(a *Advice) { a.Frame = wholePicture([2]int{20000, 40}) }, "use a part of the picture"},
		"tiny paper":          {func(a *Advice) { a.Papers = []measure.Size{{W: 6, H: 8}} }, "larger paper"},
		"no paper":            {func(a *Advice) { a.Papers = nil }, "write the paper's size"},
		"no shape":            {func(a *Advice) { a.Frame, a.Shape = nil, 0 }, "width ÷ height"},
		"no printer":          {func(a *Advice) { a.Print = nil }, "printer's paper"},
	} {
		a := asking(t, [2]int{4000, 3000}, "12x18in")
		c.change(&a)
		if list, err := Advise(a, 3); !errors.Is(err, ErrAdvice) || !strings.Contains(err.Error(), c.say) {
			t.Errorf("%s: %d proposals, %v; want %q", name, len(list), err, c.say)
		}
	}
	hasty := asking(t, [2]int{4000, 3000}, "12x18in")
	hasty.Minutes = 3
	if best := advised(t, hasty, 1)[0]; !strings.Contains(strings.Join(best.Reasons, " "), "minutes, and there are 3") {
		t.Errorf("three minutes: %q", best.Reasons)
	}
	folded := asking(t, [2]int{4000, 3000}, "12x18in")
	folded.MarkBy = ByFolding
	if best := advised(t, folded, 1)[0]; best.Method != Parts || best.Plan.Ruler.Way != ByFolding {
		t.Errorf("without a ruler: %s, %s", best.Method, best.Plan.Ruler.Way)
	}
	if list := advised(t, folded, 6); !slices.ContainsFunc(list, func(p Proposal) bool { return p.Method == Quarters && p.Plan.Method == Quarters }) {
		t.Error("quarter marks do not stand among the sizes for folding")
	}
	several := advised(t, asking(t, [2]int{2000, 3000}, "Letter", "12x18in", "9x12in"), 9)
	for i, p := range several {
		if i > 0 && p.Score() > several[i-1].Score() {
			t.Errorf("proposal %d scores %.1f after %.1f", i+1, p.Score(), several[i-1].Score())
		}
	}
	if several[0].Paper != inches(12, 18) {
		t.Errorf("of three papers %v is taken; 2 : 3 fills 12 × 18", several[0].Paper)
	}
}

func inches(w, h measure.Length) measure.Size {
	return measure.Size{W: w * measure.MillimetresPerInch, H: h * measure.MillimetresPerInch}
}

// A plan that leaves a remainder is told which sizes near its own do not, and
// pressing that mends it.
func TestNearlyEven(t *testing.T) {
	p := made(t, Request{Picture: [2]int{2000, 3000}, Reference: "6.3in", Paper: "12x18in", ReferenceSquare: "1.5in"})
	for _, f := range p.Findings {
		if f.Code != "even" {
			continue
		}
		again := made(t, p.Typed.Set(f.Mend))
		if !strings.Contains(f.Message, "6 × 9 in instead of 6 5/16 × 9 7/16 in") || again.Grid.ReferenceRemainder != [2]float64{} || again.Grid.SheetCell[0] != 76.2 {
			t.Errorf("%q makes %v with remainders %v", f.Message, again.Grid.SheetCell, again.Grid.ReferenceRemainder)
		}
		return
	}
	t.Errorf("nothing is said of even squares: %+v", p.Findings)
}

// A hair is no strip: it is snapped, and said once where it moves the print.
func TestHairlines(t *testing.T) {
	p := made(t, Request{Reference: "8.02x9.99in", Paper: "12x18in", ReferenceSquare: "2in", SheetSquare: "3in"})
	if p.Grid.Columns != 4 || p.Grid.Rows != 5 || p.Grid.ReferenceRemainder != [2]float64{} {
		t.Errorf("%d × %d, remainders %v; want 4 × 5 and none", p.Grid.Columns, p.Grid.Rows, p.Grid.ReferenceRemainder)
	}
	said := 0
	for _, f := range p.Findings {
		if f.Code == codeSnap {
			said++
		}
	}
	if said != 1 {
		t.Errorf("said %d times", said)
	}
	p = made(t, Request{Reference: "8.01x12in", Paper: "12x18in", ReferenceSquare: "2in"})
	if p.SheetSize() != p.StockSize() || p.CardFor(p.Panels()[0]).Cut != "" {
		t.Errorf("drawing %v on %v, cut to %q", p.SheetSize(), p.StockSize(), p.CardFor(p.Panels()[0]).Cut)
	}
	for _, f := range p.Findings {
		if f.Code == "trim" {
			t.Errorf("%q", f.Message)
		}
	}
}

func BenchmarkAdvise(b *testing.B) {
	a := asking(b, [2]int{4000, 3000}, "12x18in", "9x12in", "18x24in")
	for b.Loop() {
		advised(b, a, 3)
	}
}

// Pictures of 7 × 11 on a strip of paper keep one half square rather than being squeezed.
func TestHalfSquares(t *testing.T) {
	for _, p := range advised(t, asking(t, [2]int{700, 1100}, "12x18in"), 60) {
		if !p.Remainder {
			continue
		}
		rest := p.Plan.Grid.ReferenceRemainder
		if half := float64(p.Square) / 2; math.Abs(max(rest[0], rest[1])-half) > 0.05 || min(rest[0], rest[1]) != 0 {
			t.Errorf("%d × %d of %v leaves %v; want one half square", p.Columns, p.Rows, p.Square, rest)
		}
		return
	}
	t.Error("no grid with a half square is proposed")
}

// What is cut off is at most 3 % a side, as much on both unless a landmark would
// be lost: worked by hand.
func TestTrimByHand(t *testing.T) {
	square := wholePicture([2]int{1000, 1000})
	for _, c := range []struct {
		ratio float64
		marks []plane.Point
		want  [4]float64
		ok    bool
	}{
		{1, nil, [4]float64{}, true},
		{0.94, nil, [4]float64{0.03, 0.03, 0, 0}, true}, {0.9399, nil, [4]float64{}, false},
		{1 / 0.94, nil, [4]float64{0, 0, 0.03, 0.03}, true}, {1 / 0.9399, nil, [4]float64{}, false},
		{0.97, []plane.Point{plane.Pt(5, 500)}, [4]float64{0.005, 0.025, 0, 0}, true},
		{0.97, []plane.Point{plane.Pt(999, 500)}, [4]float64{0.029, 0.001, 0, 0}, true},
		{1 / 0.97, []plane.Point{plane.Pt(500, 5)}, [4]float64{0, 0, 0.005, 0.025}, true},
		{0.97, []plane.Point{plane.Pt(500, 5), plane.Pt(-40, 500)}, [4]float64{0.015, 0.015, 0, 0}, true}, // high up, and outside
		{0.94, []plane.Point{plane.Pt(5, 500)}, [4]float64{0.03, 0.03, 0, 0}, true},                       // it cannot be kept
	} {
		got, ok := Advice{Frame: square, Shape: 1, Landmarks: c.marks}.trim(c.ratio)
		for i := range got {
			if math.Abs(got[i]-c.want[i]) > 1e-9 || ok != c.ok {
				t.Errorf("to %g with %v: %v, %v; want %v, %v", c.ratio, c.marks, got, ok, c.want, c.ok)
				break
			}
		}
	}
}

// The words and the score of two proposals, worked by hand: 100 ÷ (1 + cost).
func TestAdviceSaysWhy(t *testing.T) {
	best := advised(t, asking(t, [2]int{2000, 3000}, "12x18in"), 1)[0]
	want := []string{"1 1/2 in and 3 in are both easy on a ruler", "squares come out even, without a remainder", "24 boxes suit this class", "enlarged × 2, which is easy to reckon", "fills the paper"}
	// Only the print counts against it: 6 × 9 in of 195.9 × 245.9 mm, at 0.3.
	if cost := 0.3 * (1 - 152.4*228.6/(195.9*245.9)); !slices.Equal(best.Reasons, want) || math.Abs(best.Cost-cost) > 1e-9 || best.Score() != math.Round(1000/(1+cost))/10 {
		t.Errorf("%q at %.4f, score %g; want %q at %.4f", best.Reasons, best.Cost, best.Score(), want, cost)
	}
	best = advised(t, asking(t, [2]int{4000, 3000}, "12x18in"), 1)[0]
	for _, part := range []string{"35 boxes suit this class", "trimmed so that squares come out even: 2.4 % off the top, 2.4 % off the bottom", "leaves 35 % of the paper over"} {
		if !slices.Contains(best.Reasons, part) {
			t.Errorf("%q lacks %q", best.Reasons, part)
		}
	}
	if got := (Proposal{Trim: [4]float64{0.0004, 0, 0, 0}}).trimWords(); got != "hardly anything is trimmed off the picture" {
		t.Errorf("a hair trimmed: %q", got)
	}
	for waste, want := range map[float64]string{0.0049: "fills the paper", 0.005: "leaves 0 % of the paper over", 0.3: "leaves 30 % of the paper over"} {
		if got := wasteWords(waste); got != want {
			t.Errorf("%g: %q; want %q", waste, got, want)
		}
	}
}

// Each enlargement has its price and its words.
func TestEnlargementsWeighed(t *testing.T) {
	for k, want := range map[float64]struct {
		cost float64
		say  string
	}{1.5: {0, "easy to reckon"}, 2: {0, "easy to reckon"}, 1: {0.1, "laid on the drawing"}, 3: {0.1, "enlarged × 3"},
		2.5: {0.35, "enlarged × 2.5"}, 0.8: {2, "smaller than the picture"}, 1.51: {0.35, "× 1.51"},
		0.996: {0.1, "the same size"}} {
		p := Proposal{Scale: k}
		p.enlarged()
		if p.Cost != want.cost || !strings.Contains(p.Reasons[0], want.say) {
			t.Errorf("× %g costs %g, %q; want %g, %q", k, p.Cost, p.Reasons, want.cost, want.say)
		}
	}
}

// All of a picture is taken again where only a trimming is gone, and no more.
func TestUntrimmed(t *testing.T) {
	whole := *wholePicture([2]int{1000, 800})
	for name, c := range map[string]struct {
		change func(*Frame)
		again  bool
	}{
		"as it is": {func(*Frame) {}, true}, "trimmed": {func(f *Frame) { f.Size[0] = 940 }, true}, "cut": {func(f *Frame) { f.Size[0] = 930 }, false},
		"cut in height": {func(f *Frame) { f.Size[1] = 740 }, false}, "turned": {func(f *Frame) { f.Angle = 1 }, false}, "mirrored": {func(f *Frame) { f.Mirror = true }, false},
	} {
		f := whole
		c.change(&f)
		if got := f.Untrimmed(); (got.Size == whole.Size && got.Angle == 0 && !got.Mirror) != c.again {
			t.Errorf("%s: %v", name, got)
		}
	}
	if (*Frame)(nil).Untrimmed() != nil {
		t.Error("no frame is one")
	}
}

// Nearly even is said of plans with a remainder that are cut out, and of the
// nearest sizes: worked by hand.
func TestNearlyEvenAtItsEdges(t *testing.T) {
	base := Request{Picture: [2]int{2000, 3000}, Reference: "7.4in", Paper: "12x18in", ReferenceSquare: "2in"}
	said := func(change func(*Request)) string {
		r := base
		change(&r)
		for _, f := range made(t, r).Findings {
			if f.Code == "even" {
				return f.Message
			}
		}
		return ""
	}
	if got, want := said(func(*Request) {}), "Nearly: print the picture 8 × 12 in instead of 7 3/8 × 11 1/8 in, and squares come out even: 4 × 6 of 2 in, on the sheet 3 in."; got != want {
		t.Errorf("%q; want %q", got, want)
	}
	if got, want := said(func(r *Request) { r.Reference = "6in" }), "Squares of another size come out even: 4 × 6 of 1 1/2 in, on the sheet 3 in."; got != want {
		t.Errorf("%q; want %q", got, want)
	}
	for name, change := range map[string]func(*Request){
		"even already": func(r *Request) { r.Reference = "8in" }, "equal parts": func(r *Request) { r.Method, r.Parts = "parts", "4x6" }, "trimmed": func(r *Request) { r.Remainder = "trim" },
		"within margins": func(r *Request) { r.Margin = "1in" }, "of another shape": func(r *Request) { r.Picture, r.Reference, r.ReferenceSquare = [2]int{100, 3100}, "0.4in", "0.3in" },
	} {
		if got := said(change); got != "" {
			t.Errorf("%s: %q", name, got)
		}
	}
}

// A kept plan whose square was proposed is asked for with that square where today
// another would be proposed.
func TestAskedAsItWas(t *testing.T) {
	p := made(t, Request{Reference: "8x10in", Paper: "12x18in"})
	if got := p.Asked(); got != p.Typed {
		t.Errorf("proposed today: %+v", got)
	}
	old := made(t, Request{Reference: "8x10in", Paper: "12x18in", ReferenceSquare: "1in"})
	old.Typed.ReferenceSquare = ""
	if again := made(t, old.Asked()); !again.Alike(old) {
		t.Errorf("%d × %d boxes; want the %d × %d that were kept", again.Grid.Columns, again.Grid.Rows, old.Grid.Columns, old.Grid.Rows)
	}
	fixed := made(t, Request{Reference: "8x10in", Paper: "12x18in", ReferenceSquare: "2in"})
	if fixed.Asked() != fixed.Typed {
		t.Error("a square that was asked for is asked for otherwise")
	}
}

// Where the paper is as large as the print the same size is proposed, square for
// square: the picture can be laid on the drawing.
func TestSameSizeIsProposed(t *testing.T) {
	eight := measure.Size{W: 8 * measure.MillimetresPerInch, H: 10 * measure.MillimetresPerInch}
	list, err := Advise(Advice{Wish: Wish{Units: measure.Inch, Skill: Beginner}, Frame: wholePicture([2]int{800, 1000}), Print: []measure.Size{eight}, Papers: []measure.Size{eight}}, 3)
	if err != nil || list[0].Method != Squares || list[0].Scale != 1 || list[0].Square != list[0].Sheet || list[0].Remainder {
		t.Fatalf("%+v, %v", list, err)
	}
	if !strings.Contains(strings.Join(list[0].Reasons, "; "), "the same size") {
		t.Errorf("why: %q", list[0].Reasons)
	}
}

// Equal parts by hand: of the largest print of the shape on whole quarter inches,
// enlarged as far as the paper goes either way round, no part smaller than half of
// the smallest easy square.
func TestPartsByHand(t *testing.T) {
	in := func(w, h float64) measure.Size {
		return measure.Size{W: measure.Length(w) * measure.MillimetresPerInch, H: measure.Length(h) * measure.MillimetresPerInch}
	}
	for _, c := range []struct {
		paper measure.Size
		by    Way
		scale float64
		want  string
	}{
		{in(18, 24), ByRuler, 18 / 7.5, "parts 2×2 parts 4×4 parts 4×8 parts 8×4 parts 8×8"},
		{in(24, 18), ByFolding, 18 / 7.5, "parts 2×2 parts 4×4 quarters 4×4 parts 4×8 parts 8×4 parts 8×8"},
		{in(2.02, 9), ByRuler, 2.02 / 7.5, "parts 2×2 parts 4×4 parts 4×8 parts 8×4 parts 8×8"},
		{in(1.98, 9), ByRuler, 1.98 / 7.5, "parts 2×2 parts 4×4 parts 4×8"}, // eighths of it are under 1/4 in
		{in(9, 1.98), ByRuler, 1.98 / 7.5, "parts 2×2 parts 4×4 parts 4×8"},
	} {
		a := Advice{Wish: Wish{Units: measure.Inch, Skill: Beginner}, Shape: 0.8, Print: []measure.Size{in(10, 7.6), in(7.6, 10)}, MarkBy: c.by}
		var got []string
		a.parts(c.paper, func(p Proposal) {
			got = append(got, fmt.Sprintf("%s %d×%d", p.Method, p.Columns, p.Rows))
			if math.Abs(p.Scale-c.scale) > 1e-9 || math.Abs(float64(p.Picture.W-in(7.5, 0).W)) > 1e-9 || math.Abs(float64(p.Picture.H-in(0, 9.375).H)) > 1e-9 || p.Paper != c.paper {
				t.Errorf("on %v: %v enlarged %g on %v; want 7 1/2 × 9 3/8 enlarged %g", c.paper, p.Picture, p.Scale, p.Paper, c.scale)
			}
		})
		if strings.Join(got, " ") != c.want {
			t.Errorf("on %v: %s; want %s", c.paper, strings.Join(got, " "), c.want)
		}
	}
}

// Counts of squares by hand: whole ones, or one side with a half left, on the print,
// four boxes at least and a hundred and sixty at most, six in a hundred trimmed.
func TestCountsByHand(t *testing.T) {
	for _, c := range []struct {
		shape, w, h, square float64 // the print and the square, in
		want                string
	}{
		{0.8, 8, 10, 2, "2×2.5 2.5×3 4×5"},
		{0.8, 4, 4, 1, "2×2.5 2.5×3"}, // 4 × 5 is higher than the print
		{4, 8, 10, 2, "4×1"},
		{4, 6, 10, 2, ""}, // three by less than one, two by half of one
		{0.625, 10, 16, 10, ""},
	} {
		a := Advice{Shape: c.shape, Print: []measure.Size{{W: measure.Length(c.w) * 25.4, H: measure.Length(c.h) * 25.4}}}
		var got []string
		a.counts(measure.Length(c.square)*25.4, func(columns, rows float64, _ [4]float64) {
			if one := fmt.Sprintf("%g×%g", columns, rows); !slices.Contains(got, one) {
				got = append(got, one)
			}
		})
		if strings.Join(got, " ") != c.want {
			t.Errorf("%g of %g in on %g × %g: %v; want %s", c.shape, c.square, c.w, c.h, got, c.want)
		}
	}
	most := false
	Advice{Shape: 0.625, Print: []measure.Size{{W: 254, H: 16 * 25.4}}}.counts(25.4, func(columns, rows float64, _ [4]float64) { most = most || columns*rows == 2*detailedMost })
	if !most {
		t.Error("ten by sixteen, the most boxes, is not weighed")
	}
}

// What lies near a plan of 1 in squares drawn 1 1/2 times as large, by hand: as many
// squares as it has whole ones, or one more either way, four to a hundred and sixty.
func TestNearByHand(t *testing.T) {
	for print, want := range map[string]string{
		"7.9x9in": "8×9 to 38.1", "8x8.9in": "8×9 to 38.1", "7.9x8.9in": "7×8 to 38.1 8×9 to 38.1",
		"1.1x4.4in": "1×4 to 38.1", "4.4x1.1in": "4×1 to 38.1", "10.3x16.3in": "10×16 to 38.1", "1.1x3.3in": "",
	} {
		p := made(t, Request{Reference: print, ReferenceSquare: "1in", Scale: "1.5", Paper: "36x48in"})
		var got []string
		p.near(measure.MillimetresPerInch, EasySquares(measure.Inch), func(q Proposal) {
			got = append(got, fmt.Sprintf("%d×%d to %.1f", q.Columns, q.Rows, float64(q.Sheet)))
		})
		if strings.Join(got, " ") != want {
			t.Errorf("%s: %v; want %s", print, got, want)
		}
	}
	// How far it lies: half the logarithm of how the print's area changes, and what is
	// trimmed: |ln(72 ÷ 71.1)| ÷ 2 + 1 − 7.9 ÷ 9 × 9 ÷ 8, and so on.
	for print, want := range map[string]float64{"7.9x9in": math.Log(72/71.1)/2 + 1 - 7.9/8, "8x8.9in": math.Log(72/71.2)/2 + 1 - 8.9/9} {
		p := made(t, Request{Reference: print, ReferenceSquare: "1in", Scale: "1.5", Paper: "36x48in"})
		p.near(measure.MillimetresPerInch, EasySquares(measure.Inch), func(q Proposal) {
			if math.Abs(q.Cost-want) > 1e-9 {
				t.Errorf("%s lies %g away; want %g", print, q.Cost, want)
			}
		})
	}
}

// A trimmed frame by hand, each side by itself; and which of its landmarks are lost.
func TestTrimmedByHand(t *testing.T) {
	whole := wholePicture([2]int{1000, 500})
	for _, c := range []struct {
		trim [4]float64
		want string
		lost []plane.Point // each alone, on the side that is trimmed
		kept []plane.Point
	}{
		{[4]float64{0.1, 0, 0, 0}, "550,250 900x500 0", []plane.Point{plane.Pt(99, 9)}, []plane.Point{plane.Pt(101, 9), plane.Pt(999, 9)}},
		{[4]float64{0, 0.1, 0, 0}, "450,250 900x500 0", []plane.Point{plane.Pt(901, 9)}, []plane.Point{plane.Pt(899, 9), plane.Pt(1, 9)}},
		{[4]float64{0, 0, 0.2, 0}, "500,300 1000x400 0", []plane.Point{plane.Pt(9, 99)}, []plane.Point{plane.Pt(9, 101), plane.Pt(9, 499)}},
		{[4]float64{0, 0, 0, 0.2}, "500,200 1000x400 0", []plane.Point{plane.Pt(9, 401)}, []plane.Point{plane.Pt(9, 399), plane.Pt(9, 1)}},
		{[4]float64{0.1, 0.3, 0.2, 0.4}, "400,200 600x200 0",
			[]plane.Point{plane.Pt(99, 150), plane.Pt(701, 150), plane.Pt(400, 99), plane.Pt(400, 301)},
			[]plane.Point{plane.Pt(101, 101), plane.Pt(699, 299)}},
		{[4]float64{}, "500,250 1000x500 0", nil, []plane.Point{plane.Pt(0, 0), plane.Pt(1000, 500)}},
	} {
		if got := whole.trimmed(c.trim).String(); got != c.want {
			t.Errorf("%v: %s; want %s", c.trim, got, c.want)
		}
		for is, points := range map[bool][]plane.Point{true: c.lost, false: c.kept} {
			for _, at := range points {
				if got := (Proposal{Trim: c.trim}).cuts(Advice{Frame: whole, Landmarks: []plane.Point{at}}); got != is {
					t.Errorf("%v loses %v: %v; want %v", c.trim, at, got, is)
				}
			}
		}
	}
	if (Proposal{Trim: [4]float64{0.5, 0.5, 0, 0}}).cuts(Advice{Frame: whole}) {
		t.Error("without landmarks one is lost")
	}
}

// How a proposal is asked for: no frame where all of the picture is used, both sides
// written where there is no picture, parts by their counts and quarters without.
func TestProposalAsAsked(t *testing.T) {
	whole, size := wholePicture([2]int{1000, 500}), measure.Size{W: 254, H: 127}
	parts := Proposal{Candidate: Candidate{Method: Parts, Columns: 4, Rows: 8}, Picture: size, Paper: size}
	quarter := parts
	quarter.Method = Quarters
	squares := Proposal{Candidate: Candidate{Method: Squares, Square: 25.4, Sheet: 50.8}, Picture: size, Paper: size}
	a := Advice{Wish: Wish{Units: measure.Inch}, Frame: whole}
	for what, c := range map[string]struct {
		got  Request
		want [4]string // reference, parts, frame, round
	}{
		"parts":             {parts.request(a), [4]string{"10 in", "4x8", "", ""}},
		"quarters":          {quarter.request(a), [4]string{"10 in", "", "", ""}},
		"squares":           {squares.request(a), [4]string{"10 × 5 in", "", "", ""}},
		"parts, trimmed":    {Proposal{Candidate: parts.Candidate, Picture: size, Paper: size, Trim: [4]float64{0.1, 0, 0, 0}}.request(a), [4]string{"10 in", "4x8", "550,250 900x500 0", ""}},
		"without a picture": {parts.request(Advice{Wish: a.Wish}), [4]string{"254mm x 127mm", "4x8", "", ""}},
		"folded":            {parts.request(Advice{Wish: a.Wish, Frame: whole, MarkBy: ByFolding}), [4]string{"10 in", "4x8", "", measure.RoundSteps(measure.Inch)[0].Text(measure.Inch)}},
	} {
		if got := [4]string{c.got.Reference, c.got.Parts, c.got.Frame, c.got.Round}; got != c.want {
			t.Errorf("%s: %q; want %q", what, got, c.want)
		}
	}
}

// Who asks for no square is given whole inches that come out even before any that leave a strip.
func TestWholeSquaresFirst(t *testing.T) {
	for _, c := range []struct {
		reference, paper, units string
		want                    [3]float64 // square, columns, rows
	}{{"7x9in", "14x18in", "in", [3]float64{25.4, 7, 9}}, {"5x7in", "10x14in", "in", [3]float64{25.4, 5, 7}}, {"10x14cm", "20x28cm", "cm", [3]float64{20, 5, 7}}} {
		p := made(t, Request{Reference: c.reference, Paper: c.paper, Units: c.units})
		if got := [3]float64{p.Grid.ReferenceCell[0], float64(p.Grid.Columns), float64(p.Grid.Rows)}; got != c.want || p.Grid.ReferenceRemainder != [2]float64{} {
			t.Errorf("%s on %s: %v, remainder %v; want %v", c.reference, c.paper, got, p.Grid.ReferenceRemainder, c.want)
		}
	}
}

// A canvas is never trimmed: the drawing stands in its middle with a border to paint, or the frame takes its shape
// at a press and fills it. By hand: 16 × 20 in upright holds 3 : 4 as 15 × 20 in, half an inch free at each side.
func TestCanvas(t *testing.T) {
	ask := Request{Picture: [2]int{1500, 2000}, Reference: "6 in", Paper: "canvas 16 x 20 in", Method: "parts", Parts: "3x4", Units: "in"}
	p, err := Make(ask)
	if err != nil {
		t.Fatal(err)
	}
	inch := measure.MillimetresPerInch
	if !p.Sheet.Canvas || p.CutOut() || p.CardFor(p.Panels()[0]).Cut != "" || math.Abs(p.Sheet.Origin.X-inch/2) > 0.01 || math.Abs(p.Sheet.Origin.Y) > 0.01 {
		t.Errorf("%+v; want half an inch free at each side, nothing cut", p.Sheet)
	}
	i := slices.IndexFunc(p.Findings, func(f Finding) bool { return f.Code == "canvas" })
	if i < 0 || !strings.Contains(p.Findings[i].Message, "1/2 in at each side") {
		t.Fatalf("%+v", p.Findings)
	}
	for _, f := range p.Findings {
		if strings.Contains(f.Message, "Trim the") {
			t.Error(f.Message)
		}
	}
	filled, err := Make(ask.Set(p.Findings[i].Mend))
	if err != nil {
		t.Fatal(err)
	}
	if filled.SheetSize() != filled.StockSize() || filled.Frame.Size != [2]float64{1500, 1875} || slices.ContainsFunc(filled.Findings, func(f Finding) bool { return f.Code == "canvas" }) {
		t.Errorf("mended it is %+v with the frame %v", filled.Sheet, filled.Frame.Size)
	}
	all, err := Advise(Advice{Wish: ask.Wish(measure.Inch), Frame: p.Frame, Papers: []measure.Size{p.StockSize()}, Canvas: true, Print: []measure.Size{{W: 190, H: 270}}}, 3)
	if err != nil || len(all) == 0 {
		t.Fatal(err)
	}
	for _, proposal := range all {
		if !proposal.Plan.Sheet.Canvas {
			t.Errorf("the proposal %+v is on paper", proposal.Plan.Typed)
		}
	}
	if bare, err := Make(Request{Reference: "12 x 16 cm", Paper: "canvas 30 x 40", Method: "parts", Parts: "3x4"}); err != nil || bare.StockSize().W != 300 && bare.StockSize().W != 30*measure.Length(inch) {
		t.Errorf("a canvas without a unit: %+v, %v", bare.Sheet, err)
	}
}

// A size with the picture's own shape is all of the picture, whatever an earlier proposal trimmed off it; a size
// with the trimmed shape keeps the trimming, and so does any other.
func TestTheTrueSizeIsTheWholePicture(t *testing.T) {
	trimmed := wholePicture([2]int{1400, 1800}).trimmed([4]float64{0.02, 0.02, 0, 0}) // 1344 × 1800
	for reference, want := range map[string][2]float64{"7 x 9 in": {1400, 1800}, "10.5 x 13.5 cm": {1400, 1800}, "6.72 x 9 in": {1344, 1800}, "7 x 7 in": {1344, 1344}} {
		p, err := Make(Request{Picture: [2]int{1400, 1800}, Frame: trimmed.String(), Reference: reference, Scale: "2", Method: "parts", Parts: "4x4"})
		if err != nil {
			t.Fatal(err)
		}
		if p.Frame.Size != want {
			t.Errorf("%s shows %v of 1400 × 1800; want %v", reference, p.Frame.Size, want)
		}
		if crop := slices.ContainsFunc(p.Findings, func(f Finding) bool { return f.Code == codeCrop }); crop != (want[1] == 1344) {
			t.Errorf("%s: cropped %v", reference, crop)
		}
	}
}
