package accuracy_test

import (
	"math"
	"math/rand/v2"
	"strings"
	"testing"

	"zestysketch/internal/core/accuracy"
	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/photo"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/core/reading"
	"zestysketch/internal/demo"
	"zestysketch/internal/render"
)

// rings is a scene of six closed lines, each bulging another way; the hand draws the
// second broader and leaves a tenth of the fifth out.
func rings(wrongly bool) demo.Scene {
	pg := page.Page{Title: "rings", Size: measure.Size{W: 180, H: 240}}
	rng := rand.New(rand.NewPCG(8, 5))
	for i := range 6 {
		c := plane.Pt(48+float64(i%2)*84, 45+float64(i/2)*75)
		p := page.Path{Closed: true, Width: 0.9, Stroke: page.Ink}
		lobes, phase, broad, n := 2+float64(i%3), rng.Float64()*6, 1.0, 200
		if wrongly && i == 1 {
			broad = 1.35
		}
		for k := range n {
			if wrongly && i == 4 && k > 60 && k < 80 {
				continue
			}
			a := 2 * math.Pi * float64(k) / float64(n)
			r := 24 + 5*math.Cos(lobes*a+phase)
			at := c.Add(plane.Pt(broad*r*math.Cos(a), r*math.Sin(a)))
			if wrongly && i == 4 && k == 80 { // the pencil is lifted here, and the line ends at 60
				pg.Add(page.Path{Points: p.Points, Width: p.Width, Stroke: p.Stroke})
				p.Points, p.Closed = nil, false
			}
			p.Points = append(p.Points, at)
		}
		if !p.Closed {
			p.Points = append(p.Points, c.Add(plane.Pt(24+5*math.Cos(phase), 0)))
		}
		pg.Add(p)
	}
	return demo.Scene{Page: pg}
}

// tonedRings are the rings filled with a tone, as a picture without lines.
func tonedRings() demo.Scene {
	toned := rings(false)
	for i, item := range toned.Page.Items {
		if path, ok := item.(page.Path); ok {
			tone := page.Color{R: 90, G: 90, B: 90}
			path.Fill, path.Stroke = &tone, tone
			toned.Page.Items[i] = path
		}
	}
	return toned
}

func shapesOf(t *testing.T, p grid.Plan, from demo.Scene, by reading.Source, drawn demo.Scene) []accuracy.Shaped {
	t.Helper()
	ref := render.Pixels(from.Page, perMM, nil)
	read, err := reading.Picture(p, ref, by == reading.Lines, by, reading.Thirds)
	if err != nil {
		t.Fatal(err)
	}
	var closed []plane.Ring
	for _, g := range read.Gaps {
		closed = append(closed, g.Outline)
	}
	if len(closed) != 6 {
		t.Fatalf("%d closed shapes are read of six", len(closed))
	}
	shot, err := demo.Photograph(p, drawn, steady(nil), phone, 0, 0, 0.04, rand.New(rand.NewPCG(5, 1)))
	if err != nil {
		t.Fatal(err)
	}
	img, err := picture.Decode(shot.Photo)
	if err != nil {
		t.Fatal(err)
	}
	all, err := accuracy.CompareShapes(accuracy.Job{Plan: p, Reference: photo.NewShot(ref), Tonal: by == reading.Borders, Photo: photo.NewShot(img), Corners: &shot.Corners}, closed)
	if err != nil {
		t.Fatal(err)
	}
	return all
}

// Closed shapes are compared by what lies empty between drawn lines: a true drawing has
// nothing to mend, one that is drawn a third too broad is told so by as much, and one that
// does not close is told where.
func TestShapesCompared(t *testing.T) {
	p := planFor(t, rings(false), "6 x 8")
	right := shapesOf(t, p, rings(false), reading.Lines, rings(false))
	if len(right) != 6 {
		t.Errorf("%d of six shapes are compared", len(right))
	}
	for _, s := range right {
		if s.Off || math.Abs(s.Area-1) > 0.1 || math.Abs(s.Aspect-1) > 0.06 {
			t.Errorf("a true shape is %.2f as large, %.2f as broad for its height: %s", s.Area, s.Aspect, s.Say)
		}
	}
	wrong := shapesOf(t, p, rings(false), reading.Lines, rings(true))
	if len(wrong) != 6 {
		t.Fatalf("%d of six shapes are compared", len(wrong))
	}
	off := map[bool]int{}
	for _, s := range wrong {
		t.Log(s.Say)
		off[s.Off]++
		switch {
		case s.Drawn == nil:
			gap := plane.Pt(48+24*math.Cos(2.2), 45+150+24*math.Sin(2.2)) // the middle of what was left out
			label := p.CellAt(plane.Pt(gap.X/180*p.Sheet.Width, gap.Y/240*p.Sheet.Height)).Label
			if !strings.Contains(s.Say, "open in") || !strings.Contains(s.Say, label) {
				t.Errorf("%q does not name %s", s.Say, label)
			}
			if at := plane.Pt(gap.X/180, gap.Y/240); !s.Gap.Has(at) {
				t.Errorf("the gap at %.2f is not ringed by %.2f", at, s.Gap)
			}
		case s.Off && (math.Abs(s.Area-1.35) > 0.14 || math.Abs(s.Aspect-1.35) > 0.1):
			t.Errorf("1.35 as broad and large is measured as %.2f and %.2f", s.Aspect, s.Area)
		}
	}
	if off[true] != 2 || wrong[0].Drawn != nil {
		t.Errorf("%d of two wrong shapes are told; the open one is to be first", off[true])
	}
}

// On a traced value map a stroke that closes nothing is named, and ringed; of a true tracing none is.
func TestLoneStrokes(t *testing.T) {
	toned := tonedRings()
	p := planFor(t, toned, "6 x 8")
	lone := func(drawn demo.Scene) (all []accuracy.Shaped) {
		for _, s := range shapesOf(t, p, toned, reading.Borders, drawn) {
			if strings.Contains(s.Say, "stands alone") {
				all = append(all, s)
			}
		}
		return all
	}
	if all := lone(rings(false)); len(all) != 0 {
		t.Errorf("of a true tracing it is said: %s", all[0].Say)
	}
	slip := rings(false)
	a, b := plane.Pt(78, 70), plane.Pt(104, 92) // between the rings
	slip.Page.Add(page.Path{Points: []plane.Point{a, plane.Pt(90, 84), b}, Width: 0.9, Stroke: page.Ink})
	all := lone(slip)
	if len(all) != 1 {
		t.Fatalf("%d strokes stand alone; want one", len(all))
	}
	for _, at := range []plane.Point{a, b} {
		if !all[0].Gap.Has(plane.Pt(at.X/180, at.Y/240)) {
			t.Errorf("the ring %.2f leaves %v out", all[0].Gap, at)
		}
	}
	if label := p.CellAt(plane.Pt(90/180.0*p.Sheet.Width, 82/240.0*p.Sheet.Height)).Label; !strings.Contains(all[0].Say, label) && !strings.Contains(all[0].Where, " to ") {
		t.Errorf("%q does not name %s", all[0].Say, label)
	}
}

// Of a traced value map the contour that stays open is told: here the areas of a picture of
// tones, whose borders were traced.
func TestOpenContour(t *testing.T) {
	toned := tonedRings()
	p := planFor(t, toned, "6 x 8")
	open := 0
	for _, s := range shapesOf(t, p, toned, reading.Borders, rings(true)) {
		t.Log(s.Say)
		if s.Drawn == nil {
			open++
		}
	}
	if open != 1 {
		t.Errorf("%d contours are told to be open; one is", open)
	}
}
