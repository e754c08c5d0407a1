package sheet

import (
	"fmt"
	"math"

	"zestysketch/internal/core/finish"
	"zestysketch/internal/core/lesson"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/core/values"
)

// How patterns are drawn, in millimetres: how far their lines lie apart, how broad they
// are, and how finely a line is followed to where its area ends.
const (
	patternStep, closeStep = 5.0, 2.6
	patternLine            = 0.35
	followed               = 0.4
)

// PatternMap returns a picture's areas at the size of the drawing, each with its pattern and
// the line round it, numbered by size.
func PatternMap(p finish.Patterns) page.Page {
	m := p.Map
	w, h := float64(m.W)/m.PerMM, float64(m.H)/m.PerMM
	pg := page.Page{Title: "Patterns by area", Size: measure.Size{W: measure.Length(w), H: measure.Length(h)}}
	pg.Add(page.BoxPath(page.Box(0, 0, w, h), 0.3, page.Faint))
	for _, a := range p.Areas {
		for i, ring := range m.Areas[a.Area].Rings {
			path := page.Path{Closed: true, Width: a.Line, Stroke: page.Ink}
			if a.Pattern == finish.Black && i == 0 {
				path.Fill = &page.Ink
			} else if a.Pattern == finish.Black {
				path.Fill = &page.White
			}
			for _, q := range ring {
				path.Points = append(path.Points, q.Mul(1/m.PerMM))
			}
			pg.Add(path)
		}
	}
	for _, a := range p.Areas {
		f := filler{&pg, inArea(m, int32(a.Area))}
		f.fill(a.Pattern, w, h)
	}
	for _, a := range p.Areas {
		pg.Add(page.Text{At: a.At.Add(plane.Pt(0, 2)), Size: 6, Words: fmt.Sprint(a.Number), Anchor: page.Middle, Bold: true, Color: page.Ink, Halo: true})
	}
	return pg
}

// filler draws what lies inside one area.
type filler struct {
	pg     *page.Page
	inside func(plane.Point) bool
}

// inArea returns what tells whether a place of the sheet lies in an area.
func inArea(m values.Map, area int32) func(plane.Point) bool {
	return func(q plane.Point) bool {
		x, y := int(q.X*m.PerMM), int(q.Y*m.PerMM)
		return q.X >= 0 && q.Y >= 0 && x < m.W && y < m.H && m.At[y*m.W+x] == area
	}
}

// along draws those parts of a line that lie inside: at says where it is after so many
// millimetres.
func (f filler) along(length float64, at func(float64) plane.Point) {
	var run []plane.Point
	end := func() {
		if len(run) > 1 {
			f.pg.Add(page.Path{Points: run, Width: patternLine, Stroke: page.Ink})
		}
		run = nil
	}
	for s := 0.0; s <= length; s += followed {
		if q := at(s); f.inside(q) {
			run = append(run, q)
		} else {
			end()
		}
	}
	end()
}

// fill draws a pattern over a sheet, inside the area alone.
func (f filler) fill(p finish.Pattern, w, h float64) {
	switch p {
	case finish.Dots:
		for y := patternStep / 2; y < h; y += patternStep {
			for x := patternStep / 2; x < w; x += patternStep {
				if q := plane.Pt(x, y); f.inside(q) {
					f.pg.Ring(q, 0.4, page.Ink)
				}
			}
		}
	case finish.Stripes:
		f.slanted(w, h, patternStep, 1)
	case finish.Crossed:
		f.slanted(w, h, closeStep*1.4, 1)
		f.slanted(w, h, closeStep*1.4, -1)
	case finish.Waves:
		for y := 0.0; y < h+patternStep; y += patternStep {
			f.along(w, func(s float64) plane.Point { return plane.Pt(s, y+1.2*math.Sin(s*0.7)) })
		}
	case finish.Bricks:
		for row := 0; float64(row)*patternStep < h; row++ {
			y := float64(row) * patternStep
			f.along(w, func(s float64) plane.Point { return plane.Pt(s, y) })
			for x := patternStep * float64(row%2); x < w; x += 2 * patternStep {
				f.along(patternStep, func(s float64) plane.Point { return plane.Pt(x, y+s) })
			}
		}
	case finish.Scales:
		for row := 0; float64(row)*closeStep < h+closeStep; row++ {
			for x := closeStep * float64(row%2); x < w+closeStep; x += 2 * closeStep {
				f.along(math.Pi*closeStep, func(s float64) plane.Point {
					sin, cos := math.Sincos(s / closeStep)
					return plane.Pt(x-closeStep*cos, float64(row)*closeStep+closeStep*sin-closeStep)
				})
			}
		}
	}
}

// slanted draws lines that fall or rise at 45°, so far apart.
func (f filler) slanted(w, h, apart, way float64) {
	for x := -h; x < w+h; x += apart * math.Sqrt2 {
		f.along((w+h)*math.Sqrt2, func(s float64) plane.Point { return plane.Pt(x+way*s/math.Sqrt2, s/math.Sqrt2) })
	}
}

// PatternLists returns the patterns in words, the largest area first.
func PatternLists(p finish.Patterns) []Entry {
	lists := []Entry{{Head: "By hand", Lines: []string{"These are one way of many: swap any two, but no two that touch are alike.",
		"Broad lines bring a shape forward; thin ones let it lie back.",
		"Begin with the lightest pattern; a pattern can be made closer, not looser."}}}
	if p.Small > 0 {
		lists = append(lists, Entry{Head: "Small areas", Lines: []string{fmt.Sprintf("%s: too small for a pattern. Leave them, or fill them black.", counted(p.Small, "more area"))}})
	}
	areas := Entry{Head: "Area by area", ticks: true}
	for _, a := range p.Areas[:min(len(p.Areas), mostListed)] {
		areas.say(patternSign(a.Pattern), fmt.Sprintf("%d · %s: %s; line %.1f mm round it", a.Number, a.Box, a.Pattern, a.Line))
	}
	return append(lists, areas)
}

// patternSign returns a drawing of a sample of a pattern.
func patternSign(p finish.Pattern) drawing {
	return func(pg *page.Page, in plane.Rect) {
		frame := page.BoxPath(in, 0.3, page.Ink)
		if p == finish.Black {
			frame.Fill = &page.Ink
		}
		pg.Add(frame)
		var sample page.Page
		whole := plane.Rect{Max: plane.Pt(2*in.Width(), 2*in.Height())} // at half size, to show enough of it
		filler{&sample, whole.Holds}.fill(p, whole.Max.X, whole.Max.Y)
		drawScaled(pg, sample, in.Min, 0.5)
	}
}

// PatternSheet returns the plan of the patterns. The error wraps ErrPaper.
func PatternSheet(w Wish, p finish.Patterns) ([]page.Page, error) {
	about := fmt.Sprintf("%s, no two that touch alike.", counted(len(p.Areas), "area"))
	return w.planned(planned{"Patterns by area", signs[lesson.Ink], about, PatternMap(p), PatternLists(p), nil, nil})
}
