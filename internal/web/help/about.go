package help

import (
	"net/http"
	"runtime/debug"

	"github.com/go-chi/chi/v5"

	"zestysketch/internal/notices"
	"zestysketch/internal/web/kit"
)

// aboutView is which program this is, and what of others is in it.
type aboutView struct {
	Version string
	Parts   []notices.Part
}

// version says of what this program was built.
func version() string {
	info, ok := debug.ReadBuildInfo()
	if !ok {
		return "unknown"
	}
	words := info.Main.Version
	for _, s := range info.Settings {
		if s.Key == "vcs.time" {
			words += ", of " + s.Value
		}
	}
	return words
}

func about(w http.ResponseWriter, r *http.Request) error {
	return pages.Whole(w, r, "about.html", "About", aboutView{version(), notices.Parts()})
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
	r.Get("/about", k.Handle(about))
	r.Get("/about/licences.txt", k.Handle(licences))
}
