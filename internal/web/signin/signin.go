// Package signin lets teachers in and out.
package signin

import (
	"embed"
	"errors"
	"net/http"
	"strings"

	"github.com/go-chi/chi/v5"

	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

//go:embed *.html
var files embed.FS

var pages = kit.NewPages(files)

type area struct{ *kit.Kit }

type form struct{ Email, Next, Wrong string }

// Routes adds the area's addresses.
func Routes(r chi.Router, k *kit.Kit) {
	a := area{k}
	r.Get("/signin", k.Handle(a.show))
	r.Post("/signin", k.Handle(a.enter))
	r.Post("/signout", k.Handle(a.leave))
}

func (a area) show(w http.ResponseWriter, r *http.Request) error {
	return pages.Whole(w, r, "signin.html", "Sign in", form{Next: r.URL.Query().Get("next")})
}

func (a area) enter(w http.ResponseWriter, r *http.Request) error {
	r.Body = http.MaxBytesReader(w, r.Body, 8<<10)
	f := form{Email: r.FormValue("email"), Next: r.FormValue("next")}
	account, address := "account "+strings.ToLower(strings.TrimSpace(f.Email)), "address "+a.Proxies.From(r)
	leave, err := a.SignIns.Enter(r.Context(), account, address)
	if trouble := (kit.Trouble{}); errors.As(err, &trouble) {
		f.Wrong = trouble.Message
		return pages.WholeStatus(w, r, "signin.html", "Sign in", trouble.Status, f)
	}
	if err != nil {
		return err
	}
	defer leave()
	t, err := a.Store.SignIn(r.Context(), f.Email, r.FormValue("password"))
	if errors.Is(err, store.ErrNotFound) {
		a.SignIns.Wrong(account, address)
		f.Wrong = "This address and password do not go together. Check both and try again."
		return pages.WholeStatus(w, r, "signin.html", "Sign in", http.StatusUnprocessableEntity, f)
	}
	if err != nil {
		return err
	}
	if err := a.StartSession(r, t, a.SignIns.Good(account)); err != nil {
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
