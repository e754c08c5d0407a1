// Package checks is the check table: photographs of drawings, what is measured
// on them, and what the students should do next.
package checks

import (
	"cmp"
	"embed"
	"fmt"
	"net/http"
	"slices"
	"strconv"
	"strings"
	"time"

	"zestysketch/internal/checkin"
	"zestysketch/internal/core/accuracy"
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
	r.Get("/projects/{project}/check", store.ToLook, kit.NoAudit, kit.With(a.stack, a.list))
	r.Stream("/projects/{project}/check", store.ToCover, "took photos in", a.takeIn)
	r.Get("/projects/{project}/check/lines", store.ToLook, kit.NoAudit, kit.With(a.Project, a.linesOf))
	r.Get("/projects/{project}/check/live", store.ToLook, kit.NoAudit, kit.With(a.Project, a.live))
	r.Post("/projects/{project}/comparing", store.ToOwn, "changed how drawings are compared", kit.With(a.job, a.setComparing))
	r.Get("/projects/{project}/points", store.ToLook, kit.NoAudit, kit.WithBoth(a.pressable, a.points))
	r.Post("/projects/{project}/points", store.ToOwn, "pressed points on a picture", kit.WithBoth(a.pressable, a.press))
	r.Post("/projects/{project}/landmarks", store.ToOwn, "added a landmark", kit.With(kit.IDOf("project"), a.addLandmark))
	r.Post("/projects/{project}/landmarks/{landmark}", store.ToOwn, "changed a landmark", kit.WithBoth(a.landmark, a.changeLandmark))
	r.Post("/projects/{project}/landmarks/{landmark}/remove", store.ToOwn, "removed a landmark", kit.WithBoth(a.landmark, a.removeLandmark))
	r.Tick("/projects/{project}/check/ticks", kit.Form, store.ToCover, "ticked what photos show", kit.With(a.job, a.tickStack))
	r.Post("/strays/{stray}/claim", store.ToCover, "said whose a photo is", kit.WithBoth(a.stray, a.claim))
	r.Post("/strays/{stray}/remove", store.ToCover, "removed a photo", kit.WithBoth(a.stray, a.removeStray))
	r.Get("/checkins/{checkin}", store.ToLook, "saw a photo of a drawing", kit.WithBoth(a.load, a.show))
	r.Post("/checkins/{checkin}/places", store.ToCover, "placed corners or landmarks", kit.WithBoth(a.load, a.place))
	r.Tick("/checkins/{checkin}/ticks", kit.Form, store.ToCover, "ticked what a photo shows", kit.WithBoth(a.load, a.tick))
	r.Post("/checkins/{checkin}/remove", store.ToOwn, "removed a check-in", kit.WithBoth(a.load, a.remove))
	r.Get("/checkins/{checkin}/straight.jpg", store.ToLook, kit.NoAudit, kit.WithBoth(a.load, a.straight))
	r.Get("/checkins/{checkin}/wanted.jpg", store.ToLook, kit.NoAudit, kit.WithBoth(a.load, a.wanted))
	r.Get("/checkins/{checkin}/marks.svg", store.ToLook, kit.NoAudit, kit.WithBoth(a.load, a.marks))
	r.Get("/checkins/{checkin}/shapes", store.ToLook, kit.NoAudit, kit.WithBoth(a.load, a.shapes))
	r.Get("/checkins/{checkin}/retraced", store.ToLook, kit.NoAudit, kit.WithBoth(a.load, a.retraced))
}

// stack is the list of a project's check-ins.
type stack struct {
	Project   store.Project
	Rail      kit.Rail
	Landmarks int
	Photos    []photo
	Strays    []store.Stray
	Tolerance float64
	Free      string // boxes that are left free
	Class     classPicture
	Taken     []taken // photos that wait or were refused
}

// Offers returns how many boxes all photos together show as drawn that are not ticked.
func (s stack) Offers() (n int) {
	for _, p := range s.Photos {
		n += p.Offer
	}
	return n
}

// moment is when a photo was taken in, for machines and in words.
type moment struct{ ISO, Words string }

func newMoment(r *http.Request, t time.Time) moment {
	clock := kit.Clock(r)
	return moment{clock.ISO(t), clock.Moment(t)}
}

// photo is one check-in in the list.
type photo struct {
	store.CheckIn
	At     moment
	Status string
	Offer  int // boxes that look drawn and are not ticked
}

// job returns what a class's drawings are checked against, or a student's.
func (a area) job(r *http.Request) (checkin.Job, error) {
	p, err := a.Project(r)
	if err != nil {
		return checkin.Job{}, err
	}
	return checkin.Load(r.Context(), a.Store, p, 0)
}

func (a area) jobFor(r *http.Request, c store.CheckIn) (checkin.Job, error) {
	p, err := a.Store.ProjectOf(r.Context(), kit.Owner(r), c.ProjectID, c.Student)
	if err != nil {
		return checkin.Job{}, err
	}
	return checkin.Load(r.Context(), a.Store, p, c.StudentID)
}

func (a area) list(w http.ResponseWriter, r *http.Request, view stack) error {
	return pages.Whole(w, r, "stack.html", view.Project.Name+" · check", view)
}

func (a area) stack(r *http.Request) (stack, error) {
	j, err := a.job(r)
	if err != nil {
		return stack{}, err
	}
	id := j.Project.ID
	view := stack{Project: j.Project, Rail: kit.NewRail(j.Project, kit.StepCheck), Landmarks: len(j.Landmarks), Tolerance: j.Tolerance(), Free: strings.Join(strings.Fields(j.Project.FreeBoxes), ", ")}
	checkIns, err := a.Store.CheckIns(r.Context(), j.Project)
	if err != nil {
		return stack{}, err
	}
	if view.Strays, err = a.Store.Strays(r.Context(), id); err != nil {
		return stack{}, err
	}
	ticks, err := a.Store.Ticks(r.Context(), id)
	if err != nil {
		return stack{}, err
	}
	for _, c := range checkIns {
		one := summary(c, ticks[c.StudentID])
		one.At = newMoment(r, c.CreatedAt)
		view.Photos = append(view.Photos, one)
	}
	view.Class = pictureOfClass(j, checkIns)
	waiting, err := a.Store.Photos(r.Context(), id, nil)
	if err != nil {
		return stack{}, err
	}
	view.Taken, err = a.lines(r, j.Project, waiting)
	return view, err
}

func summary(c store.CheckIn, ticked map[string]bool) photo {
	p := photo{CheckIn: c}
	switch {
	case c.Gist == nil || c.Gist.Ask:
		p.Status = "Set the four corners"
	case !c.Gist.Measured && c.Gist.Why != "":
		p.Status = "Look at this one"
	default:
		p.Status = right(*c.Gist)
		p.Offer = len(unticked(*c.Gist, ticked))
	}
	return p
}

// right says in a few words how much of a drawing is in its place.
func right(g accuracy.Gist) string {
	n, of := g.Right()
	if of == 0 {
		return "Measured"
	}
	return fmt.Sprintf("%d of %d boxes in their places", n, of)
}

// unticked returns the boxes that look drawn and are not ticked.
func unticked(g accuracy.Gist, ticked map[string]bool) (labels []string) {
	for _, l := range g.Drawn {
		if !ticked[l] {
			labels = append(labels, l)
		}
	}
	return labels
}

// classPicture is a small map of the boxes that many get wrong.
type classPicture struct {
	Drawings      int
	Columns, Rows int
	Boxes         []shared
	Reteach       []accuracy.Shared
	Parts         []string // which parts several have elsewhere or not yet, and how
}

type shared struct {
	accuracy.Shared
	X, Y  int
	Depth int // 0 to 4: how dark the box is shown
}

// pictureOfClass joins every student's latest measured drawing by the class's plan.
func pictureOfClass(j checkin.Job, checkIns []store.CheckIn) classPicture {
	view := classPicture{Columns: j.Plan.Grid.Columns, Rows: j.Plan.Grid.Rows}
	latest := checkin.Latest(checkIns, j.Fresh)
	view.Drawings = len(latest)
	all := accuracy.ClassPicture(latest)
	for _, b := range all {
		column, row, ok := j.Plan.Grid.Labels.Place(b.Label)
		if !ok {
			continue
		}
		view.Boxes = append(view.Boxes, shared{b, column, row, int(b.Share()*4 + 0.5)})
	}
	slices.SortFunc(view.Boxes, func(a, b shared) int { return cmp.Or(a.Y-b.Y, a.X-b.X) })
	view.Reteach, view.Parts = accuracy.Reteach(all), accuracy.SharedParts(latest)
	return view
}

func checkInPath(id uint64) string { return "/checkins/" + strconv.FormatUint(id, 10) }

// setComparing changes how exact a project is, what else it compares and which boxes it leaves free.
func (a area) setComparing(w http.ResponseWriter, r *http.Request, j checkin.Job) (err error) {
	p := j.Project
	l, c := accuracy.Looseness(r.FormValue("looseness")), accuracy.Compare(r.FormValue("compare"))
	if !slices.Contains(accuracy.Loosenesses, l) {
		return kit.Ask("Choose exact, normal or loose.")
	}
	if !slices.Contains(accuracy.Comparisons, c) {
		return kit.Ask("Choose what else to compare: nothing, the two halves folded or turned, or the views.")
	}
	free, err := j.Plan.Boxes(r.FormValue("free"))
	if err != nil {
		return kit.AskAt("free", "%s", kit.Sentence(err.Error()))
	}
	err = a.Store.Transaction(r.Context(), func(s *store.Store) error {
		if err := s.SetLooseness(r.Context(), p.TeacherID, p.ID, l); err != nil {
			return err
		}
		if err := s.SetFree(r.Context(), p.TeacherID, p.ID, free); err != nil {
			return err
		}
		return s.SetCompare(r.Context(), p.TeacherID, p.ID, c)
	})
	if err != nil {
		return err
	}
	return kit.Go(w, r, kit.ProjectPath(p)+"/check")
}

// tick ticks the boxes that the photo shows as drawn: all that are offered now.
func (a area) tick(w http.ResponseWriter, r *http.Request, c store.CheckIn, j checkin.Job) error {
	if !j.Fresh(c) {
		return kit.Ask("This photo is not measured by the present plan. Open it again first.")
	}
	if err := a.Store.TickBoxes(r.Context(), j.Project.TeacherID, c.ProjectID, c.StudentID, c.Gist.Drawn, true, c.CreatedAt); err != nil {
		return err
	}
	if r.FormValue("back") == "list" {
		return kit.Go(w, r, kit.ProjectPath(j.Project)+"/check")
	}
	return kit.Go(w, r, checkInPath(c.ID))
}

func (a area) remove(w http.ResponseWriter, r *http.Request, c store.CheckIn, j checkin.Job) error {
	if err := a.Store.RemoveCheckIn(r.Context(), j.Project.TeacherID, c.ID); err != nil {
		return err
	}
	return kit.Go(w, r, kit.ProjectPath(j.Project)+"/check")
}
