package page

import (
	"errors"
	"fmt"
	"strings"

	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/plane"
)

// Millimetres taken by the head line, the foot and the labels.
const (
	Head   = 4.5
	Foot   = 9.0
	gutter = 5.0
)

// ErrPaper is wrapped by the error of a page whose work does not fit the paper.
var ErrPaper = errors.New("does not fit the paper")

// ErrEmpty is wrapped by the error of a page that would have nothing on it.
var ErrEmpty = errors.New("nothing to show")

// Layout is where a page's work and its furniture stand.
type Layout struct {
	Size             measure.Size
	Left, Top        float64    // what the printer leaves free, at both sides alike
	Work             plane.Rect // the true-size work
	GutterX, GutterY float64    // room for labels beside and above the work, 0 if there is none
}

// Inner returns what the printer reaches between head line and foot.
func (l Layout) Inner() plane.Rect {
	return plane.Rect{Min: plane.Pt(l.Left, l.Top+Head), Max: plane.Pt(float64(l.Size.W)-l.Left, float64(l.Size.H)-l.Top-Foot)}
}

// Lay finds room for work of the given size on the printer's paper, upright or
// lying, preferring room for labels on all sides. The error wraps ErrPaper and
// names the papers that would do.
func Lay(work measure.Size, pr Printer) (Layout, error) {
	for _, g := range [][2]float64{{gutter, gutter}, {0, gutter}, {gutter, 0}, {0, 0}} {
		for _, try := range []Layout{pr.Upright(), pr.Lying()} {
			if try.holds(work, g) {
				return try.place(work, g), nil
			}
		}
	}
	var would []string
	for _, p := range measure.Papers {
		pr.Paper = p.Size
		if p.Kind == measure.Office && (pr.Upright().holds(work, [2]float64{}) || pr.Lying().holds(work, [2]float64{})) {
			would = append(would, p.Name)
		}
	}
	fix := "print the picture smaller"
	if len(would) > 0 {
		fix = "choose " + strings.Join(would, ", ") + ", or print the picture smaller"
	}
	return Layout{}, fmt.Errorf("%s %w with room for the check bar; %s", pr.Said(work), ErrPaper, fix)
}

func (l Layout) holds(work measure.Size, g [2]float64) bool {
	in := l.Inner()
	// 110 mm: the check bar and its words.
	return in.Width()+0.01 >= max(float64(work.W)+2*g[0], 110) && in.Height()+0.01 >= float64(work.H)+2*g[1]
}

func (l Layout) place(work measure.Size, g [2]float64) Layout {
	l.GutterX, l.GutterY = g[0], g[1]
	x := (float64(l.Size.W) - float64(work.W)) / 2
	l.Work = Box(x, l.Top+Head+g[1], float64(work.W), float64(work.H))
	return l
}

// Free returns the layout of a page that is filled freely: upright, where it
// has a readable width and height. The error wraps ErrPaper.
func Free(pr Printer, what string) (Layout, error) {
	l := pr.Upright()
	if in := l.Inner(); in.Width() < 125 || in.Height() < 110 {
		return Layout{}, fmt.Errorf("%s %w of %s; choose A5 or larger", what, ErrPaper, pr.Said(pr.Paper))
	}
	return l, nil
}

// Begin returns a page with its furniture: title and detail on the head line,
// check bar and words at the foot.
func (l Layout) Begin(title, detail string) Page {
	p := Page{Title: title, Size: l.Size}
	const size = 3.2
	left, right := l.Left, float64(l.Size.W)-l.Left
	detailWidth := TextWidth(detail, size, false)
	p.Add(
		Text{At: plane.Pt(left, l.Top+3), Size: size, Words: Cut(title, size, right-left-detailWidth-4, true), Bold: true, Color: Ink},
		Text{At: plane.Pt(right, l.Top+3), Size: size, Words: detail, Anchor: End, Color: Ink},
	)
	p.checkBar(plane.Pt(left, float64(l.Size.H)-l.Top-Foot), right-left)
	return p
}

// BarMM and BarInches are the lengths of the check bar's two scales.
const (
	BarMM     = 100
	BarInches = 4
)

// checkBar draws one bar with millimetres above it and inches below, and the
// words that say what it is for.
func (p *Page) checkBar(at plane.Point, width float64) {
	y := at.Y + 4.5
	p.Line(at.X, y, at.X+BarInches*measure.MillimetresPerInch, y, 0.2, Ink)
	for mm := 0; mm <= BarMM; mm += 10 {
		tick := 1.2
		if mm%50 == 0 {
			tick = 2.2
		}
		p.Line(at.X+float64(mm), y-tick, at.X+float64(mm), y, 0.2, Ink)
	}
	for quarter := 0; quarter <= 4*BarInches; quarter++ {
		tick, x := 1.2, at.X+float64(quarter)*measure.MillimetresPerInch/4
		if quarter%4 == 0 {
			tick = 2.2
		}
		p.Line(x, y, x, y+tick, 0.2, Ink)
	}
	const size = 2.4
	p.Add(
		Text{At: plane.Pt(at.X+51, y-2), Size: size, Words: "100 mm", Color: Ink, Foot: true},
		Text{At: plane.Pt(at.X+52.3, y+3.2), Size: size, Words: "4 in", Color: Ink, Foot: true},
	)
	const read = 2.9 // that a copier leaves to be read
	words := "Print at actual size (100 %), not “fit to page”. Then lay a ruler on this bar: it must read 100 mm and 4 in."
	x, y0 := at.X+108, at.Y+3
	if width < 160 { // no room beside the bar: the words share its row
		words, x = "Actual size, 100 %", at.X+66
		y0 = y + 3.4
	}
	for i, line := range Wrap(words, read, at.X+width-x, false) {
		p.Add(Text{At: plane.Pt(x, y0+float64(i)*read*1.2), Size: read, Words: line, Color: Ink, Foot: true})
	}
}
