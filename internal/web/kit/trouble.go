package kit

import (
	"context"
	"errors"
	"fmt"
	"maps"
	"net/http"
	"slices"
	"strconv"
	"strings"
	"syscall"
	"time"
	"unicode"
	"unicode/utf8"

	"zestysketch/internal/core/accuracy"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/plans"
	"zestysketch/internal/store"
	"zestysketch/internal/work"
)

// retryAfter is how long a browser is asked to wait while the database is away.
const retryAfter = 3 * time.Second

// secret are the words by which fields are named that are shown on no page.
var secret = []string{"password", "old", "new", "code", "secret", "letters", "word"}

// keep puts what a form held on the page that says that the database is away, so
// that it can be sent again: not files, nor what is secret, and not where it may
// have been saved already.
func (t *Trouble) keep(w http.ResponseWriter, r *http.Request) {
	if t.Unsure {
		w.Header().Set("Zesty-Unsure", "1") // app.js does not send it again by itself
		return
	}
	if r.Method != http.MethodPost || IsFragment(r) || !strings.HasPrefix(r.Header.Get("Content-Type"), "application/x-www-form-urlencoded") || ReadForm(w, r) != nil {
		return
	}
	var all []Kept
	for _, name := range slices.Sorted(maps.Keys(r.PostForm)) {
		if slices.ContainsFunc(secret, func(word string) bool { return strings.Contains(name, word) }) {
			return
		}
		for _, value := range r.PostForm[name] {
			all = append(all, Kept{name, value})
		}
	}
	t.Again, t.Path = all, r.URL.RequestURI()
}

// Trouble is an error for the person at the screen: what was wanted and how to mend it.
type Trouble struct {
	Status  int
	Message string
	Field   string // of the form that it is about, by name; empty for none
	Student bool   // who has no sign-in to go on to
	Unsure  bool   // it may have been saved all the same
	Again   []Kept // what a form held, to be sent again; none where it must not be shown
	Path    string // where it goes
	Ended   bool   // a student's link opens nothing any more
}

// Kept is a field of a form.
type Kept struct{ Name, Value string }

// Ask returns a Trouble about what a person sent.
func Ask(format string, args ...any) error {
	return Trouble{Status: http.StatusUnprocessableEntity, Message: fmt.Sprintf(format, args...)}
}

// AskAt is Ask about one field of the form, by its name: the page says it there.
func AskAt(field, format string, args ...any) error {
	return Trouble{Status: http.StatusUnprocessableEntity, Field: field, Message: fmt.Sprintf(format, args...)}
}

func (k *Kit) fail(w http.ResponseWriter, r *http.Request, err error) {
	if errors.Is(err, context.Canceled) || errors.Is(err, syscall.EPIPE) || errors.Is(err, syscall.ECONNRESET) {
		return // the browser has gone: there is nobody to tell
	}
	t := k.trouble(r, err)
	t.Student = ofStudent(r)
	if t.Ended {
		w.Header().Set("Zesty-Link", "ended") // the worker forgets what the link opened
	}
	if t.Status == http.StatusServiceUnavailable {
		w.Header().Set("Retry-After", strconv.Itoa(int(retryAfter.Seconds())))
		t.keep(w, r)
		if r.Method == http.MethodGet && !IsFragment(r) {
			w.Header().Set("Refresh", strconv.Itoa(int(retryAfter.Seconds()))) // the page is asked for again by itself
		}
	}
	if IsFragment(r) && (t.Status == http.StatusUnprocessableEntity || t.Status == http.StatusForbidden) {
		// The page's own place for messages, whatever the request was aimed at.
		w.Header().Set("HX-Retarget", "#message")
		w.Header().Set("HX-Reswap", "innerHTML show:#message:top")
		w.Header().Set("HX-Reselect", "unset") // all of it, whatever part of the answer was wanted
		if t.Field != "" {
			w.Header().Set("Zesty-Field", t.Field) // fields.js says it there
		}
		shared.Part(w, r, "trouble.html", "alert", t.Status, t)
		return
	}
	shared.whole(w, r, "trouble.html", t.Status, view{Title: "Something is in the way", Teacher: Teacher(r), Data: t})
}

// SessionsFailed answers where the session itself cannot be read.
func (k *Kit) SessionsFailed(w http.ResponseWriter, r *http.Request, err error) { k.fail(w, r, err) }

// trouble says what of an error a person should read.
func (k *Kit) trouble(r *http.Request, err error) Trouble {
	var t Trouble
	var tooLong *http.MaxBytesError
	switch {
	case errors.As(err, &t):
		return t
	case errors.Is(err, plans.ErrUnreadable):
		return Trouble{Status: http.StatusUnprocessableEntity,
			Message: "The plan of this project cannot be read by this program. Open the project, look at the sizes and keep the plan again; everybody's ticks stay."}
	case errors.Is(err, plans.ErrNone):
		return Trouble{Status: http.StatusUnprocessableEntity, Message: "Keep the plan first: this project has no plan yet. Open it, choose the sizes and keep the plan."}
	case errors.Is(err, accuracy.ErrLandmarks):
		return Trouble{Status: http.StatusUnprocessableEntity, Message: Said(err)}
	case errors.Is(err, store.ErrNotFound):
		return Trouble{Status: http.StatusNotFound, Message: "This page is not there, or it belongs to another teacher. Go back to Today and open it from there."}
	case errors.Is(err, store.ErrConflict):
		return Trouble{Status: http.StatusConflict, Message: "Somebody changed this meanwhile. Open the page again to see the change, then make yours."}
	case store.NoRoom(err):
		k.Log.Error("the database's disk is full", "route", routeOf(r), "request", RequestID(r), "error", err)
		return Trouble{Status: http.StatusInsufficientStorage,
			Message: "The disk of this program's machine is full, so this was not saved; what you saved before is there. Tell whoever looks after it to make room, then try again."}
	case store.Away(err):
		k.Log.Error("the database is away", "route", routeOf(r), "request", RequestID(r), "error", err)
		if store.Unsure(err) && r.Method == http.MethodPost {
			return Trouble{Status: http.StatusServiceUnavailable, Unsure: true,
				Message: "The program's database went away while this was being saved. It comes back by itself within a minute: look then whether it is there before you send it again."}
		}
		return Trouble{Status: http.StatusServiceUnavailable,
			Message: "The program's database is away. It comes back by itself within a minute; try again then. If it does not, the disk of its machine may be full. What you saved before is there."}
	case errors.As(err, &tooLong):
		return Trouble{Status: http.StatusUnprocessableEntity, Message: fmt.Sprintf("The file is larger than %d MB. Make it smaller, or save it as JPEG, and try again.", picture.MaxBytes>>20)}
	}
	k.Log.Error("request failed", "method", r.Method, "route", routeOf(r), "request", RequestID(r), "error", err)
	return Trouble{Status: http.StatusInternalServerError, Message: "The program could not do this. Nothing you saved before is lost. Try again in a moment. If it stays so, tell whoever looks after the program the word " + RequestID(r) + "."}
}

// NotFound answers for addresses that lead nowhere.
func (k *Kit) NotFound(w http.ResponseWriter, r *http.Request) { k.fail(w, r, store.ErrNotFound) }

// StatusOf is the status of a page that says what to mend, if there is anything.
func StatusOf(trouble string) int {
	if trouble != "" {
		return http.StatusUnprocessableEntity
	}
	return http.StatusOK
}

// Sentence begins words with a capital and ends them with a full stop.
func Sentence(words string) string {
	first, size := utf8.DecodeRuneInString(words)
	return string(unicode.ToUpper(first)) + strings.TrimSuffix(words[size:], ".") + "."
}

// Said returns an error's words without its sentinel, as a sentence.
func Said(err error) string { return Sentence(work.Said(err)) }
