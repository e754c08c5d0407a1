package checks

import (
	"errors"
	"fmt"
	"io"
	"mime/multipart"
	"net/http"
	"strconv"
	"time"

	"zestysketch/internal/checkin"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/intake"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

// mostPhotos is how many photos are handed in at once, and roomForBatch the
// bytes of a batch that is sent without scripts.
const (
	mostPhotos   = 200
	roomForBatch = 2 << 30
	batchTime    = 10 * time.Minute
)

// Whoever hands one photo in waits this long for what it says; then it is found on
// the project's page.
const (
	waitFor   = 8 * time.Second
	waitLooks = 100 * time.Millisecond
)

// taken is what became of one photo, or of a drawing on it, in words.
type taken struct {
	Job     uint64 // 0 where there is none
	Name    string
	Words   string
	Path    string // of the check-in; empty where there is none
	Working bool   // it waits or is being measured
	Waiting bool   // in the tray
	Failed  bool
}

// takeIn takes photos in: each is kept as it comes and measured by a worker. What
// is wrong with one of them stops none of the others. A script is answered with a
// line for each photo and hears more on the live line.
func (a area) takeIn(w http.ResponseWriter, r *http.Request) error {
	project, err := a.Project(r)
	if err != nil {
		return err
	}
	if _, err := a.job(r); err != nil {
		return err
	}
	r.Body = http.MaxBytesReader(w, r.Body, roomForBatch)
	if err := http.NewResponseController(w).SetReadDeadline(time.Now().Add(batchTime)); err != nil && !errors.Is(err, http.ErrNotSupported) {
		return err
	}
	form, err := kit.NewParts(r)
	if err != nil {
		return kit.AskAt("photo", "Choose one or more photos first.")
	}
	b := batch{area: a, r: r, project: project, handed: checkin.Handed{Class: project.Chosen}}
	if err := b.readAll(form); err != nil {
		return err
	}
	return a.taken(w, r, project, b)
}

// readAll reads the parts of a form to its end.
func (b *batch) readAll(form *kit.Parts) error {
	for {
		part, err := form.Next()
		switch {
		case errors.Is(err, io.EOF):
			return nil
		case errors.As(err, &kit.Trouble{}):
			return err
		case err != nil:
			return kit.Ask("The photos did not arrive whole; those listed on this page did. Send the others again.")
		}
		if err := b.read(part); err != nil {
			return err
		}
	}
}

// taken answers with what was taken in.
func (a area) taken(w http.ResponseWriter, r *http.Request, project store.Project, b batch) error {
	switch {
	case len(b.jobs)+len(b.refused) == 0:
		return kit.AskAt("photo", "Choose one or more photos first: JPEG, PNG, GIF, WebP, TIFF or HEIC files.")
	case kit.IsFragment(r):
		lines, err := a.lines(r, project, b.jobs)
		if err != nil {
			return err
		}
		return pages.Part(w, r, "stack.html", "taken", http.StatusOK, append(lines, b.refused...))
	case len(b.jobs) == 0 && len(b.refused) == 1:
		return kit.Ask("“%s”: %s", b.refused[0].Name, b.refused[0].Words)
	case len(b.jobs) == 1 && len(b.refused) == 0:
		return a.answerOne(w, r, project, b.jobs[0])
	}
	view, err := a.stack(r)
	if err != nil {
		return err
	}
	view.Taken = append(view.Taken, b.refused...)
	return pages.Whole(w, r, "stack.html", project.Name+" · check", view)
}

// batch is what one request hands in.
type batch struct {
	area
	r       *http.Request
	project store.Project
	handed  checkin.Handed
	many    bool // these are some of many, for which nobody waits one by one
	jobs    []store.Job
	refused []taken
}

// read reads one part of the form. Its error is the server's, not the photo's.
func (b *batch) read(part *multipart.Part) (err error) {
	switch part.FormName() {
	case "many":
		b.many = true
	case "student":
		if b.handed.Student, err = whose(part); err != nil || b.handed.Student == 0 {
			return err
		}
		return b.Store.Belongs(b.r.Context(), b.project.TeacherID, b.project.ID, b.handed.Student)
	case "photo":
		if part.FileName() != "" {
			return b.photo(part)
		}
	}
	return nil
}

func (b *batch) photo(part *multipart.Part) error {
	b.handed.Name = intake.Name(part.FileName())
	refuse := func(words string) {
		b.refused = append(b.refused, taken{Name: b.handed.Name, Words: words, Failed: true})
	}
	if len(b.jobs)+len(b.refused) >= mostPhotos {
		refuse(fmt.Sprintf("Only %d photos at once. Send this one with the next batch.", mostPhotos))
		return nil
	}
	file, err := io.ReadAll(io.LimitReader(part, picture.MaxBytes+1))
	if err != nil {
		refuse("It did not arrive whole. Send it again.")
		return nil
	}
	if len(file) > picture.MaxBytes {
		refuse(fmt.Sprintf("The file is larger than %d MB. Make it smaller, or save it as JPEG.", picture.MaxBytes>>20))
		return nil
	}
	job, err := checkin.Queue(b.r.Context(), b.Store, b.project, b.handed, file, !b.many)
	if picture.Unreadable(err) {
		refuse(err.Error() + ".")
		return nil
	}
	if err == nil {
		b.jobs = append(b.jobs, job)
	}
	return err
}

// answerOne waits a little for the one photo that was handed in, and leads to what
// it says.
func (a area) answerOne(w http.ResponseWriter, r *http.Request, p store.Project, job store.Job) error {
	until := time.Now().Add(waitFor)
	for job.State == store.Queued || job.State == store.Running {
		if time.Now().After(until) {
			return kit.Go(w, r, kit.ProjectPath(p)+"/check")
		}
		select {
		case <-r.Context().Done():
			return r.Context().Err()
		case <-time.After(waitLooks):
		}
		now, err := a.Store.Job(r.Context(), p.TeacherID, job.ID)
		if err != nil {
			return err
		}
		job = now
	}
	if job.State == store.Failed {
		handed, _ := checkin.HandedOf(job) // it was read before
		if err := a.Store.CancelJob(r.Context(), p.TeacherID, job.ID); err != nil {
			return err
		}
		return kit.Ask("“%s”: %s", handed.Name, job.Message)
	}
	if len(job.Result) == 1 && job.Result[0].CheckIn != 0 {
		return kit.Go(w, r, checkInPath(job.Result[0].CheckIn))
	}
	return kit.Go(w, r, kit.ProjectPath(p)+"/check")
}

// lines says what became of photos.
func (a area) lines(r *http.Request, p store.Project, jobs []store.Job) (all []taken, err error) {
	var found []uint64
	for _, j := range jobs {
		for _, l := range j.Result {
			if l.CheckIn != 0 {
				found = append(found, l.CheckIn)
			}
		}
	}
	names, err := a.Store.NamesOf(r.Context(), p.TeacherID, found)
	if err != nil {
		return nil, err
	}
	for _, j := range jobs {
		handed, _ := checkin.HandedOf(j) // without a name where it cannot be read
		one := taken{Job: j.ID, Name: handed.Name}
		switch j.State {
		case store.Queued:
			one.Working, one.Words = true, "waits to be measured."
		case store.Running:
			one.Working, one.Words = true, "is being measured."
		case store.Failed:
			one.Failed, one.Words = true, j.Message
		}
		if j.State != store.Done {
			all = append(all, one)
			continue
		}
		for _, l := range j.Result {
			one.Words, one.Waiting = l.Words, l.CheckIn == 0
			if name, there := names[l.CheckIn]; there {
				one.Name, one.Path = name, checkInPath(l.CheckIn)
			}
			all = append(all, one)
		}
	}
	return all, nil
}

// mostAsked is how many photos' lines are asked for at once.
const mostAsked = 200

// linesOf answers with what became of the photos that the address names.
func (a area) linesOf(w http.ResponseWriter, r *http.Request, p store.Project) (err error) {
	ids := []uint64{}
	for _, text := range r.URL.Query()["job"] {
		if id, err := kit.Number(text); err == nil && len(ids) < mostAsked {
			ids = append(ids, id)
		}
	}
	jobs, err := a.Store.Photos(r.Context(), p.ID, ids)
	if err != nil {
		return err
	}
	lines, err := a.lines(r, p, jobs)
	if err != nil {
		return err
	}
	return pages.Part(w, r, "stack.html", "taken", http.StatusOK, lines)
}

// live is the line on which the page hears how far its photos are.
func (a area) live(w http.ResponseWriter, r *http.Request, p store.Project) error {
	return a.Line(w, r, p.ID, func(io.Writer) {}, func(c kit.Changed) string {
		if c.Job == 0 {
			return ""
		}
		return "job"
	})
}

func whose(part *multipart.Part) (uint64, error) {
	text, err := io.ReadAll(io.LimitReader(part, 30))
	if err != nil || len(text) == 0 || string(text) == "0" {
		return 0, nil
	}
	student, err := strconv.ParseUint(string(text), 10, 63)
	if err != nil {
		return 0, kit.AskAt("student", "Choose whose drawing this is, or leave it to the corner tags.")
	}
	return student, nil
}

// stray returns the waiting photo of the address and its project.
func (a area) stray(r *http.Request) (store.Stray, store.Project, error) {
	id, err := kit.ID(r, "stray")
	if err != nil {
		return store.Stray{}, store.Project{}, err
	}
	x, err := a.Store.Stray(r.Context(), kit.Owner(r), id)
	if err != nil {
		return x, store.Project{}, err
	}
	p, err := a.Store.Project(r.Context(), kit.Owner(r), x.ProjectID)
	return x, p, err
}

// claim says whose drawing a waiting photo shows.
func (a area) claim(w http.ResponseWriter, r *http.Request, x store.Stray, p store.Project) (err error) {
	student, err := strconv.ParseUint(r.FormValue("student"), 10, 63)
	if err != nil || student == 0 {
		return kit.AskAt("student", "Choose whose drawing this is.")
	}
	if err := a.Store.Belongs(r.Context(), p.TeacherID, p.ID, student); err != nil {
		return err
	}
	c, err := checkin.Claim(r.Context(), a.Store, p, x, student)
	if err != nil {
		return err
	}
	return kit.Go(w, r, checkInPath(c.ID))
}

func (a area) removeStray(w http.ResponseWriter, r *http.Request, x store.Stray, p store.Project) error {
	if err := a.Store.RemoveStray(r.Context(), x); err != nil {
		return err
	}
	return kit.Go(w, r, kit.ProjectPath(p)+"/check")
}
