// Package bench is one project's workplace: its picture, plan and prints.
package bench

import (
	"bytes"
	"cmp"
	"embed"
	"errors"
	"html/template"
	"net/http"
	"strconv"
	"strings"

	"github.com/go-chi/chi/v5"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/sheet"
	"zestysketch/internal/render"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

//go:embed *.html
var files embed.FS

var pages = kit.NewPages(files)

type area struct{ *kit.Kit }

// Routes adds the area's addresses.
func Routes(r chi.Router, k *kit.Kit) {
	a := area{k}
	r.Get("/projects/new", k.Handle(a.askNew))
	r.Post("/projects", k.Handle(a.add))
	r.Get("/projects/{project}", k.Handle(a.show))
	r.Get("/projects/{project}/plan", k.Handle(a.preview))
	r.Post("/projects/{project}/plan", k.Handle(a.keep))
	r.Get("/projects/{project}/plan.json", k.Handle(a.export))
	r.Post("/projects/{project}/picture", k.Handle(a.changePicture))
	r.Get("/projects/{project}/print.pdf", k.Handle(a.print))
	r.Get("/pictures/{picture}/{role}", k.Handle(a.picture))
}

// bench is what the bench page shows.
type bench struct {
	Project  store.Project
	Rail     kit.Rail
	Ask      grid.Request
	Problems grid.Problems
	Plan     *grid.Plan    // what Ask makes, nil where it has problems
	Drawing  template.HTML // the picture with the grid over it
	Kept     *grid.Plan    // the plan that prints and the wall use
	Seen     int           // the version the teacher looks at
	Conflict bool
	Fields   []string
}

// Changed reports whether what is shown differs from what is kept.
func (b bench) Changed() bool { return b.Kept == nil || b.Ask != b.Kept.Typed }

// Problem returns what is wrong with a field, empty if nothing.
func (b bench) Problem(field string) string { return b.Problems.Of(field) }

// Papers returns the papers to print on.
func (b bench) Papers() []sheet.PaperChoice { return sheet.PapersFor(*b.Kept) }

// fieldNames are the form's fields, as in grid.Request's JSON.
var fieldNames = []string{"name", "units", "reference", "paper", "fit", "round", "method", "reference_square", "sheet_square", "scale", "parts", "letters"}

// readAsk reads a plan request from a form; the picture is the project's.
func readAsk(r *http.Request, p store.Project) grid.Request {
	get := func(field string) string {
		text := strings.Join(strings.Fields(strings.ToValidUTF8(r.FormValue(field), "")), " ")
		if runes := []rune(text); len(runes) > 120 {
			return string(runes[:120])
		}
		return text
	}
	return withPicture(grid.Request{
		Name: get("name"), Units: get("units"), Reference: get("reference"), Paper: get("paper"), Fit: get("fit"),
		Round: get("round"), Method: get("method"), ReferenceSquare: get("reference_square"), SheetSquare: get("sheet_square"),
		Scale: get("scale"), Parts: get("parts"), Letters: get("letters"),
	}, p)
}

func withPicture(ask grid.Request, p store.Project) grid.Request {
	ask.Picture = [2]int{}
	if p.Picture != nil {
		ask.Picture = [2]int{p.Picture.Width, p.Picture.Height}
	}
	return ask
}

// firstAsk is a sensible start for a picture that nobody has planned yet: a
// print that fits office paper, on common drawing paper.
func firstAsk(p store.Project) grid.Request {
	ask := grid.Request{Name: p.Name, Units: "in", Reference: "7 in", Paper: "12 x 18 in", Fit: "inside", Method: "squares", Letters: "across"}
	if p.Picture != nil && p.Picture.Width > p.Picture.Height {
		ask.Reference = "9 in"
	}
	return withPicture(ask, p)
}

// lay makes the page's content for a request.
func (a area) lay(r *http.Request, p store.Project, ask *grid.Request) (bench, error) {
	kept, err := kit.PlanOf(r.Context(), a.Store, p)
	if err != nil {
		return bench{}, err
	}
	if ask == nil {
		first := firstAsk(p)
		if ask = &first; kept != nil {
			ask = &kept.Typed
		}
	}
	b := bench{Project: p, Rail: kit.Rail{Project: p, Here: kit.StepGrid, Planned: kept != nil}, Ask: *ask, Kept: kept, Seen: p.PlanVersion, Fields: fieldNames}
	plan, err := grid.Make(*ask)
	if err != nil {
		b.Problems = grid.ProblemsOf(err)
		return b, nil
	}
	b.Plan = &plan
	if p.PictureID != nil {
		b.Drawing, err = drawing(plan, *p.PictureID)
	}
	return b, err
}

// drawing returns the picture with the grid over it, as SVG.
func drawing(p grid.Plan, picture uint64) (template.HTML, error) {
	var out bytes.Buffer
	err := render.SVG(&out, sheet.Overlay(p), func(string) string { return kit.PicturePath(picture, store.View) })
	return template.HTML(out.String()), err // made of escaped parts by render.SVG
}

func (a area) show(w http.ResponseWriter, r *http.Request) error {
	p, err := a.Project(r)
	if err != nil {
		return err
	}
	b, err := a.lay(r, p, nil)
	if err != nil {
		return err
	}
	return pages.Whole(w, r, "bench.html", p.Name, b)
}

func (a area) preview(w http.ResponseWriter, r *http.Request) error {
	p, err := a.Project(r)
	if err != nil {
		return err
	}
	ask := readAsk(r, p)
	b, err := a.lay(r, p, &ask)
	if err != nil {
		return err
	}
	b.Seen = formVersion(r)
	return b.answer(w, r, http.StatusOK)
}

// answer sends the live part to htmx, the whole page to a browser without it.
func (b bench) answer(w http.ResponseWriter, r *http.Request, status int) error {
	if kit.IsFragment(r) {
		b.Rail.Again = true
		return pages.Part(w, r, "bench.html", "live", status, b)
	}
	return pages.WholeStatus(w, r, "bench.html", b.Project.Name, status, b)
}

func formVersion(r *http.Request) int {
	seen, err := strconv.Atoi(r.FormValue("seen"))
	if err != nil {
		return -1
	}
	return seen
}

func (a area) keep(w http.ResponseWriter, r *http.Request) error {
	if err := kit.ReadForm(w, r); err != nil {
		return err
	}
	p, err := a.Project(r)
	if err != nil {
		return err
	}
	ask := readAsk(r, p)
	b, err := a.lay(r, p, &ask)
	if err != nil {
		return err
	}
	b.Seen = formVersion(r)
	if b.Plan == nil {
		return b.answer(w, r, http.StatusUnprocessableEntity)
	}
	version, err := a.save(r, p, b.Seen, *b.Plan)
	if errors.Is(err, store.ErrConflict) {
		b.Conflict = true
		b.Seen = p.PlanVersion // keeping again then is a choice, not an accident
		return b.answer(w, r, http.StatusUnprocessableEntity)
	}
	if err != nil {
		return err
	}
	b.Kept, b.Seen = b.Plan, version
	b.Rail.Planned, b.Rail.Project.Name = true, cmp.Or(b.Plan.Name, p.Name)
	return b.answer(w, r, http.StatusOK)
}

func (a area) save(r *http.Request, p store.Project, seen int, plan grid.Plan) (int, error) {
	file, err := grid.Encode(plan)
	if err != nil {
		return 0, err
	}
	return a.Store.SavePlan(r.Context(), p.TeacherID, p.ID, seen, cmp.Or(plan.Name, p.Name), string(file))
}

func (a area) export(w http.ResponseWriter, r *http.Request) error {
	p, plan, err := a.planned(r)
	if err != nil {
		return err
	}
	file, err := grid.Encode(plan)
	if err != nil {
		return err
	}
	w.Header().Set("Content-Type", "application/json")
	w.Header().Set("Content-Disposition", kit.Attachment(p.Name, "zesty-plan.json"))
	_, err = w.Write(file)
	return err
}

// planned returns the project in the address with its kept plan.
func (a area) planned(r *http.Request) (store.Project, grid.Plan, error) {
	p, err := a.Project(r)
	if err != nil {
		return p, grid.Plan{}, err
	}
	plan, err := kit.PlanOf(r.Context(), a.Store, p)
	if err != nil {
		return p, grid.Plan{}, err
	}
	if plan == nil {
		return p, grid.Plan{}, kit.Ask("This project has no plan yet. Open it, choose the sizes and keep the plan.")
	}
	return p, *plan, nil
}
