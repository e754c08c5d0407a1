// Package finish plans how a drawing is finished: what is inked with which tool
// and in which order, and how tone is laid on.
package finish

import (
	"cmp"
	"errors"
	"fmt"
	"image"
	"math"
	"slices"
	"strings"

	"zestysketch/internal/core/colour"
	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/lines"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/core/values"
)

// Tool is what ink or black is put down with.
type Tool string

// The tools: a 0.2 mm tip outlines; large blacks are outlined with it and
// filled with a broad marker or a soft black pencil, never with the fine tip
// (common practice).
const (
	FineTip Tool = "fine tip, 0.2 mm"
	Marker  Tool = "outline fine, fill with a broad marker"
	Pencil  Tool = "outline fine, fill with a soft black pencil"
)

// Area is a place of solid dark.
type Area struct {
	Boxes   []string // it lies in, the first to be inked first
	MM2     float64
	Breadth float64 // of the largest circle inside, mm
	Round   float64 // length of its outline, mm
	Soft    bool    // its edge is a slow shadow: for pencil, never for ink
	Tool    Tool
	Minutes float64
	At      plane.Point // a place well inside, mm of the sheet
	Number  int         // in the order of inking, from 1
}

// Risk is a box to be careful in.
type Risk struct {
	Box, Why string
}

// Ink is the ink plan of a drawing.
type Ink struct {
	Map     values.Map      // in two steps: dark and light
	Areas   []Area          // in the order of inking
	Lines   float64         // of outlines without the areas', mm
	Outline [][]plane.Point // those lines, round light areas too, mm of the sheet
	Minutes float64
	Start   string // where the hand begins
	Risks   []Risk
	Erase   []string         // boxes whose grid lines run inside the dark: erase them first
	Ruled   [][2]plane.Point // those pieces of grid lines, mm of the sheet
}

// InkWish is what is wanted of an ink plan.
type InkWish struct {
	Plan  grid.Plan
	PerMM float64 // pixels of the picture a millimetre of the sheet
	Dark  float64 // L*: what is darker is solid dark
	Hand  grid.Hand
}

// ErrWish is wrapped by errors about what was asked for.
var ErrWish = errors.New("finish")

// Of areas, in millimetres: the smallest worth a stroke, the broadest that is a
// line, and from where on a fine tip is a waste (ours).
const (
	leastDark   = 1.5
	lineBroad   = 1.6
	markerBroad = 3.0
	markerArea  = 60.0
	pencilArea  = 2500.0
	neck        = 0.4
	mostLine    = 2.0  // the broadest that a picture's own lines are taken to be
	broader     = 1.25 // times as broad as those, and it is a dark and no line
)

// How fast a hand works: outlines in mm a second, fillings in mm² a second
// (ours, tried on paper; a class takes longer than its teacher).
const (
	outlinePace = 6.0
	fineFill    = 6.0
	markerFill  = 80.0
	pencilFill  = 50.0
	eachArea    = 4.0 // seconds to find the next one
)

// NewInk measures the solid darks of a picture, framed as the sheet is, and
// plans their inking. The error wraps ErrWish.
func NewInk(img *image.RGBA, w InkWish) (Ink, error) {
	if !(w.Dark > 0 && w.Dark < 100) {
		return Ink{}, fmt.Errorf("%w: solid dark begins between 0 and 100 of lightness, got %g", ErrWish, w.Dark)
	}
	line := min(mostLine, lines.UsualBreadth(img, w.PerMM)/w.PerMM)
	m, err := values.New(withoutColours(img), values.Wish{Steps: 2, Rule: values.ByHand, Cuts: []float64{w.Dark}, PerMM: w.PerMM, LeastArea: leastDark, Neck: max(neck, broader*line)})
	if err != nil {
		return Ink{}, fmt.Errorf("%w: %w", ErrWish, err)
	}
	ink := Ink{Map: m, Start: "Right-handed: begin top left, go down and to the right. The hand never lies on wet ink."}
	if w.Hand == grid.LeftHand {
		ink.Start = "Left-handed: begin top right, go down and to the left. The hand never lies on wet ink."
	}
	_, hard := hardEdges(lines.Lightness(img), w.PerMM)
	ink.areas(w, hard)
	sketch, err := lines.Draw(img, lines.Wish{Detail: lines.Usual, PerMM: w.PerMM})
	if err != nil {
		return Ink{}, fmt.Errorf("%w: %w", ErrWish, err)
	}
	for _, s := range sketch.Strokes {
		ink.Lines += s.Length() / w.PerMM
		run := make([]plane.Point, 0, len(s.Points)+1)
		for _, q := range s.Points {
			run = append(run, q.Mul(1/w.PerMM))
		}
		if s.Closed {
			run = append(run, run[0])
		}
		ink.Outline = append(ink.Outline, run)
	}
	around := 0.0
	for _, a := range ink.Areas {
		ink.Minutes += a.Minutes
		around += a.Round
	}
	ink.Lines = max(0, ink.Lines-around)
	ink.Minutes += ink.Lines / outlinePace / 60
	ink.risks(w)
	return ink, nil
}

// A dark colour is a colour and no black: one that is lighter than nearBlack and whose chroma is at least aColour (ours).
const nearBlack, aColour = 14.0, 20.0

// withoutColours returns a picture in which what is coloured is paper.
func withoutColours(img *image.RGBA) *image.RGBA {
	out := image.NewRGBA(img.Rect)
	copy(out.Pix, img.Pix)
	known := map[[3]uint8]bool{}
	for i := 0; i < len(out.Pix); i += 4 {
		p := out.Pix[i : i+3 : i+3]
		key := [3]uint8{p[0], p[1], p[2]}
		coloured, ok := known[key]
		if !ok {
			c := colour.Of(p[0], p[1], p[2])
			coloured = c.L > nearBlack && c.Chroma() >= aColour
			known[key] = coloured
		}
		if coloured {
			p[0], p[1], p[2] = 255, 255, 255
		}
	}
	return out
}

// boxesOf returns, for every area, the boxes in which more than a speck of it lies.
func boxesOf(m values.Map, p grid.Plan) []map[string]int {
	in := make([]map[string]int, len(m.Areas))
	for i := range in {
		in[i] = map[string]int{}
	}
	column, row := strips(p.Marks.SheetX, m.W, m.PerMM), strips(p.Marks.SheetY, m.H, m.PerMM)
	labels := make([]string, p.Count())
	for i, c := range p.Cells() {
		labels[i] = c.Label
	}
	count := make([]int, len(m.Areas)*len(labels))
	for y := range m.H {
		for x, a := range m.At[y*m.W : (y+1)*m.W] {
			count[int(a)*len(labels)+row[y]*p.Grid.Columns+column[x]]++
		}
	}
	for i, n := range count {
		if n > 0 {
			in[i/len(labels)][labels[i%len(labels)]] = n
		}
	}
	return in
}

// strips returns in which strip of a grid every pixel of a row lies.
func strips(marks []float64, n int, perMM float64) []int {
	at := make([]int, n)
	k := 0
	for i := range at {
		for k+2 < len(marks) && (float64(i)+0.5)/perMM > marks[k+1] {
			k++
		}
		at[i] = k
	}
	return at
}

// rank returns the place of every box in the order of a hand.
func rank(p grid.Plan, hand grid.Hand) map[string]int {
	at := map[string]int{}
	for i, c := range p.Order(hand) {
		at[c.Label] = i
	}
	return at
}

// softEdge is the share of an area's border that is a hard edge below which the area is a soft shadow (ours).
const softEdge = 0.35

func (ink *Ink) areas(w InkWish, hard func(x, y float64) bool) {
	m := ink.Map
	in, places, order := boxesOf(m, w.Plan), m.Numbers(), rank(w.Plan, w.Hand)
	for i, a := range m.Areas {
		if a.Step != 0 {
			continue
		}
		out := Area{MM2: m.MM2(a), Breadth: 2 * places[i].Room / m.PerMM, At: plane.Pt(places[i].At.X/m.PerMM, places[i].At.Y/m.PerMM)}
		sharp, all := 0, 0
		for _, r := range a.Rings {
			out.Round += r.Length() / m.PerMM
			for _, q := range r {
				if all++; hard(q.X, q.Y) {
					sharp++
				}
			}
		}
		out.Soft = float64(sharp) < softEdge*float64(all)
		speck := int(0.5 * m.PerMM * m.PerMM)
		for label, n := range in[i] {
			if n > speck || len(in[i]) == 1 {
				out.Boxes = append(out.Boxes, label)
			}
		}
		slices.SortFunc(out.Boxes, func(a, b string) int { return cmp.Compare(order[a], order[b]) })
		out.choose()
		ink.Areas = append(ink.Areas, out)
	}
	first := func(a Area) int {
		if len(a.Boxes) == 0 {
			return len(order)
		}
		return order[a.Boxes[0]]
	}
	slices.SortStableFunc(ink.Areas, func(a, b Area) int {
		across := cmp.Compare(a.At.X, b.At.X)
		if w.Hand == grid.LeftHand {
			across = -across
		}
		return cmp.Or(cmp.Compare(first(a), first(b)), across)
	})
	for i := range ink.Areas {
		ink.Areas[i].Number = i + 1
	}
}

// choose names an area's tool by its size and thinness, and how long it takes.
func (a *Area) choose() {
	seconds := eachArea + a.Round/outlinePace
	switch {
	case a.Soft:
		a.Tool = Pencil
		seconds = eachArea + a.MM2/pencilFill
	case a.Breadth < lineBroad:
		a.Tool = FineTip // drawn as a line: it has no inside to fill
		seconds += a.MM2 / fineFill / 2
	case a.Breadth < markerBroad || a.MM2 < markerArea:
		a.Tool = FineTip
		seconds += a.MM2 / fineFill
	case a.MM2 > pencilArea:
		a.Tool = Pencil
		seconds += a.MM2 / pencilFill
	default:
		a.Tool = Marker
		seconds += a.MM2 / markerFill
	}
	a.Minutes = seconds / 60
}

// smallWhite reports whether an area is a small white with dark all round.
func (ink *Ink) smallWhite(i int) bool {
	a := ink.Map.Areas[i]
	return a.Step == 1 && ink.Map.MM2(a) < 40 && !ink.Map.TouchesEdge(i)
}

// filled returns the boxes in which a marker fills something.
func (ink *Ink) filled() map[string]bool {
	by := map[string]bool{}
	for _, a := range ink.Areas {
		for _, b := range a.Boxes {
			by[b] = by[b] || a.Tool != FineTip
		}
	}
	return by
}

// risks finds the boxes to be careful in: thin whites between darks, thin
// parts of what a marker fills, and small whites inside; and the boxes whose
// grid lines ink would cover.
func (ink *Ink) risks(w InkWish) {
	m := ink.Map
	dark := func(x, y int) bool { return m.Areas[m.At[y*m.W+x]].Step == 0 }
	column, row := strips(w.Plan.Marks.SheetX, m.W, m.PerMM), strips(w.Plan.Marks.SheetY, m.H, m.PerMM)
	// narrow returns by box how much, in mm², is closed by growing the other side so far.
	narrow := func(mm float64, other func(x, y int) bool) map[string]float64 {
		by := map[string]float64{}
		for i, closed := range grown(m.W, m.H, mm*m.PerMM, other) {
			if x, y := i%m.W, i/m.W; closed && !other(x, y) {
				by[w.Plan.Cell(column[x], row[y]).Label] += 1 / (m.PerMM * m.PerMM)
			}
		}
		return by
	}
	gap, thin := narrow(0.8, dark), narrow(0.6, func(x, y int) bool { return !dark(x, y) })
	whites := map[string]bool{}
	for i, boxes := range boxesOf(m, w.Plan) {
		if ink.smallWhite(i) {
			for label := range boxes {
				whites[label] = true
			}
		}
	}
	filled := ink.filled()
	for _, c := range w.Plan.Order(w.Hand) {
		var why []string
		if gap[c.Label] > 2 {
			why = append(why, "a thin white between darks: leave it, ink up to it from both sides")
		}
		if whites[c.Label] {
			why = append(why, "a small white inside the dark: outline it first")
		}
		if filled[c.Label] && thin[c.Label] > 2 {
			why = append(why, "thin ends: the fine tip alone")
		}
		if why != nil {
			ink.Risks = append(ink.Risks, Risk{c.Label, strings.Join(why, "; ")})
		}
		if ink.ruled(c, dark) {
			ink.Erase = append(ink.Erase, c.Label)
		}
	}
}

// grown reports which pixels a set covers when it is grown by r and shrunk
// again: what is thinner than 2r between its parts is covered too (the closing
// of Serra 1982, by distances).
func grown(w, h int, r float64, in func(x, y int) bool) []bool {
	out := make([]bool, w*h)
	near := lines.Distances(w, h, in)
	back := lines.Distances(w, h, func(x, y int) bool { return near[y*w+x] > r*r })
	for i := range out {
		out[i] = back[i] > r*r
	}
	return out
}

// leastRuled is the shortest piece of grid line under ink that matters, mm.
const leastRuled = 3.0

// ruled notes the pieces of a box's own grid lines, left and above, that run
// through the dark, and reports whether there are any.
func (ink *Ink) ruled(c grid.Cell, dark func(x, y int) bool) bool {
	before := len(ink.Ruled)
	if c.Column > 0 {
		ink.along(c.Sheet.Min, plane.Pt(c.Sheet.Min.X, c.Sheet.Max.Y), dark)
	}
	if c.Row > 0 {
		ink.along(c.Sheet.Min, plane.Pt(c.Sheet.Max.X, c.Sheet.Min.Y), dark)
	}
	return len(ink.Ruled) > before
}

// along notes the pieces of a line that run through the dark.
func (ink *Ink) along(from, to plane.Point, dark func(x, y int) bool) {
	m := ink.Map
	long := to.Sub(from).Len()
	n := int(long * m.PerMM)
	at := func(i int) plane.Point {
		t := float64(i) / float64(max(1, n))
		return plane.Pt(from.X+(to.X-from.X)*t, from.Y+(to.Y-from.Y)*t)
	}
	pixel := func(v float64, n int) int { return max(0, min(n-1, int(v*m.PerMM))) }
	start := -1
	for i := 0; i <= n; i++ {
		q := at(i)
		in := i < n && dark(pixel(q.X, m.W), pixel(q.Y, m.H))
		if in && start < 0 {
			start = i
		}
		if !in && start >= 0 {
			if float64(i-start)/m.PerMM >= leastRuled {
				ink.Ruled = append(ink.Ruled, [2]plane.Point{at(start), q})
			}
			start = -1
		}
	}
}

// Sum says how much of each tool's work there is.
func (ink Ink) Sum(t Tool) (areas int, mm2, minutes float64) {
	for _, a := range ink.Areas {
		if a.Tool == t {
			areas, mm2, minutes = areas+1, mm2+a.MM2, minutes+a.Minutes
		}
	}
	return areas, mm2, math.Round(minutes*10) / 10
}
