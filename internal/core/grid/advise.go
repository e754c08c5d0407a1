package grid

import (
	"cmp"
	"errors"
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"

	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/plane"
)

// Advice is what sizes are looked for: a picture's shape, the papers at hand
// and what the class needs.
type Advice struct {
	Wish
	Name      string
	Frame     *Frame         // the part of the picture that is used; nil where only its Shape is known
	Shape     float64        // width ÷ height, read where Frame is nil
	Print     []measure.Size // the largest prints of the printer, one for each way round
	Papers    []measure.Size // to draw on, either way round
	Canvas    bool           // and they are stretched
	Landmarks []plane.Point  // picture pixels that must not be trimmed away
	MarkBy    Way            // how the sheet is marked up; the ruler where it is empty
}

// Proposal is a plan of which print, squares and sheet go together.
type Proposal struct {
	Candidate
	Picture measure.Size // the print, trimmed
	Paper   measure.Size // as it is bought
	Trim    [4]float64   // shares cut from the picture's left, right, top and bottom
	Scale   float64
	Plan    Plan
}

// ErrAdvice is wrapped by the error of sizes for which there is no proposal.
var ErrAdvice = errors.New("no sizes to propose")

// Score returns how good a proposal is, 100 for one with nothing to say against it.
func (p Proposal) Score() float64 { return math.Round(1000/(1+p.Cost)) / 10 }

// mostTrim is what a side of the picture may lose, so that squares come out
// even, and trimmed is what counts as trimming at all (ours).
const mostTrim, trimmed = 0.03, 1e-6

// What else is weighed, in parts of the cost of one unwanted remainder (ours, in
// the order in which practitioners name them).
const (
	oddScale     = 0.35 // an enlargement that nobody reckons with
	plainScale   = 0.1  // the same size, or three times
	smaller      = 2.0
	wastes       = 0.8         // of the whole paper
	smallPrint   = 0.3         // of the whole printed page
	trims        = 4.0         // of a whole side
	cutsMark     = 3.0         // a landmark lost
	needsRuler   = 3.0         // where there is none
	looseMarks   = 0.1         // less exact than lines ruled through
	partsByRuler = offTheRuler // equal parts where there is one
)

// Advise returns proposals, the best first: prints of any size, trimmed by up to
// 3 % a side, on which an easy square divides both sides, with an easy square on
// the sheet; equal parts; and where nothing divides, grids with one half square
// left over. Proposals differ in their boxes or their paper, and there are at
// most n. The error wraps ErrAdvice and says why there is none.
func Advise(a Advice, n int) ([]Proposal, error) {
	if a.Frame != nil {
		a.Shape = a.Frame.Size[0] / a.Frame.Size[1]
	}
	switch {
	case !(a.Shape > 0) || math.IsInf(a.Shape, 0):
		return nil, fmt.Errorf("%w: wanted a picture's width ÷ height, got %g", ErrAdvice, a.Shape)
	case len(a.Papers) == 0:
		return nil, fmt.Errorf("%w: write the paper's size, such as 12 × 18 in or A3", ErrAdvice)
	case len(a.Print) == 0:
		return nil, fmt.Errorf("%w: the printer's paper is too small for any picture", ErrAdvice)
	}
	type kind struct {
		method               Method
		columns, rows, paper int
	}
	best := map[kind]Proposal{}
	for i, paper := range a.Papers {
		a.search(paper, func(p Proposal) {
			key := kind{p.Method, p.Columns, p.Rows, i}
			if o, known := best[key]; !known || p.compare(o) < 0 {
				best[key] = p
			}
		})
	}
	list := a.made(slices.SortedFunc(maps.Values(best), Proposal.compare), n)
	if len(list) == 0 {
		return nil, fmt.Errorf("%w: no easy square makes at least %d boxes of such a picture on that paper; use a part of the picture, or larger paper", ErrAdvice, fewestBoxes)
	}
	return list, nil
}

// compare puts the cheaper proposal first, of equal ones that with the larger
// print, then in an order that is always the same.
func (p Proposal) compare(o Proposal) int {
	return cmp.Or(cmp.Compare(p.Cost, o.Cost), cmp.Compare(o.Square, p.Square), cmp.Compare(o.Sheet, p.Sheet), cmp.Compare(p.Columns, o.Columns),
		cmp.Compare(p.Rows, o.Rows), cmp.Compare(p.Paper.W, o.Paper.W), cmp.Compare(p.Paper.H, o.Paper.H))
}

// search weighs every grid that a paper holds.
func (a Advice) search(paper measure.Size, found func(Proposal)) {
	squares, papers := EasySquares(a.Units), []measure.Size{paper, paper.Turned()}
	for _, square := range squares {
		a.counts(square, func(columns, rows float64, trim [4]float64) {
			p := Proposal{Candidate: Candidate{Method: Squares, Square: square, Columns: int(math.Ceil(columns)), Rows: int(math.Ceil(rows)),
				Remainder: columns != math.Floor(columns) || rows != math.Floor(rows), quiet: true},
				Picture: measure.Size{W: square * measure.Length(columns), H: square * measure.Length(rows)}, Paper: paper, Trim: trim}
			for _, on := range squares {
				q := p
				q.Sheet, q.Scale = on, float64(on/square)
				if q.Scale >= 1-measure.SameWithin && holds(papers, q.Picture.Scale(q.Scale)) {
					q.judge(a)
					found(q)
				}
			}
		})
	}
	a.parts(paper, found)
}

// counts gives the counts of squares, whole ones or with a half square left on
// one side, that come near the picture's shape on the print.
func (a Advice) counts(square measure.Length, found func(columns, rows float64, trim [4]float64)) {
	widest := measure.Length(0)
	for _, p := range a.Print {
		widest = max(widest, p.W)
	}
	for half := 2; half <= int(2*widest/square); half++ {
		columns := float64(half) / 2
		for _, rows := range []float64{math.Floor(2*columns/a.Shape) / 2, math.Ceil(2*columns/a.Shape) / 2} {
			halves, boxes := math.Mod(2*columns, 2)+math.Mod(2*rows, 2), math.Ceil(columns)*math.Ceil(rows)
			if rows < 1 || halves > 1 || boxes < fewestBoxes || boxes > 2*detailedMost || !holds(a.Print, measure.Size{W: square * measure.Length(columns), H: square * measure.Length(rows)}) {
				continue
			}
			if trim, ok := a.trim(columns / rows); ok {
				found(columns, rows, trim)
			}
		}
	}
}

// fewestBoxes make a grid.
const fewestBoxes = 4

func holds(sizes []measure.Size, one measure.Size) bool {
	return slices.ContainsFunc(sizes, func(s measure.Size) bool { return s.Holds(one) })
}

// trim returns what each side loses so that the picture gets a ratio; not ok
// where that is more than anybody would give. The middle is kept, unless a
// landmark would be lost.
func (a Advice) trim(ratio float64) (trim [4]float64, ok bool) {
	lost, first, along := 1-ratio/a.Shape, 0, func(p plane.Point) float64 { return p.X }
	if lost < 0 {
		lost, first, along = 1-a.Shape/ratio, 2, func(p plane.Point) float64 { return p.Y }
	}
	if lost > 2*mostTrim+trimmed {
		return trim, false
	}
	if lost < trimmed {
		return trim, true
	}
	before := lost / 2
	if least, most := a.marks(along); least < before || most > 1-(lost-before) {
		before = max(0, lost-mostTrim, min(mostTrim, lost, max(lost-(1-most), min(least, before))))
	}
	trim[first], trim[first+1] = before, lost-before
	return trim, true
}

// marks returns where along a side the first and the last landmark are, as
// shares of the frame.
func (a Advice) marks(along func(plane.Point) float64) (least, most float64) {
	least, most = 1, 0
	if a.Frame == nil {
		return least, most
	}
	for _, m := range a.Landmarks {
		at := a.Frame.FromPicture(m)
		share := along(plane.Pt(at.X/a.Frame.Size[0], at.Y/a.Frame.Size[1]))
		if share >= 0 && share <= 1 { // what the frame leaves out already is not lost now
			least, most = min(least, share), max(most, share)
		}
	}
	return least, most
}

// parts weighs equal parts of the largest print, enlarged as far as the paper goes.
func (a Advice) parts(paper measure.Size, found func(Proposal)) {
	print := measure.Size{}
	for _, room := range a.Print {
		if w := min(float64(room.W), float64(room.H)*a.Shape); w > float64(print.W) {
			print = measure.Size{W: measure.Length(w), H: measure.Length(w / a.Shape)}
		}
	}
	step := a.Units.Millimetres() / 4
	print = measure.Size{W: max(step, measure.Length(math.Floor(float64(print.W/step)))*step)}
	print.H = print.W / measure.Length(a.Shape)
	k := max(inside(print, paper), inside(print, paper.Turned()))
	for _, n := range foldedParts {
		if box := print.Scale(k); min(box.W/measure.Length(n[0]), box.H/measure.Length(n[1])) < EasySquares(a.Units)[0]/2 {
			continue // too small to draw in
		}
		p := Proposal{Candidate: Candidate{Method: Parts, Columns: n[0], Rows: n[1], quiet: true}, Picture: print, Paper: paper, Scale: k}
		p.judge(a)
		found(p)
		if n == [2]int{quarters, quarters} && a.MarkBy == ByFolding {
			q := p
			q.Method, q.Cost = Quarters, 0
			q.judge(a)
			found(q)
		}
	}
}

// quarters are how many parts each way quarter marks make.
const quarters = 4

// judge reckons a proposal's cost, the wishes of the class included.
func (p *Proposal) judge(a Advice) {
	a.Wish.Scale = p.Scale
	if p.Method == Squares {
		p.ruler(a.Units)
		if a.MarkBy == ByFolding {
			p.against(needsRuler, func() string { return "squares need a ruler, and here it is folded" })
		}
	} else {
		p.folding(p.Picture)
		if p.Method == Quarters {
			p.against(looseMarks, func() string { return "only marks at the edges: for large, loose work" })
		}
		if a.MarkBy != ByFolding && a.MarkBy != ByStrip {
			p.against(partsByRuler, func() string { return "a ruler does not show their marks" })
		}
	}
	p.weigh(a.Wish)
	p.enlarged()
	if p.Trim != [4]float64{} {
		p.against(trims*(p.Trim[0]+p.Trim[1]+p.Trim[2]+p.Trim[3]), func() string { return p.trimWords() })
	}
	if p.cuts(a) {
		p.against(cutsMark, func() string { return "a landmark would be trimmed away" })
	}
	drawing, print := area(p.Picture.Scale(p.Scale)), area(p.Picture)
	waste := 1 - drawing/area(p.Paper)
	p.against(wastes*max(0, waste), func() string { return wasteWords(waste) })
	if whole := area(a.Print[0]); print < whole {
		p.against(smallPrint*(1-print/whole), func() string { return "" })
	}
}

func area(s measure.Size) float64 { return float64(s.W) * float64(s.H) }

// enlarged weighs the enlargement (common practice: the same size, 1 1/2, 2 or 3).
func (p *Proposal) enlarged() {
	near := func(k float64) bool { return math.Abs(p.Scale/k-1) < measure.SameWithin }
	switch {
	case near(1.5) || near(2):
		p.against(0, func() string { return "enlarged " + Times(p.Scale) + ", which is easy to reckon" })
	case near(1):
		p.against(plainScale, func() string { return "the same size: the picture can be laid on the drawing" })
	case near(3):
		p.against(plainScale, func() string { return "enlarged " + Times(p.Scale) })
	case p.Scale < 1:
		p.against(smaller, func() string { return "smaller than the picture, which is hard" })
	default:
		p.against(oddScale, func() string { return "enlarged " + Times(p.Scale) })
	}
}

func (p Proposal) trimWords() string {
	var parts []string
	for i, side := range []string{"left", "right", "top", "bottom"} {
		if share := p.Trim[i] * 100; share >= 0.05 {
			parts = append(parts, fmt.Sprintf("%.1f %% off the %s", share, side))
		}
	}
	if parts == nil {
		return "hardly anything is trimmed off the picture"
	}
	return "trimmed so that squares come out even: " + strings.Join(parts, ", ")
}

func wasteWords(waste float64) string {
	if waste < 0.005 {
		return "fills the paper"
	}
	return fmt.Sprintf("leaves %.0f %% of the paper over", waste*100)
}

// cuts reports whether the trimming loses a landmark that the frame shows.
func (p Proposal) cuts(a Advice) bool {
	for first, along := range map[int]func(plane.Point) float64{0: func(q plane.Point) float64 { return q.X }, 2: func(q plane.Point) float64 { return q.Y }} {
		if least, most := a.marks(along); least <= most && (least < p.Trim[first]-1e-9 || most > 1-p.Trim[first+1]+1e-9) {
			return true
		}
	}
	return false
}

// made makes the plans of the best proposals, and their reasons.
func (a Advice) made(list []Proposal, n int) []Proposal {
	var out []Proposal
	for _, p := range list {
		if len(out) == n {
			break
		}
		plan, err := Make(p.request(a))
		if err != nil {
			continue
		}
		if _, stopped := plan.Stopped(); stopped {
			continue
		}
		p.Plan, p.Cost, p.Reasons, p.quiet = plan, 0, nil, false
		p.judge(a)
		p.Reasons = slices.DeleteFunc(p.Reasons, func(s string) bool { return s == "" })
		out = append(out, p)
	}
	return out
}

// request writes a proposal as a person would ask for it.
func (p Proposal) request(a Advice) Request {
	r := Request{Name: a.Name, Units: string(a.Units), Reference: p.Picture.Text(a.Units), Paper: p.Paper.Text(a.Units), Method: string(p.Method), Letters: Across,
		Skill: string(a.Skill), MarkBy: string(a.MarkBy)}
	if a.Canvas {
		r.Paper = "canvas " + r.Paper
	}
	if p.Method == Squares {
		r.ReferenceSquare, r.SheetSquare = p.Square.Text(a.Units), p.Sheet.Text(a.Units)
	} else {
		r.Fit, r.Reference = "inside", p.Picture.W.Text(a.Units)
		if a.MarkBy == ByFolding || a.MarkBy == ByStrip {
			r.Round = measure.RoundSteps(a.Units)[0].Text(a.Units) // a side that is easy to cut; nobody sees the squash
		}
		if p.Method == Parts {
			r.Parts = fmt.Sprintf("%dx%d", p.Columns, p.Rows)
		}
	}
	if a.Frame == nil {
		if p.Method != Squares {
			r.Reference = mm(float64(p.Picture.W)) + " x " + mm(tidy(float64(p.Picture.H)))
		}
		return r
	}
	r.Picture = a.Frame.Picture
	if f := a.Frame.trimmed(p.Trim); p.Trim != [4]float64{} || !f.Whole() {
		r.Frame = f.String()
	}
	return r
}

// Untrimmed returns all of the picture where a frame is that, trimmed a little:
// sizes looked for again begin with what there was. A nil frame stays nil.
func (f *Frame) Untrimmed() *Frame {
	if f == nil || f.Angle != 0 || f.Mirror || f.Size[0] < (1-2*mostTrim)*float64(f.Picture[0])-1 || f.Size[1] < (1-2*mostTrim)*float64(f.Picture[1])-1 {
		return f
	}
	return wholePicture(f.Picture)
}

// trimmed returns the frame with shares of its left, right, top and bottom cut off.
func (f Frame) trimmed(trim [4]float64) Frame {
	middle := f.ToPicture(plane.Pt(f.Size[0]*(1+trim[0]-trim[1])/2, f.Size[1]*(1+trim[2]-trim[3])/2))
	f.Centre = plane.Pt(tidy(middle.X), tidy(middle.Y))
	f.Size = [2]float64{tidy(f.Size[0] * (1 - trim[0] - trim[1])), tidy(f.Size[1] * (1 - trim[2] - trim[3]))}
	return f
}
