package photo

import (
	"cmp"
	"fmt"
	"image"
	"math"
	"slices"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/lines"
	"zestysketch/internal/core/picture"
)

// Quality says how good a photo is for measuring.
type Quality struct {
	PixelsPerCell float64  `json:"pixels_per_cell"`
	Sharpness     float64  `json:"sharpness"` // 0 to 1: how much of the finest detail is left
	Glare         float64  `json:"glare"`     // share of the sheet that is burnt out, 0 to 1
	Shadow        float64  `json:"shadow"`    // how much darker the paper's darkest part is, 0 to 1
	Tilt          float64  `json:"tilt_deg"`  // of the camera from straight above, about
	CutOff        int      `json:"cut_off"`   // corners outside the photo
	Problems      []string `json:"problems"`  // what to do again, in words
	Usable        bool     `json:"usable"`    // false where measuring would only guess
}

// Limits of a photo. All ours, tried with the pretend camera, docs/measuring.md.
const (
	fewPixels   = 30   // a box: below this a tenth of a box is three pixels
	leastPixels = 14   // below this nothing is measured
	blurred     = 0.35 // sharpness
	hopeless    = 0.12
	burnt       = 0.02
	deepShadow  = 0.5
	steep       = 30 // degrees
	tooSteep    = 55
)

// Judge says how good a photo of a plan's sheet is, given where the sheet lies
// in it and the sheet straight on.
func Judge(p grid.Plan, s *Shot, corners picture.Quad, straight *image.RGBA, e Evened, f Frame) Quality {
	q := Quality{Problems: []string{}, Usable: true}
	cellArea := p.Grid.SheetCell[0] * p.Grid.SheetCell[1]
	q.PixelsPerCell = math.Sqrt(corners.Area() / (p.Sheet.Width * p.Sheet.Height) * cellArea)
	q.Sharpness = sharpness(e.Ink)
	q.Glare = glare(straight, e.Dark)
	q.Shadow = e.Fall
	q.Tilt = tilt(p, corners)
	w, h := float64(s.Full.Rect.Dx()), float64(s.Full.Rect.Dy())
	for _, c := range corners {
		if c.X < -1 || c.Y < -1 || c.X > w+1 || c.Y > h+1 {
			q.CutOff++
		}
	}
	q.say()
	return q
}

func (q *Quality) say() {
	say := func(unusable bool, format string, args ...any) {
		q.Problems = append(q.Problems, fmt.Sprintf(format, args...))
		q.Usable = q.Usable && !unusable
	}
	if q.PixelsPerCell < fewPixels {
		say(q.PixelsPerCell < leastPixels, "A box is only %.0f pixels wide in this photo; photograph it from nearer, at least %d pixels a box.", q.PixelsPerCell, fewPixels)
	}
	if q.Sharpness < blurred {
		say(q.Sharpness < hopeless, "The photo is blurred. Hold still, or rest the arms, and take it again.")
	}
	if q.Glare > burnt {
		say(q.Glare > 0.25, "Light shines back from %.0f %% of the sheet. Move the lamp or the drawing so that nothing glares.", q.Glare*100)
	}
	if q.Shadow > deepShadow {
		say(false, "The light falls off by %.0f %% across the sheet. Turn it towards the window; tones are not judged in deep shadow.", q.Shadow*100)
	}
	if q.Tilt > steep {
		say(q.Tilt > tooSteep, "The camera looks from the side, about %.0f° off. Hold it level, straight above the middle.", q.Tilt)
	}
	if q.CutOff > 0 {
		say(true, "%d of the four corners are outside the photo. Step back until all four are in view.", q.CutOff)
	}
}

// sharpness returns how steep the clearest lines are beside how steep they
// would be in a photo without blur: 1 is a step within a pixel or two, and what
// is said of a sheet with no clear line on it.
func sharpness(ink lines.Plane) float64 {
	type change struct{ deep, steep float32 }
	var all []change
	for y := 2; y < ink.H-2; y += 2 {
		row, up, down := ink.Row(y), ink.Row(y-2), ink.Row(y+2)
		above, below := ink.Row(y-1), ink.Row(y+1)
		for x := 2; x < ink.W-2; x++ {
			low, high := min(row[x-2], row[x], row[x+2], up[x], down[x]), max(row[x-2], row[x], row[x+2], up[x], down[x])
			if high-low > clearLine {
				all = append(all, change{high - low, max(absf(row[x+1]-row[x-1]), absf(below[x]-above[x]))})
			}
		}
	}
	if len(all) < 200 {
		return 1
	}
	slices.SortFunc(all, func(a, b change) int { return cmp.Compare(b.deep, a.deep) })
	steep, deep := 0.0, 0.0
	for _, c := range all[:len(all)/2] {
		steep += float64(c.steep)
		deep += float64(c.deep)
	}
	return min(1, max(0, (steep/deep-0.3)/0.5))
}

// clearLine is how much darker than paper a line must be to judge sharpness by.
const clearLine = 0.2

// glare returns the share of the sheet that is burnt out: all components at
// their end, in a sheet whose paper mostly is not.
func glare(img *image.RGBA, dark bool) float64 {
	full, n := 0, 0
	for y := 0; y < img.Rect.Dy(); y += 2 {
		row := img.Pix[y*img.Stride:]
		for x := 0; x < img.Rect.Dx(); x += 2 {
			n++
			if p := row[4*x:]; p[0] >= 253 && p[1] >= 253 && p[2] >= 253 {
				full++
			}
		}
	}
	share := float64(full) / float64(n)
	if share > 0.6 || dark && share < 0.03 { // a scan's paper is white all over
		return 0
	}
	return share
}

// tilt returns about how many degrees the camera looked from the side: the
// root of the ratio of opposite sides' change, for a phone held at about one and
// a half times the sheet's length.
func tilt(p grid.Plan, q picture.Quad) float64 {
	side := func(i int) float64 { return math.Hypot(q[(i+1)%4].X-q[i].X, q[(i+1)%4].Y-q[i].Y) }
	bend := func(a, b float64) float64 { // the near side is longer
		const away = 1.5
		return math.Atan(away * math.Abs(math.Log(a/b)))
	}
	x, y := bend(side(1), side(3)), bend(side(0), side(2))
	shape := math.Abs(math.Log((side(0) + side(2)) / (side(1) + side(3)) * p.Sheet.Height / p.Sheet.Width))
	squeezed := math.Acos(math.Exp(-shape)) // foreshortening alone
	return max(math.Hypot(x, y), squeezed) * 180 / math.Pi
}

func absf(v float32) float32 { return max(v, -v) }
