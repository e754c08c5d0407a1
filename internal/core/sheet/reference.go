package sheet

import (
	"cmp"
	"fmt"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/core/reading"
)

// FramePicture is the name of the plan's picture in a Picture item.
const FramePicture = "frame"

// GreyOf returns the name of a picture without its colour.
func GreyOf(name string) string { return name + " grey" }

// faded is how far a picture is faded that is drawn over (ours).
const faded = 0.65

// Reference returns the true-size page of the gridded, labelled reference,
// turned, mirrored, grey or faded as wished. The error wraps ErrPaper.
func Reference(w Wish) (page.Page, error) {
	pg, l, err := w.pictured("Reference")
	if err != nil {
		return page.Page{}, err
	}
	net := ReferenceNet(w.Plan)
	if w.Mirrored {
		net = net.mirrored()
	}
	if w.UpsideDown {
		net = net.upsideDown()
	}
	net.GutterX, net.GutterY = l.GutterX, l.GutterY
	drawNet(&pg, l.Work.Min, net)
	w.seenOn(&pg, l.Work.Min)
	return pg, nil
}

// seenOn draws on the reference what the wish's help shows, mirrored and turned as it is.
func (w Wish) seenOn(pg *page.Page, at plane.Point) {
	if w.Help.Step() < reading.Dots.Step() {
		return
	}
	var on page.Page
	for _, c := range w.Plan.Cells() {
		w.seen(&on, c, c.Reference)
	}
	size := w.Plan.Reference
	for _, item := range on.Items {
		mid := plane.Pt(size.Width/2, size.Height/2)
		pg.Add(page.Moved(item, func(p plane.Point) plane.Point { return at.Add(mid).Add(w.faced(p.Sub(mid))) }))
	}
}

// Clean returns the page of the reference without its grid. The error wraps ErrPaper.
func Clean(w Wish) (page.Page, error) {
	pg, _, err := w.pictured("Clean picture")
	return pg, err
}

// pictured returns a page with the framed picture at true size.
func (w Wish) pictured(what string) (page.Page, page.Layout, error) {
	p := w.Plan
	l, err := page.Lay(p.ReferenceSize(), w.Printer)
	if err != nil {
		return page.Page{}, l, fmt.Errorf("the picture at %w", err)
	}
	detail := fmt.Sprintf("%s · %s · %d × %d boxes", what, p.ReferenceSize().Text(p.Units), p.Grid.Columns, p.Grid.Rows)
	for _, how := range []struct {
		on   bool
		word string
	}{{w.UpsideDown, "upside down"}, {w.Mirrored, "mirrored"}} {
		if how.on {
			detail += " · " + how.word
		}
	}
	pg := l.Begin(w.titled(), detail)
	pg.Add(w.picture(l.Work))
	return pg, l, nil
}

// picture shows the plan's frame in a box as the wish wants it.
func (w Wish) picture(b plane.Rect) page.Picture {
	pic := framed(w.Plan, b)
	if f := w.Plan.Frame; f != nil && (w.Mirrored || w.UpsideDown) {
		part := *f
		if w.Mirrored {
			part.Mirror = !part.Mirror
		}
		if w.UpsideDown {
			part.Angle += 180
		}
		pic.Part = &part
	}
	pic.Name = cmp.Or(w.Picture, FramePicture)
	if w.Grey {
		pic.Name = GreyOf(pic.Name)
	}
	if w.Faded {
		pic.Fade = faded
	}
	return pic
}

// titled is the head of a page: the plan's name, and whose it is.
func (w Wish) titled() string {
	if w.Who.Name != "" {
		return titled(w.Plan) + " · " + w.Who.Name
	}
	return titled(w.Plan)
}

// Overlay returns the reference with its net and labels alone, for the screen:
// the same drawing as on paper, with room for labels on every side. Line and
// letter sizes follow the picture so that a large one is not drawn hair-thin.
func Overlay(p grid.Plan) page.Page {
	net := screenNet(p)
	net.GutterX, net.GutterY = net.LetterSize*4/3, net.LetterSize*4/3
	pg := page.Page{Title: titled(p), Size: measure.Size{
		W: measure.Length(p.Reference.Width + 2*net.GutterX), H: measure.Length(p.Reference.Height + 2*net.GutterY)}}
	pg.Add(framed(p, page.Box(net.GutterX, net.GutterY, p.Reference.Width, p.Reference.Height)))
	drawNet(&pg, plane.Pt(net.GutterX, net.GutterY), net)
	return pg
}

// framed shows the plan's frame of the picture in a box.
func framed(p grid.Plan, b plane.Rect) page.Picture {
	part := p.Frame
	if part != nil && part.Whole() {
		part = nil
	}
	return page.Picture{Box: b, Name: FramePicture, Part: part}
}

func titled(p grid.Plan) string {
	if p.Name == "" {
		return "Untitled plan"
	}
	return p.Name
}

// Bare returns the framed reference at true size with its net, labels inside,
// to stand in another drawing.
func Bare(p grid.Plan) page.Page {
	net := screenNet(p)
	net.LetterSize *= 5.0 / 6
	pg := page.Page{Title: "Grid", Size: p.ReferenceSize()}
	pg.Add(framed(p, page.Box(0, 0, p.Reference.Width, p.Reference.Height)))
	drawNet(&pg, plane.Point{}, net)
	return pg
}

// screenNet is the reference's net with lines and letters that follow the
// picture's size, so that a large one is not drawn hair-thin.
func screenNet(p grid.Plan) Net {
	net := ReferenceNet(p)
	k := max(p.Reference.Width, p.Reference.Height) / 250
	net.Width, net.LetterSize = net.Width*k*1.4, 6*k
	return net
}
