package kit

import (
	"bytes"
	"net/http"

	"zestysketch/internal/core/sheet"
	"zestysketch/internal/render"
)

// SendPDF answers with pages as a PDF of the given name; a half file is never sent.
func SendPDF(w http.ResponseWriter, name string, pages []sheet.Page, pictures render.Pictures) error {
	var out bytes.Buffer
	if err := render.PDF(&out, pages, pictures); err != nil {
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
