// Package printroom is where a project's pages are chosen, looked at and
// printed for the whole class, and where printers are measured.
package printroom

import (
	"embed"
	"errors"
	"html/template"
	"image"
	"net/http"
	"slices"
	"strconv"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/lesson"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/reading"
	"zestysketch/internal/core/sheet"
	"zestysketch/internal/core/sighting"
	"zestysketch/internal/press"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

//go:embed *.html
var files embed.FS

var pages = kit.NewPages(files)

type area struct{ *kit.Kit }

// Routes adds the area's addresses.
func Routes(r kit.Routes, k *kit.Kit) {
	a := area{k}
	r.Get("/projects/{project}/print", store.ToCover, kit.NoAudit, kit.WithBoth(a.Planned, a.show))
	r.Get("/projects/{project}/print/set.pdf", store.ToCover, kit.NoAudit, kit.WithBoth(a.asked, a.pdf))
	r.Get("/projects/{project}/print/page.svg", store.ToCover, kit.NoAudit, a.svg)
	r.Get("/projects/{project}/print/page.png", store.ToCover, kit.NoAudit, a.png)
	r.Get("/projects/{project}/print/thumb.svg", store.ToCover, kit.NoAudit, kit.WithBoth(a.asked, a.thumb))
	r.Post("/projects/{project}/print/jobs", store.ToCover, "had a class set made", kit.WithBoth(a.Planned, a.queue))
	r.Get("/projects/{project}/print/jobs", store.ToCover, kit.NoAudit, kit.With(a.Project, a.jobs))
	r.Post("/projects/{project}/print/sets", store.ToOwn, "kept a choice of pages", kit.With(a.Project, a.saveSet))
	r.Post("/printsets/{set}/remove", store.Owns, "removed a choice of pages", kit.With(kit.IDOf("set"), a.removeSet))
	r.Post("/jobs/{job}/cancel", store.ToCover, "stopped a class set", kit.With(kit.IDOf("job"), a.cancel))
	r.Get("/jobs/{job}/set.pdf", store.ToCover, "got a class set", kit.With(kit.IDOf("job"), a.file))
	r.Get("/projects/{project}/links", store.ToOwn, kit.NoAudit, kit.With(a.Project, a.links))
	r.Post("/projects/{project}/links", store.ToOwn, "changed or revoked links", kit.With(a.Project, a.changeLinks))
	r.Give("/projects/{project}/links/screen", store.ToCover, "showed students' links", kit.WithBoth(a.Planned, a.screen))
	r.Post("/projects/{project}/links/code", store.ToCover, "made or ended a lesson's code", kit.With(a.Project, a.code))
	r.Get("/printers", store.Owns, kit.NoAudit, a.printers)
	r.Post("/printers", store.Owns, "added a printer", a.addPrinter)
	r.Post("/printers/{printer}", store.Owns, "corrected a printer", a.correct)
	r.Post("/printers/{printer}/remove", store.Owns, "removed a printer", kit.With(a.printer, a.removePrinter))
	r.Get("/printers/{printer}/check.pdf", store.Owns, kit.NoAudit, a.checkPage)
}

// room is what the print room shows.
type room struct {
	Project  store.Project
	Rail     kit.Rail
	Spec     press.Spec
	Plan     grid.Plan
	Printers []store.Printer
	Sets     []setView
	Problem  string
	Left     []string // kinds that do not fit the paper
	Shown    []pageView
	Counts   map[page.Kind]int
	Cannot   map[page.Kind]string
	Pages    int // of the sample
	All      int // for the class
	Sheets   int
	For      int     // sets: a student's each, and spare ones
	Ink      float64 // of a page's area, in the mean
	Cheaper  []saving
	Jobs     []job
	Query    template.URL
	Base     string // where links on the pages lead
}

// Gets reports whether a student is one of those who were chosen.
func (v room) Gets(id uint64) bool { return slices.Contains(v.Spec.Students, id) }

// WhoGets lists the students of the class whose pages differ from the others', and how.
func (v room) WhoGets() (list []store.Student) {
	if v.Project.Class != nil {
		for _, s := range v.Project.Class.Students {
			if s.Needs != "" {
				list = append(list, s)
			}
		}
	}
	return list
}

// LeadsNowhere reports whether the chosen pages carry links that no tablet finds.
func (v room) LeadsNowhere() bool {
	return kit.OnlyHere(v.Base) && slices.Contains(v.Spec.Kinds, sheet.KindCover)
}

// pageView is one page of the sample, drawn small.
type pageView struct {
	Title   string
	Drawing template.HTML
}

// setView is a saved set, or one that came with the program.
type setView struct {
	ID    uint64
	Name  string
	Kinds string
	Query template.URL
}

// kindView is a kind with whether it is chosen.
type kindView struct {
	sheet.About
	Chosen bool
	Count  int    // pages of one set
	Cannot string // why there are none
	Small  template.URL

	Project string // its key
	Usual   bool   // of the project's way of working, or chosen
}

// Kinds returns the kinds to choose from.
func (v room) Kinds() (kinds []kindView) {
	usual := sheet.KindsFor(v.Project.EffectiveRoad().Way)
	for _, a := range sheet.Kinds {
		alone := v.Spec
		alone.Kinds = []page.Kind{a.Kind}
		chosen := slices.Contains(v.Spec.Kinds, a.Kind)
		kinds = append(kinds, kindView{a, chosen, v.Counts[a.Kind], v.Cannot[a.Kind], address(alone), v.Project.Key(), chosen || slices.Contains(usual, a.Kind)})
	}
	return kinds
}

// Papers returns the papers to print on, the one in use among them.
func (v room) Papers() []sheet.PaperChoice { return sheet.PapersFor(v.Plan) }

// OddPaper returns a paper in use that is not in the list.
func (v room) OddPaper() string {
	for _, p := range v.Papers() {
		if p.Name == v.Spec.Paper {
			return ""
		}
	}
	return v.Spec.Paper
}

// Busy reports whether a job is still at work.
func (v room) Busy() bool {
	return slices.ContainsFunc(v.Jobs, func(j job) bool { return j.State == store.Queued || j.State == store.Running })
}

// readSpec reads what was chosen from the address or a form.
func readSpec(r *http.Request) press.Spec {
	on := func(field string) bool { return r.FormValue(field) != "" }
	number := func(field string) int {
		n, err := strconv.Atoi(r.FormValue(field))
		if err != nil && r.FormValue(field) != "" {
			return -1
		}
		return n
	}
	s := press.Spec{Paper: r.FormValue("paper"), Grey: on("grey"), UpsideDown: on("upside_down"),
		Mirrored: on("mirrored"), Faded: on("faded"), MarksOnly: on("marks_only"), AllBoxes: on("all_boxes"),
		Help:  r.FormValue("help"),
		Views: number("views"), Round: number("round"), Solid: r.FormValue("solid"), Depth: r.FormValue("depth"),
		ByPage: on("by_page"), Duplex: on("duplex"), Share: sheet.Sharing(r.FormValue("share")),
		Spare: number("spare"), Everyone: r.FormValue("who") == "everyone"}
	if s.Paper == "other" {
		s.Paper = r.FormValue("paper_size")
	}
	s.Printer, _ = strconv.ParseUint(r.FormValue("printer"), 10, 63)
	for _, k := range r.Form["kind"] {
		s.Kinds = append(s.Kinds, page.Kind(k))
	}
	for _, id := range r.Form["student"] {
		if n, err := strconv.ParseUint(id, 10, 63); err == nil {
			s.Students = append(s.Students, n)
		}
	}
	return s
}

// usual is what is chosen before anything is: the pages that a way of working begins with, on the paper that the
// teacher's printers hold, or that of the plan's units where it does not hold the picture.
func usual(r *http.Request, way lesson.Way, p grid.Plan) press.Spec {
	s := press.Spec{Kinds: sheet.KindsFor(way)}
	s.Paper, s.Everyone = sheet.UsualPaper(p), true
	_, habit := kit.Habits(r)
	if slices.ContainsFunc(sheet.PapersFor(p), func(c sheet.PaperChoice) bool { return c.Name == habit && c.Fits }) {
		s.Paper = habit
	}
	return s
}

func (a area) show(w http.ResponseWriter, r *http.Request, p store.Project, plan grid.Plan) (err error) {
	v := room{Base: a.Base(r), Project: p, Plan: plan, Spec: usual(r, p.EffectiveRoad().Way, plan), Rail: kit.NewRail(p, kit.StepPrint), Counts: map[page.Kind]int{}}
	if r.Form.Has("kind") || r.Form.Has("chosen") {
		v.Spec = readSpec(r)
	} else if slices.Contains(v.Spec.Kinds, sheet.KindPoints) {
		marks, err := a.Store.Landmarks(r.Context(), p.ID, p.PictureID)
		if err != nil {
			return err
		}
		if len(marks) == 0 { // no points were pressed yet: their page waits for them
			v.Spec.Kinds = slices.DeleteFunc(v.Spec.Kinds, func(k page.Kind) bool { return k == sheet.KindPoints })
		}
	}
	v.Query = address(v.Spec)
	if err := a.sample(r, &v); err != nil {
		return err
	}
	if kit.IsFragment(r) {
		w.Header().Set("HX-Replace-Url", r.URL.RequestURI())
		return pages.Part(w, r, "room.html", "sample", http.StatusOK, v)
	}
	if v.Printers, err = a.Store.Printers(r.Context(), p.TeacherID); err != nil {
		return err
	}
	if v.Jobs, err = a.jobsOf(r, p); err != nil {
		return err
	}
	if v.Sets, err = a.sets(r, v.Spec); err != nil {
		return err
	}
	if err := a.count(r, &v); err != nil {
		return err
	}
	return pages.Whole(w, r, "room.html", p.Name+" · print", v)
}

// mostShown is how many pages of a sample are drawn: what is past them is counted.
const mostShown = 24

// sample makes one set to look at, and counts what the class needs.
func (a area) sample(r *http.Request, v *room) error {
	set, made, err := a.made(r, v.Project, v.Spec)
	if said := ofSpec(err); said != "" {
		v.Problem = said
		return nil
	}
	if err != nil {
		return err
	}
	v.Pages, v.Left = len(made.Pages), made.Left
	for _, p := range made.Pages {
		v.Counts[p.Kind]++
		if len(v.Shown) < mostShown {
			drawing, err := a.drawn(p, made, v.Project)
			if err != nil {
				return err
			}
			v.Shown = append(v.Shown, pageView{p.Title, drawing})
		}
	}
	n := v.Spec.Spare
	if v.Project.Class != nil {
		for _, s := range v.Project.Class.Students {
			if v.Spec.Everyone || v.Gets(s.ID) {
				n++
			}
		}
	}
	v.For = n
	once, each := shared(made)
	both := v.Spec.Duplex || v.Spec.Share == sheet.Booklet
	v.All, v.Sheets = once+each*n, sheet.SheetsNeeded(each, both)*n+sheet.SheetsNeeded(once, both)
	v.economy(set, made, n)
	return nil
}

// shared counts the pages of a sample that are made once for the class, and those of each
// student.
func shared(made press.Made) (once, each int) {
	for _, p := range made.Pages {
		if about, _ := sheet.KindNamed(p.Kind); about.Once {
			once++
		}
	}
	return once, len(made.Pages) - once
}

// count says how many pages a set of every kind would have.
func (a area) count(r *http.Request, v *room) error {
	v.Cannot = map[page.Kind]string{}
	spec := v.Spec
	if _, err := spec.Size(); err != nil {
		return nil // said already
	}
	set, err := a.load(r, v.Project, spec)
	if err != nil {
		return nil
	}
	for _, about := range sheet.Kinds {
		spec.Kinds = []page.Kind{about.Kind}
		made, err := set.Sample(spec)
		if v.Counts[about.Kind] = len(made.Pages); err == nil {
			continue
		}
		if v.Cannot[about.Kind] = ofSpec(err); v.Cannot[about.Kind] == "" {
			return err
		}
	}
	return nil
}

// made makes the sample of a spec, of a set that it returns too.
func (a area) made(r *http.Request, p store.Project, spec press.Spec) (set press.Set, made press.Made, err error) {
	if spec, err = spec.Check(); err != nil {
		return set, made, err
	}
	if set, err = a.load(r, p, spec); err != nil {
		return set, made, err
	}
	made, err = set.Sample(spec)
	return set, made, err
}

// ofSpec returns what is wrong with what a person chose, empty if it is not that.
func ofSpec(err error) string {
	switch {
	case errors.Is(err, press.ErrSpec), errors.Is(err, press.ErrPlan):
		return kit.Said(err)
	case errors.Is(err, page.ErrPaper), errors.Is(err, page.ErrCorrection), errors.Is(err, page.ErrEmpty), errors.Is(err, sighting.ErrAsk), errors.Is(err, press.ErrNoPicture):
		return kit.Sentence(err.Error())
	}
	return ""
}

// asked turns an error about a choice into one for the person who chose.
func asked(err error) error {
	if said := ofSpec(err); said != "" {
		return kit.Ask("%s", said)
	}
	return err
}

// drawn draws a page for the screen.
func (a area) drawn(p page.Page, made press.Made, project store.Project) (template.HTML, error) {
	return kit.InlineSVG(p, func(name string) string {
		for id, known := range made.Pictures {
			if known == name || sheet.GreyOf(known) == name {
				return kit.PicturePath(id, store.View)
			}
		}
		return ""
	})
}

// pdf answers with one set: a sample, to look at and to try.
func (a area) pdf(w http.ResponseWriter, r *http.Request, p store.Project, made press.Made) (err error) {
	pictures, err := press.Files(r.Context(), a.Store, p.TeacherID, made, store.Full)
	if err != nil {
		return err
	}
	if err := a.Store.Printed(r.Context(), p); err != nil {
		return err
	}
	return kit.SendPDF(w, p.Name, made.Pages, pictures)
}

// asked makes the sample that the address asks for.
func (a area) asked(r *http.Request) (store.Project, press.Made, error) {
	p, plan, err := a.Planned(r)
	if err != nil {
		return p, press.Made{}, err
	}
	spec := readSpec(r)
	if len(spec.Kinds) == 0 && !r.Form.Has("chosen") {
		paper := spec.Paper
		spec = usual(r, p.EffectiveRoad().Way, plan)
		spec.Kinds = []page.Kind{sheet.KindReference, sheet.KindMarks}
		if paper != "" {
			spec.Paper = paper
		}
	}
	_, made, err := a.made(r, p, spec)
	return p, made, asked(err)
}

// load fetches what a project's sets need, with the pictures that are at hand.
func (a area) load(r *http.Request, p store.Project, spec press.Spec) (press.Set, error) {
	set, err := press.Load(r.Context(), a.Store, p, spec)
	set.See(func(picture uint64) (*image.RGBA, error) { return a.Pixels(r.Context(), p.TeacherID, picture) })
	set.Read = func(plan grid.Plan, pic *store.Picture) ([]reading.Box, error) {
		if pic == nil || plan.Frame == nil {
			return nil, nil
		}
		read, err := a.Boxes(r.Context(), p, plan, pic)
		return read.Boxes, err
	}
	return set, err
}
