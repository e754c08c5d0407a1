// Package account is a teacher's own page: name, address, password, and signing
// out everywhere.
package account

import (
	"embed"
	"errors"
	"net/http"

	"github.com/go-chi/chi/v5"

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
	r.Get("/account", k.Handle(a.show))
	r.Post("/account", k.Handle(a.person))
	r.Post("/account/password", k.Handle(a.password))
	r.Post("/account/everywhere", k.Handle(a.everywhere))
}

// view is what the page shows.
type view struct {
	Me   store.Teacher
	Done string // what was changed just now
}

var done = map[string]string{"person": "Kept.", "password": "The new password stands. You are signed out everywhere else.", "everywhere": "You are signed out everywhere else."}

func (a area) show(w http.ResponseWriter, r *http.Request) error {
	return pages.Whole(w, r, "account.html", "My account", view{kit.Teacher(r), done[r.URL.Query().Get("done")]})
}

func (a area) person(w http.ResponseWriter, r *http.Request) error {
	if err := kit.ReadForm(w, r); err != nil {
		return err
	}
	name, email := kit.Tidy(r.FormValue("name")), kit.Tidy(r.FormValue("email"))
	if err := store.CheckPerson(name, email); err != nil {
		field := "email"
		if store.CheckPerson(name, "a@b") != nil {
			field = "name"
		}
		return kit.AskAt(field, "%s", kit.Said(err))
	}
	err := a.Store.SetPerson(r.Context(), kit.Teacher(r).ID, name, email)
	if errors.Is(err, store.ErrTaken) {
		return kit.AskAt("email", "Somebody signs in with this address already. Write another.")
	}
	if err != nil {
		return err
	}
	return kit.Go(w, r, "/account?done=person")
}

// password wants the old password first; wrong ones are slowed as at the door.
func (a area) password(w http.ResponseWriter, r *http.Request) error {
	if err := kit.ReadForm(w, r); err != nil {
		return err
	}
	me := kit.Teacher(r)
	account, address := "account "+me.Email, "address "+a.Proxies.From(r)
	leave, err := a.SignIns.Enter(r.Context(), account, address)
	if err != nil {
		return err
	}
	defer leave()
	if _, err := a.Store.SignIn(r.Context(), me.Email, r.FormValue("old")); errors.Is(err, store.ErrNotFound) {
		a.SignIns.Wrong(account, address)
		return kit.AskAt("old", "That is not the password of now. Write it again.")
	} else if err != nil {
		return err
	}
	a.SignIns.Good(account)
	next := r.FormValue("new")
	if err := store.CheckPassword(next, me.Name, me.Email, me.School.Name); err != nil {
		return kit.AskAt("new", "%s", kit.Said(err))
	}
	if next != r.FormValue("again") {
		return kit.AskAt("again", "The two are not alike. Write the new password once more.")
	}
	if err := a.Store.SetPassword(r.Context(), me.ID, next); err != nil {
		return err
	}
	return a.stay(w, r, "password")
}

// everywhere ends every session but this one.
func (a area) everywhere(w http.ResponseWriter, r *http.Request) error {
	if err := a.Store.EndSessions(r.Context(), kit.Teacher(r).ID); err != nil {
		return err
	}
	return a.stay(w, r, "everywhere")
}

// stay begins this browser's session anew, after all were ended.
func (a area) stay(w http.ResponseWriter, r *http.Request, what string) error {
	me, err := a.Store.Teacher(r.Context(), kit.Teacher(r).ID)
	if err != nil {
		return err
	}
	if err := a.StartSession(r, me, 0); err != nil {
		return err
	}
	return kit.Go(w, r, "/account?done="+what)
}
