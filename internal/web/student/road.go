package student

import (
	"errors"
	"fmt"
	"html/template"
	"net/http"
	"regexp"
	"slices"
	"strings"

	"github.com/go-chi/chi/v5"

	"zestysketch/internal/core/finish"
	"zestysketch/internal/core/lesson"
	"zestysketch/internal/core/reading"
	"zestysketch/internal/core/sheet"
	"zestysketch/internal/core/transfer"
	"zestysketch/internal/press"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

// card is what a student's page shows of the stage that they are at.
type card struct {
	ID      lesson.StageID
	Name    string
	Steps   []ownStep
	Drawing template.HTML // a plan for their own picture, or the paper with its marks
	Lists   []sheet.Entry
	Tools   []tool // what they have at home, where a way of transfer is chosen by it
	Asked   bool   // they have said so
	Way     string
	Asks    []question
	Goals   []goal
	Extra   []string // for who is early
	View    string   // where they photograph what they see; empty where they draw from a picture
	Ready   string   // what they press at its end; empty while it is too soon
	Waiting bool
}

// ownStep is a step to tick; What is its name when it is kept.
type ownStep struct {
	What, Words string
	Done        bool
}

type tool struct {
	Name string
	On   bool
}

type question struct {
	What, Words, Said string
	Choices           []lesson.Consent // where one of them is said
}

type goal struct {
	lesson.Objective
	On bool
}

// The two questions at the end (common practice).
var lastQuestions = []question{{What: "differs", Words: "What differs from the picture?"}, {What: "glad", Words: "What are you glad of?"}}

// cardOf makes the card of a stage. What cannot be planned for a picture is left out.
func (a area) cardOf(r *http.Request, o own, place lesson.Place, done, all int) (c card, err error) {
	said, err := a.Store.Said(r.Context(), o.project.ID, o.student.ID)
	if err != nil {
		return c, err
	}
	stage, road := place.Stage, o.project.EffectiveRoad()
	c = card{ID: stage.ID, Name: stage.Name(), Ready: stage.Ready(), Waiting: place.Waiting}
	if road.Way == lesson.FromLife && done == 0 {
		c.View = "/s/" + chi.URLParam(r, "link") + "/view"
	}
	for _, g := range road.Goals() {
		c.Goals = append(c.Goals, goal{g, said["goal:"+g.Code] != ""})
	}
	steps := func(words []string) {
		for i, s := range words {
			what := fmt.Sprintf("step:%s:%d", stage.ID, i+1)
			c.Steps = append(c.Steps, ownStep{what, s, said[what] != ""})
		}
	}
	err = a.fillCard(r, o, said, &c, stage, steps)
	if asks := road.Inventions(stage.Kind); asks != nil {
		c.Lists = append(c.Lists, sheet.Entry{Head: "Yours to invent", Lines: asks})
	}
	c.close(road, place, done >= all)
	return c, err
}

// fillCard puts on a card what its stage is about.
func (a area) fillCard(r *http.Request, o own, said map[string]string, c *card, stage lesson.Stage, steps func([]string)) (err error) {
	road := o.project.EffectiveRoad()
	switch {
	case stage.Kind == lesson.MarkUp && road.Counts() == nil:
		panel := o.plan.CardFor(o.plan.Panels()[0])
		steps(panel.Words())
		c.Drawing, err = kit.InlineSVG(sheet.MarkUpDrawing(o.plan, panel), nil)
	case road.Counts() != nil && (stage.Kind == lesson.MarkUp || road.DrawsIn(stage)):
		err = a.pointsCard(r, o, c)
	case stage.Kind == lesson.Check:
		steps(lesson.StudentLooksFor[firstOfWhole:])
	case stage.Kind == lesson.Transfer:
		err = a.transferCard(r, o, said, c, steps)
	case stage.Kind == lesson.Ink, stage.Kind == lesson.Tone:
		err = a.finishCard(r, o, stage.Kind, c)
	case stage.Kind == lesson.Reflect:
		for _, q := range lastQuestions {
			q.Said = said[q.What]
			c.Asks = append(c.Asks, q)
		}
		c.Asks = append(c.Asks, question{What: lesson.ConsentSays, Words: "May your drawing be shown to others?", Said: said[lesson.ConsentSays], Choices: lesson.Consents})
	}
	return err
}

// close says what is left to do where a stage waits or is done, or all boxes are.
func (c *card) close(road lesson.Road, place lesson.Place, all bool) {
	drawing := road.DrawsIn(place.Stage)
	if place.Waiting || place.Done || drawing && !all {
		c.Ready = ""
	}
	if place.Done || drawing && all {
		c.Extra = road.HelpFor(lesson.Range{}, 0, 0).Ideas // nothing is left: what then
	}
}

// pointsCard lists where the landmarks of the project's picture are on the drawing, for work
// that counts points.
func (a area) pointsCard(r *http.Request, o own, c *card) error {
	if o.picture == nil || o.project.PictureID == nil || *o.project.PictureID != o.picture.ID {
		return nil // nobody has pressed points on a picture of their own
	}
	marks, err := a.Store.Landmarks(r.Context(), o.project.ID, o.project.PictureID)
	if err != nil {
		return err
	}
	measured, err := sheet.MeasurePins(o.plan, press.PinsOn(o.plan, marks))
	var lines []string
	for _, m := range measured {
		lines = append(lines, m.Say(o.plan))
	}
	if lines != nil {
		c.Lists = []sheet.Entry{{Head: "Where the points are on your drawing", Lines: lines}}
	}
	return err
}

// transferCard chooses the way by what the student has at hand, which is asked once, and
// lists what must be there before the tape comes off.
func (a area) transferCard(r *http.Request, o own, said map[string]string, c *card, steps func([]string)) error {
	home, asked := said["home"]
	c.Asked = asked
	w := transfer.Usual
	if asked {
		w.Have = nil
	}
	for _, t := range transfer.Tools {
		on := slices.Contains(strings.Split(home, ","), string(t))
		c.Tools = append(c.Tools, tool{string(t), on})
		if on {
			w.Have = append(w.Have, t)
		}
	}
	if !asked {
		return nil
	}
	p, err := transfer.New(w)
	if err != nil || len(p.Ways) == 0 {
		return err
	}
	way := p.Ways[0]
	c.Way = way.Name + ". " + sheet.Turns(way)
	var do []string
	for _, s := range way.Steps {
		do = append(do, s.Do)
	}
	list, err := a.carried(r, o)
	if err != nil {
		return err
	}
	steps(append(do, lesson.BeforeTapeOff(list)...))
	return nil
}

// carried lists what must be there when the tape comes off: the landmarks, which are pressed on the project's picture,
// and the main lines and shadows of the student's own.
func (a area) carried(r *http.Request, o own) ([]string, error) {
	if o.picture == nil || o.plan.Frame == nil {
		return nil, nil
	}
	var pins []reading.Pin
	if o.project.PictureID != nil && *o.project.PictureID == o.picture.ID {
		marks, err := a.Store.Landmarks(r.Context(), o.project.ID, o.project.PictureID)
		if err != nil {
			return nil, err
		}
		pins = press.PinsOn(o.plan, marks)
	}
	return kit.Once(a.Kit, func() ([]string, error) {
		img, perMM, err := a.Framed(r.Context(), o.project.TeacherID, &o.picture.ID, o.plan)
		if err != nil {
			return nil, err
		}
		return finish.Carried{Plan: o.plan, Image: img, PerMM: perMM, Drawing: o.picture.LineDrawing(), Pins: pins}.List()
	}, "carried", o.picture.ID, kit.SumOf(o.project, o.plan), pins)
}

// finishCard adds the plan of ink or tone for the student's own picture.
func (a area) finishCard(r *http.Request, o own, kind lesson.StageKind, c *card) error {
	if o.picture == nil {
		return nil
	}
	type planned struct {
		drawing template.HTML
		lists   []sheet.Entry
	}
	made, err := kit.Once(a.Kit, func() (p planned, err error) {
		img, perMM, err := a.Framed(r.Context(), o.project.TeacherID, &o.picture.ID, o.plan)
		if err != nil {
			return p, err
		}
		var drawn func() (template.HTML, error)
		if kind == lesson.Ink {
			ink, err := finish.NewInk(img, finish.InkWish{Plan: o.plan, PerMM: perMM, Dark: solidDark, Hand: o.plan.Hand})
			if err != nil {
				return p, err
			}
			p.lists, drawn = sheet.InkLists(ink), func() (template.HTML, error) { return kit.InlineSVG(sheet.InkMap(ink, o.plan), nil) }
		} else {
			m, err := finish.ToneSteps(img, perMM, toneSteps)
			if err != nil {
				return p, err
			}
			tone := finish.NewTone(img, m, finish.ToneWish{Plan: o.plan, DarksLast: o.project.EffectiveRoad().Darks == "last", Hand: o.plan.Hand, Drawing: o.picture.LineDrawing()})
			if p.lists = sheet.ToneLists(tone); tone.LineDrawing {
				return p, nil // there are no tones to show
			}
			bare := o.plan
			bare.Frame = nil // the picture lies beside it, and what is kept is everybody's
			drawn = func() (template.HTML, error) { return kit.InlineSVG(sheet.ToneMap(tone, bare), nil) }
		}
		p.drawing, err = drawn()
		return p, err
	}, "own", string(kind), o.picture.ID, o.project.EffectiveRoad().Darks, kit.SumOf(o.project, o.plan))
	if errors.Is(err, finish.ErrWish) {
		return nil // a picture without darks, or without tones: the stage goes on without a plan
	}
	c.Drawing, c.Lists = made.drawing, made.lists
	return err
}

// firstOfWhole is the first of the questions in every box that may be asked of a drawing
// that is done; those before it are about one box being drawn.
const firstOfWhole = 4

// Solid dark begins at so much lightness, and tone is laid in so many steps, as the pages
// of ink and tone have them.
const solidDark, toneSteps = 40, 4

// What a student may say, and how long it may be, in letters.
var ownWhat = regexp.MustCompile(`^(step:[a-z0-9-]{2,24}:[0-9]{1,3}|goal:[a-z0-9-]{1,20}|home|differs|glad|show)$`)

const longestOwn = 600

// say keeps what a student says on their page.
func (a area) say(w http.ResponseWriter, r *http.Request, o own) error {
	if err := kit.ReadForm(w, r); err != nil {
		return err
	}
	what, value := r.FormValue("what"), kit.Tidy(r.FormValue("value"))
	switch {
	case !ownWhat.MatchString(what):
		return kit.Ask("There is nothing of that name to say here. Open your page again.")
	case what == lesson.ConsentSays && !slices.Contains(lesson.Consents, lesson.Consent(value)):
		return kit.AskAt(what, "Choose whether your drawing may be shown, with your name or without, or not.")
	case len([]rune(value)) > longestOwn:
		return kit.AskAt(what, "Write it shorter, in at most %d letters.", longestOwn)
	}
	if err := a.Store.Say(r.Context(), o.project.TeacherID, store.OwnMark{ProjectID: o.project.ID, StudentID: o.student.ID, What: what, Value: value}); err != nil {
		return err
	}
	return kit.Go(w, r, "/s/"+chi.URLParam(r, "link"))
}

// ready says that the stage in hand is done: where a checkpoint closes it, the teacher sees
// that it waits for a look.
func (a area) ready(w http.ResponseWriter, r *http.Request, o own) (err error) {
	if err := kit.ReadTick(w, r); err != nil {
		return err
	}
	place, err := a.placed(r, o)
	if err != nil {
		return err
	}
	if id := lesson.StageID(r.FormValue("stage")); id != place.Stage.ID || place.Done {
		return kit.Ask("That stage is not the one in hand. Open your page again.")
	}
	if err := a.Store.DoStage(r.Context(), o.project.TeacherID, o.project.ID, o.student.ID, place.Stage.ID, true); err != nil {
		return err
	}
	return kit.Go(w, r, "/s/"+chi.URLParam(r, "link"))
}
