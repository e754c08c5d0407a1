package bench

import (
	"errors"
	"fmt"
	"net/http"
	"slices"
	"strings"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/plans"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

// loss is a student who would have fewer boxes done by a new plan.
type loss struct {
	Name string
	plans.Done
}

// losses says whose boxes a step would take.
func losses(p store.Project, step plans.Step) (list []loss) {
	names := map[uint64]string{}
	if p.Class != nil {
		for _, s := range p.Class.Students {
			names[s.ID] = s.Name
		}
	}
	for _, id := range step.Loses() {
		l := loss{names[id], step.Done[id]}
		if l.Name == "" {
			l.Name = "somebody of another class"
		}
		list = append(list, l)
	}
	return list
}

// using is what stands by the plan of now, in words.
type using struct {
	AtWork, Ruled string // whose
	Boxes         int
	Printed       bool
	Stop          string // why the new plan cannot be kept while they work; empty where it can
}

// usingOf says what a new plan would part from; nil for nothing.
func usingOf(p store.Project, use plans.Use, plan grid.Plan) *using {
	if !use.Any() {
		return nil
	}
	u := &using{AtWork: named(p, use.AtWork), Ruled: named(p, use.Ruled), Boxes: use.Boxes, Printed: use.Printed}
	if i := slices.IndexFunc(plan.Findings, func(f grid.Finding) bool { return f.Level == grid.Stop }); i >= 0 && len(use.AtWork) > 0 {
		u.Stop = plan.Findings[i].Message
	}
	return u
}

// mostNamed is how many students are named one by one.
const mostNamed = 4

// named names students: a few, and how many more.
func named(p store.Project, ids []uint64) string {
	var names []string
	if p.Class != nil {
		for _, s := range p.Class.Students {
			if slices.Contains(ids, s.ID) && len(names) < mostNamed {
				names = append(names, s.Name)
			}
		}
	}
	if more := len(ids) - len(names); more > 0 {
		names = append(names, fmt.Sprintf("%d more", more))
	}
	return strings.Join(names, ", ")
}

// versionView is one of a project's plans in words.
type versionView struct {
	Version int
	Kept    string // when
	Words   string
	Ticks   int // boxes that were ticked when its grid was left
	Here    bool
}

// versions lists the plans that a project had.
func (a area) versions(w http.ResponseWriter, r *http.Request, p store.Project) (err error) {
	kept, err := a.Store.Versions(r.Context(), p.ID)
	if err != nil {
		return err
	}
	counts, err := a.Store.TickCounts(r.Context(), p.ID)
	if err != nil {
		return err
	}
	v := struct {
		Project store.Project
		Rail    kit.Rail
		Plans   []versionView
	}{Project: p, Rail: kit.NewRail(p, kit.StepGrid)}
	clock := kit.Clock(r)
	for _, k := range kept {
		plan, err := grid.Decode([]byte(k.JSON))
		if err != nil {
			continue // of a program that made other files; nothing of it can be brought back
		}
		v.Plans = append(v.Plans, versionView{k.Version, clock.Stamp(k.CreatedAt), words(plan), counts[k.Version], k.Version == p.PlanVersion})
	}
	return pages.Whole(w, r, "versions.html", p.Name+" · plans", v)
}

// words says a plan in a line.
func words(p grid.Plan) string {
	cell := measure.Size{W: measure.Length(p.Grid.SheetCell[0]), H: measure.Length(p.Grid.SheetCell[1])}
	return p.SheetSize().Text(p.Units) + ", boxes of " + cell.Text(p.Units) + ": " + p.CardFor(p.Panels()[0]).Counts
}

// restore brings an earlier plan back with its ticks.
func (a area) restore(w http.ResponseWriter, r *http.Request, p store.Project) (err error) {
	version, err := kit.ID(r, "version")
	if err != nil {
		return err
	}
	err = plans.Restore(r.Context(), a.Store, p, int(version))
	if errors.Is(err, plans.ErrPicture) {
		return kit.Ask("That plan is for a picture of another shape. Take the picture of then first, under Picture.")
	}
	if err != nil {
		return err
	}
	return kit.Go(w, r, kit.ProjectPath(p)+"?step=grid")
}
