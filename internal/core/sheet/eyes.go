package sheet

import (
	"fmt"
	"hash/fnv"
	"math"
	"math/rand/v2"
	"strings"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/core/reading"
)

// MostRounds bounds the exercise sheets of one plan.
const MostRounds = 99

// eyeSheet is an exercise sheet as it grows, and its key.
type eyeSheet struct {
	w    Wish
	pg   page.Page
	in   plane.Rect
	y, k float64 // where the next row begins; how large all is
	row  int
	rng  *rand.Rand
	key  []string
}

// EyeSheet returns exercises for the eye on paper, made of the plan's own boxes and of
// figures, another sheet for each round, and their key in millimetres to lay a ruler on.
// The same round of the same plan is the same sheet. The error wraps page.ErrPaper.
func EyeSheet(w Wish) ([]page.Page, error) {
	l, err := page.Free(w.Printer, "the exercise sheet")
	if err != nil {
		return nil, err
	}
	w.UpsideDown, w.Mirrored = false, false // exercises name the sides as they are
	round := max(1, w.Round)
	if round > MostRounds {
		return nil, fmt.Errorf("wanted exercise sheet 1 to %d, got %d", MostRounds, round)
	}
	sum := fnv.New64a()
	text, _ := grid.Encode(w.Plan) // a plan that cannot be written has a sheet all the same
	sum.Write(text)
	in := l.Inner()
	e := eyeSheet{w: w, pg: l.Begin(w.titled(), fmt.Sprintf("Train your eye · sheet %d", round)), in: in, y: in.Min.Y + 9,
		k: min(1.3, in.Width()/184, in.Height()/226), rng: rand.New(rand.NewPCG(sum.Sum64(), uint64(round)))}
	e.pg.Add(page.Text{At: plane.Pt(in.Min.X, in.Min.Y+5), Size: 3.8, Words: "Name:                                              By eye alone: no ruler, no folding.", Color: page.Ink})
	e.along()
	e.copies()
	e.parts()
	e.directions()
	e.lengths()
	e.halves()
	key := l.Begin(w.titled(), fmt.Sprintf("Train your eye · key of sheet %d", round))
	y := in.Min.Y + 8
	for _, words := range e.key {
		for _, line := range page.Wrap(words, 3.8, in.Width(), false) {
			key.Add(page.Text{At: plane.Pt(in.Min.X, y), Size: 3.8, Words: line, Color: page.Ink})
			y += 5.4
		}
		y += 2
	}
	return []page.Page{e.pg, key}, nil
}

// begin begins a row with what is to be done, and returns the places of n tasks of a height.
func (e *eyeSheet) begin(words string, n int, high float64) (at []plane.Rect) {
	e.row++
	e.pg.Add(page.Text{At: plane.Pt(e.in.Min.X, e.y+4*e.k), Size: 3.8 * e.k, Words: fmt.Sprintf("%d  %s", e.row, words), Bold: true, Color: page.Ink})
	wide := e.in.Width() / float64(n)
	for i := range n {
		at = append(at, page.Box(e.in.Min.X+float64(i)*wide, e.y+7*e.k, wide-4*e.k, (high-9)*e.k))
	}
	e.y += high * e.k
	return at
}

// tell adds a row's answers to the key.
func (e *eyeSheet) tell(answers []string) {
	for i := range answers {
		answers[i] = fmt.Sprintf("%c: %s", 'a'+i, answers[i])
	}
	e.key = append(e.key, fmt.Sprintf("%d   %s", e.row, strings.Join(answers, ";   ")))
}

// pair returns the places of two boxes side by side in a task's.
func (e *eyeSheet) pair(at plane.Rect) (left, right plane.Rect) {
	ring, gap := 2.5*e.k, 5*e.k // room for a ring on the edge
	side := min(at.Height()-ring, (at.Width()-gap-ring)/2)
	return page.Box(at.Min.X+ring, at.Min.Y, side, side), page.Box(at.Min.X+ring+side+gap, at.Min.Y, side, side)
}

func (e *eyeSheet) between(a, b float64) float64 { return a + (b-a)*e.rng.Float64() }

// along asks where lines of the picture cross sides of boxes; left out where nobody has
// read them.
func (e *eyeSheet) along() {
	const tasks = 3
	var boxes []reading.Box
	for _, b := range e.w.Boxes {
		if b.Part == 0 && len(b.Crossings) > 0 {
			boxes = append(boxes, b)
		}
	}
	if len(boxes) == 0 || e.w.Plan.Frame == nil {
		return
	}
	places := e.begin("Where is the ringed crossing? Mark it on the empty box.", tasks, 42)
	var answers []string
	for _, at := range places {
		b := boxes[e.rng.IntN(len(boxes))]
		c := b.Crossings[e.rng.IntN(len(b.Crossings))]
		cell, _ := e.w.Plan.Find(b.Label)
		left, right := e.pair(at)
		ratio := cell.Reference.Width() / cell.Reference.Height()
		fit := func(r plane.Rect) plane.Rect {
			return page.Box(r.Min.X, r.Min.Y, r.Width()*min(1, ratio), r.Height()*min(1, 1/ratio))
		}
		left, right = fit(left), fit(right)
		e.pg.Add(e.w.boxPicture(cell, left, plane.Point{}), page.BoxPath(left, 0.4, page.Ink), page.BoxPath(right, 0.4, page.Ink),
			round(within(left, c.Place()), 4*e.k, page.Ink, page.White))
		long, from := right.Height(), "top"
		if c.Side == reading.Top || c.Side == reading.Bottom {
			long, from = right.Width(), "left"
		}
		answers = append(answers, fmt.Sprintf("%s, %s side, %s of %s from the %s", b.Label, c.Side, e.w.Plan.Text(c.At*long), e.w.Plan.Text(long), from))
	}
	e.tell(answers)
}

// copies asks for dots to be copied.
func (e *eyeSheet) copies() {
	var answers []string
	for _, at := range e.begin("Copy the dot into the empty box.", 3, 42) {
		left, right := e.pair(at)
		dot := plane.Pt(e.between(0.1, 0.9), e.between(0.1, 0.9))
		e.pg.Add(page.BoxPath(left, 0.4, page.Ink), page.BoxPath(right, 0.4, page.Ink), round(within(left, dot), 1.6, page.Ink, page.Ink))
		answers = append(answers, fmt.Sprintf("%s from the left, %s from the top", e.w.Plan.Text(dot.X*right.Width()), e.w.Plan.Text(dot.Y*right.Height())))
	}
	e.tell(answers)
}

// eyeParts are the parts of a line that are asked for.
var eyeParts = []float64{0.5, 1. / 3, 0.25, 2. / 3, 0.75, 0.2, 0.4}

// parts asks for parts of lines.
func (e *eyeSheet) parts() {
	var answers []string
	for _, at := range e.begin("Mark the part of each line, from the left.", 4, 22) {
		p := measure.ShareNear(eyeParts[e.rng.IntN(len(eyeParts))])
		long, y := at.Width()*e.between(0.65, 0.95), at.Max.Y-5*e.k
		e.pg.Line(at.Min.X, y, at.Min.X+long, y, 0.4, page.Ink)
		for _, x := range []float64{at.Min.X, at.Min.X + long} {
			e.pg.Line(x, y-2, x, y+2, 0.4, page.Ink)
		}
		e.pg.Add(page.Text{At: plane.Pt(at.Min.X, at.Min.Y+2*e.k), Size: 3.8 * e.k, Words: p.Name, Color: page.Ink})
		answers = append(answers, fmt.Sprintf("%s is %s of %s", p.Name, e.w.Plan.Text(p.Of*long), e.w.Plan.Text(long)))
	}
	e.tell(answers)
}

// directions asks for lines that lean as others do.
func (e *eyeSheet) directions() {
	var answers []string
	for _, at := range e.begin("Draw a line through the dot that leans as the one beside it.", 4, 34) {
		deg := math.Round(e.between(-85, 85))
		sin, cos := math.Sincos(deg * math.Pi / 180)
		r := min(at.Height()/2, at.Width()/4-2)
		mid, dot := plane.Pt(at.Min.X+r, at.Min.Y+at.Height()/2), plane.Pt(at.Min.X+3*r+4, at.Min.Y+at.Height()/2)
		e.pg.Line(mid.X-r*cos, mid.Y+r*sin, mid.X+r*cos, mid.Y-r*sin, 0.5, page.Ink)
		e.pg.Add(round(dot, 1.4, page.Ink, page.Ink))
		way := "rising"
		if deg < 0 {
			way = "falling"
		}
		answers = append(answers, fmt.Sprintf("%.0f° %s to the right", math.Abs(deg), way))
	}
	e.tell(answers)
}

// lengths asks which of two lines is longer.
func (e *eyeSheet) lengths() {
	var answers []string
	for _, at := range e.begin("Which line is longer? Put a tick above it.", 4, 24) {
		mean, by := at.Width()*0.36, e.between(0.03, 0.12)
		long := [2]float64{mean * (1 + by/2), mean * (1 - by/2)}
		answer := "left"
		if e.rng.IntN(2) == 1 {
			long[0], long[1], answer = long[1], long[0], "right"
		}
		for i, x := range []float64{at.Min.X, at.Min.X + at.Width()*0.54} {
			y := at.Min.Y + e.between(0.35, 0.95)*at.Height()
			e.pg.Line(x, y, x+long[i], y, 0.5, page.Ink)
		}
		answers = append(answers, fmt.Sprintf("%s, by %.0f %%", answer, 100*by))
	}
	e.tell(answers)
}

// halves asks for the other half of figures.
func (e *eyeSheet) halves() {
	var answers []string
	for _, at := range e.begin("Draw the other half. Both halves are alike.", 4, 50) {
		mid, half := at.Min.X+at.Width()/2, at.Width()*0.42
		e.pg.Add(page.Path{Points: []plane.Point{plane.Pt(mid, at.Min.Y), plane.Pt(mid, at.Max.Y)}, Width: 0.25, Stroke: page.Faint, Dash: 1.5})
		left := []plane.Point{plane.Pt(mid, at.Min.Y+2)}
		var out []string
		for i := range 4 {
			x := e.between(0.25, 1) * half
			left = append(left, plane.Pt(mid-x, at.Min.Y+2+(at.Height()-4)*(0.5+float64(i))/4))
			out = append(out, fmt.Sprintf("%.0f", x))
		}
		e.pg.Add(page.Path{Points: append(left, plane.Pt(mid, at.Max.Y-2)), Width: 0.5, Stroke: page.Ink})
		answers = append(answers, strings.Join(out, ", ")+" mm out from the middle")
	}
	e.tell(answers)
}
