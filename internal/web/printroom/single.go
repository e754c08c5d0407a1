package printroom

import (
	"bytes"
	"image"
	"image/png"
	"net/http"
	"strconv"

	"zestysketch/internal/core/page"
	"zestysketch/internal/intake"
	"zestysketch/internal/press"
	"zestysketch/internal/render"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

// one returns the page of the sample that the address asks for, from 1.
func (a area) one(r *http.Request) (store.Project, press.Made, page.Page, error) {
	p, made, err := a.asked(r)
	if err != nil {
		return p, made, page.Page{}, err
	}
	n, err := strconv.Atoi(r.FormValue("page"))
	if err != nil || n < 1 || n > len(made.Pages) {
		return p, made, page.Page{}, kit.Ask("Choose a page from 1 to %d.", len(made.Pages))
	}
	return p, made, made.Pages[n-1], nil
}

// svg answers with one page as SVG, its pictures inside it.
func (a area) svg(w http.ResponseWriter, r *http.Request) error {
	p, made, pg, err := a.one(r)
	if err != nil {
		return err
	}
	pictures, err := press.Files(r.Context(), a.Store, p.TeacherID, made, store.Full)
	if err != nil {
		return err
	}
	var out bytes.Buffer
	if err := render.SVG(&out, pg, pictures.Inline); err != nil {
		return err
	}
	return kit.SendFile(w, p.Name+" "+pg.Title, "image/svg+xml", "svg", out.Bytes())
}

// thumb answers with the first page of one kind, small: a picture in the list
// of kinds, with what it shows inside it.
func (a area) thumb(w http.ResponseWriter, r *http.Request, p store.Project, made press.Made) (err error) {
	pictures, err := press.Files(r.Context(), a.Store, p.TeacherID, made, store.Thumb)
	if err != nil {
		return err
	}
	w.Header().Set("Content-Type", "image/svg+xml")
	return render.SVG(w, made.Pages[0], pictures.Inline)
}

// pngPerMM is the resolution of a page as PNG: 200 pixels an inch.
const pngPerMM = 200 / 25.4

// pngSide is how fine a picture on such a page needs to be: that of a screen.
const pngSide = 1600

// png answers with one page as PNG.
func (a area) png(w http.ResponseWriter, r *http.Request) error {
	p, made, pg, err := a.one(r)
	if err != nil {
		return err
	}
	pictures, err := press.Files(r.Context(), a.Store, p.TeacherID, made, store.View)
	if err != nil {
		return err
	}
	decoded := map[string]image.Image{}
	for name, b := range pictures {
		if decoded[name], err = intake.Small(r.Context(), b, pngSide); err != nil {
			return err
		}
	}
	var out bytes.Buffer
	if err := png.Encode(&out, render.Pixels(pg, pngPerMM, decoded)); err != nil {
		return err
	}
	return kit.SendFile(w, p.Name+" "+pg.Title, "image/png", "png", out.Bytes())
}
