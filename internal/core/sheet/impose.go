package sheet

import (
	"math"

	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/plane"
)

// Sharing is how pages share a sheet of paper.
type Sharing string

// The ways to share.
const (
	Alone   Sharing = ""        // a page a side
	Halves  Sharing = "halves"  // two pages a side, to be cut apart
	Booklet Sharing = "booklet" // two pages a side in the order of a booklet, to be folded once
)

// Sharings lists the ways to share.
var Sharings = []Sharing{Alone, Halves, Booklet}

// Half returns the size of one of two pages that share an upright sheet turned to lie.
func Half(size measure.Size) measure.Size { return measure.Size{W: size.H / 2, H: size.W} }

// Impose lays pages of half the size on sheets, all at their true size. Upright pages
// stand side by side on a lying sheet, in their order or in that of a booklet; what lies, such
// as several views, comes after them, two above one another on an upright sheet. Of a booklet
// two sides make a sheet, turned over its short edge.
func Impose(pages []page.Page, how Sharing, size measure.Size) (sides []page.Page) {
	if how == Alone {
		return pages
	}
	var upright, lying []page.Page
	for _, p := range pages {
		if p.Size.W > p.Size.H {
			lying = append(lying, p)
		} else {
			upright = append(upright, p)
		}
	}
	beside, below := plane.Pt(float64(size.H)/2, 0), plane.Pt(0, float64(size.H)/2)
	order, between := inOrder(len(upright)), cutSign
	if how == Booklet {
		order, between = folded(len(upright)), foldSign
	}
	for _, pair := range order {
		sides = append(sides, side(upright, pair, size.Turned(), beside, between))
	}
	for _, pair := range inOrder(len(lying)) {
		sides = append(sides, side(lying, pair, size, below, cutSign))
	}
	return sides
}

// inOrder pairs n pages one after the other; a number that is no page's is an empty half.
func inOrder(n int) (pairs [][2]int) {
	for i := 0; i < n; i += 2 {
		pairs = append(pairs, [2]int{i, i + 1})
	}
	return pairs
}

// folded pairs n pages so that sheets laid on one another and folded once read as a booklet:
// front and back of the outermost sheet first (common practice).
func folded(n int) (pairs [][2]int) {
	whole := (n + 3) / 4 * 4
	for s := range whole / 4 {
		pairs = append(pairs, [2]int{whole - 1 - 2*s, 2 * s}, [2]int{2*s + 1, whole - 2 - 2*s})
	}
	return pairs
}

// side lays two pages on one side, the second so far from the first, with the line to cut or
// fold along between them, and its sign.
func side(pages []page.Page, pair [2]int, size measure.Size, second plane.Point, between sign) page.Page {
	out := page.Page{Size: size}
	for i, n := range pair {
		if n >= len(pages) {
			continue
		}
		if p := pages[n]; out.Title == "" {
			out.Title, out.Kind, out.Owner = p.Title, p.Kind, p.Owner
		}
		for _, item := range pages[n].Items {
			out.Add(page.Moved(item, func(q plane.Point) plane.Point { return q.Add(second.Mul(float64(i))) }))
		}
	}
	const clear = 6 // of the edge, which printers do not reach
	from, to := plane.Pt(second.X, clear), plane.Pt(second.X, float64(size.H)-clear)
	if second.X == 0 {
		from, to = plane.Pt(clear, second.Y), plane.Pt(float64(size.W)-clear, second.Y)
	}
	out.Add(page.Path{Points: []plane.Point{from, to}, Width: 0.1, Stroke: Pale, Dash: 2})
	drawSign(&out, between, from.To(to, 0.02).Sub(plane.Pt(1.6, 1.6)), 3.2)
	return out
}

// Inked returns what share of a page is covered with ink: its lines, fills and pictures, each
// as dark as it is; dark says how dark a picture is, 0 to 1. Letters count as half their
// height and half their breadth (ours).
func Inked(p page.Page, dark func(picture string) float64) float64 {
	sum := 0.0
	for _, item := range p.Items {
		switch v := item.(type) {
		case page.Path:
			length := 0.0
			for i := 1; i < len(v.Points); i++ {
				length += v.Points[i].Sub(v.Points[i-1]).Len()
			}
			sum += length * v.Width * v.Stroke.Dark()
			if v.Fill != nil {
				sum += math.Abs(plane.Ring(v.Points).Area()) * v.Fill.Dark()
			}
		case page.Text:
			sum += page.TextWidth(v.Words, v.Size, v.Bold) * v.Size / 4 * v.Color.Dark()
		case page.Picture:
			sum += v.Box.Width() * v.Box.Height() * dark(v.Name) * (1 - v.Fade)
		}
	}
	return sum / float64(p.Size.W*p.Size.H)
}
