package kit

import (
	"bytes"
	"encoding/csv"
	"html/template"
	"net/http"
	"regexp"
	"time"

	"zestysketch/internal/core/page"
	"zestysketch/internal/render"
	"zestysketch/internal/store"
)

// byteOrderMark begins a file that is UTF-8 to spreadsheets too (Unicode 16.0, 23.8).
const byteOrderMark = "\ufeff"

// SendCSV answers with rows as CSV (RFC 4180) under a name for the file. No
// cell is left that a spreadsheet would take for a formula.
func SendCSV(w http.ResponseWriter, name string, rows [][]string) error {
	var out bytes.Buffer
	out.WriteString(byteOrderMark)
	c := csv.NewWriter(&out)
	c.UseCRLF = true
	for _, row := range rows {
		safe := make([]string, len(row))
		for i, cell := range row {
			safe[i] = inert(cell)
		}
		c.Write(safe) // a buffer takes all; Error would say
	}
	if c.Flush(); c.Error() != nil {
		return c.Error()
	}
	return SendFile(w, name, "text/csv; charset=utf-8", "csv", out.Bytes())
}

// formula is what a spreadsheet takes for one: at a cell's beginning, or behind a semicolon,
// by which many part cells; also in the full-width signs that some read alike.
var formula = regexp.MustCompile(`(^|;)(["\s]*)([=+\-@＝＋－＠])`)

func inert(cell string) string { return formula.ReplaceAllString(cell, "$1$2'$3") }

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
