package kit

import (
	"net/http"
	"strconv"
	"strings"
	"time"

	"github.com/go-chi/chi/v5"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/plans"
	"zestysketch/internal/store"
)

// ProjectPath returns the address of a project's bench, as the class that was
// chosen of several sees it.
func ProjectPath(p store.Project) string { return "/projects/" + p.Key() }

// Project returns the project in the address, if it is the teacher's or shared with
// them, as the class sees it that the address names after its number.
func (k *Kit) Project(r *http.Request) (store.Project, error) {
	number, chosen, several := strings.Cut(chi.URLParam(r, store.OfProject), "-")
	id, err := Number(number)
	if err != nil {
		return store.Project{}, err
	}
	class := uint64(0)
	if several {
		if class, err = Number(chosen); err != nil {
			return store.Project{}, err
		}
	}
	return k.Store.ProjectIn(r.Context(), Owner(r), id, class)
}

// Planned returns the project in the address with its plan; plans.ErrNone where it has none.
func (k *Kit) Planned(r *http.Request) (store.Project, grid.Plan, error) {
	p, err := k.Project(r)
	if err != nil {
		return p, grid.Plan{}, err
	}
	plan, err := plans.Needed(r.Context(), k.Store, p)
	return p, plan, err
}

// oldestTick is how long a tick may have waited for a connection.
const oldestTick = 36 * time.Hour

// TickedAt returns when a box was ticked: as the form says in milliseconds since
// 1970, where it waited for a connection, else now.
func TickedAt(r *http.Request) time.Time {
	now := time.Now()
	ms, err := strconv.ParseInt(r.FormValue("at"), 10, 64)
	if at := time.UnixMilli(ms); err == nil && at.Before(now) && now.Sub(at) < oldestTick {
		return at
	}
	return now
}

// Steps of the bench's rail, in the order people work.
const (
	StepPicture = "Picture"
	StepCompose = "Compose"
	StepSize    = "Size"
	StepGrid    = "Grid"
	StepMarks   = "Marks"
	StepPrint   = "Print"
	StepDraw    = "Draw"
	StepCheck   = "Check"
	StepFinish  = "Finish"
)

// Rail is the row of steps above a project's pages.
type Rail struct {
	Project store.Project
	Here    string
	Planned bool // the steps after the plan are open
	Again   bool // takes the place of the rail that is on the page
}

// NewRail returns the rail of a project at one of its steps.
func NewRail(p store.Project, here string) Rail {
	return Rail{Project: p, Here: here, Planned: p.PlanVersion > 0}
}

// RailStep is one step of the rail.
type RailStep struct {
	Name, Path string
	Number     int
	Here, Open bool
	Bench      string // the bench's own step, empty for other pages
}

// Steps returns the rail's steps.
func (r Rail) Steps() []RailStep {
	base := ProjectPath(r.Project)
	steps := []RailStep{
		{Name: StepPicture, Bench: "picture", Open: true},
		{Name: StepCompose, Bench: "compose", Open: true},
		{Name: StepSize, Bench: "size", Open: true},
		{Name: StepGrid, Bench: "grid", Open: true},
		{Name: StepMarks, Bench: "marks", Open: true},
		{Name: StepPrint, Path: base + "/print", Open: r.Planned},
		{Name: StepDraw, Path: base + "/wall", Open: r.Planned},
		{Name: StepCheck, Path: base + "/check", Open: r.Planned},
		{Name: StepFinish, Path: base + "/finish", Open: r.Planned},
	}
	for i := range steps {
		steps[i].Number = i + 1
		steps[i].Here = steps[i].Name == r.Here
		if steps[i].Bench != "" {
			steps[i].Path = base + "?step=" + steps[i].Bench
		}
	}
	return steps
}

// PlanHeader is the header in which an answer names the version of the present plan.
const PlanHeader = "Zesty-Plan"

// ShownPlan returns the version of the plan that a page showed when something
// was done on it, 0 where it does not say.
func ShownPlan(r *http.Request) int {
	v, err := strconv.Atoi(r.FormValue("plan"))
	if err != nil || v < 0 {
		return 0
	}
	return v
}
