// Package finish is the last step of a project: carrying the drawing over, ink,
// tone and colour, rearranged tiles, and the show.
package finish

import (
	"embed"
	"errors"
	"html/template"
	"image"
	"maps"
	"net/http"
	"net/url"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/sheet"
	"zestysketch/internal/press"
	"zestysketch/internal/render"
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
	r.Under("/projects/{project}/finish", func(r kit.Routes) {
		r.Get("/", store.ToLook, kit.NoAudit, a.showTransfer)
		r.Get("/transfer.pdf", store.ToLook, kit.NoAudit, kit.With(a.transferred, a.transferCard))
		r.Get("/ink", store.ToLook, kit.NoAudit, a.showInk)
		r.Get("/ink.pdf", store.ToLook, kit.NoAudit, kit.With(a.open, a.inkSheet))
		r.Get("/patterns.pdf", store.ToLook, kit.NoAudit, kit.With(a.opened, a.patternSheet))
		r.Get("/tone", store.ToLook, kit.NoAudit, a.showTone)
		r.Get("/tone.pdf", store.ToLook, kit.NoAudit, kit.With(a.open, a.toneSheet))
		r.Get("/colour", store.ToLook, kit.NoAudit, kit.With(a.opened, a.showColour))
		r.Get("/colour.pdf", store.ToLook, kit.NoAudit, kit.With(a.opened, a.colourSheet))
		r.Get("/tiles", store.ToLook, kit.NoAudit, a.showTiles)
		r.Take("/tiles", kit.Picture, store.ToOwn, kit.NoAudit, a.restore)
		r.Get("/tiles.pdf", store.ToLook, kit.NoAudit, kit.With(a.arranged, a.tileSet))
		r.Get("/tiles/key.pdf", store.ToLook, kit.NoAudit, kit.With(a.arranged, a.tileKey))
		r.Get("/show", store.ToLook, kit.NoAudit, kit.With(a.hanging, a.showShow))
		r.Get("/slides", store.ToLook, kit.NoAudit, kit.With(a.classHanging, a.slides))
		r.Get("/labels.pdf", store.ToLook, kit.NoAudit, kit.With(a.classHanging, a.labels))
		r.Get("/exhibition.pdf", store.ToLook, kit.NoAudit, kit.With(a.classHanging, a.exhibition))
		r.Get("/home.pdf", store.ToLook, kit.NoAudit, kit.With(a.classHanging, a.homes))
		r.Get("/certificates.pdf", store.ToLook, kit.NoAudit, kit.With(a.classHanging, a.certificates))
		r.Get("/poster.pdf", store.ToLook, kit.NoAudit, kit.With(a.classHanging, a.poster))
		r.Get("/students/{student}/home.pdf", store.ToLook, kit.NoAudit, kit.With(a.alone, a.home))
		r.Get("/portfolios.pdf", store.ToLook, kit.NoAudit, kit.With(a.classHanging, a.portfolios))
		r.Get("/students/{student}/portfolio.pdf", store.ToLook, kit.NoAudit, kit.With(a.alone, a.portfolio))
		r.Get("/students/{student}/side.pdf", store.ToLook, kit.NoAudit, kit.With(a.alone, a.sideBySide))
	})
}

// work is a project with what its finish is planned from.
type work struct {
	project store.Project
	set     press.Set
	plan    grid.Plan
	wish    sheet.Wish
	papers  []kit.Option // that pages may be printed on, with the one they are
	image   *image.RGBA  // the frame as the sheet will show it; nil without a picture
	perMM   float64
}

// open fetches a project, its plan and what prints it.
func (a area) open(r *http.Request) (w work, err error) {
	if w.project, w.plan, err = a.Planned(r); err != nil {
		return w, err
	}
	paper := kit.PaperOf(r, w.plan.Units)
	w.papers = kit.PaperOptions(paper)
	w.set, err = press.Load(r.Context(), a.Store, w.project, press.Spec{Paper: paper})
	if errors.Is(err, press.ErrSpec) || errors.Is(err, press.ErrPlan) {
		err = kit.Ask("%s", kit.Said(err))
	}
	if err != nil {
		return w, err
	}
	w.wish = sheet.Wish{Plan: w.plan, Printer: w.set.Printer, Landmarks: w.set.LandmarkNames()}
	return w, nil
}

// pictured is open where there is a picture, which is asked for where there is none.
func (a area) pictured(r *http.Request) (w work, err error) {
	if w, err = a.open(r); err == nil && (w.project.PictureID == nil || w.plan.Frame == nil) {
		_, _, err = a.Framed(r.Context(), w.project.TeacherID, nil, w.plan) // says what it wants
	}
	return w, err
}

// opened is open with the picture, which is asked for where there is none.
func (a area) opened(r *http.Request) (w work, err error) {
	if w, err = a.open(r); err != nil {
		return w, err
	}
	return w, a.look(r, &w)
}

// look fetches the picture of what was opened.
func (a area) look(r *http.Request, w *work) (err error) {
	w.image, w.perMM, err = a.Framed(r.Context(), w.project.TeacherID, w.project.PictureID, w.plan)
	return err
}

// head is what every page of the area shows.
type head struct {
	Project store.Project
	Rail    kit.Rail
	Tabs    kit.Tabs
	Papers  []kit.Option
	Query   template.URL // the page's settings, as every link to its files has them
	Trouble string       // what to mend in the form
}

// newHead returns the head of a page whose form says ask.
func (w work) newHead(here string, ask url.Values) head {
	p := w.project
	base := kit.ProjectPath(p) + "/finish"
	return head{Project: p, Rail: kit.NewRail(p, kit.StepFinish), Papers: w.papers, Query: kit.Query(w.printed(ask)),
		Tabs: kit.NewTabs("Finish", base+here, "Transfer", base, "Ink", base+"/ink", "Tone", base+"/tone", "Colour", base+"/colour", "Tiles", base+"/tiles", "Show", base+"/show")}
}

// printed adds to what a form says the paper that it is printed on.
func (w work) printed(ask url.Values) url.Values {
	for _, o := range w.papers {
		if o.Chosen {
			ask.Set("paper", o.Value)
		}
	}
	return ask
}

// inline writes a page to stand in an HTML page.
func (w work) inline(p page.Page) (template.HTML, error) {
	if w.project.PictureID == nil {
		return kit.InlineSVG(p, nil)
	}
	return kit.InlineSVG(p, kit.LinkTo(*w.project.PictureID, store.View))
}

// asked turns what keeps pages from being made into what to mend.
func asked(err error) error {
	if errors.Is(err, page.ErrPaper) || errors.Is(err, page.ErrEmpty) {
		return kit.Ask("%s", kit.Sentence(err.Error()))
	}
	return err
}

// send answers with pages as a PDF for the project's printer. Pictures beside
// the project's own are given by name.
func (a area) send(w http.ResponseWriter, r *http.Request, k work, what string, more render.Pictures, made ...page.Page) error {
	pictures := render.Pictures{}
	maps.Copy(pictures, more)
	if k.project.PictureID != nil {
		f, err := a.Store.PictureFile(r.Context(), k.project.TeacherID, *k.project.PictureID, store.Full)
		if err != nil {
			return err
		}
		pictures[sheet.FramePicture] = f.Bytes
	}
	return kit.SendPDF(w, k.project.Name+" "+what, k.wish.Printed(made), pictures)
}
