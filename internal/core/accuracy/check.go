package accuracy

import (
	"errors"
	"fmt"
	"math"
	"strconv"
	"strings"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/picture"
)

// Format names the version of the report that this package makes.
const Format = "zesty-check/1"

// Landmark is a point worth getting right: where it is on the reference, in
// millimetres from the frame's top left, and where the photo shows it.
type Landmark struct {
	Name      string     `json:"name"`
	Weight    float64    `json:"weight"` // 1 to 3: how much it matters; 0 counts as 1
	Reference [2]float64 `json:"reference_mm"`
	Photo     [2]float64 `json:"photo_px"`
}

// Report is what a check found, zesty-check/1.
type Report struct {
	Format    string        `json:"format"`
	Corners   [4][2]float64 `json:"corners"`
	Photo     Photo         `json:"photo"`
	Fit       Fit           `json:"fit"`
	Tolerance float64       `json:"tolerance_cell"`
	Cells     []Cell        `json:"cells"`
	Landmarks []Offset      `json:"landmarks"`
	Say       []string      `json:"say"`
}

// Photo says how good the photograph is for measuring.
type Photo struct {
	PixelsPerCell float64  `json:"pixels_per_cell"`
	Problems      []string `json:"problems"`
}

// Fit explains the offsets by one move, turn and size of the whole drawing
// about the landmarks' weighted centre; RMS is what then remains. The turn is
// clockwise as seen.
type Fit struct {
	DX       float64 `json:"dx_cell"`
	DY       float64 `json:"dy_cell"`
	Scale    float64 `json:"scale_percent"` // 0 is the right size, +2 is 2 % too large
	Rotation float64 `json:"rotation_deg"`
	RMS      float64 `json:"rms_cell"`
}

// Offset says how far one landmark is off: drawn minus wanted, +x too far
// right, +y too low, in boxes and in millimetres on the sheet.
type Offset struct {
	Name   string     `json:"name"`
	Cell   string     `json:"cell"` // the box in which it belongs
	Off    [2]float64 `json:"off_cell"`
	OffMM  [2]float64 `json:"off_mm"`
	Weight float64    `json:"weight"`
	Within bool       `json:"within"`
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

// MinLandmarks is the fewest landmarks from which a turn and a size can be told.
const MinLandmarks = 2

// ErrLandmarks is wrapped by errors about the landmarks given.
var ErrLandmarks = errors.New("landmarks")

// Fewer pixels a box than this and a tenth of a box is three pixels: the hand
// cannot place a landmark that well.
const leastPixelsPerCell = 30

// Corners returns the photo's corners as the rectifier takes them.
func Corners(c [4][2]float64) picture.Quad {
	var q picture.Quad
	for i := range c {
		q[i] = picture.Point{X: c[i][0], Y: c[i][1]}
	}
	return q
}

// Check measures a photographed drawing against its plan. Corners are photo
// pixels of the outer grid rectangle: top left, top right, bottom right,
// bottom left. Tolerance is in boxes. Errors wrap picture.ErrCorners,
// ErrLandmarks or ErrFlat and say how to mend it.
func Check(p grid.Plan, corners [4][2]float64, marks []Landmark, tolerance float64) (Report, error) {
	if err := usable(p, marks, tolerance); err != nil {
		return Report{}, err
	}
	quad := Corners(corners)
	toSheet, err := picture.NewHomography(quad, picture.Box(p.Sheet.Width, p.Sheet.Height))
	if err != nil {
		return Report{}, err
	}
	r := Report{Format: Format, Corners: corners, Tolerance: tolerance, Photo: judgePhoto(p, quad)}
	wanted, drawn, weights := make([]grid.Point, len(marks)), make([]grid.Point, len(marks)), make([]float64, len(marks))
	for i, m := range marks {
		at := toSheet.Apply(picture.Point{X: m.Photo[0], Y: m.Photo[1]})
		wanted[i] = p.ToSheet(grid.Point{X: m.Reference[0], Y: m.Reference[1]})
		drawn[i] = grid.Point{X: at.X, Y: at.Y}
		weights[i] = max(m.Weight, 1)
		r.Landmarks = append(r.Landmarks, offset(p, m.Name, wanted[i], drawn[i], weights[i], tolerance))
	}
	if r.Fit, err = fit(p, wanted, drawn, weights); err != nil {
		return Report{}, err
	}
	r.Say = say(r)
	return r, nil
}

func usable(p grid.Plan, marks []Landmark, tolerance float64) error {
	if len(marks) < MinLandmarks {
		return fmt.Errorf("%w: wanted at least %d, got %d; place three or more, spread over the picture", ErrLandmarks, MinLandmarks, len(marks))
	}
	if !(tolerance > 0 && tolerance <= 5) {
		return fmt.Errorf("%w: wanted a tolerance above 0 and up to 5 boxes, got %g", ErrLandmarks, tolerance)
	}
	for _, m := range marks {
		for _, v := range [...]float64{m.Reference[0], m.Reference[1], m.Photo[0], m.Photo[1], m.Weight} {
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

func judgePhoto(p grid.Plan, quad picture.Quad) Photo {
	cellArea := p.Grid.SheetCell[0] * p.Grid.SheetCell[1]
	perMM2 := quad.Area() / (p.Sheet.Width * p.Sheet.Height)
	photo := Photo{PixelsPerCell: math.Sqrt(perMM2 * cellArea), Problems: []string{}}
	if photo.PixelsPerCell < leastPixelsPerCell {
		photo.Problems = append(photo.Problems,
			fmt.Sprintf("A box is only %.0f pixels wide in this photo; photograph it from nearer, at least %d pixels a box.", photo.PixelsPerCell, leastPixelsPerCell))
	}
	return photo
}

func offset(p grid.Plan, name string, wanted, drawn grid.Point, weight, tolerance float64) Offset {
	d := sub(drawn, wanted)
	o := Offset{
		Name: name, Cell: p.CellAt(wanted).Label, Weight: weight,
		OffMM: [2]float64{d.X, d.Y},
		Off:   [2]float64{d.X / p.Grid.SheetCell[0], d.Y / p.Grid.SheetCell[1]},
	}
	o.Within = o.Size() <= tolerance
	return o
}

func fit(p grid.Plan, wanted, drawn []grid.Point, weights []float64) (Fit, error) {
	s, rms, err := FitSimilarity(wanted, drawn, weights)
	if err != nil {
		return Fit{}, err
	}
	total := 0.0
	for _, w := range weights {
		total += w
	}
	moved := sub(centre(drawn, weights, total), centre(wanted, weights, total))
	cell := p.Grid.SheetCell
	return Fit{
		DX: moved.X / cell[0], DY: moved.Y / cell[1],
		Scale:    (s.Scale - 1) * 100,
		Rotation: s.Angle * 180 / math.Pi,
		RMS:      rms / math.Sqrt(cell[0]*cell[1]),
	}, nil
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
func Wanted(p grid.Plan, corners [4][2]float64, marks []Landmark) ([][2]float64, error) {
	toPhoto, err := picture.NewHomography(picture.Box(p.Sheet.Width, p.Sheet.Height), Corners(corners))
	if err != nil {
		return nil, err
	}
	places := make([][2]float64, len(marks))
	for i, m := range marks {
		at := p.ToSheet(grid.Point{X: m.Reference[0], Y: m.Reference[1]})
		px := toPhoto.Apply(picture.Point(at))
		places[i] = [2]float64{px.X, px.Y}
	}
	return places, nil
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
