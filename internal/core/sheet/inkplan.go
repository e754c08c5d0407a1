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
	for _, run := range ink.Outline {
		pg.Add(page.Path{Points: run, Width: 0.3, Stroke: page.Ink})
	}
	risk := map[string]bool{}
	for _, r := range ink.Risks {
		risk[r.Box] = true
	}
	for _, c := range p.Cells() {
		pg.Add(page.BoxPath(c.Sheet, 0.12, page.Faint), page.Text{At: plane.Pt(c.Sheet.Min.X+1, c.Sheet.Min.Y+3.6), Size: 3, Words: c.Label, Color: page.Ink, Halo: true})
		if risk[c.Label] {
			drawRisk(&pg, plane.Pt(c.Sheet.Max.X-4, c.Sheet.Min.Y+4))
		}
	}
	for _, piece := range ink.Ruled {
		drawErased(&pg, piece[0], piece[1])
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

// leastLines is how long other lines are together to be spoken of, mm (ours).
const leastLines = 50

// mostListed bounds a list that is read while working.
const mostListed = 24

var shortTool = map[finish.Tool]string{finish.FineTip: "fine tip", finish.Marker: "marker", finish.Pencil: "soft pencil"}

// inkSigns are what each tool fills, small, as it is drawn on the plan.
var inkSigns = map[finish.Tool]drawing{finish.FineTip: filled(page.Ink), finish.Marker: filled(markerFill), finish.Pencil: filled(pencilFill)}

// penDraws is how long a line a fine tip draws before it is worn, mm (from memory: about 300 m on smooth paper).
const penDraws = 300e3

// InkLists returns the ink plan in words: what with which tool, boxes with
// risk, what to erase first, and last every dark, to be ticked.
func InkLists(ink finish.Ink) []Entry {
	tools := Entry{Head: "With what"}
	for _, t := range []finish.Tool{finish.FineTip, finish.Marker, finish.Pencil} {
		if n, mm2, minutes := ink.Sum(t); n > 0 {
			tools.say(inkSigns[t], fmt.Sprintf("%s: %s, %s, about %s", capital(string(t)), counted(n, "area"), square(mm2), minutesWords(minutes)))
		}
	}
	if ink.Lines > leastLines {
		words := fmt.Sprintf("Fine tip: %.1f m of other lines. Rest the hand on the long ones.", ink.Lines/1000)
		if n := int(penDraws / ink.Lines); n > 0 {
			words += fmt.Sprintf(" A new tip is good for about %s like this.", counted(min(n, 20), "drawing"))
		}
		tools.say(drawnLine, words)
	}
	if len(ink.Areas) == 0 {
		tools.say(nil, "No solid darks: only lines to ink.")
	}
	lists := []Entry{tools, {Head: "In which order", Lines: []string{ink.Start, "Outlines first, then the fillings, by their numbers."}}}
	if risks := (Entry{Head: "Take care in"}); len(ink.Risks) > 0 {
		for _, of := range alikeIn(ink.Risks, func(r finish.Risk) (why, box string) { return r.Why, r.Box }) {
			risks.say(drawnRisk, few(of.boxes)+": "+of.first.Why)
		}
		lists = append(lists, risks)
	}
	if erase := (Entry{Head: "Erase first"}); len(ink.Erase) > 0 {
		erase.say(drawnErase, "Grid lines run inside the dark in "+few(ink.Erase)+": what is under ink cannot be erased. Hold the paper flat; a corner cut from an eraser reaches small places.")
		lists = append(lists, erase)
	}
	if len(ink.Areas) > 0 {
		lists = append(lists, darks(ink))
	}
	return lists
}

// mostFew is how many boxes are named where the plan shows all of them (ours).
const mostFew = 6

// few names boxes, and counts those that are only drawn.
func few(boxes []string) string {
	if len(boxes) <= mostFew {
		return strings.Join(boxes, ", ")
	}
	return fmt.Sprintf("%s and %d more, as drawn", strings.Join(boxes[:mostFew], ", "), len(boxes)-mostFew)
}

// darks lists the dark areas to be ticked, in the order of inking; specks stand in one line.
func darks(ink finish.Ink) Entry {
	e := Entry{Head: "Dark by dark", ticks: true}
	specks, all := 0, 0.0
	for _, a := range ink.Areas {
		if a.MM2 < speck {
			specks, all = specks+1, all+a.MM2
			continue
		}
		e.say(inkSigns[a.Tool], fmt.Sprintf("%d · %s: %s, %.1f mm broad, %s, %s", a.Number,
			strings.Join(a.Boxes[:min(3, len(a.Boxes))], " "), square(a.MM2), a.Breadth, shortTool[a.Tool],
			minutesWords(a.Minutes)))
	}
	if more := len(e.Lines) - mostListed; more > 0 {
		e.Lines, e.signs = e.Lines[:mostListed], e.signs[:mostListed]
		e.say(nil, fmt.Sprintf("and %d more", more))
	}
	if specks > 0 {
		e.say(inkSigns[finish.FineTip], fmt.Sprintf("%s under %.0f mm², %s together: the fine tip, with the lines", counted(specks, "speck"), speck, square(all)))
	}
	return e
}

// drawnLine, drawnRisk and drawnErase are signs as the ink plan draws them: a line to ink, a
// box with risk, a piece of the grid to be rubbed out first.
func drawnLine(pg *page.Page, in plane.Rect) {
	pg.Add(page.Path{Points: []plane.Point{plane.Pt(in.Min.X, in.Max.Y-1), plane.Pt(in.Min.X+in.Width()*0.4, in.Min.Y+1.4), plane.Pt(in.Max.X, in.Middle().Y)}, Width: 0.4, Stroke: page.Ink})
}

func drawnRisk(pg *page.Page, in plane.Rect) { drawRisk(pg, in.Middle()) }

func drawRisk(pg *page.Page, at plane.Point) {
	pg.Ring(at, 2.4, endInk)
	pg.Add(page.Text{At: plane.Pt(at.X, at.Y+1.4), Size: 4, Words: "!", Anchor: page.Middle, Bold: true, Color: endInk, Halo: true})
}

func drawnErase(pg *page.Page, in plane.Rect) {
	drawErased(pg, plane.Pt(in.Min.X, in.Middle().Y), plane.Pt(in.Max.X, in.Middle().Y))
}

func drawErased(pg *page.Page, a, b plane.Point) {
	pg.Add(page.Path{Points: []plane.Point{a, b}, Width: 0.6, Stroke: endInk, Dash: 1.5})
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

// InkAbout says what an ink plan comes to.
func InkAbout(ink finish.Ink) string {
	solid, long := 0, ink.Lines
	for _, a := range ink.Areas {
		if a.Tool == finish.FineTip { // drawn as a line, not filled
			long += a.Round / 2
		} else {
			solid++
		}
	}
	about := fmt.Sprintf("%.1f m of lines", long/1000)
	if solid > 0 {
		about = counted(solid, "solid dark") + " and " + about
	}
	return about + fmt.Sprintf(": about %s of work.", minutesWords(ink.Minutes))
}

// InkSheet returns the ink plan. The error wraps ErrPaper.
func InkSheet(w Wish, ink finish.Ink) ([]page.Page, error) {
	return w.planned(planned{"Ink plan", signs[lesson.Ink], InkAbout(ink), InkMap(ink, w.Plan), InkLists(ink), lesson.Cautions(lesson.Markers), nil})
}

// planned is a plan for the finish: what stands at its head, the drawing with lists beside and
// below it, cautions at the foot, and what extra draws between drawing and lists, down to the
// height that it returns.
type planned struct {
	head     string
	sign     sign
	about    string
	drawn    page.Page
	lists    []Entry
	cautions []string
	extra    func(pg *page.Page, room plane.Rect) (bottom float64)
}

// planned returns the plan on one page, and behind it the lists that have no room there. The error wraps ErrPaper.
func (w Wish) planned(p planned) ([]page.Page, error) {
	l, err := page.Free(w.Printer, "the "+p.head)
	if err != nil {
		return nil, err
	}
	pg, in := l.Begin(w.titled(), p.head), l.Inner()
	in.Max.Y = drawCare(&pg, in, p.cautions)
	top := drawHead(&pg, in, p.sign, p.head, p.about)
	k := min(in.Width()/float64(p.drawn.Size.W), in.Height()*0.46/float64(p.drawn.Size.H))
	drawScaled(&pg, p.drawn, plane.Pt(in.Min.X, top), k)
	below := top + float64(p.drawn.Size.H)*k
	lists := p.lists
	if left := in.Min.X + float64(p.drawn.Size.W)*k + 6; in.Max.X-left > 60 { // an upright drawing leaves room beside it
		beside := plane.Rect{Min: plane.Pt(left, top+page.Heading), Max: plane.Pt(in.Max.X, below)}
		for len(lists) > 0 && !lists[0].ticks && beside.Height() >= lists[0].needs(beside.Width()) {
			beside.Min.Y = drawEntry(&pg, beside, lists[0])
			lists = lists[1:]
		}
		below = max(below, beside.Min.Y-entryGap)
	}
	rest := plane.Rect{Min: plane.Pt(in.Min.X, below+page.Heading+4), Max: in.Max}
	if p.extra != nil {
		rest.Min.Y = p.extra(&pg, rest)
	}
	pages, begun := []page.Page{pg}, true
	for _, e := range lists {
		if begun && e.needs(rest.Width()) > rest.Height() {
			pages, rest, begun = append(pages, l.Begin(w.titled(), p.head)), l.Inner(), false
			rest.Max.Y = drawCare(&pages[len(pages)-1], rest, p.cautions)
			rest.Min.Y += page.Heading
		}
		rest.Min.Y, begun = drawEntry(&pages[len(pages)-1], rest, e), true
	}
	return pages, nil
}
