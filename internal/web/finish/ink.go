package finish

import (
	"cmp"
	"errors"
	"html/template"
	"net/http"
	"net/url"
	"slices"
	"strconv"

	core "zestysketch/internal/core/finish"
	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/lesson"
	"zestysketch/internal/core/sheet"
	"zestysketch/internal/core/values"
	"zestysketch/internal/web/kit"
)

// handAsk is what the forms of ink and tone say, in the words it was said.
type handAsk struct {
	Dark, Steps, Hand, Order string
}

func readHand(r *http.Request, w work) handAsk {
	a := handAsk{Dark: "40", Steps: "4", Hand: string(cmp.Or(w.plan.Hand, grid.RightHand)), Order: w.project.EffectiveRoad().Darks}
	q := r.URL.Query()
	for name, to := range map[string]*string{"dark": &a.Dark, "steps": &a.Steps, "hand": &a.Hand, "order": &a.Order} {
		if v := q.Get(name); v != "" {
			*to = v
		}
	}
	return a
}

func (a handAsk) query() url.Values {
	return url.Values{"dark": {a.Dark}, "steps": {a.Steps}, "hand": {a.Hand}, "order": {a.Order}}
}

// hand returns which hand it is, or asks.
func (a handAsk) hand() (grid.Hand, error) {
	h := grid.Hand(a.Hand)
	if h != grid.LeftHand && h != grid.RightHand {
		return "", kit.Ask("Choose the right hand or the left.")
	}
	return h, nil
}

// inkPlan is a project's ink plan.
type inkPlan struct {
	work
	ask handAsk
	ink core.Ink
}

func (a area) inkPlan(r *http.Request, k work) (p inkPlan, err error) {
	if err := a.look(r, &k); err != nil {
		return p, err
	}
	p.work = k
	p.ask = readHand(r, p.work)
	hand, err := p.ask.hand()
	if err != nil {
		return p, err
	}
	dark, err := strconv.ParseFloat(p.ask.Dark, 64)
	if err != nil {
		return p, kit.AskAt("dark", "Give where solid dark begins as lightness, 1 to 99; got “%s”.", p.ask.Dark)
	}
	if p.ink, err = core.NewInk(p.image, core.InkWish{Plan: p.plan, PerMM: p.perMM, Dark: dark, Hand: hand}); err != nil {
		return p, kit.Ask("%s", kit.Said(err))
	}
	return p, nil
}

// planView is what the pages of ink and tone show.
type planView struct {
	head
	drawnPlan
	Ask      handAsk
	Cautions []string
	Ready    readiness
}

// drawnPlan is what is reckoned once.
type drawnPlan struct {
	Drawn  template.HTML
	About  string
	Lists  []sheet.Entry
	Filled template.HTML // the picture's areas in patterns, of ink alone
	Nearly bool          // all paper: there is no tone to plan
}

// readiness is who may ink.
type readiness struct {
	On      bool // the road has the stage
	Open    int
	All     int
	Waiting []string
}

func (a area) readiness(r *http.Request, w work) (v readiness, err error) {
	road := w.project.EffectiveRoad()
	on := road.On()
	at := slices.IndexFunc(on, func(s lesson.Stage) bool { return s.Kind == lesson.Ink })
	if v.On = at >= 0; !v.On || w.project.Class == nil {
		return v, nil
	}
	state, err := a.Store.RoadState(r.Context(), w.project.ID, 0)
	if err != nil {
		return v, err
	}
	for _, s := range w.project.Class.Students {
		v.All++
		if road.Open(on[at].ID, state.Done[s.ID], state.VerdictsOf(s.ID)) {
			v.Open++
		} else {
			v.Waiting = append(v.Waiting, s.Name)
		}
	}
	return v, nil
}

func (a area) showInk(w http.ResponseWriter, r *http.Request) error {
	k, v, err := a.planned(r, "/ink", func(k work) (d drawnPlan, err error) {
		p, err := a.inkPlan(r, k)
		if err != nil {
			return d, err
		}
		d.About, d.Lists = sheet.InkAbout(p.ink), sheet.InkLists(p.ink)
		if d.Drawn, err = p.inline(sheet.InkMap(p.ink, p.plan)); err != nil {
			return d, err
		}
		patterns, err := core.NewPatterns(p.image, p.perMM, p.plan, p.project.Picture.LineDrawing())
		if err != nil {
			return d, kit.Ask("%s", kit.Said(err))
		}
		d.Filled, err = p.inline(sheet.PatternMap(patterns))
		return d, err
	})
	if err != nil {
		return err
	}
	v.Cautions = lesson.Cautions(lesson.Markers)
	if v.Ready, err = a.readiness(r, k); err != nil {
		return err
	}
	return pages.WholeStatus(w, r, "ink.html", k.project.Name+" · ink", kit.StatusOf(v.Trouble), v)
}

// planned returns the page of a plan of ink or tone, which is drawn once.
func (a area) planned(r *http.Request, here string, draw func(work) (drawnPlan, error)) (k work, v planView, err error) {
	if k, err = a.pictured(r); err != nil {
		return k, v, err
	}
	v.Ask = readHand(r, k)
	v.head = k.newHead(here, v.Ask.query())
	v.drawnPlan, err = kit.Once(a.Kit, func() (drawnPlan, error) { return draw(k) }, here, kit.SumOf(k.project, k.plan), v.Ask.query().Encode())
	var t kit.Trouble
	if errors.As(err, &t) {
		v.Trouble, err = t.Message, nil
	}
	return k, v, err
}

func (a area) inkSheet(w http.ResponseWriter, r *http.Request, k work) (err error) {
	p, err := a.inkPlan(r, k)
	if err != nil {
		return err
	}
	made, err := sheet.InkSheet(p.wish, p.ink)
	if err != nil {
		return asked(err)
	}
	return a.send(w, r, p.work, "ink", nil, made...)
}

// patternSheet answers with the picture's areas in patterns, to print.
func (a area) patternSheet(w http.ResponseWriter, r *http.Request, k work) (err error) {
	patterns, err := core.NewPatterns(k.image, k.perMM, k.plan, k.project.Picture.LineDrawing())
	if err != nil {
		return kit.Ask("%s", kit.Said(err))
	}
	made, err := sheet.PatternSheet(k.wish, patterns)
	if err != nil {
		return asked(err)
	}
	return a.send(w, r, k, "patterns", nil, made...)
}

// tonePlan is a project's tone plan.
type tonePlan struct {
	work
	ask  handAsk
	tone core.Tone
}

func (a area) tonePlan(r *http.Request, k work) (p tonePlan, err error) {
	if err := a.look(r, &k); err != nil {
		return p, err
	}
	p.work = k
	p.ask = readHand(r, p.work)
	hand, err := p.ask.hand()
	if err != nil {
		return p, err
	}
	if p.ask.Order != "first" && p.ask.Order != "last" {
		return p, kit.Ask("Choose whether the darkest comes first or last.")
	}
	steps, err := strconv.Atoi(p.ask.Steps)
	if err != nil {
		return p, kit.AskAt("steps", "Choose %d to %d steps; got “%s”.", values.FewestSteps, values.MostSteps, p.ask.Steps)
	}
	m, err := core.ToneSteps(p.image, p.perMM, steps)
	if err != nil {
		return p, kit.Ask("%s", kit.Said(err))
	}
	p.tone = core.NewTone(p.image, m, core.ToneWish{Plan: p.plan, DarksLast: p.ask.Order == "last", Hand: hand, Drawing: p.project.Picture.LineDrawing()})
	return p, nil
}

func (a area) showTone(w http.ResponseWriter, r *http.Request) error {
	k, v, err := a.planned(r, "/tone", func(k work) (d drawnPlan, err error) {
		p, err := a.tonePlan(r, k)
		if err != nil {
			return d, err
		}
		d.Lists, d.Nearly = sheet.ToneLists(p.tone), !p.tone.LineDrawing && p.tone.NearlyPaper()
		d.Drawn, err = p.inline(sheet.ToneMap(p.tone, p.plan))
		return d, err
	})
	if err != nil {
		return err
	}
	v.Cautions = lesson.Cautions(lesson.Dust, lesson.Fixative)
	return pages.WholeStatus(w, r, "tone.html", k.project.Name+" · tone", kit.StatusOf(v.Trouble), v)
}

func (a area) toneSheet(w http.ResponseWriter, r *http.Request, k work) (err error) {
	p, err := a.tonePlan(r, k)
	if err != nil {
		return err
	}
	made, err := sheet.ToneSheet(p.wish, p.tone)
	if err != nil {
		return asked(err)
	}
	return a.send(w, r, p.work, "tone", nil, made...)
}
