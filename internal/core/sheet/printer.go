package sheet

import (
	"errors"
	"fmt"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/plane"
)

// Printer is what is known of a printer with one paper in it.
type Printer struct {
	Paper  measure.Size // as it is fed, upright
	Margin float64      // mm at every edge that it does not reach
	Across float64      // printed ÷ true length across the upright paper; 1 where nothing was measured
	Down   float64
}

// UsualMargin is how near the edge school printers print, in millimetres (common practice).
const UsualMargin = 5.0

// On returns a printer that prints true, with the usual margin.
func On(paper measure.Size) Printer {
	if paper.W > paper.H {
		paper = paper.Turned()
	}
	return Printer{paper, UsualMargin, 1, 1}
}

// ErrCorrection is wrapped by the error of a measured bar that no printer makes.
var ErrCorrection = errors.New("wanted between 80 and 120 % of its true length")

// Measured returns the printer with what a ruler said of bars of true lengths.
// The error wraps ErrCorrection.
func (pr Printer) Measured(across, trueAcross, down, trueDown measure.Length) (Printer, error) {
	pr.Across, pr.Down = float64(across/trueAcross), float64(down/trueDown)
	for _, one := range []struct {
		name  string
		share float64
	}{{"across", pr.Across}, {"down", pr.Down}} {
		if !(one.share >= 0.8 && one.share <= 1.2) {
			return pr, fmt.Errorf("the bar %s was measured at %.0f %%: %w; measure from its first line to its last", one.name, one.share*100, ErrCorrection)
		}
	}
	return pr, nil
}

// upright and lying return the page both ways round, with what the printer
// cannot reach on real paper: a printer that shrinks reaches less of it.
func (pr Printer) upright() layout { return pr.reach(pr.Paper, pr.Across, pr.Down) }
func (pr Printer) lying() layout   { return pr.reach(pr.Paper.Turned(), pr.Down, pr.Across) }

func (pr Printer) reach(size measure.Size, across, down float64) layout {
	out := func(side measure.Length, k float64) float64 {
		half := float64(side) / 2
		return max(pr.Margin, half-k*(half-pr.Margin))
	}
	return layout{size: size, left: out(size.W, across), top: out(size.H, down)}
}

// Correct returns the page drawn so that this printer prints it true: stretched
// about its middle by what the printer shrinks.
func (pr Printer) Correct(p Page) Page {
	kx, ky := 1/pr.Across, 1/pr.Down
	if p.Size.W > p.Size.H != (pr.Paper.W > pr.Paper.H) {
		kx, ky = ky, kx
	}
	if kx == 1 && ky == 1 {
		return p
	}
	cx, cy := float64(p.Size.W)/2, float64(p.Size.H)/2
	at := func(q plane.Point) plane.Point { return plane.Pt(cx+(q.X-cx)*kx, cy+(q.Y-cy)*ky) }
	items := make([]Item, len(p.Items))
	for i, item := range p.Items {
		items[i] = item.moved(at)
	}
	p.Items = items
	return p
}

// moved returns items with every place carried by at.
func (v Path) moved(at func(plane.Point) plane.Point) Item {
	points := make([]plane.Point, len(v.Points))
	for i, q := range v.Points {
		points[i] = at(q)
	}
	v.Points = points
	return v
}

func (v Text) moved(at func(plane.Point) plane.Point) Item {
	v.At = at(v.At)
	return v
}

func (v Picture) moved(at func(plane.Point) plane.Point) Item {
	v.Box = plane.Rect{Min: at(v.Box.Min), Max: at(v.Box.Max)}
	return v
}

// CheckPage returns the page by which a printer is measured: a long bar across
// and one down, whose true lengths are returned too, as far as it reaches.
func CheckPage(pr Printer, u measure.Unit) (page Page, across, down measure.Length) {
	pr.Across, pr.Down = 1, 1 // it is printed uncorrected
	l := pr.upright()
	step := measure.Length(10)
	if u == measure.Inch {
		step = measure.MillimetresPerInch / 2
	}
	whole := func(mm float64) measure.Length { return measure.Length(int(mm/float64(step))) * step }
	in := l.inner()
	across, down = whole(in.Width()-12), whole(in.Height()-22)
	page = l.page("Printer check", "Measure both long bars with a good ruler")
	x, y := in.Min.X+6, in.Min.Y+12
	page.bar(plane.Pt(x, y), across, step, u, false)
	page.bar(plane.Pt(x, y+4), down, step, u, true)
	for i, words := range []string{
		"Print this page at actual size (100 %).",
		"Measure from the first line to the last: " + across.Text(u) + " across and " + down.Text(u) + " down are wanted.",
		"Type what your ruler says. Later pages are corrected for this printer and paper.",
	} {
		for j, line := range wrap(words, 4, in.Width()-40, false) {
			page.add(Text{At: plane.Pt(x+25, y+25+float64(i)*14+float64(j)*5), Size: 4, Words: line, Color: Ink})
		}
	}
	return page, across, down
}

// bar draws a long scale, across or down, with a line at every step.
func (p *Page) bar(at plane.Point, length, step measure.Length, u measure.Unit, down bool) {
	line := func(from, to, off1, off2, width float64) {
		if down {
			p.line(at.X+off1, at.Y+from, at.X+off2, at.Y+to, width, Ink)
		} else {
			p.line(at.X+from, at.Y+off1, at.X+to, at.Y+off2, width, Ink)
		}
	}
	line(0, float64(length), 0, 0, 0.2)
	for i := 0; measure.Length(i)*step <= length+0.01; i++ {
		v := float64(i) * float64(step)
		line(v, v, 0, 3, 0.15)
		if i%2 != 0 {
			continue
		}
		t := Text{At: plane.Pt(at.X+v, at.Y-1), Size: 2.6, Words: measure.Length(v).Bare(u), Anchor: Middle, Color: Ink}
		if down {
			t.At, t.Anchor = plane.Pt(at.X+4, at.Y+v+0.9), Start
		}
		if i > 0 || !down {
			p.add(t)
		}
	}
}

// PaperChoice is a paper to print on, and whether the plan's reference fits it.
type PaperChoice struct {
	measure.Paper
	Fits bool
}

// PapersFor returns the papers of office printers, those of the plan's units
// first, and which of them hold its reference.
func PapersFor(p grid.Plan) []PaperChoice {
	names := []string{"A4", "A3", "Letter", "Legal", "Tabloid"}
	if p.Units == measure.Inch {
		names = []string{"Letter", "Legal", "Tabloid", "A4", "A3"}
	}
	choices := make([]PaperChoice, len(names))
	for i, name := range names {
		paper, _ := measure.PaperNamed(name)
		_, err := lay(p.ReferenceSize(), On(paper.Size))
		choices[i] = PaperChoice{paper, err == nil}
	}
	return choices
}
