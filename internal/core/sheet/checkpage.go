package sheet

import (
	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/plane"
)

// CheckPage returns the page by which a printer is measured: a long bar across
// and one down, whose true lengths are returned too, as far as it reaches.
func CheckPage(pr page.Printer, u measure.Unit) (pg page.Page, across, down measure.Length) {
	pr.Across, pr.Down = 1, 1 // it is printed uncorrected
	l := pr.Upright()
	step := measure.Length(10)
	if u == measure.Inch {
		step = measure.MillimetresPerInch / 2
	}
	whole := func(mm float64) measure.Length { return measure.Length(int(mm/float64(step))) * step }
	in := l.Inner()
	across, down = whole(in.Width()-12), whole(in.Height()-22)
	pg = l.Begin("Printer check", "Measure both long bars with a good ruler")
	x, y := in.Min.X+6, in.Min.Y+12
	drawBar(&pg, plane.Pt(x, y), across, step, u, false)
	drawBar(&pg, plane.Pt(x, y+4), down, step, u, true)
	for i, words := range []string{
		"Print this page at actual size (100 %).",
		"Measure from the first line to the last: " + across.Text(u) + " across and " + down.Text(u) + " down are wanted.",
		"Type what your ruler says. Later pages are corrected for this printer and paper.",
	} {
		for j, line := range page.Wrap(words, 4, in.Width()-40, false) {
			pg.Add(page.Text{At: plane.Pt(x+25, y+25+float64(i)*14+float64(j)*5), Size: 4, Words: line, Color: page.Ink})
		}
	}
	return pg, across, down
}

// drawBar draws a long scale, across or down, with a line at every step.
func drawBar(p *page.Page, at plane.Point, length, step measure.Length, u measure.Unit, down bool) {
	line := func(from, to, off1, off2, width float64) {
		if down {
			p.Line(at.X+off1, at.Y+from, at.X+off2, at.Y+to, width, page.Ink)
		} else {
			p.Line(at.X+from, at.Y+off1, at.X+to, at.Y+off2, width, page.Ink)
		}
	}
	line(0, float64(length), 0, 0, 0.2)
	for i := 0; measure.Length(i)*step <= length+0.01; i++ {
		v := float64(i) * float64(step)
		line(v, v, 0, 3, 0.15)
		if i%2 != 0 {
			continue
		}
		t := page.Text{At: plane.Pt(at.X+v, at.Y-1), Size: 2.6, Words: measure.Length(v).Bare(u), Anchor: page.Middle, Color: page.Ink}
		if down {
			t.At, t.Anchor = plane.Pt(at.X+4, at.Y+v+0.9), page.Start
		}
		if i > 0 || !down {
			p.Add(t)
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
		_, err := page.Lay(p.ReferenceSize(), page.On(paper.Size))
		choices[i] = PaperChoice{paper, err == nil}
	}
	return choices
}

// UsualPaper returns the name of the first paper that holds the picture, the
// usual office paper where none does.
func UsualPaper(p grid.Plan) string {
	for _, choice := range PapersFor(p) {
		if choice.Fits {
			return choice.Name
		}
	}
	return measure.OfficePaper(p.Units).Name
}
