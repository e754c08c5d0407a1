package accuracy

import (
	"errors"
	"math"

	"zestysketch/internal/core/plane"
)

// Similarity is a move, turn and size: p is carried to Scale · R(Angle) · p + Move.
// The angle is in radians from +x towards +y, which is clockwise as seen.
type Similarity struct {
	Scale, Angle float64
	Move         plane.Point
}

// ErrFlat is the error of points that all lie in one place, which no turn or size can be read from.
var ErrFlat = errors.New("the landmarks all lie in one place; spread them over the picture")

// Apply returns where p is carried.
func (s Similarity) Apply(p plane.Point) plane.Point {
	sin, cos := math.Sincos(s.Angle)
	return plane.Pt(s.Scale*(cos*p.X-sin*p.Y)+s.Move.X, s.Scale*(sin*p.X+cos*p.Y)+s.Move.Y)
}

// FitSimilarity returns the similarity that carries from nearest to to by
// weighted least squares, and the weighted root mean square of what remains.
// It is the closed form of Umeyama (1991), IEEE PAMI 13(4), equations 34 to
// 43, in the plane and without reflection, where the rotation of the singular
// value decomposition reduces to one arctangent. The slices have one length,
// at least 2; weights are more than 0.
func FitSimilarity(from, to []plane.Point, weights []float64) (Similarity, float64, error) {
	total := 0.0
	for _, w := range weights {
		total += w
	}
	a, b := centre(from, weights, total), centre(to, weights, total)
	var spread, along, across float64
	for i, w := range weights {
		p, q := from[i].Sub(a), to[i].Sub(b)
		spread += w * (p.X*p.X + p.Y*p.Y)
		along += w * (p.X*q.X + p.Y*q.Y)
		across += w * (p.X*q.Y - p.Y*q.X)
	}
	if spread/total < 1e-9 || math.Hypot(along, across) == 0 {
		return Similarity{}, 0, ErrFlat
	}
	s := Similarity{Scale: math.Hypot(along, across) / spread, Angle: math.Atan2(across, along)}
	s.Move = b.Sub(s.Apply(a))
	rest := 0.0
	for i, w := range weights {
		d := to[i].Sub(s.Apply(from[i]))
		rest += w * (d.X*d.X + d.Y*d.Y)
	}
	return s, math.Sqrt(rest / total), nil
}

func centre(points []plane.Point, weights []float64, total float64) (c plane.Point) {
	for i, p := range points {
		c.X += weights[i] * p.X / total
		c.Y += weights[i] * p.Y / total
	}
	return c
}
