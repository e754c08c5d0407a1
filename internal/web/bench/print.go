package bench

import (
	"bytes"
	"image/jpeg"
	"net/http"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/picture"
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
	framed, err := frame(plan, file.Bytes)
	if err != nil {
		return err
	}
	var out bytes.Buffer // a half file is never sent
	if err := render.PDF(&out, pages, render.Pictures{sheet.FramePicture: framed}); err != nil {
		return err
	}
	w.Header().Set("Content-Type", "application/pdf")
	w.Header().Set("Content-Disposition", kit.Attachment(p.Name, "pdf"))
	_, err = w.Write(out.Bytes())
	return err
}

// frame returns the encoded part of the picture that the plan uses: the file
// itself where that is all of it.
func frame(plan grid.Plan, file []byte) ([]byte, error) {
	f := plan.Frame
	if f == nil || f.Min == [2]float64{} && f.Size == [2]float64{float64(f.Picture[0]), float64(f.Picture[1])} {
		return file, nil
	}
	img, err := picture.Decode(file)
	if err != nil {
		return nil, err
	}
	var out bytes.Buffer
	err = jpeg.Encode(&out, picture.Crop(img, f.Min[0], f.Min[1], f.Size[0], f.Size[1]), &jpeg.Options{Quality: 92})
	return out.Bytes(), err
}
