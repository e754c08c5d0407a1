package tiles

import (
	"image"
	"math"
	"slices"

	"zestysketch/internal/core/colour"
	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/plane"
)

// Contents is what of a picture decides whether an arrangement is a good one.
type Contents struct {
	plan grid.Plan
	at   map[string]int    // of each label, row by row
	mid  []plane.Point     // of each place
	dark []float64         // of each tile, by its home row by row
	ends [][8][4][]float64 // of each tile, by how it is laid and by side (top, right, bottom, left): where lines end, mm from the side's middle
}

// Look reads a picture, which fills img, and its lines: runs of points,
// millimetres on the reference.
func Look(p grid.Plan, img *image.RGBA, runs [][]plane.Point) Contents {
	c := Contents{plan: p, at: map[string]int{}, dark: darkness(p, img), ends: make([][8][4][]float64, p.Count())}
	for i, cell := range p.Cells() {
		c.at[cell.Label], c.mid = i, append(c.mid, cell.Reference.Middle())
		var at []plane.Point // the ends on the tile's edges, from its middle
		for _, run := range runs {
			for _, part := range inside(run, cell.Reference) {
				for back := range 2 {
					end, _ := endOf(part, back == 1)
					at = append(at, end.Sub(cell.Reference.Middle()))
				}
			}
		}
		half := plane.Pt(cell.Reference.Width()/2, cell.Reference.Height()/2)
		for way := range 8 {
			c.ends[i][way] = onSides(at, half, laidAs(way))
		}
	}
	return c
}

// laidAs returns the way of laying a tile that has a number of 0 to 7.
func laidAs(way int) move { return move{Slot: Slot{Turn: way % 4 * 90, Flip: way >= 4}} }

// onSides returns where points lie along the four sides of a tile that is laid,
// given half its width and height before.
func onSides(at []plane.Point, half plane.Point, k move) (sides [4][]float64) {
	out := k.laid(half)
	out.X, out.Y = math.Abs(out.X), math.Abs(out.Y)
	for _, q := range at {
		q = k.laid(q)
		switch {
		case q.Y < -out.Y+onEdge:
			sides[0] = append(sides[0], q.X)
		case q.X > out.X-onEdge:
			sides[1] = append(sides[1], q.Y)
		case q.Y > out.Y-onEdge:
			sides[2] = append(sides[2], q.X)
		case q.X < -out.X+onEdge:
			sides[3] = append(sides[3], q.Y)
		}
	}
	return sides
}

// darkness returns how dark each tile is altogether, by about thirty by thirty
// samples: area times darkness.
func darkness(p grid.Plan, img *image.RGBA) []float64 {
	const across = 30
	all := make([]float64, 0, p.Count())
	w, h := float64(img.Rect.Dx()), float64(img.Rect.Dy())
	for _, c := range p.Cells() {
		r, sum := c.Reference, 0.0
		for k := range across * across {
			u, v := (float64(k%across)+0.5)/across, (float64(k/across)+0.5)/across
			q := img.RGBAAt(int((r.Min.X+u*r.Width())/p.Reference.Width*w), int((r.Min.Y+v*r.Height())/p.Reference.Height*h))
			sum += 100 - colour.Of(q.R, q.G, q.B).L
		}
		all = append(all, sum*r.Width()*r.Height())
	}
	return all
}

// Fit is how good an arrangement is.
type Fit struct {
	Meet, Ends int     // of the line ends at inner edges, how many run into one another
	Off        float64 // how far the middle of the dark lies from the picture's, as a share of half its diagonal
}

// Score returns how good a fit is: the share of ends that meet, less how far the
// dark is off. Both weigh alike (ours).
func (f Fit) Score() float64 { return float64(f.Meet)/float64(max(1, f.Ends)) - f.Off }

// Fit judges an arrangement of the plan that was looked at.
func (c Contents) Fit(m Map) (f Fit) {
	columns := c.plan.Grid.Columns
	laid := make([][4][]float64, len(m.Places))
	var sum plane.Point
	all := 0.0
	for i, slot := range m.Places {
		home := c.at[slot.Tile]
		way := slot.Turn / 90 % 4
		if slot.Flip {
			way += 4
		}
		laid[i] = c.ends[home][way]
		sum, all = sum.Add(c.mid[i].Mul(c.dark[home])), all+c.dark[home]
	}
	for i := range laid {
		if (i+1)%columns != 0 {
			f.count(laid[i][1], laid[i+1][3])
		}
		if i+columns < len(laid) {
			f.count(laid[i][2], laid[i+columns][0])
		}
	}
	if all > 0 {
		middle := plane.Pt(c.plan.Reference.Width/2, c.plan.Reference.Height/2)
		f.Off = apart(sum.Mul(1/all), middle) / middle.Len()
	}
	return f
}

// count adds an edge, given the ends on both its sides.
func (f *Fit) count(a, b []float64) {
	f.Ends += len(a) + len(b)
	f.Meet += met(a, b) + met(b, a)
}

// met returns how many of the ends on one side have one of the other within reach.
func met(a, b []float64) (n int) {
	for _, x := range a {
		if slices.ContainsFunc(b, func(y float64) bool { return math.Abs(x-y) <= meets }) {
			n++
		}
	}
	return n
}

// Choose returns the best of n arrangements, those of the seeds from the given
// one on, and how good it is.
func (c Contents) Choose(from uint64, n int, flips bool) (best Map, fit Fit, err error) {
	for seed := from; seed < from+uint64(n); seed++ {
		m, err := Shuffle(c.plan, seed, flips)
		if err != nil {
			return best, fit, err
		}
		if f := c.Fit(m); seed == from || f.Score() > fit.Score() {
			best, fit = m, f
		}
	}
	return best, fit, nil
}
