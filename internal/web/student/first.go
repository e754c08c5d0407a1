package student

import (
	"bytes"
	"encoding/base64"
	"errors"
	"html/template"
	"image"
	"image/draw"
	"image/jpeg"
	"net/http"

	"github.com/go-chi/chi/v5"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/sheet"
	"zestysketch/internal/web/kit"
)

// firstBox draws the box in hand with its part of the picture in the page itself: a tablet on
// a slow line shows it before the whole picture has come. Where many begin at once it is
// drawn from the whole picture instead.
func (a area) firstBox(r *http.Request, o own, c grid.Cell) (template.HTML, error) {
	drawing, err := kit.Once(a.Kit, func() (template.HTML, error) {
		img, perMM, quick, err := a.FramedIfQuick(r.Context(), o.project.TeacherID, &o.picture.ID, o.plan)
		if err != nil {
			return "", err
		}
		if !quick {
			return "", errBusy
		}
		drawn := sheet.BoxInHand(o.plan, c)
		for i, item := range drawn.Items {
			if p, ok := item.(page.Picture); ok {
				p.Part = nil // what is sent is that part already
				drawn.Items[i] = p
			}
		}
		address, err := partOf(img, c, perMM)
		if err != nil {
			return "", err
		}
		return kit.InlineSVG(drawn, func(string) string { return address })
	}, "first box", o.picture.ID, c.Label, kit.SumOf(o.project, o.plan))
	if errors.Is(err, errBusy) { // drawn from the whole picture, when that has come
		whole := "/s/" + chi.URLParam(r, "link") + "/picture"
		return kit.InlineSVG(sheet.BoxInHand(o.plan, c), func(string) string { return whole })
	}
	return drawing, err
}

// errBusy is why a box is not drawn just now.
var errBusy = errors.New("many begin at once")

// partOf returns a box of a picture, which is stretched to the sheet at so many pixels a
// millimetre, with what is around it, as an address that holds all of it.
func partOf(img *image.RGBA, c grid.Cell, perMM float64) (string, error) {
	x, y := sheet.Around*c.Sheet.Width(), sheet.Around*c.Sheet.Height()
	out := image.NewRGBA(image.Rect(0, 0, int((c.Sheet.Width()+2*x)*perMM), int((c.Sheet.Height()+2*y)*perMM)))
	left, top := int((c.Sheet.Min.X-x)*perMM), int((c.Sheet.Min.Y-y)*perMM)
	draw.Draw(out, out.Rect, image.White, image.Point{}, draw.Src) // beyond the picture
	draw.Draw(out, out.Rect, img, image.Pt(left, top), draw.Src)
	var jpg bytes.Buffer
	if err := jpeg.Encode(&jpg, out, &jpeg.Options{Quality: 75}); err != nil {
		return "", err
	}
	return "data:image/jpeg;base64," + base64.StdEncoding.EncodeToString(jpg.Bytes()), nil
}
