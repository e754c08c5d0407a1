// Package sharing lets colleagues at a project or a class, hands copies on, and
// takes project files in.
package sharing

import (
	"embed"
	"errors"
	"net/http"
	"strconv"
	"time"

	"zestysketch/internal/archive"
	"zestysketch/internal/room"
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
	r.Get("/projects/{project}/shares", store.Owns, kit.NoAudit, kit.With(a.Project, a.ofProject))
	r.Post("/projects/{project}/shares", store.Owns, "changed with whom a project is shared", kit.With(a.Project, a.shareProject))
	r.Get("/classes/{class}/shares", store.Owns, kit.NoAudit, kit.With(a.class, a.ofClass))
	r.Post("/classes/{class}/shares", store.Owns, "changed with whom a class is shared", kit.With(a.class, a.shareClass))
	r.Post("/projects/{project}/hand", store.Owns, "gave a colleague a copy of a project", kit.With(a.Project, a.hand))
	r.Give("/projects/{project}/project.zip", store.ToOwn, "exported a project", kit.With(a.Project, a.export))
	r.Take("/projects/file", kit.Archive(archive.MostBytes), store.Owns, "took a project file in", a.take)
}

// view is with whom something is shared, and with whom it may be.
type view struct {
	Name, Path string
	Project    *store.Project // nil for a class
	Shares     []shareView
	Colleagues []store.Teacher
	Given      string // to whom a copy was given just now
	Today      string // 2006-01-02
}

type shareView struct {
	store.Share
	Who, What, Days string
	Through         bool // it is of the project's class
}

// Levels returns the levels with what each lets a colleague do.
func (v view) Levels() []level {
	return []level{
		{store.ToLook, "to look: plans, wall, checks and reports, changing nothing"},
		{store.ToCover, "to cover: the wall, ticks, notes, photos and printing, as for a lesson in your place"},
		{store.ToOwn, "to own together: all but deleting, putting away and sharing on"},
	}
}

type level struct {
	Level store.Level
	Words string
}

// days puts into words from when to when.
func days(clock room.Clock, s store.Share) string {
	switch {
	case s.FromDay != nil && s.UntilDay != nil:
		return clock.Written(*s.FromDay) + " to " + clock.Written(*s.UntilDay)
	case s.FromDay != nil:
		return "from " + clock.Written(*s.FromDay)
	case s.UntilDay != nil:
		return "until " + clock.Written(*s.UntilDay)
	}
	return "from now on"
}

func (a area) view(r *http.Request, name, path string, list []store.Share, project *store.Project) (view, error) {
	clock := kit.Clock(r)
	v := view{Name: name, Path: path, Project: project, Today: clock.Date(time.Now())}
	for _, s := range list {
		v.Shares = append(v.Shares, shareView{s, s.Teacher.Name, kit.LevelWords(s.Level), days(clock, s), project != nil && s.ClassID != nil})
	}
	var err error
	v.Colleagues, err = a.Store.Colleagues(r.Context(), kit.Teacher(r))
	return v, err
}

func (a area) ofProject(w http.ResponseWriter, r *http.Request, p store.Project) (err error) {
	list, err := a.Store.SharesOf(r.Context(), p.ID)
	if err != nil {
		return err
	}
	v, err := a.view(r, p.Name, kit.ProjectPath(p), list, &p)
	if err != nil {
		return err
	}
	for _, t := range v.Colleagues {
		if r.URL.Query().Get("given") == strconv.FormatUint(t.ID, 10) {
			v.Given = t.Name
		}
	}
	return pages.Whole(w, r, "shares.html", p.Name+" · sharing", v)
}

func (a area) class(r *http.Request) (store.Class, error) {
	id, err := kit.ID(r, "class")
	if err != nil {
		return store.Class{}, err
	}
	return a.Store.Class(r.Context(), kit.Owner(r), id)
}

func (a area) ofClass(w http.ResponseWriter, r *http.Request, c store.Class) (err error) {
	list, err := a.Store.ClassShares(r.Context(), c.ID)
	if err != nil {
		return err
	}
	v, err := a.view(r, c.Name, "/classes/"+strconv.FormatUint(c.ID, 10), list, nil)
	if err != nil {
		return err
	}
	return pages.Whole(w, r, "shares.html", c.Name+" · sharing", v)
}

func (a area) shareProject(w http.ResponseWriter, r *http.Request, p store.Project) error {
	return a.change(w, r, store.Share{ProjectID: &p.ID}, kit.ProjectPath(p))
}

func (a area) shareClass(w http.ResponseWriter, r *http.Request, c store.Class) error {
	return a.change(w, r, store.Share{ClassID: &c.ID}, "/classes/"+strconv.FormatUint(c.ID, 10))
}

// change shares a thing, or ends one of its sharings.
func (a area) change(w http.ResponseWriter, r *http.Request, s store.Share, path string) error {
	if ended := r.FormValue("end"); ended != "" {
		id, err := kit.Number(ended)
		if err != nil {
			return err
		}
		// One that is ended already is as it was wanted.
		if err := a.Store.Unshare(r.Context(), kit.Owner(r), id); err != nil && !errors.Is(err, store.ErrNotFound) {
			return err
		}
		return kit.Go(w, r, path+"/shares")
	}
	if err := readShare(r, &s); err != nil {
		return err
	}
	err := a.Store.Share(r.Context(), kit.Owner(r), s)
	if errors.Is(err, store.ErrNotFound) {
		return kit.AskAt("with", "Choose a colleague from the list.")
	}
	if err != nil {
		return err
	}
	return kit.Go(w, r, path+"/shares")
}

// readShare reads with whom, how far and when.
func readShare(r *http.Request, s *store.Share) (err error) {
	if s.TeacherID, err = kit.Number(r.FormValue("with")); err != nil {
		return kit.AskAt("with", "Choose a colleague from the list.")
	}
	n, err := strconv.Atoi(r.FormValue("level"))
	if s.Level = store.Level(n); err != nil || s.Level < store.ToLook || s.Level > store.ToOwn {
		return kit.AskAt("level", "Choose to look, to cover, or to own together.")
	}
	day := func(field string) (*time.Time, error) {
		typed := kit.Tidy(r.FormValue(field))
		if typed == "" {
			return nil, nil
		}
		d, err := time.Parse(time.DateOnly, typed)
		if err != nil || d.Year() < 1970 || d.Year() > 9000 {
			return nil, kit.AskAt(field, "Write the day as 2026-12-31, or leave it empty.")
		}
		return &d, nil
	}
	if s.FromDay, err = day("from"); err != nil {
		return err
	}
	if s.UntilDay, err = day("until"); err != nil {
		return err
	}
	if s.FromDay != nil && s.UntilDay != nil && s.UntilDay.Before(*s.FromDay) {
		return kit.AskAt("until", "The last day is before the first. Change one of them.")
	}
	return nil
}

// hand gives a colleague a copy of their own.
func (a area) hand(w http.ResponseWriter, r *http.Request, p store.Project) (err error) {
	to, err := kit.Number(r.FormValue("to"))
	if err == nil {
		_, err = a.Store.GiveCopy(r.Context(), p.TeacherID, p.ID, to)
	}
	if errors.Is(err, store.ErrNotFound) {
		return kit.AskAt("to", "Choose a colleague from the list.")
	}
	if err != nil {
		return err
	}
	return kit.Go(w, r, kit.ProjectPath(p)+"/shares?given="+strconv.FormatUint(to, 10))
}

// export hands the project out as a file.
func (a area) export(w http.ResponseWriter, r *http.Request, p store.Project) error {
	w.Header().Set("Content-Type", "application/zip")
	w.Header().Set("Content-Disposition", kit.Attachment(p.Name, archive.Ending))
	return archive.Write(r.Context(), a.Store, p, w)
}

// take makes a project of a file.
func (a area) take(w http.ResponseWriter, r *http.Request) error {
	file, size, err := kit.OpenFile(r, "file")
	if err != nil {
		return err
	}
	p, err := archive.Take(r.Context(), a.Store, kit.Teacher(r).ID, file, size)
	if errors.Is(err, archive.ErrFile) {
		return kit.AskAt("file", "%s Nothing was taken in.", kit.Sentence(err.Error()))
	}
	if err != nil {
		return err
	}
	return kit.Go(w, r, kit.ProjectPath(p))
}
