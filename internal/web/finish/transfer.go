package finish

import (
	"errors"
	"html/template"
	"math"
	"net/http"
	"net/url"
	"slices"
	"strconv"

	core "zestysketch/internal/core/finish"
	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/sheet"
	"zestysketch/internal/core/transfer"
	"zestysketch/internal/press"
	"zestysketch/internal/web/kit"
)

// transferAsk is what the transfer's form says, in the words it was said.
type transferAsk struct {
	Drawing, Final, Tint, Medium, Hour, Hands, Times string
	Sheet, Left, Top, Strip                          string // of the final paper; empty for the plan's, the middle, none
	Have                                             []string
	Backing                                          string // a key of transfer.Backings, empty for what suits
	Whole, Mirror, Printed                           string // on, or empty
}

// askOf writes a wish as its form says it.
func askOf(w transfer.Wish) transferAsk {
	number := func(v float64) string { return strconv.FormatFloat(v, 'f', -1, 64) }
	a := transferAsk{Drawing: number(w.Drawing.GSM), Final: number(w.Final.GSM), Tint: transfer.Tints[0].Name, Medium: string(w.Medium),
		Hour: number(w.Hour), Hands: string(w.Hands), Times: number(w.Times)}
	for _, t := range w.Have {
		a.Have = append(a.Have, string(t))
	}
	return a
}

func readTransfer(r *http.Request) transferAsk {
	a, q := askOf(transfer.Usual), r.URL.Query()
	for name, to := range map[string]*string{"drawing": &a.Drawing, "final": &a.Final, "tint": &a.Tint, "medium": &a.Medium, "hour": &a.Hour, "hands": &a.Hands, "times": &a.Times} {
		if v := q.Get(name); v != "" {
			*to = v
		}
	}
	if q.Has("final") { // the form was sent: what is not ticked is not there
		a.Have = q["have"]
	}
	a.Sheet, a.Left, a.Top, a.Strip = q.Get("sheet"), q.Get("left"), q.Get("top"), q.Get("strip")
	a.Mirror, a.Printed, a.Backing, a.Whole = q.Get("mirror"), q.Get("printed"), q.Get("backing"), q.Get("whole")
	return a
}

func (a transferAsk) query() url.Values {
	return url.Values{"drawing": {a.Drawing}, "final": {a.Final}, "tint": {a.Tint}, "medium": {a.Medium},
		"sheet": {a.Sheet}, "left": {a.Left}, "top": {a.Top}, "strip": {a.Strip}, "hour": {a.Hour}, "hands": {a.Hands}, "times": {a.Times}, "have": a.Have, "mirror": {a.Mirror},
		"printed": {a.Printed}, "backing": {a.Backing}, "whole": {a.Whole}}
}

// final returns where the drawing goes on the final sheet, or what to mend.
func (a transferAsk) final(p grid.Plan, times float64) (f transfer.Final, err error) {
	f = transfer.NewFinal(p, times)
	if a.Sheet != "" {
		if f.Paper, err = measure.ParseSize(a.Sheet, p.Units); err != nil {
			return f, kit.AskAt("sheet", "%s", kit.Said(err))
		}
	}
	for _, at := range []struct {
		field, text string
		to          *measure.Length
	}{{"strip", a.Strip, &f.Strip}, {"left", a.Left, &f.Left}, {"top", a.Top, &f.Top}} {
		if at.field == "left" && (a.Sheet != "" || a.Strip != "") {
			f.Centre()
		}
		if at.text == "" {
			continue
		}
		if *at.to, err = measure.Parse(at.text, p.Units); err != nil {
			return f, kit.AskAt(at.field, "%s", kit.Said(err))
		}
	}
	if err := f.Check(); err != nil {
		return f, kit.Ask("%s", kit.Said(err))
	}
	return f, nil
}

// wish returns what the core makes of an ask, or what to mend.
func (a transferAsk) wish() (w transfer.Wish, err error) {
	number := func(field, text, what string) float64 {
		v, parseErr := strconv.ParseFloat(text, 64)
		if err == nil && (parseErr != nil || math.IsNaN(v) || math.IsInf(v, 0)) {
			err = kit.AskAt(field, "Give %s as a number; got “%s”.", what, text)
		}
		return v
	}
	w = transfer.Wish{Drawing: transfer.Paper{GSM: number("drawing", a.Drawing,
		"the weight of the drawing's sheet in g/m²"), Light: transfer.Tints[0].Light},
		Final:  transfer.Paper{GSM: number("final", a.Final, "the weight of the final paper in g/m²")},
		Medium: transfer.Medium(a.Medium), Hour: number("hour", a.Hour, "the hour of the day"),
		Hands: transfer.Hands(a.Hands), Times: number("times", a.Times, "how many times as large"),
		MirrorFine: a.Mirror != "", Printed: a.Printed != "", Backing: a.Backing, WholeBack: a.Whole != ""}
	if err != nil {
		return w, err
	}
	i := slices.IndexFunc(transfer.Tints, func(t transfer.Tint) bool { return t.Name == a.Tint })
	if i < 0 {
		return w, kit.AskAt("tint", "Choose the colour of the final paper.")
	}
	w.Final.Light = transfer.Tints[i].Light
	for _, t := range a.Have {
		w.Have = append(w.Have, transfer.Tool(t))
	}
	return w, nil
}

// wayView is one way, with the papers of its steps drawn.
type wayView struct {
	transfer.Way
	Number   int
	Turns    string
	Drawn    []stepView
	Cautions []string
	PDF      string
}

type stepView struct {
	Do    string
	Stack template.HTML
}

// transferView is what the page shows.
type transferView struct {
	head
	Ask            transferAsk
	Plan           transfer.Plan
	Tools          []tick
	Tints          []kit.Option
	Media          []kit.Option
	Backs          []kit.Option
	Ways           []wayView
	Place          []string
	Grip           [2]float64 // the drawing's corner on it, mm
	Most           [2]float64 // as far as it can go
	Paper, Drawing measure.Size
	Strip          measure.Length // where the strip begins, 0 for none
	Unit           measure.Unit
	Lines          []string
	Marks          bool // landmarks lead the list
}

// tick is one box of a list to tick.
type tick struct {
	Name string
	On   bool
}

// transferred is a project's transfer plan.
type transferred struct {
	work
	ask   transferAsk
	plan  transfer.Plan
	final transfer.Final
}

func (a area) transferred(r *http.Request) (t transferred, err error) {
	if t.work, err = a.open(r); err != nil {
		return t, err
	}
	t.ask = readTransfer(r)
	wish, err := t.ask.wish()
	if err != nil {
		return t, err
	}
	if t.plan, err = transfer.New(wish); err != nil {
		return t, kit.Ask("%s", kit.Said(err))
	}
	t.final, err = t.ask.final(t.work.plan, wish.Times)
	return t, err
}

// list returns what must be there when the tape comes off: of a picture all of it, else the landmarks, the weightiest
// first.
func (a area) list(r *http.Request, t transferred) ([]string, error) {
	if t.project.PictureID == nil || t.work.plan.Frame == nil {
		return t.set.LandmarkNames(), nil
	}
	pins := press.PinsOn(t.work.plan, t.set.Landmarks)
	return kit.Once(a.Kit, func() ([]string, error) {
		img, perMM, err := a.Framed(r.Context(), t.project.TeacherID, t.project.PictureID, t.work.plan)
		if err != nil {
			return nil, err
		}
		return core.Carried{Plan: t.work.plan, Image: img, PerMM: perMM, Drawing: t.project.Picture.LineDrawing(), Pins: pins}.List()
	}, "carried", kit.SumOf(t.project, t.work.plan), pins)
}

func (a area) showTransfer(w http.ResponseWriter, r *http.Request) error {
	t, err := a.transferred(r)
	var trouble kit.Trouble
	if err != nil && (!errors.As(err, &trouble) || t.set.Class.Grid.Columns == 0) {
		return err
	}
	v := transferView{head: t.newHead("", t.ask.query()), Ask: t.ask, Plan: t.plan}
	v.Trouble = trouble.Message
	for _, tool := range transfer.Tools {
		v.Tools = append(v.Tools, tick{string(tool), slices.Contains(t.ask.Have, string(tool))})
	}
	var tints, media []string
	for _, tint := range transfer.Tints {
		tints = append(tints, tint.Name, tint.Name)
	}
	for _, m := range transfer.Media {
		media = append(media, string(m), string(m))
	}
	backs := []string{"", "what suits"}
	for _, b := range transfer.Backings {
		backs = append(backs, b.Key, b.Name)
	}
	v.Tints, v.Media, v.Backs = kit.Pick(t.ask.Tint, tints...), kit.Pick(t.ask.Medium, media...), kit.Pick(t.ask.Backing, backs...)
	if v.Trouble == "" {
		if err := a.fill(r, &v, t); err != nil {
			return err
		}
	}
	return pages.WholeStatus(w, r, "transfer.html", t.project.Name+" · transfer", kit.StatusOf(v.Trouble), v)
}

func (a area) fill(r *http.Request, v *transferView, t transferred) (err error) {
	for i, way := range t.plan.Ways {
		q := t.printed(t.ask.query())
		q.Set("way", strconv.Itoa(i+1))
		k := wayView{Way: way, Number: i + 1, Turns: sheet.Turns(way), Cautions: way.Cautions(t.plan.Backing), PDF: kit.ProjectPath(t.project) + "/finish/transfer.pdf?" + q.Encode()}
		for _, s := range way.Steps {
			drawn, err := t.inline(sheet.Stack(s))
			if err != nil {
				return err
			}
			k.Drawn = append(k.Drawn, stepView{s.Do, drawn})
		}
		v.Ways = append(v.Ways, k)
	}
	v.Place, v.Marks, v.Grip = t.final.Say(), len(t.set.Landmarks) > 0, [2]float64{float64(t.final.Left), float64(t.final.Top)}
	f := t.final
	v.Paper, v.Unit, v.Most = f.Paper, f.Units, [2]float64{float64(f.Paper.W - f.Drawing.W), float64(f.Paper.H - f.Strip - f.Drawing.H)}
	if v.Drawing = f.Drawing; f.Strip > 0 {
		v.Strip = f.Paper.H - f.Strip
	}
	v.Lines, err = a.list(r, t)
	return err
}

// transferCard answers with the card of one way.
func (a area) transferCard(w http.ResponseWriter, r *http.Request, t transferred) (err error) {
	n := 1
	if text := r.URL.Query().Get("way"); text != "" {
		if n, err = strconv.Atoi(text); err != nil || n < 1 || n > len(t.plan.Ways) {
			return kit.Ask("Choose a way from 1 to %d.", len(t.plan.Ways))
		}
	}
	list, err := a.list(r, t)
	if err != nil {
		return err
	}
	made, err := sheet.TransferCard(t.wish, t.plan, t.final, t.plan.Ways[n-1], list)
	if err != nil {
		return asked(err)
	}
	return a.send(w, r, t.work, "transfer", nil, made...)
}
