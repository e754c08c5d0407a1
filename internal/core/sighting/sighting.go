// Package sighting knows the ways of measuring that need no grid on the
// picture: the string frame, angle and distance, sight-size, shared guidelines
// and the fold line. It works on lengths and gives lengths.
package sighting

import (
	"errors"
	"fmt"
	"math"

	"zestysketch/internal/core/measure"
)

// ErrAsk is wrapped by errors about what was asked.
var ErrAsk = errors.New("cannot be reckoned")

func ask(format string, args ...any) error {
	return fmt.Errorf("%w: %s", ErrAsk, fmt.Sprintf(format, args...))
}

// StringFrame is a frame of threads between the eye and a real object.
type StringFrame struct {
	Opening measure.Size   // inside the frame
	Spacing measure.Length // between threads
	Eye     measure.Length // from the eye to the threads
	Object  measure.Length // from the eye to the object
}

// Sight is what a string frame shows of the object.
type Sight struct {
	Threads  [2]int         // upright and level ones, the frame's own edges not counted
	Covers   measure.Size   // of the object, what the opening frames
	Each     measure.Length // of the object, what one square of thread covers
	OneInch  measure.Length // how far the view slips when the eye moves one inch sideways
	OneShare float64        // that slip as a share of one square
}

// Look reckons by similar triangles: seen ÷ opening = object distance ÷ eye
// distance. A moved eye slips over the object by the same rule. Errors wrap ErrAsk.
func (f StringFrame) Look() (Sight, error) {
	switch {
	case f.Opening.W <= 0 || f.Opening.H <= 0 || f.Spacing <= 0:
		return Sight{}, ask("the frame's opening and the thread spacing must be more than 0")
	case f.Eye <= 0:
		return Sight{}, ask("the eye must be in front of the threads: its distance must be more than 0")
	case f.Object <= f.Eye:
		return Sight{}, ask("the object must be behind the threads: farther from the eye than %s", f.Eye.Text(measure.Centimetre))
	case f.Spacing > max(f.Opening.W, f.Opening.H):
		return Sight{}, ask("the threads would be farther apart than the frame is wide")
	}
	k := f.Object / f.Eye
	slip := measure.MillimetresPerInch * (k - 1)
	return Sight{
		Threads:  [2]int{threads(f.Opening.W, f.Spacing), threads(f.Opening.H, f.Spacing)},
		Covers:   f.Opening.Scale(float64(k)),
		Each:     f.Spacing * k,
		OneInch:  slip,
		OneShare: float64(slip / (f.Spacing * k)),
	}, nil
}

// widestLook is how broad an opening may be in eye distances before one still eye no
// longer sees it whole without turning the head: 60 degrees across (ours).
const widestLook = 1.15

// Doubts returns in words why the frame will not work in a room of a width and a depth,
// where a side that is 0 is not known: the frame does not stand in it, the object is
// farther away than it is deep, or the frame is broader than a still eye sees.
func (f StringFrame) Doubts(room measure.Size, u measure.Unit) (all []string) {
	if room.W > 0 && f.Opening.W > room.W {
		all = append(all, fmt.Sprintf("The frame is %s wide and the room %s: it does not stand in it. Make the frame narrower than the room.", f.Opening.W.Text(u), room.W.Text(u)))
	}
	if room.H > 0 && f.Object > room.H {
		all = append(all, fmt.Sprintf("The object would stand %s from the eye, and the room is %s deep. Bring it nearer, and the threads nearer to the eye.", f.Object.Text(u), room.H.Text(u)))
	}
	if widest := f.Eye * widestLook; f.Opening.W > widest {
		all = append(all, fmt.Sprintf("From %s a still eye sees about %s across. Stand %s from the threads, or use a narrower frame.",
			f.Eye.Text(u), widest.Text(u), whole(f.Opening.W/widestLook, u).Text(u)))
	}
	return all
}

// whole returns a length rounded up to whole units: nobody stands to a hair.
func whole(l measure.Length, u measure.Unit) measure.Length {
	one := u.Millimetres()
	return measure.Length(math.Ceil(float64(l/one)-1e-6)) * one
}

func threads(side, spacing measure.Length) int {
	return max(0, int(math.Ceil(float64(side/spacing)-1e-6))-1)
}

// Pointing is one point measured from a fixed point: a turn, a distance out
// and, for solid models, a drop and a depth.
type Pointing struct {
	Name  string
	Turn  float64        // degrees, clockwise from straight up
	Out   measure.Length // along the turn
	Drop  measure.Length // downwards from there; 0 on paper
	Depth measure.Length // inwards from there; 0 on paper
}

// Pointed is the same point on the copy.
type Pointed struct {
	Pointing
	X, Y measure.Length // where the length out ends on the copy, right and down from its fixed point
}

// Point multiplies every length by scale and keeps every angle. The scale must be more than 0.
func Point(points []Pointing, scale float64) ([]Pointed, error) {
	if !(scale > 0 && scale <= 1e6) {
		return nil, ask("the scale must be more than 0, got %g", scale)
	}
	k := measure.Length(scale)
	out := make([]Pointed, len(points))
	for i, p := range points {
		p.Out, p.Drop, p.Depth = p.Out*k, p.Drop*k, p.Depth*k
		sin, cos := math.Sincos(p.Turn * math.Pi / 180)
		out[i] = Pointed{p, p.Out * measure.Length(sin), -p.Out * measure.Length(cos)}
	}
	return out, nil
}

// Carried is one point of a sight-size drawing.
type Carried struct {
	Name   string
	Height measure.Length // carried straight across from the picture, from its top
	In     measure.Length // then measured in from the drawing's own plumb line
}

// SightSize returns, for points measured from the picture's top and from its
// plumb line (left is minus), what to mark on a drawing that stands beside it
// at the given scale: 1 is true sight-size, where heights are only carried
// across. Points keep their order.
func SightSize(points []Carried, scale float64) ([]Carried, error) {
	if !(scale > 0 && scale <= 100) {
		return nil, ask("the scale must be more than 0 and at most 100, got %g", scale)
	}
	out := make([]Carried, len(points))
	for i, p := range points {
		out[i] = Carried{p.Name, p.Height * measure.Length(scale), p.In * measure.Length(scale)}
	}
	return out, nil
}

// Mirrored returns where the other half of a fold-line drawing has each point:
// as far from the fold on the other side, at the same height.
func Mirrored(points []Carried) []Carried {
	out := make([]Carried, len(points))
	for i, p := range points {
		out[i] = Carried{p.Name, p.Height, -p.In}
	}
	return out
}
