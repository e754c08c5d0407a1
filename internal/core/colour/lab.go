// Package colour names the colours of a picture plainly, says what to begin
// mixing them from, and how evenly each is spread.
package colour

import (
	"math"

	"zestysketch/internal/core/picture"
)

// Lab is a colour in CIE 1976 L*a*b* under D65: L 0 to 100; a runs from green
// to red, b from blue to yellow.
type Lab struct{ L, A, B float64 }

// whiteX and whiteZ are the tristimulus values of D65 (CIE 15, 2° observer).
const whiteX, whiteZ = 0.95047, 1.08883

// Of returns the Lab of an sRGB colour (IEC 61966-2-1; CIE 15 / ISO 11664-4).
func Of(r, g, b uint8) Lab {
	lr, lg, lb := picture.Linear(r), picture.Linear(g), picture.Linear(b)
	x := 0.4124564*lr + 0.3575761*lg + 0.1804375*lb
	y := 0.2126729*lr + 0.7151522*lg + 0.0721750*lb
	z := 0.0193339*lr + 0.1191920*lg + 0.9503041*lb
	fx, fy, fz := cube(x/whiteX), cube(y), cube(z/whiteZ)
	return Lab{116*fy - 16, 500 * (fx - fy), 200 * (fy - fz)}
}

func cube(t float64) float64 {
	if t > 216.0/24389 {
		return math.Cbrt(t)
	}
	return (24389.0/27*t + 16) / 116
}

// Chroma returns how far a colour is from grey.
func (c Lab) Chroma() float64 { return math.Hypot(c.A, c.B) }

// Hue returns the angle of a colour, 0 to 360 degrees: about 40 is red, 100
// yellow, 140 green, 280 blue.
func (c Lab) Hue() float64 { return math.Mod(math.Atan2(c.B, c.A)*180/math.Pi+360, 360) }

// Apart returns the difference of two colours (ΔE of CIE 1976).
func (c Lab) Apart(o Lab) float64 {
	return math.Sqrt((c.L-o.L)*(c.L-o.L) + (c.A-o.A)*(c.A-o.A) + (c.B-o.B)*(c.B-o.B))
}
