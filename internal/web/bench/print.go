package bench

import (
	"bytes"
	"net/http"

	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/sheet"
	"zestysketch/internal/render"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

// print answers with the true-to-size PDF: the gridded reference, then the
// marks for the drawing sheet.
func (a area) print(w http.ResponseWriter, r *http.Request) error {
	p, plan, err := a.planned(r)
	if err != nil {
		return err
	}
	if f, stopped := plan.Stopped(); stopped {
		return kit.Ask("This plan cannot be printed yet. %s %s", f.Message, f.Fix)
	}
	if p.PictureID == nil {
		return kit.Ask("This project has no picture yet. Open it and choose one.")
	}
	paper, ok := measure.PaperNamed(r.URL.Query().Get("paper"))
	if !ok {
		return kit.Ask("Choose the printer's paper, such as A4 or Letter.")
	}
	pages, err := sheet.TwoPages(plan, paper.Size)
	if err != nil {
		return kit.Ask("%v.", err)
	}
	file, err := a.Store.PictureFile(r.Context(), p.TeacherID, *p.PictureID, store.Full)
	if err != nil {
		return err
	}
	return sendPDF(w, p.Name, pages, render.Pictures{sheet.FramePicture: file.Bytes})
}

// sendPDF answers with pages as a PDF named after the project; a half file is never sent.
func sendPDF(w http.ResponseWriter, name string, pages []sheet.Page, pictures render.Pictures) error {
	var out bytes.Buffer
	if err := render.PDF(&out, pages, pictures); err != nil {
		return err
	}
	w.Header().Set("Content-Type", "application/pdf")
	w.Header().Set("Content-Disposition", kit.Attachment(name, "pdf"))
	_, err := w.Write(out.Bytes())
	return err
}
