// Package maps shows a project's picture reduced: to a few steps of tone, or to
// lines that can be traced; and hands both out as SVG, PDF and PNG at the
// drawing's own size.
package maps

import (
	"bytes"
	"context"
	"embed"
	"fmt"
	"image"
	"image/png"
	"net/http"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/core/sheet"
	"zestysketch/internal/intake"
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
	r.Get("/projects/{project}/values", store.ToLook, kit.NoAudit, kit.With(a.open, a.showValues))
	r.Get("/projects/{project}/values/map.svg", store.ToLook, kit.NoAudit, kit.With(a.open, a.valuesSVG))
	r.Get("/projects/{project}/values/map.pdf", store.ToLook, kit.NoAudit, a.file(valuesPage, "values", pdf))
	r.Get("/projects/{project}/values/map.png", store.ToLook, kit.NoAudit, a.file(valuesPage, "values", pixels))
	r.Get("/projects/{project}/lines", store.ToLook, kit.NoAudit, kit.With(a.open, a.showLines))
	r.Get("/projects/{project}/lines/map.svg", store.ToLook, kit.NoAudit, a.file(linesPage, "lines", svg))
	r.Get("/projects/{project}/lines/map.pdf", store.ToLook, kit.NoAudit, a.file(linesPage, "lines", pdf))
	r.Get("/projects/{project}/lines/map.png", store.ToLook, kit.NoAudit, a.file(linesPage, "lines", pixels))
}

// tabs are the area's pages, and the way back to the picture.
func tabs(p store.Project, here string) kit.Tabs {
	base := kit.ProjectPath(p)
	return kit.NewTabs("The picture reduced", base+"/"+here, "← Picture", base+"?step=picture", "Value map", base+"/values", "Line sheet", base+"/lines")
}

// work is a project's picture, to be reduced.
type work struct {
	project store.Project
	plan    grid.Plan
	image   *image.RGBA
	perMM   float64
	marks   []store.Landmark
	whole   bool // all of the picture, not only the frame
}

// look fetches the picture of what was opened, inside the frame or whole.
func (a area) look(r *http.Request, w *work, part string) (err error) {
	take := a.Framed
	if w.whole = part == wholePicture; w.whole {
		take = a.Whole
	}
	w.image, w.perMM, err = take(r.Context(), w.project.TeacherID, w.project.PictureID, w.plan)
	return err
}

// wholePicture asks for all of the picture; anything else is inside the frame.
const wholePicture = "picture"

// open fetches a project with its plan, and asks for a picture where there is none.
func (a area) open(r *http.Request) (w work, err error) {
	w.project, w.plan, err = a.Planned(r)
	if err == nil && (w.project.PictureID == nil || w.plan.Frame == nil) {
		err = a.look(r, &w, wholePicture) // says what it wants
	}
	if err == nil {
		w.marks, err = a.Store.Landmarks(r.Context(), w.project.ID, w.project.PictureID)
	}
	return w, err
}

// kept returns where the landmarks lie on the picture that is shown: their lines are kept.
func (w work) kept() (at []plane.Point) {
	if !w.whole {
		return press.LandmarksIn(w.plan, press.PinsOn(w.plan, w.marks), w.perMM)
	}
	k := float64(w.image.Rect.Dx()) / float64(w.plan.Frame.Picture[0])
	for _, m := range w.marks {
		at = append(at, plane.Pt(m.X, m.Y).Mul(k))
	}
	return at
}

// sum names all that a map is made of beside what is asked for.
func (w work) sum() string {
	sum := kit.SumOf(w.project, w.plan)
	for _, m := range w.marks {
		sum += fmt.Sprintf(" %s %.0f %.0f", m.Name, m.X, m.Y)
	}
	return sum
}

// net returns the drawing's grid, where it is wanted and lies over the picture.
func (w work) net(wanted string) *sheet.Net {
	if wanted == "" || w.whole {
		return nil
	}
	n := sheet.SheetNet(w.plan)
	return &n
}

// beneath returns the picture as it lies under a map of it.
func (w work) beneath(fade float64) *page.Picture {
	box := plane.Rect{Max: plane.Pt(float64(w.image.Rect.Dx())/w.perMM, float64(w.image.Rect.Dy())/w.perMM)}
	pic := page.Picture{Box: box, Name: sheet.FramePicture, Fade: fade}
	if !w.whole {
		pic.Part = w.plan.Frame
	}
	return &pic
}

// maker makes a map's page as a request asks for it.
type maker func(a area, r *http.Request, w work) (work, page.Page, error)

// writer writes a page in one form, with the picture that may be on it.
type writer struct {
	kind, ending string
	write        func(ctx context.Context, out *bytes.Buffer, p page.Page, pictures render.Pictures) error
}

// pngPerMM is how fine a map is handed out as PNG: 150 pixels an inch.
const pngPerMM = 150 / 25.4

var (
	svg = writer{"image/svg+xml", "svg", func(_ context.Context, out *bytes.Buffer, p page.Page, pictures render.Pictures) error {
		return render.SVG(out, p, pictures.Inline)
	}}
	pdf = writer{"application/pdf", "pdf", func(_ context.Context, out *bytes.Buffer, p page.Page, pictures render.Pictures) error {
		return render.PDF(out, p.Title, []page.Page{p}, pictures)
	}}
	pixels = writer{"image/png", "png", func(ctx context.Context, out *bytes.Buffer, p page.Page, pictures render.Pictures) error {
		return intake.Use(ctx, pictures[sheet.FramePicture], func(img *image.RGBA) error {
			return png.Encode(out, render.Pixels(p, pngPerMM, map[string]image.Image{sheet.FramePicture: img}))
		})
	}}
)

// file answers with a map as a file.
func (a area) file(make maker, what string, as writer) kit.Handler {
	return func(w http.ResponseWriter, r *http.Request) error {
		opened, err := a.open(r)
		if err != nil {
			return err
		}
		m, pg, err := make(a, r, opened)
		if err != nil {
			return err
		}
		file, err := a.Store.PictureFile(r.Context(), m.project.TeacherID, *m.project.PictureID, store.View)
		if err != nil {
			return err
		}
		var out bytes.Buffer
		if err := as.write(r.Context(), &out, pg, render.Pictures{sheet.FramePicture: file.Bytes}); err != nil {
			return err
		}
		return kit.SendFile(w, m.project.Name+" "+what, as.kind, as.ending, out.Bytes())
	}
}
