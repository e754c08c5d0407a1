package today

import (
	"net/http"
	"time"

	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

// shelfView is what was put away or deleted, year by year.
type shelfView struct {
	Years   []shelfYear
	Deleted []shelved
}

type shelfYear struct {
	Year     int
	Projects []shelved
}

// shelved is one project with when it went.
type shelved struct {
	store.Project
	When string
	Left int // days in which it can be brought back
}

func (a area) shelf(w http.ResponseWriter, r *http.Request) error {
	list, err := a.Store.Shelf(r.Context(), kit.Owner(r))
	if err != nil {
		return err
	}
	var v shelfView
	clock := kit.Clock(r)
	for _, p := range list {
		if p.DeletedAt != nil {
			left := int(store.KeptDeleted.Hours()/24) - int(time.Since(*p.DeletedAt).Hours()/24)
			v.Deleted = append(v.Deleted, shelved{p, clock.Short(*p.DeletedAt), max(0, left)})
			continue
		}
		at := clock.At(*p.PutAwayAt)
		if n := len(v.Years); n == 0 || v.Years[n-1].Year != at.Year() {
			v.Years = append(v.Years, shelfYear{Year: at.Year()})
		}
		year := &v.Years[len(v.Years)-1]
		year.Projects = append(year.Projects, shelved{p, clock.Short(at), 0})
	}
	return pages.Whole(w, r, "shelf.html", "Put away", v)
}

// shelve does one thing with the project of the address, and goes to a page.
func (a area) shelve(w http.ResponseWriter, r *http.Request, to string, do func(teacher, project uint64) error) error {
	id, err := kit.ID(r, "project")
	if err != nil {
		return err
	}
	if err := do(kit.Owner(r), id); err != nil {
		return err
	}
	return kit.Go(w, r, to)
}

func (a area) away(w http.ResponseWriter, r *http.Request) error {
	return a.shelve(w, r, "/", func(teacher, id uint64) error { return a.Store.PutAway(r.Context(), teacher, id) })
}

func (a area) remove(w http.ResponseWriter, r *http.Request) error {
	return a.shelve(w, r, "/shelf", func(teacher, id uint64) error { return a.Store.DeleteProject(r.Context(), teacher, id) })
}

func (a area) back(w http.ResponseWriter, r *http.Request) error {
	return a.shelve(w, r, "/", func(teacher, id uint64) error { return a.Store.BringBack(r.Context(), teacher, id) })
}

// copy makes a project like this one without anybody's work, and opens it.
func (a area) copy(w http.ResponseWriter, r *http.Request, id uint64) (err error) {
	made, err := a.Store.CopyProject(r.Context(), kit.Owner(r), id, r.FormValue("class") != "none")
	if err != nil {
		return err
	}
	return kit.Go(w, r, kit.ProjectPath(store.Project{ID: made}))
}
