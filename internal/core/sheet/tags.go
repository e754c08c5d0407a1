package sheet

import (
	"fmt"
	"strings"

	"rsc.io/qr"

	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/photo"
	"zestysketch/internal/core/plane"
)

const (
	tagArrow  = 4.0 // mm
	tagsAPage = 5   // students a page
)

var cornerNames = [4]string{"top left", "top right", "bottom right", "bottom left"}

// Tags returns the pages of corner tags of a class, four for each student, a
// row a student. A tag's pointing corner, at the tip of its arrow, is the
// point that is measured: it is laid outside the drawing, its tip on the corner
// of the grid. The error wraps ErrPaper.
func Tags(w Wish) ([]page.Page, error) {
	l, err := page.Free(w.Printer, "the page of corner tags")
	if err != nil {
		return nil, err
	}
	in := l.Inner()
	const high = photo.TagSide + 12
	rows := max(1, min(tagsAPage, int((in.Height()-10)/high)))
	var pages []page.Page
	for i, who := range w.Class {
		if i%rows == 0 {
			pg := l.Begin(titled(w.Plan), "Corner tags · cut out; lay each outside its corner, the arrow's tip on the corner of the grid")
			pages = append(pages, pg)
		}
		y := in.Min.Y + 6 + float64(i%rows)*high
		pg := &pages[len(pages)-1]
		pg.Add(page.Text{At: plane.Pt(in.Min.X, y+2), Size: 4, Words: page.Cut(who.Name+" · "+who.Class, 4, in.Width(), true), Bold: true, Color: page.Ink})
		for corner := range 4 {
			at := plane.Pt(in.Min.X+float64(corner)*(in.Width()/4), y+5)
			if err := drawTag(pg, photo.Tag{Project: who.Project, Student: who.Student, Corner: corner}, at); err != nil {
				return nil, err
			}
		}
	}
	if pages == nil {
		return nil, fmt.Errorf("corner tags: %w without students; choose a class first", page.ErrEmpty)
	}
	return pages, nil
}

// TagPage returns one tag as a page of its own, as large as it is.
func TagPage(t photo.Tag) (page.Page, error) {
	pg := page.Page{Size: measure.Size{W: photo.TagSide, H: photo.TagSide}}
	ground := page.BoxPath(page.Box(0, 0, photo.TagSide, photo.TagSide), 0, page.White)
	ground.Fill = &page.White
	pg.Add(ground)
	err := drawTag(&pg, t, plane.Point{})
	return pg, err
}

// drawTag draws one tag with its top left at the given place.
func drawTag(pg *page.Page, t photo.Tag, at plane.Point) error {
	tip, code := photo.TagTip(t.Corner)
	pg.Add(page.Path{Points: page.BoxPath(page.Box(at.X, at.Y, photo.TagSide, photo.TagSide), 0, page.Ink).Points, Closed: true, Width: 0.15, Stroke: page.Faint})
	// The arrow: two sides run to the tip, exactly.
	sx, sy := 1.0, 1.0
	if tip.X > 0 {
		sx = -1
	}
	if tip.Y > 0 {
		sy = -1
	}
	x, y := at.X+tip.X, at.Y+tip.Y
	pg.Add(page.Path{Points: []plane.Point{plane.Pt(x, y), plane.Pt(x+sx*tagArrow, y), plane.Pt(x, y+sy*tagArrow)}, Closed: true, Fill: &page.Ink})
	words := page.Text{At: plane.Pt(at.X+photo.TagSide/2, at.Y+3), Size: 2.5, Words: cornerNames[t.Corner], Anchor: page.Middle, Color: page.Ink}
	if sy > 0 {
		words.At.Y = at.Y + photo.TagSide - 1.4
	}
	pg.Add(words)
	return drawQR(pg, t.String(), plane.Pt(at.X+code.X, at.Y+code.Y), photo.TagCode)
}

// drawQR draws a QR code (ISO/IEC 18004) with its dark area in a square of the
// given side; what is round it must stay white.
func drawQR(pg *page.Page, words string, at plane.Point, side float64) error {
	code, err := qr.Encode(words, qr.M)
	if err != nil {
		return fmt.Errorf("a code for %q: %w", words, err)
	}
	module := side / float64(code.Size)
	for y := range code.Size {
		for x := 0; x < code.Size; x++ {
			run := 0
			for x+run < code.Size && code.Black(x+run, y) {
				run++
			}
			if run > 0 {
				pg.Add(page.Path{Points: page.BoxPath(page.Box(at.X+float64(x)*module, at.Y+float64(y)*module, float64(run)*module, module), 0, page.Ink).Points, Closed: true, Fill: &Black})
				x += run
			}
		}
	}
	return nil
}

// Black is for what machines read.
var Black = page.Color{}

// Cover returns the front page of a student's set: name, class, picture, and
// their own link as a QR code. The error wraps ErrPaper.
func Cover(w Wish) (page.Page, error) {
	l, err := page.Free(w.Printer, "the cover")
	if err != nil {
		return page.Page{}, err
	}
	p, in := w.Plan, l.Inner()
	pg := l.Begin(titled(p), "Cover")
	name := w.Who.Name
	if name == "" {
		name = "Name:"
	}
	pg.Add(
		page.Text{At: plane.Pt(in.Min.X, in.Min.Y+16), Size: 12, Words: page.Cut(name, 12, in.Width(), true), Bold: true, Color: page.Ink},
		page.Text{At: plane.Pt(in.Min.X, in.Min.Y+25), Size: 5.5, Words: page.Cut(strings.Trim(w.Who.Class+" · "+titled(p), " ·"), 5.5, in.Width(), false), Color: page.Ink})
	top, most := in.Min.Y+32, in.Height()-32
	if w.Who.Link != "" {
		most -= 58
		code := plane.Pt(in.Min.X+4, in.Max.Y-50)
		if err := drawQR(&pg, w.Who.Link, code, 42); err != nil {
			return page.Page{}, err
		}
		for i, line := range append(page.Wrap("Your own page: point a phone or tablet at the code. It shows your boxes and your next step. Keep it to yourself.",
			4, in.Width()-60, false), page.Wrap(w.Who.Link, 3, in.Width()-60, false)...) {
			pg.Add(page.Text{At: plane.Pt(code.X+52, code.Y+8+float64(i)*5.4), Size: 4, Words: page.Cut(line, 4, in.Width()-58, false), Color: page.Ink})
		}
	}
	if p.Frame == nil {
		return pg, nil
	}
	wide := min(in.Width(), most*p.Reference.Width/p.Reference.Height)
	pic := page.Box(in.Min.X+(in.Width()-wide)/2, top, wide, wide*p.Reference.Height/p.Reference.Width)
	pg.Add(w.picture(pic), page.BoxPath(pic, 0.3, page.Ink))
	return pg, nil
}
