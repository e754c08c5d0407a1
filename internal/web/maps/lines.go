package maps

import (
	"errors"
	"html/template"
	"net/http"
	"net/url"
	"strconv"

	"zestysketch/internal/core/lines"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/sheet"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

// lineAsk is what the line sheet's form says, in the words it was said.
type lineAsk struct {
	Detail, Kind, Pen, Part string
	Grid, Over, Ends        string // on, or empty
}

// The kinds of pictures that lines are taken from; the program looks where
// nothing is said.
const (
	kindAuto    = "auto"
	kindDrawing = "drawing"
	kindPhoto   = "photo"
)

func readLines(r *http.Request) lineAsk {
	a := lineAsk{Detail: "2", Kind: kindAuto, Pen: "0.4", Part: "frame", Ends: "on"}
	q := r.URL.Query()
	for name, to := range map[string]*string{"detail": &a.Detail, "kind": &a.Kind, "pen": &a.Pen, "part": &a.Part} {
		if v := q.Get(name); v != "" {
			*to = v
		}
	}
	if q.Has("detail") { // the form was sent: a box not ticked says no
		a.Ends = q.Get("ends")
	}
	a.Grid, a.Over = q.Get("grid"), q.Get("over")
	return a
}

func (a lineAsk) query() template.URL {
	return kit.Query(url.Values{"detail": {a.Detail}, "kind": {a.Kind}, "pen": {a.Pen}, "part": {a.Part}, "grid": {a.Grid}, "over": {a.Over}, "ends": {a.Ends}})
}

// lineSheet is a project's line sheet.
type lineSheet struct {
	work
	ask    lineAsk
	sketch lines.Sketch
	page   page.Page
}

func (a area) lineSheet(r *http.Request, w work) (m lineSheet, err error) {
	m.ask, m.work = readLines(r), w
	if err := a.look(r, &m.work, m.ask.Part); err != nil {
		return m, err
	}
	detail, err := strconv.Atoi(m.ask.Detail)
	if err != nil {
		return m, kit.AskAt("detail", "Choose how much detail: 1, 2 or 3; got “%s”.", m.ask.Detail)
	}
	pen, err := strconv.ParseFloat(m.ask.Pen, 64)
	if err != nil || !(pen >= 0.1 && pen <= 5) {
		return m, kit.AskAt("pen", "Give the pen's width in millimetres, 0.1 to 5; got “%s”.", m.ask.Pen)
	}
	drawing := m.ask.Kind == kindDrawing
	switch {
	case m.ask.Kind == kindAuto:
		drawing = m.project.Picture.LineDrawing()
	case m.ask.Kind != kindDrawing && m.ask.Kind != kindPhoto:
		return m, kit.AskAt("kind", "Choose what the picture is: a line drawing, or a photograph or painting.")
	}
	if m.sketch, err = lines.Draw(m.image, lines.Wish{Detail: lines.Detail(detail), PerMM: m.perMM, Drawing: drawing, Keep: m.kept()}); err != nil {
		return m, kit.Ask("%s", kit.Said(err))
	}
	paint := m.plan.Line.Paint()
	style := sheet.LineStyle{Pen: pen, Ends: m.ask.Ends != "", Net: m.net(m.ask.Grid), Ink: page.Color{R: paint.R, G: paint.G, B: paint.B}}
	if m.ask.Over != "" {
		style.Over = m.beneath(0.35)
	}
	m.page = sheet.LineSheet(m.sketch, style)
	return m, nil
}

func linesPage(a area, r *http.Request, w work) (work, page.Page, error) {
	m, err := a.lineSheet(r, w)
	return m.work, m.page, err
}

// lineView is what the page shows.
type lineView struct {
	Project store.Project
	Rail    kit.Rail
	Tabs    kit.Tabs
	Ask     lineAsk
	Query   template.URL
	Trouble string
	drawnLines
	Size string
}

// drawnLines is what is reckoned once.
type drawnLines struct {
	Drawn   template.HTML
	Strokes int
	Ends    int
	Metres  float64
}

func (a area) showLines(w http.ResponseWriter, r *http.Request, opened work) (err error) {
	project, plan := opened.project, opened.plan
	ask := readLines(r)
	d, err := kit.Once(a.Kit, func() (drawnLines, error) { return a.drawLines(r, opened) }, opened.sum(), string(ask.query()))
	var t kit.Trouble
	if err != nil && !errors.As(err, &t) {
		return err
	}
	v := lineView{Project: project, Rail: kit.NewRail(project, kit.StepPicture), Tabs: tabs(project, "lines"), Ask: ask, Query: ask.query(), Trouble: t.Message,
		drawnLines: d, Size: plan.Text(plan.Sheet.Width) + " × " + plan.Text(plan.Sheet.Height)}
	return pages.WholeStatus(w, r, "lines.html", project.Name+" · lines", kit.StatusOf(v.Trouble), v)
}

// drawLines reckons and draws the sheet that a request asks for.
func (a area) drawLines(r *http.Request, w work) (d drawnLines, err error) {
	m, err := a.lineSheet(r, w)
	if err != nil {
		return d, err
	}
	d.Strokes, d.Ends = len(m.sketch.Strokes), len(m.sketch.Ends)
	for _, s := range m.sketch.Strokes {
		d.Metres += s.Length() / m.perMM / 1000
	}
	d.Drawn, err = kit.InlineSVG(m.page, kit.LinkTo(*m.project.PictureID, store.View))
	return d, err
}
