package sheet

import (
	"errors"
	"fmt"
	"strings"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/measure"
)

// Millimetres kept free at every edge (common practice: school printers reach
// within about 4 mm), and taken by the head line, the foot and the labels.
const (
	margin = 5.0
	head   = 4.5
	foot   = 9.0
	gutter = 5.0
)

// ErrPaper is wrapped by the error of a page whose work does not fit the paper.
var ErrPaper = errors.New("does not fit the paper")

// layout is where a page's work and its furniture stand.
type layout struct {
	size             measure.Size
	work             Rect    // the true-size work
	gutterX, gutterY float64 // room for labels beside and above the work, 0 if there is none
}

// lay finds room for work of the given size on paper, upright or lying,
// preferring room for labels on all sides. The error wraps ErrPaper and names
// the papers that would do.
func lay(work, paper measure.Size) (layout, error) {
	for _, g := range [][2]float64{{gutter, gutter}, {0, gutter}, {gutter, 0}, {0, 0}} {
		for _, size := range []measure.Size{paper, paper.Turned()} {
			if needs(work, g).fits(size) {
				return place(work, size, g), nil
			}
		}
	}
	var would []string
	for _, p := range measure.Papers {
		if n := needs(work, [2]float64{}); p.Kind == measure.Office && (n.fits(p.Size) || n.fits(p.Size.Turned())) {
			would = append(would, p.Name)
		}
	}
	fix := "print the picture smaller"
	if len(would) > 0 {
		fix = "choose " + strings.Join(would, ", ") + ", or print the picture smaller"
	}
	return layout{}, fmt.Errorf("%s %w with room for the check bar; %s", work.Text(measure.Millimetre), ErrPaper, fix)
}

type need measure.Size

func needs(work measure.Size, g [2]float64) need {
	return need{
		W: max(work.W+measure.Length(2*g[0]), 110) + 2*margin, // 110 mm: the check bar and its words
		H: work.H + measure.Length(2*g[1]+head+foot) + 2*margin,
	}
}

func (n need) fits(paper measure.Size) bool { return paper.Holds(measure.Size(n)) }

func place(work, paper measure.Size, g [2]float64) layout {
	x := (float64(paper.W) - float64(work.W)) / 2
	return layout{size: paper, work: box(x, margin+head+g[1], float64(work.W), float64(work.H)), gutterX: g[0], gutterY: g[1]}
}

// page returns a page with its furniture: title and detail on the head line,
// check bar and words at the foot.
func (l layout) page(title, detail string) Page {
	p := Page{Title: title, Size: l.size}
	const size = 3.2
	left, right := margin, float64(l.size.W)-margin
	detailWidth := TextWidth(detail, size, false)
	p.add(
		Text{At: Point{X: left, Y: margin + 3}, Size: size, Words: cut(title, size, right-left-detailWidth-4, true), Bold: true, Color: Ink},
		Text{At: Point{X: right, Y: margin + 3}, Size: size, Words: detail, Anchor: End, Color: Ink},
	)
	p.checkBar(Point{X: left, Y: float64(l.size.H) - margin - foot}, right-left)
	return p
}

// BarMM and BarInches are the lengths of the check bar's two scales.
const (
	BarMM     = 100
	BarInches = 4
)

// checkBar draws one bar with millimetres above it and inches below, and the
// words that say what it is for.
func (p *Page) checkBar(at Point, width float64) {
	y := at.Y + 4.5
	p.line(at.X, y, at.X+BarInches*measure.MillimetresPerInch, y, 0.2, Ink)
	for mm := 0; mm <= BarMM; mm += 10 {
		tick := 1.2
		if mm%50 == 0 {
			tick = 2.2
		}
		p.line(at.X+float64(mm), y-tick, at.X+float64(mm), y, 0.2, Ink)
	}
	for quarter := 0; quarter <= 4*BarInches; quarter++ {
		tick, x := 1.2, at.X+float64(quarter)*measure.MillimetresPerInch/4
		if quarter%4 == 0 {
			tick = 2.2
		}
		p.line(x, y, x, y+tick, 0.2, Ink)
	}
	const size = 2.4
	p.add(
		Text{At: Point{X: at.X + 51, Y: y - 2}, Size: size, Words: "100 mm", Color: Ink},
		Text{At: Point{X: at.X + 52.3, Y: y + 3.2}, Size: size, Words: "4 in", Color: Ink},
	)
	words := "Print at actual size (100 %), not “fit to page”. Then lay a ruler on this bar: it must read 100 mm and 4 in."
	x, y0 := at.X+108, at.Y+3
	if width < 160 { // no room beside the bar: the words share its row
		words, x = "Actual size, 100 %", at.X+66
		y0 = y + 3.4
	}
	for i, line := range wrap(words, size, at.X+width-x, false) {
		p.add(Text{At: Point{X: x, Y: y0 + float64(i)*size*1.2}, Size: size, Words: line, Color: Ink})
	}
}

// PaperChoice is a paper to print on, and whether the plan's pages fit it.
type PaperChoice struct {
	measure.Paper
	Fits bool
}

// PapersFor returns the papers of office printers, those of the plan's units
// first, and which of them hold its pages.
func PapersFor(p grid.Plan) []PaperChoice {
	names := []string{"A4", "A3", "Letter", "Legal", "Tabloid"}
	if p.Units == measure.Inch {
		names = []string{"Letter", "Legal", "Tabloid", "A4", "A3"}
	}
	choices := make([]PaperChoice, len(names))
	for i, name := range names {
		paper, _ := measure.PaperNamed(name)
		_, err := TwoPages(p, paper.Size)
		choices[i] = PaperChoice{paper, err == nil}
	}
	return choices
}

// TwoPages returns what a class needs at the least: the gridded reference and
// the card of marks for the drawing sheet, one for each of its papers. The error wraps ErrPaper.
func TwoPages(p grid.Plan, paper measure.Size) ([]Page, error) {
	reference, err := Reference(p, paper)
	if err != nil {
		return nil, err
	}
	marks, err := Marks(p, paper)
	if err != nil {
		return nil, err
	}
	return append([]Page{reference}, marks...), nil
}
