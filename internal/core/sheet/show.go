package sheet

import (
	"fmt"
	"strings"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/lesson"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/plane"
)

// Drawn is a photograph of a drawing, seen straight on: the name of its picture
// and its pixels.
type Drawn struct {
	Name   string
	Pixels [2]int
}

// in returns the largest box of the drawing's shape in the upper middle of another.
func (d Drawn) in(room plane.Rect) plane.Rect {
	shape := float64(d.Pixels[0]) / float64(max(1, d.Pixels[1]))
	w := min(room.Width(), room.Height()*shape)
	return page.Box(room.Min.X+(room.Width()-w)/2, room.Min.Y, w, w/shape)
}

// turned returns the drawing in a box, upside down or mirrored.
func (d Drawn) turned(b plane.Rect, upsideDown, mirrored bool) page.Picture {
	f := grid.Frame{Picture: d.Pixels, Centre: plane.Pt(float64(d.Pixels[0])/2, float64(d.Pixels[1])/2), Size: [2]float64{float64(d.Pixels[0]), float64(d.Pixels[1])}, Mirror: mirrored}
	if upsideDown {
		f.Angle = 180
	}
	return page.Picture{Box: b, Name: d.Name, Part: &f}
}

// SideBySide returns picture and drawing beside one another, right way up,
// upside down and mirrored, with room to write what differs. The error wraps
// ErrEmpty without a picture, else ErrPaper.
func SideBySide(w Wish, d Drawn, whites []string) (page.Page, error) {
	if w.Plan.Frame == nil {
		return page.Page{}, fmt.Errorf("side by side: %w without a picture; choose one first", page.ErrEmpty)
	}
	l, err := page.Free(w.Printer, "the page of both side by side")
	if err != nil {
		return page.Page{}, err
	}
	pg, in := l.Begin(w.titled(), "Side by side"), l.Inner()
	const gap = 5.0
	pair := func(at, wide, high float64, left float64, words string, upsideDown, mirrored bool) float64 {
		room := page.Box(left, at+5, (wide-gap)/2, high)
		b := d.in(room)
		pg.Add(page.Text{At: plane.Pt(left, at+3.4), Size: 3.2, Words: words, Bold: true, Color: page.Ink})
		v := w
		v.UpsideDown, v.Mirrored = upsideDown, mirrored
		pg.Add(v.picture(b), page.BoxPath(b, 0.2, page.Ink))
		b.Min.X, b.Max.X = b.Min.X+(wide+gap)/2, b.Max.X+(wide+gap)/2
		pg.Add(d.turned(b, upsideDown, mirrored), page.BoxPath(b, 0.2, page.Ink))
		return b.Max.Y
	}
	y := pair(in.Min.Y+2, in.Width(), in.Height()*0.46, in.Min.X, "Right way up: the picture, and the drawing", false, false) + 4
	half := (in.Width() - 2*gap) / 2
	a := pair(y, half, in.Height()*0.22, in.Min.X, "Both upside down", true, false)
	b := pair(y, half, in.Height()*0.22, in.Min.X+half+2*gap, "Both mirrored", false, true)
	lines := []string{"What differs most? Mend that first: ______________________________", "What are you glad of? ______________________________"}
	switch {
	case 2*len(whites) > w.Plan.Count():
		lines = append(lines, "Clean the whites: most boxes have some.")
	case len(whites) > 0:
		lines = append(lines, "Clean the whites in "+strings.Join(whites, ", ")+".")
	}
	drawEntry(&pg, plane.Rect{Min: plane.Pt(in.Min.X, max(a, b)+8), Max: in.Max}, Entry{Head: "Look once more", Lines: lines})
	return pg, nil
}

// Label is what stands beside a shown drawing.
type Label struct {
	Name, Title, Medium, Class, When string
}

// Labels returns labels to cut out, 85 × 50 mm, with nothing else of a student
// than the short name they are known by. The error wraps ErrPaper.
func Labels(w Wish, all []Label) ([]page.Page, error) {
	l, err := page.Free(w.Printer, "the page of labels")
	if err != nil {
		return nil, err
	}
	in := l.Inner()
	const leastWide, leastHigh, gap = 85.0, 45.0, 3.0
	columns, rows := max(1, int((in.Width()+gap)/(leastWide+gap))), max(1, int((in.Height()-14+gap)/(leastHigh+gap)))
	wide, high := (in.Width()+gap)/float64(columns)-gap, (in.Height()-14+gap)/float64(rows)-gap // they fill the page
	var pages []page.Page
	for i, label := range all {
		slot := i % (columns * rows)
		if slot == 0 {
			pg := l.Begin(w.titled(), "Labels · cut out")
			drawCare(&pg, in, lesson.Cautions(lesson.Scissors, lesson.Trimmer))
			pages = append(pages, pg)
		}
		b := page.Box(in.Min.X+float64(slot%columns)*(wide+gap), in.Min.Y+2+float64(slot/columns)*(high+gap), wide, high)
		drawLabel(&pages[len(pages)-1], label, b)
	}
	return pages, nil
}

func drawLabel(pg *page.Page, label Label, b plane.Rect) {
	drawCut(pg, b)
	k := b.Height() / 45 // of a label 45 mm high
	pg.Line(b.Min.X+6, b.Min.Y+30*k, b.Max.X-6, b.Min.Y+30*k, 0.3, page.Ink)
	for _, line := range []struct {
		words   string
		y, size float64
		bold    bool
	}{{label.Name, 13, 7, true}, {label.Title, 24, 5.4, false}, {label.Medium, 36.5, 3.6, false}, {label.Class + " · " + label.When, 41.5, 3.4, false}} {
		pg.Add(page.Text{At: plane.Pt(b.Min.X+6, b.Min.Y+line.y*k), Size: line.size, Words: page.Cut(line.words, line.size, b.Width()-12, line.bold), Bold: line.bold, Color: page.Ink})
	}
}

// Portfolio is what a student's page shows.
type Portfolio struct {
	Label       Label
	First, Last *Drawn // nil where there is no photo; First is nil too where there is only one
	Entries     []Entry
}

// PortfolioPage returns a student's page: the picture, the first and the last
// photo of the drawing, and what was reached. The error wraps ErrPaper.
func PortfolioPage(w Wish, p Portfolio) (page.Page, error) {
	l, err := page.Free(w.Printer, "the portfolio page")
	if err != nil {
		return page.Page{}, err
	}
	pg, in := l.Begin(w.titled(), "Portfolio"), l.Inner()
	y := in.Min.Y + 11
	pg.Add(page.Text{At: plane.Pt(in.Min.X, y), Size: 8, Words: page.Cut(p.Label.Name, 8, in.Width(), true), Bold: true, Color: page.Ink},
		page.Text{At: plane.Pt(in.Min.X, y+7), Size: 4, Words: page.Cut(p.Label.Title+" · "+p.Label.Medium+" · "+p.Label.Class+" · "+p.Label.When, 4, in.Width(), false), Color: page.Ink})
	y += 13
	type shown struct {
		words string
		add   func(b plane.Rect)
	}
	var all []shown
	if w.Plan.Frame != nil {
		all = append(all, shown{"The picture", func(b plane.Rect) { pg.Add(w.picture(b)) }})
	}
	if p.First != nil {
		all = append(all, shown{"First photo", func(b plane.Rect) { pg.Add(page.Picture{Box: b, Name: p.First.Name}) }})
	}
	if p.Last != nil {
		all = append(all, shown{"The drawing", func(b plane.Rect) { pg.Add(page.Picture{Box: b, Name: p.Last.Name}) }})
	}
	bottom := y
	wide := (in.Width() - 5*float64(max(0, len(all)-1))) / float64(max(2, len(all)))
	as := Drawn{Pixels: [2]int{int(1000 * w.Plan.Sheet.Width), int(1000 * w.Plan.Sheet.Height)}}
	for i, s := range all {
		b := as.in(page.Box(in.Min.X+float64(i)*(wide+5), y, wide, in.Height()*0.48))
		s.add(b)
		pg.Add(page.BoxPath(b, 0.2, page.Ink), page.Text{At: plane.Pt(b.Min.X, b.Max.Y+4), Size: 3.2, Words: s.words, Color: page.Ink})
		bottom = max(bottom, b.Max.Y+5)
	}
	y = bottom + 9
	for _, e := range append(p.Entries, Entry{Head: "In my own words",
		Lines: []string{"What I learnt to see: ______________________________",
			"What I would do differently: ______________________________"}}) {
		if y < in.Max.Y-10 {
			y = drawEntry(&pg, plane.Rect{Min: plane.Pt(in.Min.X, y), Max: in.Max}, e)
		}
	}
	return pg, nil
}

// Hung is one drawing of an exhibition.
type Hung struct {
	Name string
	Drawn
}

// Exhibition returns a class's drawings with their names, as many a page as can
// be seen well; missing names those without a photo. The error wraps ErrEmpty
// without a drawing, else ErrPaper.
func Exhibition(w Wish, title string, all []Hung, missing []string) ([]page.Page, error) {
	if len(all) == 0 {
		return nil, fmt.Errorf("the exhibition: %w; take photos in on the Check step first", page.ErrEmpty)
	}
	l, err := page.Free(w.Printer, "the exhibition sheet")
	if err != nil {
		return nil, err
	}
	in := l.Inner()
	const gap = 6.0
	columns, rows, wide, high := 3, 1, 0.0, 0.0
	// As few side by side as hang on one page; three where they need several.
	for _, columns = range []int{1, 2, 3} {
		wide = (in.Width() - gap*float64(columns-1)) / float64(columns)
		high = min(wide*w.Plan.Sheet.Height/w.Plan.Sheet.Width, in.Height()-34)
		if rows = max(1, int((in.Height()-26)/(high+10))); rows*columns >= len(all) {
			break
		}
	}
	notes := lesson.Cautions(lesson.Photos)
	if len(missing) > 0 {
		notes = append([]string{"No photo yet: " + strings.Join(missing, ", ") + "."}, notes...)
	}
	var pages []page.Page
	for i, h := range all {
		slot := i % (columns * rows)
		if slot == 0 {
			pg := l.Begin(w.titled(), "Exhibition")
			pg.Add(page.Text{At: plane.Pt(in.Min.X, in.Min.Y+10), Size: 7, Words: page.Cut(title, 7, in.Width(), true), Bold: true, Color: page.Ink})
			drawCare(&pg, in, notes)
			pages = append(pages, pg)
		}
		room := page.Box(in.Min.X+float64(slot%columns)*(wide+gap), in.Min.Y+15+float64(slot/columns)*(high+10), wide, high)
		b := h.in(room)
		pages[len(pages)-1].Add(page.Picture{Box: b, Name: h.Drawn.Name}, page.BoxPath(b, 0.2, page.Ink),
			page.Text{At: plane.Pt(room.Min.X+wide/2, b.Max.Y+4.6), Size: 3.8, Words: page.Cut(h.Name, 3.8, wide, true), Anchor: page.Middle, Bold: true, Color: page.Ink})
	}
	return pages, nil
}
