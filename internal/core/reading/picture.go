package reading

import (
	"errors"
	"fmt"
	"image"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/lines"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/core/values"
)

// Source says which lines of a picture are read.
type Source string

// The sources: what a hand would draw, or the borders between a few steps of tone.
const (
	Lines   Source = "lines"
	Borders Source = "values"
)

// ErrSource is wrapped by errors about what was asked for.
var ErrSource = errors.New("boxes")

// pictureSide is the longer side, in pixels, on which a picture is read: far finer than a
// hand puts a dot.
const pictureSide = 1600

// Of borders: as many steps of tone, areas no smaller, and lines no thinner than these
// belong to them, on paper.
const borderSteps, borderLeast, borderNeck = 4, 30.0, 1.0

// mostAreas is how many of a value map's areas are compared: each must close.
const mostAreas = 40

// Picture returns what is in the boxes of a plan's picture; drawing says that it is a line
// drawing. The error wraps ErrSource.
func Picture(p grid.Plan, img *image.RGBA, drawing bool, from Source, f Finest) (Reading, error) {
	size := float64(img.Rect.Dx())
	img = picture.Shrink(img, pictureSide)
	if p.Frame != nil { // a smaller rendering of the picture serves too
		size = float64(p.Frame.Picture[0])
	}
	k := size / float64(img.Rect.Dx())
	a, b := p.FromPicture(plane.Pt(0, 0)), p.FromPicture(plane.Pt(k, 0))
	perMM := 1 / b.Sub(a).Len()
	var strokes []lines.Stroke
	w := Wish{Finest: f}
	switch from {
	case Lines, "":
		detail := lines.Usual
		if drawing {
			detail = lines.Rich
		}
		s, err := lines.Draw(img, lines.Wish{Detail: detail, PerMM: perMM, Drawing: drawing, Exact: true})
		if err != nil {
			return Reading{}, fmt.Errorf("%w: %w", ErrSource, err)
		}
		strokes = s.Strokes
		light := lines.Lightness(img)
		w.Breadth = func(at, way plane.Point) float64 { return k * breadth(light, at.Mul(1/k), way) }
	case Borders:
		m, err := values.New(img, values.Wish{Steps: borderSteps, Rule: values.Otsu, PerMM: perMM, LeastArea: borderLeast, Neck: borderNeck})
		if err != nil {
			return Reading{}, fmt.Errorf("%w: %w", ErrSource, err)
		}
		strokes = borders(m)
		w.Gaps = mostAreas
	default:
		return Reading{}, fmt.Errorf("%w: read from lines or values, got %q", ErrSource, from)
	}
	for i := range strokes {
		for j := range strokes[i].Points {
			strokes[i].Points[j] = strokes[i].Points[j].Mul(k)
		}
	}
	return Read(p, strokes, w), nil
}

// How far to each side of a line its breadth is looked for, in pixels, and how much darker
// than what lies beside it a line is.
const breadthReach, breadthDark = 12.0, 0.06

// breadth returns how broad a dark line is, in pixels, at the height half-way between it
// and the paper; 0 where there is none.
func breadth(light lines.Plane, at, way plane.Point) float64 {
	across := plane.Pt(-way.Y, way.X)
	value := func(off float64) float64 {
		q := at.Add(across.Mul(off))
		return float64(light.At(int(q.X), int(q.Y)))
	}
	const step = 0.25
	sum := 0.0
	for _, side := range [2]float64{1, -1} {
		ground := 0.0
		for off := 0.0; off < breadthReach; off++ {
			ground = max(ground, value(side*off))
		}
		dark := min(value(0), value(1), value(-1))
		if ground-dark < breadthDark {
			return 0
		}
		for off := 0.0; off < breadthReach && value(side*off) < (ground+dark)/2; off += step {
			sum += step
		}
	}
	return sum
}

// borders returns the borders between the areas of a value map, each once, without the
// picture's own edge.
func borders(m values.Map) (all []lines.Stroke) {
	type side struct{ a, b plane.Point }
	taken := map[side]bool{}
	w, h := float64(m.W), float64(m.H)
	edge := func(a, b plane.Point) bool {
		return a.X == b.X && (a.X <= 0 || a.X >= w) || a.Y == b.Y && (a.Y <= 0 || a.Y >= h)
	}
	for _, area := range m.Areas {
		for _, ring := range area.Rings {
			var run []plane.Point
			flush := func(closed bool) {
				if len(run) > 1 {
					s := lines.Stroke{Points: run, Weight: 1, Closed: closed}
					if closed {
						s.Points = run[:len(run)-1]
					}
					all = append(all, s)
				}
				run = nil
			}
			for i, p := range ring {
				q := ring[(i+1)%len(ring)]
				if taken[side{p, q}] || taken[side{q, p}] || edge(p, q) {
					flush(false)
					continue
				}
				taken[side{p, q}] = true
				if run == nil {
					run = []plane.Point{p}
				}
				run = append(run, q)
			}
			flush(len(run) == len(ring)+1)
		}
	}
	return all
}
