// Package trust hands the root of a school's own authority to tablets, and says for
// each kind of device where it goes. Nobody has to be signed in for it.
package trust

import (
	"embed"
	"net/http"

	"github.com/go-chi/chi/v5"

	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

//go:embed *.html
var files embed.FS

var pages = kit.NewPages(files)

// Root is the root that tablets are to trust.
type Root struct {
	File []byte // PEM; empty where there is none
	Sum  string // SHA-256, as people compare it
}

type area struct {
	*kit.Kit
	root Root
}

// Routes adds the area's addresses.
func Routes(r chi.Router, k *kit.Kit, root Root) {
	a := area{k, root}
	r.Get("/trust", k.Handle(a.show))
	r.Get("/trust/root.crt", k.Handle(a.file))
}

func (a area) show(w http.ResponseWriter, r *http.Request) error {
	if len(a.root.File) == 0 {
		return store.ErrNotFound
	}
	return pages.Whole(w, r, "trust.html", "Trust this program", struct{ Sum, Host string }{a.root.Sum, r.Host})
}

func (a area) file(w http.ResponseWriter, _ *http.Request) error {
	if len(a.root.File) == 0 {
		return store.ErrNotFound
	}
	w.Header().Set("Content-Type", "application/x-x509-ca-cert")
	w.Header().Set("Content-Disposition", `attachment; filename="zesty-sketch-root.crt"`)
	_, err := w.Write(a.root.File)
	return err
}
