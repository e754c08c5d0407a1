package reading

import (
	"errors"
	"fmt"
	"image"
	"math"

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
		detail := lines.Rich
		if drawing {
			detail = lines.Rich
		}
		s, err := lines.Draw(img, lines.Wish{Detail: detail, PerMM: perMM, Drawing: drawing, Exact: true})
		if err != nil {
			return Reading{}, fmt.Errorf("%w: %w", ErrSource, err)
		}
		strokes = s.Strokes
		light := lines.Lightness(img)
		if !drawing { // what is found neither as a line nor as an edge is a border of tones, if it is long
			m, err := valueMap(img, perMM)
			if err != nil {
				return Reading{}, err
			}
			strokes = append(strokes, lines.Apart(changing(light.Blur(perMM/2), borders(m), perMM), strokes, sameEdgeMM*perMM, longBorderMM*perMM)...)
		}
		even := light.Blur(perMM / 3)
		w.Light = func(at plane.Point) float64 { return float64(even.At(int(at.X/k), int(at.Y/k))) }
		if !drawing {
			w.Edge = func(at, way plane.Point) Edge { return edgeAt(even, at.Mul(1/k), way, perMM) }
		}
		w.Touch = func(low, high plane.Point) (int, bool) { return touch(img, low.Mul(1/k), high.Mul(1/k)) }
		w.Breadth = func(at, way plane.Point) float64 { return k * lines.Breadth(light, at.Mul(1/k), way, breadthReach) }
	case Borders:
		m, err := valueMap(img, perMM)
		if err != nil {
			return Reading{}, err
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

// Across a border, over so far to each side on paper, the tone changes by that much; one that is drawn across a slow
// change of tone is none to the eye.
const changeMM, leastChange = 2.0, 0.1

// changing returns the parts of borders across which a picture's tone changes.
func changing(light lines.Plane, all []lines.Stroke, perMM float64) (kept []lines.Stroke) {
	for _, s := range all {
		points := s.Points
		if s.Closed {
			points = append(points[:len(points):len(points)], points[0])
		}
		even := spaced(points, max(4, int(length(points)/(perMM*changeMM))))
		var part []plane.Point
		for i, p := range even {
			way := even[min(i+1, len(even)-1)].Sub(even[max(0, i-1)])
			change := 0.0
			if way.Len() > 0 {
				across := plane.Pt(-way.Y, way.X).Mul(changeMM * perMM / way.Len())
				a, b := p.Add(across), p.Sub(across)
				change = math.Abs(float64(light.At(int(a.X), int(a.Y)) - light.At(int(b.X), int(b.Y))))
			}
			if change >= leastChange {
				part = append(part, p)
			}
			if (change < leastChange || i == len(even)-1) && len(part) > 1 {
				kept = append(kept, lines.Stroke{Points: part, Weight: s.Weight})
			}
			if change < leastChange {
				part = nil
			}
		}
	}
	return kept
}

// A border of tones so near to an edge is the same, and one that is shorter than that is not looked for beside the
// edges of a photograph, on paper.
const sameEdgeMM, longBorderMM = 3.0, 12.0

func valueMap(img *image.RGBA, perMM float64) (values.Map, error) {
	m, err := values.New(img, values.Wish{Steps: borderSteps, Rule: values.Otsu, PerMM: perMM, LeastArea: borderLeast, Neck: borderNeck})
	if err != nil {
		return m, fmt.Errorf("%w: %w", ErrSource, err)
	}
	return m, nil
}

// breadthReach is how far to each side of a line its breadth is looked for, in pixels.
const breadthReach = 12.0

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
