package sheet

import (
	"fmt"

	"zestysketch/internal/core/lesson"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/core/transfer"
)

// Turns says in words how often a way turns paper over, and what comes of it.
func Turns(way transfer.Way) string {
	times := map[int]string{0: "Nothing is turned over", 1: "One turn-over", 2: "Two turn-overs"}[way.TurnOvers]
	if times == "" {
		times = fmt.Sprintf("%d turn-overs", way.TurnOvers)
	}
	if way.Result == transfer.Mirrored {
		return times + ": the result is mirrored."
	}
	if way.MirrorIt {
		return times + ", from a mirrored print: the result is the right way round."
	}
	return times + ": the result is the right way round."
}

// TransferCard returns how a drawing is carried over by one way: the papers at
// each step, then what to shade with, where to lay it, and the lines that must
// be there, the weightiest first. The error wraps ErrPaper.
func TransferCard(w Wish, p transfer.Plan, way transfer.Way, place, list []string) ([]page.Page, error) {
	l, err := page.Free(w.Printer, "the transfer card")
	if err != nil {
		return nil, err
	}
	in := l.Inner()
	foot := in
	const columns, gap = 2, 6.0
	wide := (in.Width() - gap) / columns
	k := wide / stackWide
	start := func() page.Page {
		pg := l.Begin(w.titled(), "Transfer card")
		pg.Add(page.Text{At: plane.Pt(in.Min.X, in.Min.Y+9), Size: 6, Words: page.Cut(way.Name, 6, in.Width(), true), Bold: true, Color: page.Ink},
			page.Text{At: plane.Pt(in.Min.X, in.Min.Y+15), Size: 3.8, Words: Turns(way), Color: page.Ink})
		in.Max.Y = drawCare(&pg, foot, way.Cautions(p.Backing))
		return pg
	}
	pages := []page.Page{start()}
	top := in.Min.Y + 22
	y, row := top, 0.0
	for i, step := range way.Steps {
		words := page.Wrap(fmt.Sprintf("%d. %s", i+1, step.Do), 3.6, wide, false)
		drawn := Stack(step)
		high := float64(len(words))*4.6 + float64(drawn.Size.H)*k + 4
		if i%columns == 0 && i > 0 {
			y, row = y+row+3, 0
		}
		if i%columns == 0 && y+high > in.Max.Y-2 && y > top {
			pages, y = append(pages, start()), top
		}
		pg, x := &pages[len(pages)-1], in.Min.X+float64(i%columns)*(wide+gap)
		for n, line := range words {
			pg.Add(page.Text{At: plane.Pt(x, y+4+float64(n)*4.6), Size: 3.6, Words: line, Color: page.Ink})
		}
		drawScaled(pg, drawn, plane.Pt(x, y+float64(len(words))*4.6+3), k)
		row = max(row, high)
	}
	last := start()
	y = top + 4
	lists := []Entry{{"Materials", []string{"Shade with " + p.Backing.Name + ". " + p.Backing.Why, p.Pressure, p.Beneath, p.Tape}}}
	if !way.Shades() {
		lists = []Entry{{"Materials", []string{p.Tape}}}
	}
	if place != nil {
		lists = append(lists, Entry{"Where it goes", place})
	}
	lists = append(lists, Entry{"Good to know", append(append([]string{}, way.But...), p.Notes...)}, Entry{"Before the tape comes off", lesson.BeforeTapeOff(list)})
	for _, e := range lists {
		if len(e.Lines) > 0 && y < in.Max.Y-14 {
			y = drawSection(&last, plane.Pt(in.Min.X, y), in.Width(), e.Head, fitting(e.Lines, in.Width()-4, in.Max.Y-y-10))
		}
	}
	return append(pages, last), nil
}
