package demo

import (
	"math"
	"math/rand/v2"
	"slices"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/plane"
)

// Hand says how a pretend student draws: the whole turned, sized and moved
// about the sheet's middle, single landmarks or places put wrong, and a hand
// that is not quite steady.
type Hand struct {
	Turn, Size   float64                              // degrees clockwise; 1 is the right size
	Move         plane.Point                          // mm on the sheet
	Slips        map[string]plane.Point               // landmark to how far it is off, mm on the sheet
	Rows         int                                  // rows of boxes drawn so far; 0 is all
	Unsteady     float64                              // mm
	PencilWeight float64                              // mm
	Pencil       page.Color                           // its mark on the paper; graphite where it is black
	Distortion   func(wanted plane.Point) plane.Point // how far a place is drawn off, mm on the sheet; nil for nowhere
	Erased       bool                                 // the ruled grid
	Dark         bool                                 // on black paper
	Toned        bool                                 // areas are filled as in the picture
	Grid         grid.Marks                           // the grid as it was ruled; empty for the plan's
	Strokes      bool                                 // lines are drawn in strokes that overshoot and restart, of changing pressure
	Over         func(line int) bool                  // which of the scene's lines are gone over in a second colour; nil for none
}

// onSheet returns where a point of a Scene belongs on the sheet.
func onSheet(p grid.Plan, at plane.Point) plane.Point {
	return p.ToSheet(p.FromPicture(pt(at.X*perMM, at.Y*perMM)))
}

// place returns where the student puts a point of the Scene, in mm on the sheet.
func (d Hand) place(p grid.Plan, s Scene, at plane.Point) plane.Point {
	to := onSheet(p, at)
	mid := pt(p.Sheet.Width/2, p.Sheet.Height/2)
	sin, cos := math.Sincos(d.Turn * math.Pi / 180)
	x, y := (to.X-mid.X)*d.Size, (to.Y-mid.Y)*d.Size
	out := pt(mid.X+x*cos-y*sin+d.Move.X, mid.Y+x*sin+y*cos+d.Move.Y)
	if d.Distortion != nil {
		off := d.Distortion(to)
		out.X += off.X
		out.Y += off.Y
	}
	for _, l := range s.Landmarks {
		slip, ok := d.Slips[l.Name]
		if !ok {
			continue
		}
		home := onSheet(p, l.At)
		near := math.Exp(-(sq(home.X-to.X) + sq(home.Y-to.Y)) / (2 * sq(p.Grid.SheetCell[0]*0.5)))
		out.X += slip.X * near
		out.Y += slip.Y * near
	}
	return out
}

// secondColour is what lines are gone over in, in a slightly thinner line.
var secondColour = page.Color{R: 196, G: 58, B: 52}

// graphite is the mark of a pencil, 0 black to 255 white.
func graphite(grey uint8) page.Color { return page.Color{R: grey, G: grey, B: grey + 6} }

// seeded returns a source of chance that is the same every time.
func seeded(n uint64) *rand.Rand { return rand.New(rand.NewPCG(n, n)) }

func sq(v float64) float64 { return v * v }

// Draw returns the student's sheet: the faint grid and the pencil lines of the
// scene, drawn as far as the student got. Its top left is the grid's.
func (d Hand) Draw(p grid.Plan, s Scene, rng *rand.Rand) page.Page {
	pg := page.Page{Size: p.SheetSize()}
	if !d.Erased {
		d.rule(&pg, p)
	}
	end := p.Sheet.Height
	if d.Rows > 0 && d.Rows < len(p.Marks.SheetY) {
		end = p.Marks.SheetY[d.Rows]
	}
	pencil := d.Pencil
	if pencil == (page.Color{}) {
		pencil = graphite(70)
	}
	for i, item := range s.Page.Items {
		path, ok := item.(page.Path)
		if !ok {
			continue
		}
		points := path.Points
		if path.Closed {
			points = append(append([]plane.Point{}, points...), points[0])
		}
		for _, run := range d.runs(p, s, dense(points), end, hidden(s.Page.Items[i+1:]), rng) {
			mark := page.Path{Points: run, Width: d.PencilWeight, Stroke: pencil}
			if d.Toned {
				mark.Fill, mark.Closed = path.Fill, path.Closed
			}
			if !d.Strokes {
				pg.Items = append(pg.Items, mark)
				continue
			}
			if mark.Fill != nil {
				mark.Width = 0
				pg.Items = append(pg.Items, mark)
			}
			pg.Items = append(pg.Items, d.strokes(run, pencil, rng)...)
		}
		if d.Over != nil && d.Over(i) {
			for _, run := range d.runs(p, s, dense(points), end, hidden(s.Page.Items[i+1:]), rng) {
				pg.Items = append(pg.Items, page.Path{Points: run, Width: 0.7 * d.PencilWeight, Stroke: secondColour})
			}
		}
	}
	return pg
}

// rule adds the grid in faint pencil.
func (d Hand) rule(pg *page.Page, p grid.Plan) {
	xs, ys := p.Marks.SheetX, p.Marks.SheetY
	if d.Grid.SheetX != nil {
		xs, ys = d.Grid.SheetX, d.Grid.SheetY
	}
	faint := page.Color{R: 190, G: 192, B: 194}
	for _, x := range xs {
		pg.Items = append(pg.Items, page.Path{Points: []plane.Point{pt(x, 0), pt(x, p.Sheet.Height)}, Width: 0.4, Stroke: faint})
	}
	for _, y := range ys {
		pg.Items = append(pg.Items, page.Path{Points: []plane.Point{pt(0, y), pt(p.Sheet.Width, y)}, Width: 0.4, Stroke: faint})
	}
}

// dense adds points so that a long straight line can waver too.
func dense(points []plane.Point) (out []plane.Point) {
	for i, p := range points {
		if i > 0 {
			q := points[i-1]
			n := int(p.Sub(q).Len() / 4)
			for j := 1; j <= n; j++ {
				t := float64(j) / float64(n+1)
				out = append(out, pt(q.X+(p.X-q.X)*t, q.Y+(p.Y-q.Y)*t))
			}
		}
		out = append(out, p)
	}
	return out
}

// hidden returns what reports whether a place is covered by one of the items: what lies behind is not
// seen, and nobody draws it.
func hidden(by []page.Item) func(plane.Point) bool {
	var rings []plane.Ring
	for _, item := range by {
		if path, ok := item.(page.Path); ok && path.Closed && path.Fill != nil {
			rings = append(rings, plane.Ring(path.Points))
		}
	}
	return func(at plane.Point) bool {
		return slices.ContainsFunc(rings, func(r plane.Ring) bool { return r.Has(at) })
	}
}

// runs returns the student's version of a line, cut off where the drawing ends so far and where it is hidden.
func (d Hand) runs(p grid.Plan, s Scene, points []plane.Point, end float64, hidden func(plane.Point) bool, rng *rand.Rand) (runs [][]plane.Point) {
	var run []plane.Point
	for _, q := range points {
		if onSheet(p, q).Y > end {
			runs, run = append(runs, run), nil
			continue
		}
		at := d.place(p, s, q)
		at = pt(at.X+rng.NormFloat64()*d.Unsteady, at.Y+rng.NormFloat64()*d.Unsteady)
		if !d.Toned && hidden(q) {
			runs, run = append(runs, run), nil
			continue
		}
		run = append(run, at)
	}
	return append(runs, run)
}
