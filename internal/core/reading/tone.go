package reading

import (
	"image"
	"math"
	"slices"
	"strings"

	"zestysketch/internal/core/lines"
	"zestysketch/internal/core/plane"
)

// Tones of a box are looked at in nine parts. They are as one where they differ by no more than evenTone; a box is
// darker to one side where its thirds differ by more than tiltTone on average, and paper is no tone.
const (
	evenTone  = 0.12
	tiltTone  = 0.1
	paperTone = 0.93
	ninthSide = 5 // places looked at across a ninth
)

// tones returns how light the nine parts of a rectangle on the sheet are, row by row; light gives it of a place there.
func tones(light func(plane.Point) float64, low, high plane.Point) (nine [9]float64) {
	size := high.Sub(low)
	for k := range nine {
		var all []float64
		for i := range ninthSide * ninthSide {
			x, y := float64(k%3)+(float64(i%ninthSide)+0.5)/ninthSide, float64(k/3)+(float64(i/ninthSide)+0.5)/ninthSide
			all = append(all, light(low.Add(plane.Pt(size.X*x/3, size.Y*y/3))))
		}
		slices.Sort(all)
		nine[k] = all[len(all)/2] // a line on it changes nothing
	}
	return nine
}

// toneWords says the tones of a box in one sentence; "" where it is bare paper.
func toneWords(nine [9]float64) string {
	low, high, mean := slices.Min(nine[:]), slices.Max(nine[:]), 0.0
	for _, v := range nine {
		mean += v / 9
	}
	if low >= paperTone {
		return ""
	}
	name := toneName(mean)
	if high-low <= evenTone {
		return "It is " + name + " all over."
	}
	third := func(of func(k int) int) float64 { // how much darker its last third is than its first
		d := 0.0
		for k, v := range nine {
			d += v * float64(1-of(k)) / 3
		}
		return d
	}
	right, down := third(func(k int) int { return k % 3 }), third(func(k int) int { return k / 3 })
	var ways []string
	if math.Abs(down) > tiltTone {
		ways = append(ways, map[bool]string{true: "to the bottom", false: "to the top"}[down > 0])
	}
	if math.Abs(right) > tiltTone {
		ways = append(ways, map[bool]string{true: "to the right", false: "to the left"}[right > 0])
	}
	if len(ways) > 0 {
		return "It is " + name + " on the whole, darker " + strings.Join(ways, " and ") + "."
	}
	dark := slices.Index(nine[:], low)
	return "It is " + name + " on the whole, darkest " + ninth(dark) + "."
}

func toneName(light float64) string {
	switch {
	case light < 0.2:
		return "black"
	case light < 0.4:
		return "dark"
	case light < 0.6:
		return "grey"
	case light < 0.8:
		return "light grey"
	}
	return "light"
}

func ninth(k int) string {
	down, side := [3]string{"at the top", "", "at the bottom"}[k/3], [3]string{"left", "", "right"}[k%3]
	switch {
	case down == "" && side == "":
		return "in the middle"
	case down == "":
		return "on the " + side
	}
	return strings.TrimSpace(down + " " + side)
}

// A border is soft where, of the change of tone across it from so far to each side, on paper, less than a part
// happens close by; where all of it is less than edgeChange it is a line.
const edgeFarMM, edgeNearMM, softShare, edgeChange = 3.0, 0.8, 0.5, 0.06

// edgeAt returns how a picture's tone changes across a line at a place, in pixels.
func edgeAt(light lines.Plane, at, way plane.Point, perMM float64) Edge {
	across := plane.Pt(-way.Y, way.X).Mul(perMM)
	change := func(mm float64) float64 {
		a, b := at.Add(across.Mul(mm)), at.Sub(across.Mul(mm))
		return math.Abs(float64(light.At(int(a.X), int(a.Y)) - light.At(int(b.X), int(b.Y))))
	}
	far, near := change(edgeFarMM), change(edgeNearMM)
	switch {
	case max(far, near) < edgeChange:
		return ""
	case near < softShare*far:
		return SoftEdge
	}
	return HardEdge
}

// edge returns what most of a line, in mm on the sheet, is.
func (r *reader) edge(points []plane.Point) Edge {
	if r.wish.Edge == nil {
		return ""
	}
	count := map[Edge]int{}
	for i := 1; i < len(points); i++ {
		a, b := r.pixel(points[i-1]), r.pixel(points[i])
		if way := b.Sub(a); way.Len() > 0 {
			count[r.wish.Edge(a.To(b, 0.5), way.Mul(1/way.Len()))]++
		}
	}
	most := Edge("")
	for _, e := range []Edge{HardEdge, SoftEdge} {
		if count[e] > count[most] {
			most = e
		}
	}
	return most
}

// pixel returns the pixel of the picture at a place on the sheet.
func (r *reader) pixel(sheet plane.Point) plane.Point {
	return r.plan.ToPicture(r.plan.ToReference(sheet))
}

// A box without lines is one bare surface where, of touchSide by touchSide places, fewer than leastTouched in a ninth
// differ from what it mostly is by leastTouch, in any of red, green and blue.
const touchSide, leastTouched, leastTouch = 30, 5, 0.06

// touch returns in which ninth of a part of a picture, in pixels, most places differ from what it mostly is.
func touch(img *image.RGBA, low, high plane.Point) (most int, differs bool) {
	step := high.Sub(low).Mul(1.0 / touchSide)
	r := int(max(1, min(step.X, step.Y)/4))
	var seen [touchSide * touchSide][3]float64
	for i := range seen {
		x, y := low.X+(float64(i%touchSide)+0.5)*step.X, low.Y+(float64(i/touchSide)+0.5)*step.Y
		seen[i] = meanOf(img, int(x), int(y), r)
	}
	var usual [3]float64
	for c := range usual {
		var all []float64
		for _, v := range seen {
			all = append(all, v[c])
		}
		slices.Sort(all)
		usual[c] = all[len(all)/2]
	}
	var touched [9]int
	for i, v := range seen {
		if max(math.Abs(v[0]-usual[0]), math.Abs(v[1]-usual[1]), math.Abs(v[2]-usual[2])) >= leastTouch {
			touched[i%touchSide*3/touchSide+i/touchSide*3/touchSide*3]++
		}
	}
	for k, n := range touched {
		if n > touched[most] {
			most = k
		}
	}
	return most, touched[most] >= leastTouched
}

// meanOf returns the mean colour, 0 to 1, of so many pixels round a place; what lies beyond the picture is its edge.
func meanOf(img *image.RGBA, x, y, r int) (mean [3]float64) {
	n := float64((2*r + 1) * (2*r + 1))
	for dy := -r; dy <= r; dy++ {
		for dx := -r; dx <= r; dx++ {
			at := img.PixOffset(max(0, min(img.Rect.Dx()-1, x+dx)), max(0, min(img.Rect.Dy()-1, y+dy)))
			for c := range mean {
				mean[c] += float64(img.Pix[at+c]) / 255 / n
			}
		}
	}
	return mean
}
