package maps

import (
	"bytes"
	"errors"
	"fmt"
	"html/template"
	"net/http"
	"net/url"
	"slices"
	"strconv"

	"zestysketch/internal/core/page"
	"zestysketch/internal/core/sheet"
	"zestysketch/internal/core/values"
	"zestysketch/internal/render"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

// valueAsk is what the value map's form says, in the words it was said.
type valueAsk struct {
	Steps, Rule, Least, Neck, Style, Part string
	Cuts                                  []string
	Grid, Over                            string // on, or empty
}

// usualValues is what a class starts with: four steps that a child can fill.
var usualValues = valueAsk{Steps: fmt.Sprint(values.Usual.Steps), Rule: string(values.Usual.Rule), Least: fmt.Sprint(values.Usual.LeastArea), Neck: fmt.Sprint(values.Usual.Neck), Style: string(sheet.ValueOutlines), Part: "frame", Grid: "on"}

func readValues(r *http.Request) valueAsk {
	a := usualValues
	q := r.URL.Query()
	for name, to := range map[string]*string{"steps": &a.Steps, "rule": &a.Rule, "least": &a.Least, "neck": &a.Neck, "style": &a.Style, "part": &a.Part} {
		if v := q.Get(name); v != "" {
			*to = v
		}
	}
	if q.Has("steps") { // the form was sent: a box not ticked says no
		a.Grid = q.Get("grid")
	}
	a.Over, a.Cuts = q.Get("over"), q["cut"]
	return a
}

// query writes an ask as the address of its files has it.
func (a valueAsk) query() template.URL {
	return kit.Query(url.Values{"steps": {a.Steps}, "rule": {a.Rule}, "least": {a.Least}, "neck": {a.Neck}, "style": {a.Style}, "part": {a.Part}, "cut": a.Cuts, "grid": {a.Grid}, "over": {a.Over}})
}

// wish returns what the core makes of an ask, or what to mend.
func (a valueAsk) wish() (w values.Wish, look sheet.ValueLook, err error) {
	w.Rule, look.Style = values.Rule(a.Rule), sheet.ValueStyle(a.Style)
	if w.Steps, err = strconv.Atoi(a.Steps); err != nil || w.Steps < values.FewestSteps || w.Steps > values.MostSteps {
		return w, look, kit.AskAt("steps", "Choose %d to %d steps; got “%s”.", values.FewestSteps, values.MostSteps, a.Steps)
	}
	if w.LeastArea, err = strconv.ParseFloat(a.Least, 64); err != nil || !(w.LeastArea >= 0 && w.LeastArea <= 1e5) {
		return w, look, kit.AskAt("least", "Give the smallest area in square millimetres, such as 80; got “%s”.", a.Least)
	}
	if w.Neck, err = strconv.ParseFloat(a.Neck, 64); err != nil || !(w.Neck >= 0 && w.Neck <= 50) {
		return w, look, kit.AskAt("neck", "Say how narrow a place parts two areas, 0 to 50 mm; got “%s”.", a.Neck)
	}
	if !slices.Contains([]values.Rule{values.EvenLight, values.EvenArea, values.Otsu, values.ByHand}, w.Rule) {
		return w, look, kit.Ask("Choose how the tones are parted.")
	}
	if !slices.Contains([]sheet.ValueStyle{sheet.ValueOutlines, sheet.ValueFilled, sheet.ValueInverted, sheet.ValueFigure}, look.Style) {
		return w, look, kit.Ask("Choose outlines, filled, filled for black paper, or the main outlines alone.")
	}
	if w.Rule == values.ByHand {
		w.Cuts, err = a.cuts(w.Steps)
	}
	return w, look, err
}

// cuts returns the cuts made by hand, rising; none where their number is not
// that of the steps, for a start to be made.
func (a valueAsk) cuts(steps int) (cuts []float64, err error) {
	if len(a.Cuts) != steps-1 {
		return nil, nil
	}
	for _, text := range a.Cuts {
		v, err := strconv.ParseFloat(text, 64)
		if err != nil || !(v > 0 && v < 100) {
			return nil, kit.AskAt("cut", "Give each cut between 0 (black) and 100 (white); got “%s”.", text)
		}
		cuts = append(cuts, v)
	}
	slices.Sort(cuts)
	return cuts, nil
}

// valueMap is a project's value map.
type valueMap struct {
	work
	ask    valueAsk
	values values.Map
	recipe []string
	page   page.Page
}

func (a area) valueMap(r *http.Request, w work) (m valueMap, err error) {
	m.ask, m.work = readValues(r), w
	if err := a.look(r, &m.work, m.ask.Part); err != nil {
		return m, err
	}
	wish, look, err := m.ask.wish()
	if err != nil {
		return m, err
	}
	wish.PerMM, wish.Keep = m.perMM, m.kept()
	if look.Style == sheet.ValueFigure {
		wish = wish.Figure(float64(m.image.Rect.Dx()*m.image.Rect.Dy()) / (m.perMM * m.perMM))
	}
	if wish.Rule == values.ByHand && wish.Cuts == nil { // a start to be moved from
		wish.Rule = values.Otsu
	}
	if m.values, err = values.New(m.image, wish); err != nil {
		return m, kit.Ask("%s", kit.Said(err))
	}
	if look.Style == sheet.ValueFigure {
		var names []string
		for _, l := range m.marks {
			names = append(names, l.Name)
		}
		m.recipe = values.Recipe(names)
		look.Notes = m.recipe
	}
	look.Net = m.net(m.ask.Grid)
	if m.ask.Over != "" {
		look.Over = m.beneath(0.35)
	}
	m.page = sheet.ValueMap(m.values, look)
	return m, nil
}

func valuesPage(a area, r *http.Request, w work) (work, page.Page, error) {
	m, err := a.valueMap(r, w)
	return m.work, m.page, err
}

// valueView is what the page shows.
type valueView struct {
	Project store.Project
	Rail    kit.Rail
	Tabs    kit.Tabs
	Ask     valueAsk
	Query   template.URL
	Trouble string // what to mend in the form
	drawnValues
	Size    string        // of the drawing
	Drawing bool          // the picture is lines on paper
	Closed  template.HTML // what a closed shape is
}

// drawnValues is what is reckoned once.
type drawnValues struct {
	Map       values.Map
	Drawn     template.HTML
	Histogram template.HTML
	Cuts      []float64 // where the hand's sliders stand
	Recipe    []string  // of a simplified figure, by the landmarks
}

func (a area) showValues(w http.ResponseWriter, r *http.Request, opened work) (err error) {
	project, plan := opened.project, opened.plan
	ask := readValues(r)
	d, err := kit.Once(a.Kit, func() (drawnValues, error) { return a.drawValues(r, opened) }, opened.sum(), string(ask.query()))
	var t kit.Trouble
	if err != nil && !errors.As(err, &t) {
		return err
	}
	v := valueView{Project: project, Rail: kit.NewRail(project, kit.StepPicture),
		Tabs: tabs(project, "values"), Ask: ask, Query: ask.query(), Trouble: t.Message, drawnValues: d}
	if v.Closed, err = kit.InlineSVG(sheet.ClosedShapes(), nil); err != nil {
		return err
	}
	v.Drawing, v.Size = project.Picture.LineDrawing(), plan.Text(plan.Sheet.Width)+" × "+plan.Text(plan.Sheet.Height)
	return pages.WholeStatus(w, r, "values.html", project.Name+" · values", kit.StatusOf(v.Trouble), v)
}

// drawValues reckons and draws the map that a request asks for.
func (a area) drawValues(r *http.Request, w work) (d drawnValues, err error) {
	m, err := a.valueMap(r, w)
	if err != nil {
		return d, err
	}
	d.Map, d.Recipe = m.values, m.recipe
	if d.Drawn, err = kit.InlineSVG(m.page, kit.LinkTo(*m.project.PictureID, store.View)); err != nil {
		return d, err
	}
	bars := values.Histogram(m.image)
	if m.ask.Rule == string(values.ByHand) {
		for _, c := range m.values.Cuts {
			d.Cuts = append(d.Cuts, max(1, min(99, float64(int(c+0.5)))))
		}
	}
	d.Histogram, err = kit.InlineSVG(sheet.Histogram(bars[:], m.values.Cuts), kit.LinkTo(*m.project.PictureID, store.View))
	return d, err
}

// valuesSVG hands the map out for cutting and colouring: an area a path, in
// groups by step, without net and legend.
func (a area) valuesSVG(w http.ResponseWriter, r *http.Request, opened work) (err error) {
	m, err := a.valueMap(r, opened)
	if err != nil {
		return err
	}
	var out bytes.Buffer
	style := sheet.ValueStyle(m.ask.Style)
	if err := render.ValueSVG(&out, m.values, style == sheet.ValueOutlines || style == sheet.ValueFigure, style == sheet.ValueInverted); err != nil {
		return err
	}
	return kit.SendFile(w, m.project.Name+" values", "image/svg+xml", "svg", out.Bytes())
}
