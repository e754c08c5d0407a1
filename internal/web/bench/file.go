package bench

import (
	"net/http"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/plans"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

func (a area) export(w http.ResponseWriter, r *http.Request, p store.Project, plan grid.Plan) (err error) {
	file, err := grid.Encode(plan)
	if err != nil {
		return err
	}
	return kit.SendFile(w, p.Name, "application/json", "zesty-plan.json", file)
}

// take keeps a plan from a file, made here or elsewhere, for the project's own picture.
func (a area) take(w http.ResponseWriter, r *http.Request, p store.Project) (err error) {
	if !kit.HasFile(r, "plan") {
		return kit.Ask("Choose a plan file first: it ends in .json.")
	}
	_, b, err := kit.ReadFile(r, "plan")
	if err != nil {
		return err
	}
	plan, err := grid.Decode(b)
	if err != nil {
		return kit.Ask("%v.", err)
	}
	plan.Name, plan.Typed.Name = p.Name, p.Name // the project keeps its own
	if plan, err = plans.Fitted(plan, p.Picture); err != nil {
		return kit.Ask("The plan was made for another picture, and does not fit this one: %v.", err)
	}
	if _, err := plans.Keep(r.Context(), a.Store, p, p.PlanVersion, plan); err != nil {
		return err
	}
	return kit.Go(w, r, kit.ProjectPath(p)+"?step=size")
}
