package help

import (
	"net/http"

	"github.com/go-chi/chi/v5"

	"zestysketch/internal/notices"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

// aboutView is which program this is, and what of others is in it.
type aboutView struct {
	Program  notices.Program
	Database store.Database
	Parts    []notices.Part
}

type about struct{ *kit.Kit }

func (a about) page(w http.ResponseWriter, r *http.Request) error {
	is, err := a.Store.Database(r.Context())
	if err != nil {
		return err
	}
	return pages.Whole(w, r, "about.html", "About", aboutView{notices.This(), is, notices.Parts()})
}

// licences answers with the licences of everything that ships, as one text.
func licences(w http.ResponseWriter, _ *http.Request) error {
	w.Header().Set("Content-Type", "text/plain; charset=utf-8")
	for _, p := range notices.Parts() {
		if _, err := w.Write([]byte(p.String())); err != nil {
			return err
		}
	}
	return nil
}

// About adds the addresses that need nobody signed in.
func About(r chi.Router, k *kit.Kit) {
	r.Get("/about", k.Handle(about{k}.page))
	r.Get("/about/licences.txt", k.Handle(licences))
}
