package sheet

import (
	"fmt"
	"math"
	"strings"

	"zestysketch/internal/core/colour"
	"zestysketch/internal/core/finish"
	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/lesson"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/core/plane"
)

// ToneMap returns the grid with the strokes that fit each box, as a student
// would make them.
func ToneMap(t finish.Tone, p grid.Plan) page.Page {
	pg := page.Page{Title: "Marks, box by box", Size: p.SheetSize()}
	if t.LineDrawing {
		drawRule(&pg, plane.Point{}, SheetNet(p))
	}
	for _, k := range t.Marks {
		if c, ok := p.Find(k.Box); ok {
			pg.Add(page.BoxPath(c.Sheet, 0.2, page.Faint))
			drawStrokes(&pg, c.Sheet, k)
			pg.Add(page.Text{At: plane.Pt(c.Sheet.Min.X+1, c.Sheet.Min.Y+4), Size: 3.4, Words: c.Label, Bold: true, Color: page.Ink, Halo: true})
		}
	}
	return pg
}

// drawStrokes fills a box with a sample of its marks.
func drawStrokes(pg *page.Page, r plane.Rect, k finish.Mark) {
	side := min(r.Width(), r.Height())
	every := max(1.5, side/11)
	hatch := func(deg, every, long float64) {
		sin, cos := math.Sincos(deg * math.Pi / 180)
		mid, reach := r.Middle(), math.Hypot(r.Width(), r.Height())/2
		room := plane.Rect{Min: plane.Pt(r.Min.X+1.5, r.Min.Y+1.5), Max: plane.Pt(r.Max.X-1.5, r.Max.Y-1.5)}
		for across := -reach; across <= reach; across += every {
			for from := -reach; from < reach; from += long * 1.4 {
				at := func(t float64) plane.Point {
					return plane.Pt(mid.X+t*cos-across*sin, mid.Y+t*sin+across*cos)
				}
				if a, b, ok := room.Cut(at(from), at(from+long)); ok {
					pg.Add(page.Path{Points: []plane.Point{a, b}, Width: 0.25, Stroke: shadeInk})
				}
			}
		}
	}
	switch k.Kind {
	case finish.LeavePaper, finish.PointAlong:
	case finish.Even:
		hatch(-45, every*0.8, side*2)
	case finish.Blend:
		for i := range 12 {
			x := r.Min.X + 2 + (r.Width()-4)*math.Pow(float64(i)/11, 1.6)
			pg.Line(x, r.Min.Y+2, x, r.Max.Y-2, 0.25, shadeInk)
		}
	case finish.CrossHatch:
		hatch(-45, every*0.7, side*2)
		hatch(45, every*0.7, side*2)
	case finish.LongStrokes:
		hatch(k.Along, every, side*0.8)
	case finish.Hatch:
		hatch(k.Along, every, side*0.35)
	case finish.ShortStrokes:
		hatch(k.Along, every, side*0.13)
	case finish.Stipple:
		for i, y := 0, r.Min.Y+every; y < r.Max.Y-1; i, y = i+1, y+every*0.8 {
			for x := r.Min.X + every*(1+0.5*float64(i%2)); x < r.Max.X-1; x += every {
				pg.Line(x, y, x+0.2, y, 0.5, shadeInk)
			}
		}
	case finish.Scribble:
		for y := r.Min.Y + 3; y < r.Max.Y-3; y += every {
			path := page.Path{Width: 0.25, Stroke: shadeInk}
			for x, up := r.Min.X+2, true; x < r.Max.X-2; x, up = x+every*0.6, !up {
				lift := every
				if up {
					lift = 0
				}
				path.Points = append(path.Points, plane.Pt(x, y+lift))
			}
			pg.Add(path)
		}
	}
}

// ToneLists returns the tone plan in words.
func ToneLists(t finish.Tone) []Entry {
	if t.LineDrawing {
		return []Entry{{"This is a line drawing", []string{"It has paper and lines, and no tones to copy. Plan tones of your own: try three on a scrap, darkest first, and leave the paper white where the light falls."}}}
	}
	var order []string
	for _, s := range t.Steps {
		line := fmt.Sprintf("%d · %s, %.0f %% of the picture", s.Number, s.Grade, 100*s.Share)
		if len(s.Boxes) > 0 {
			line += ": " + boxesOf(s.Boxes, len(t.Marks))
		}
		order = append(order, line)
	}
	by := map[string][]string{}
	var marks []string
	for _, k := range t.Marks {
		if by[k.Mark] == nil {
			marks = append(marks, k.Mark)
		}
		by[k.Mark] = append(by[k.Mark], k.Box)
	}
	var lines []string
	for _, m := range marks {
		lines = append(lines, capital(m)+": "+boxesOf(by[m], len(t.Marks)))
	}
	lists := []Entry{{"In which order", order}, {"Marks that fit", lines}}
	if len(t.Whites) > 0 {
		lists = append(lists, Entry{"Keep white", []string{strings.Join(t.Whites, ", ") + ". Lay scrap paper under the hand, and clean the whites at the end."}})
	}
	return lists
}

// boxesOf lists boxes, or says that they are all or most of them.
func boxesOf(boxes []string, all int) string {
	switch {
	case len(boxes) == all:
		return "every box"
	case len(boxes) > 12 && 2*len(boxes) > all:
		return fmt.Sprintf("most boxes, %d of %d", len(boxes), all)
	}
	return strings.Join(boxes, ", ")
}

// ToneSheet returns the tone plan with its values strip. The error wraps ErrPaper.
func ToneSheet(w Wish, t finish.Tone) (page.Page, error) {
	return w.planned("Tone plan", ToneMap(t, w.Plan), ToneLists(t), lesson.Cautions(lesson.Dust, lesson.Fixative), func(pg *page.Page, at plane.Point, width float64) float64 {
		each := min(16, width/float64(max(1, len(t.Steps))))
		for i, s := range t.Steps { // to be cut off and held against the drawing
			g := picture.GreyOf(s.Light)
			b := page.BoxPath(page.Box(at.X+float64(i)*each, at.Y, each, 8), 0.2, page.Ink)
			b.Fill = &page.Color{R: g, G: g, B: g}
			pg.Add(b, page.Text{At: plane.Pt(at.X+(float64(i)+0.5)*each, at.Y+11.5), Size: 3, Words: fmt.Sprint(s.Number), Anchor: page.Middle, Color: page.Ink})
		}
		return 16
	})
}

// ColourFields draws where a colour is: nine fields, the fuller the more of it.
func ColourFields(m colour.Main) page.Page {
	const side = 24.0
	pg := page.Page{Title: "Where it is: " + m.Spread(), Size: measure.Size{W: side, H: side}}
	most := 0.0
	for _, v := range m.Fields {
		most = max(most, v)
	}
	for f, v := range m.Fields {
		x, y := float64(f%3)*side/3, float64(f/3)*side/3
		pg.Add(page.BoxPath(page.Box(x+0.3, y+0.3, side/3-0.6, side/3-0.6), 0.2, page.Faint))
		if k := math.Sqrt(v/max(most, 1e-9)) * (side/3 - 1.2); k > 0.4 {
			dot := page.BoxPath(page.Box(x+(side/3-k)/2, y+(side/3-k)/2, k, k), 0.15, page.Ink)
			dot.Fill = &page.Color{R: m.R, G: m.G, B: m.B}
			pg.Add(dot)
		}
	}
	return pg
}

// ColourSheet returns a picture's main colours on one page: a swatch, its name,
// how much there is and where, and what to begin mixing it from. The error
// wraps ErrPaper.
func ColourSheet(w Wish, mains []colour.Main, with colour.Paint) (page.Page, error) {
	l, err := page.Free(w.Printer, "the colour notes")
	if err != nil {
		return page.Page{}, err
	}
	pg, in := l.Begin(w.titled(), "Colour notes"), l.Inner()
	in.Max.Y = drawCare(&pg, in, lesson.Cautions(lesson.Paint))
	high := min(30, (in.Height()-40)/float64(max(1, len(mains))))
	y := in.Min.Y + 6
	for _, m := range mains {
		b := page.BoxPath(page.Box(in.Min.X, y, 26, high-5), 0.3, page.Ink)
		b.Fill = &page.Color{R: m.R, G: m.G, B: m.B}
		pg.Add(b, page.BoxPath(page.Box(in.Min.X+29, y, 26, high-5), 0.2, page.Faint))
		x := in.Min.X + 59
		pg.Add(page.Text{At: plane.Pt(x, y+4.5), Size: 4.6, Words: capital(m.Colour.Name()), Bold: true, Color: page.Ink},
			page.Text{At: plane.Pt(x, y+10), Size: 3.4, Words: page.Cut(fmt.Sprintf("%.0f %% of the picture, %s", 100*m.Share, m.Spread()), 3.4, in.Max.X-x-22, false), Color: page.Ink})
		for i, line := range page.Wrap(m.Colour.Begin(with), 3.4, in.Max.X-x-22, false) {
			if 15.5+float64(i)*4.4 > high {
				break // the next colour begins
			}
			pg.Add(page.Text{At: plane.Pt(x, y+14.5+float64(i)*4.2), Size: 3.4, Words: line, Color: page.Ink})
		}
		k := min(18, high-6) / 24
		drawScaled(&pg, ColourFields(m), plane.Pt(in.Max.X-24*k, y), k)
		y += high
	}
	notes := []string{"Try each mixture in the empty box, beside the print. Keep the picture to the very end: colour is studied from it too.",
		"Repeat each colour in several places, for balance; leave some areas; dark beside light gives contrast."}
	drawSection(&pg, plane.Pt(in.Min.X, y+6), in.Width(), "When you paint", fitting(notes, in.Width()-4, in.Max.Y-y-12))
	return pg, nil
}
