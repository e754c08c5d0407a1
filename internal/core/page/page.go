// Package page is a printed page as primitives in millimetres — paths, words and
// pictures —, its type, its layout round the work and the printer it is for:
// what is drawn and where, not how. Package sheet has the kinds of page, and
// package render turns them into PDF, SVG and PNG.
package page

import (
	"math"

	"zestysketch/internal/core/colour"
	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/plane"
)

// Color is an opaque sRGB colour.
type Color struct{ R, G, B uint8 }

// The inks of our pages.
var (
	Ink   = Color{0x22, 0x2b, 0x26}
	Faint = Color{0x8a, 0x90, 0x8a}
	Plain = Color{0x52, 0x58, 0x52} // a grid to draw on that is still there on a copy
	White = Color{0xff, 0xff, 0xff}
)

// Kind is a kind of page, as files and addresses name it; package page has them.
type Kind string

// Page is one side of paper.
type Page struct {
	Title string
	Kind  Kind   // what it is, where it was made as one of Kinds
	Owner string // whose it is; empty for everybody's
	Size  measure.Size
	Items []Item
}

// Item is something drawn on a page: a Path, a Text or a Picture. Later items cover earlier ones.
type Item interface {
	moved(at func(plane.Point) plane.Point) Item
}

// Moved returns an item with every place in it carried elsewhere.
func Moved(i Item, at func(plane.Point) plane.Point) Item { return i.moved(at) }

// Path is a run of straight lines, stroked, filled or both. A Width of 0 is not stroked.
type Path struct {
	Points []plane.Point
	Closed bool
	Width  float64 // mm
	Stroke Color
	Fill   *Color // nil for none
	Dash   float64
}

// Anchor says which end of a text stands at its point.
type Anchor int

// Where a text stands about its point.
const (
	Start Anchor = iota
	Middle
	End
)

// Text is one line of words on a baseline.
type Text struct {
	At     plane.Point
	Size   float64 // height of the letters' em in mm
	Words  string
	Anchor Anchor
	Bold   bool
	Color  Color
	Halo   bool // a white edge, for words on a picture
	Foot   bool // furniture at the foot: read after the rest of the page
}

// Picture is an image stretched into a box, named so that many pages share one.
type Picture struct {
	Box  plane.Rect
	Name string
	Part *grid.Frame // what of the image is shown, at any angle; nil for all of it
	Fade float64     // how far it is faded to white, 0 to 1
}

// Matrix is an affine map: x' = A·x + C·y + E, y' = B·x + D·y + F.
type Matrix struct{ A, B, C, D, E, F float64 }

// Placed returns the map from the image, w × h units large, to millimetres on
// the page.
func (p Picture) Placed(w, h float64) Matrix {
	f := grid.Frame{Picture: [2]int{1, 1}, Centre: plane.Pt(0.5, 0.5), Size: [2]float64{1, 1}}
	if p.Part != nil {
		f = *p.Part
	}
	at := func(x, y float64) plane.Point { // of the unit square that the image fills
		q := f.FromPicture(plane.Pt(x*float64(f.Picture[0]), y*float64(f.Picture[1])))
		return plane.Pt(p.Box.Min.X+q.X*p.Box.Width()/f.Size[0], p.Box.Min.Y+q.Y*p.Box.Height()/f.Size[1])
	}
	o, right, down := at(0, 0), at(1, 0), at(0, 1)
	return Matrix{(right.X - o.X) / w, (right.Y - o.Y) / w, (down.X - o.X) / h, (down.Y - o.Y) / h, o.X, o.Y}
}

// Add puts items on top of the page.
func (p *Page) Add(items ...Item) { p.Items = append(p.Items, items...) }

// Line adds a straight line.
func (p *Page) Line(x1, y1, x2, y2, width float64, c Color) {
	p.Add(Path{Points: []plane.Point{plane.Pt(x1, y1), plane.Pt(x2, y2)}, Width: width, Stroke: c})
}

// BoxPath returns a rectangle's outline.
func BoxPath(r plane.Rect, width float64, c Color) Path {
	return Path{Points: []plane.Point{r.Min, plane.Pt(r.Max.X, r.Min.Y), r.Max, plane.Pt(r.Min.X, r.Max.Y)}, Closed: true, Width: width, Stroke: c}
}

// Box returns the rectangle at x, y with the given sides.
func Box(x, y, w, h float64) plane.Rect {
	return plane.Rect{Min: plane.Pt(x, y), Max: plane.Pt(x+w, y+h)}
}

// Ring adds a circle's outline.
func (p *Page) Ring(mid plane.Point, r float64, c Color) {
	const sides = 24
	path := Path{Closed: true, Width: 0.35, Stroke: c}
	for i := range sides {
		sin, cos := math.Sincos(2 * math.Pi * float64(i) / sides)
		path.Points = append(path.Points, plane.Pt(mid.X+r*cos, mid.Y+r*sin))
	}
	p.Add(path)
}

// Dark returns how dark a colour is, 0 for paper to 1 for black, as the eye sees it.
func (c Color) Dark() float64 { return 1 - colour.Of(c.R, c.G, c.B).L/100 }
