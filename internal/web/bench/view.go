package bench

import (
	"cmp"
	"fmt"
	"html/template"
	"net/http"
	"time"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/sheet"
	"zestysketch/internal/core/survey"
	"zestysketch/internal/plans"
	"zestysketch/internal/room"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

// bench is what the bench page shows.
type bench struct {
	Project  store.Project
	Rail     kit.Rail
	Step     string // picture, compose, size, grid or marks
	Ask      grid.Request
	Problems grid.Problems
	Plan     *grid.Plan    // what Ask makes, nil where it has problems
	Drawing  template.HTML // the picture with the grid over it
	Net      string        // the grid's numbers, for the hand on the picture
	Kept     *grid.Plan    // the plan that prints and the wall use
	Seen     int           // the version the teacher looks at
	Conflict bool
	Losses   []loss  // what keeping would take from whom; to be said yes to
	Using    *using  // what else would not fit the new plan; to be said yes to
	MayKeep  bool    // a colleague may only look
	lessons  float64 // minutes that they leave to draw; 0 where nobody knows

	// What the step shows beside the picture; only the present one's is set.
	Pictures *picturesView
	Compose  *composeView
	Sizes    []proposalView
	Size     *sizeView
	Grid     *gridView
	Marks    []markView
}

// benchSteps are the steps that share the bench, by the rail's names.
var benchSteps = map[string]string{"picture": kit.StepPicture, "compose": kit.StepCompose, "size": kit.StepSize, "grid": kit.StepGrid, "marks": kit.StepMarks}

// Changed reports whether what is shown differs from what is kept.
func (b bench) Changed() bool { return b.Kept == nil || b.Ask != b.Kept.Asked() }

// Fields returns the form's fields, in the order in which problems are sent.
func (b bench) Fields() []grid.Field { return b.Ask.Fields() }

// Problem returns what is wrong with a field, empty if nothing.
func (b bench) Problem(field string) string { return b.Problems.Of(field) }

// squares is a shape of whole squares.
type squares struct{ Ratio, Words string }

// Squares returns the shape of as many whole squares as the plan has boxes, nil without a plan.
func (b bench) Squares() *squares {
	if b.Plan == nil {
		return nil
	}
	g := b.Plan.Grid
	return &squares{fmt.Sprintf("%.7f", float64(g.Columns)/float64(g.Rows)), fmt.Sprintf("%d × %d squares", g.Columns, g.Rows)}
}

// input is one field of the form.
type input struct {
	Name, Label, Value, Placeholder, Problem string
	Options                                  []kit.Option
}

// Input returns a text field by the request's own name for it.
func (b bench) Input(name, label, placeholder string) input {
	in := input{Name: name, Label: label, Placeholder: placeholder, Problem: b.Problem(name)}
	for _, f := range b.Ask.Fields() {
		if f.Name == name {
			in.Value = *f.Value
		}
	}
	return in
}

// Lessons says how many minutes to draw are taken where none are typed.
func (b bench) Lessons() string {
	if b.lessons == 0 {
		return "no limit"
	}
	return fmt.Sprintf("%.0f by lessons", b.lessons)
}

// Choice is Input with options to choose from, in pairs of value and words.
// The first is chosen where nothing was.
func (b bench) Choice(name, label string, pairs ...string) input {
	in := b.Input(name, label, "")
	in.Options = kit.Pick(in.Value, pairs...)
	return in
}

// lay makes the page's content for a request, or for what is kept where ask is nil.
func (a area) lay(r *http.Request, p store.Project, ask *grid.Request) (bench, error) {
	kept, err := plans.Kept(r.Context(), a.Store, p)
	if err != nil {
		return bench{}, err
	}
	b := bench{Project: p, Kept: kept, Seen: p.PlanVersion, Step: r.FormValue("step"), MayKeep: kit.MayKeep(r)}
	b.lessons, _ = room.TimeToDraw(p, kit.Clock(r), time.Now())
	switch {
	case ask != nil:
		b.Ask = *ask
	case kept != nil:
		b.Ask = kept.Asked()
	default:
		units, _ := kit.Habits(r)
		b.Ask = plans.First(p.Name, p.Picture.Pixels(), units, p.EffectiveRoad().Way, b.lessons)
	}
	if benchSteps[b.Step] == "" {
		b.Step = "grid"
	}
	b.Rail = kit.Rail{Project: p, Here: benchSteps[b.Step], Planned: kept != nil}
	plan, err := grid.Make(b.Ask)
	if err != nil {
		b.Problems = grid.ProblemsOf(err)
	} else if err := a.measured(r, &b, plan); err != nil {
		return bench{}, err
	}
	err = a.beside(r, &b)
	return b, err
}

// measured looks at the picture under the plan and draws it.
func (a area) measured(r *http.Request, b *bench, plan grid.Plan) error {
	b.Plan = &plan
	if b.Project.PictureID == nil {
		return nil
	}
	img, err := a.Pixels(r.Context(), b.Project.TeacherID, *b.Project.PictureID)
	if err != nil {
		return err
	}
	facts := b.Project.Picture.Facts
	seen := survey.Contrast(img, plan)
	plan = plan.WithContrast(seen, facts != nil && facts.Drawing)
	if b.Step == "grid" {
		busy, _, err := survey.Detail(img, plan)
		if err != nil {
			return err
		}
		wish := plan.Wish(0, busy)
		wish.Minutes = cmp.Or(wish.Minutes, b.lessons)
		b.Grid = newGridView(plan, seen, wish)
		b.Grid.Key = b.Project.Key()
	}
	b.Drawing, err = drawn(sheet.Overlay(plan), *b.Project.PictureID)
	if err == nil {
		b.Net, err = netNumbers(plan)
	}
	return err
}

// beside fills in what the step shows beside the picture.
func (a area) beside(r *http.Request, b *bench) (err error) {
	if b.Step == "size" {
		if b.Sizes, err = a.proposals(r, *b); err != nil {
			return err
		}
	}
	switch {
	case b.Step == "picture":
		b.Pictures, err = a.newPicturesView(r, b)
	case b.Step == "compose":
		b.Compose, err = a.newComposeView(r, b)
	case b.Plan == nil:
	case b.Step == "size":
		b.Size, err = newSizeView(*b.Plan, b.Project)
	case b.Step == "marks":
		b.Marks, err = newMarkViews(*b.Plan)
	}
	return err
}

// drawn returns a page as SVG with the picture of the given number.
func drawn(pg page.Page, picture uint64) (template.HTML, error) {
	return kit.InlineSVG(pg, kit.LinkTo(picture, store.View))
}

// Grave returns the findings that matter, the gravest first, and Notes the others.
func (b bench) Grave() []grid.Finding { return append(b.found(grid.Stop), b.found(grid.Warn)...) }
func (b bench) Notes() []grid.Finding { return b.found(grid.Note) }

func (b bench) found(level grid.Level) (all []grid.Finding) {
	if b.Plan == nil {
		return nil
	}
	for _, f := range b.Plan.Findings {
		if f.Level == level {
			all = append(all, f)
		}
	}
	return all
}
