package kit

import (
	"bytes"
	"html/template"
	"net/http"
	"time"

	"zestysketch/internal/core/page"
	"zestysketch/internal/render"
	"zestysketch/internal/store"
)

// InlineSVG writes a page as SVG to stand in an HTML page. link returns the
// address of a picture by its name; nil for a page without pictures.
func InlineSVG(p page.Page, link func(name string) string) (template.HTML, error) {
	var out bytes.Buffer
	err := render.SVG(&out, p, link)
	return template.HTML(out.String()), err // made of escaped parts by package render
}

// LinkTo returns the link of pages that show one picture, whatever its name.
func LinkTo(picture uint64, role store.Role) func(name string) string {
	return func(string) string { return PicturePath(picture, role) }
}

// StatusOf is the status of a page that says what to mend, if there is anything.
func StatusOf(trouble string) int {
	if trouble != "" {
		return http.StatusUnprocessableEntity
	}
	return http.StatusOK
}

// SendPDF answers with pages as a PDF of the given name; a half file is never sent.
func SendPDF(w http.ResponseWriter, name string, pages []page.Page, pictures render.Pictures) error {
	var out bytes.Buffer
	if err := render.PDF(&out, name, pages, pictures); err != nil {
		return err
	}
	return SendFile(w, name, "application/pdf", "pdf", out.Bytes())
}

// SendFile answers with a finished file to be saved.
func SendFile(w http.ResponseWriter, name, kind, ending string, file []byte) error {
	w.Header().Set("Content-Type", kind)
	w.Header().Set("Content-Disposition", Attachment(name, ending))
	_, err := w.Write(file)
	return err
}

// SendBlob answers with a file out of the database, piece by piece as the browser
// takes it.
func SendBlob(w http.ResponseWriter, r *http.Request, b *store.Blob) error {
	w.Header().Set("Content-Type", b.Kind)
	http.ServeContent(w, r, "", time.Time{}, b)
	return nil
}
