// Package plane is the flat geometry that the others share: points, boxes and
// four-cornered shapes. It knows nothing of paper, pictures or grids; what its
// numbers count — picture pixels, millimetres of the reference or of the sheet,
// boxes — is said by the names of those who hold them.
package plane

import (
	"encoding/json"
	"math"
)

// Point is a place, or a way from one place to another: x right and y down. The
// centre of a picture's top left pixel is (0.5, 0.5). In JSON it is [x, y].
type Point struct{ X, Y float64 }

// Pt returns Point{x, y}.
func Pt(x, y float64) (p Point) {
	p.X, p.Y = x, y
	return p
}

// Add returns p moved by q.
func (p Point) Add(q Point) Point { return Pt(p.X+q.X, p.Y+q.Y) }

// Sub returns the way from q to p.
func (p Point) Sub(q Point) Point { return Pt(p.X-q.X, p.Y-q.Y) }

// Mul returns p times k.
func (p Point) Mul(k float64) Point { return Pt(p.X*k, p.Y*k) }

// Len returns the distance of p from the origin: a way's length.
func (p Point) Len() float64 { return math.Hypot(p.X, p.Y) }

// To returns the point a share of the way from p to q: p at 0, q at 1.
func (p Point) To(q Point, share float64) Point { return p.Add(q.Sub(p).Mul(share)) }

// FromSegment returns how far p is from the nearest place of the line from a to b.
func (p Point) FromSegment(a, b Point) float64 {
	d, q := b.Sub(a), p.Sub(a)
	t := 0.0
	if long := d.X*d.X + d.Y*d.Y; long > 0 {
		t = max(0, min(1, (q.X*d.X+q.Y*d.Y)/long))
	}
	return p.Sub(a.To(b, t)).Len()
}

// MarshalJSON writes [x, y].
func (p Point) MarshalJSON() ([]byte, error) { return json.Marshal([2]float64{p.X, p.Y}) }

// UnmarshalJSON reads [x, y].
func (p *Point) UnmarshalJSON(b []byte) error {
	var v [2]float64
	if err := json.Unmarshal(b, &v); err != nil {
		return err
	}
	p.X, p.Y = v[0], v[1]
	return nil
}
