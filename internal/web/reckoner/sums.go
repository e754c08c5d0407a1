package reckoner

import (
	"errors"
	"fmt"
	"math"
	"strconv"
	"strings"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/lesson"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/sheet"
	"zestysketch/internal/core/sighting"
	"zestysketch/internal/web/kit"
)

// sums are the reckoner's own, in the order in which people need them.
var sums = []sum{
	{"proportion", "Proportion", "From the picture's size and one side of the paper to the other side.", []field{
		{Name: "picture", Label: "Picture", Usual: "8 × 9 1/2"},
		{Name: "side", Label: "I know the drawing's", Usual: "width", Choices: []string{"width", "width", "height", "height"}},
		{Name: "length", Label: "which is", Usual: "12"},
		{Name: "stock", Label: "cut from paper of", Usual: "12 × 18"},
	}, proportion},
	{"scale", "Scale", "How much a drawing is enlarged, from two lengths of the same part.", []field{
		{Name: "reference", Label: "On the picture", Usual: "1"}, {Name: "sheet", Label: "on the sheet", Usual: "1 1/2"},
		{Name: "size", Label: "Then a picture of", Usual: "8 × 10"},
	}, scale},
	{"marks", "Marks", "Where every line of the grid goes, on both papers.", []field{
		{Name: "reference", Label: "Picture", Usual: "8 × 10"}, {Name: "paper", Label: "Drawing paper", Usual: "12 × 18"},
		{Name: "fill", Label: "The drawing", Usual: "inside", Choices: []string{"inside", "as large as fits the paper", "all", "is the whole paper, rounded to it"}},
		{Name: "method", Label: "Way of dividing", Usual: "squares", Choices: []string{"squares", "measured squares", "parts", "equal parts", "quarters", "quarter marks", "diagonals", "diagonals"}},
		{Name: "reference_square", Label: "Square on the picture", Hint: "for measured squares; proposed if empty"},
		{Name: "parts", Label: "Parts", Hint: "for equal parts, 4 × 4"},
		{Name: "mark_by", Label: "Marked by", Usual: "ruler",
			Choices: []string{"ruler", "ruler", "yardstick", "yardstick", "t-square", "T-square on a board",
				"folding", "folding", "strip", "printed strip"}},
		{Name: "ruler_zero", Label: "Wood before the ruler's zero", Hint: "empty where zero is at the end"},
	}, marks},
	{"cut", "Cutting", "How many pieces a stock sheet gives, which cuts to make, and what is left.", []field{
		{Name: "piece", Label: "Each drawing", Usual: "8 × 10"}, {Name: "stock", Label: "From", Usual: "18 × 24"}, {Name: "students", Label: "Students", Usual: "24"},
	}, cutting},
	{"string-frame", "String frame", "Threads between the eye and a real object: how far apart, and what they cover.", []field{
		{Name: "opening", Label: "Inside the frame", Usual: "16 × 12"}, {Name: "spacing", Label: "Threads apart", Usual: "4"}, {Name: "squares", Label: "Or squares across"},
		{Name: "eye", Label: "Eye to threads", Usual: "20"}, {Name: "object", Label: "Eye to object", Usual: "80"},
		{Name: "room", Label: "The room, wide × deep", Hint: "where known: whether the frame stands in it"},
	}, stringFrame},
	{"angle-and-distance", "Angle and distance", "Points measured from a fixed point: the lengths grow, the angles stay.", []field{
		{Name: "on", Label: "Measured on", Usual: "paper", Choices: []string{"paper", "paper", "solid", "a solid model"}},
		{Name: "scale", Label: "Enlarged by", Usual: "100"},
		{Name: "points", Label: "Points, one a line", Usual: "elbow, 40, 6, 3\nfoot, 120, 3, 6, 2", Long: true,
			Hint: "name, turn in degrees from straight up, out; of a solid also down the plumb line, and in"},
	}, pointing},
	{"guidelines", "Shared guidelines", "Several views of one solid on one sheet, between common lines.", []field{
		{Name: "sheet", Label: "Sheet", Usual: "18 × 12"}, {Name: "solid", Label: "Width × height", Usual: "3 × 5"}, {Name: "depth", Label: "Depth", Usual: "2"},
		{Name: "views", Label: "Views", Usual: "4", Choices: []string{"2", "2", "3", "3", "4", "4", "5", "5", "6", "6"}},
		{Name: "gutter", Label: "Between views", Usual: "1"}, {Name: "scale", Label: "Enlarged by", Usual: "2"},
		{Name: "heights", Label: "Heights from the top, one a line", Usual: "neck, 1\nwaist, 2 1/2", Long: true},
	}, guidelines},
	{"sight-size", "Sight-size", "Heights carried straight across, distances measured in from a plumb line.", []field{
		{Name: "scale", Label: "Enlarged by", Usual: "1"},
		{Name: "points", Label: "Points, one a line", Usual: "tip, 1 1/2, -3/4\nrim, 4, 2", Long: true, Hint: "name, height from the top, in from the plumb line (left is minus)"},
		{Name: "fold", Label: "Also the other half of a fold", Usual: "no", Choices: []string{"no", "no", "yes", "yes"}},
	}, sightSize},
	{"overlay", "Same-size overlay", "Paper cut to the picture, to lay one over the other.", []field{
		{Name: "picture", Label: "Picture", Usual: "8 × 10"}, {Name: "stock", Label: "Paper", Usual: "9 × 12"},
	}, overlay},
}

// bad returns the problems found so far as an error, nil without any.
func (q asked) problems() error {
	if len(*q.bad) == 0 {
		return nil
	}
	p := *q.bad
	*q.bad = nil // they come back with the error
	return p
}

func proportion(q asked) (a answer, err error) {
	picture, side, stock := q.size("picture"), q.length("length"), q.size("stock")
	if side <= 0 && q.problems() == nil {
		return a, grid.Problems{{Field: "length", Message: "must be more than 0"}}
	}
	if err := q.problems(); err != nil {
		return a, err
	}
	byHeight := q.text("side") == "width" // then the height is worked out
	solved := measure.SolveWidth(picture, side, q.unit)
	if byHeight {
		solved = measure.SolveHeight(picture, side, q.unit)
	}
	a.Board = solved.Working
	a.Facts = [][2]string{{"Drawing", q.sized(solved.Sheet)}, {"Enlarged", times(float64(solved.Sheet.W / picture.W))}}
	a.Head = []string{"Rounded to", "Squash", "Cut off"}
	for _, r := range measure.Roundings(picture, solved.Sheet, stock, byHeight, q.unit) {
		squash := "none"
		if math.Abs(r.Squash) >= 0.05 {
			squash = fmt.Sprintf("%+.1f %%", r.Squash)
		}
		if math.Abs(r.Squash) > measure.SeenSquash {
			squash += " · can be seen"
		}
		off := "nothing"
		if r.Offcut >= q.unit.Step()/2 {
			off = q.say(r.Offcut)
		}
		a.Rows = append(a.Rows, []string{q.sized(r.Sheet), squash, off})
	}
	if !stock.Holds(solved.Sheet) && !stock.Turned().Holds(solved.Sheet) {
		a.Notes = append(a.Notes, grid.Finding{Level: grid.Warn, Message: "The paper of " + stock.Text(q.unit) + " does not hold the drawing.", Fix: "Take a shorter side, or larger paper."})
	}
	a.Drawing, err = kit.InlineSVG(sheet.Ratio(picture, solved.Sheet, stock, q.unit), nil)
	return a, err
}

func scale(q asked) (a answer, err error) {
	on, to, size := q.length("reference"), q.length("sheet"), q.size("size")
	if err := q.problems(); err != nil {
		return a, err
	}
	if on <= 0 || to <= 0 {
		return a, grid.Problems{{Field: "reference", Message: "both lengths must be more than 0"}}
	}
	k := float64(to / on)
	line, _ := measure.Divide(to.Figure(q.unit), on.Figure(q.unit), q.unit)
	a.Board = []string{line}
	a.Facts = [][2]string{{"Scale", times(k)}, {"In per cent", fmt.Sprintf("%.4g %%", k*100)}, {size.Text(q.unit), "becomes " + q.sized(size.Scale(k))}}
	if words, hard := measure.EnlargementAdvice(k); hard {
		a.Notes = append(a.Notes, grid.Finding{Level: grid.Warn, Message: words})
	}
	a.Drawing, err = kit.InlineSVG(sheet.Lengths(on, to, q.unit), nil)
	return a, err
}

func marks(q asked) (a answer, err error) {
	ask := grid.Request{Units: string(q.unit), Reference: q.text("reference"), Paper: q.text("paper"), Method: q.text("method"),
		ReferenceSquare: q.text("reference_square"), Parts: q.text("parts"), MarkBy: q.text("mark_by"), RulerZero: q.text("ruler_zero")}
	if paper, err := measure.ParseSize(ask.Paper, q.unit); err == nil && q.text("fill") == "all" {
		ask.Fit, ask.Round = "width", paper.H.Text(q.unit) // the height that is worked out becomes the paper's
	}
	p, err := grid.Make(ask)
	if err != nil {
		return a, err
	}
	card := p.CardFor(p.Panels()[0])
	a.Board, a.Steps, a.Notes = p.Working, card.Words(), p.Findings
	a.Facts = [][2]string{{"Boxes", fmt.Sprintf("%d × %d", p.Grid.Columns, p.Grid.Rows)}, {"Drawing", q.sized(p.SheetSize())},
		{"Box on the picture", measure.Size{W: measure.Length(p.Grid.ReferenceCell[0]), H: measure.Length(p.Grid.ReferenceCell[1])}.Text(q.unit)},
		{"Box on the sheet", measure.Size{W: measure.Length(p.Grid.SheetCell[0]), H: measure.Length(p.Grid.SheetCell[1])}.Text(q.unit)}}
	a.Head = []string{"Marks, " + string(q.unit), "Across", "Down"}
	a.Rows = [][]string{
		{"Picture", sheet.List(p.Marks.ReferenceX, q.unit), sheet.List(p.Marks.ReferenceY, q.unit)},
		{"Sheet", card.Edges[0].List(), card.Edges[1].List()},
	}
	a.Drawing, err = kit.InlineSVG(sheet.MarkUpDrawing(p, card), nil)
	return a, err
}

func cutting(q asked) (a answer, err error) {
	piece, stock, students := q.size("piece"), q.size("stock"), int(q.number("students"))
	if err := q.problems(); err != nil {
		return a, err
	}
	if students < 1 || students > 1000 {
		return a, grid.Problems{{Field: "students", Message: "wanted 1 to 1000 students"}}
	}
	c, ok := measure.Cut(measure.Paper{Name: stock.Text(q.unit), Size: stock}, piece, students)
	if !ok {
		return a, grid.Problems{{Field: "stock", Message: "not even one drawing fits on that paper, or more than 400 do"}}
	}
	a.Facts = [][2]string{{"A sheet gives", fmt.Sprint(c.PerSheet())}, {"Sheets for all", fmt.Sprint(c.Sheets)}, {"Waste", fmt.Sprintf("%.0f %%", c.Waste*100)}}
	a.Steps = c.Words(q.unit)
	for _, caution := range lesson.Cautions(lesson.Trimmer) {
		a.Notes = append(a.Notes, grid.Finding{Level: grid.Note, Message: caution})
	}
	for _, other := range measure.RankStock(piece, students, measure.Papers) {
		if len(a.Rows) < 6 && other.PerSheet() <= measure.HandyPieces {
			a.Rows = append(a.Rows, []string{other.Paper.Name, other.Paper.Size.Text(q.unit), fmt.Sprint(other.PerSheet()), fmt.Sprint(other.Sheets), fmt.Sprintf("%.0f %%", other.Waste*100)})
		}
	}
	a.Head = []string{"Least waste", "Size", "A sheet gives", "Sheets", "Waste"}
	a.Drawing, err = kit.InlineSVG(sheet.CutDiagram(c, q.unit), nil)
	return a, err
}

func stringFrame(q asked) (a answer, err error) {
	f := sighting.StringFrame{Opening: q.size("opening"), Eye: q.length("eye"), Object: q.length("object")}
	if n := q.text("squares"); n != "" { // asked for by their number
		f.Spacing = f.Opening.W / measure.Length(q.number("squares"))
	} else {
		f.Spacing = q.length("spacing")
	}
	var room measure.Size
	if q.text("room") != "" {
		room = q.size("room")
	}
	if err := q.problems(); err != nil {
		return a, err
	}
	s, err := f.Look()
	if err != nil {
		return a, err
	}
	for _, doubt := range f.Doubts(room, q.unit) {
		a.Notes = append(a.Notes, grid.Finding{Level: grid.Warn, Message: doubt})
	}
	far, times := measure.Divide(f.Object.Figure(q.unit), f.Eye.Figure(q.unit), q.unit)
	each, _ := measure.Multiply(f.Spacing.Figure(q.unit), times, q.unit)
	a.Board = []string{far + " times as far", each}
	a.Facts = [][2]string{{"Threads", fmt.Sprintf("%s and %s, %s apart", count(s.Threads[0], "upright", "upright"), count(s.Threads[1], "level", "level"), q.say(f.Spacing))},
		{"The frame covers", q.sized(s.Covers)}, {"Each square covers", q.say(s.Each)},
		{"If the eye moves 1 in", fmt.Sprintf("the view slips %s, %.0f %% of a square", q.say(s.OneInch), s.OneShare*100)}}
	a.Steps = []string{"Rule the same squares on the paper, at any size.", "Keep the eye still: rest the chin, or look past a fixed peg.", "Close one eye, and draw what each square shows."}
	a.Drawing, err = kit.InlineSVG(sheet.Threads(f, s, q.unit), nil)
	return a, err
}

// lines reads a field of several lines, each with commas; at most 60.
func (q asked) lines(name string, least, most int) (rows [][]string) {
	for line := range strings.SplitSeq(q.values.Get(name), "\n") {
		parts := strings.Split(line, ",")
		if strings.TrimSpace(line) == "" {
			continue
		}
		if len(parts) < least || len(parts) > most || len(rows) >= 60 {
			*q.bad = append(*q.bad, grid.Problem{Field: name, Message: fmt.Sprintf("wanted %d to %d things with commas on each line, got “%s”", least, most, strings.TrimSpace(line))})
			return nil
		}
		for i := range parts {
			parts[i] = strings.TrimSpace(parts[i])
		}
		rows = append(rows, parts)
	}
	if rows == nil {
		*q.bad = append(*q.bad, grid.Problem{Field: name, Message: "write at least one line"})
	}
	return rows
}

// part reads one length of a line, 0 where the line ends before it.
func (q asked) part(name string, row []string, i int) measure.Length {
	if i >= len(row) || row[i] == "" {
		return 0
	}
	l, err := measure.Parse(row[i], q.unit)
	if err != nil {
		*q.bad = append(*q.bad, grid.Problem{Field: name, Message: "wanted a length, got “" + row[i] + "”"})
	}
	return l
}

func pointing(q asked) (a answer, err error) {
	k := q.number("scale")
	var points []sighting.Pointing
	solid := q.text("on") == "solid"
	for _, row := range q.lines("points", 3, 5) {
		turn, err := strconv.ParseFloat(strings.TrimSuffix(row[1], "°"), 64)
		if err != nil || math.Abs(turn) > 360 {
			*q.bad = append(*q.bad, grid.Problem{Field: "points", Message: "wanted a turn in degrees, got “" + row[1] + "”"})
		}
		points = append(points, sighting.Pointing{Name: row[0], Turn: turn, Out: q.part("points", row, 2), Drop: q.part("points", row, 3), Depth: q.part("points", row, 4)})
	}
	if err := q.problems(); err != nil {
		return a, err
	}
	copied, err := sighting.Point(points, k)
	if err != nil {
		return a, err
	}
	if solid {
		a.Head = []string{"Point", "Turn", "Out", "Below", "In"}
		a.Steps = []string{"Keep one fixed point on the model and one on the copy.", "Turn by the same angle, then measure the longer length out.", "Hang a plumb line there: measure down, then in."}
	} else {
		a.Head = []string{"Point", "Turn", "Out", "Right", "Down"}
		a.Steps = []string{"Keep one fixed point on the picture and one on the paper.",
			"Turn by the same angle, then measure the longer length out.",
			"To check: measure right and down from the fixed point; minus is left and up."}
	}
	for _, p := range copied {
		row := []string{p.Name, fmt.Sprintf("%g°", p.Turn), q.say(p.Out)}
		if solid {
			row = append(row, q.say(p.Drop), q.say(p.Depth))
		} else {
			row = append(row, q.say(p.X), q.say(p.Y))
		}
		a.Rows = append(a.Rows, row)
	}
	a.Drawing, err = kit.InlineSVG(sheet.Pointings(copied, solid), nil)
	return a, err
}

func guidelines(q asked) (a answer, err error) {
	face := q.size("solid")
	solid := sighting.Solid{Width: face.W, Height: face.H, Depth: q.length("depth")}
	for _, row := range q.lines("heights", 2, 2) {
		solid.Heights = append(solid.Heights, sighting.Level{Name: row[0], At: q.part("heights", row, 1)})
	}
	page, gutter, k := q.size("sheet"), q.length("gutter"), q.number("scale")
	views, err := strconv.Atoi(q.text("views"))
	if err != nil {
		*q.bad = append(*q.bad, grid.Problem{Field: "views", Message: "wanted 2 to 6 views"})
	}
	if err := q.problems(); err != nil {
		return a, err
	}
	g, err := sighting.Share(solid, views, page, gutter, k)
	if err != nil {
		return a, err
	}
	a.Facts = [][2]string{{"Every view", times(g.Scale)}, {"Top line", q.say(g.Top) + " from the top"}, {"Bottom line", q.say(g.Bottom) + " from the top"}}
	if g.Shrunk > 0.5 {
		a.Notes = append(a.Notes, grid.Finding{Level: grid.Note, Message: fmt.Sprintf("All views are %.0f %% smaller than you wished, to fit.", g.Shrunk), Fix: "Fewer views allow larger ones."})
	}
	a.Head = []string{"View", "From the left", "Wide"}
	for _, v := range g.Views {
		a.Rows = append(a.Rows, []string{v.Name, q.say(v.Left), q.say(v.Width)})
	}
	for _, l := range g.Levels {
		a.Steps = append(a.Steps, fmt.Sprintf("%s: a line %s from the top, right across.", l.Name, q.say(l.At)))
	}
	a.Drawing, err = kit.InlineSVG(sheet.ViewBoxes(g, page), nil)
	return a, err
}

func sightSize(q asked) (a answer, err error) {
	k := q.number("scale")
	var points []sighting.Carried
	for _, row := range q.lines("points", 3, 3) {
		points = append(points, sighting.Carried{Name: row[0], Height: q.part("points", row, 1), In: q.part("points", row, 2)})
	}
	if err := q.problems(); err != nil {
		return a, err
	}
	carried, err := sighting.SightSize(points, k)
	if err != nil {
		return a, err
	}
	a.Head = []string{"Point", "Height from the top", "In from the plumb line"}
	folded := sighting.Mirrored(carried)
	if q.text("fold") == "yes" {
		a.Head = append(a.Head, "The other half")
	}
	for i, p := range carried {
		row := []string{p.Name, q.say(p.Height), q.say(p.In)}
		if q.text("fold") == "yes" {
			row = append(row, q.say(folded[i].In))
		}
		a.Rows = append(a.Rows, row)
	}
	a.Steps = []string{"Stand the picture and the drawing side by side, upright.", "Carry each height straight across.", "Measure in from the plumb line; left is minus."}
	a.Drawing, err = kit.InlineSVG(sheet.Carried(points, carried), nil)
	return a, err
}

func overlay(q asked) (a answer, err error) {
	picture, stock := q.size("picture"), q.size("stock")
	if err := q.problems(); err != nil {
		return a, err
	}
	if !stock.Holds(picture) {
		if stock = stock.Turned(); !stock.Holds(picture) {
			return a, grid.Problems{{Field: "stock", Message: "the paper must be at least as large as the picture"}}
		}
	}
	if picture == (measure.Size{}) {
		return a, errors.New("overlay: no picture")
	}
	a.Facts = [][2]string{{"Cut the paper to", picture.Text(q.unit)},
		{"Off the width", q.say(stock.W - picture.W)}, {"Off the height", q.say(stock.H - picture.H)},
		{"Both diagonals", picture.Diagonal().About(q.unit)}}
	a.Steps = []string{"Cut the paper to the picture's own size.",
		"Lay the picture over the drawing, edge on edge, and hold one side.",
		"Hover at a point, lift the picture, and put a dot.",
		"Good for checks: the dot should fall on the line that is there."}
	a.Drawing, err = kit.InlineSVG(sheet.Overlaid(picture, stock, q.unit), nil)
	return a, err
}
