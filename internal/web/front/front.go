// Package front is what a class sees in front of it while a teacher shows how a box is
// seen: one box large, step by step, the same on the projector and on the tablet that
// leads it.
package front

import (
	"cmp"
	"embed"
	"io"
	"net/http"
	"slices"
	"strconv"

	"zestysketch/internal/checkin"
	"zestysketch/internal/core/accuracy"
	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/reading"
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
	r.Get("/projects/{project}/demonstration", store.ToLook, kit.NoAudit, kit.WithBoth(a.Planned, a.show))
	r.Get("/projects/{project}/demonstration/now", store.ToLook, kit.NoAudit, kit.WithBoth(a.Planned, a.now))
	r.Get("/projects/{project}/demonstration/live", store.ToLook, kit.NoAudit, kit.With(a.Project, a.live))
	r.Get("/projects/{project}/eyes", store.ToLook, kit.NoAudit, kit.WithBoth(a.Planned, a.eyes))
	r.Take("/projects/{project}/demonstration", kit.Tick, store.ToCover, "showed a box in front of the class", kit.WithBoth(a.Planned, a.demonstrate))
}

// stage is what the page shows.
type stage struct {
	Project store.Project
	Desk    kit.Desk
	Boxes   map[string]kit.SeenBox
	Now     store.Demonstration
}

func (a area) show(w http.ResponseWriter, r *http.Request, p store.Project, plan grid.Plan) (err error) {
	read, err := a.Boxes(r.Context(), p, plan, p.Picture)
	if err != nil {
		return err
	}
	order := p.EffectiveRoad().Order(plan)
	now, err := a.current(r, p, plan)
	if err != nil {
		return err
	}
	v := stage{p, kit.NewDesk(p, plan, p.Picture, order), kit.SeenBoxes(read), now}
	return pages.Whole(w, r, "demonstration.html", p.Name+" · in front of the class", v)
}

// current returns what is shown of a project: the box that most need before anybody
// chose one, or where the grid has the chosen one no more.
func (a area) current(r *http.Request, p store.Project, plan grid.Plan) (now store.Demonstration, err error) {
	if now, err = a.Store.Demonstration(r.Context(), p.ID); err != nil {
		return now, err
	}
	if _, there := plan.Find(now.Box); !there {
		now = store.Demonstration{}
		now.Box, err = a.needed(r, p, plan)
	}
	return now, err
}

// needed returns the box that most need to be shown: the one that most drawings have wrong, else the one
// that most draw next, else the first in which something is drawn.
func (a area) needed(r *http.Request, p store.Project, plan grid.Plan) (string, error) {
	checked, err := a.Store.CheckIns(r.Context(), p)
	if err != nil {
		return "", err
	}
	latest := checkin.Latest(checked, func(store.CheckIn) bool { return true })
	for _, b := range accuracy.Reteach(accuracy.ClassPicture(latest)) {
		if _, there := plan.Find(b.Label); there {
			return b.Label, nil
		}
	}
	read, err := a.Boxes(r.Context(), p, plan, p.Picture)
	if err != nil {
		return "", err
	}
	ticks, err := a.Store.Ticks(r.Context(), p.ID)
	if err != nil {
		return "", err
	}
	return nextOfMost(drawnIn(p.EffectiveRoad().Order(plan), read), ticks), nil
}

// drawnIn returns the labels of boxes in which something is drawn; of all where nothing is.
func drawnIn(order []grid.Cell, read reading.Reading) (labels []string) {
	for _, c := range order {
		if slices.ContainsFunc(read.Boxes, func(b reading.Box) bool { return b.Label == c.Label && len(b.Pieces) > 0 }) {
			labels = append(labels, c.Label)
		}
	}
	if labels == nil {
		for _, c := range order {
			labels = append(labels, c.Label)
		}
	}
	return labels
}

// nextOfMost returns the box that most students have not drawn yet and have drawn all before, the first of
// several.
func nextOfMost(labels []string, ticks map[uint64]map[string]bool) string {
	next := map[string]int{}
	for _, done := range ticks {
		if i := slices.IndexFunc(labels, func(l string) bool { return !done[l] }); i >= 0 {
			next[labels[i]]++
		}
	}
	return slices.MaxFunc(labels, func(a, b string) int { return cmp.Compare(next[a], next[b]) })
}

// now sends what is shown.
func (a area) now(w http.ResponseWriter, r *http.Request, p store.Project, plan grid.Plan) (err error) {
	now, err := a.current(r, p, plan)
	if err != nil {
		return err
	}
	return kit.JSON(w, now)
}

// live is the line on which screens hear that something else is shown.
func (a area) live(w http.ResponseWriter, r *http.Request, p store.Project) error {
	return a.Line(w, r, p.ID, func(io.Writer) {}, func(c kit.Changed) string {
		if c.About != store.OfDemonstration {
			return ""
		}
		return c.About
	})
}

// demonstrate shows something else on all screens.
func (a area) demonstrate(w http.ResponseWriter, r *http.Request, p store.Project, plan grid.Plan) (err error) {
	step, err := strconv.Atoi(r.FormValue("step"))
	if _, there := plan.Find(r.FormValue("box")); !there || err != nil || step < 0 || step > store.MostSteps {
		return kit.Ask("Choose a box of the grid to show, and a step of 0 or more; got box “%s”, step “%s”.", r.FormValue("box"), r.FormValue("step"))
	}
	d := store.Demonstration{ProjectID: p.ID, Box: r.FormValue("box"), Step: step, Upside: r.FormValue("upside") == "1", Covered: r.FormValue("covered") == "1"}
	if err := a.Store.Demonstrate(r.Context(), d); err != nil {
		return err
	}
	return kit.Go(w, r, kit.ProjectPath(p)+"/demonstration")
}
