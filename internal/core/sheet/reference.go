package sheet

import (
	"fmt"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/measure"
)

// FramePicture is the name of the plan's picture in a Picture item.
const FramePicture = "frame"

// Reference returns the true-size page of the gridded, labelled reference.
// Its Picture item is named FramePicture. The error wraps ErrPaper.
func Reference(p grid.Plan, paper measure.Size) (Page, error) {
	l, err := lay(p.ReferenceSize(), paper)
	if err != nil {
		return Page{}, fmt.Errorf("the reference at %w", err)
	}
	page := l.page(titled(p), fmt.Sprintf("Reference · %s · %d × %d boxes", p.ReferenceSize().Text(p.Units), p.Grid.Columns, p.Grid.Rows))
	page.add(framed(p, l.work))
	net := ReferenceNet(p)
	net.GutterX, net.GutterY = l.gutterX, l.gutterY
	page.net(l.work.Min, net)
	return page, nil
}

// Overlay returns the reference with its net and labels alone, for the screen:
// the same drawing as on paper, with room for labels on every side. Line and
// letter sizes follow the picture so that a large one is not drawn hair-thin.
func Overlay(p grid.Plan) Page {
	net := screenNet(p)
	net.GutterX, net.GutterY = net.LetterSize*4/3, net.LetterSize*4/3
	page := Page{Title: titled(p), Size: measure.Size{
		W: measure.Length(p.Reference.Width + 2*net.GutterX), H: measure.Length(p.Reference.Height + 2*net.GutterY)}}
	page.add(framed(p, box(net.GutterX, net.GutterY, p.Reference.Width, p.Reference.Height)))
	page.net(Point{X: net.GutterX, Y: net.GutterY}, net)
	return page
}

// framed shows the plan's frame of the picture in a box.
func framed(p grid.Plan, b Rect) Picture {
	part := p.Frame
	if part != nil && part.Whole() {
		part = nil
	}
	return Picture{Box: b, Name: FramePicture, Part: part}
}

func titled(p grid.Plan) string {
	if p.Name == "" {
		return "Untitled plan"
	}
	return p.Name
}

// Bare returns the framed reference at true size with its net, labels inside,
// to stand in another drawing.
func Bare(p grid.Plan) Page {
	net := screenNet(p)
	net.LetterSize *= 5.0 / 6
	page := Page{Title: "Grid", Size: p.ReferenceSize()}
	page.add(framed(p, box(0, 0, p.Reference.Width, p.Reference.Height)))
	page.net(Point{}, net)
	return page
}

// screenNet is the reference's net with lines and letters that follow the
// picture's size, so that a large one is not drawn hair-thin.
func screenNet(p grid.Plan) Net {
	net := ReferenceNet(p)
	k := max(p.Reference.Width, p.Reference.Height) / 250
	net.Width, net.LetterSize = net.Width*k*1.4, 6*k
	return net
}
