package sheet

import (
	"fmt"
	"testing"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
)

// A poster fills its page whatever a class has handed in: down to its last seventh, or across to it. The picture
// is the largest on it.
func TestPosterFillsItsPage(t *testing.T) {
	for _, ask := range []grid.Request{{Picture: [2]int{700, 900}, Reference: "7 in", ReferenceSquare: "1 in", Scale: "1.5"}, {Picture: [2]int{1200, 700}, Units: "cm", Reference: "24 cm", Method: "parts", Parts: "6x4", Scale: "1"}} {
		plan, err := grid.Make(ask)
		if err != nil {
			t.Fatal(err)
		}
		for n := 1; n <= 36; n++ {
			size, _ := measure.PaperNamed("A3")
			hung := make([]Hung, n)
			for i := range hung {
				hung[i] = Hung{fmt.Sprint(i), Drawn{fmt.Sprint(i), [2]int{700, 900}}}
			}
			pg, err := Poster(Wish{Plan: plan, Printer: page.On(size.Size)}, "Harbour light", "7 Quay", hung)
			if err != nil {
				t.Fatal(err)
			}
			right, low := 0.0, 0.0
			for _, item := range pg.Items {
				if pic, ok := item.(page.Picture); ok {
					right, low = max(right, pic.Box.Max.X), max(low, pic.Box.Max.Y)
				}
			}
			if right < 0.85*float64(size.Size.W) && low < 0.85*float64(size.Size.H) {
				t.Errorf("%d drawings of %s reach %.0f, %.0f mm of %v", n, ask.Reference, right, low, size.Size)
			}
		}
	}
}

// Windows of small boxes fill their page with pairs for others: there are as many of the picture's as of the
// sheet's, or one more, and none lies over another.
func TestWindowsFillTheirPage(t *testing.T) {
	plan, err := grid.Make(grid.Request{Picture: [2]int{700, 900}, Reference: "7 in", ReferenceSquare: "1 in", Scale: "1.5"})
	if err != nil {
		t.Fatal(err)
	}
	size, _ := measure.PaperNamed("A4")
	pages, err := Windows(Wish{Plan: plan, Printer: page.On(size.Size)})
	if err != nil || len(pages) != 2 {
		t.Fatalf("%d pages, %v; want windows and L-shaped strips", len(pages), err)
	}
	found := map[string]int{}
	for _, item := range pages[0].Items {
		if words, ok := item.(page.Text); ok {
			found[words.Words]++
		}
	}
	picture, paper := found["Window: one box of the picture"], found["Window: one box of the sheet"]
	if picture < 3 || paper != picture && paper != picture-1 {
		t.Errorf("%d windows of the picture's boxes, %d of the sheet's; want three or more of each", picture, paper)
	}
}
