// Package photo finds a drawing in a photograph: where its grid lies, whether
// the photo is good enough to measure, and how the drawing looks straight on
// and in even light.
//
// It knows photographs, paper and grids. What a drawing should look like is
// package accuracy's.
package photo

import (
	"errors"
	"image"
	"math"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/core/plane"
)

// Frame is the pixel frame in which drawing and reference are compared: the
// sheet of a plan straight on, with a margin round it.
type Frame struct {
	PerMM  float64 // pixels a millimetre on the sheet
	Margin float64 // pixels on every side
	W, H   int
	Cell   float64 // pixels a box: the root of its area
}

// How fine drawings are compared. A line of a pencil, 1 mm in a box of 38, is
// one to two pixels broad at the most; more pixels cost time and tell no more.
const (
	mostPerCell  = 64.0
	leastPerCell = 24.0
	frameRoom    = 1 << 20 // pixels in all, which bounds time and memory
	marginCell   = 0.25    // of a box
)

// FrameFor returns the frame of a plan's sheet for a photo with so many pixels a box.
func FrameFor(p grid.Plan, pixelsPerCell float64) Frame {
	cellMM := math.Sqrt(p.Grid.SheetCell[0] * p.Grid.SheetCell[1])
	room := math.Sqrt(frameRoom / (p.Sheet.Width * p.Sheet.Height) * cellMM * cellMM)
	f := Frame{Cell: max(leastPerCell, min(mostPerCell, room, pixelsPerCell))}
	f.PerMM = f.Cell / cellMM
	f.Margin = math.Round(marginCell * f.Cell)
	f.W = int(math.Ceil(p.Sheet.Width*f.PerMM + 2*f.Margin))
	f.H = int(math.Ceil(p.Sheet.Height*f.PerMM + 2*f.Margin))
	return f
}

// Pixel returns where a place on the sheet lies in the frame; Sheet undoes it.
func (f Frame) Pixel(at plane.Point) plane.Point {
	return plane.Pt(f.Margin+at.X*f.PerMM, f.Margin+at.Y*f.PerMM)
}

// Sheet returns the millimetres of the sheet at a pixel of the frame.
func (f Frame) Sheet(px plane.Point) plane.Point {
	return plane.Pt((px.X-f.Margin)/f.PerMM, (px.Y-f.Margin)/f.PerMM)
}

// Lens undoes the bend of a wide lens: the division model of Fitzgibbon (2001),
// CVPR, with one coefficient. Radii are in half diagonals of the photo.
type Lens struct {
	K      float64
	Centre plane.Point
	Radius float64
}

// NewLens returns the lens of a photo of w × h pixels.
func NewLens(w, h int, k float64) Lens {
	return Lens{k, plane.Pt(float64(w)/2, float64(h)/2), math.Hypot(float64(w), float64(h)) / 2}
}

// Straighten returns where a photo's pixel would lie without the bend.
func (l Lens) Straighten(p plane.Point) plane.Point {
	x, y := p.X-l.Centre.X, p.Y-l.Centre.Y
	s := 1 / (1 + l.K*(x*x+y*y)/(l.Radius*l.Radius))
	return plane.Pt(l.Centre.X+x*s, l.Centre.Y+y*s)
}

// Bend undoes Straighten: the root of a quadratic in the radius, the one that
// is the radius itself where there is no bend.
func (l Lens) Bend(p plane.Point) plane.Point {
	x, y := p.X-l.Centre.X, p.Y-l.Centre.Y
	r2 := (x*x + y*y) / (l.Radius * l.Radius)
	s := 1.0
	if under := 1 - 4*l.K*r2; l.K != 0 && r2 > 0 && under > 0 {
		s = (1 - math.Sqrt(under)) / (2 * l.K * r2)
	}
	return plane.Pt(l.Centre.X+x*s, l.Centre.Y+y*s)
}

// View is how the sheet lies in a photo.
type View struct {
	Lens    Lens
	ToSheet picture.Homography // straightened photo pixels to millimetres of the sheet
	ToPhoto picture.Homography // and back
	Curl    *Curl              // of the sheet; nil where it lies flat
}

// NewView returns the view in which the plan's outer grid rectangle has its
// corners at the given photo pixels. The error is picture.ErrCorners.
func NewView(p grid.Plan, corners plane.Quad, l Lens) (View, error) {
	flat := corners
	for i, c := range corners {
		flat[i] = l.Straighten(c)
	}
	box := plane.Box(p.Sheet.Width, p.Sheet.Height)
	there, err := picture.NewHomography(flat, box)
	if err != nil {
		return View{}, err
	}
	back, err := picture.NewHomography(box, flat)
	return View{Lens: l, ToSheet: there, ToPhoto: back}, err
}

// NewCurledView returns the view of a sheet that curls as a report has it. The error is
// picture.ErrCorners, or says that the curl is none.
func NewCurledView(p grid.Plan, corners plane.Quad, l Lens, curl *Curl) (View, error) {
	v, err := NewView(p, corners, l)
	if err == nil && !curl.usable() {
		err = errors.New("the report's curl is not whole: measure the photo again")
	}
	v.Curl = curl
	return v, err
}

// Sheet returns the place on the sheet, in millimetres, that a photo's pixel
// shows; Photo undoes it.
func (v View) Sheet(px plane.Point) plane.Point {
	return v.Curl.Flat(v.ToSheet.Apply(v.Lens.Straighten(px)))
}

// Photo returns the photo's pixel that shows a place on the sheet.
func (v View) Photo(mm plane.Point) plane.Point { return v.Lens.Bend(v.ToPhoto.Apply(v.Curl.Bent(mm))) }

// Straight returns the sheet seen straight on.
func (v View) Straight(s *Shot, f Frame) *image.RGBA {
	return f.warp(s, func(q plane.Point) plane.Point { return v.Photo(f.Sheet(q)) })
}

// SheetFrame returns the frame of a plan's sheet without a margin, its longer
// side so many pixels.
func SheetFrame(p grid.Plan, side float64) Frame {
	k := side / max(p.Sheet.Width, p.Sheet.Height)
	return Frame{PerMM: k, W: max(1, int(p.Sheet.Width*k+0.5)), H: max(1, int(p.Sheet.Height*k+0.5))}
}

// Wanted returns the reference as it should stand on the sheet: its frame,
// stretched to the sheet; round it is white.
func Wanted(p grid.Plan, ref *Shot, f Frame) *image.RGBA {
	// The way from the sheet to the picture is even: three places tell it all.
	k := 1.0
	size := [2]float64{p.Reference.Width, p.Reference.Height}
	if p.Frame != nil { // a smaller rendering of the picture serves too
		k = float64(ref.Full.Rect.Dx()) / float64(p.Frame.Picture[0])
	} else {
		k = float64(ref.Full.Rect.Dx()) / size[0]
	}
	at := func(x, y float64) plane.Point {
		px := p.ToPicture(plane.Pt(x, y))
		return plane.Pt(px.X*k, px.Y*k)
	}
	o, x, y := at(0, 0), at(size[0], 0), at(0, size[1])
	w, h := p.Sheet.Width*f.PerMM, p.Sheet.Height*f.PerMM
	return f.warp(ref, func(q plane.Point) plane.Point {
		s, t := (q.X-f.Margin)/w, (q.Y-f.Margin)/h
		if s < 0 || t < 0 || s > 1 || t > 1 {
			return plane.Pt(-10, -10)
		}
		return plane.Pt(o.X+s*(x.X-o.X)+t*(y.X-o.X), o.Y+s*(x.Y-o.Y)+t*(y.Y-o.Y))
	})
}

// warp samples a picture into the frame, as finely as it is there in the middle.
func (f Frame) warp(s *Shot, from func(plane.Point) plane.Point) *image.RGBA {
	mid := plane.Pt(float64(f.W)/2, float64(f.H)/2)
	a, b, c := from(mid), from(plane.Pt(mid.X+1, mid.Y)), from(plane.Pt(mid.X, mid.Y+1))
	area := math.Abs((b.X-a.X)*(c.Y-a.Y) - (b.Y-a.Y)*(c.X-a.X))
	img, k := s.atLeast(area)
	if k == 1 {
		return picture.Warp(img, from, f.W, f.H, picture.SamplesFor(area))
	}
	smaller := func(q plane.Point) plane.Point {
		at := from(q)
		return plane.Pt(at.X/k, at.Y/k)
	}
	return picture.Warp(img, smaller, f.W, f.H, picture.SamplesFor(area/(k*k)))
}

// Shot is a photo, or another large picture, with smaller renderings of it
// that are made when they are first wanted. It is for one goroutine.
type Shot struct {
	Full    *image.RGBA
	halves  []*image.RGBA
	outline *image.RGBA // as long as outlineSide
}

// NewShot returns the shot of a picture.
func NewShot(img *image.RGBA) *Shot { return &Shot{Full: img} }

// Size returns the photo's pixels.
func (s *Shot) Size() (w, h int) { return s.Full.Rect.Dx(), s.Full.Rect.Dy() }

// Longer returns the longer side in pixels.
func (s *Shot) Longer() int { return max(s.Full.Rect.Dx(), s.Full.Rect.Dy()) }

// atLeast returns the smallest rendering that still has a pixel and a half for
// each of a result's, which spans area of the photo's, and how much smaller it is.
func (s *Shot) atLeast(area float64) (*image.RGBA, float64) {
	img, k, level := s.Full, 1.0, 0
	for area/(4*k*k) >= 1.5 && min(img.Rect.Dx(), img.Rect.Dy()) > 64 {
		if level == len(s.halves) {
			s.halves = append(s.halves, picture.Halve(img))
		}
		img = s.halves[level]
		level++
		k *= 2
	}
	return img, k
}

// small returns the photo as papers and grids are looked for in, and how many of the
// photo's pixels one of its has a side.
func (s *Shot) small() (*image.RGBA, float64) {
	if s.outline == nil {
		s.outline = s.shrunk(outlineSide)
	}
	return s.outline, float64(s.Longer()) / float64(max(s.outline.Rect.Dx(), s.outline.Rect.Dy()))
}

// shrunk returns the photo no longer than side on its longer side.
func (s *Shot) shrunk(side int) *image.RGBA {
	img, _ := s.atLeast(1.5 * math.Pow(float64(s.Longer())/float64(side), 2))
	return picture.Shrink(img, side)
}
