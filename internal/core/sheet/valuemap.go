package sheet

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/core/values"
)

// ValueStyle is how a value map is drawn.
type ValueStyle string

// The styles of a value map.
const (
	ValueOutlines ValueStyle = "outlines" // numbered, to be filled
	ValueFilled   ValueStyle = "filled"   // as it should look
	ValueInverted ValueStyle = "inverted" // filled with the opposite, for black paper
	ValueFigure   ValueStyle = "figure"   // outlines of the main areas, no numbers
)

// legendHigh is the strip below a map for its steps, mm.
const legendHigh = 16.0

// ValueLook says how a value map is shown.
type ValueLook struct {
	Style ValueStyle
	Net   *Net          // over it; nil for none
	Over  *page.Picture // beneath outlines, as large as the map; nil for paper
	Notes []string      // below a figure
}

// numberAreas writes each area's step into it where its circle fits; the smallest stay without.
func numberAreas(pg *page.Page, m values.Map, halo bool) {
	for i, p := range m.Numbers() {
		if size := min(4.5, 1.5*p.Room/m.PerMM); size >= 1.4 {
			at := plane.Pt(p.At.X/m.PerMM, p.At.Y/m.PerMM+size*0.35)
			pg.Add(page.Text{At: at, Size: size, Words: fmt.Sprint(m.Areas[i].Step + 1), Anchor: page.Middle, Color: page.Ink, Halo: halo})
		}
	}
}

// ValueMap returns a value map at true size, with its legend below: a swatch,
// a number and a pencil for each step. A figure is its outlines alone, with its recipe.
func ValueMap(m values.Map, look ValueLook) page.Page {
	w, h := float64(m.W)/m.PerMM, float64(m.H)/m.PerMM
	pg := page.Page{Title: "Value map", Size: measure.Size{W: measure.Length(w), H: measure.Length(h)}}
	outlined := look.Style == ValueOutlines || look.Style == ValueFigure
	if outlined && look.Over != nil {
		pg.Add(*look.Over)
	}
	mm := func(p plane.Point) plane.Point { return plane.Pt(p.X/m.PerMM, p.Y/m.PerMM) }
	for _, i := range largestFirst(m) {
		a := m.Areas[i]
		path := page.Path{Closed: true}
		for _, p := range a.Rings[0] {
			path.Points = append(path.Points, mm(p))
		}
		switch {
		case !outlined:
			fill := shade(m, a.Step, look.Style)
			path.Fill = &fill
		case look.Style == ValueFigure:
			path.Width, path.Stroke = 0.6, page.Ink
		default:
			path.Width, path.Stroke = 0.25, page.Ink
		}
		if outlined && look.Over != nil { // seen on dark tones too
			casing := path
			casing.Width, casing.Stroke = path.Width+0.5, page.White
			pg.Add(casing)
		}
		pg.Add(path)
	}
	if look.Style == ValueOutlines {
		numberAreas(&pg, m, look.Over != nil)
	}
	if look.Net != nil {
		drawRule(&pg, plane.Point{}, *look.Net)
	}
	pg.Size.H += legendHigh
	if look.Style != ValueFigure {
		drawValueLegend(&pg, m, look.Style, w, h)
	} else {
		const size = 3.0
		for i, line := range page.Wrap(strings.Join(look.Notes, " "), size, w-2, false) {
			pg.Add(page.Text{At: plane.Pt(1, h+5+float64(i)*size*1.35), Size: size, Words: line, Color: page.Ink})
		}
	}
	return pg
}

// largestFirst orders a map's areas so that what lies in an area's hole covers it.
func largestFirst(m values.Map) []int {
	order := make([]int, len(m.Areas))
	for i := range order {
		order[i] = i
	}
	slices.SortStableFunc(order, func(a, b int) int { return cmp.Compare(m.Areas[b].Rings[0].Area(), m.Areas[a].Rings[0].Area()) })
	return order
}

func shade(m values.Map, step int, style ValueStyle) page.Color {
	g := picture.GreyOf(m.Shade(step, style == ValueInverted))
	return page.Color{R: g, G: g, B: g}
}

func drawValueLegend(pg *page.Page, m values.Map, style ValueStyle, w, h float64) {
	each := w / float64(len(m.Levels))
	for s, l := range m.Levels {
		b := page.Box(float64(s)*each+1, h+3, min(8, each*0.3), 8)
		swatch, fill := page.BoxPath(b, 0.25, page.Ink), shade(m, s, style)
		swatch.Fill = &fill
		pg.Add(swatch, page.Text{At: plane.Pt(b.Max.X+1.5, h+6), Size: 3.2,
			Words: page.Fitting(3.2, each-b.Width()-3, true, fmt.Sprintf("%d · %s", s+1, l.Grade), fmt.Sprint(s+1)),
			Bold:  true, Color: page.Ink},
			page.Text{At: plane.Pt(b.Max.X+1.5, h+10.5), Size: 2.8, Words: page.Fitting(2.8, each-b.Width()-3, false, fmt.Sprintf("%.0f %%", 100*l.Share), ""), Color: page.Ink})
	}
}
