package accuracy

import (
	"cmp"
	"errors"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/photo"
	"zestysketch/internal/core/picture"
)

// Landmark is a point worth getting right: where it is on the reference, in
// millimetres from the frame's top left, and where the photo shows it; nil
// where nobody has said so, and it is to be looked for.
type Landmark struct {
	Key       string      `json:"key,omitempty"` // the caller's own name for it; the name where it is empty
	Name      string      `json:"name"`
	Weight    float64     `json:"weight"` // 1 to 3: how much it matters; 0 counts as 1
	Class     Class       `json:"class,omitempty"`
	Reference [2]float64  `json:"reference_mm"`
	Photo     *[2]float64 `json:"photo_px,omitempty"`
}

// Class is how near a landmark must be.
type Class string

// The classes of landmarks, by the project's tolerance.
const (
	Critical Class = "critical" // half of it
	Usual    Class = ""         // all of it
	Free     Class = "free"     // it is measured and never called wrong
)

// Offset says how far one landmark is off: drawn minus wanted, +x too far
// right, +y too low, in boxes and in millimetres on the sheet.
type Offset struct {
	Key       string     `json:"key,omitempty"`
	Name      string     `json:"name"`
	Cell      string     `json:"cell"` // the box in which it belongs
	Reference [2]float64 `json:"reference_mm"`
	Off       [2]float64 `json:"off_cell"`
	OffMM     [2]float64 `json:"off_mm"`
	Weight    float64    `json:"weight"`
	Class     Class      `json:"class,omitempty"`
	Within    bool       `json:"within"`
	Proposed  bool       `json:"proposed"` // found by its lines; nobody has confirmed it
	Sure      bool       `json:"sure"`     // those lines told its place in both directions, or somebody put it there
	Photo     [2]float64 `json:"photo_px"`
	Uncertain float64    `json:"uncertain_cell"`
}

// Size returns the length of the offset in boxes.
func (o Offset) Size() float64 { return math.Hypot(o.Off[0], o.Off[1]) }

// Tolerances of a landmark, in boxes: the teacher's choice per project. The
// three steps are ours.
const (
	ExactTolerance  = 0.1
	NormalTolerance = 0.2
	LooseTolerance  = 0.4
)

// ErrLandmarks is wrapped by errors about the landmarks given.
var ErrLandmarks = errors.New("landmarks")

// A hand places a pin, or a corner, to within two pixels or so; a proposal is
// good to a twentieth of a box (docs/measuring.md).
const (
	handPixels   = 2.0
	proposalCell = 0.05
)

// Corners returns the photo's corners as the rectifier takes them.
func Corners(c [4][2]float64) picture.Quad {
	var q picture.Quad
	for i := range c {
		q[i] = pointOf(c[i])
	}
	return q
}

func cornersOf(q picture.Quad) (c [4][2]float64) {
	for i, p := range q {
		c[i] = [2]float64{p.X, p.Y}
	}
	return c
}

func pointOf(at [2]float64) picture.Point { return picture.Point{X: at[0], Y: at[1]} }

func usable(p grid.Plan, marks []Landmark) error {
	for _, m := range marks {
		all := []float64{m.Reference[0], m.Reference[1], m.Weight}
		if m.Photo != nil {
			all = append(all, m.Photo[:]...)
		}
		for _, v := range all {
			if math.IsNaN(v) || math.Abs(v) > 1e6 {
				return fmt.Errorf("%w: %q has the number %g; place it again", ErrLandmarks, m.Name, v)
			}
		}
		if x, y := m.Reference[0], m.Reference[1]; x < 0 || y < 0 || x > p.Reference.Width || y > p.Reference.Height {
			return fmt.Errorf("%w: %q lies outside the picture; place it again", ErrLandmarks, m.Name)
		}
	}
	return nil
}

// places measures the landmarks: those placed on the photo where they are,
// others where the drawing's lines propose them, if there is a drawing to look
// in or they were proposed before.
func (r *Report) places(p grid.Plan, marks []Landmark, v photo.View, d *Drawing) {
	before := map[string]Offset{}
	for _, o := range r.Landmarks {
		if o.Proposed {
			before[cmp.Or(o.Key, o.Name)] = o
		}
	}
	r.Landmarks = []Offset{}
	var wanted, drawn []grid.Point
	var weights []float64
	for _, m := range marks {
		at := p.ToSheet(grid.Point{X: m.Reference[0], Y: m.Reference[1]})
		var to grid.Point
		o := Offset{Key: m.Key, Name: m.Name, Cell: p.CellAt(at).Label, Reference: m.Reference, Weight: max(m.Weight, 1), Class: m.Class}
		old, known := before[cmp.Or(m.Key, m.Name)]
		switch {
		case m.Photo != nil:
			to, o.Sure = v.Sheet(pointOf(*m.Photo)), true
			o.Uncertain = handPixels / max(1, r.Photo.PixelsPerCell)
		case d != nil && r.Measured:
			found := d.Propose(grid.Point{X: m.Reference[0], Y: m.Reference[1]})
			// In a box that nobody has drawn yet there is nothing to find.
			drawn := !slices.ContainsFunc(r.Cells, func(c Cell) bool { return c.Label == o.Cell && c.State == Empty })
			to, o.Proposed, o.Sure, o.Uncertain = found.At, true, found.Sure && drawn, proposalCell
		case known && old.Reference == m.Reference:
			to, o.Proposed, o.Sure, o.Uncertain = v.Sheet(pointOf(old.Photo)), true, old.Sure, proposalCell
		default:
			continue
		}
		px := v.Photo(to)
		o.Photo = [2]float64{px.X, px.Y}
		move := sub(to, at)
		o.OffMM = [2]float64{move.X, move.Y}
		o.Off = [2]float64{move.X / p.Grid.SheetCell[0], move.Y / p.Grid.SheetCell[1]}
		o.Within = o.within(r.Tolerance)
		r.Landmarks = append(r.Landmarks, o)
		if o.Sure {
			wanted, drawn, weights = append(wanted, at), append(drawn, to), append(weights, o.Weight)
		}
	}
	var sure []Offset
	for _, o := range r.Landmarks {
		if o.Sure {
			sure = append(sure, o)
		}
	}
	r.Proportions = append([]Proportion{}, proportions(sure, wanted, drawn)...)
	if r.Fit.Of != OfLines {
		r.Fit = fitLandmarks(p, wanted, drawn, weights)
	}
}

func (o Offset) within(tolerance float64) bool {
	switch o.Class {
	case Free:
		return true
	case Critical:
		tolerance /= 2
	}
	return o.Size() <= tolerance
}

// fitLandmarks explains the landmarks' offsets by one similarity; one landmark
// or none tells nothing of a turn or a size.
func fitLandmarks(p grid.Plan, wanted, drawn []grid.Point, weights []float64) Fit {
	if len(wanted) < 2 {
		return Fit{Of: OfNothing}
	}
	s, rms, err := FitSimilarity(wanted, drawn, weights)
	if err != nil {
		return Fit{Of: OfNothing}
	}
	middle := grid.Point{X: p.Sheet.Width / 2, Y: p.Sheet.Height / 2}
	moved := sub(s.Apply(middle), middle)
	cell := p.Grid.SheetCell
	return Fit{
		DX: moved.X / cell[0], DY: moved.Y / cell[1],
		Scale:    (s.Scale - 1) * 100,
		Rotation: s.Angle * 180 / math.Pi,
		RMS:      rms / math.Sqrt(cell[0]*cell[1]),
		Of:       OfLandmarks,
	}
}

// Tolerance returns the tolerance of a project that is "exact", "loose" or,
// by any other word, normal.
func Tolerance(looseness string) float64 {
	switch looseness {
	case "exact":
		return ExactTolerance
	case "loose":
		return LooseTolerance
	}
	return NormalTolerance
}

// Wanted returns where the photo would show each landmark if it were drawn
// where it belongs, in photo pixels.
func Wanted(p grid.Plan, v photo.View, marks []Landmark) [][2]float64 {
	places := make([][2]float64, len(marks))
	for i, m := range marks {
		px := v.Photo(p.ToSheet(grid.Point{X: m.Reference[0], Y: m.Reference[1]}))
		places[i] = [2]float64{px.X, px.Y}
	}
	return places
}

// ParseCorners reads "x,y x,y x,y x,y" in photo pixels.
func ParseCorners(s string) (corners [4][2]float64, err error) {
	fields := strings.Fields(s)
	if len(fields) != 4 {
		return corners, fmt.Errorf("wanted four corners as x,y x,y x,y x,y in photo pixels, got %q", s)
	}
	for i, f := range fields {
		if corners[i], err = ParsePlace(f); err != nil {
			return corners, err
		}
	}
	return corners, Corners(corners).Check()
}

// ParsePlace reads "x,y" in photo pixels.
func ParsePlace(s string) (at [2]float64, err error) {
	x, y, _ := strings.Cut(s, ",")
	for i, text := range []string{x, y} {
		v, err := strconv.ParseFloat(text, 64)
		if err != nil || math.IsNaN(v) || math.Abs(v) > 1e6 {
			return at, fmt.Errorf("wanted a place as x,y in photo pixels, got %q", s)
		}
		at[i] = v
	}
	return at, nil
}
