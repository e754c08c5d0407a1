// Package signin lets teachers in and out: at the door, on the first day, and by
// a link that somebody gave them.
package signin

import (
	"embed"
	"errors"
	"net/http"
	"strings"
	"time"

	"github.com/go-chi/chi/v5"

	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

//go:embed *.html
var files embed.FS

var pages = kit.NewPages(files)

type area struct{ *kit.Kit }

// form is what somebody at the door typed, and what is said of it.
type form struct {
	Email, Next, Wrong string
	Accounts           []store.IdentityProvider
	Only               bool // no school here takes passwords
}

// fewAccounts is how many places of accounts stand at the door at once; more are a press away (ours).
const fewAccounts = 4

// Few reports whether they are so few.
func (f form) Few() bool { return len(f.Accounts) <= fewAccounts }

// door shows the way in.
func (a area) door(w http.ResponseWriter, r *http.Request, status int, f form) (err error) {
	if f.Accounts, err = a.Store.IdentityProviders(r.Context(), 0); err != nil {
		return err
	}
	if len(f.Accounts) > 0 {
		if f.Only, err = a.Store.AccountsEverywhere(r.Context()); err != nil {
			return err
		}
	}
	return pages.WholeStatus(w, r, "signin.html", "Sign in", status, f)
}

// Routes adds the area's addresses.
func Routes(r chi.Router, k *kit.Kit) {
	a := area{k}
	r.Get("/signin", k.Handle(a.show))
	r.Post("/signin", k.Handle(a.enter))
	r.Get("/signin/second", k.Handle(a.showSecond))
	r.Post("/signin/second", k.Handle(a.second))
	r.Post("/signout", k.Handle(a.leave))
	r.Get("/signin/with/{provider}", k.Handle(a.elsewhere))
	r.With(k.MaybeSignedIn).Get("/signin/back", k.Handle(a.back))
	r.Get("/first", k.Handle(a.showFirst))
	r.Post("/first", k.Handle(a.first))
	r.Get("/join/{letters}", k.Handle(kit.With(a.invited, a.showJoin)))
	r.Post("/join/{letters}", k.Handle(kit.With(a.invited, a.join)))
}

// doorLimit is what a form at the door may hold: nobody is known there yet.
const doorLimit = 8 << 10

func readDoor(w http.ResponseWriter, r *http.Request) error {
	r.Body = http.MaxBytesReader(w, r.Body, doorLimit)
	if err := r.ParseForm(); err != nil {
		return kit.Ask("The form did not arrive whole. Check the connection and send it again.")
	}
	return nil
}

func (a area) show(w http.ResponseWriter, r *http.Request) error {
	if n, err := a.Store.CountTeachers(r.Context()); err != nil || n == 0 {
		if err != nil {
			return err
		}
		return kit.Go(w, r, "/first")
	}
	return a.door(w, r, http.StatusOK, form{Next: r.URL.Query().Get("next")})
}

func (a area) enter(w http.ResponseWriter, r *http.Request) error {
	if err := readDoor(w, r); err != nil {
		return err
	}
	f := form{Email: r.FormValue("email"), Next: r.FormValue("next")}
	suspects := a.Suspects(r, f.Email)
	leave, err := a.SignIns.Enter(r.Context(), suspects...)
	if trouble := (kit.Trouble{}); errors.As(err, &trouble) {
		f.Wrong = trouble.Message
		return a.door(w, r, trouble.Status, f)
	}
	if err != nil {
		return err
	}
	defer leave()
	t, err := a.Store.SignIn(r.Context(), f.Email, r.FormValue("password"))
	if errors.Is(err, store.ErrNotFound) {
		if err := a.SignIns.Wrong(r.Context(), suspects...); err != nil {
			return err
		}
		f.Wrong = "This address and password do not go together. Check both and try again."
		return a.door(w, r, http.StatusUnprocessableEntity, f)
	}
	if err == nil {
		err = a.byPassword(r, t.SchoolID)
	}
	if trouble := (kit.Trouble{}); errors.As(err, &trouble) {
		f.Wrong = trouble.Message
		return a.door(w, r, trouble.Status, f)
	}
	if err != nil {
		return err
	}
	if t.SecondSecret != "" {
		// Wrong tries before stay counted until the code is right too.
		return a.askSecondStep(w, r, t, store.IdentityProvider{}, f.Next)
	}
	return a.in(w, r, t, store.IdentityProvider{}, f.Next)
}

// in begins the session of a teacher who has shown all that is asked: by an account elsewhere,
// or, with none, by their password.
func (a area) in(w http.ResponseWriter, r *http.Request, t store.Teacher, by store.IdentityProvider, next string) error {
	wrong, err := a.SignIns.Good(r.Context(), kit.Account(t.Email))
	if err != nil {
		return err
	}
	if err := a.StartSession(r, t, by, wrong); err != nil {
		return err
	}
	if err := a.KnowBrowser(w, r, t.Email); err != nil {
		return err
	}
	return kit.Go(w, r, ownPath(next))
}

func (a area) showSecond(w http.ResponseWriter, r *http.Request) error {
	if _, _, err := a.AwaitingSecondStep(r, time.Now()); err != nil {
		return kit.Go(w, r, "/signin")
	}
	return pages.Whole(w, r, "second.html", "Sign in", form{Next: r.URL.Query().Get("next")})
}

// second takes the code, or a recovery word, of who has shown their password.
func (a area) second(w http.ResponseWriter, r *http.Request) error {
	if err := readDoor(w, r); err != nil {
		return err
	}
	t, by, err := a.AwaitingSecondStep(r, time.Now())
	if errors.Is(err, store.ErrNotFound) {
		return kit.Go(w, r, "/signin")
	}
	if err != nil {
		return err
	}
	suspect := "code of " + a.Suspects(r, t.Email)[0] // the account, or a browser of its that is known
	leave, err := a.Codes.Enter(r.Context(), suspect)
	if err != nil {
		return err
	}
	defer leave()
	err = a.Store.TakeSecond(r.Context(), t, r.FormValue("code"), time.Now())
	if errors.Is(err, store.ErrNotFound) {
		if err := a.Codes.Wrong(r.Context(), suspect); err != nil {
			return err
		}
		f := form{Next: r.FormValue("next"), Wrong: "That was not the code of now, or it was used already. Wait for the next one and write it."}
		return pages.WholeStatus(w, r, "second.html", "Sign in", http.StatusUnprocessableEntity, f)
	}
	if err != nil {
		return err
	}
	return a.in(w, r, t, by, r.FormValue("next"))
}

// ownPath returns next if it is a path of ours, else the first page: nobody is
// sent to another site from here.
func ownPath(next string) string {
	if !strings.HasPrefix(next, "/") || strings.HasPrefix(next, "//") || strings.ContainsAny(next, "\\\r\n\t") {
		return "/"
	}
	return next
}
