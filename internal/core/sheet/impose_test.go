package sheet

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"

	"zestysketch/internal/core/lesson"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/plane"
)

// leaves are n upright pages of half an A4 sheet, each with a dot at its own place.
func leaves(n int) (pages []page.Page) {
	for i := range n {
		p := page.Page{Title: fmt.Sprint(i + 1), Size: Half(measure.Size{W: 210, H: 297})}
		p.Add(page.Text{At: plane.Pt(10, 20), Size: 5, Words: fmt.Sprint(i + 1)})
		pages = append(pages, p)
	}
	return pages
}

// read returns what numbers stand on a side, from the left, "-" for an empty half.
func read(p page.Page) (left, right string) {
	left, right = "-", "-"
	for _, item := range p.Items {
		if t, ok := item.(page.Text); ok {
			if t.At.X < float64(p.Size.W)/2 {
				left = t.Words
			} else {
				right = t.Words
			}
		}
	}
	return left, right
}

// The order of a booklet of eight is that of every printer: 8 1, 2 7, 6 3, 4 5 (common
// practice); of five, three halves stay empty. Halves stay in their order. Everything keeps
// its true size and its half.
func TestImposition(t *testing.T) {
	a4 := measure.Size{W: 210, H: 297}
	for _, c := range []struct {
		n    int
		how  Sharing
		want []string
	}{
		{8, Booklet, []string{"8 1", "2 7", "6 3", "4 5"}},
		{5, Booklet, []string{"- 1", "2 -", "- 3", "4 5"}},
		{1, Booklet, []string{"- 1", "- -"}},
		{5, Halves, []string{"1 2", "3 4", "5 -"}},
	} {
		var got []string
		for _, side := range Impose(leaves(c.n), c.how, a4) {
			left, right := read(side)
			got = append(got, left+" "+right)
			if side.Size != a4.Turned() {
				t.Errorf("a side is %v; want the sheet lying", side.Size)
			}
		}
		if !slices.Equal(got, c.want) {
			t.Errorf("%d as %s: %v; want %v", c.n, c.how, got, c.want)
		}
	}
	// Folded, every page lies behind the one before it: odd ones on the right, each with the
	// next on its back.
	for n := 1; n <= 40; n++ {
		pairs := folded(n)
		seen := map[int]bool{}
		for i := 0; i < len(pairs); i += 2 {
			front, back := pairs[i], pairs[i+1]
			if front[1]+1 != back[0] || back[1]+1 != front[0] || front[1]%2 != 0 {
				t.Fatalf("%d pages: sheet %v %v does not read on", n, front, back)
			}
			for _, p := range append(front[:], back[:]...) {
				seen[p] = true
			}
		}
		if len(seen) != (n+3)/4*4 {
			t.Fatalf("%d pages: %d different halves", n, len(seen))
		}
	}
	w := wish(t, asks[1], "A4")
	w.Printer = page.On(Half(a4))
	var pages []page.Page
	for _, k := range []page.Kind{KindCover, KindProject, KindViews, KindStudent, KindTape} {
		made, err := Pages(k, w)
		if err != nil {
			t.Fatal(k, err)
		}
		pages = append(pages, made...)
	}
	for _, how := range []Sharing{Halves, Booklet} {
		for i, side := range Impose(pages, how, a4) {
			checkPage(t, side, fmt.Sprintf("side %d as %s", i+1, how), page.On(side.Size))
		}
	}
	if alone := Impose(leaves(3), Alone, a4); len(alone) != 3 || alone[0].Size != Half(a4) {
		t.Error("pages alone are changed")
	}
}

// The drawings beside forms: a week shows each of its lessons at its time, and a printer that
// shrinks is drawn inside the true page, one that stretches outside.
func TestDiagrams(t *testing.T) {
	week := Week(lesson.Calendar{Setup: 5, Clear: 5, Weekly: []lesson.Weekly{{Weekday: 0, Start: 9 * 60, Minutes: 60}, {Weekday: 5, Start: 11 * 60, Minutes: 50, Week: 1}}})
	if words := written(week); !strings.Contains(words, "9:00, 60 min") || !strings.Contains(words, "Sat") || strings.Contains(words, "Sun") {
		t.Errorf("the week says %q", words)
	}
	var boxes []plane.Rect
	for _, item := range week.Items {
		if p, ok := item.(page.Path); ok && p.Closed && p.Width > 0 {
			boxes = append(boxes, plane.Ring(p.Points).Bounds())
		}
	}
	// Two hours later is two hours of the first lesson's height lower.
	if len(boxes) != 2 || math.Abs((boxes[1].Min.Y-boxes[0].Min.Y)-2*boxes[0].Height()) > 1e-6 || boxes[1].Min.X <= boxes[0].Max.X {
		t.Errorf("lessons lie at %v", boxes)
	}
	edges := func(across, down float64) (x, y float64) {
		items := PrinterError(across, down).Items
		dashed, solid := plane.Ring(items[0].(page.Path).Points).Bounds(), plane.Ring(items[1].(page.Path).Points).Bounds()
		return solid.Width() - dashed.Width(), solid.Height() - dashed.Height()
	}
	if x, y := edges(0.97, 1.01); !(x < 0 && y > 0) {
		t.Errorf("shrunk across and stretched down, the printed page differs by %v and %v", x, y)
	}
	if x, y := edges(1, 1); x != 0 || y != 0 {
		t.Error("a true printer has an error")
	}
	lesson1 := LessonTicks([]int{9*60 + 3, 9*60 + 4, 9*60 + 12, 9*60 + 19}) // two in the first five minutes, none in the second, one in each after
	var tall []float64
	for _, item := range lesson1.Items {
		if p, ok := item.(page.Path); ok && p.Fill != nil {
			tall = append(tall, plane.Ring(p.Points).Bounds().Height())
		}
	}
	if len(tall) != 3 || math.Abs(tall[0]-2*tall[1]) > 1e-9 || tall[1] != tall[2] || !strings.Contains(written(lesson1), "9:00 | 9:20") {
		t.Errorf("bars %v, said %q", tall, written(lesson1))
	}
	for _, pg := range []page.Page{week, lesson1, LessonTicks([]int{0}), LessonTicks([]int{1, 1438}), Week(lesson.Calendar{}), PrinterError(0.5, 1.3)} {
		checkPage(t, pg, pg.Title, page.Printer{Paper: pg.Size})
	}
}

// By hand: a black line of 100 × 1 mm and a half grey square of 20 × 20 mm on 100 × 100 mm
// cover 100 and about 200 of 10,000 mm²; a picture of 50 × 50 mm that is a fifth dark 500.
func TestInked(t *testing.T) {
	p := page.Page{Size: measure.Size{W: 100, H: 100}}
	p.Line(0, 10, 100, 10, 1, page.Color{})
	square := page.BoxPath(page.Box(0, 20, 20, 20), 0, page.Color{})
	square.Fill = &page.Color{R: 119, G: 119, B: 119} // L* of 50
	p.Add(square, page.Picture{Box: page.Box(30, 30, 50, 50), Name: "a"})
	if got := Inked(p, func(string) float64 { return 0.2 }); math.Abs(got-0.08) > 0.002 {
		t.Errorf("%.4f is inked; want 0.08", got)
	}
}
