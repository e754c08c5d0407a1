package finish

import (
	"cmp"
	"fmt"
	"image"
	"math"
	"slices"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/lines"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/core/reading"
	"zestysketch/internal/core/values"
)

// MostCarried is how many lines, and MostShadows how many shadows, are listed beside the landmarks (ours).
const MostCarried, MostShadows = 8, 3

// Carried is what is carried to the final sheet: a picture as the sheet shows it, its pixels a
// millimetre, and the landmarks pressed on it, in millimetres of the reference.
type Carried struct {
	Plan    grid.Plan
	Image   *image.RGBA
	PerMM   float64
	Drawing bool // the picture is lines on paper
	Pins    []reading.Pin
}

// Named is a line that is carried over, and what it is called.
type Named struct {
	Name   string
	Points []plane.Point // mm on the sheet

	pinned bool // a landmark lies on it and names it
}

// List names what must be there when the tape comes off: the landmarks, those that must be right first, then the
// picture's main lines, by what they are, and of a toned picture the edges of its main shadows. A line that runs
// through a landmark is named by it. The error wraps lines.ErrWish or values.ErrWish.
func (c Carried) List() (list []string, err error) {
	for _, p := range c.weightiest() {
		list = append(list, p.Name+map[float64]string{3: " (must be right)", 2: " (matters much)"}[p.Weight])
	}
	all, err := c.Lines()
	for _, line := range all {
		if !line.pinned && !slices.Contains(list, line.Name) {
			list = append(list, line.Name)
		}
	}
	return list, err
}

// weightiest returns the landmarks, those that must be right first.
func (c Carried) weightiest() []reading.Pin {
	pins := slices.Clone(c.Pins)
	slices.SortStableFunc(pins, func(a, b reading.Pin) int { return cmp.Compare(b.Weight, a.Weight) })
	return pins
}

// Lines returns the lines of the list, those on which landmarks lie among them. Errors are List's.
func (c Carried) Lines() (all []Named, err error) {
	sketch, err := lines.Draw(c.Image, lines.Wish{Detail: lines.Bare, PerMM: c.PerMM, Drawing: c.Drawing})
	if err != nil {
		return nil, err
	}
	all = c.mainLines(sketch, MostCarried)
	if c.Drawing {
		return all, nil
	}
	shadows, err := c.shadows()
	return append(all, shadows...), err
}

// mainLines names the weightiest lines of a sketch of the sheet: so many names, and every line of one of them or of a
// landmark.
func (c Carried) mainLines(s lines.Sketch, most int) (all []Named) {
	var names []string
	for _, st := range s.Strokes {
		line := Named{Name: c.nameOf(st, s.PerMM)}
		if pin, on := c.pinOn(st, s.PerMM); on {
			line.Name, line.pinned = pin, true
		} else if !slices.Contains(names, line.Name) {
			if len(names) == most {
				continue
			}
			names = append(names, line.Name)
		}
		for _, q := range st.Points {
			line.Points = append(line.Points, q.Mul(1/s.PerMM))
		}
		if st.Closed {
			line.Points = append(line.Points, line.Points[0])
		}
		all = append(all, line)
	}
	return all
}

// byPin is how near a line a landmark that names it lies, as a share of a box (ours).
const byPin = 0.3

// pinOn returns the weightiest landmark that lies on a line.
func (c Carried) pinOn(st lines.Stroke, perMM float64) (name string, on bool) {
	near := byPin * min(c.Plan.Grid.SheetCell[0], c.Plan.Grid.SheetCell[1])
	for _, p := range c.weightiest() {
		at := c.Plan.ToSheet(p.At).Mul(perMM)
		for i := 1; i < len(st.Points); i++ {
			if at.FromSegment(st.Points[i-1], st.Points[i]) < near*perMM {
				return p.Name, true
			}
		}
	}
	return "", false
}

// nameOf names a line by the boxes that it runs through.
func (c Carried) nameOf(st lines.Stroke, perMM float64) string {
	box := func(q plane.Point) string { return c.Plan.CellAt(q.Mul(1 / perMM)).Label }
	first, last := box(st.Points[0]), box(st.Points[len(st.Points)-1])
	if !st.Closed && first != last {
		return fmt.Sprintf("the line from %s to %s", first, last)
	}
	what := "the line"
	if st.Closed {
		what = "the closed shape"
	}
	left, right := ends(st.Points)
	if box(left) == box(right) {
		return what + " in " + first
	}
	return fmt.Sprintf("%s from %s to %s", what, box(left), box(right))
}

// ends returns the leftmost and the rightmost of some points.
func ends(points []plane.Point) (left, right plane.Point) {
	across := func(a, b plane.Point) int { return cmp.Compare(a.X, b.X) }
	return slices.MinFunc(points, across), slices.MaxFunc(points, across)
}

// leastShadow is the share of the picture that a main shadow covers at the least (ours).
const leastShadow = 0.01

// shadows names the edges of the largest dark areas by their boxes.
func (c Carried) shadows() (all []Named, err error) {
	w, h := float64(c.Image.Rect.Dx())/c.PerMM, float64(c.Image.Rect.Dy())/c.PerMM
	m, err := values.New(c.Image, values.Wish{Steps: 3, Rule: values.Otsu, PerMM: c.PerMM, LeastArea: leastShadow * w * h, Neck: math.Sqrt(w*h) / 60})
	if err != nil {
		return nil, err
	}
	areas := slices.DeleteFunc(slices.Clone(m.Areas), func(a values.Area) bool { return a.Step != 0 })
	slices.SortStableFunc(areas, func(a, b values.Area) int { return cmp.Compare(b.Pixels, a.Pixels) })
	for _, a := range areas[:min(len(areas), MostShadows)] {
		left, right := ends(a.Rings[0])
		from, to := c.Plan.CellAt(left.Mul(1/c.PerMM)).Label, c.Plan.CellAt(right.Mul(1/c.PerMM)).Label
		name := "the edge of the shadow from " + from + " to " + to
		if from == to {
			name = "the edge of the shadow in " + from
		}
		ring := Named{Name: name}
		for _, q := range append(slices.Clone(a.Rings[0]), a.Rings[0][0]) {
			ring.Points = append(ring.Points, q.Mul(1/c.PerMM))
		}
		all = append(all, ring)
	}
	return all, nil
}
