package kit

import (
	"context"
	"errors"
	"net/http"
	"net/url"
	"time"

	"zestysketch/internal/room"
	"zestysketch/internal/store"
)

// caller is who asks, and whose things the address names.
type caller struct {
	store.SignIn
	owner     uint64
	ownerName string
	level     store.Level
}

type callerKey struct{}

// A session ends after a school day, or when it was idle for a double lesson.
const (
	SessionLife = 12 * time.Hour
	SessionIdle = 3 * time.Hour
)

// What the session keeps: the number of the sign-in; the teacher whose password
// was right and whose second step is still to come, and since when; how many
// wrong tries there were.
const (
	sessionSignIn   = "signin"
	sessionSecond   = "second"
	sessionSecondAt = "half-at"
	sessionSecondOf = "half-of" // of which password
	sessionSecondBy = "half-by" // by which account elsewhere, 0 for none
	sessionWrong    = "wrong"
)

func callerOf(r *http.Request) caller {
	c, _ := r.Context().Value(callerKey{}).(caller)
	return c
}

// Teacher returns the signed-in teacher; the zero Teacher outside SignedIn.
func Teacher(r *http.Request) store.Teacher { return callerOf(r).Teacher }

// Owner returns whose the thing in the address is: a colleague's number where they
// share it and the teacher may do with it what the route does, else the teacher's
// own. Everything that a handler asks of the store about it is asked for Owner.
func Owner(r *http.Request) uint64 { return callerOf(r).owner }

// Owns reports whether the thing in the address is the teacher's own: a colleague who
// owns it together sees nothing of what else its owner has.
func Owns(r *http.Request) bool { return callerOf(r).level == store.Owns }

// MayKeep reports whether a teacher may change what they look at, not only run its lessons.
func MayKeep(r *http.Request) bool { return callerOf(r).level >= store.ToOwn }

// MayCover reports whether the teacher may tick, note and take photos in.
func MayCover(r *http.Request) bool { return callerOf(r).level >= store.ToCover }

// HasShares reports whether colleagues share something with the teacher, on some day.
func HasShares(r *http.Request) bool { return callerOf(r).Shared }

// SignInID returns the number of the sign-in that a request comes by.
func SignInID(r *http.Request) uint64 { return callerOf(r).ID }

// ByAccount reports whether the teacher signed in by an account elsewhere.
func ByAccount(r *http.Request) bool { return callerOf(r).ProviderID != nil }

// Clock returns the clock of the signed-in teacher's school.
func Clock(r *http.Request) room.Clock { return room.ClockOf(Teacher(r).School) }

// SignedIn lets only teachers through. Others are sent to sign in and come
// back; a fragment answers 401, and the page says so without losing what was typed.
func (k *Kit) SignedIn(next http.Handler) http.Handler { return k.known(next, askToSignIn) }

// MaybeSignedIn lets everybody through, teachers with their name.
func (k *Kit) MaybeSignedIn(next http.Handler) http.Handler { return k.known(next, next.ServeHTTP) }

// known goes on with the teacher of the session, or answers with other.
func (k *Kit) known(next http.Handler, other http.HandlerFunc) http.Handler {
	return k.Handle(func(w http.ResponseWriter, r *http.Request) error {
		in, err := k.signIn(r)
		if errors.Is(err, store.ErrNotFound) {
			other(w, r)
			return nil
		}
		if err != nil {
			return err
		}
		w.Header().Set("Cache-Control", "no-store")
		c := caller{SignIn: in, owner: in.TeacherID, ownerName: in.Teacher.Name, level: store.Owns}
		next.ServeHTTP(w, r.WithContext(context.WithValue(r.Context(), callerKey{}, c)))
		return nil
	})
}

// signIn returns the sign-in of the session, ErrNotFound where there is none or it
// was ended since.
func (k *Kit) signIn(r *http.Request) (store.SignIn, error) {
	id := k.Sessions.GetInt64(r.Context(), sessionSignIn)
	if id <= 0 {
		return store.SignIn{}, store.ErrNotFound
	}
	return k.Store.SignedIn(r.Context(), uint64(id))
}

// Stands reports whether the session that a long answer began with is still there.
func (k *Kit) Stands(r *http.Request) bool {
	_, found, err := k.Sessions.Store.Find(k.Sessions.Token(r.Context()))
	if err != nil || !found {
		return err != nil // a database that is away ends nobody's session
	}
	_, err = k.signIn(r)
	return !errors.Is(err, store.ErrNotFound)
}

func askToSignIn(w http.ResponseWriter, r *http.Request) {
	if IsFragment(r) {
		http.Error(w, "signed out", http.StatusUnauthorized)
		return
	}
	back := "/"
	if r.Method == http.MethodGet {
		back = r.URL.RequestURI()
	}
	http.Redirect(w, r, "/signin?next="+url.QueryEscape(back), http.StatusSeeOther)
}

// wrongTries is how many wrong tries a teacher is told of: fewer are one's own.
const wrongTries = 5

// StartSession signs a teacher in under a fresh token, by an account elsewhere or, with none, by
// their password; they are told of many wrong tries before.
func (k *Kit) StartSession(r *http.Request, t store.Teacher, by store.IdentityProvider, wrong int) error {
	if err := k.Sessions.RenewToken(r.Context()); err != nil {
		return err
	}
	in := store.SignIn{TeacherID: t.ID, Browser: browserOf(r.UserAgent()), Address: k.Proxies.From(r)}
	words := "signed in"
	if by.ID > 0 {
		in.ProviderID, words = &by.ID, "signed in with "+by.Name
	}
	id, err := k.Store.StartSignIn(r.Context(), in)
	if err != nil {
		return err
	}
	k.Sessions.Remove(r.Context(), sessionSecond)
	k.Sessions.Put(r.Context(), sessionSignIn, int64(id))
	if wrong >= wrongTries {
		k.Sessions.Put(r.Context(), sessionWrong, wrong)
	}
	return k.Store.Audit(r.Context(), store.AuditEntry{SchoolID: t.SchoolID, TeacherID: &t.ID, Who: t.Name, Address: k.Proxies.From(r), Kind: store.SignedIn, Words: words})
}

// EndSession signs this browser out, and returns by whose accounts it was signed in, 0 for a password.
func (k *Kit) EndSession(r *http.Request) (provider uint64, err error) {
	in, err := k.signIn(r)
	if err == nil {
		err = k.Store.EndSignIn(r.Context(), in.TeacherID, in.ID)
	}
	if err != nil && !errors.Is(err, store.ErrNotFound) {
		return 0, err
	}
	if in.ProviderID != nil {
		provider = *in.ProviderID
	}
	return provider, k.Sessions.Destroy(r.Context())
}

// WrongTries returns, once, how many wrong tries there were before the teacher
// signed in; 0 for few.
func (k *Kit) WrongTries(r *http.Request) int { return k.Sessions.PopInt(r.Context(), sessionWrong) }
