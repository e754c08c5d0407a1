package sheet

import (
	"image"
	"image/color"
	"slices"
	"strings"
	"testing"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/photo"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/core/values"
)

// halves is a map of two steps: dark on the left, light on the right.
func halvesMap(t testing.TB) values.Map {
	t.Helper()
	img := image.NewRGBA(image.Rect(0, 0, 200, 120))
	for y := range 120 {
		for x := range 200 {
			g := uint8(40)
			if x >= 80 {
				g = 220
			}
			img.SetRGBA(x, y, color.RGBA{g, g, g, 255})
		}
	}
	m, err := values.New(img, values.Wish{Steps: 2, Rule: values.Otsu, PerMM: 2, LeastArea: 5, Neck: 1})
	if err != nil {
		t.Fatal(err)
	}
	return m
}

// words returns all that is written on a page.
func written(pg page.Page) string {
	var all []string
	for _, item := range pg.Items {
		if text, ok := item.(page.Text); ok {
			all = append(all, text.Words)
		}
	}
	return strings.Join(all, " | ")
}

// A value map is as large as the picture with its legend below, numbers its
// areas, and turns its greys for black paper.
func TestValueMapPage(t *testing.T) {
	m := halvesMap(t)
	pg := ValueMap(m, ValueLook{Style: ValueOutlines})
	if pg.Size.W != 100 || pg.Size.H != 60+legendHigh {
		t.Errorf("%v; want 100 × %v mm", pg.Size, 60+legendHigh)
	}
	if got := written(pg); !strings.HasPrefix(got, "1 | 2") || !strings.Contains(got, "1 · 4B") || !strings.Contains(got, "2 · paper") || !strings.Contains(got, "40 %") {
		t.Errorf("written: %s", got)
	}
	fill := func(style ValueStyle) (greys []uint8) {
		for _, item := range ValueMap(m, ValueLook{Style: style}).Items[:2] {
			greys = append(greys, item.(page.Path).Fill.R)
		}
		return greys
	}
	if light, dark := fill(ValueFilled), fill(ValueInverted); light[0] < 200 || light[1] > 60 || dark[0] > 60 || dark[1] < 180 {
		t.Errorf("filled %v, inverted %v; the larger area is the light one", light, dark)
	}
	p, err := grid.Make(grid.Request{Reference: "50x30mm", Paper: "A4", Method: "parts", Parts: "4 x 3", Scale: "2", Units: "cm"})
	if err != nil {
		t.Fatal(err)
	}
	net := SheetNet(p)
	if bare, with := len(pg.Items), len(ValueMap(m, ValueLook{Style: ValueOutlines, Net: &net}).Items); with < bare+9 {
		t.Errorf("%d items with the grid, %d without; want its nine lines more", with, bare)
	}
}

// The plot of a student's photos has a dot for each, a run for each project.
func TestProgressPlot(t *testing.T) {
	pg := Progress([]Score{{"1 Nov", "Jug", 0.5}, {"4 Nov", "Jug", 0.75}, {"9 Nov", "Boat", 1}})
	dots, runs := 0, 0
	for _, item := range pg.Items {
		if p, ok := item.(page.Path); ok {
			if p.Fill != nil {
				dots++
			} else if p.Width > 0.8 {
				runs++
			}
			for _, q := range p.Points {
				if q.X < 0 || q.Y < 0 || q.X > float64(pg.Size.W) || q.Y > float64(pg.Size.H) {
					t.Errorf("a point off the page: %v", q)
				}
			}
		}
	}
	if got := written(pg); dots != 3 || runs != 2 || !strings.Contains(got, "Jug") || !strings.Contains(got, "Boat") || !strings.Contains(got, "9 Nov") {
		t.Errorf("%d dots, %d runs, written %s", dots, runs, got)
	}
}

// A tag's page is as large as the tag, says which corner it is, and its code's
// place is what TagTip says.
func TestTagPage(t *testing.T) {
	for corner := range 4 {
		pg, err := TagPage(photo.Tag{Project: 12, Student: 345, Corner: corner})
		if err != nil {
			t.Fatal(err)
		}
		_, code := photo.TagTip(corner)
		least := plane.Pt(photo.TagSide, photo.TagSide)
		for _, item := range pg.Items {
			if p, ok := item.(page.Path); ok && p.Fill != nil && *p.Fill == Black {
				least = plane.Pt(min(least.X, p.Points[0].X), min(least.Y, p.Points[0].Y))
			}
		}
		if least != code || !strings.Contains(written(pg), cornerNames[corner]) {
			t.Errorf("corner %d: the code begins at %v and it says %q; want %v and %s", corner, least, written(pg), code, cornerNames[corner])
		}
	}
	if got := (photo.Tag{Project: 1 << 62, Student: 1 << 62}).Modules(); got <= 21 {
		t.Errorf("the longest tag has %d modules; want more than the usual 21", got)
	}
}

// A number means one tone everywhere: 1 is the darkest on the strip, on a value map and on a plan of tone.
func TestOneIsTheDarkest(t *testing.T) {
	p, _ := readPlan(t)
	strip, err := Values(Wish{Plan: p, Printer: page.On(p.StockSize())})
	if err != nil {
		t.Fatal(err)
	}
	var greys []uint8
	var numbers []string
	area := 0.0
	for _, item := range strip.Items {
		switch item := item.(type) {
		case page.Path:
			if item.Fill != nil && item.Closed && item.Fill.R == item.Fill.G && item.Stroke == page.Ink && len(item.Points) == 4 {
				greys, area = append(greys, item.Fill.R), area+plane.Ring(item.Points).Area()
			}
		case page.Text:
			if len(item.Words) == 1 {
				numbers = append(numbers, item.Words)
			}
		}
	}
	if len(greys) < 9 || strings.Join(numbers, "") != "987654321" || !slices.IsSortedFunc(greys[len(greys)-9:], func(a, b uint8) int { return int(b) - int(a) }) {
		t.Errorf("the strip's tones are %v, its numbers %v; want from 9, white, to 1", greys, numbers)
	}
	if area > 5000 {
		t.Errorf("the strip is %.0f mm² of toner", area)
	}
}
