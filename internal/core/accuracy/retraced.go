package accuracy

import (
	"image"
	"math"

	"zestysketch/internal/core/finish"
	"zestysketch/internal/core/lines"
	"zestysketch/internal/core/plane"
)

// GoneOver is a line of the list with the stretches of it that were not gone over in a second colour, mm on the sheet, where
// they belong: none where all of it was.
type GoneOver struct {
	finish.Named
	Left [][]plane.Point
}

// Of what is gone over (ours): a place each everyPlace of a box; how far to either side of where the drawing has a line
// its colour may lie, boxes; how much more red or blue than the paper it is at least, as lines.Hues has it; the shortest
// stretch that is missed, boxes; and how far round a place paper is looked for, boxes.
const (
	everyPlace = 0.04
	colourSide = 0.08
	leastHue   = 0.05
	leastLeft  = 0.25
	paperRound = 0.6
)

// Retraced returns which of some lines were gone over in a second colour on a photographed tracing, in their order, and
// whether any colour shows at all. A photo whose drawing is not found has none.
func Retraced(j Job, all []finish.Named) (out []GoneOver, coloured bool, err error) {
	if j.Reference == nil || j.Corners == nil || len(all) == 0 {
		return nil, false, nil
	}
	m, err := j.match()
	if err != nil {
		return nil, false, err
	}
	hue := m.hue()
	for _, line := range all {
		left := m.uncoloured(line.Points, hue)
		out = append(out, GoneOver{line, left})
		coloured = coloured || m.length(left) < m.length([][]plane.Point{line.Points})/2
	}
	return out, coloured, nil
}

// hue returns by how much every pixel is more red or blue than the paper round it, whatever the light's own colour.
func (d Seen) hue() lines.Plane {
	w, h := d.Photo.Rect.Dx(), d.Photo.Rect.Dy()
	white := image.NewRGBA(d.Photo.Rect)
	for c := range 3 { // hues ask nothing of the fourth
		p := lines.NewPlane(w, h)
		for y := range h {
			for x, row := 0, p.Row(y); x < w; x++ {
				row[x] = float32(d.Photo.Pix[y*d.Photo.Stride+4*x+c])
			}
		}
		paper := p.Blur(paperRound * d.net.cell / 2)
		for i, v := range p.Pix {
			white.Pix[4*i+c] = uint8(min(255, 235*v/max(1, paper.Pix[i])))
		}
	}
	both := lines.Hues(white)
	for i, v := range both[1].Pix {
		both[0].Pix[i] = float32(math.Hypot(float64(both[0].Pix[i]), float64(v)))
	}
	return both[0]
}

// uncoloured returns the stretches of a line beside which no colour lies where the drawing has it.
func (m Matched) uncoloured(points []plane.Point, hue lines.Plane) (left [][]plane.Point) {
	var run []plane.Point
	end := func() {
		if m.length([][]plane.Point{run}) >= leastLeft*m.net.cell {
			left = append(left, run)
		}
		run = nil
	}
	step := everyPlace * m.net.cell / m.Frame.PerMM
	for i := 1; i < len(points); i++ {
		along := points[i].Sub(points[i-1])
		n := max(1, math.Ceil(along.Len()/step))
		for k := range int(n) {
			at := points[i-1].Add(along.Mul(float64(k) / n))
			if m.colouredAt(at, along, hue) {
				end()
			} else {
				run = append(run, at)
			}
		}
	}
	end()
	return left
}

// colouredAt reports whether colour lies across a line at one of its places.
func (m Matched) colouredAt(at, along plane.Point, hue lines.Plane) bool {
	px := m.Frame.Pixel(at)
	dx, dy := field(m.moved, m.net, px.X, px.Y)
	px = px.Add(plane.Pt(dx, dy))
	across := plane.Pt(-along.Y, along.X).Mul(1 / max(1e-9, along.Len()))
	for off := -colourSide * m.net.cell; off <= colourSide*m.net.cell; off++ {
		q := px.Add(across.Mul(off))
		if hue.At(int(q.X), int(q.Y)) >= leastHue {
			return true
		}
	}
	return false
}

// length returns how long some lines on the sheet are together, pixels.
func (d Seen) length(all [][]plane.Point) (sum float64) {
	for _, points := range all {
		for i := 1; i < len(points); i++ {
			sum += points[i].Sub(points[i-1]).Len() * d.Frame.PerMM
		}
	}
	return sum
}
