package signin

import (
	"errors"
	"fmt"
	"net/http"
	"net/url"
	"time"

	"zestysketch/internal/identity"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

// errOnlyAccounts is that of a password at a school whose teachers sign in by accounts elsewhere.
var errOnlyAccounts = kit.Trouble{Status: http.StatusForbidden,
	Message: "At your school teachers sign in with the school's own accounts, by the button above. Should that not work, whoever keeps the machine lets passwords in again."}

// byPassword says whether a school lets its teachers in by passwords.
func (a area) byPassword(r *http.Request, school uint64) error {
	only, err := a.Store.AccountsOnly(r.Context(), school)
	if err == nil && only {
		return errOnlyAccounts
	}
	return err
}

// elsewhere sends a browser to sign in by an account.
func (a area) elsewhere(w http.ResponseWriter, r *http.Request) error {
	id, err := kit.ID(r, "provider")
	if err != nil {
		return err
	}
	p, err := a.Store.IdentityProvider(r.Context(), 0, id)
	if err != nil {
		return err
	}
	err = a.SendOut(w, r, p, kit.Errand{Next: ownPath(r.URL.Query().Get("next"))})
	return a.atDoor(w, r, err)
}

// atDoor shows at the door why an account let nobody in.
func (a area) atDoor(w http.ResponseWriter, r *http.Request, err error) error {
	trouble := identity.Trouble{}
	if !errors.As(err, &trouble) {
		return err
	}
	a.Log.Warn("sign-in by an account", "what", trouble.Words, "because", trouble.Err)
	return a.door(w, r, http.StatusUnprocessableEntity, form{Wrong: trouble.Words})
}

// back takes who comes back from a provider.
func (a area) back(w http.ResponseWriter, r *http.Request) error {
	e := a.TakeErrand(r)
	if e.Provider == 0 {
		return a.atDoor(w, r, identity.Trouble{Words: "This way in was used already, took too long, or was begun in another browser. Begin again."})
	}
	p, err := a.Store.IdentityProvider(r.Context(), 0, e.Provider)
	if err != nil {
		return err
	}
	who, err := a.Accounts.End(r.Context(), kit.ProviderOf(p), e.Back, e.Errand, r.URL.Query())
	if e.Trial {
		return a.tried(w, r, p, who, err)
	}
	if err != nil {
		return a.atDoor(w, r, err)
	}
	t, err := a.Store.SignInByAccount(r.Context(), p, accountOf(p, who))
	if err := unknown(p, who, err); err != nil {
		return a.atDoor(w, r, err)
	}
	if t.SecondSecret != "" && !who.SecondStep {
		return a.askSecondStep(w, r, t, p, e.Next)
	}
	return a.in(w, r, t, p, e.Next)
}

func accountOf(p store.IdentityProvider, who identity.Person) store.Account {
	return store.Account{Subject: who.Subject, Email: who.Email, Name: kit.Tidy(who.Name), Verified: who.Verified, Admin: who.Has(p.AdminClaim, p.AdminValue)}
}

// unknown says why an account is nobody's here; nil where it is somebody's.
func unknown(p store.IdentityProvider, who identity.Person, err error) error {
	words := ""
	switch {
	case err == nil:
		return nil
	case errors.Is(err, store.ErrNoEmail):
		words = fmt.Sprintf("%s does not say which e-mail this account has. Whoever keeps %s lets it tell this program the e-mail.", p.Name, p.Name)
	case errors.Is(err, store.ErrUnverified):
		words = fmt.Sprintf("%s has not confirmed that %s is this account's e-mail. Confirm it there, then begin again.", p.Name, who.Email)
	case errors.Is(err, store.ErrDisabled):
		words = "This teacher may not sign in now. An administrator of the school lets them in again."
	case errors.Is(err, store.ErrNotFound):
		words = fmt.Sprintf("Nobody here has the e-mail %s. Ask whoever looks after the school to invite you, then begin again.", who.Email)
	case errors.Is(err, store.ErrAccount):
		words = fmt.Sprintf("The account's name or e-mail %s.", err)
	default:
		return err
	}
	return identity.Trouble{Words: words, Err: err}
}

// trialView is what came back to an administrator who tried a provider.
type trialView struct {
	Provider store.IdentityProvider
	Who      identity.Person
	Wrong    string
	As       string // whom the account would sign in, in words
	Admin    bool
	Second   bool // a code of ours would be asked for
}

// tried shows an administrator what a provider says of an account, and whom it would let in.
func (a area) tried(w http.ResponseWriter, r *http.Request, p store.IdentityProvider, who identity.Person, err error) error {
	me := kit.Teacher(r)
	if !me.Admin || me.SchoolID != p.SchoolID {
		return store.ErrNotFound
	}
	v := trialView{Provider: p, Who: who, Admin: who.Has(p.AdminClaim, p.AdminValue)}
	if err == nil {
		var t store.Teacher
		var made bool
		t, made, err = a.Store.TryAccount(r.Context(), p, accountOf(p, who))
		v.As = t.Name
		if made {
			v.As += ", a teacher who would be made"
		}
		v.Second = t.SecondSecret != "" && !who.SecondStep
		err = unknown(p, who, err)
	}
	trouble := identity.Trouble{}
	if err != nil && !errors.As(err, &trouble) {
		return err
	}
	v.Wrong = trouble.Words
	return pages.Whole(w, r, "trial.html", "Trial of "+p.Name, v)
}

// askSecondStep asks for the second step of a teacher who has shown who they are.
func (a area) askSecondStep(w http.ResponseWriter, r *http.Request, t store.Teacher, by store.IdentityProvider, next string) error {
	if err := a.AwaitSecondStep(r, t, by, time.Now()); err != nil {
		return err
	}
	return kit.Go(w, r, "/signin/second?next="+url.QueryEscape(ownPath(next)))
}

// goneView is the page after signing out here, with where to sign out elsewhere too.
type goneView struct{ Name, Leave string }

// leave signs out; where somebody came by an account elsewhere, they may sign out there too.
func (a area) leave(w http.ResponseWriter, r *http.Request) error {
	by, err := a.EndSession(r)
	if err != nil {
		return err
	}
	if by > 0 {
		p, err := a.Store.IdentityProvider(r.Context(), 0, by)
		if err != nil && !errors.Is(err, store.ErrNotFound) {
			return err
		}
		if leave := a.Accounts.Leave(r.Context(), kit.ProviderOf(p), a.Here(r)+"/signin"); err == nil && leave != "" {
			return pages.Whole(w, r, "gone.html", "Signed out", goneView{p.Name, leave})
		}
	}
	return kit.Go(w, r, "/signin")
}
