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
	"zestysketch/internal/core/plane"
)

// Landmark is a point worth getting right: where it is on the reference, in
// millimetres from the frame's top left, and where the photo shows it; nil
// where nobody has said so, and it is to be looked for.
type Landmark struct {
	Key       string       `json:"key,omitempty"` // the caller's own name for it; the name where it is empty
	Name      string       `json:"name"`
	Weight    float64      `json:"weight"` // 1 to 3: how much it matters; 0 counts as 1
	Class     Class        `json:"class,omitempty"`
	Reference plane.Point  `json:"reference_mm"`
	Photo     *plane.Point `json:"photo_px,omitempty"`
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
	Key       string      `json:"key,omitempty"`
	Name      string      `json:"name"`
	Cell      string      `json:"cell"` // the box in which it belongs
	Reference plane.Point `json:"reference_mm"`
	Off       plane.Point `json:"off_cell"`
	OffMM     plane.Point `json:"off_mm"`
	Weight    float64     `json:"weight"`
	Class     Class       `json:"class,omitempty"`
	Within    bool        `json:"within"`
	Proposed  bool        `json:"proposed"` // found by its lines; nobody has confirmed it
	Sure      bool        `json:"sure"`     // those lines told its place in both directions, or somebody put it there
	Photo     plane.Point `json:"photo_px"`
	Uncertain float64     `json:"uncertain_cell"`
}

// Size returns the length of the offset in boxes.
func (o Offset) Size() float64 { return math.Hypot(o.Off.X, o.Off.Y) }

// ErrLandmarks is wrapped by errors about the landmarks given.
var ErrLandmarks = errors.New("landmarks")

// A hand places a pin, or a corner, to within two pixels or so; a proposal is
// good to a twentieth of a box (docs/measuring.md).
const (
	handPixels   = 2.0
	proposalCell = 0.05
)

func usable(p grid.Plan, marks []Landmark) error {
	for _, m := range marks {
		all := []float64{m.Reference.X, m.Reference.Y, m.Weight}
		if m.Photo != nil {
			all = append(all, m.Photo.X, m.Photo.Y)
		}
		for _, v := range all {
			if math.IsNaN(v) || math.Abs(v) > 1e6 {
				return fmt.Errorf("%w: %q has the number %g; place it again", ErrLandmarks, m.Name, v)
			}
		}
		if x, y := m.Reference.X, m.Reference.Y; x < 0 || y < 0 || x > p.Reference.Width || y > p.Reference.Height {
			return fmt.Errorf("%w: %q lies outside the picture; place it again", ErrLandmarks, m.Name)
		}
	}
	return nil
}

// measureLandmarks measures the landmarks: those placed on the photo where they are,
// others where the drawing's lines propose them, if there is a drawing to look
// in or they were proposed before.
func (r *Report) measureLandmarks(p grid.Plan, marks []Landmark, v photo.View, d *Matched) {
	before := map[string]Offset{}
	for _, o := range r.Landmarks {
		if o.Proposed {
			before[cmp.Or(o.Key, o.Name)] = o
		}
	}
	r.Landmarks = []Offset{}
	var wanted, drawn []plane.Point
	var weights []float64
	for _, m := range marks {
		at := p.ToSheet(m.Reference)
		var to plane.Point
		o := Offset{Key: m.Key, Name: m.Name, Cell: p.CellAt(at).Label, Reference: m.Reference, Weight: max(m.Weight, 1), Class: m.Class}
		old, known := before[cmp.Or(m.Key, m.Name)]
		switch {
		case m.Photo != nil:
			to, o.Sure = v.Sheet(*m.Photo), true
			o.Uncertain = handPixels / max(1, r.Photo.PixelsPerCell)
		case d != nil:
			found := d.Propose(m.Reference)
			// In a box that nobody has drawn yet there is nothing to find.
			drawn := !slices.ContainsFunc(r.Cells, func(c Cell) bool { return c.Label == o.Cell && c.State == Empty })
			to, o.Proposed, o.Sure, o.Uncertain = found.At, true, found.Sure && drawn, proposalCell
			if part, on := r.partAt(at, p); on { // what is found beside it is another line's
				to, o.Sure = part.Carry(at, p), part.State == PartMoved
			}
		case known && old.Reference == m.Reference:
			to, o.Proposed, o.Sure, o.Uncertain = v.Sheet(old.Photo), true, old.Sure, proposalCell
		default:
			continue
		}
		px := v.Photo(to)
		o.Photo = px
		move := to.Sub(at)
		o.OffMM = move
		o.Off = plane.Pt(move.X/p.Grid.SheetCell[0], move.Y/p.Grid.SheetCell[1])
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
func fitLandmarks(p grid.Plan, wanted, drawn []plane.Point, weights []float64) Fit {
	if len(wanted) < 2 {
		return Fit{Of: OfNothing}
	}
	s, rms, err := FitSimilarity(wanted, drawn, weights)
	if err != nil {
		return Fit{Of: OfNothing}
	}
	middle := plane.Pt(p.Sheet.Width/2, p.Sheet.Height/2)
	moved := s.Apply(middle).Sub(middle)
	cell := p.Grid.SheetCell
	return Fit{
		DX: moved.X / cell[0], DY: moved.Y / cell[1],
		Scale:    (s.Scale - 1) * 100,
		Rotation: s.Angle * 180 / math.Pi,
		RMS:      rms / math.Sqrt(cell[0]*cell[1]),
		Of:       OfLandmarks,
	}
}

// Wanted returns where the photo would show each landmark if it were drawn
// where it belongs, in photo pixels.
func Wanted(p grid.Plan, v photo.View, marks []Landmark) []plane.Point {
	places := make([]plane.Point, len(marks))
	for i, m := range marks {
		px := v.Photo(p.ToSheet(m.Reference))
		places[i] = px
	}
	return places
}

// ParseCorners reads "x,y x,y x,y x,y" in photo pixels.
func ParseCorners(s string) (corners plane.Quad, err error) {
	fields := strings.Fields(s)
	if len(fields) != 4 {
		return corners, fmt.Errorf("wanted four corners as x,y x,y x,y x,y in photo pixels, got %q", s)
	}
	for i, f := range fields {
		if corners[i], err = ParsePlace(f); err != nil {
			return corners, err
		}
	}
	return corners, corners.Check()
}

// ParsePlace reads "x,y" in photo pixels.
func ParsePlace(s string) (at plane.Point, err error) {
	across, down, _ := strings.Cut(s, ",")
	x, errX := strconv.ParseFloat(across, 64)
	y, errY := strconv.ParseFloat(down, 64)
	if errX != nil || errY != nil || !(math.Abs(x) <= 1e6 && math.Abs(y) <= 1e6) {
		return at, fmt.Errorf("wanted a place as x,y in photo pixels, got %q", s)
	}
	return plane.Pt(x, y), nil
}
