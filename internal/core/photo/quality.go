package photo

import (
	"fmt"
	"image"
	"math"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/lines"
	"zestysketch/internal/core/plane"
)

// Quality says how good a photo is for measuring.
type Quality struct {
	PixelsPerCell float64  `json:"pixels_per_cell"`
	Sharpness     float64  `json:"sharpness"` // 0 to 1: how much of the finest detail is left
	Jolted        bool     `json:"jolted"`    // little is left one way, and much more the other: the camera moved
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
	leastPixels = 20   // below this nothing is measured
	blurred     = 0.35 // sharpness
	hopeless    = 0.15
	jolted      = 1.7 // times as sharp one way as the other
	burnt       = 0.02
	deepShadow  = 0.5
	steep       = 30 // degrees
	tooSteep    = 55
)

// PixelsPerCell returns how many photo pixels a box takes, the root of its area.
func PixelsPerCell(p grid.Plan, corners plane.Quad) float64 {
	return math.Sqrt(corners.Area() / (p.Sheet.Width * p.Sheet.Height) * p.Grid.SheetCell[0] * p.Grid.SheetCell[1])
}

// Judge says how good a photo of a plan's sheet is, given where the sheet lies
// in it and the sheet straight on.
func Judge(p grid.Plan, s *Shot, corners plane.Quad, straight *image.RGBA, e Evened, f Frame) Quality {
	q := Quality{Problems: []string{}, Usable: true}
	q.PixelsPerCell = PixelsPerCell(p, corners)
	all, down, across := sharpness(e.Ink, f.Cell)
	worse := min(down, across)
	q.Sharpness, q.Jolted = all, worse < blurred && max(down, across) > jolted*worse
	q.Glare = glare(straight, e)
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
	switch {
	case q.Jolted:
		say(true, "The camera moved while the photo was taken, and its lines are blurred. Rest the arms and take it again.")
	case q.Sharpness < blurred:
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

// sharpness returns how fine the drawn lines are in the photo, in all and one way
// alone: those that run down, and those that run across. It is 1 where the
// photo's blur is a fiftieth of a box or less, less in proportion. The blur is
// told by blurring once more: what is blurred already loses little by it (after
// Crété and others 2007, Human Vision and Electronic Imaging XII). Too few lines give 1.
func sharpness(ink lines.Plane, cell float64) (all, down, across float64) {
	once := ink.Blur(grainBlur)
	twice := once.Blur(moreBlur)
	var both, upright, level slopes
	for y := 4; y < ink.H-4; y++ {
		a, up, under := once.Row(y), once.Row(y-1), once.Row(y+1)
		b, far, below := twice.Row(y), twice.Row(y-1), twice.Row(y+1)
		top, foot, above, beneath := twice.Row(y-4), twice.Row(y+4), once.Row(y-4), once.Row(y+4)
		for x := 4; x < ink.W-4; x++ {
			beside, over := max(b[x-4], b[x+4])-b[x], max(top[x], foot[x])-b[x]
			if max(beside, over) < leastLine {
				continue
			}
			dx, dy := sq(a[x+1]-a[x-1]), sq(under[x]-up[x])
			bx, by := sq(b[x+1]-b[x-1]), sq(below[x]-far[x])
			both.add(dx+dy, bx+by)
			// Beyond a line's end there is something after the blur, and nothing before.
			switch {
			case beside > clearly*over && max(a[x-4], a[x+4])-a[x] > leastLine:
				upright.add(dx, bx)
			case over > clearly*beside && max(above[x], beneath[x])-a[x] > leastLine:
				level.add(dy, by)
			}
		}
	}
	return both.sharpness(cell), upright.sharpness(cell), level.sharpness(cell)
}

// clearly is how much lighter it must be beside a line than along it for the line to run one way.
const clearly = 2

// The first blur takes the grain out, the other tells how much there is already: sigma, pixels.
const grainBlur, moreBlur = 0.8, 2.0

// slopes sums the squares of slopes across lines of one direction, before and after one more blur.
type slopes struct {
	before, after float64
	n             int
}

func (s *slopes) add(before, after float32) {
	s.before, s.after, s.n = s.before+float64(before), s.after+float64(after), s.n+1
}

// sharpness returns how fine the lines are; 1 where there are too few.
func (s slopes) sharpness(cell float64) float64 {
	if s.n < 100 || s.before == 0 {
		return 1
	}
	// A line's energy of slope falls with the cube of its breadth.
	q := math.Pow(min(0.999, s.after/s.before), 2.0/3)
	blur := moreBlur*math.Sqrt(q/(1-q)) + 1e-9
	return min(1, 0.02*cell/math.Max(1e-9, math.Sqrt(max(0, blur*blur-grainBlur*grainBlur))))
}

// leastLine is how much darker than paper a line must be to judge sharpness by.
const leastLine = 0.03

func sq(v float32) float32 { return v * v }

// glare returns the share of the sheet that is burnt out: all components at
// their end, in a sheet whose paper mostly is not.
func glare(img *image.RGBA, e Evened) float64 {
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
	if share > 0.6 && e.Fall < 0.08 || e.Dark && share < 0.03 { // a scan's paper is white all over
		return 0
	}
	return share
}

// tilt returns about how many degrees the camera looked from the side: the
// root of the ratio of opposite sides' change, for a phone held at about one and
// a half times the sheet's length.
func tilt(p grid.Plan, q plane.Quad) float64 {
	bend := func(a, b float64) float64 { // the near side is longer
		const away = 1.5
		return math.Atan(away * math.Abs(math.Log(a/b)))
	}
	x, y := bend(q.Side(1), q.Side(3)), bend(q.Side(0), q.Side(2))
	shape := math.Abs(math.Log(q.Ratio() * p.Sheet.Height / p.Sheet.Width))
	squeezed := math.Acos(math.Exp(-shape)) // foreshortening alone
	return max(math.Hypot(x, y), squeezed) * 180 / math.Pi
}
