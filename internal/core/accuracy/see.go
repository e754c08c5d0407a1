package accuracy

import (
	"image"
	"math"
	"slices"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/lines"
	"zestysketch/internal/core/photo"
)

// Seen is the first step: a photographed drawing and its reference in one frame,
// with the lines of both.
type Seen struct {
	View   photo.View
	Plan   grid.Plan
	Frame  photo.Frame
	Photo  *image.RGBA // straight, as photographed
	Even   photo.Evened
	Ruled  photo.Ruled
	Wanted *image.RGBA // the reference in the same frame
	Tonal  bool        // the reference is a photograph or painting, not lines

	net      net
	free     []bool         // by box
	ruled    photo.Ruled    // as far as nothing of the picture runs beside it
	light    lines.Plane    // of the reference
	wanted   [][]lines.Mark // by box; those under a ruled line are left out
	beneath  []lines.Mark   // those
	drawn    *lines.Index   // without the ruled grid
	channels channels
}

// See straightens a job's photo in a view, at so many pixels a box, and finds the drawing's lines and those
// of the reference: in boxes that are left free neither counts.
func See(j Job, v photo.View, perCell float64) Seen {
	p := j.Plan
	f := photo.FrameFor(p, perCell)
	d := Seen{Plan: p, Frame: f, View: v, Photo: v.Straight(j.Photo, f), Tonal: j.Tonal, net: netOf(p, f)}
	d.free = make([]bool, d.net.count())
	for i, c := range p.Cells() {
		d.free[i] = slices.Contains(j.Free, c.Label)
	}
	if j.Reference == nil {
		d.Even = photo.Even(d.Photo, f)
	} else {
		d.Wanted = photo.Wanted(p, j.Reference, f)
		d.Even = photo.EvenBeside(d.Photo, d.Wanted, f)
	}
	d.Ruled = photo.FindRuled(d.Even.Ink, p, f)
	d.ruled = d.Ruled
	marks := lines.Find(d.Even.Ink, d.pencil())
	d.drawn = lines.NewIndex(d.withoutGrid(marks), f.W, f.H, 4)
	d.channels = newChannels(d.drawn.Marks, d.net)
	if j.Reference == nil {
		return d
	}
	d.light = lines.Lightness(d.Wanted)
	d.wanted = make([][]lines.Mark, d.net.count())
	found := lines.FindInColour(d.Wanted, d.reference())
	d.ruled = besideRules(found, d.Ruled, f)
	for _, m := range found {
		switch i := d.net.at(float64(m.X), float64(m.Y)); {
		case i < 0 || d.free[i]:
		case d.alongRule(m, alongRule*f.Cell) != nil:
			d.beneath = append(d.beneath, m)
		default:
			d.wanted[i] = append(d.wanted[i], m)
		}
	}
	return d
}

// freeBoxes returns the boxes that are left free.
func (d Seen) freeBoxes() (labels []string) {
	for i, c := range d.Plan.Cells() {
		if d.free[i] {
			labels = append(labels, c.Label)
		}
	}
	return labels
}

func netOf(p grid.Plan, f photo.Frame) net {
	n := net{columns: p.Grid.Columns, rows: p.Grid.Rows, cell: f.Cell, w: f.W, h: f.H}
	for _, x := range p.Marks.SheetX {
		n.x = append(n.x, f.Margin+x*f.PerMM)
	}
	for _, y := range p.Marks.SheetY {
		n.y = append(n.y, f.Margin+y*f.PerMM)
	}
	return n
}

// pencil says which lines are looked for in a drawing, and reference in its
// picture: a photograph's edges are taken coarser, for nobody draws its grain. Even its calmer
// parts are no bare paper: in a meadow they are full of what may be drawn.
func (d Seen) pencil() lines.Search {
	return lines.Search{Sigma: max(1, 0.02*d.Frame.Cell), Wide: 0.06 * d.Frame.Cell, Least: 0.03, Shortest: int(0.1 * d.Frame.Cell), Edges: true}
}

func (d Seen) reference() lines.Search {
	s := d.pencil()
	s.Least = 0.06
	if d.Tonal {
		s.Sigma, s.Wide, s.Least, s.Shortest, s.Grain = max(1.2, 0.03*d.Frame.Cell), 0, 0.05, int(0.15*d.Frame.Cell), 2
	}
	return s
}

// A line of the picture that runs along a ruled one, so near, for such a share of its
// length, may be what shows instead of it: the edge of a bar, the frame of a window.
const besideCell, besideShare = 0.3, 0.2

// besideRules returns the ruled grid without the lines beside which lines of the
// picture run.
func besideRules(wanted []lines.Mark, all photo.Ruled, f photo.Frame) photo.Ruled {
	clear := func(rules []photo.Rule, candidate func(lines.Mark) (across, normal float32)) []photo.Rule {
		length := make([]float64, len(rules))
		for _, m := range wanted {
			at, normal := candidate(m)
			if normal < 0.97 && normal > -0.97 {
				continue
			}
			for i, r := range rules {
				if math.Abs(f.Margin+r.At*f.PerMM-float64(at)) < besideCell*f.Cell {
					length[i]++
				}
			}
		}
		out := slices.Clone(rules)
		for i := range out {
			if length[i] > besideShare*float64(max(f.W, f.H)) {
				out[i] = photo.Rule{At: out[i].At}
			}
		}
		return out
	}
	return photo.Ruled{
		Columns: clear(all.Columns, func(m lines.Mark) (float32, float32) { return m.X, m.NX }),
		Rows:    clear(all.Rows, func(m lines.Mark) (float32, float32) { return m.Y, m.NY }),
		Depth:   all.Depth,
	}
}

// alongRule is how near a ruled line, in boxes, a line along it cannot be told from it.
const alongRule = 0.035

// alongRule returns the ruled line that shows along a mark within reach
// pixels, nil for none.
func (d Seen) alongRule(m lines.Mark, reach float64) *photo.Rule {
	x, y := float64(m.X), float64(m.Y)
	if math.Abs(float64(m.NX)) > 0.97 {
		return near(d.Ruled.Columns, x, (y-d.Frame.Margin)/(d.Plan.Sheet.Height*d.Frame.PerMM), reach, d.Frame)
	}
	if math.Abs(float64(m.NY)) > 0.97 {
		return near(d.Ruled.Rows, y, (x-d.Frame.Margin)/(d.Plan.Sheet.Width*d.Frame.PerMM), reach, d.Frame)
	}
	return nil
}

func near(rules []photo.Rule, v, along, reach float64, f photo.Frame) *photo.Rule {
	for i := range rules {
		r := &rules[i]
		if !r.Shown() {
			continue
		}
		at := f.Margin + (r.At+r.OffAt(along))*f.PerMM
		if math.Abs(at-v) <= reach {
			return r
		}
	}
	return nil
}

// withoutGrid drops the marks of the ruled grid: those along a line of it that
// are hardly stronger than it is, and all of what lies beyond the outermost
// lines and is darker than paper, such as the table.
func (d Seen) withoutGrid(marks []lines.Mark) []lines.Mark {
	reach := alongRule*d.Frame.Cell + 1
	// Edges are weighed by a step's height and lines by their depth: one usual weight each.
	weights := map[bool][]float64{}
	for _, m := range marks {
		if d.alongRule(m, reach) != nil {
			weights[m.Ridge] = append(weights[m.Ridge], float64(m.Weight))
		}
	}
	weight := map[bool]float64{true: median(weights[true]), false: median(weights[false])}
	soft := d.Even.Ink.Blur(0.1 * d.Frame.Cell)
	var rest []lines.Mark
	for _, m := range marks {
		usual, box := weight[m.Ridge], d.net.at(float64(m.X), float64(m.Y))
		switch {
		case box >= 0 && d.free[box]:
		case d.alongRule(m, reach) != nil && float64(m.Weight) < 1.8*usual:
		case float64(m.Weight) < d.crossingRules(m, reach)*usual:
		case box < 0 && soft.At(int(m.X), int(m.Y)) < 0.8:
		case d.onEdge(m):
		default:
			rest = append(rest, m)
		}
	}
	return rest
}

// crossingRules returns how much stronger than a ruled line a mark beside one,
// whatever its direction, must be to be something else: where two cross, the
// grid itself has corners.
func (d Seen) crossingRules(m lines.Mark, reach float64) float64 {
	x, y := float64(m.X), float64(m.Y)
	beside := func(rules []photo.Rule, v float64) bool {
		for _, r := range rules {
			if r.Shown() && math.Abs(d.Frame.Margin+(r.At+r.Off())*d.Frame.PerMM-v) <= 1.3*reach {
				return true
			}
		}
		return false
	}
	column, row := beside(d.Ruled.Columns, x), beside(d.Ruled.Rows, y)
	switch {
	case column && row:
		return 1.8
	case column || row:
		return 0.9
	}
	return 0
}

// onEdge reports whether a mark runs along the outermost rectangle, where the
// paper itself may end.
func (d Seen) onEdge(m lines.Mark) bool {
	reach := 0.03*d.Frame.Cell + 1
	beside := func(v float64, marks []float64) bool {
		return math.Abs(v-marks[0]) < reach || math.Abs(v-marks[len(marks)-1]) < reach
	}
	return math.Abs(float64(m.NX)) > 0.97 && beside(float64(m.X), d.net.x) || math.Abs(float64(m.NY)) > 0.97 && beside(float64(m.Y), d.net.y)
}

func median(values []float64) float64 { return quantile(values, 0.5) }
