package sheet

import (
	"errors"
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
