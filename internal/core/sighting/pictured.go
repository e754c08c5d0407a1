package sighting

import (
	"cmp"
	"math"
	"slices"

	"zestysketch/internal/core/measure"
)

// Pictured is one of several views as its own picture shows it, in that picture's pixels:
// how large the picture is, how far down the points that stand on the common top and
// bottom lines lie, and further marks.
type Pictured struct {
	Name          string
	Width, Height float64
	Top, Bottom   float64
	Marks         []PixelMark
}

// PixelMark is a mark by name, and how far down its picture it lies.
type PixelMark struct {
	Name string
	Down float64
}

// Lined are pictures brought to one height between common lines on a sheet.
type Lined struct {
	Top, Bottom measure.Length // the lines, from the sheet's top
	Views       []Placed
	Levels      []Level  // further lines, by the marks of the first view that has each
	Misfits     []Misfit // marks that stand elsewhere in another view
}

// Placed is a view's whole picture on the sheet, and how many times its own pixels it is.
type Placed struct {
	Name                      string
	Left, Over, Width, Height measure.Length
	MillimetresAPixel         float64
}

// Misfit is a mark that stands lower in a view than in the first that has it; minus is
// higher.
type Misfit struct {
	View, Mark string
	Lower      measure.Length
}

// FewestViews and MostViews are how many pictures can be lined up.
const FewestViews, MostViews = 2, 6

// leastPressed is how far pressed points must lie apart to be measured by, of the
// picture's height (ours).
const leastPressed = 0.02

// sameLevel is how far a mark may stand from its line, as a share of the height (ours).
const sameLevel = 0.01

// LineUp brings pictures of one thing to one height: each is enlarged until its two
// pressed points stand on the common lines, and all stand side by side on the sheet, as
// large as it allows, with gaps between and round them. Without a gap two pictures hang
// together as a pair. Errors wrap ErrAsk.
func LineUp(views []Pictured, sheet measure.Size, gap measure.Length) (Lined, error) {
	if err := canLineUp(views, sheet, gap); err != nil {
		return Lined{}, err
	}
	var across, above, below float64 // in heights between the lines
	for _, v := range views {
		high := v.Bottom - v.Top
		across += v.Width / high
		above, below = max(above, v.Top/high), max(below, (v.Height-v.Bottom)/high)
	}
	room := measure.Size{W: sheet.W - gap*measure.Length(len(views)+1), H: sheet.H - 2*gap}
	high := measure.Length(min(float64(room.W)/across, float64(room.H)/(above+1+below)))
	l := Lined{Top: (sheet.H-high*measure.Length(above+1+below))/2 + high*measure.Length(above)}
	l.Bottom = l.Top + high
	left := gap + (room.W-high*measure.Length(across))/2
	for _, v := range views {
		k := high / measure.Length(v.Bottom-v.Top)
		p := Placed{v.Name, left, l.Top - k*measure.Length(v.Top), k * measure.Length(v.Width), k * measure.Length(v.Height), float64(k)}
		l.Views = append(l.Views, p)
		left += p.Width + gap
		l.mark(v, p)
	}
	slices.SortStableFunc(l.Levels, func(a, b Level) int { return cmp.Compare(a.At, b.At) })
	return l, nil
}

func canLineUp(views []Pictured, sheet measure.Size, gap measure.Length) error {
	if len(views) < FewestViews || len(views) > MostViews {
		return ask("%d to %d pictures are brought to one height, got %d", FewestViews, MostViews, len(views))
	}
	if gap < 0 || gap*measure.Length(len(views)+1) >= sheet.W || 2*gap >= sheet.H {
		return ask("the gaps leave no room on the sheet; make them narrower")
	}
	for _, v := range views {
		if !(v.Bottom-v.Top >= leastPressed*v.Height) || v.Top < 0 || v.Bottom > v.Height || !(v.Width > 0) {
			return ask("press the top and the bottom of “%s” on its picture: the bottom lies below the top, well apart", v.Name)
		}
	}
	return nil
}

// mark adds what a view's marks say: a line where nobody has one of that name yet, a
// misfit where the line is elsewhere.
func (l *Lined) mark(v Pictured, p Placed) {
	for _, m := range v.Marks {
		at := p.Over + measure.Length(p.MillimetresAPixel*m.Down)
		i := slices.IndexFunc(l.Levels, func(o Level) bool { return o.Name == m.Name })
		if i < 0 {
			l.Levels = append(l.Levels, Level{m.Name, at})
		} else if off := at - l.Levels[i].At; math.Abs(float64(off)) > sameLevel*float64(l.Bottom-l.Top) {
			l.Misfits = append(l.Misfits, Misfit{v.Name, m.Name, off})
		}
	}
}
