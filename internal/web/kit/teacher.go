package kit

import (
	"context"
	"errors"
	"net/http"
	"net/url"

	"zestysketch/internal/room"
	"zestysketch/internal/store"
)

type teacherKey struct{}

// sessionTeacher is where the session keeps the teacher's id.
const sessionTeacher = "teacher"

// sessionEntry is where it keeps the teacher's count of entries when it began.
const sessionEntry = "entry"

// sessionWrong is where it keeps how many wrong tries there were.
const sessionWrong = "wrong"

// Teacher returns the signed-in teacher; the zero Teacher outside SignedIn.
func Teacher(r *http.Request) store.Teacher {
	t, _ := r.Context().Value(teacherKey{}).(store.Teacher)
	return t
}

// Clock returns the clock of the signed-in teacher's school.
func Clock(r *http.Request) room.Clock { return room.ClockOf(Teacher(r).School) }

// SignedIn lets only teachers through. Others are sent to sign in and come
// back; a fragment answers 401, and the page says so without losing what was typed.
func (k *Kit) SignedIn(next http.Handler) http.Handler {
	return k.known(next, askToSignIn)
}

// MaybeSignedIn lets everybody through, teachers with their name.
func (k *Kit) MaybeSignedIn(next http.Handler) http.Handler {
	return k.known(next, next.ServeHTTP)
}

// known goes on with the teacher of the session, or answers with other.
func (k *Kit) known(next http.Handler, other http.HandlerFunc) http.Handler {
	return k.Handle(func(w http.ResponseWriter, r *http.Request) error {
		id, _ := k.Sessions.Get(r.Context(), sessionTeacher).(int64)
		t, err := store.Teacher{}, store.ErrNotFound
		if id > 0 {
			t, err = k.Store.Teacher(r.Context(), uint64(id))
		}
		if err == nil && k.Sessions.GetInt64(r.Context(), sessionEntry) != int64(t.Entries) {
			err = store.ErrNotFound // ended since, everywhere
		}
		if errors.Is(err, store.ErrNotFound) {
			other(w, r)
			return nil
		}
		if err != nil {
			return err
		}
		w.Header().Set("Cache-Control", "no-store")
		next.ServeHTTP(w, r.WithContext(context.WithValue(r.Context(), teacherKey{}, t)))
		return nil
	})
}

// Stands reports whether the session that a long answer began with is still there.
func (k *Kit) Stands(r *http.Request) bool {
	_, found, err := k.Sessions.Store.Find(k.Sessions.Token(r.Context()))
	return err != nil || found // a database that is away ends nobody's session
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

// StartSession signs a teacher in under a fresh token, who is told of many wrong
// tries before.
func (k *Kit) StartSession(r *http.Request, t store.Teacher, wrong int) error {
	if err := k.Sessions.RenewToken(r.Context()); err != nil {
		return err
	}
	k.Sessions.Put(r.Context(), sessionTeacher, int64(t.ID))
	k.Sessions.Put(r.Context(), sessionEntry, int64(t.Entries))
	if wrong >= wrongTries {
		k.Sessions.Put(r.Context(), sessionWrong, wrong)
	}
	return nil
}

// WrongTries returns, once, how many wrong tries there were before the teacher
// signed in; 0 for few.
func (k *Kit) WrongTries(r *http.Request) int { return k.Sessions.PopInt(r.Context(), sessionWrong) }
