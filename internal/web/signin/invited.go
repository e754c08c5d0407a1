package signin

import (
	"errors"
	"net/http"

	"github.com/go-chi/chi/v5"

	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

// firstView is the page of the first day.
type firstView struct{ Form kit.SchoolForm }

// showFirst makes the school, once: where there is somebody already, they sign in.
func (a area) showFirst(w http.ResponseWriter, r *http.Request) error {
	n, err := a.Store.CountTeachers(r.Context())
	if err != nil {
		return err
	}
	if n > 0 {
		return kit.Go(w, r, "/signin")
	}
	return pages.Whole(w, r, "first.html", "The first day", firstView{kit.NewSchoolForm(store.NewSchool(""))})
}

// guarded says what became of a try with letters, and slows whoever guesses: good
// ones never wait.
func (a area) guarded(r *http.Request, try func() (store.Teacher, error)) (t store.Teacher, err error) {
	t, err = try()
	switch {
	case errors.Is(err, store.ErrTaken):
		err = kit.AskAt("email", "Somebody signs in with this address already. Write another.")
	case errors.Is(err, store.ErrNotFound):
		if slow := a.slowed(r); slow != nil {
			err = slow
		}
	}
	return t, err
}

// slowed counts a wrong try of the address and answers it late where there were many.
func (a area) slowed(r *http.Request) error {
	leave, err := a.SignIns.Enter(r.Context(), a.AddressOf(r))
	if err != nil {
		return err
	}
	defer leave()
	return a.SignIns.Wrong(r.Context(), a.AddressOf(r))
}

func (a area) first(w http.ResponseWriter, r *http.Request) error {
	if err := readDoor(w, r); err != nil {
		return err
	}
	place, err := kit.ReadSchool(r, store.NewSchool(""))
	if err != nil {
		return err
	}
	name, email := kit.Tidy(r.FormValue("name")), kit.Tidy(r.FormValue("email"))
	if err := kit.CheckPerson(name, email); err != nil {
		return err
	}
	password, err := kit.NewPassword(r, "password", name, email, place.Name)
	if err != nil {
		return err
	}
	t, err := a.guarded(r, func() (store.Teacher, error) {
		return a.Store.Begin(r.Context(), r.FormValue("word"), place, email, name, password)
	})
	if errors.Is(err, store.ErrNotFound) {
		return kit.AskAt("word", "That is not the word. The program printed it when it started, in its window or its log; start it again for a new one.")
	}
	if err != nil {
		return err
	}
	return a.in(w, r, t, store.IdentityProvider{}, "/")
}

// joinView is the page that an invitation opens.
type joinView struct {
	store.Invitation
	Letters string
	Reset   bool
}

// invited returns the invitation of the address, with the words for one that is over.
func (a area) invited(r *http.Request) (joinView, error) {
	v := joinView{Letters: chi.URLParam(r, "letters")}
	_, err := a.guarded(r, func() (t store.Teacher, err error) {
		v.Invitation, err = a.Store.Invited(r.Context(), v.Letters)
		return t, err
	})
	v.Reset = v.Kind == store.ToReset
	if errors.Is(err, store.ErrNotFound) || err == nil && v.Kind == store.ToBegin {
		return v, kit.Trouble{Status: http.StatusNotFound, Message: "This link was used already, or its time is over. Ask whoever looks after the school for a new one."}
	}
	if err == nil && v.Kind == store.ToJoin && v.SchoolID != nil {
		if a.byPassword(r, *v.SchoolID) != nil {
			err = kit.Trouble{Status: http.StatusForbidden, Message: "You are invited. At your school teachers sign in with the school's own accounts: open this program's first page and sign in there as " + v.Email + "."}
		}
	}
	return v, err
}

func (a area) showJoin(w http.ResponseWriter, r *http.Request, v joinView) error {
	return pages.Whole(w, r, "join.html", "Welcome", v)
}

// join makes the teacher who was invited, or gives somebody a new password.
func (a area) join(w http.ResponseWriter, r *http.Request, v joinView) (err error) {
	if err := readDoor(w, r); err != nil {
		return err
	}
	name := kit.Tidy(r.FormValue("name"))
	if !v.Reset {
		if err := kit.CheckPerson(name, v.Email); err != nil {
			return err
		}
	}
	password, err := kit.NewPassword(r, "password", name, v.Email)
	if err != nil {
		return err
	}
	if v.Reset {
		if err := a.Store.Reset(r.Context(), v.Letters, password); err != nil {
			return err
		}
		return kit.Go(w, r, "/signin")
	}
	t, err := a.guarded(r, func() (store.Teacher, error) { return a.Store.Join(r.Context(), v.Letters, name, password) })
	if err != nil {
		return err
	}
	return a.in(w, r, t, store.IdentityProvider{}, "/")
}
