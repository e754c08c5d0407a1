package sheet

import (
	"fmt"

	"zestysketch/internal/core/lesson"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/core/plane"
)

// TeacherList is what to look for on the way round the room.
func TeacherList(w Wish) (page.Page, error) {
	return w.checklist("What to look for", lesson.TeacherLooksFor, nil)
}

// StudentList is what to ask in every box.
func StudentList(w Wish) (page.Page, error) {
	return w.checklist("In every box", lesson.StudentLooksFor, nil)
}

// TapeList is what must be there before the tape comes off.
func TapeList(w Wish) (page.Page, error) {
	list := w.Reduced.Carry
	if list == nil {
		list = w.Landmarks
	}
	return w.checklist("Before the tape comes off", lesson.BeforeTapeOff(list), nil)
}

// checklist returns a page with boxes to tick, in type as large as the page allows. The
// error wraps ErrPaper.
func (w Wish) checklist(head string, lines, notes []string) (page.Page, error) {
	l, err := page.Free(w.Printer, "the checklist")
	if err != nil {
		return page.Page{}, err
	}
	pg, in := l.Begin(w.titled(), head), l.Inner()
	pg.Add(page.Text{At: plane.Pt(in.Min.X, in.Min.Y+12), Size: page.Title, Words: head, Bold: true, Color: page.Ink})
	top, foot := in.Min.Y+22, in.Max.Y-2-listHeight(notes, page.Body, in.Width())
	width := in.Width() - looks*lookWide - 4
	size := page.Young + 0.6
	for size > page.Small && listHeight(lines, size, width+size*checkIndent) > foot-top {
		size -= 0.2
	}
	for i := range looks {
		at := plane.Pt(in.Max.X-(float64(looks-i)-0.5)*lookWide, top-3)
		pg.Add(page.Text{At: at, Size: page.Small, Words: []string{"1st look", "2nd look", "last look"}[i], Anchor: page.Middle, Color: page.Ink})
	}
	// Rows fill the page, as far as that still looks like a table.
	spread := (foot - top - listHeight(lines, size, width+size*checkIndent)) / float64(len(lines))
	spread = min(max(0, spread), 4.5*size)
	y := top
	for _, line := range lines {
		pg.Line(in.Min.X, y, in.Max.X, y, 0.2, page.Faint)
		words := page.Wrap(line, size, width, false)
		high := size*(page.Leading*float64(len(words))+0.6) + spread
		pg.Paragraph(plane.Pt(in.Min.X, y+(high-size*page.Leading*float64(len(words)))/2+size), size, width, false, line)
		for i := range looks {
			x := in.Max.X - (float64(looks-i)-0.5)*lookWide
			pg.Add(page.BoxPath(page.Box(x-size/2, y+(high-size)/2, size, size), 0.4, page.Ink))
		}
		y += high
	}
	pg.Line(in.Min.X, y, in.Max.X, y, 0.2, page.Faint)
	y += page.Body * 1.6
	for _, note := range notes {
		y = pg.Paragraph(plane.Pt(in.Min.X, y), page.Body, in.Width(), false, note) + 1
	}
	return pg, nil
}

// A list is gone through so often, and a column of ticks is so wide, mm.
const looks, lookWide = 3, 17.0

// checkIndent is where the words of a line to tick begin, of its size.
const checkIndent = 1.9

func listHeight(lines []string, size, width float64) (high float64) {
	for _, line := range lines {
		high += size * (page.Leading*float64(len(page.Wrap(line, size, width-size*checkIndent, false))) + 0.6)
	}
	return high
}

// drawChecks writes lines, each with a box to tick, and returns where the next one goes.
func drawChecks(pg *page.Page, at plane.Point, size, width float64, lines []string) float64 {
	for _, line := range lines {
		pg.Add(page.BoxPath(page.Box(at.X, at.Y-size*0.82, size, size), 0.4, page.Ink))
		at.Y = pg.Paragraph(at.Add(plane.Pt(size*checkIndent, 0)), size, width-size*checkIndent, false, line) + size*0.6
	}
	return at.Y
}

// valueSteps is how many steps the strip has, from paper white to the darkest
// that a school printer makes (lightness about 12, ours).
const valueSteps, darkestPrinted = 9, 12.0

// Values returns nine greys of even lightness, CIE L*, to hold against a
// drawing. The error wraps ErrPaper.
func Values(w Wish) (page.Page, error) {
	l, err := page.Free(w.Printer, "the values strip")
	if err != nil {
		return page.Page{}, err
	}
	pg, in := l.Begin(w.titled(), "Values strip · nine steps of even lightness"), l.Inner()
	const wide, most = 24.0, 18.0 // a strip to hold in the hand, not a page of toner
	high := min(most, (in.Height()-20)/valueSteps)
	for i := range valueSteps {
		lightness := 100 - (100-darkestPrinted)*float64(i)/(valueSteps-1)
		g := picture.GreyOf(lightness)
		b := page.BoxPath(page.Box(in.Min.X+4, in.Min.Y+8+float64(i)*high, wide, high), 0.2, page.Ink)
		b.Fill = &page.Color{R: g, G: g, B: g}
		pg.Add(b, page.Text{At: plane.Pt(in.Min.X+wide+9, in.Min.Y+8+(float64(i)+0.5)*high+2), Size: 5, Words: fmt.Sprint(valueSteps - i), Bold: true, Color: page.Ink})
		if words := map[int]string{0: "paper white: leave it", 4: "middle: between the two", 8: "the darkest dark: start here"}[i]; words != "" {
			pg.Add(page.Text{At: plane.Pt(in.Min.X+wide+18, in.Min.Y+8+(float64(i)+0.5)*high+2), Size: 4, Words: words, Color: page.Ink})
		}
	}
	pg.Add(page.Text{At: plane.Pt(in.Min.X+4, in.Max.Y-2), Size: 3.6, Words: "1 is the darkest, as on maps and plans of tone. Cut the strip out, hold it beside the drawing, and squint.", Color: page.Ink})
	return pg, nil
}
