// Package checks is the check table: photographs of drawings, and how far
// their landmarks are off.
package checks

import (
	"embed"
	"net/http"
	"strconv"

	"github.com/go-chi/chi/v5"

	"zestysketch/internal/core/accuracy"
	"zestysketch/internal/core/grid"
	"zestysketch/internal/press"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

//go:embed *.html
var files embed.FS

var pages = kit.NewPages(files)

type area struct{ *kit.Kit }

// Routes adds the area's addresses.
func Routes(r chi.Router, k *kit.Kit) {
	a := area{k}
	r.Get("/projects/{project}/check", k.Handle(a.list))
	r.Post("/projects/{project}/check", k.Handle(a.add))
	r.Post("/projects/{project}/looseness", k.Handle(a.setLooseness))
	r.Post("/projects/{project}/landmarks", k.Handle(a.addLandmark))
	r.Post("/projects/{project}/landmarks/{landmark}", k.Handle(a.changeLandmark))
	r.Post("/projects/{project}/landmarks/{landmark}/remove", k.Handle(a.removeLandmark))
	r.Get("/checkins/{checkin}", k.Handle(a.show))
	r.Post("/checkins/{checkin}/places", k.Handle(a.place))
	r.Get("/checkins/{checkin}/straight.jpg", k.Handle(a.straight))
}

// stack is the list of a project's check-ins.
type stack struct {
	Project   store.Project
	Rail      kit.Rail
	Landmarks int
	Photos    []photo
	Tolerance float64
}

// photo is one check-in in the list.
type photo struct {
	store.CheckIn
	Say    []string
	Status string
}

// job is a project with all that a check of one student's drawing needs.
type job struct {
	project   store.Project
	plan      grid.Plan // the student's own
	picture   *uint64   // and the picture drawn from
	landmarks []store.Landmark
}

// job returns what a student's drawing is checked against; student 0 is the class.
func (a area) job(r *http.Request, project, student uint64) (job, error) {
	p, err := a.Store.Project(r.Context(), kit.Teacher(r).ID, project)
	if err != nil {
		return job{}, err
	}
	plan, err := press.PlanOf(r.Context(), a.Store, p)
	if err != nil {
		return job{}, err
	}
	if plan == nil {
		return job{}, kit.Ask("Keep the plan first: a drawing is measured against it.")
	}
	plans, err := press.LoadPlans(r.Context(), a.Store, p, *plan)
	if err != nil {
		return job{}, err
	}
	j := job{project: p, plan: plans.Of(student)}
	if pic := plans.PictureOf(student); pic != nil {
		j.picture = &pic.ID
	}
	j.landmarks, err = a.Store.Landmarks(r.Context(), p.ID, j.picture)
	return j, err
}

func (j job) tolerance() float64 { return accuracy.Tolerance(string(j.project.Looseness)) }

func (a area) list(w http.ResponseWriter, r *http.Request) error {
	id, err := kit.ID(r, "project")
	if err != nil {
		return err
	}
	j, err := a.job(r, id, 0)
	if err != nil {
		return err
	}
	checkIns, err := a.Store.CheckIns(r.Context(), id)
	if err != nil {
		return err
	}
	view := stack{Project: j.project, Rail: kit.Rail{Project: j.project, Here: kit.StepCheck, Planned: true}, Landmarks: len(j.landmarks), Tolerance: j.tolerance()}
	for _, c := range checkIns {
		own, err := a.job(r, id, c.StudentID)
		if err != nil {
			return err
		}
		view.Photos = append(view.Photos, own.summary(c))
	}
	return pages.Whole(w, r, "stack.html", j.project.Name+" · check", view)
}

func (j job) summary(c store.CheckIn) photo {
	p := photo{CheckIn: c}
	if c.Corners == nil {
		p.Status = "Set the four corners"
		return p
	}
	report, err := accuracy.Check(j.plan, *c.Corners, kit.Placed(j.plan, c, j.landmarks), j.tolerance())
	if err != nil {
		p.Status = "Place the landmarks"
		return p
	}
	p.Status, p.Say = "Measured", report.Say
	return p
}

func (a area) add(w http.ResponseWriter, r *http.Request) error {
	if err := kit.ReadForm(w, r); err != nil {
		return err
	}
	id, err := kit.ID(r, "project")
	if err != nil {
		return err
	}
	j, err := a.job(r, id, 0)
	if err != nil {
		return err
	}
	student, err := strconv.ParseUint(r.FormValue("student"), 10, 63)
	if err != nil {
		return kit.Ask("Choose whose drawing this is.")
	}
	picture, err := a.TakePicture(r, "photo", store.ForCheckIn)
	if err != nil {
		return err
	}
	c := store.CheckIn{ProjectID: j.project.ID, StudentID: student, PictureID: picture.ID}
	if err := a.Store.AddCheckIn(r.Context(), j.project.TeacherID, &c); err != nil {
		return err
	}
	return kit.Go(w, r, checkInPath(c.ID))
}

func checkInPath(id uint64) string { return "/checkins/" + strconv.FormatUint(id, 10) }

func (a area) setLooseness(w http.ResponseWriter, r *http.Request) error {
	if err := kit.ReadForm(w, r); err != nil {
		return err
	}
	id, err := kit.ID(r, "project")
	if err != nil {
		return err
	}
	l := store.Looseness(r.FormValue("looseness"))
	if l != store.Exact && l != store.Normal && l != store.Loose {
		return kit.Ask("Choose exact, normal or loose.")
	}
	if err := a.Store.SetLooseness(r.Context(), kit.Teacher(r).ID, id, l); err != nil {
		return err
	}
	return kit.Go(w, r, kit.ProjectPath(id)+"/check")
}
