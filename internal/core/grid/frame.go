package grid

import (
	"encoding/json"
	"math"

	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/plane"
)

// Frame is the part of the picture that is used, in pixels of the upright
// picture: a rectangle about its centre, turned clockwise, and mirrored last.
type Frame struct {
	Picture [2]int      `json:"picture_px"`
	Centre  plane.Point `json:"centre_px"`
	Size    [2]float64  `json:"size_px"`
	Angle   float64     `json:"angle_deg,omitzero"`
	Mirror  bool        `json:"mirror,omitempty"`
}

// UnmarshalJSON also reads a frame of the first files, which said where its top left corner
// lies, min_px, and not its centre.
func (f *Frame) UnmarshalJSON(b []byte) error {
	type plain Frame
	file := struct {
		plain
		Min *[2]float64 `json:"min_px"`
	}{}
	if err := json.Unmarshal(b, &file); err != nil {
		return err
	}
	*f = Frame(file.plain)
	if file.Min != nil && f.Centre == (plane.Point{}) {
		f.Centre = plane.Pt(file.Min[0]+f.Size[0]/2, file.Min[1]+f.Size[1]/2)
	}
	return nil
}

// Corners returns the frame's corners in picture pixels, in the order in which
// the frame shows them: top left, top right, bottom right, bottom left.
func (f Frame) Corners() [4]plane.Point {
	var corners [4]plane.Point
	for i, c := range [4]plane.Point{plane.Pt(0, 0), plane.Pt(f.Size[0], 0), plane.Pt(f.Size[0], f.Size[1]), plane.Pt(0, f.Size[1])} {
		corners[i] = f.ToPicture(c)
	}
	return corners
}

// Whole reports whether the frame is all of the picture, as it is.
func (f Frame) Whole() bool {
	return f.Angle == 0 && !f.Mirror && f.Size == [2]float64{float64(f.Picture[0]), float64(f.Picture[1])}
}

// Inside reports whether all of the frame lies on the picture, to half a pixel.
func (f Frame) Inside() bool {
	for _, c := range f.Corners() {
		if !(c.X >= -0.5 && c.Y >= -0.5 && c.X <= float64(f.Picture[0])+0.5 && c.Y <= float64(f.Picture[1])+0.5) {
			return false
		}
	}
	return true
}

// ToPicture carries pixels of the frame to pixels of the picture.
func (f Frame) ToPicture(p plane.Point) plane.Point {
	if f.Mirror {
		p.X = f.Size[0] - p.X
	}
	sin, cos := math.Sincos(f.Angle * math.Pi / 180)
	x, y := p.X-f.Size[0]/2, p.Y-f.Size[1]/2
	return plane.Pt(f.Centre.X+x*cos-y*sin, f.Centre.Y+x*sin+y*cos)
}

// FromPicture undoes ToPicture.
func (f Frame) FromPicture(p plane.Point) plane.Point {
	sin, cos := math.Sincos(f.Angle * math.Pi / 180)
	x, y := p.X-f.Centre.X, p.Y-f.Centre.Y
	out := plane.Pt(x*cos+y*sin+f.Size[0]/2, -x*sin+y*cos+f.Size[1]/2)
	if f.Mirror {
		out.X = f.Size[0] - out.X
	}
	return out
}

// CutTo returns the largest frame of the given ratio (width ÷ height) in the
// middle of f. A ratio that differs by less than half a per cent is rounding,
// and f is kept.
func (f Frame) CutTo(ratio float64) Frame {
	switch have := f.Size[0] / f.Size[1]; {
	case have > ratio*1.005:
		f.Size[0] = tidy(f.Size[1] * ratio)
	case have < ratio/1.005:
		f.Size[1] = tidy(f.Size[0] / ratio)
	}
	return f
}

// wholePicture returns the frame of all of a picture, nil for no picture.
func wholePicture(picture [2]int) *Frame {
	if picture[0] <= 0 || picture[1] <= 0 {
		return nil
	}
	w, h := float64(picture[0]), float64(picture[1])
	return &Frame{Picture: picture, Centre: plane.Pt(w/2, h/2), Size: [2]float64{w, h}}
}

// PixelsPerInch returns how fine the picture is when printed at the plan's
// size, 0 where no picture is known.
func (p Plan) PixelsPerInch() float64 {
	if p.Frame == nil {
		return 0
	}
	return p.Frame.Size[0] / (p.Reference.Width / measure.MillimetresPerInch)
}

// FromPicture returns where a pixel of the upright picture lies on the printed
// reference, in millimetres; ToPicture undoes it. Without a frame a pixel
// counts as a millimetre.
func (p Plan) FromPicture(px plane.Point) plane.Point {
	if p.Frame == nil {
		return px
	}
	at := p.Frame.FromPicture(px)
	return plane.Pt(at.X*p.Reference.Width/p.Frame.Size[0], at.Y*p.Reference.Height/p.Frame.Size[1])
}

// ToPicture returns the pixel of the upright picture at a place on the printed reference.
func (p Plan) ToPicture(mm plane.Point) plane.Point {
	if p.Frame == nil {
		return mm
	}
	return p.Frame.ToPicture(plane.Pt(mm.X*p.Frame.Size[0]/p.Reference.Width, mm.Y*p.Frame.Size[1]/p.Reference.Height))
}
