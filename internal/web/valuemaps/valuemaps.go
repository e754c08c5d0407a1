// Package valuemaps shows a project's picture as a few steps of tone, and
// hands the map out as SVG, PDF and PNG at the drawing's own size.
package valuemaps

import (
	"bytes"
	"embed"
	"image/png"
	"net/http"
	"net/url"
	"strconv"

	"github.com/go-chi/chi/v5"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/core/sheet"
	"zestysketch/internal/core/values"
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
	r.Get("/projects/{project}/values", k.Handle(a.show))
	r.Get("/projects/{project}/values/map.svg", k.Handle(a.svg))
	r.Get("/projects/{project}/values/map.pdf", k.Handle(a.pdf))
	r.Get("/projects/{project}/values/map.png", k.Handle(a.png))
}

// mapSide is the longer side, in pixels, on which a map is made.
const mapSide = 1200

// ask is what the page's form says, in the words it was said.
type ask struct {
	Steps, Rule, Least, Neck, Style, Grid string
}

// usual is what a class starts with: four steps that a child can fill.
var usual = ask{Steps: "4", Rule: string(values.Otsu), Least: "80", Neck: "3", Style: string(sheet.ValueOutlines), Grid: "on"}

func readAsk(r *http.Request) ask {
	a := usual
	q := r.URL.Query()
	for name, to := range map[string]*string{"steps": &a.Steps, "rule": &a.Rule, "least": &a.Least, "neck": &a.Neck, "style": &a.Style} {
		if v := q.Get(name); v != "" {
			*to = v
		}
	}
	if q.Has("steps") { // the form was sent: a box not ticked says no
		a.Grid = q.Get("grid")
	}
	return a
}

// query writes an ask as the address of its files has it.
func (a ask) query() string {
	return url.Values{"steps": {a.Steps}, "rule": {a.Rule}, "least": {a.Least}, "neck": {a.Neck}, "style": {a.Style}, "grid": {a.Grid}}.Encode()
}

// wish returns what the core makes of an ask, or what to mend.
func (a ask) wish() (w values.Wish, style sheet.ValueStyle, err error) {
	w.Rule, style = values.Rule(a.Rule), sheet.ValueStyle(a.Style)
	if w.Steps, err = strconv.Atoi(a.Steps); err != nil || w.Steps < values.FewestSteps || w.Steps > values.MostSteps {
		return w, style, kit.Ask("Choose %d to %d steps; got “%s”.", values.FewestSteps, values.MostSteps, a.Steps)
	}
	if w.LeastArea, err = strconv.ParseFloat(a.Least, 64); err != nil || !(w.LeastArea >= 0 && w.LeastArea <= 1e5) {
		return w, style, kit.Ask("Give the smallest area in square millimetres, such as 80; got “%s”.", a.Least)
	}
	if w.Neck, err = strconv.ParseFloat(a.Neck, 64); err != nil || !(w.Neck >= 0 && w.Neck <= 50) {
		return w, style, kit.Ask("Give the thinnest neck in millimetres, 0 to 50; got “%s”.", a.Neck)
	}
	if w.Rule != values.EvenLight && w.Rule != values.EvenArea && w.Rule != values.Otsu {
		return w, style, kit.Ask("Choose how the tones are parted.")
	}
	if style != sheet.ValueOutlines && style != sheet.ValueFilled && style != sheet.ValueInverted {
		return w, style, kit.Ask("Choose outlines, filled, or filled for black paper.")
	}
	return w, style, nil
}

// made is a project's value map.
type made struct {
	project store.Project
	plan    grid.Plan
	values  values.Map
	page    sheet.Page
	ask     ask
}

func (a area) make(r *http.Request) (m made, err error) {
	if m.project, m.plan, err = a.Planned(r); err != nil {
		return m, err
	}
	m.ask = readAsk(r)
	wish, style, err := m.ask.wish()
	if err != nil {
		return m, err
	}
	if m.project.PictureID == nil || m.plan.Frame == nil {
		return m, kit.Ask("Choose a picture for this project first: a value map is made of it.")
	}
	file, err := a.Store.PictureFile(r.Context(), m.project.TeacherID, *m.project.PictureID, store.View)
	if err != nil {
		return m, err
	}
	img, err := picture.Decode(file.Bytes)
	if err != nil {
		return m, err
	}
	// The frame alone, stretched to the sheet as the drawing will be.
	k := float64(img.Rect.Dx()) / float64(m.plan.Frame.Picture[0])
	var corners picture.Quad
	for i, c := range m.plan.Frame.Corners() {
		corners[i] = picture.Point{X: c.X * k, Y: c.Y * k}
	}
	wish.PerMM = mapSide / max(m.plan.Sheet.Width, m.plan.Sheet.Height)
	w, h := int(m.plan.Sheet.Width*wish.PerMM+0.5), int(m.plan.Sheet.Height*wish.PerMM+0.5)
	framed, err := picture.Framed(img, corners, m.plan.Frame.Mirror, max(1, w), max(1, h))
	if err != nil {
		return m, kit.Ask("%s", kit.Sentence(err.Error()))
	}
	if m.values, err = values.New(framed, wish); err != nil {
		return m, kit.Ask("%s", kit.Said(err))
	}
	var net *sheet.Net
	if m.ask.Grid != "" {
		n := sheet.SheetNet(m.plan)
		net = &n
	}
	m.page = sheet.ValueMap(m.values, style, net)
	return m, nil
}

// view is what the page shows.
type view struct {
	Project store.Project
	Rail    kit.Rail
	Ask     ask
	Query   string
	Trouble string // what to mend in the form
	Map     values.Map
	Size    string // of the drawing
}

func (a area) show(w http.ResponseWriter, r *http.Request) error {
	m, err := a.make(r)
	t, mendable := err.(kit.Trouble)
	if err != nil && (!mendable || m.ask == ask{} || m.plan.Frame == nil) {
		return err
	}
	v := view{Project: m.project, Rail: kit.Rail{Project: m.project, Here: kit.StepPicture, Planned: true}, Ask: m.ask, Query: m.ask.query(), Trouble: t.Message}
	status := http.StatusOK
	if mendable {
		status = http.StatusUnprocessableEntity
	} else {
		v.Map, v.Size = m.values, m.plan.Text(m.plan.Sheet.Width)+" × "+m.plan.Text(m.plan.Sheet.Height)
	}
	return pages.WholeStatus(w, r, "values.html", m.project.Name+" · values", status, v)
}

func (a area) svg(w http.ResponseWriter, r *http.Request) error {
	m, err := a.make(r)
	if err != nil {
		return err
	}
	var out bytes.Buffer
	if r.URL.Query().Has("save") { // for cutting and colouring: an area a path, without net and legend
		style := sheet.ValueStyle(m.ask.Style)
		if err := render.ValueSVG(&out, m.values, style == sheet.ValueOutlines, style == sheet.ValueInverted); err != nil {
			return err
		}
		return kit.SendFile(w, m.project.Name+" values", "image/svg+xml", "svg", out.Bytes())
	}
	if err := render.SVG(&out, m.page, nil); err != nil {
		return err
	}
	w.Header().Set("Content-Type", "image/svg+xml")
	_, err = w.Write(out.Bytes())
	return err
}

func (a area) pdf(w http.ResponseWriter, r *http.Request) error {
	m, err := a.make(r)
	if err != nil {
		return err
	}
	return kit.SendPDF(w, m.project.Name+" values", []sheet.Page{m.page}, nil)
}

// pngPerMM is how fine a map is handed out as PNG: 150 pixels an inch.
const pngPerMM = 150 / 25.4

func (a area) png(w http.ResponseWriter, r *http.Request) error {
	m, err := a.make(r)
	if err != nil {
		return err
	}
	var out bytes.Buffer
	if err := png.Encode(&out, render.Pixels(m.page, pngPerMM, nil)); err != nil {
		return err
	}
	return kit.SendFile(w, m.project.Name+" values", "image/png", "png", out.Bytes())
}
