package sheet

import (
	"errors"
	"math"
	"strings"
	"testing"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/plane"
)

func plan(t testing.TB, ask grid.Request) grid.Plan {
	t.Helper()
	p, err := grid.Make(ask)
	if err != nil {
		t.Fatal(err)
	}
	return p
}

func paper(t testing.TB, name string) measure.Size {
	t.Helper()
	p, ok := measure.PaperNamed(name)
	if !ok {
		t.Fatalf("no paper %q", name)
	}
	return p.Size
}

// onPage reports whether an item lies on its page.
func onPage(p page.Page, item page.Item) bool {
	in := func(x, y float64) bool {
		return x >= -0.01 && y >= -0.01 && x <= float64(p.Size.W)+0.01 && y <= float64(p.Size.H)+0.01
	}
	switch v := item.(type) {
	case page.Path:
		for _, q := range v.Points {
			if !in(q.X, q.Y) {
				return false
			}
		}
	case page.Text:
		return in(v.At.X, v.At.Y)
	case page.Picture:
		return in(v.Box.Min.X, v.Box.Min.Y) && in(v.Box.Max.X, v.Box.Max.Y)
	}
	return true
}

// Furniture never covers the work: no text but labels, and no check bar, in the picture's box.
func TestFurnitureStaysOffTheWork(t *testing.T) {
	for _, c := range []struct {
		ask   grid.Request
		paper string
	}{
		{grid.Request{Name: "Tall", Reference: "7x9in", Paper: "12x18in", ReferenceSquare: "1in"}, "Letter"},
		{grid.Request{Name: "To the edge", Reference: "8x10in", Paper: "12x18in", ReferenceSquare: "1in"}, "Letter"},
		{grid.Request{Name: "Lying", Units: "cm", Reference: "25x17", Paper: "A3", Method: "parts"}, "A4"},
		{grid.Request{Name: "Small", Units: "cm", Reference: "3x3", Paper: "A4", Method: "quarters"}, "A4"},
		{grid.Request{Name: strings.Repeat("A very long name ", 20), Reference: "5x7in", Scale: "2", ReferenceSquare: "1in"}, "Tabloid"},
	} {
		p := plan(t, c.ask)
		pg, err := Reference(Wish{Plan: p, Printer: page.On(paper(t, c.paper))})
		if err != nil {
			t.Errorf("%s: %v", c.ask.Name, err)
			continue
		}
		var work plane.Rect
		for _, item := range pg.Items {
			if pic, ok := item.(page.Picture); ok {
				work = pic.Box
			}
		}
		if w, h := work.Width(), work.Height(); math.Abs(w-p.Reference.Width) > 1e-9 || math.Abs(h-p.Reference.Height) > 1e-9 {
			t.Errorf("%s: the picture is %v × %v mm; want true size", c.ask.Name, w, h)
		}
		for _, item := range pg.Items {
			if !onPage(pg, item) {
				t.Errorf("%s: %+v lies off the page", c.ask.Name, item)
			}
			text, ok := item.(page.Text)
			if !ok || text.Halo {
				continue
			}
			width := page.TextWidth(text.Words, text.Size, text.Bold)
			left := text.At.X - map[page.Anchor]float64{page.Start: 0, page.Middle: width / 2, page.End: width}[text.Anchor]
			if left < work.Max.X && left+width > work.Min.X && text.At.Y > work.Min.Y && text.At.Y-text.Size*0.7 < work.Max.Y {
				t.Errorf("%s: %q covers the work", c.ask.Name, text.Words)
			}
		}
	}
}

func TestTooLargeSaysWhichPaper(t *testing.T) {
	p := plan(t, grid.Request{Reference: "10x13in", Scale: "1", ReferenceSquare: "1in"})
	_, err := Reference(Wish{Plan: p, Printer: page.On(paper(t, "A4"))})
	if !errors.Is(err, page.ErrPaper) || !strings.Contains(err.Error(), "A3") || !strings.Contains(err.Error(), "Tabloid") {
		t.Errorf("got %v; want ErrPaper naming A3 and Tabloid", err)
	}
	fits := map[string]bool{}
	for _, c := range PapersFor(p) {
		fits[c.Name] = c.Fits
	}
	if fits["A4"] || fits["Letter"] || !fits["A3"] || !fits["Tabloid"] {
		t.Errorf("papers %v; want only A3 and Tabloid to fit", fits)
	}
}

// The net on the page is the plan's marks, and nothing is between them.
func TestNetFollowsTheMarks(t *testing.T) {
	p := plan(t, grid.Request{Reference: "7x9in", Paper: "12x18in", ReferenceSquare: "2in"})
	pg := Bare(p)
	upright := map[float64]bool{}
	for _, item := range pg.Items {
		if l, ok := item.(page.Path); ok && l.Points[0].X == l.Points[1].X && l.Stroke == page.Ink {
			upright[l.Points[0].X] = true
		}
	}
	if len(upright) != len(p.Marks.ReferenceX) {
		t.Errorf("%d upright lines; want %d", len(upright), len(p.Marks.ReferenceX))
	}
	for _, x := range p.Marks.ReferenceX {
		if !upright[x] {
			t.Errorf("no line at %v mm", x)
		}
	}
}

func TestQuarterMarksAreNotRuledThrough(t *testing.T) {
	p := plan(t, grid.Request{Reference: "8x8in", Scale: "2", Method: "quarters"})
	for _, item := range Bare(p).Items {
		l, ok := item.(page.Path)
		if !ok || l.Points[0].X != l.Points[1].X || l.Points[0].X == 0 || l.Points[0].X == p.Reference.Width {
			continue
		}
		if length := math.Abs(l.Points[1].Y - l.Points[0].Y); length > p.Reference.Height/10 {
			t.Errorf("the mark at %v mm is %v mm long", l.Points[0].X, length)
		}
	}
}

func TestMarkUpSteps(t *testing.T) {
	p := plan(t, grid.Request{Reference: "2x2 1/2in", ReferenceSquare: "1/2", SheetSquare: "2", Paper: "letter"})
	all := strings.Join(p.CardFor(p.Panels()[0]).Words(), "\n")
	for _, want := range []string{"cut it to 8 × 10 in", "from zero: 0, 2, 4, 6, 8 in",
		"from zero: 0, 2, 4, 6, 8, 10 in", "at 8 in and 10 in", "4 boxes across, 5 down, 20 in all",
		"each must be ≈ 12 13/16 in"} {
		if !strings.Contains(all, want) {
			t.Errorf("%q is missing from\n%s", want, all)
		}
	}
}

func TestTextFits(t *testing.T) {
	for _, line := range page.Wrap("Put the ruler's zero line, not the end of the wood, on the paper's corner.", 4, 60, false) {
		if w := page.TextWidth(line, 4, false); w > 60 {
			t.Errorf("%q is %v mm wide; want at most 60", line, w)
		}
	}
	for width := 12.0; width < 40; width++ { // a number and its fraction stay together, wherever a line ends
		if lines := page.Wrap("at 4 1/2, 6, 7 1/2 in", 4, width, false); strings.Contains(strings.Join(lines, "|"), "|1/2") {
			t.Errorf("at %v mm a fraction begins a line: %q", width, lines)
		}
	}
	if got := page.Cut("Harbour light", 4, 12, true); page.TextWidth(got, 4, true) > 12 || !strings.HasSuffix(got, "…") {
		t.Errorf("cut to %q, %v mm", got, page.TextWidth(got, 4, true))
	}
	// The instructions of a plan with very many marks still stand on the page.
	p := plan(t, grid.Request{Units: "cm", Reference: "30x30", Paper: "30x30", ReferenceSquare: "1"})
	pages, err := Marks(Wish{Plan: p, Printer: page.On(paper(t, "A4"))})
	if err != nil {
		t.Fatal(err)
	}
	pg := pages[0]
	for _, item := range pg.Items {
		if !onPage(pg, item) {
			t.Errorf("%+v lies off the page", item)
		}
	}
}

func BenchmarkPages(b *testing.B) {
	w := Wish{Plan: plan(b, grid.Request{Reference: "7x9in", Paper: "12x18in", ReferenceSquare: "1in"}), Printer: page.On(paper(b, "Letter"))}
	for b.Loop() {
		for _, k := range []page.Kind{KindReference, KindMarks} {
			if _, err := Pages(k, w); err != nil {
				b.Fatal(err)
			}
		}
	}
}
