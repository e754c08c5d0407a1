package printroom

import (
	"html/template"
	"net/http"
	"net/url"
	"strconv"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/sheet"
	"zestysketch/internal/press"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

// queue queues a class set.
func (a area) queue(w http.ResponseWriter, r *http.Request, p store.Project, _ grid.Plan) (err error) {
	spec, err := readSpec(r).Check()
	if err != nil {
		return asked(err)
	}
	if p.Class == nil || len(p.Class.Students) == 0 {
		if spec.Spare == 0 {
			return kit.Ask("This project has no students yet. Choose a class on the wall, or print spare sets without names.")
		}
	} else if !spec.Everyone && len(spec.Students) == 0 && spec.Spare == 0 {
		return kit.Ask("Choose for whom: everyone, some students, or spare sets.")
	}
	if _, err := press.Load(r.Context(), a.Store, p, spec); err != nil {
		return asked(err)
	}
	spec.Base, spec.Class = a.Base(r), p.Chosen
	job := store.Job{ProjectID: p.ID, Kind: store.SetJob, Urgent: true, Spec: spec.JSON()}
	if err := a.Store.AddJob(r.Context(), p.TeacherID, &job); err != nil {
		return err
	}
	if err := a.Store.Printed(r.Context(), p); err != nil {
		return err
	}
	return a.answerJobs(w, r, p)
}

// jobs answers with the list of jobs, which asks again while one is at work.
func (a area) jobs(w http.ResponseWriter, r *http.Request, p store.Project) error {
	return a.answerJobs(w, r, p)
}

func (a area) answerJobs(w http.ResponseWriter, r *http.Request, p store.Project) error {
	if !kit.IsFragment(r) {
		return kit.Go(w, r, kit.ProjectPath(p)+"/print")
	}
	jobs, err := a.jobsOf(r, p)
	if err != nil {
		return err
	}
	return pages.Part(w, r, "room.html", "jobs", http.StatusOK, room{Project: p, Jobs: jobs})
}

func (a area) cancel(w http.ResponseWriter, r *http.Request, id uint64) (err error) {
	teacher := kit.Owner(r)
	job, err := a.Store.Job(r.Context(), teacher, id)
	if err != nil {
		return err
	}
	if err := a.Store.CancelJob(r.Context(), teacher, id); err != nil {
		return err
	}
	p, err := a.Store.Project(r.Context(), teacher, job.ProjectID)
	if err != nil {
		return err
	}
	return a.answerJobs(w, r, p)
}

func (a area) file(w http.ResponseWriter, r *http.Request, id uint64) (err error) {
	job, err := a.Store.Job(r.Context(), kit.Owner(r), id)
	if err != nil {
		return err
	}
	file, err := a.Store.SetBlob(r.Context(), job.ID)
	if err != nil {
		return err
	}
	w.Header().Set("Content-Disposition", kit.Attachment("Class set "+strconv.FormatUint(id, 10), "pdf"))
	return kit.SendBlob(w, r, file)
}

// sets returns the sets to choose from, on the paper in use.
func (a area) sets(r *http.Request, now press.Spec) (views []setView, err error) {
	for _, ready := range press.Ready {
		views = append(views, newSetView(0, ready.Name, ready.Spec, now))
	}
	saved, err := a.Store.PrintSets(r.Context(), kit.Owner(r))
	if err != nil {
		return nil, err
	}
	for _, s := range saved {
		if spec, err := press.Parse(s.Spec); err == nil {
			views = append(views, newSetView(s.ID, s.Name, spec, now))
		}
	}
	return views, nil
}

func newSetView(id uint64, name string, spec, now press.Spec) setView {
	spec.Paper, spec.Printer, spec.Everyone = now.Paper, now.Printer, true
	return setView{id, name, spec.KindNames(), address(spec)}
}

// address writes a choice as readSpec reads it.
func address(spec press.Spec) template.URL {
	q := url.Values{"paper": {spec.Paper}, "printer": {strconv.FormatUint(spec.Printer, 10)}, "chosen": {"1"}, "solid": {spec.Solid}, "depth": {spec.Depth},
		"views": {strconv.Itoa(spec.Views)}, "round": {strconv.Itoa(spec.Round)}, "spare": {strconv.Itoa(spec.Spare)}}
	if spec.Everyone {
		q.Set("who", "everyone")
	}
	if spec.Share != sheet.Alone {
		q.Set("share", string(spec.Share))
	}
	if spec.Help != "" {
		q.Set("help", spec.Help)
	}
	for _, id := range spec.Students {
		q.Add("student", strconv.FormatUint(id, 10))
	}
	for _, k := range spec.Kinds {
		q.Add("kind", string(k))
	}
	for field, on := range map[string]bool{"grey": spec.Grey, "upside_down": spec.UpsideDown,
		"mirrored": spec.Mirrored, "faded": spec.Faded, "marks_only": spec.MarksOnly, "all_boxes": spec.AllBoxes,
		"by_page": spec.ByPage, "duplex": spec.Duplex} {
		if on {
			q.Set(field, "1")
		}
	}
	return template.URL(q.Encode()) // escaped by Encode
}

const longestSetName = 40

func (a area) saveSet(w http.ResponseWriter, r *http.Request, p store.Project) (err error) {
	spec, err := readSpec(r).Check()
	if err != nil {
		return asked(err)
	}
	name := r.FormValue("set_name")
	if name == "" || len([]rune(name)) > longestSetName {
		return kit.AskAt("set_name", "Write a name for the set, such as lesson two, of at most %d letters.", longestSetName)
	}
	spec.Students, spec.Everyone, spec.Base = nil, true, ""
	if err := a.Store.AddPrintSet(r.Context(), &store.PrintSet{TeacherID: p.TeacherID, Name: name, Spec: spec.JSON()}); err != nil {
		return err
	}
	return kit.Go(w, r, kit.ProjectPath(p)+"/print?"+r.Form.Encode())
}

func (a area) removeSet(w http.ResponseWriter, r *http.Request, id uint64) error {
	if err := a.Store.RemovePrintSet(r.Context(), kit.Owner(r), id); err != nil {
		return err
	}
	if kit.IsFragment(r) {
		w.WriteHeader(http.StatusOK) // htmx takes the row away
		return nil
	}
	return kit.Go(w, r, "/")
}

// job is a class set with when it was asked for, by the school's clock.
type job struct {
	store.Job
	ISO, At string
}

// jobsOf returns a project's jobs.
func (a area) jobsOf(r *http.Request, p store.Project) (list []job, err error) {
	jobs, err := a.Store.Jobs(r.Context(), p.ID, store.SetJob)
	clock := kit.Clock(r)
	for _, one := range jobs {
		list = append(list, job{one, clock.ISO(one.CreatedAt), clock.Short(one.CreatedAt) + clock.At(one.CreatedAt).Format(", 15:04")})
	}
	return list, err
}
