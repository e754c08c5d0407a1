package page

import (
	"cmp"
	"errors"
	"fmt"

	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/plane"
)

// Printer is what is known of a printer with one paper in it.
type Printer struct {
	Paper  measure.Size // as it is fed, upright
	Margin float64      // mm at every edge that it does not reach
	Across float64      // printed ÷ true length across the upright paper; 1 where nothing was measured
	Down   float64
	Units  measure.Unit // in which what does not fit is told; millimetres where it is empty
}

// Said writes a size as the teacher measures.
func (pr Printer) Said(s measure.Size) string { return s.Text(cmp.Or(pr.Units, measure.Millimetre)) }

// UsualMargin is how near the edge school printers print, in millimetres (common practice).
const UsualMargin = 5.0

// On returns a printer that prints true, with the usual margin.
func On(paper measure.Size) Printer {
	if paper.W > paper.H {
		paper = paper.Turned()
	}
	return Printer{Paper: paper, Margin: UsualMargin, Across: 1, Down: 1}
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

// Rooms returns the largest true-size work that a page holds with labels round
// it, upright and lying.
func (pr Printer) Rooms() []measure.Size {
	var rooms []measure.Size
	for _, l := range []Layout{pr.Upright(), pr.Lying()} {
		in := l.Inner()
		rooms = append(rooms, measure.Size{W: measure.Length(in.Width() - 2*gutter), H: measure.Length(in.Height() - 2*gutter)})
	}
	return rooms
}

// Upright and Lying return the page both ways round, with what the printer
// cannot reach on real paper: a printer that shrinks reaches less of it.
func (pr Printer) Upright() Layout { return pr.reach(pr.Paper, pr.Across, pr.Down) }
func (pr Printer) Lying() Layout   { return pr.reach(pr.Paper.Turned(), pr.Down, pr.Across) }

func (pr Printer) reach(size measure.Size, across, down float64) Layout {
	out := func(side measure.Length, k float64) float64 {
		half := float64(side) / 2
		return max(pr.Margin, half-k*(half-pr.Margin))
	}
	return Layout{Size: size, Left: out(size.W, across), Top: out(size.H, down)}
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
