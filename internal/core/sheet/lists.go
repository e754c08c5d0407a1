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
	return w.checklist("Before the tape comes off", lesson.BeforeTapeOff(w.Landmarks), nil)
}

// checklist returns a page with boxes to tick. The error wraps ErrPaper.
func (w Wish) checklist(head string, lines, notes []string) (page.Page, error) {
	l, err := page.Free(w.Printer, "the checklist")
	if err != nil {
		return page.Page{}, err
	}
	pg, in := l.Begin(w.titled(), head), l.Inner()
	y := in.Min.Y + 12
	pg.Add(page.Text{At: plane.Pt(in.Min.X, y), Size: 7, Words: head, Bold: true, Color: page.Ink})
	y += 12
	size := 5.0
	for size > 2.6 && float64(len(lines))*size*2.6 > in.Max.Y-y-10 {
		size -= 0.4
	}
	for _, line := range lines {
		pg.Add(page.BoxPath(page.Box(in.Min.X, y-size*0.8, size*0.9, size*0.9), 0.3, page.Ink))
		for _, part := range page.Wrap(line, size, in.Width()-size*2, false) {
			pg.Add(page.Text{At: plane.Pt(in.Min.X+size*1.8, y), Size: size, Words: part, Color: page.Ink})
			y += size * 1.3
		}
		y += size * 0.7
	}
	for _, note := range notes {
		for _, part := range page.Wrap(note, 3.6, in.Width(), false) {
			pg.Add(page.Text{At: plane.Pt(in.Min.X, y), Size: 3.6, Words: part, Color: page.Ink})
			y += 4.6
		}
	}
	return pg, nil
}

// ProjectCard returns the project on one page: steps, sizes, materials and
// cautions. The error wraps ErrPaper.
func ProjectCard(w Wish) (page.Page, error) {
	l, err := page.Free(w.Printer, "the project card")
	if err != nil {
		return page.Page{}, err
	}
	p, in := w.Plan, l.Inner()
	pg := l.Begin(w.titled(), "Project card")
	pic := page.Box(in.Max.X-in.Width()*0.3, in.Min.Y+4, in.Width()*0.3, in.Width()*0.3*p.Reference.Height/p.Reference.Width)
	if most := in.Height() * 0.3; pic.Height() > most {
		wide := most * p.Reference.Width / p.Reference.Height
		pic = page.Box(in.Max.X-wide, in.Min.Y+4, wide, most)
	}
	if p.Frame != nil {
		pg.Add(w.picture(pic), page.BoxPath(pic, 0.3, page.Ink))
	}
	cell := fmt.Sprintf("%s on the picture, %s on the sheet", p.Text(p.Grid.ReferenceCell[0]), p.Text(p.Grid.SheetCell[0]))
	y := drawSection(&pg, plane.Pt(in.Min.X, in.Min.Y+8), pic.Min.X-in.Min.X-6, "Sizes", []string{
		"Picture: " + p.ReferenceSize().Text(p.Units), "Drawing: " + p.SheetSize().Text(p.Units), "Paper: " + p.StockSize().Text(p.Units),
		fmt.Sprintf("Boxes: %d × %d, %s", p.Grid.Columns, p.Grid.Rows, cell), "Enlarged: " + gridTimes(p)})
	y = max(y, pic.Max.Y+8)
	y = drawSection(&pg, plane.Pt(in.Min.X, y), in.Width(), "Steps", []string{
		"Mark up the drawing sheet from its card, faintly, and count the boxes.",
		"Have the grid looked at before you draw.",
		"Draw box by box, lightly: cover the rest, find where lines enter and leave, join the dots. " + orderWords(p),
		"Turn the picture and the drawing upside down now and then.",
		"Check against the picture. The outline is approved before ink or tone.",
		"Smooth the choppy lines, erase the grid inside the figure, finish.",
		"Lay both side by side, mend what differs, clean the whites."})
	y = drawSection(&pg, plane.Pt(in.Min.X, y), in.Width(), "Materials", []string{
		"Drawing paper " + p.StockSize().Text(p.Units) + ", the gridded picture and a clean one, " + toMark(p) + ".",
		"Pencil and sharpener, a corner cut from an eraser, a card with a window, scrap paper under the hand."})
	drawSection(&pg, plane.Pt(in.Min.X, y), in.Width(), "Care", cautionsFor(p))
	return pg, nil
}

// drawSection writes a heading and lines, and returns where the next one goes.
func drawSection(pg *page.Page, at plane.Point, width float64, head string, lines []string) float64 {
	pg.Add(page.Text{At: at, Size: 5, Words: head, Bold: true, Color: page.Ink})
	y := at.Y + 6
	for _, line := range lines {
		pg.Add(page.Text{At: plane.Pt(at.X, y), Size: 3.6, Words: "·", Bold: true, Color: page.Ink})
		for _, part := range page.Wrap(line, 3.6, width-4, false) {
			pg.Add(page.Text{At: plane.Pt(at.X+3, y), Size: 3.6, Words: part, Color: page.Ink})
			y += 4.6
		}
		y += 0.8
	}
	return y + 5
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
	high := (in.Height() - 20) / valueSteps
	for i := range valueSteps {
		lightness := 100 - (100-darkestPrinted)*float64(i)/(valueSteps-1)
		g := picture.GreyOf(lightness)
		b := page.BoxPath(page.Box(in.Min.X+4, in.Min.Y+8+float64(i)*high, 60, high), 0.2, page.Ink)
		b.Fill = &page.Color{R: g, G: g, B: g}
		pg.Add(b, page.Text{At: plane.Pt(in.Min.X+69, in.Min.Y+8+(float64(i)+0.5)*high+2), Size: 5, Words: fmt.Sprintf("%d", i+1), Bold: true, Color: page.Ink})
		if words := map[int]string{0: "paper white: leave it", 4: "middle: between the two", 8: "the darkest dark: start here"}[i]; words != "" {
			pg.Add(page.Text{At: plane.Pt(in.Min.X+78, in.Min.Y+8+(float64(i)+0.5)*high+2), Size: 4, Words: words, Color: page.Ink})
		}
	}
	pg.Add(page.Text{At: plane.Pt(in.Min.X+4, in.Max.Y-2), Size: 3.6, Words: "Cut the strip out, hold it beside the drawing, and squint.", Color: page.Ink})
	return pg, nil
}
