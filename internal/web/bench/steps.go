package bench

import (
	"encoding/json"
	"fmt"
	"html/template"
	"math"
	"net/http"
	"slices"
	"strings"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/lesson"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/core/sheet"
	"zestysketch/internal/plans"
	"zestysketch/internal/store"
)

// set is fields of the form with new values, sent to the page as JSON: one
// press on the button beside it fills them in.
type set map[string]string

// sizeView is what the Size step shows.
type sizeView struct {
	ByWidth, ByHeight []string // the proportion solved both ways
	Roundings         []roundingView
	Students          int
	Stocks            []stockView
	Cut               template.HTML // how to cut the paper in use
	CutOrder          []string
	Advice            string
	Cautions          []string
}

type roundingView struct {
	Sheet, Squash, Offcut string
	Set                   set
}

type stockView struct {
	Name, Size     string
	PerSheet, Need int
	WasteOne       int // per cent
	WasteAll       int
	Set            set
}

func newSizeView(p grid.Plan, project store.Project) (*sizeView, error) {
	v := &sizeView{Students: 1}
	v.Advice, _ = measure.EnlargementAdvice(min(p.Scale[0], p.Scale[1]))
	if project.Class != nil && len(project.Class.Students) > 0 {
		v.Students = len(project.Class.Students)
	}
	frame, stock := p.ReferenceSize(), p.StockSize()
	v.ByWidth = measure.SolveHeight(frame, p.SheetSize().W, p.Units).Working
	v.ByHeight = measure.SolveWidth(frame, p.SheetSize().H, p.Units).Working
	if p.CutOut() && p.Typed.Scale == "" && p.Typed.SheetSquare == "" {
		v.Roundings = roundings(p, frame, stock)
	}
	if !p.CutOut() {
		return v, nil
	}
	for _, c := range measure.RankStock(p.SheetSize(), v.Students, measure.Papers) {
		if len(v.Stocks) == 6 {
			break
		}
		one, ok := measure.Cut(c.Paper, p.SheetSize(), 1)
		if !ok || c.PerSheet() > measure.HandyPieces {
			continue
		}
		v.Stocks = append(v.Stocks, stockView{c.Paper.Name, c.Paper.Size.Text(p.Units), c.PerSheet(), c.Sheets, percent(one.Waste), percent(c.Waste), set{"paper": c.Paper.Name}})
	}
	if c, ok := measure.Cut(measure.Paper{Name: stock.Text(p.Units), Size: stock}, p.SheetSize(), v.Students); ok && len(c.Cuts) > 0 {
		v.CutOrder, v.Cautions = c.Words(p.Units), lesson.Cautions(lesson.Trimmer)
		var err error
		v.Cut, err = drawn(sheet.CutDiagram(c, p.Units), 0)
		return v, err
	}
	return v, nil
}

// proposalView is one of the best sizes, to be pressed.
type proposalView struct {
	Title   string
	Boxes   string
	Reasons []string
	Drawing template.HTML
	Set     set
	Takes   string // what its use takes away of what was asked for
	Here    bool
}

// proposals are the best sizes for what is asked; none where it cannot be read
// or nothing can be proposed, which the fields say.
func (a area) proposals(r *http.Request, b bench) ([]proposalView, error) {
	marks, err := a.Store.Landmarks(r.Context(), b.Project.ID, b.Project.PictureID)
	if err != nil {
		return nil, err
	}
	var keep []plane.Point
	for _, m := range marks {
		keep = append(keep, plane.Pt(m.X, m.Y))
	}
	best, err := plans.Advise(b.Ask, b.lessons, keep)
	if err != nil {
		return nil, nil
	}
	var views []proposalView
	for _, p := range best {
		v := proposalView{Title: p.Plan.ReferenceSize().Text(p.Plan.Units) + " → " + p.Plan.SheetSize().Text(p.Plan.Units), Reasons: p.Reasons, Set: set{}}
		v.Boxes = fmt.Sprintf("%d × %d equal parts", p.Columns, p.Rows)
		if p.Method == grid.Squares {
			v.Boxes = fmt.Sprintf("%d × %d boxes of %s → %s", p.Columns, p.Rows, p.Square.Bare(p.Plan.Units), p.Sheet.Text(p.Plan.Units))
		}
		if v.Drawing, err = drawn(sheet.Sizes(p.Plan), ref(b.Project.PictureID)); err != nil {
			return nil, err
		}
		typed := p.Plan.Typed
		for _, f := range typed.Fields() {
			if slices.Contains(ofSizes, f.Name) {
				v.Set[f.Name] = *f.Value
			}
		}
		v.Takes = takenAway(b.Ask, v.Set)
		for _, before := range views { // what reads alike says on which paper
			if before.Title == v.Title && before.Boxes == v.Boxes {
				v.Title += ", on paper of " + p.Paper.Text(p.Plan.Units)
				break
			}
		}
		v.Here = b.Plan != nil && b.Plan.Alike(p.Plan) && b.Plan.SheetSize() == p.Plan.SheetSize()
		views = append(views, v)
	}
	return views, nil
}

// ofSizes are the fields that a proposal settles; the others stay as they are.
var ofSizes = []string{"reference", "paper", "fit", "round", "method", "reference_square", "sheet_square", "scale", "parts", "remainder", "split", "frame", "margin", "strip", "room", "panels"}

// mayGo are the fields that a proposal may leave out, in words.
var mayGo = []struct{ field, words string }{{"margin", "the margin"}, {"strip", "the strip for trying"}, {"panels", "the panels"},
	{"room", "the room round the drawing"}, {"split", "the boxes divided again"}}

// takenAway says what was asked for and is not in a proposal; empty for nothing.
func takenAway(ask grid.Request, s set) string {
	var gone []string
	for _, f := range ask.Fields() {
		for _, m := range mayGo {
			if m.field == f.Name && strings.TrimSpace(*f.Value) != "" && s[f.Name] == "" {
				gone = append(gone, m.words)
			}
		}
	}
	return strings.Join(gone, ", ")
}

// ref returns the number that is pointed at, 0 for none.
func ref(id *uint64) uint64 {
	if id == nil {
		return 0
	}
	return *id
}

func percent(share float64) int { return int(math.Round(share * 100)) }

func roundings(p grid.Plan, frame, stock measure.Size) (views []roundingView) {
	solvedHeight := math.Abs(p.Sheet.Width-p.Sheet.Stock[0]) < 0.05
	exact := measure.SolveWidth(frame, p.SheetSize().H, p.Units).Sheet
	if solvedHeight {
		exact = measure.SolveHeight(frame, p.SheetSize().W, p.Units).Sheet
	}
	for _, r := range measure.Roundings(frame, exact, stock, solvedHeight, p.Units) {
		way := "down"
		if r.Sheet.H > exact.H || r.Sheet.W > exact.W {
			way = "up"
		}
		squash := "no squash"
		if math.Abs(r.Squash) >= 0.05 {
			squash = fmt.Sprintf("squash %+.1f %%", r.Squash)
		}
		views = append(views, roundingView{r.Sheet.Text(p.Units), squash, cutOff(r.Offcut, p.Units), set{"round": r.Step.Text(p.Units) + " " + way}})
	}
	return views
}

// cutOff says what is cut off; a hair is nothing.
func cutOff(l measure.Length, u measure.Unit) string {
	if l < u.Step()/2 {
		return "nothing cut off"
	}
	return l.Text(u) + " cut off"
}

// gridView is what the Grid step shows.
type gridView struct {
	Candidates []candidateView
	Key        string // of the project
	Colours    []colourView
	Order      string
}

type candidateView struct {
	Title   string
	Reasons []string
	Set     set
	Here    bool
}

type colourView struct {
	Name  string
	Seen  int // per cent of the lines' length
	Here  bool
	Class string
}

// shownCandidates is how many grids are offered: more is no help in choosing.
const shownCandidates = 5

func newGridView(p grid.Plan, seen []float64, wish grid.Wish) *gridView {
	v := &gridView{}
	for i, c := range grid.Rank(p.ReferenceSize(), wish) {
		if i == shownCandidates {
			break
		}
		v.Candidates = append(v.Candidates, newCandidate(p, c))
	}
	for i, c := range grid.Palette {
		if i < len(seen) {
			v.Colours = append(v.Colours, colourView{c.Name, percent(seen[i]), c.Name == p.Line.Color, strings.ReplaceAll(c.Name, " ", "-")})
		}
	}
	var first []string
	for _, c := range p.Order(p.Hand)[:min(3, p.Count())] {
		first = append(first, c.Label)
	}
	v.Order = strings.Join(first, ", ")
	return v
}

func newCandidate(p grid.Plan, c grid.Candidate) candidateView {
	v := candidateView{Reasons: c.Reasons, Here: c.Method == p.Method && c.Columns == p.Grid.Columns && c.Rows == p.Grid.Rows}
	if c.Method == grid.Parts {
		v.Title = fmt.Sprintf("%d × %d equal parts", c.Columns, c.Rows)
		v.Set = set{"method": string(grid.Parts), "parts": fmt.Sprintf("%d × %d", c.Columns, c.Rows), "split": ""}
		return v
	}
	v.Title = fmt.Sprintf("%s squares · %d × %d", c.Square.Text(p.Units), c.Columns, c.Rows)
	// The square alone: the sheet's size stays as it is.
	v.Set = set{"method": string(grid.Squares), "reference_square": c.Square.Text(p.Units), "split": ""}
	if p.Typed.SheetSquare != "" {
		v.Set["sheet_square"], v.Set["scale"] = "", fmt.Sprintf("%.4g", p.Scale[0])
	}
	return v
}

// netNumbers is what the hand on the picture needs: where lines are, and the
// squares it may snap to. All of it is worked out here.
func netNumbers(p grid.Plan) (string, error) {
	page := sheet.Overlay(p)
	easy, names := []float64{}, []string{}
	for _, s := range grid.EasySquaresOn(p.ReferenceSize(), p.Units) {
		easy, names = append(easy, float64(s)), append(names, s.Text(p.Units))
	}
	var labels, divided []string
	for _, c := range p.Cells() {
		labels, divided = append(labels, c.Label), append(divided, p.Divided(c.Label))
	}
	b, err := json.Marshal(map[string]any{
		"left": (float64(page.Size.W) - p.Reference.Width) / 2, "top": (float64(page.Size.H) - p.Reference.Height) / 2,
		"x": p.Marks.ReferenceX, "y": p.Marks.ReferenceY, "labels": labels, "split": p.Grid.Split, "divided": divided,
		"squares": p.Method == grid.Squares, "easy": easy, "names": names,
	})
	return string(b), err
}

// markView is one card of the Marks step.
type markView struct {
	grid.Card
	Drawing template.HTML
}

func newMarkViews(p grid.Plan) (views []markView, err error) {
	for _, panel := range p.Panels() {
		v := markView{Card: p.CardFor(panel)}
		if v.Drawing, err = drawn(sheet.MarkUpDrawing(p, v.Card), 0); err != nil {
			return nil, err
		}
		views = append(views, v)
	}
	return views, nil
}
