package sheet

import (
	"errors"
	"fmt"
	"math"
	"strings"
	"testing"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/lines"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/core/reading"
)

// readPlan returns a plan of a picture with one line across it, and what its boxes hold.
func readPlan(t *testing.T) (grid.Plan, []reading.Box) {
	t.Helper()
	p, err := grid.Make(grid.Request{Name: "Line", Picture: [2]int{600, 800}, Reference: "150 mm", Paper: "A4", Method: "parts", Parts: "3 x 4", Margin: "10 mm", Units: "cm"})
	if err != nil {
		t.Fatal(err)
	}
	line := lines.Stroke{Points: []plane.Point{plane.Pt(0, 250), plane.Pt(600, 250)}, Weight: 1}
	return p, reading.Read(p, []lines.Stroke{line}, reading.Wish{}).Boxes
}

// discs returns the middles of the small filled rounds of a page.
func discs(pg page.Page) (all []plane.Point) {
	for _, item := range pg.Items {
		p, ok := item.(page.Path)
		if !ok || p.Fill == nil || len(p.Points) != 16 {
			continue
		}
		var sum plane.Point
		for _, q := range p.Points {
			sum = sum.Add(q)
		}
		all = append(all, sum.Mul(1.0/16))
	}
	return all
}

// The dots of a dot sheet lie on the grid's lines where the picture's line crosses them,
// and nowhere else.
func TestDotSheet(t *testing.T) {
	p, boxes := readPlan(t)
	pages, err := DotSheet(Wish{Plan: p, Boxes: boxes, Printer: page.On(measure.Size{W: 297, H: 420})})
	if err != nil {
		t.Fatal(err)
	}
	var dots []plane.Point
	for _, pg := range pages {
		dots = append(dots, discs(pg)...)
	}
	if len(dots) != 6 { // each box of the row draws its two
		t.Fatalf("%d dots in %d pages; want two for each of three boxes", len(dots), len(pages))
	}
	for i, d := range dots[1:] {
		if math.Abs(d.Y-dots[0].Y) > 0.05 || d.X < dots[i].X-1e-6 {
			t.Errorf("dot %d lies at %v; the line is level through %v", i+1, d, dots[0])
		}
	}
	for _, nobody := range []func(Wish) ([]page.Page, error){DotSheet, Key} {
		if _, err := nobody(Wish{Plan: p, Printer: page.On(p.StockSize())}); !errors.Is(err, page.ErrEmpty) {
			t.Errorf("without a picture: %v", err)
		}
	}
}

// The key draws each box small, with the fraction at each crossing; words follow where they are wished.
func TestKeyShowsFractions(t *testing.T) {
	p, boxes := readPlan(t)
	w := Wish{Plan: p, Boxes: boxes, Printer: page.On(p.StockSize())}
	texts := func() (all []string) {
		pages, err := Key(w)
		if err != nil {
			t.Fatal(err)
		}
		for _, pg := range pages {
			for _, item := range pg.Items {
				if text, ok := item.(page.Text); ok {
					all = append(all, text.Words)
				}
			}
		}
		return all
	}
	want := map[string]int{}
	for _, b := range boxes {
		for _, x := range b.Crossings {
			want[reading.Mark(x.At)]++
		}
	}
	for mark, n := range want {
		got := 0
		for _, words := range texts() {
			if words == mark {
				got++
			}
		}
		if got != n {
			t.Errorf("%q stands %d times; %d crossings are there", mark, got, n)
		}
	}
	for _, c := range []struct {
		at   float64
		mark string
	}{{0.5, "1/2"}, {0.49, "1/2"}, {0.36, "1/3+"}, {0.7, "2/3+"}, {0.95, "1−"}, {0.01, "0"}} {
		if got := reading.Mark(c.at); got != c.mark {
			t.Errorf("%.2f is marked %q; want %q", c.at, got, c.mark)
		}
	}
	if said := strings.Join(texts(), " "); strings.Contains(said, "down the left side") {
		t.Errorf("words nobody asked for: %q", said)
	}
	w.Help = reading.Words
	if said := strings.Join(texts(), " "); !strings.Contains(said, "down the left side") {
		t.Errorf("words that were asked for are missing: %q", said)
	}
}

// Cards and reference show as much of a box as is wished: nothing, dots, words under the
// card, the lines.
func TestHelpOnCards(t *testing.T) {
	p, boxes := readPlan(t)
	w := Wish{Plan: p, Boxes: boxes, Printer: page.On(p.StockSize())}
	words := func(pages []page.Page) string {
		var all []string
		for _, pg := range pages {
			for _, item := range pg.Items {
				if text, ok := item.(page.Text); ok {
					all = append(all, text.Words)
				}
			}
		}
		return strings.Join(all, " ")
	}
	for _, c := range []struct {
		help reading.Help
		dots int
		said bool
	}{{reading.Ticks, 0, false}, {reading.Dots, 6, false}, {reading.Words, 6, true}, {reading.Traced, 6, true}} {
		w.Help = c.help
		cards, err := BoxCards(w)
		if err != nil {
			t.Fatal(err)
		}
		n := 0
		for _, pg := range cards {
			n += len(discs(pg))
		}
		if said := strings.Contains(words(cards), "down the left side to"); n != c.dots || said != c.said {
			t.Errorf("cards at %q: %d dots, words %v; want %d and %v", c.help, n, said, c.dots, c.said)
		}
		for _, turned := range []bool{false, true} {
			w.UpsideDown = turned
			pg, err := Reference(w)
			if err != nil {
				t.Fatal(err)
			}
			if n := len(discs(pg)); n != c.dots {
				t.Errorf("the reference at %q, upside down %v: %d dots; want %d", c.help, turned, n, c.dots)
			}
		}
		w.UpsideDown = false
	}
	key, err := Key(w)
	if err != nil {
		t.Fatal(err)
	}
	for _, b := range boxes {
		if !strings.Contains(words(key), b.Label) {
			t.Errorf("the key says nothing of %s", b.Label)
		}
	}
}

// Cards that are turned or mirrored show the box, its dots and its neighbours so, in the order in which the
// hand comes to them then, and say how large they are; a box as broad as the page lies along it.
func TestCardsFollowTheirSettings(t *testing.T) {
	p, boxes := readPlan(t)
	w := Wish{Plan: p, Boxes: boxes, Printer: page.On(p.StockSize()), Help: reading.Dots}
	dots := func(w Wish, label string) (found map[[2]int]bool, first string) {
		cards, err := BoxCards(w)
		if err != nil {
			t.Fatal(err)
		}
		card, found := "", map[[2]int]bool{}
		var box plane.Rect
		for _, pg := range cards {
			for _, item := range pg.Items {
				switch v := item.(type) {
				case page.Picture: // a card begins with its picture, its dots follow, its label ends it
					box, found = v.Box, map[[2]int]bool{}
				case page.Path:
					if v.Fill != nil {
						mid := plane.Ring(v.Points).Bounds().Middle().Sub(box.Middle())
						found[[2]int{int(math.Round(200 * mid.X / box.Width())), int(math.Round(200 * mid.Y / box.Height()))}] = true
					}
				case page.Text:
					if v.Size == 5.5 {
						if card = v.Words; first == "" {
							first = card
						}
						if card == label {
							return found, first
						}
					}
				}
			}
		}
		t.Fatalf("no card of %s", label)
		return nil, ""
	}
	label, most := "", 0
	for _, b := range w.Boxes {
		if len(b.Crossings) > most {
			label, most = b.Label, len(b.Crossings)
		}
	}
	upright, first := dots(w, label)
	if last := w.Plan.Cell(w.Plan.Grid.Columns-1, w.Plan.Grid.Rows-1).Label; first != "A1" || len(upright) != most {
		t.Fatalf("begins with %s, %d dots", first, len(upright))
	} else if w.UpsideDown = true; w.UpsideDown {
		turned, first := dots(w, label)
		for at := range upright {
			if !turned[[2]int{-at[0], -at[1]}] {
				t.Errorf("upside down: no dot at %d, %d of %v", -at[0], -at[1], turned)
			}
		}
		if first != last {
			t.Errorf("upside down the first card is %s; want %s", first, last)
		}
	}
	w.UpsideDown, w.Mirrored = false, true
	mirrored, _ := dots(w, label)
	for at := range upright {
		if !mirrored[[2]int{-at[0], at[1]}] {
			t.Errorf("mirrored: no dot at %d, %d of %v", -at[0], at[1], mirrored)
		}
	}
}

// What a card says of its size is so.
func TestCardsAreAsLargeAsTheySay(t *testing.T) {
	for _, c := range []struct {
		wide, high   int
		parts, paper string
	}{{180, 240, "1x9", "A4"}, {180, 240, "6x8", "A4"}, {150, 150, "2x2", "Letter"}, {90, 200, "1x8", "A5"}, {250, 170, "3x2", "A4"}} {
		p, err := grid.Make(grid.Request{Picture: [2]int{5 * c.wide, 5 * c.high}, Reference: fmt.Sprintf("%dx%dmm", c.wide, c.high), Method: "parts", Parts: c.parts, Scale: "1", Units: "cm"})
		if err != nil {
			t.Fatal(err)
		}
		cards, err := BoxCards(Wish{Plan: p, Printer: page.On(paper(t, c.paper))})
		if err != nil {
			t.Fatal(err)
		}
		var said string
		least := math.Inf(1)
		i := 0
		for _, pg := range cards {
			for _, item := range pg.Items {
				switch v := item.(type) {
				case page.Text:
					if strings.HasPrefix(v.Words, "Box cards") {
						said = v.Words
					}
				case page.Path:
					if v.Width == 0.4 && v.Closed && len(v.Points) == 4 { // the frame of the box itself
						b := plane.Ring(v.Points).Bounds()
						least = min(least, b.Width()/p.Cells()[i].Reference.Width())
						i++
					}
				}
			}
		}
		if want := fmt.Sprintf("%.2g times", least); i != p.Count() || !strings.Contains(said, want) || least < 1 {
			t.Errorf("%+v: %d cards, the smallest %s the picture's size; the page says %q", c, i, want, said)
		}
	}
}
