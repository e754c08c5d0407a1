package sheet

import (
	"fmt"
	"math"
	"strings"

	"zestysketch/internal/core/finish"
	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/lesson"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/plane"
)

// Fills of what a broad marker and a soft pencil fill.
var (
	markerFill = page.Color{R: 0xf4, G: 0xb4, B: 0x1a}
	pencilFill = page.Color{R: 0x9d, G: 0xb8, B: 0x9f}
)

// InkMap returns the solid darks at the size of the drawing: black for the fine
// tip, filled and numbered in their order for marker and pencil; a ring in
// boxes with risk; dashed the grid lines to erase first.
func InkMap(ink finish.Ink, p grid.Plan) page.Page {
	m := ink.Map
	pg := page.Page{Title: "Ink plan", Size: measure.Size{W: measure.Length(float64(m.W) / m.PerMM), H: measure.Length(float64(m.H) / m.PerMM)}}
	mm := func(q plane.Point) plane.Point { return plane.Pt(q.X/m.PerMM, q.Y/m.PerMM) }
	tool := map[int32]finish.Tool{}
	for _, a := range ink.Areas {
		tool[m.At[int(a.At.Y*m.PerMM)*m.W+int(a.At.X*m.PerMM)]] = a.Tool
	}
	for _, i := range largestFirst(m) {
		fill := page.White
		if m.Areas[i].Step == 0 {
			fill = map[finish.Tool]page.Color{finish.FineTip: page.Ink, finish.Marker: markerFill, finish.Pencil: pencilFill}[tool[int32(i)]]
		}
		path := page.Path{Closed: true, Width: 0.3, Stroke: page.Ink, Fill: &fill}
		for _, q := range m.Areas[i].Rings[0] {
			path.Points = append(path.Points, mm(q))
		}
		pg.Add(path)
	}
	risk := map[string]bool{}
	for _, r := range ink.Risks {
		risk[r.Box] = true
	}
	for _, c := range p.Cells() {
		pg.Add(page.BoxPath(c.Sheet, 0.12, page.Faint), page.Text{At: plane.Pt(c.Sheet.Min.X+1, c.Sheet.Min.Y+3.6), Size: 3, Words: c.Label, Color: page.Ink, Halo: true})
		if risk[c.Label] {
			at := plane.Pt(c.Sheet.Max.X-4, c.Sheet.Min.Y+4)
			pg.Ring(at, 2.4, endInk)
			pg.Add(page.Text{At: plane.Pt(at.X, at.Y+1.4), Size: 4, Words: "!", Anchor: page.Middle, Bold: true, Color: endInk, Halo: true})
		}
	}
	for _, piece := range ink.Ruled {
		pg.Add(page.Path{Points: piece[:], Width: 0.6, Stroke: endInk, Dash: 1.5})
	}
	for _, a := range ink.Areas {
		if size := min(5, a.Breadth*0.7); a.Tool != finish.FineTip && size >= 1.8 {
			pg.Add(page.Text{At: plane.Pt(a.At.X, a.At.Y+size*0.35), Size: size, Words: fmt.Sprint(a.Number), Anchor: page.Middle, Bold: true, Color: page.Ink})
		}
	}
	return pg
}

// speck is the area below which a dark is not listed by itself, mm² (ours).
const speck = 5.0

// mostListed bounds a list that is read while working.
const mostListed = 24

var shortTool = map[finish.Tool]string{finish.FineTip: "fine tip", finish.Marker: "marker", finish.Pencil: "soft pencil"}

// InkLists returns the ink plan in words: what with which tool, boxes with
// risk, and what to erase first.
func InkLists(ink finish.Ink) []Entry {
	var tools []string
	for _, t := range []finish.Tool{finish.FineTip, finish.Marker, finish.Pencil} {
		if n, mm2, minutes := ink.Sum(t); n > 0 {
			tools = append(tools, fmt.Sprintf("%s: %s, %s, about %s", capital(string(t)), counted(n, "area"), square(mm2), minutesWords(minutes)))
		}
	}
	if ink.Lines > 1 {
		tools = append(tools, fmt.Sprintf("Fine tip: %.1f m of other lines. Rest the hand on the long ones.", ink.Lines/1000))
	}
	if len(ink.Areas) == 0 {
		tools = append(tools, "No solid darks: only lines to ink.")
	}
	tools = append(tools, fmt.Sprintf("All together about %s.", minutesWords(ink.Minutes)))
	lists := []Entry{{"With what", tools}, {"In which order", []string{ink.Start, "Outlines first, then the fillings, by their numbers."}}}
	if len(ink.Risks) > 0 {
		var risks []string
		for _, r := range ink.Risks {
			risks = append(risks, r.Box+": "+r.Why)
		}
		lists = append(lists, Entry{"Take care in", risks})
	}
	if len(ink.Erase) > 0 {
		lists = append(lists, Entry{"Erase first", []string{"Grid lines run inside the dark in " + strings.Join(ink.Erase, ", ") + ": what is under ink cannot be erased. Hold the paper flat; a corner cut from an eraser reaches small places."}})
	}
	if len(ink.Areas) > 0 {
		var areas []string
		specks, all := 0, 0.0
		for _, a := range ink.Areas {
			if a.MM2 < speck {
				specks, all = specks+1, all+a.MM2
				continue
			}
			areas = append(areas, fmt.Sprintf("%d · %s: %s, %.1f mm broad, %s, %s", a.Number, strings.Join(a.Boxes[:min(3, len(a.Boxes))], " "), square(a.MM2), a.Breadth, shortTool[a.Tool], minutesWords(a.Minutes)))
		}
		if more := len(areas) - mostListed; more > 0 {
			areas = append(areas[:mostListed], fmt.Sprintf("and %d more", more))
		}
		if specks > 0 {
			areas = append(areas, fmt.Sprintf("%s under %.0f mm², %s together: the fine tip, with the lines", counted(specks, "speck"), speck, square(all)))
		}
		lists = append(lists, Entry{"Dark by dark", areas})
	}
	return lists
}

func capital(s string) string {
	if s == "" || s[0] < 'a' || s[0] > 'z' {
		return s
	}
	return string(s[0]-'a'+'A') + s[1:]
}

func counted(n int, what string) string {
	if n == 1 {
		return "1 " + what
	}
	return fmt.Sprintf("%d %ss", n, what)
}

// square writes an area as people read it.
func square(mm2 float64) string {
	if mm2 < 1000 {
		return fmt.Sprintf("%.0f mm²", mm2)
	}
	return fmt.Sprintf("%.0f cm²", mm2/100)
}

func minutesWords(m float64) string {
	switch {
	case m < 0.75:
		return fmt.Sprintf("%.0f seconds", 5*math.Ceil(m*12))
	case m <= 1:
		return "1 minute"
	}
	return fmt.Sprintf("%.0f minutes", math.Ceil(m))
}

// InkSheet returns the ink plan on one page. The error wraps ErrPaper.
func InkSheet(w Wish, ink finish.Ink) (page.Page, error) {
	return w.planned("Ink plan", InkMap(ink, w.Plan), InkLists(ink), lesson.Cautions(lesson.Markers), nil)
}

// planned returns a page with a drawing above, lists below, as far as they have
// room, and cautions at its foot; between them is what extra draws, whose height
// it returns. The error wraps ErrPaper.
func (w Wish) planned(head string, drawn page.Page, lists []Entry, cautions []string, extra func(pg *page.Page, at plane.Point, width float64) float64) (page.Page, error) {
	l, err := page.Free(w.Printer, "the "+head)
	if err != nil {
		return page.Page{}, err
	}
	pg, in := l.Begin(w.titled(), head), l.Inner()
	in.Max.Y = drawCare(&pg, in, cautions)
	k := min(in.Width()/float64(drawn.Size.W), in.Height()*0.42/float64(drawn.Size.H))
	drawScaled(&pg, drawn, plane.Pt(in.Min.X, in.Min.Y+4), k)
	at, width := plane.Pt(in.Min.X, in.Min.Y+12+float64(drawn.Size.H)*k), in.Width()
	if beside := in.Width() - float64(drawn.Size.W)*k - 6; beside > 70 { // an upright drawing leaves room beside it
		first := lists[0]
		drawSection(&pg, plane.Pt(in.Max.X-beside, in.Min.Y+8), beside, first.Head, fitting(first.Lines, beside-4, float64(drawn.Size.H)*k-8))
		lists = lists[1:]
	}
	if extra != nil {
		at.Y += extra(&pg, plane.Pt(at.X, at.Y-6), width)
	}
	for _, e := range lists {
		if at.Y < in.Max.Y-8 {
			at.Y = drawSection(&pg, at, width, e.Head, fitting(e.Lines, width-4, in.Max.Y-at.Y-8))
		}
	}
	return pg, nil
}
