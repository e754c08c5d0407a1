package sheet

import (
	"fmt"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/lesson"
	"zestysketch/internal/core/lines"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/reading"
	"zestysketch/internal/core/sighting"
	"zestysketch/internal/core/values"
)

// The kinds of pages, as files and addresses name them.
const (
	KindReference page.Kind = "reference"
	KindClean     page.Kind = "clean"
	KindSheet     page.Kind = "sheet"
	KindMarks     page.Kind = "marks"
	KindStrips    page.Kind = "strips"
	KindCards     page.Kind = "cards"
	KindWindows   page.Kind = "windows"
	KindThumbs    page.Kind = "thumbnails"
	KindViews     page.Kind = "views"
	KindFold      page.Kind = "fold"
	KindTurn      page.Kind = "half-turn"
	KindProject   page.Kind = "project"
	KindValues    page.Kind = "values"
	KindStudent   page.Kind = "student-list"
	KindTape      page.Kind = "tape-list"
	KindCover     page.Kind = "cover"
	KindTeacher   page.Kind = "teacher-list"
	KindTags      page.Kind = "tags"
	KindDots      page.Kind = "dots"
	KindKey       page.Kind = "key"
	KindEyes      page.Kind = "eye-sheet"
	KindPoints    page.Kind = "points"
	KindLines     page.Kind = "line-sheet"
	KindMap       page.Kind = "value-map"
)

// About says what a kind of page is and why one would want it.
type About struct {
	Kind   page.Kind
	Name   string
	Why    string
	Once   bool // for the class, not for every student
	Lookup bool // words and folds only: it helps a home without a printer
	make   func(Wish) ([]page.Page, error)
}

// Kinds lists every kind in the order in which a set is bound.
var Kinds = []About{
	{KindCover, "Cover", "whose set it is, with the student's own link", false, false, one(Cover)},
	{KindProject, "Project card", "steps, sizes, materials and cautions on one page", false, true, one(ProjectCard)},
	{KindReference, "Gridded picture", "what is copied, box by box", false, false, one(Reference)},
	{KindClean, "Clean picture", "to see the picture without lines", false, false, one(Clean)},
	{KindLines, "Line sheet", "the picture's lines alone, to trace", false, false, LinePages},
	{KindMap, "Value map", "the picture in four steps of tone, to trace and fill", false, false, MapPages},
	{KindMarks, "Mark-up card", "every mark of the drawing sheet, in order", false, true, func(w Wish) ([]page.Page, error) { return Marks(w) }},
	{KindStrips, "Mark strips", "a scale to lay along the paper: no ruler needed", false, false, Strips},
	{KindSheet, "Drawing sheet", "a faint grid, or its marks, to draw on", false, false, DrawingSheet},
	{KindDots, "Dot sheet", "the drawing sheet with dots where lines cross the grid", false, false, DotSheet},
	{KindCards, "Box cards", "one box a card, enlarged, with its neighbours' edges", false, false, BoxCards},
	{KindWindows, "Windows and masks", "to cover everything but the box in hand", false, false, Windows},
	{KindThumbs, "Thumbnail boxes", "small boxes of the paper's shape for first ideas", false, false, one(Thumbnails)},
	{KindViews, "Several views", "common lines for the views of one solid", false, false, Views},
	{KindPoints, "Points", "where landmarks are, for work without a grid: heights, turns and distances", false, true, Points},
	{KindFold, "Fold-line sheet", "both halves alike, drawn outward from a fold", false, false, one(FoldLine)},
	{KindTurn, "Half-turn sheet", "one half, and the same again with the sheet upside down", false, false, one(HalfTurn)},
	{KindValues, "Values strip", "nine steps of even lightness to hold against the drawing", false, false, one(Values)},
	{KindStudent, "Student's list", "what to ask in every box", false, true, one(StudentList)},
	{KindTape, "Before the tape comes off", "what must be there after tracing", false, true, one(TapeList)},
	{KindTeacher, "Teacher's list", "what to look for on the way round the room", true, false, one(TeacherList)},
	{KindKey, "Key", "every box drawn small, with fractions; in words too where words are wished", true, false, Key},
	{KindEyes, "Eye exercises", "three minutes to begin a lesson with, and their key; copy them for all", true, false, EyeSheet},
	{KindTags, "Corner tags", "laid at a drawing's corners, a photo finds itself", true, false, Tags},
}

func one(f func(Wish) (page.Page, error)) func(Wish) ([]page.Page, error) {
	return func(w Wish) ([]page.Page, error) {
		p, err := f(w)
		return []page.Page{p}, err
	}
}

// KindNamed returns what a kind is; ok is false for an unknown one.
func KindNamed(k page.Kind) (About, bool) {
	for _, a := range Kinds {
		if a.Kind == k {
			return a, true
		}
	}
	return About{}, false
}

// Wish is what pages are made from.
type Wish struct {
	Plan    grid.Plan
	Printer page.Printer
	Units   measure.Unit // of the words; the plan's where it is empty

	Picture                           string   // the picture's name, where pages of several stand together; FramePicture if empty
	Grey, UpsideDown, Mirrored, Faded bool     // of the pictures
	MarksOnly                         bool     // of the drawing sheet
	LevelFold                         bool     // the fold-line sheet's fold is level
	Empty                             []string // boxes with nothing to draw in, which get no card

	Boxes []reading.Box // what is in them; nil where nobody read them
	Help  reading.Help  // how much of it picture and cards show

	Upright, Lying int          // thumbnails
	Frames         []grid.Frame // and what is in them; none for empty boxes
	Views          int
	Round          int // of the exercise sheet, from 1
	Solid          sighting.Solid
	Pressed        []View         // pictures to be brought to one height, in the solid's place
	Gap            measure.Length // between them, 0 for a pair that hangs together

	Who       Who
	Class     []Who         // for pages that are made once
	Landmarks []string      // the weightiest first
	Pins      []reading.Pin // and where they are
	Road      lesson.Road
	Reduced   Reduced
}

// Reduced is a picture reduced, as the sheet shows it, for the kinds of pages that want it.
type Reduced struct {
	Lines lines.Sketch
	Map   values.Map
	Carry []string // what must be there when the tape comes off
}

// KindsFor returns the pages with which a way of working begins.
func KindsFor(w lesson.Way) []page.Kind {
	switch w {
	case lesson.ByOverlay, lesson.BySight, lesson.ByPointing:
		return []page.Kind{KindCover, KindProject, KindClean, KindPoints}
	case lesson.ByTracing:
		return []page.Kind{KindCover, KindProject, KindClean, KindLines, KindTape}
	case lesson.ByViews:
		return []page.Kind{KindCover, KindProject, KindClean, KindViews}
	case lesson.ByFold:
		return []page.Kind{KindCover, KindProject, KindReference, KindFold}
	case lesson.ByTurn:
		return []page.Kind{KindCover, KindProject, KindReference, KindTurn}
	case lesson.ByStrips:
		return []page.Kind{KindCover, KindProject, KindClean, KindMarks}
	case lesson.FromLife:
		return []page.Kind{KindCover, KindProject, KindMarks, KindStudent}
	case lesson.ByQuarters:
		return []page.Kind{KindCover, KindProject, KindReference, KindClean}
	}
	return []page.Kind{KindCover, KindReference, KindClean, KindMarks, KindStudent}
}

// Who is whose pages they are.
type Who struct {
	Name, Class      string
	Link             string // of the student's own page; empty prints none
	Project, Student uint64
}

// Pages makes the pages of one kind, corrected for the printer. The error
// wraps ErrPaper, or says what in the wish cannot be.
func Pages(k page.Kind, w Wish) ([]page.Page, error) {
	a, ok := KindNamed(k)
	if !ok {
		return nil, fmt.Errorf("there is no kind of page called %q", k)
	}
	if w.Units != "" {
		w.Plan.Units = w.Units
	}
	pages, err := a.make(w)
	if err != nil {
		return nil, err
	}
	for i := range pages {
		pages[i].Kind, pages[i].Title = k, a.Name
		if !a.Once {
			pages[i].Owner = w.Who.Name
		}
	}
	return w.Printed(pages), nil
}

// Printed returns pages as they are sent to the wish's printer: corrected for
// what it makes of lengths, and without letters that the faces do not have.
func (w Wish) Printed(pages []page.Page) []page.Page {
	for i, p := range pages {
		for j, item := range p.Items {
			if t, ok := item.(page.Text); ok {
				t.Words = page.Printable(t.Words)
				p.Items[j] = t
			}
		}
		pages[i] = w.Printer.Correct(p)
	}
	return pages
}

// Reads reports whether pages of a kind, at a step of help, need what boxes hold.
func Reads(k page.Kind, h reading.Help) bool {
	return k == KindDots || k == KindKey || k == KindEyes || h != reading.Ticks && (k == KindCards || k == KindReference)
}

// planTools returns the tools with cautions that a plan's marking and cutting need.
func planTools(p grid.Plan) []lesson.Tool {
	tools := []lesson.Tool{lesson.Originals}
	if p.CutOut() && p.SheetSize() != p.StockSize() {
		tools = append(tools, lesson.Trimmer)
	}
	if p.Ruler.Way == grid.ByStrip {
		tools = append(tools, lesson.Scissors)
	}
	if max(p.Sheet.Stock[0]*float64(max(1, p.Sheet.Panels[0])), p.Sheet.Stock[1]*float64(max(1, p.Sheet.Panels[1]))) > atHeight {
		tools = append(tools, lesson.Wall)
	}
	return tools
}

// atHeight is how large a sheet is, in millimetres, that hangs on a wall and is
// not reached from the floor (ours).
const atHeight = 1800
