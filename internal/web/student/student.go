// Package student is a student's own page of one project, opened by a long
// random link and without an account: the box in hand, and a map of boxes.
package student

import (
	"embed"
	"errors"
	"html/template"
	"net/http"
	"net/url"
	"slices"
	"strconv"
	"time"

	"github.com/go-chi/chi/v5"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/lesson"
	"zestysketch/internal/plans"
	"zestysketch/internal/room"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
	"zestysketch/internal/web/static"
)

//go:embed *.html
var files embed.FS

var pages = kit.NewPages(files)

type area struct{ *kit.Kit }

// Routes adds the area's addresses.
func Routes(r chi.Router, k *kit.Kit) {
	a := area{k}
	r.Get("/s/worker.js", static.Worker)
	r.Group(func(r chi.Router) {
		r.Use(private, k.FewBodies)
		r.Get("/s/away", k.Handle(a.away))
		r.Get("/go", k.Handle(a.showDoor))
		r.Post("/go", k.Handle(a.enter))
		r.Get("/s/{link}", k.Handle(kit.With(a.open, a.show)))
		r.Get("/s/{link}/picture", k.Handle(kit.With(a.open, a.picture)))
		r.Get("/s/{link}/now", k.Handle(kit.WithBoth(a.linked, a.now)))
		r.Post("/s/{link}/ticks", k.Handle(kit.With(a.open, a.tick)))
		r.Post("/s/{link}/hand", k.Handle(kit.With(a.open, a.hand)))
		r.Get("/s/{link}/boxes", k.Handle(kit.With(a.open, a.boxes)))
		r.Post("/s/{link}/help", k.Handle(kit.With(a.open, a.helped)))
		r.Post("/s/{link}/own", k.Handle(kit.With(a.open, a.say)))
		r.Post("/s/{link}/stage", k.Handle(kit.With(a.open, a.ready)))
		r.Get("/h/{link}", k.Handle(a.showHelper))
		r.Post("/h/{link}", k.Handle(a.help))
		r.Get("/s/{link}/photo", k.Handle(kit.With(a.open, a.photoPage)))
		r.Post("/s/{link}/photo", k.Handle(kit.With(a.open, a.handIn)))
		r.Get("/s/{link}/photo/now", k.Handle(kit.With(a.open, a.photoNow)))
		r.Get("/s/{link}/view", k.Handle(kit.WithBoth(a.ownViewOf, a.viewPage)))
		r.Post("/s/{link}/view", k.Handle(a.takeView))
		r.Get("/s/{link}/drawing", k.Handle(kit.With(a.open, a.drawing)))
		r.Get("/s/{link}/wanted", k.Handle(kit.With(a.open, a.wanted)))
		r.Get("/s/{link}/train", k.Handle(kit.With(a.open, a.train)))
		r.Post("/s/{link}/train", k.Handle(kit.With(a.open, a.keepTraining)))
	})
}

// private keeps the link out of caches and other sites' logs.
func private(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		w.Header().Set("Cache-Control", "no-store")
		w.Header().Set("Referrer-Policy", "no-referrer")
		w.Header().Set("X-Robots-Tag", "noindex")
		next.ServeHTTP(w, r)
	})
}

// own is what belongs to a link.
type own struct {
	project store.Project
	student store.Student
	plan    grid.Plan
	plans   plans.Set
	picture *store.Picture
}

// linked returns whose link stands in the address. A wrong one counts.
func (a area) linked(r *http.Request) (p store.Project, s store.Student, err error) {
	p, s, err = a.Store.Linked(r.Context(), chi.URLParam(r, "link"))
	if !errors.Is(err, store.ErrNotFound) {
		return p, s, err
	}
	if err := a.wrong(r); err != nil {
		return p, s, err
	}
	return p, s, kit.Trouble{Status: http.StatusNotFound, Message: "This link opens nothing any more. Ask your teacher for a new one.", Ended: true}
}

// wrong counts a wrong link or code of the address, and answers it late where there
// were many. Good ones never wait.
func (a area) wrong(r *http.Request) error {
	leave, err := a.Links.Enter(r.Context(), a.AddressOf(r))
	if err != nil {
		return err
	}
	defer leave()
	return a.Links.Wrong(r.Context(), a.AddressOf(r))
}

// open returns what the link in the address opens.
func (a area) open(r *http.Request) (own, error) {
	p, s, err := a.linked(r)
	if err != nil {
		return own{}, err
	}
	plan, err := plans.Needed(r.Context(), a.Store, p)
	if errors.Is(err, plans.ErrNone) {
		return own{}, kit.Ask("This project has no plan yet. Come back when your teacher has made it.")
	}
	if err != nil {
		return own{}, err
	}
	given, err := a.Store.Assignments(r.Context(), p.ID)
	planned := plans.New(p, plan, given, []store.Student{s})
	o := own{p, s, planned.Of(s.ID), planned, planned.PictureOf(s.ID)}
	if s.Hand == grid.LeftHand {
		o.plan.Hand = grid.LeftHand
	}
	return o, err
}

// desk is what the page shows.
type desk struct {
	Link, Name, Project string
	Box                 string
	Drawing             template.HTML
	Done                bool
	Previous, Next      string
	Rows                [][]box
	Count, All          int
	Unit                lesson.Unit
	Way                 lesson.Way
	Parts               []ownPart // with names, where not boxes are counted
	Hand                bool
	Left                bool // the left hand draws: the page is the other way round
	Place               lesson.Place
	Card                card     // of the stage in hand
	AtBoxes             bool     // the stage is drawn box by box: the box comes first
	Before              bool     // nothing is drawn yet: the whole picture, and what to do now
	After               bool     // all is drawn: drawing and picture, side by side
	Laid                *thing   // those two, where there is a photo
	Say                 []string // what the last measured photo said, where it helps
	Seen                string   // when it was taken in
	Desk                kit.Desk
}

// ownPart is a part with a name to tick.
type ownPart struct {
	lesson.Counted
	Done bool
}

type box struct {
	Label      string
	Done, Here bool
}

// lay puts the box in hand and the map of those that count on a desk.
func (d *desk) lay(p grid.Plan, order []grid.Cell, at int, ticks map[string]bool, counts func(label string) bool) {
	d.Box, d.Done = order[at].Label, ticks[order[at].Label]
	if at > 0 {
		d.Previous = order[at-1].Label
	}
	if at+1 < len(order) {
		d.Next = order[at+1].Label
	}
	for row := range p.Grid.Rows {
		var boxes []box
		for column := range p.Grid.Columns {
			if label := p.Cell(column, row).Label; counts(label) { // they may draw a part alone
				boxes = append(boxes, box{label, ticks[label], label == d.Box})
			}
		}
		if boxes != nil {
			d.Rows = append(d.Rows, boxes)
		}
	}
}

func (a area) show(w http.ResponseWriter, r *http.Request, o own) (err error) {
	a.Tablet(w, r)
	ticks, err := a.Store.StudentTicks(r.Context(), o.project.ID, o.student.ID)
	if err != nil {
		return err
	}
	road, counts := o.project.EffectiveRoad(), o.plans.Counter(o.student.ID)
	d := desk{Link: chi.URLParam(r, "link"), Name: o.student.Name, Project: o.project.Name,
		Count: len(o.plans.Done(o.student.ID, ticks)), All: o.plans.Count(o.student.ID), Unit: road.Unit(),
		Way: road.Way}
	for _, p := range o.plans.Parts() {
		d.Parts = append(d.Parts, ownPart{p, ticks[p.Label]})
	}
	order := slices.DeleteFunc(road.Order(o.plan), func(c grid.Cell) bool { return d.Parts == nil && !counts(c.Label) })
	at := place(order, ticks, r.FormValue("box"))
	d.lay(o.plan, order, at, ticks, func(label string) bool { return d.Parts != nil || counts(label) })
	d.Left = o.plan.Hand == grid.LeftHand
	if err := a.atWork(r, o, &d); err != nil {
		return err
	}
	if d.Card, err = a.cardOf(r, o, d.Place, d.Count, d.All); err != nil {
		return err
	}
	d.AtBoxes = d.Count < d.All && !d.Place.Done && (d.Count > 0 || road.DrawsIn(d.Place.Stage))
	if err := a.overview(r, o, &d); err != nil {
		return err
	}
	d.Desk = kit.NewDesk(o.project, o.plan, o.picture, order)
	d.Desk.Finish(order, ticks)
	if o.picture != nil && d.Parts == nil {
		if d.Drawing, err = a.firstBox(r, o, order[at]); err != nil {
			return err
		}
	}
	return pages.Whole(w, r, "student.html", d.Name, d)
}

// overview says whether the page is that before drawing or that after it, and fills the last drawing in.
func (a area) overview(r *http.Request, o own, d *desk) error {
	if d.AtBoxes || d.Parts != nil || o.picture == nil || r.FormValue("box") != "" {
		return nil
	}
	d.Before, d.After = !d.Place.Done && d.Count == 0, d.Count > 0
	if !d.After {
		return nil
	}
	s := seen{Link: d.Link}
	err := a.lastDrawn(r, o, &s)
	d.Laid = s.All
	return err
}

// atWork fills in where the student is on the road, their hand, and what the
// last measured photo said.
func (a area) atWork(r *http.Request, o own, d *desk) (err error) {
	if d.Place, err = a.onRoad(r, o, d.Count > 0); err != nil {
		return err
	}
	up, err := a.Store.Hand(r.Context(), o.project.ID, o.student.ID)
	if err != nil {
		return err
	}
	d.Hand = up != nil
	c, err := a.Store.LastMeasured(r.Context(), o.project.ID, o.student.ID, 0, 0)
	if errors.Is(err, store.ErrNotFound) {
		return nil
	}
	if err != nil {
		return err
	}
	school, err := a.Store.SchoolOf(r.Context(), o.project.TeacherID)
	d.Say, d.Seen = c.Report.Say, room.ClockOf(school).Months(c.CreatedAt)
	return err
}

// onRoad returns where a student is on the road; begun says that boxes are ticked.
func (a area) onRoad(r *http.Request, o own, begun bool) (lesson.Place, error) {
	state, err := a.Store.RoadState(r.Context(), o.project.ID, o.student.ID)
	road := o.project.EffectiveRoad()
	return road.Where(road.Implied(state.Done[o.student.ID], begun), state.VerdictsOf(o.student.ID)), err
}

// away is where a tablet lands that was put away.
func (a area) away(w http.ResponseWriter, r *http.Request) error {
	return pages.Whole(w, r, "away.html", "Put away", nil)
}

// present is what an open page asks for again and again: the version of the plan, by which
// it learns that the grid was changed, and what is called to the class.
type present struct {
	Plan int        `json:"plan"`
	Call store.Call `json:"call"`
	// The page is open on another tablet too.
	Twice bool `json:"twice"`
}

// now answers with what is the case just now.
func (a area) now(w http.ResponseWriter, r *http.Request, p store.Project, s store.Student) (err error) {
	c, err := a.Store.Call(r.Context(), p.ID, s.ClassID)
	if err != nil {
		return err
	}
	twice, news := a.Tablets.Seen(p.ID, s.ID, a.Tablet(w, r), time.Now())
	if news {
		if err := a.Store.Changed(r.Context(), p.ID, s.ID); err != nil {
			return err
		}
	}
	return kit.JSON(w, present{p.PlanVersion, c, twice})
}

// hand puts the student's hand up or down.
func (a area) hand(w http.ResponseWriter, r *http.Request, o own) error {
	if err := kit.ReadTick(w, r); err != nil {
		return err
	}
	if err := a.Store.RaiseHand(r.Context(), o.project.TeacherID, o.project.ID, o.student.ID, r.FormValue("on") == "1"); err != nil {
		return err
	}
	return kit.Go(w, r, "/s/"+chi.URLParam(r, "link"))
}

// place returns the place in the order of the box that was asked for, else of
// the first that is not done.
func place(order []grid.Cell, ticks map[string]bool, asked string) int {
	first := -1
	for i, c := range order {
		if c.Label == asked {
			return i
		}
		if first < 0 && !ticks[c.Label] {
			first = i
		}
	}
	return max(0, first)
}

func (a area) picture(w http.ResponseWriter, r *http.Request, o own) (err error) {
	if o.picture == nil {
		return store.ErrNotFound
	}
	f, err := a.Store.PictureBlob(r.Context(), o.project.TeacherID, o.picture.ID, store.View)
	if err != nil {
		return err
	}
	w.Header().Set("Cache-Control", "private, no-cache")
	return kit.SendBlob(w, r, f)
}

func (a area) tick(w http.ResponseWriter, r *http.Request, o own) (err error) {
	if err := kit.ReadTick(w, r); err != nil {
		return err
	}
	label, shown := r.FormValue("label"), kit.ShownPlan(r)
	done, known := map[string]bool{"1": true, "0": false}[r.FormValue("on")]
	if !known || !plans.Has(r.Context(), a.Store, o.project, o.plans, o.student.ID, shown, label) {
		return kit.Ask("That box is not in the plan any more. Open your page again.")
	}
	w.Header().Set(kit.PlanHeader, strconv.Itoa(o.project.PlanVersion))
	err = plans.Tick(r.Context(), a.Store, o.project, o.plans, o.student.ID, shown, []string{label}, done, kit.TickedAt(r))
	if errors.Is(err, plans.ErrOlder) {
		return kit.Ask("The grid has changed since. Your page shows the new one now; look there.")
	}
	if err != nil {
		return err
	}
	next := "/s/" + chi.URLParam(r, "link")
	if !done {
		next += "?box=" + url.QueryEscape(label)
	}
	return kit.Go(w, r, next)
}
