package sheet

import (
	"fmt"

	"zestysketch/internal/core/lesson"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/core/transfer"
)

// Turns says in words how often a way turns paper over, and what comes of it.
func Turns(way transfer.Way) string {
	times := map[int]string{0: "Nothing is turned over", 1: "One turn-over", 2: "Two turn-overs"}[way.TurnOvers]
	if times == "" {
		times = fmt.Sprintf("%d turn-overs", way.TurnOvers)
	}
	if way.Result == transfer.Mirrored {
		return times + ": the result is mirrored."
	}
	if way.MirrorIt {
		return times + ", from a mirrored print: the result is the right way round."
	}
	return times + ": the result is the right way round."
}

// Of a transfer's steps on the card: how wide their papers are drawn, the least share of that,
// and the gap between steps, mm.
const stepStack, leastStack, stepApart = 112.0, 0.72, 5.0

// TransferCard returns how a drawing is carried over by one way: a drawing of the papers at
// each step, then what to shade with, where to lay it, and the lines that must be there, the
// weightiest first, to be ticked. The error wraps ErrPaper.
func TransferCard(w Wish, p transfer.Plan, final transfer.Final, way transfer.Way, list []string) ([]page.Page, error) {
	l, err := page.Free(w.Printer, "the transfer card")
	if err != nil {
		return nil, err
	}
	var pages []page.Page
	begin := func() (room plane.Rect) {
		pg := l.Begin(w.titled(), "Transfer card")
		room = l.Inner()
		room.Max.Y = drawCare(&pg, room, way.Cautions(p.Backing))
		room.Min.Y = drawHead(&pg, room, signs[lesson.Transfer], way.Name, Turns(way))
		pages = append(pages, pg)
		return room
	}
	room := begin()
	steps := stepsOf(way, room.Width())
	k, gap := steps.fit(room.Height())
	y := room.Min.Y
	for i := range way.Steps {
		if y > room.Min.Y && y+steps.high(i, k) > room.Max.Y {
			room = begin()
			y = room.Min.Y
		}
		steps.draw(&pages[len(pages)-1], i, plane.Pt(room.Min.X, y), k)
		y += steps.high(i, k) + gap
	}
	room.Min.Y = y + page.Heading
	lists := []Entry{{Head: "Materials", Lines: []string{p.Tape}},
		{Head: "Good to know", Lines: append(append([]string{}, way.But...), p.Notes...)},
		{Head: "Before the tape comes off", Lines: lesson.BeforeTapeOff(list), ticks: true}}
	if way.Shades() {
		lists[0].Lines = []string{"Shade with " + p.Backing.Name + ". " + p.Backing.Why, p.Pressure, p.Beneath, p.Tape}
	}
	next := func(high float64) *page.Page { // a new one where this has not so much room
		if room.Height() < high {
			room = begin()
			room.Min.Y += page.Heading
		}
		return &pages[len(pages)-1]
	}
	if !final.Fills() {
		pg := next(placingHigh)
		room.Min.Y = drawPlacing(pg, room, final)
	}
	for _, e := range lists {
		if len(e.Lines) > 0 {
			pg := next(e.needs(room.Width()))
			room.Min.Y = drawEntry(pg, room, e)
		}
	}
	return pages, nil
}

// stepRows are the steps of a way as they stand on a card: number and words, and beside them
// the papers.
type stepRows struct {
	steps []transfer.Step
	drawn []page.Page // their papers
	stack float64     // how wide the papers are drawn, mm
	words float64     // and the words beside them
}

func stepsOf(way transfer.Way, width float64) stepRows {
	stack := min(stepStack, width*0.6)
	rows := stepRows{steps: way.Steps, stack: stack, words: width - stack - 14}
	for _, step := range way.Steps {
		rows.drawn = append(rows.drawn, Stack(step))
	}
	return rows
}

// high returns how much of a page a step takes, its papers drawn k times as wide.
func (s stepRows) high(i int, k float64) float64 {
	words := float64(len(page.Wrap(s.steps[i].Do, page.Body, s.words, false))) * page.Body * page.Leading
	return max(words+3, float64(s.drawn[i].Size.H)*k*s.stack/stackWide)
}

// fit returns how large papers are drawn so that all steps stand on one page, and the gap
// between them; where they would be too small, they are drawn large on several.
func (s stepRows) fit(room float64) (k, gap float64) {
	for k = 1; k >= leastStack; k -= 0.02 {
		sum := 0.0
		for i := range s.steps {
			sum += s.high(i, k) + stepApart
		}
		if sum <= room {
			return k, stepApart + min(8, (room-sum)/float64(len(s.steps)))
		}
	}
	return 1, stepApart
}

// draw draws a step at a place: a rule, its number and words, its papers.
func (s stepRows) draw(pg *page.Page, i int, at plane.Point, k float64) {
	pg.Line(at.X, at.Y-1, at.X+s.words+s.stack+14, at.Y-1, 0.2, page.Faint)
	pg.Add(page.Text{At: plane.Pt(at.X, at.Y+6), Size: page.Heading, Words: fmt.Sprint(i + 1), Bold: true, Color: page.Ink})
	pg.Paragraph(plane.Pt(at.X+8, at.Y+5.6), page.Body, s.words, false, s.steps[i].Do)
	drawScaled(pg, s.drawn[i], plane.Pt(at.X+s.words+14, at.Y), k*s.stack/stackWide)
}

// Of the drawing of where a drawing goes, in millimetres: its longer side, the room beside it for
// a distance, and how much of a page it takes with its words.
const placingSide, placingEdge, placingHigh = 46.0, 14.0, 62.0

// FinalSheet returns the final paper with the drawing where it lies on it, and the strip for trying materials.
func FinalSheet(f transfer.Final) page.Page {
	pg := page.Page{Title: "The drawing on the final paper", Size: f.Paper}
	w, h, line := float64(f.Paper.W), float64(f.Paper.H), float64(max(f.Paper.W, f.Paper.H))/150
	pg.Add(page.BoxPath(page.Box(0, 0, w, h), line, page.Ink))
	if strip := float64(f.Strip); strip > 0 {
		edge := page.Path{Points: []plane.Point{plane.Pt(0, h-strip), plane.Pt(w, h-strip)}, Width: line, Stroke: page.Ink, Dash: 3 * line}
		pg.Add(edge)
	}
	tint := page.BoxPath(f.On(), line, page.Ink)
	tint.Fill = &Offcut
	pg.Add(tint)
	return pg
}

// drawPlacing draws the final paper with the drawing where it lies on it, the distances to two
// edges written, and in words beside it; it returns where the next heading may stand.
func drawPlacing(pg *page.Page, room plane.Rect, f transfer.Final) float64 {
	k := placingSide / float64(max(f.Paper.W, f.Paper.H))
	on := f.On()
	paper := page.Box(room.Min.X+placingEdge, room.Min.Y+2, float64(f.Paper.W)*k, float64(f.Paper.H)*k)
	lies := plane.Rect{Min: paper.Min.Add(on.Min.Mul(k)), Max: paper.Min.Add(on.Max.Mul(k))}
	drawScaled(pg, FinalSheet(f), paper.Min, k)
	for _, corner := range []plane.Point{lies.Min, plane.Pt(lies.Max.X, lies.Min.Y), plane.Pt(lies.Min.X, lies.Max.Y)} {
		pg.Ring(corner, 1.6, endInk)
	}
	pg.Line(paper.Min.X, lies.Middle().Y, lies.Min.X, lies.Middle().Y, 0.4, endInk)
	pg.Line(lies.Middle().X, paper.Min.Y, lies.Middle().X, lies.Min.Y, 0.4, endInk)
	pg.Add(page.Text{At: plane.Pt(paper.Min.X-1, lies.Middle().Y+1), Size: page.Small, Words: f.Left.Text(f.Units), Anchor: page.End, Color: page.Ink},
		page.Text{At: plane.Pt(lies.Middle().X, paper.Min.Y-1), Size: page.Small, Words: f.Top.Text(f.Units), Anchor: page.Middle, Color: page.Ink})
	words := Entry{Head: "Where it goes", Lines: f.Say()}
	beside := drawEntry(pg, plane.Rect{Min: plane.Pt(max(paper.Max.X, room.Min.X+placingEdge+placingSide*0.8)+8, room.Min.Y), Max: room.Max}, words)
	return max(beside, paper.Max.Y+page.Heading+4)
}
