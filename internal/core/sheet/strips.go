package sheet

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/plane"
)

// A mark strip's height and what pieces of a long one share, in millimetres.
const stripHeight, stripTab = 13.0, 8.0

// Strip is one edge's scale, to be laid along the paper and ticked off.
type Strip struct {
	Name  string
	Marks []float64 // mm from its end
	Side  float64
}

// StripsOf returns the strips of a plan: both edges of the picture and of each
// paper, once where papers have them alike, none for an edge without a mark.
func StripsOf(w Wish) []Strip {
	p := w.Plan
	strips := []Strip{
		{"Picture, across", p.Marks.ReferenceX, p.Reference.Width}, {"Picture, down", p.Marks.ReferenceY, p.Reference.Height},
	}
	picture := len(strips)
	panels := p.Panels()
	for i, panel := range panels {
		for _, e := range p.CardFor(panel).Edges {
			s := Strip{Name: "Sheet, " + e.Short, Side: e.Side}
			if len(panels) > 1 {
				s.Name = fmt.Sprintf("Sheet %d and those like it, %s", i+1, e.Short)
			}
			for _, m := range e.Marks {
				s.Marks = append(s.Marks, m.At)
			}
			known := slices.ContainsFunc(strips[picture:], func(o Strip) bool {
				return strings.HasSuffix(o.Name, e.Short) && o.Side == s.Side && slices.Equal(o.Marks, s.Marks)
			})
			if !known && len(s.Marks) > 0 {
				strips = append(strips, s)
			}
		}
	}
	return strips
}

// Strips returns the pages of mark strips at true size: zero at the very end,
// long ones in numbered pieces. The error wraps ErrPaper.
func Strips(w Wish) ([]page.Page, error) {
	l := w.Printer.Lying()
	in := l.Inner()
	if in.Width() < 120 || in.Height() < 60 {
		return nil, fmt.Errorf("the mark strips: %w; choose A5 or larger", page.ErrPaper)
	}
	var pages []page.Page
	y := in.Max.Y // a new page first
	for _, s := range StripsOf(w) {
		// Even pieces, so that no last one is too short to hold.
		longest := s.Side / math.Ceil((s.Side-0.01)/(in.Width()-stripTab))
		for piece, from := 0, 0.0; from < s.Side-0.01; piece, from = piece+1, from+longest {
			if y+stripHeight+4 > in.Max.Y {
				pages = append(pages, l.Begin(w.titled(), "Mark strips · cut out, lay the end on the paper's corner, tick off"))
				y = in.Min.Y + 3
			}
			drawStrip(&pages[len(pages)-1], s, piece, from, min(longest, s.Side-from), plane.Pt(in.Min.X, y), w.Plan.Units)
			y += stripHeight + 4
		}
	}
	return pages, nil
}

// drawStrip draws one piece of a strip, its end at the given place.
func drawStrip(pg *page.Page, s Strip, piece int, from, length float64, at plane.Point, u measure.Unit) {
	more := from+length < s.Side-0.01
	outline := length
	if more {
		outline += stripTab
	}
	pg.Add(page.BoxPath(page.Box(at.X, at.Y, outline, stripHeight), 0.2, page.Ink))
	last := -100.0
	for _, m := range s.Marks {
		if m < from-0.01 || m > from+length+0.01 {
			continue
		}
		x := at.X + m - from
		pg.Line(x, at.Y, x, at.Y+5, 0.2, page.Ink)
		words := measure.Length(m).Bare(u)
		half := page.TextWidth(words, 2.6, false)/2 + 0.6
		t := page.Text{At: plane.Pt(x, at.Y+8), Size: 2.6, Words: words, Anchor: page.Middle, Color: page.Ink}
		switch { // the ends' numbers stay inside the strip
		case x-half < at.X:
			t.Anchor, t.At.X = page.Start, at.X+0.6
		case x+half > at.X+outline:
			t.Anchor, t.At.X = page.End, at.X+outline-0.6
		}
		if x-half >= last {
			pg.Add(t)
			last = x + half
		}
	}
	short := s.Name
	if piece > 0 || more {
		short = fmt.Sprintf("%s · piece %d", s.Name, piece+1)
	}
	name := short + " · this end is zero"
	if piece > 0 {
		name = short + " · glue this end on the dashed line before"
	}
	label := page.Fitting(2.6, outline-2, true, name+" · "+string(u), short+" · "+string(u), short, string(s.Name[0]))
	pg.Add(page.Text{At: plane.Pt(at.X+1.5, at.Y+stripHeight-1.3), Size: 2.6, Words: label, Bold: true, Color: page.Ink})
	if more {
		pg.Add(page.Path{Points: []plane.Point{plane.Pt(at.X+length, at.Y), plane.Pt(at.X+length, at.Y+stripHeight)}, Width: 0.2, Stroke: page.Ink, Dash: 0.8})
	}
}
