// Package school is for those who look after the school: its settings, its people,
// who did what, and its backups.
package school

import (
	"embed"
	"errors"
	"net/http"
	"time"

	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

//go:embed *.html
var files embed.FS

var pages = kit.NewPages(files)

type area struct {
	*kit.Kit
	backups Backups
}

// Routes adds the area's addresses: to others than administrators they are not there.
func Routes(r kit.Routes, k *kit.Kit, backups Backups) {
	a := area{k, backups}
	r = r.With(a.administrators)
	r.Get("/school", store.Owns, kit.NoAudit, a.show)
	r.Post("/school", store.Owns, "changed the school's settings", a.keep)
	r.Get("/school/people", store.Owns, kit.NoAudit, kit.With(a.peopleView, a.people))
	r.Post("/school/people", store.Owns, "invited a colleague", a.invite)
	r.Post("/school/people/withdraw", store.Owns, "withdrew an invitation", a.withdraw)
	r.Post("/school/people/{person}/reset", store.Owns, "made a link for a new password", kit.With(a.person, a.reset))
	r.Post("/school/people/{person}/admin", store.Owns, "changed who is an administrator", kit.With(a.person, a.admin))
	r.Post("/school/people/{person}/disable", store.Owns, "let a colleague sign in no more, or again", kit.With(a.person, a.disable))
	r.Post("/school/people/{person}/hand", store.Owns, "handed classes on", kit.With(a.person, a.hand))
	r.Post("/school/people/{person}/open", store.Owns, "opened a colleague's class", kit.With(a.person, a.open))
	r.Get("/school/accounts", store.Owns, kit.NoAudit, a.accounts)
	r.Post("/school/accounts", store.Owns, "changed where the school has its accounts", a.keepAccounts)
	r.Post("/school/accounts/only", store.Owns, "changed whether passwords let in", a.accountsOnly)
	r.Get("/school/accounts/{provider}/look", store.Owns, kit.NoAudit, kit.With(a.provider, a.look))
	r.Get("/school/accounts/{provider}/trial", store.Owns, kit.NoAudit, kit.With(a.provider, a.trial))
	r.Post("/school/accounts/{provider}/remove", store.Owns, "removed a place of accounts", kit.With(a.provider, a.dropAccounts))
	r.Get("/school/lists", store.Owns, kit.NoAudit, a.lists)
	r.Take("/school/lists", kit.List, store.Owns, kit.NoAudit, a.compareList)
	r.Take("/school/lists/take", kit.List, store.Owns, "took the school's lists in", a.takeList)
	r.Get("/school/deeds", store.Owns, kit.NoAudit, a.auditLog)
	r.Give("/school/deeds.csv", store.Owns, "exported who did what", a.auditCSV)
	r.Get("/school/backups", store.Owns, kit.NoAudit, a.listBackups)
	r.Give("/school/backups/{backup}", store.Owns, "downloaded a backup", a.backup)
	r.Post("/school/backups/{backup}/restore", store.Owns, "brought the school back as a backup has it", a.bringBack)
	r.Post("/school/backups/now", store.Owns, "had a backup made", a.backUpNow)
	r.Post("/school/backups/gone", store.Owns, "said that backups are gone", a.backupsGone)
}

func (a area) administrators(next http.Handler) http.Handler {
	return a.Handle(func(w http.ResponseWriter, r *http.Request) error {
		if !kit.Teacher(r).Admin {
			return store.ErrNotFound
		}
		next.ServeHTTP(w, r)
		return nil
	})
}

// tabs are the area's pages.
func tabs(here string) kit.Tabs {
	return kit.NewTabs("The school", here, "Settings", "/school", "People", "/school/people", "Lists", "/school/lists", "Accounts", "/school/accounts", "Who did what", "/school/deeds", "Backups", "/school/backups")
}

// settings is what the first page shows.
type settings struct {
	Tabs kit.Tabs
	Form kit.SchoolForm
	Here string // the address of now
	Off  string // days that all classes have off
	Done bool
}

func (a area) show(w http.ResponseWriter, r *http.Request) error {
	v := settings{tabs("/school"), kit.NewSchoolForm(kit.Teacher(r).School), a.Base(r), kit.Stretches(kit.Teacher(r).School.Holidays), r.URL.Query().Has("done")}
	return pages.Whole(w, r, "school.html", "The school", v)
}

func (a area) keep(w http.ResponseWriter, r *http.Request) error {
	place, err := kit.ReadSchool(r, kit.Teacher(r).School)
	if err != nil {
		return err
	}
	if place.PhotoMonths, err = kit.ReadMonths(r, "photo_months"); err != nil {
		return err
	}
	if place.NoteMonths, err = kit.ReadMonths(r, "note_months"); err != nil {
		return err
	}
	if place.Address, err = kit.ReadAddress(r.FormValue("address")); err != nil {
		return err
	}
	if place.Holidays, err = kit.ReadDays("holidays", r.FormValue("holidays"), kit.Clock(r).Day(time.Now())); err != nil {
		return err
	}
	if err := a.Store.SetSchool(r.Context(), place); err != nil {
		return err
	}
	return kit.Go(w, r, "/school?done")
}

// person returns the colleague in the address.
func (a area) person(r *http.Request) (store.Teacher, error) {
	id, err := kit.ID(r, "person")
	if err != nil {
		return store.Teacher{}, err
	}
	return a.Store.Colleague(r.Context(), kit.Teacher(r).SchoolID, id)
}

// last turns the error of a school that would have nobody into words.
func last(err error) error {
	if errors.Is(err, store.ErrLast) {
		return kit.Ask("%s", kit.Sentence(err.Error()))
	}
	return err
}

func (a area) admin(w http.ResponseWriter, r *http.Request, t store.Teacher) error {
	if err := a.Store.SetAdmin(r.Context(), t.SchoolID, t.ID, r.FormValue("on") == "1"); err != nil {
		return last(err)
	}
	return kit.Go(w, r, "/school/people")
}

func (a area) disable(w http.ResponseWriter, r *http.Request, t store.Teacher) error {
	var at *time.Time
	if r.FormValue("on") == "1" {
		now := time.Now().UTC()
		at = &now
	}
	if err := a.Store.Disable(r.Context(), t.SchoolID, t.ID, at); err != nil {
		return last(err)
	}
	return kit.Go(w, r, "/school/people")
}
