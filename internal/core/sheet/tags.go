package sheet

import (
	"fmt"
	"strconv"
	"strings"

	"rsc.io/qr"

	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/plane"
)

// Tag is what a corner tag says: which corner of whose drawing it lies at.
type Tag struct {
	Project, Student uint64
	Corner           int // 0 top left, 1 top right, 2 bottom right, 3 bottom left
}

const tagPrefix = "ZS/"

// Modules returns how many modules a side of the tag's code has, 21 for all but
// the longest; 0 for what no code can hold.
func (t Tag) Modules() int {
	code, err := qr.Encode(t.String(), qr.M)
	if err != nil {
		return 0
	}
	return code.Size
}

// String writes a tag as its code holds it: short, and in the letters that a QR
// code packs best.
func (t Tag) String() string {
	n := func(v uint64) string { return strings.ToUpper(strconv.FormatUint(v, 36)) }
	return tagPrefix + n(t.Project) + "/" + n(t.Student) + "/" + strconv.Itoa(t.Corner)
}

// ParseTag reads what a tag's code says; ok is false for any other code.
func ParseTag(s string) (t Tag, ok bool) {
	rest, found := strings.CutPrefix(s, tagPrefix)
	parts := strings.Split(rest, "/")
	if !found || len(parts) != 3 {
		return Tag{}, false
	}
	project, err1 := strconv.ParseUint(parts[0], 36, 63)
	student, err2 := strconv.ParseUint(parts[1], 36, 63)
	corner, err3 := strconv.Atoi(parts[2])
	t = Tag{project, student, corner}
	return t, err1 == nil && err2 == nil && err3 == nil && corner >= 0 && corner < 4 && t.String() == s
}

// A tag in millimetres: its side, and where the code stands in it, measured
// from the pointing corner along both sides.
const (
	TagSide   = 30.0
	TagCode   = 19.0 // side of the code's dark area
	TagInset  = 6.0  // from the pointing corner to the code
	tagArrow  = 4.0
	tagsAPage = 5 // students a page
)

var cornerNames = [4]string{"top left", "top right", "bottom right", "bottom left"}

// Tags returns the pages of corner tags of a class, four for each student, a
// row a student. A tag's pointing corner, at the tip of its arrow, is the
// point that is measured: it is laid outside the drawing, its tip on the corner
// of the grid. The error wraps ErrPaper.
func Tags(w Wish) ([]Page, error) {
	l, err := free(w.Printer, "the page of corner tags")
	if err != nil {
		return nil, err
	}
	in := l.inner()
	const high = TagSide + 12
	rows := max(1, min(tagsAPage, int((in.Height()-10)/high)))
	var pages []Page
	for i, who := range w.Class {
		if i%rows == 0 {
			page := l.page(titled(w.Plan), "Corner tags · cut out; lay each outside its corner, the arrow's tip on the corner of the grid")
			pages = append(pages, page)
		}
		y := in.Min.Y + 6 + float64(i%rows)*high
		page := &pages[len(pages)-1]
		page.add(Text{At: plane.Pt(in.Min.X, y+2), Size: 4, Words: cut(who.Name+" · "+who.Class, 4, in.Width(), true), Bold: true, Color: Ink})
		for corner := range 4 {
			at := plane.Pt(in.Min.X+float64(corner)*(in.Width()/4), y+5)
			if err := page.tag(Tag{who.Project, who.Student, corner}, at); err != nil {
				return nil, err
			}
		}
	}
	if pages == nil {
		return nil, fmt.Errorf("corner tags: %w without students; choose a class first", ErrEmpty)
	}
	return pages, nil
}

// TagTip returns where the pointing corner of a tag is, from the tag's own top
// left, and where its code's top left is. The tag of the top left corner points
// to its bottom right, for it lies outside the drawing.
func TagTip(corner int) (tip, code plane.Point) {
	const far = TagSide - TagInset - TagCode
	switch corner {
	case 0:
		return plane.Pt(TagSide, TagSide), plane.Pt(far, far)
	case 1:
		return plane.Pt(0, TagSide), plane.Pt(TagInset, far)
	case 2:
		return plane.Pt(0, 0), plane.Pt(TagInset, TagInset)
	}
	return plane.Pt(TagSide, 0), plane.Pt(far, TagInset)
}

// TagPage returns one tag as a page of its own, as large as it is.
func TagPage(t Tag) (Page, error) {
	page := Page{Size: measure.Size{W: TagSide, H: TagSide}}
	ground := BoxPath(box(0, 0, TagSide, TagSide), 0, White)
	ground.Fill = &White
	page.add(ground)
	err := page.tag(t, plane.Point{})
	return page, err
}

// tag draws one tag with its top left at the given place.
func (page *Page) tag(t Tag, at plane.Point) error {
	tip, code := TagTip(t.Corner)
	page.add(Path{Points: BoxPath(box(at.X, at.Y, TagSide, TagSide), 0, Ink).Points, Closed: true, Width: 0.15, Stroke: Faint})
	// The arrow: two sides run to the tip, exactly.
	sx, sy := 1.0, 1.0
	if tip.X > 0 {
		sx = -1
	}
	if tip.Y > 0 {
		sy = -1
	}
	x, y := at.X+tip.X, at.Y+tip.Y
	page.add(Path{Points: []plane.Point{plane.Pt(x, y), plane.Pt(x+sx*tagArrow, y), plane.Pt(x, y+sy*tagArrow)}, Closed: true, Fill: &Ink})
	words := Text{At: plane.Pt(at.X+TagSide/2, at.Y+3), Size: 2.5, Words: cornerNames[t.Corner], Anchor: Middle, Color: Ink}
	if sy > 0 {
		words.At.Y = at.Y + TagSide - 1.4
	}
	page.add(words)
	return page.qr(t.String(), plane.Pt(at.X+code.X, at.Y+code.Y), TagCode)
}

// qr draws a QR code (ISO/IEC 18004) with its dark area in a square of the
// given side; what is round it must stay white.
func (page *Page) qr(words string, at plane.Point, side float64) error {
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
				page.add(Path{Points: BoxPath(box(at.X+float64(x)*module, at.Y+float64(y)*module, float64(run)*module, module), 0, Ink).Points, Closed: true, Fill: &Black})
				x += run
			}
		}
	}
	return nil
}

// Black is for what machines read.
var Black = Color{}

// Cover returns the front page of a student's set: name, class, picture, and
// their own link as a QR code. The error wraps ErrPaper.
func Cover(w Wish) (Page, error) {
	l, err := free(w.Printer, "the cover")
	if err != nil {
		return Page{}, err
	}
	p, in := w.Plan, l.inner()
	page := l.page(titled(p), "Cover")
	name := w.Who.Name
	if name == "" {
		name = "Name:"
	}
	page.add(
		Text{At: plane.Pt(in.Min.X, in.Min.Y+16), Size: 12, Words: cut(name, 12, in.Width(), true), Bold: true, Color: Ink},
		Text{At: plane.Pt(in.Min.X, in.Min.Y+25), Size: 5.5, Words: cut(strings.Trim(w.Who.Class+" · "+titled(p), " ·"), 5.5, in.Width(), false), Color: Ink})
	top, most := in.Min.Y+32, in.Height()-32
	if w.Who.Link != "" {
		most -= 58
		code := plane.Pt(in.Min.X+4, in.Max.Y-50)
		if err := page.qr(w.Who.Link, code, 42); err != nil {
			return Page{}, err
		}
		for i, line := range append(wrap("Your own page: point a phone or tablet at the code. It shows your boxes and your next step. Keep it to yourself.", 4, in.Width()-60, false), wrap(w.Who.Link, 3, in.Width()-60, false)...) {
			page.add(Text{At: plane.Pt(code.X+52, code.Y+8+float64(i)*5.4), Size: 4, Words: cut(line, 4, in.Width()-58, false), Color: Ink})
		}
	}
	if p.Frame == nil {
		return page, nil
	}
	wide := min(in.Width(), most*p.Reference.Width/p.Reference.Height)
	pic := box(in.Min.X+(in.Width()-wide)/2, top, wide, wide*p.Reference.Height/p.Reference.Width)
	page.add(w.picture(pic), BoxPath(pic, 0.3, Ink))
	return page, nil
}
