// Package account is a teacher's own page: name, address, password, the second
// step of signing in, where they are signed in, and what they like.
package account

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

type area struct{ *kit.Kit }

// Routes adds the area's addresses.
func Routes(r kit.Routes, k *kit.Kit) {
	a := area{k}
	r.Get("/account", store.Owns, kit.NoAudit, a.show)
	r.Post("/account", store.Owns, "changed their own name or address", a.person)
	r.Post("/account/own", store.Owns, "changed their own units or paper", a.own)
	r.Post("/account/password", store.Owns, "changed their own password", a.password)
	r.Post("/account/everywhere", store.Owns, "signed out everywhere else", a.everywhere)
	r.Post("/account/signins/{signin}/end", store.Owns, "signed out elsewhere", kit.With(kit.IDOf("signin"), a.end))
	r.Get("/account/second", store.Owns, kit.NoAudit, a.second)
	r.Post("/account/second/keep", store.Owns, "asked for a code when signing in", a.keepSecond)
	r.Post("/account/second/end", store.Owns, "took the code at signing in away", a.endSecond)
}

// view is what the page shows.
type view struct {
	Me      store.Teacher
	Done    string // what was changed just now
	Papers  []string
	SignIns []signIn
	Words   int64 // that are left to sign in with
}

// signIn is one browser in words.
type signIn struct {
	store.SignIn
	Here         bool
	Since, Where string
	Seen         string
}

var done = map[string]string{"person": "Kept.", "own": "Kept.", "password": "The new password stands. You are signed out everywhere else.",
	"everywhere": "You are signed out everywhere else.", "end": "Signed out there.", "second": "From now on a code is asked for."}

func (a area) show(w http.ResponseWriter, r *http.Request) error {
	v := view{Me: kit.Teacher(r), Done: done[r.URL.Query().Get("done")], Papers: kit.Papers()}
	list, err := a.Store.SignIns(r.Context(), v.Me.ID, time.Now().UTC().Add(-kit.SessionLife))
	if err != nil {
		return err
	}
	clock := kit.Clock(r)
	for _, in := range list {
		v.SignIns = append(v.SignIns, signIn{in, in.ID == kit.SignInID(r), clock.Stamp(in.StartedAt), in.Address, clock.Stamp(in.SeenAt)})
	}
	if v.Me.SecondSecret != "" {
		if v.Words, err = a.Store.RecoveryWords(r.Context(), v.Me.ID); err != nil {
			return err
		}
	}
	return pages.Whole(w, r, "account.html", "My account", v)
}

func (a area) person(w http.ResponseWriter, r *http.Request) error {
	name, email := kit.Tidy(r.FormValue("name")), kit.Tidy(r.FormValue("email"))
	if err := kit.CheckPerson(name, email); err != nil {
		return err
	}
	if me := kit.Teacher(r); store.NormalAddress(email) != me.Email {
		if err := a.proved(r, r.FormValue("old")); err != nil {
			return err
		}
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

// own keeps the teacher's own units and paper; empty is the school's.
func (a area) own(w http.ResponseWriter, r *http.Request) error {
	units, paper := r.FormValue("units"), r.FormValue("paper")
	if err := kit.CheckHabits(units, paper, true); err != nil {
		return err
	}
	if err := a.Store.SetOwn(r.Context(), kit.Teacher(r).ID, units, paper); err != nil {
		return err
	}
	return kit.Go(w, r, "/account?done=own")
}

// proved wants the password of now; wrong ones are slowed as at the door.
func (a area) proved(r *http.Request, password string) error {
	me := kit.Teacher(r)
	suspects := a.Suspects(r, me.Email)
	leave, err := a.SignIns.Enter(r.Context(), suspects...)
	if err != nil {
		return err
	}
	defer leave()
	_, err = a.Store.SignIn(r.Context(), me.Email, password)
	if errors.Is(err, store.ErrNotFound) {
		if err := a.SignIns.Wrong(r.Context(), suspects...); err != nil {
			return err
		}
		return kit.AskAt("old", "That is not the password of now. Write it again.")
	}
	if err == nil {
		_, err = a.SignIns.Good(r.Context(), kit.Account(me.Email))
	}
	return err
}

func (a area) password(w http.ResponseWriter, r *http.Request) error {
	if err := a.proved(r, r.FormValue("old")); err != nil {
		return err
	}
	me := kit.Teacher(r)
	next, err := kit.NewPassword(r, "new", me.Name, me.Email, me.School.Name)
	if err != nil {
		return err
	}
	if err := a.Store.SetPassword(r.Context(), me.ID, next); err != nil {
		return err
	}
	if err := a.StartSession(r, me, store.IdentityProvider{}, 0); err != nil { // this browser's was ended too
		return err
	}
	return kit.Go(w, r, "/account?done=password")
}

// everywhere ends every sign-in but this one.
func (a area) everywhere(w http.ResponseWriter, r *http.Request) error {
	if err := a.Store.EndSignIns(r.Context(), kit.Teacher(r).ID, kit.SignInID(r)); err != nil {
		return err
	}
	return kit.Go(w, r, "/account?done=everywhere")
}

// end signs the teacher out on one browser.
func (a area) end(w http.ResponseWriter, r *http.Request, id uint64) error {
	if err := a.Store.EndSignIn(r.Context(), kit.Teacher(r).ID, id); err != nil {
		return err
	}
	return kit.Go(w, r, "/account?done=end")
}
