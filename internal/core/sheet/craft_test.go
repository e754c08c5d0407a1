package sheet

import (
	"errors"
	"fmt"
	"image"
	"image/color"
	"math"
	"regexp"
	"slices"
	"strings"
	"testing"

	"zestysketch/internal/core/colour"
	"zestysketch/internal/core/finish"
	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/lines"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/core/tiles"
	"zestysketch/internal/core/transfer"
	"zestysketch/internal/core/values"
)

// painted is a picture of coloured rings, as the plan's sheet will show it.
func painted(p grid.Plan) (*image.RGBA, float64) {
	perMM := 300 / max(p.Sheet.Width, p.Sheet.Height)
	img := image.NewRGBA(image.Rect(0, 0, int(p.Sheet.Width*perMM), int(p.Sheet.Height*perMM)))
	for y := range img.Rect.Dy() {
		for x := range img.Rect.Dx() {
			v := uint8(128 + 120*math.Sin(math.Hypot(float64(x)-90, float64(y)-70)/11))
			img.SetRGBA(x, y, color.RGBA{v, v / 2, uint8(255 * x / 301), 255})
		}
	}
	return img, perMM
}

// craft makes every page of the finish by one wish.
func craft(t testing.TB, w Wish) map[string][]page.Page {
	t.Helper()
	img, perMM := painted(w.Plan)
	ink, err1 := finish.NewInk(img, finish.InkWish{Plan: w.Plan, PerMM: perMM, Dark: 40})
	m, err2 := values.New(img, values.Wish{Steps: 7, Rule: values.EvenLight, PerMM: perMM, LeastArea: 10, Neck: 1})
	arrangement, err3 := tiles.Shuffle(w.Plan, 3, true)
	carried, err4 := transfer.New(transfer.Wish{Drawing: transfer.Paper{GSM: 300, Light: 95},
		Final: transfer.Paper{GSM: 300, Light: 16}, Medium: transfer.Watercolor, Hands: transfer.Young, Times: 1,
		MirrorFine: true})
	if err := errors.Join(err1, err2, err3, err4); err != nil {
		t.Fatal(err)
	}
	var list []string
	for i := range 40 {
		list = append(list, fmt.Sprintf("a landmark with a rather long name, number %d, at the far end of the quay", i))
	}
	label := Label{"Søren 中", strings.Repeat("A long title of a picture ", 6), "Pencil and ink on paper", "7 Quay", "November 2026"}
	drawn := Drawn{"drawing", [2]int{700, 900}}
	pages := map[string][]page.Page{}
	add := func(name string, made []page.Page, err error) {
		if err != nil {
			t.Errorf("%s: %v", name, err)
		}
		pages[name] = made
	}
	single := func(name string, p page.Page, err error) { add(name, []page.Page{p}, err) }
	for i, way := range carried.Ways {
		made, err := TransferCard(w, carried, transfer.NewFinal(w.Plan, 1), way, list)
		add(fmt.Sprintf("transfer %d", i), made, err)
	}
	made, err := InkSheet(w, ink)
	add("ink", made, err)
	made, err = ToneSheet(w, finish.NewTone(img, m, finish.ToneWish{Plan: w.Plan}))
	add("tone", made, err)
	patterns, err5 := finish.NewPatterns(img, perMM, w.Plan, false)
	if err5 != nil {
		t.Fatal(err5)
	}
	made, err = PatternSheet(w, patterns)
	add("patterns", made, err)
	p, err := ColourSheet(w, colour.Mains(img), colour.Watercolour)
	single("colour", p, err)
	p, err = SideBySide(w, drawn, list)
	single("side by side", p, err)
	p, err = PortfolioPage(w, Portfolio{Label: label, First: &drawn, Last: &drawn, Entries: []Entry{{Head: "Measured", Lines: list}}})
	single("portfolio", p, err)
	home := Home{Label: label, Drawn: &drawn, Done: map[string]bool{"A1": true, "B1": true},
		Look: map[string]bool{"B1": true}, Count: "2 of 12 boxes are drawn.",
		Entries: []Entry{{Head: "Goes well", Lines: list[:2]}, {Head: "Mended", Lines: []string{"A1"}},
			{Head: "Comes next", Lines: list[:4]}}}
	p, err = HomePage(w, home)
	single("home", p, err)
	home.Words, home.Drawn = strings.Repeat("A long look pays. ", 9), nil
	p, err = HomePage(w, home)
	single("home in words", p, err)
	p, err = Certificate(w, label, &drawn, list[:5])
	single("certificate", p, err)
	for _, n := range []int{1, 7, 32} {
		p, err = Poster(w, label.Title, label.Class, slices.Repeat([]Hung{{"Søren 中", drawn}}, n))
		single(fmt.Sprintf("poster of %d", n), p, err)
	}
	made, err = TileCards(w, arrangement)
	add("tile cards", made, err)
	made, err = TileKey(w, slices.Repeat([]Arrangement{{"Søren 中", arrangement}}, 9))
	add("tile key", made, err)
	made, err = Labels(w, slices.Repeat([]Label{label}, 23))
	add("labels", made, err)
	made, err = Exhibition(w, label.Title, slices.Repeat([]Hung{{"Søren 中", drawn}}, 14), list[:9])
	add("exhibition", made, err)
	return pages
}

// Every page of the finish, of every school, each on another paper: what is
// drawn is on the page, and what is printed stays clear of the edge.
func TestPagesOfTheFinish(t *testing.T) {
	for i, ask := range asks {
		on := []string{"A4", "Letter", "A3", "A5"}[i]
		w := wish(t, ask, on)
		w.Printer.Across = 0.97
		for name, pages := range craft(t, w) {
			if len(pages) == 0 {
				t.Errorf("%s of %s on %s: no page", name, ask.Name, on)
			}
			for _, p := range w.Printed(pages) {
				checkPage(t, p, fmt.Sprintf("%s of %s on %s", name, ask.Name, on), w.Printer)
				checkType(t, p, fmt.Sprintf("%s of %s on %s", name, ask.Name, on), 2.4)
			}
		}
	}
}

// The pages say what they are for: cautions that defer to the school, the
// turn-overs, every label and every tile once.
func TestWhatPagesOfTheFinishSay(t *testing.T) {
	w := wish(t, asks[0], "A4")
	pages := craft(t, w)
	all := map[string]string{}
	for name, made := range pages {
		for _, p := range made {
			all[name] += written(p) + " | "
		}
	}
	for _, name := range []string{"transfer 0", "ink", "tone", "colour", "tile cards", "labels", "exhibition"} {
		for i, p := range pages[name] { // every page may be the only one at hand
			if words := strings.ReplaceAll(written(p), " | ", " "); !strings.Contains(words, "these notes do not replace them.") {
				t.Errorf("page %d of %s does not defer to the school: %.300s", i+1, name, words)
			}
		}
	}
	if !strings.Contains(all["transfer 0"], "turn-over") || !strings.Contains(all["transfer 0"], "white chalk") && !strings.Contains(all["transfer 0"], "tint") {
		t.Errorf("transfer: %.400s", all["transfer 0"])
	}
	if n := strings.Count(all["labels"], "November 2026"); n != 23 {
		t.Errorf("%d labels; want 23", n)
	}
	for _, c := range w.Plan.Cells() {
		if n := strings.Count(all["tile cards"], "| "+c.Label+" | goes to"); n != 1 {
			t.Errorf("tile %s has %d cards", c.Label, n)
		}
	}
	for _, name := range []string{"ink", "tone", "patterns"} { // what lacks room goes on a further page
		if regexp.MustCompile(`\| and \d+ more`).MatchString(all[name]) {
			t.Errorf("a list of %s ends early: %.900s", name, all[name])
		}
	}
	if !strings.Contains(all["tone"], "Strokes follow the form") {
		t.Errorf("tone: %.900s", all["tone"])
	}
	if !strings.Contains(all["ink"], "Dark by dark") || !strings.Contains(all["ink"], "mm broad") {
		t.Errorf("ink: %.600s", all["ink"])
	}
	if !strings.Contains(all["exhibition"], "No photo yet") {
		t.Error("the exhibition does not name who is missing")
	}
	if _, err := Exhibition(w, "Show", nil, []string{"Ada"}); !errors.Is(err, page.ErrEmpty) {
		t.Errorf("an exhibition of nothing: %v; want ErrEmpty", err)
	}
	w.Plan.Frame = nil
	if _, err := SideBySide(w, Drawn{"drawing", [2]int{7, 9}}, nil); !errors.Is(err, page.ErrEmpty) {
		t.Errorf("side by side without a picture: %v; want ErrEmpty", err)
	}
}

// The stack of a step says and draws how each paper lies: a mirrored look is
// the other's mirror image.
func TestStackDrawings(t *testing.T) {
	step := transfer.Step{Turned: "tracing paper", Stack: []transfer.Layer{
		{Name: "tracing paper", Stuff: transfer.Thin, BackUp: true, Below: transfer.Mirrored, Taped: true}, {Name: "the final paper", Above: transfer.Right}}}
	pg := Stack(step)
	words := written(pg)
	for _, want := range []string{"turned over: its back is up", "lines look mirrored", "the final paper"} {
		if !strings.Contains(words, want) {
			t.Errorf("%q; want %q", words, want)
		}
	}
	var right, mirrored []page.Path
	for _, item := range pg.Items {
		if p, ok := item.(page.Path); ok && p.Stroke == carried && p.Width == 0.55 {
			if p.Dash > 0 {
				mirrored = append(mirrored, p)
			} else {
				right = append(right, p)
			}
		}
	}
	if len(right) != 3 || len(mirrored) != 3 {
		t.Fatalf("%d and %d strokes of boats; want 3 and 3, the one underneath dashed", len(right), len(mirrored))
	}
	lean := func(p page.Path) float64 { return p.Points[2].X - p.Points[1].X } // from mast's top to the sail's foot
	if lean(right[1])*lean(mirrored[1]) >= 0 {
		t.Errorf("the sails fill to the same side: %v and %v", lean(right[1]), lean(mirrored[1]))
	}
}

// A line sheet is as large as its picture, rings what is missing, and draws the
// weightiest lines broader.
func TestLineSheetPage(t *testing.T) {
	s := lines.Sketch{W: 200, H: 100, PerMM: 2}
	for i := range 6 {
		y := float64(10 + 10*i)
		s.Strokes = append(s.Strokes, lines.Stroke{Points: []plane.Point{plane.Pt(10, y), plane.Pt(190, y)}, Weight: 1})
	}
	s.Ends = []lines.End{{Stroke: 2, At: plane.Pt(10, 30)}}
	pg := LineSheet(s, LineStyle{Pen: 0.4, Ends: true})
	broad, thin, rings := 0, 0, 0
	for _, item := range pg.Items {
		switch p := item.(page.Path); {
		case p.Stroke == endInk:
			rings++
		case p.Width > 0.5:
			broad++
		default:
			thin++
		}
	}
	if pg.Size.W != 100 || pg.Size.H != 50 || broad != 2 || thin != 4 || rings != 1 {
		t.Errorf("%v, %d broad, %d thin, %d rings; want 100 × 50, 2, 4, 1", pg.Size, broad, thin, rings)
	}
	if bare := LineSheet(s, LineStyle{Pen: 0.4}); len(bare.Items) != 6 {
		t.Errorf("%d items without rings; want 6", len(bare.Items))
	}
}

// A list is read while working: a line drawing's tone plan says that it is one,
// long runs of boxes are counted, and specks of ink stand in one line.
func TestListsThatHelp(t *testing.T) {
	lists := ToneLists(finish.Tone{LineDrawing: true})
	if len(lists) != 1 || !strings.Contains(lists[0].Head, "line drawing") {
		t.Errorf("a line drawing's tone plan: %+v", lists)
	}
	var boxes []string
	marks := make([]finish.Mark, 63)
	for i := range marks {
		marks[i] = finish.Mark{Box: fmt.Sprintf("%c%d", 'A'+i%7, 1+i/7), Mark: "even tone"}
		boxes = append(boxes, marks[i].Box)
	}
	lists = ToneLists(finish.Tone{Steps: []finish.Step{{Number: 1, Grade: "6B", Boxes: boxes[:40]}}, Marks: marks})
	if !strings.Contains(lists[0].Lines[0], "most boxes, 40 of 63") || lists[1].Lines[0] != "Even tone: every box" {
		t.Errorf("%q, %q", lists[0].Lines, lists[1].Lines)
	}
	ink := finish.Ink{Areas: []finish.Area{{Number: 1, MM2: 40, Boxes: []string{"A1"}}, {Number: 2, MM2: 4.9, Boxes: []string{"A2"}}, {Number: 3, MM2: 1.2, Boxes: []string{"A3"}}}}
	areas := InkLists(ink)
	if last := areas[len(areas)-1].Lines; len(last) != 2 || !strings.HasPrefix(last[1], "2 specks under 5 mm², 6 mm² together") {
		t.Errorf("%q", last)
	}
}

// Boxes with nothing in them get no card and are named; no strip comes in a piece
// too short to hold, and no label of theirs is cut off.
func TestCardsAndStripsForHands(t *testing.T) {
	w := wish(t, grid.Request{Reference: "5x7in", Paper: "12x18in", ReferenceSquare: "1in"}, "A4")
	all, err1 := BoxCards(w)
	w.Empty = []string{"A1", "B1", "C1", "D1", "E1", "A2", "B2"}
	some, err2 := BoxCards(w)
	last := some[len(some)-1]
	if err := errors.Join(err1, err2); err != nil || len(some) >= len(all) || !says(last, "without a card: A1, B1, C1, D1, E1, A2, B2") || says(some[0], "A1") && len(some) > 1 {
		t.Errorf("%d pages of %d, %v", len(some), len(all), err)
	}
	w.Empty = nil
	for _, c := range w.Plan.Cells() {
		w.Empty = append(w.Empty, c.Label)
	}
	if _, err := BoxCards(w); !errors.Is(err, page.ErrEmpty) {
		t.Errorf("all empty: %v", err)
	}
	for side := 20; side < 700; side += 7 {
		w := wish(t, grid.Request{Reference: fmt.Sprintf("%dx60mm", side), Scale: "1", Method: "parts", Parts: "2", Units: "cm"}, "Letter")
		pages, err := Strips(w)
		if err != nil {
			t.Fatal(err)
		}
		for _, pg := range pages {
			for _, item := range pg.Items {
				if v, ok := item.(page.Text); ok && strings.Contains(v.Words, "…") {
					t.Errorf("%d mm: %q", side, v.Words)
				}
				if v, ok := item.(page.Path); ok && v.Closed && v.Points[1].X-v.Points[0].X < min(10, float64(side)-1) {
					t.Errorf("%d mm: a piece of %.1f mm", side, v.Points[1].X-v.Points[0].X)
				}
			}
		}
	}
}

// says reports whether some words of a page hold others.
func says(pg page.Page, part string) bool {
	var words []string
	for _, item := range pg.Items {
		if t, ok := item.(page.Text); ok {
			words = append(words, t.Words)
		}
	}
	return strings.Contains(strings.Join(words, " "), part)
}

// Thumbnails have the paper's own ratio, not the drawing's that is cut from it, and upright ones are as
// large as lying ones.
func TestThumbnailsAreThePapers(t *testing.T) {
	for _, c := range []struct {
		ask   grid.Request
		ratio float64
	}{
		{grid.Request{Reference: "5x7in", Paper: "18x24in"}, 0.75},
		{grid.Request{Reference: "10x10cm", Paper: "30x40cm", Panels: "2x1", Units: "cm"}, 2.0 / 3},
	} {
		p, err := grid.Make(c.ask)
		if err != nil {
			t.Fatal(err)
		}
		for _, n := range [][2]int{{0, 0}, {4, 1}, {2, 5}} {
			pg, err := Thumbnails(Wish{Plan: p, Printer: page.On(measure.Size{W: 210, H: 297}), Upright: n[0], Lying: n[1]})
			if err != nil {
				t.Fatal(err)
			}
			areas := map[int]bool{}
			boxes := 0
			for _, item := range pg.Items {
				b, is := item.(page.Path)
				if !is || len(b.Points) != 4 || !b.Closed || b.Fill != nil || b.Width != 0.4 {
					continue
				}
				boxes++
				w, h := b.Points[2].X-b.Points[0].X, b.Points[2].Y-b.Points[0].Y
				if got := min(w, h) / max(w, h); math.Abs(got-c.ratio) > 0.001 {
					t.Errorf("%v, %v: a box of ratio %.3f; want %.3f", c.ask, n, got, c.ratio)
				}
				areas[int(math.Round(w*h))] = true
			}
			if len(areas) != 1 || boxes < 5 {
				t.Errorf("%v, %v: %d boxes of areas %v; want one area", c.ask, n, boxes, areas)
			}
		}
	}
}

// The sheets of two halves are the plan's: as many columns and rows, lying where it lies, at one scale both ways, and
// an odd column in the middle is cut in two.
func TestHalvesFollowThePlan(t *testing.T) {
	for _, c := range []struct {
		parts, paper  string
		columns, rows int
		lies          bool
	}{{"8 x 5", "A3", 8, 5, true}, {"7 x 10", "A4", 7, 10, false}, {"5 x 3", "12x18in", 5, 3, true}} {
		ask := grid.Request{Picture: [2]int{100 * c.columns, 100 * c.rows}, Reference: "150 mm", Paper: c.paper, Method: "parts", Parts: c.parts}
		w := wish(t, ask, "A4")
		for _, draw := range []func(Wish) (page.Page, error){FoldLine, HalfTurn} {
			pg, err := draw(w)
			if err != nil {
				t.Fatal(err)
			}
			upright, level, numbers := map[float64]bool{}, map[float64]bool{}, 0
			for _, item := range pg.Items {
				switch item := item.(type) {
				case page.Path:
					if item.Stroke == page.Plain && len(item.Points) == 2 {
						a, b := item.Points[0], item.Points[1]
						if a.X == b.X {
							upright[math.Round(100*a.X)] = true
						} else {
							level[math.Round(100*a.Y)] = true
						}
					}
				case page.Text:
					if item.Size == 3 && item.Anchor == page.Middle {
						numbers++
					}
				}
			}
			half := (c.columns + 1) / 2
			if len(upright) != 2*half || len(level) != c.rows+1 || numbers != 2*half || (pg.Size.W > pg.Size.H) != c.lies {
				t.Errorf("%s: %d upright lines beside the fold, %d level ones, %d numbers, %v; want %d, %d, %d", c.parts, len(upright), len(level), numbers, pg.Size, 2*half, c.rows+1, 2*half)
			}
		}
	}
}

// With a level fold the sheet is the plan's laid on its side: rows are counted outward.
func TestLevelFoldSheet(t *testing.T) {
	w := wish(t, grid.Request{Picture: [2]int{700, 1000}, Reference: "150 mm", Paper: "A4", Method: "parts", Parts: "7 x 10"}, "A4")
	w.LevelFold = true
	pg, err := FoldLine(w)
	if err != nil {
		t.Fatal(err)
	}
	upright, level := 0, 0
	for _, item := range pg.Items {
		if line, ok := item.(page.Path); ok && line.Stroke == page.Plain && len(line.Points) == 2 {
			if line.Points[0].X == line.Points[1].X {
				upright++
			} else {
				level++
			}
		}
	}
	if upright != 10 || level != 8 || pg.Size.W < pg.Size.H {
		t.Errorf("%d lines beside the fold and %d across on %v; want 10 and 8 lying", upright, level, pg.Size)
	}
}

// What a tile's card says stands below its squares, not on them.
func TestWordsOfTileCardsStandClear(t *testing.T) {
	said := 0
	for _, on := range []string{"A4", "Letter", "A3", "A5"} {
		for _, ask := range asks {
			w := wish(t, ask, on)
			arrangement, err := tiles.Shuffle(w.Plan, 3, true)
			if err != nil {
				t.Fatal(err)
			}
			cards, err := TileCards(w, arrangement)
			if err != nil {
				t.Fatal(err)
			}
			for _, p := range cards {
				said += clearWords(t, p, ask.Name+" on "+on)
			}
		}
	}
	if said == 0 {
		t.Error("no card says how a tile is traced")
	}
}

// clearWords counts a page's words about tracing; those that a square's foot runs through are errors.
func clearWords(t *testing.T, p page.Page, what string) (said int) {
	for _, item := range p.Items {
		words, ok := item.(page.Text)
		if !ok || !strings.HasPrefix(words.Words, "Trace") {
			continue
		}
		said++
		for _, other := range p.Items {
			box, ok := other.(page.Path)
			if !ok || !box.Closed || box.Width != 0.4 || len(box.Points) != 4 {
				continue
			}
			foot := box.Points[2].Y
			if words.At.Y > foot && words.At.Y-words.Size < foot && box.Points[2].X > words.At.X && box.Points[0].X < words.At.X+30 {
				t.Errorf("%s: %q begins %.1f mm above the foot of a square", what, words.Words, foot-words.At.Y+words.Size)
			}
		}
	}
	return said
}
