package accuracy

import "math"

// A pixel is burnt out from this value in all three channels, of 255, and a box from such a
// share of them: no line can be seen there. Of a scan, and of a photo that is white all over
// without any fall of light, the paper itself is so bright (as photo.Judge has it). Ours.
const (
	burntOut   = 253
	burntShare = 0.5
	whiteShare = 0.6
	whiteFall  = 0.08
)

// burnt returns which boxes cannot be judged, because light shines back from them.
func (d Seen) burnt() []bool {
	n, out := d.net, make([]bool, d.net.count())
	if d.Even.Dark {
		return out
	}
	full, all := make([]float64, n.count()), make([]float64, n.count())
	whole, pixels := 0.0, 0.0
	for y := 0; y < d.Photo.Rect.Dy(); y += 2 {
		row := d.Photo.Pix[y*d.Photo.Stride:]
		for x := 0; x < d.Photo.Rect.Dx(); x += 2 {
			i := n.at(float64(x), float64(y))
			if i < 0 {
				continue
			}
			all[i]++
			pixels++
			if p := row[4*x:]; p[0] >= burntOut && p[1] >= burntOut && p[2] >= burntOut {
				full[i]++
				whole++
			}
		}
	}
	if whole > whiteShare*pixels && d.Even.Fall < whiteFall {
		return out
	}
	for i := range out {
		out[i] = full[i] > burntShare*math.Max(1, all[i])
	}
	return out
}
