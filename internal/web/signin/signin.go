// Package signin lets teachers in and out.
package signin

import (
	"embed"
	"errors"
	"net/http"
	"strings"
	"time"

	"github.com/go-chi/chi/v5"
	"github.com/go-chi/httprate"

	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

//go:embed *.html
var files embed.FS

var pages = kit.NewPages(files)

// Tries to sign in from one address before it has to wait.
const tries, within = 20, 5 * time.Minute

type area struct{ *kit.Kit }

type form struct{ Email, Next, Wrong string }

// Routes adds the area's addresses.
func Routes(r chi.Router, k *kit.Kit) {
	a := area{k}
	limit := httprate.Limit(tries, within, httprate.WithKeyFuncs(httprate.KeyByIP),
		httprate.WithLimitHandler(k.Handle(func(http.ResponseWriter, *http.Request) error {
			return kit.Trouble{Status: http.StatusTooManyRequests, Message: "That were many tries. Wait five minutes, then sign in again."}
		})))
	r.Get("/signin", k.Handle(a.show))
	r.With(limit).Post("/signin", k.Handle(a.enter))
	r.Post("/signout", k.Handle(a.leave))
}

func (a area) show(w http.ResponseWriter, r *http.Request) error {
	return pages.Whole(w, r, "signin.html", "Sign in", form{Next: r.URL.Query().Get("next")})
}

func (a area) enter(w http.ResponseWriter, r *http.Request) error {
	r.Body = http.MaxBytesReader(w, r.Body, 8<<10)
	f := form{Email: r.FormValue("email"), Next: r.FormValue("next")}
	t, err := a.Store.SignIn(r.Context(), f.Email, r.FormValue("password"))
	if errors.Is(err, store.ErrNotFound) {
		f.Wrong = "This address and password do not go together. Check both and try again."
		return pages.WholeStatus(w, r, "signin.html", "Sign in", http.StatusUnprocessableEntity, f)
	}
	if err != nil {
		return err
	}
	if err := a.StartSession(r, t); err != nil {
		return err
	}
	return kit.Go(w, r, ownPath(f.Next))
}

// ownPath returns next if it is a path of ours, else the first page: nobody is
// sent to another site from here.
func ownPath(next string) string {
	if !strings.HasPrefix(next, "/") || strings.HasPrefix(next, "//") || strings.ContainsAny(next, "\\\r\n\t") {
		return "/"
	}
	return next
}

func (a area) leave(w http.ResponseWriter, r *http.Request) error {
	if err := a.Sessions.Destroy(r.Context()); err != nil {
		return err
	}
	return kit.Go(w, r, "/signin")
}
