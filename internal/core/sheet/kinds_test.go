package sheet

import (
	"errors"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/lines"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/photo"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/core/reading"
	"zestysketch/internal/core/sighting"
	"zestysketch/internal/core/values"
	"zestysketch/internal/render"
)

// wish is one of every school, on a picture, for a named student.
func wish(t testing.TB, ask grid.Request, on string) Wish {
	t.Helper()
	if ask.Picture == [2]int{} {
		ask.Picture = [2]int{1400, 1800}
	}
	across := lines.Stroke{Points: []plane.Point{plane.Pt(0, 700), plane.Pt(700, 500), plane.Pt(1400, 900)}, Weight: 1}
	p := plan(t, ask)
	img, perMM := painted(p)
	high := p.Sheet.Height
	sketch := lines.Sketch{W: int(p.Sheet.Width), H: int(high), PerMM: 1, Strokes: []lines.Stroke{{Weight: 1,
		Points: []plane.Point{plane.Pt(0.2*p.Sheet.Width, 0), plane.Pt(0.5*p.Sheet.Width, 0.7*high), plane.Pt(p.Sheet.Width, high)}}}}
	m, err := values.New(img, values.Wish{Steps: 3, Rule: values.EvenLight, PerMM: perMM, LeastArea: 80, Neck: 1.5})
	if err != nil {
		t.Fatal(err)
	}
	return Wish{Plan: p, Reduced: Reduced{sketch, m, []string{"left eye (must be right)", "the closed shape from B2 to C4", "the edge of the shadow in D3"}}, Boxes: reading.Read(p, []lines.Stroke{across}, reading.Wish{}).Boxes, Help: reading.Words,
		Printer: page.On(paper(t, on)), Who: Who{Name: "Søren 中", Class: "7 Quay",
			Link: "http://quay.example/s/abcdefghijklmnopqrstuvwxyz", Project: 3, Student: 71},
		Class: []Who{{Name: "Ada", Class: "7 Quay", Project: 3, Student: 70}, {Name: "Søren", Class: "7 Quay", Project: 3, Student: 71}}, Landmarks: []string{"Tip of the mast"},
		Pins: []reading.Pin{{Name: "Tip of the mast", At: plane.Pt(p.Reference.Width/2, 0)},
			{Name: "Left end of the quay, where the steps go down to the boats", At: plane.Pt(0, p.Reference.Height)},
			{Name: "Lamp", At: plane.Pt(p.Reference.Width, p.Reference.Height/2)}}}
}

var asks = []grid.Request{
	{Name: "Squares", Reference: "7in", Paper: "12x18in", ReferenceSquare: "2in", Remainder: "shared", Split: "B2 4"},
	{Name: "Parts", Units: "cm", Reference: "15 cm", Paper: "A3", Method: "parts", Parts: "3x5", Letters: "down", Hand: "left", Margin: "2"},
	{Name: "Diagonals", Reference: "5in", Paper: "9x12in", Method: "diagonals", Frame: "700,900 900x1100 14", Start: "bottom right"},
	{Name: "Quarters", Units: "cm", Reference: "12 cm", Paper: "30x20", Panels: "2x1", Method: "quarters", MarkBy: "strip", Line: "white"},
}

// Every kind of page on every paper, upright or lying, with or without a
// printer's error: what is drawn is on the page, what is printed stays clear of
// the edge that the printer does not reach, and no letter is unknown.
func TestEveryKindOfPage(t *testing.T) {
	for _, ask := range asks {
		for _, on := range []string{"A4", "Letter", "A3", "Tabloid", "Legal"} {
			for _, k := range []float64{1, 0.94, 1.05} {
				w := wish(t, ask, on)
				w.Printer.Across, w.Printer.Down = k, 2-k
				for _, about := range Kinds {
					pages, err := Pages(about.Kind, w)
					if err != nil {
						t.Errorf("%s of %s on %s: %v", about.Kind, ask.Name, on, err)
						continue
					}
					if len(pages) == 0 {
						t.Errorf("%s of %s on %s: no page", about.Kind, ask.Name, on)
					}
					for _, p := range pages {
						checkPage(t, p, fmt.Sprintf("%s of %s on %s at %v", about.Kind, ask.Name, on, k), w.Printer)
						if k == 1 {
							least := 2.4
							if about.Kind == KindCards { // they are read at arm's length, besides the foot
								least = page.Small
								p.Items = slices.DeleteFunc(p.Items, func(i page.Item) bool { words, ok := i.(page.Text); return ok && words.Foot })
							}
							checkType(t, p, fmt.Sprintf("%s of %s on %s", about.Kind, ask.Name, on), least)
						}
					}
				}
			}
		}
	}
}

func checkPage(t *testing.T, p page.Page, what string, pr page.Printer) {
	t.Helper()
	printed := page.Printer{Paper: pr.Paper, Margin: pr.Margin, Across: 1 / pr.Across, Down: 1 / pr.Down}.Correct(p) // what comes out of the printer
	for _, item := range p.Items {
		if !onPage(p, item) {
			t.Errorf("%s: %+v lies off the page", what, item)
			return
		}
		if text, ok := item.(page.Text); ok && strings.ContainsRune(text.Words, '中') {
			t.Errorf("%s: %q cannot be printed", what, text.Words)
		}
	}
	for _, item := range printed.Items {
		path, ok := item.(page.Path)
		if !ok {
			continue
		}
		for _, q := range path.Points {
			if q.X < pr.Margin-0.1 || q.Y < pr.Margin-0.1 || q.X > float64(p.Size.W)-pr.Margin+0.1 || q.Y > float64(p.Size.H)-pr.Margin+0.1 {
				t.Errorf("%s: a line at %.1f, %.1f mm is nearer the edge than %v mm", what, q.X, q.Y, pr.Margin)
				return
			}
		}
	}
}

// checkType holds the letters of a page against the page grammar: none so small that a copy
// loses it, none upon another, none cut off at the paper's edge.
func checkType(t *testing.T, p page.Page, what string, least float64) {
	t.Helper()
	var boxes []plane.Rect
	var said []string
	for _, item := range p.Items {
		text, ok := item.(page.Text)
		if !ok || strings.TrimSpace(text.Words) == "" {
			continue
		}
		if text.Size < least-1e-9 {
			t.Errorf("%s: “%s” is %.2f mm high, under %.1f", what, text.Words, text.Size, least)
		}
		wide, x := page.TextWidth(text.Words, text.Size, text.Bold), text.At.X
		switch text.Anchor {
		case page.Middle:
			x -= wide / 2
		case page.End:
			x -= wide
		}
		b := plane.Rect{Min: plane.Pt(x, text.At.Y-0.7*text.Size), Max: plane.Pt(x+wide, text.At.Y)}
		if b.Min.X < 3 || b.Max.X > float64(p.Size.W)-3 {
			t.Errorf("%s: “%s” reaches from %.1f to %.1f of %.1f mm", what, text.Words, b.Min.X, b.Max.X, p.Size.W)
		}
		for i, o := range boxes {
			if b.Min.X < o.Max.X-0.2 && o.Min.X < b.Max.X-0.2 && b.Min.Y < o.Max.Y-0.2 && o.Min.Y < b.Max.Y-0.2 {
				t.Errorf("%s: “%s” stands on “%s”", what, text.Words, said[i])
			}
		}
		boxes, said = append(boxes, b), append(said, text.Words)
	}
}

// Every kind of page, the finish's too, uses its paper: what is on it between head line and
// foot reaches over most of the height, or is as large as it must be, true to size (measured
// on a raster of 60 dots an inch). Of several pages it is the first.
func TestPagesAreUsed(t *testing.T) {
	trueToSize := map[page.Kind]bool{KindClean: true, KindStrips: true, KindTags: true, KindWindows: true, KindSheet: true, KindDots: true} // as large as what they measure
	for _, on := range []string{"A4", "Letter"} {
		w := wish(t, asks[0], on)
		for name, pages := range craft(t, w) {
			// How many drawings there are says how much of these is used.
			if name != "labels" && name != "exhibition" && name != "poster of 1" && name != "side by side" && name != "certificate" && name != "tile key" {
				checkUsed(t, pages[0], name+" on "+on)
			}
		}
		for _, k := range Kinds {
			if trueToSize[k.Kind] {
				continue
			}
			pages, err := Pages(k.Kind, w)
			if err != nil {
				t.Fatal(err)
			}
			checkUsed(t, pages[0], fmt.Sprintf("%s on %s", k.Kind, on))
		}
	}
}

// checkUsed holds a page against its paper: the lowest dark above the check bar, and above the
// cautions at its foot, lies beyond the middle.
func checkUsed(t *testing.T, p page.Page, what string) {
	t.Helper()
	img := render.Pixels(p, 60/25.4, nil)
	foot := float64(p.Size.H) - 16
	for _, item := range p.Items { // a line of cautions is written over the page's whole width
		if text, ok := item.(page.Text); ok && text.Size == careSize && text.At.Y > 0.8*float64(p.Size.H) {
			foot = min(foot, text.At.Y-careSize)
		}
	}
	low := 0
	for y := range int(foot * 60 / 25.4) {
		for x := range img.Rect.Dx() {
			if img.RGBAAt(x, y).G < 0xd0 {
				low = y
				break
			}
		}
	}
	if share := float64(low) / float64(img.Rect.Dy()); share < 0.55 {
		t.Errorf("%s ends at %.0f %% of the page", what, 100*share)
	}
}

// uprights returns the x of every upright line as long as the given height.
func uprights(p page.Page, long float64) (xs []float64) {
	for _, item := range p.Items {
		if l, ok := item.(page.Path); ok && len(l.Points) == 2 && math.Abs(l.Points[0].X-l.Points[1].X) < 1e-9 && math.Abs(math.Abs(l.Points[0].Y-l.Points[1].Y)-long) < 1e-6 && l.Dash == 0 {
			xs = append(xs, l.Points[0].X)
		}
	}
	slices.Sort(xs)
	return slices.Compact(xs)
}

func shifted(marks []float64, by float64) []float64 {
	out := make([]float64, len(marks))
	for i, m := range marks {
		out[i] = m + by
	}
	return out
}

func alike(a, b []float64) bool {
	return slices.EqualFunc(a, b, func(x, y float64) bool { return math.Abs(x-y) < 1e-6 })
}

// A law: all pages of one plan say the same marks.
func TestPagesAgreeWithTheMarks(t *testing.T) {
	w := wish(t, grid.Request{Reference: "5in", Paper: "9x12in", ReferenceSquare: "1 1/2in", Remainder: "start"}, "A3")
	p := w.Plan
	for _, mirrored := range []bool{false, true} {
		w.Mirrored = mirrored
		pg, err := Reference(w)
		if err != nil {
			t.Fatal(err)
		}
		want := p.Marks.ReferenceX
		if mirrored {
			want = flipped(want)
		}
		got := uprights(pg, p.Reference.Height)
		if len(got) == 0 || !alike(shifted(got, -got[0]), want) {
			t.Errorf("mirrored %v: reference lines at %v; want %v", mirrored, got, want)
		}
	}
	sheets, err := DrawingSheet(w)
	if err != nil || len(sheets) != 1 {
		t.Fatalf("%d sheets, %v; want one on A3", len(sheets), err)
	}
	got := uprights(sheets[0], p.Sheet.Height)
	if len(got) == 0 || !alike(shifted(got, -got[0]), p.Marks.SheetX) {
		t.Errorf("sheet lines at %v; want %v", got, p.Marks.SheetX)
	}
	for _, s := range StripsOf(w) {
		want := map[string][]float64{"Picture, across": p.Marks.ReferenceX, "Picture, down": p.Marks.ReferenceY, "Sheet, across": p.Marks.SheetX, "Sheet, down": p.Marks.SheetY}[s.Name]
		if !alike(s.Marks, want) {
			t.Errorf("strip %s has %v; want %v", s.Name, s.Marks, want)
		}
	}
	card := p.CardFor(p.Panels()[0])
	for i, want := range [][]float64{p.Marks.SheetX, p.Marks.SheetY} {
		for j, m := range card.Edges[i].Marks {
			if m.At != want[j] {
				t.Errorf("the card's mark %d is at %v; want %v", j, m.At, want[j])
			}
		}
	}
}

// Upside down and mirrored undo themselves, labels and splits with them.
func TestTurnedNetsTurnBack(t *testing.T) {
	n := ReferenceNet(wish(t, asks[0], "A4").Plan)
	for name, turn := range map[string]func(Net) Net{"mirrored": Net.mirrored, "upside down": Net.upsideDown} {
		twice := turn(turn(n))
		if !alike(twice.X, n.X) || !alike(twice.Y, n.Y) || twice.Columns(1) != n.Columns(1) || twice.Rows(2) != n.Rows(2) || len(twice.Splits) != 1 || twice.Splits[[2]int{1, 1}] != 4 {
			t.Errorf("%s twice is another net: %+v", name, twice)
		}
	}
	if m := n.mirrored(); m.Columns(0) != n.Columns(len(n.X)-2) || m.Splits[[2]int{len(n.X) - 3, 1}] != 4 {
		t.Errorf("mirrored, the first column is %s and the splits %v", m.Columns(0), m.Splits)
	}
}

// Tiles cover the sheet, neighbours share exactly the overlap, and each lies
// where its printer reaches.
func TestTilesCoverTheSheet(t *testing.T) {
	for _, size := range []measure.Size{{W: 305, H: 457}, {W: 900, H: 1200}, {W: 2000, H: 300}} {
		l, tiles, err := Tiles(size, page.On(paper(t, "A4")))
		if err != nil {
			t.Fatal(err)
		}
		area := 0.0
		last := tiles[len(tiles)-1]
		for _, tile := range tiles {
			w, h := tile.Region.Width(), tile.Region.Height()
			if tile.Column > 0 {
				w -= overlap
			}
			if tile.Row > 0 {
				h -= overlap
			}
			area += w * h
			in := l.Inner()
			if tile.At.X+tile.Region.Width() > in.Max.X-cropRoom+0.01 || tile.At.Y+tile.Region.Height() > in.Max.Y-cropRoom+0.01 {
				t.Errorf("tile %d, %d reaches beyond the printer", tile.Column, tile.Row)
			}
		}
		if want := float64(size.W * size.H); math.Abs(area-want) > 1e-6*want || len(tiles) != (last.Row+1)*(last.Column+1) {
			t.Errorf("%v: %d tiles cover %v mm²; want %v", size, len(tiles), area, want)
		}
	}
	if _, _, err := Tiles(measure.Size{W: 20000, H: 20000}, page.On(paper(t, "A6"))); !errors.Is(err, page.ErrPaper) {
		t.Errorf("a wall on A6: %v; want ErrPaper", err)
	}
}

func TestCutLine(t *testing.T) {
	r := page.Box(10, 10, 20, 20)
	for _, c := range []struct {
		a, b, from, to plane.Point
		ok             bool
	}{
		{plane.Pt(0, 15), plane.Pt(50, 15), plane.Pt(10, 15), plane.Pt(30, 15), true},
		{plane.Pt(0, 0), plane.Pt(40, 40), plane.Pt(10, 10), plane.Pt(30, 30), true},
		{plane.Pt(12, 12), plane.Pt(13, 18), plane.Pt(12, 12), plane.Pt(13, 18), true},
		{plane.Pt(0, 5), plane.Pt(50, 5), plane.Point{}, plane.Point{}, false},
		{plane.Pt(0, 25), plane.Pt(15, 40), plane.Point{}, plane.Point{}, false},
	} {
		from, to, ok := r.Cut(c.a, c.b)
		if ok != c.ok || ok && (from.Sub(c.from).Len() > 1e-9 || to.Sub(c.to).Len() > 1e-9) {
			t.Errorf("%v to %v: %v to %v, %v", c.a, c.b, from, to, ok)
		}
	}
}

// A printer that shrinks is undone by its own measure.
func TestPrinterCorrection(t *testing.T) {
	pr, err := page.On(paper(t, "A4")).Measured(97, 100, 196, 200)
	if err != nil || pr.Across != 0.97 || pr.Down != 0.98 {
		t.Fatalf("measured %+v, %v", pr, err)
	}
	for _, off := range [][2]measure.Length{{79, 100}, {121, 100}, {0, 100}} {
		if _, err := page.On(paper(t, "A4")).Measured(off[0], off[1], 100, 100); !errors.Is(err, page.ErrCorrection) {
			t.Errorf("%v of %v: %v; want ErrCorrection", off[0], off[1], err)
		}
	}
	size := measure.Size{W: 210, H: 297}
	pg := page.Page{Size: size, Items: []page.Item{page.Path{Points: []plane.Point{plane.Pt(30, 40), plane.Pt(130, 240)}}}}
	line := pr.Correct(pg).Items[0].(page.Path)
	if got := (line.Points[1].X - line.Points[0].X) * 0.97; math.Abs(got-100) > 1e-9 {
		t.Errorf("printed, the line is %v mm across; want 100", got)
	}
	// Lying, the paper's own directions change places.
	lying := pr.Correct(page.Page{Size: size.Turned(), Items: pg.Items}).Items[0].(page.Path)
	if got := (lying.Points[1].X - lying.Points[0].X) * 0.98; math.Abs(got-100) > 1e-9 {
		t.Errorf("lying, the line is %v mm across; want 100", got)
	}
	for _, u := range []measure.Unit{measure.Millimetre, measure.Inch} {
		pg, across, down := CheckPage(pr, u)
		if across < 150 || down < 220 || !across.Readable(u) || pg.Items == nil {
			t.Errorf("the check page's bars are %v and %v", across, down)
		}
		checkPage(t, pg, "check page", page.On(paper(t, "A4")))
	}
}

func TestBind(t *testing.T) {
	set := func(owner string, kinds ...page.Kind) (pages []page.Page) {
		for _, k := range kinds {
			pages = append(pages, page.Page{Kind: k, Owner: owner})
		}
		return pages
	}
	sets := [][]page.Page{set("Ada", KindReference, KindMarks, KindClean), set("Bryn", KindReference, KindMarks)}
	order := func(b Binding) (s string) {
		for _, p := range Bind(sets, b) {
			s += string(p.Owner[0]) + map[page.Kind]string{KindReference: "r", KindMarks: "m", KindClean: "c", "": "-"}[p.Kind] + " "
		}
		return s
	}
	for _, c := range []struct {
		b    Binding
		want string
	}{
		{Binding{}, "Ar Am Ac Br Bm "},
		{Binding{Duplex: true}, "Ar Am Ac A- Br Bm "},
		{Binding{ByPage: true}, "Ar Br Ac Am Bm "},
		{Binding{ByPage: true, Duplex: true}, "Ar Br Ac A- Am Bm "},
		{Binding{Copies: 2}, "Ar Am Ac Br Bm Ar Am Ac Br Bm "},
	} {
		if got := order(c.b); got != c.want {
			t.Errorf("%+v: %s; want %s", c.b, got, c.want)
		}
	}
}

func TestTags(t *testing.T) {
	for _, tag := range []photo.Tag{{Project: 1, Student: 1}, {Project: 123456789, Student: 987654321, Corner: 3}} {
		if back, ok := photo.ParseTag(tag.String()); !ok || back != tag || len(tag.String()) > 25 {
			t.Errorf("%+v is %q and back %+v, %v", tag, tag, back, ok)
		}
	}
	for _, s := range []string{"", "ZS/", "ZS/1/2", "ZS/1/2/4", "ZS/1/2/-1", "zs/1/2/3", "ZS/01/2/3", "ZS/1/2/3/4", "http://x"} {
		if tag, ok := photo.ParseTag(s); ok {
			t.Errorf("%q is %+v; want no tag", s, tag)
		}
	}
	w := wish(t, asks[0], "A4")
	w.Class = nil
	if _, err := Pages(KindTags, w); !errors.Is(err, page.ErrEmpty) {
		t.Errorf("no class: %v; want ErrEmpty", err)
	}
}

// Pictures with pressed points stand at one height on their page, and the lines are told for
// the drawing paper; pages of any number of them are pages as the others are.
func TestPressedViews(t *testing.T) {
	w := wish(t, asks[1], "A4")
	for i, name := range []string{"Front", "Left side", "Back"} {
		w.Pressed = append(w.Pressed, View{sighting.Pictured{Name: name, Width: 500, Height: 900, Top: 100,
			Bottom: 800 - 50*float64(i), Marks: []sighting.PixelMark{{Name: "Rim", Down: 400}}}, "picture"})
		if i == 0 {
			continue
		}
		for _, gap := range []measure.Length{0, 12} {
			w.Gap = gap
			pages, err := Pages(KindViews, w)
			if err != nil || len(pages) != 2 {
				t.Fatalf("%d pictures: %d pages, %v", i+1, len(pages), err)
			}
			for _, p := range pages {
				checkPage(t, p, fmt.Sprintf("%d pictures", i+1), w.Printer)
				checkType(t, p, fmt.Sprintf("%d pictures", i+1), 2.4)
			}
			shown := 0
			for _, item := range pages[0].Items {
				if _, ok := item.(page.Picture); ok {
					shown++
				}
			}
			if words := written(pages[1]); shown != i+1 || !strings.Contains(words, "Rim") || !strings.Contains(words, "Left side: its Rim stands") {
				t.Errorf("%d of %d pictures shown; the lines' page says %q", shown, i+1, words)
			}
		}
	}
	w.Pressed[1].Bottom = w.Pressed[1].Top
	if _, err := Pages(KindViews, w); !errors.Is(err, sighting.ErrAsk) || !strings.Contains(err.Error(), "Left side") {
		t.Errorf("not pressed: %v; want ErrAsk naming the view", err)
	}
}

func TestWhatCannotBePrinted(t *testing.T) {
	w := wish(t, asks[0], "A4")
	w.Plan.Frame = nil
	if _, err := Pages(KindCards, w); !errors.Is(err, page.ErrEmpty) {
		t.Errorf("cards without a picture: %v; want ErrEmpty", err)
	}
	small := wish(t, asks[0], "A6")
	for _, about := range Kinds {
		if _, err := Pages(about.Kind, small); err != nil && !errors.Is(err, page.ErrPaper) {
			t.Errorf("%s on A6: %v; want ErrPaper", about.Kind, err)
		}
	}
	w.Views, w.Solid = 9, sighting.Solid{Width: 1, Depth: 1, Height: 1}
	if _, err := Pages(KindViews, w); !errors.Is(err, sighting.ErrAsk) {
		t.Errorf("nine views: %v; want ErrAsk", err)
	}
	if _, err := Pages("poster", w); err == nil {
		t.Error("a kind that is not there was made")
	}
}

func TestCuttingDiagram(t *testing.T) {
	c, ok := measure.Cut(measure.Paper{Name: "18 × 24", Size: measure.Size{W: 457.2, H: 609.6}}, measure.Size{W: 203.2, H: 254}, 24)
	if !ok {
		t.Fatal("nothing fits")
	}
	pg, pieces, cuts := CutDiagram(c, measure.Inch), 0, 0
	for _, item := range pg.Items {
		if p, isPath := item.(page.Path); isPath {
			if p.Fill != nil && *p.Fill == page.White {
				pieces++
			}
			if p.Dash > 0 {
				cuts++
			}
		}
		if !onPage(pg, item) {
			t.Errorf("%+v lies off the diagram", item)
		}
	}
	if pieces != c.PerSheet() || cuts != len(c.Cuts) || len(c.Words(measure.Inch)) != len(c.Cuts)+len(c.Offcuts) {
		t.Errorf("%d pieces and %d cuts are drawn; want %d and %d", pieces, cuts, c.PerSheet(), len(c.Cuts))
	}
}

// Papers that are marked alike share their strips, so that the greatest of
// walls is some dozens of pages.
func TestStripsAreShared(t *testing.T) {
	w := wish(t, grid.Request{Reference: "6x6in", Paper: "12x12in", ReferenceSquare: "1in", Panels: "2x2"}, "Letter")
	if got := StripsOf(w); len(got) != 4 { // the picture's two, and one each way for all four
		t.Errorf("%d strips: %+v; want 4", len(got), got)
	}
	most := wish(t, grid.Request{Reference: "20x19m", Paper: "20x20m", Method: "parts", Parts: "31x31", Panels: "5x5"}, "Letter")
	if pages, err := Strips(most); err != nil || len(pages) > 100 {
		t.Errorf("a wall of papers of 20 m: %d pages, %v; want at most 100", len(pages), err)
	}
}

// Worked by hand on 7 × 9 doubled: the middle of the top is 4 1/2 straight up, 9 on the
// drawing; the right edge's middle is a quarter turn and 3 1/2 out, 7 on the drawing; the
// lower left corner lies at 180 and atan(3.5 ÷ 4.5), 37.9 degrees, and 5.70 out.
func TestMeasuredPins(t *testing.T) {
	p := plan(t, grid.Request{Reference: "7x9in", Paper: "14x18in", ReferenceSquare: "1in", SheetSquare: "2in"})
	const in = 25.4
	got, err := MeasurePins(p, []reading.Pin{{Name: "top", At: plane.Pt(3.5*in, 0)},
		{Name: "right", At: plane.Pt(7*in, 4.5*in)}, {Name: "corner", At: plane.Pt(0, 9*in)},
		{Name: "middle", At: plane.Pt(3.5*in, 4.5*in)}})
	if err != nil {
		t.Fatal(err)
	}
	want := []Measured{{"top", 0, 0, 0, 0, 0, 4.5, 9}, {"right", 4.5, 3.5, 9, 7, 90, 3.5, 7}, {"corner", 9, -3.5, 18, -7, 180 + 37.875, 5.7009, 11.4018}, {"middle", 4.5, 0, 9, 0, 0, 0, 0}}
	for i, w := range want {
		g := got[i]
		for _, pair := range [][2]float64{{g.Down / in, w.Down}, {g.In / in, w.In}, {g.DrawDown / in, w.DrawDown},
			{g.Draw / in, w.Draw}, {g.Turn, w.Turn}, {g.Out / in, w.Out}, {g.DrawOut / in, w.DrawOut}} {
			if math.Abs(pair[0]-pair[1]) > 1e-3 {
				t.Errorf("%s measures %+v; want %+v (in)", w.Name, g, w)
				break
			}
		}
	}
	if _, err := Points(Wish{Plan: p, Printer: page.On(paper(t, "A4"))}); !errors.Is(err, page.ErrEmpty) {
		t.Errorf("without pins: %v", err)
	}
}

// Law: down and in, or by a turn and out, a point lies in one place on the drawing, and as many
// times as far from the middle as on the picture.
func TestPointsBothWays(t *testing.T) {
	p := plan(t, grid.Request{Reference: "7x9in", ReferenceSquare: "1in", SheetSquare: "2in", Paper: "18x24in"})
	rng := rand.New(rand.NewPCG(8, 3))
	var pins []reading.Pin
	for range 200 {
		pins = append(pins, reading.Pin{Name: "p", At: plane.Pt(rng.Float64()*p.Reference.Width, rng.Float64()*p.Reference.Height)})
	}
	measured, err := MeasurePins(p, pins)
	if err != nil {
		t.Fatal(err)
	}
	for i, m := range measured {
		sin, cos := math.Sincos(m.Turn * math.Pi / 180)
		x, y := m.DrawOut*sin, -m.DrawOut*cos
		if math.Abs(m.Draw-x) > 1e-6 || math.Abs(m.DrawDown-p.Reference.Height/2*p.Scale[1]-y) > 1e-6 || math.Abs(m.DrawOut-2*m.Out) > 1e-6 {
			t.Fatalf("%v is %+v: the two ways differ by %v and %v", pins[i].At, m, m.Draw-x, m.DrawDown-p.Reference.Height/2*p.Scale[1]-y)
		}
	}
}
