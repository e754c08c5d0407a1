package finish

import (
	"fmt"
	"html/template"
	"net/http"
	"net/url"
	"slices"
	"strconv"

	"zestysketch/internal/checkin"
	"zestysketch/internal/core/colour"
	"zestysketch/internal/core/lesson"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/core/sheet"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

// colourRow is one main colour, and how it is in a drawing.
type colourRow struct {
	colour.Main
	Swatch template.HTML
	Fields template.HTML
	Found  *colour.Found
	Words  string // how the drawing differs
}

// colourView is what the page shows.
type colourView struct {
	head
	Rows     []colourRow
	Drawings []kit.Option
	Whose    string
	Cautions []string
	Paint    colour.Paint
}

// paintOf returns what a request wants colours mixed with.
func paintOf(r *http.Request) colour.Paint {
	if p := colour.Paint(r.URL.Query().Get("paint")); slices.Contains(colour.Paints, p) {
		return p
	}
	return colour.Opaque
}

// mains returns the picture's main colours, which are looked for once.
func (a area) mains(k work) ([]colour.Main, error) {
	return kit.Once(a.Kit, func() ([]colour.Main, error) { return colour.Mains(k.image), nil }, kit.SumOf(k.project, k.plan))
}

func (a area) showColour(w http.ResponseWriter, r *http.Request, k work) (err error) {
	v := colourView{head: k.newHead("/colour", url.Values{"paint": {string(paintOf(r))}, "drawing": {r.URL.Query().Get("drawing")}}), Cautions: lesson.Cautions(lesson.Paint), Paint: paintOf(r)}
	mains, err := a.mains(k)
	if err != nil {
		return err
	}
	found, err := a.inDrawing(r, k, &v, mains)
	if err != nil {
		return err
	}
	for i, m := range mains {
		row := colourRow{Main: m}
		if row.Swatch, err = k.inline(swatch(m)); err != nil {
			return err
		}
		if row.Fields, err = k.inline(sheet.ColourFields(m)); err != nil {
			return err
		}
		if found != nil {
			row.Found, row.Words = &found[i], m.Against(found[i])
		}
		v.Rows = append(v.Rows, row)
	}
	return pages.Whole(w, r, "colour.html", k.project.Name+" · colour", v)
}

// swatch is a colour as a page of its own.
func swatch(m colour.Main) page.Page {
	pg := page.Page{Title: m.Name}
	pg.Size.W, pg.Size.H = 24, 24
	box := page.BoxPath(plane.Rect{Max: plane.Pt(24, 24)}, 0.4, page.Ink)
	box.Fill = &page.Color{R: m.R, G: m.G, B: m.B}
	pg.Items = append(pg.Items, box)
	return pg
}

// inDrawing looks for the colours in the photo of the check-in that the address
// names, and lists those there are to choose from.
func (a area) inDrawing(r *http.Request, k work, v *colourView, mains []colour.Main) ([]colour.Found, error) {
	all, err := a.Store.CheckIns(r.Context(), k.project)
	if err != nil {
		return nil, err
	}
	chosen := r.URL.Query().Get("drawing")
	options := []string{"", "the picture alone"}
	var shown *store.CheckIn
	for i, c := range all {
		if c.Corners == nil {
			continue
		}
		id := strconv.FormatUint(c.ID, 10)
		options = append(options, id, fmt.Sprintf("%s, %s", c.Student.Name, kit.Clock(r).Short(c.CreatedAt)))
		if id == chosen {
			shown = &all[i]
		}
	}
	v.Drawings = kit.Pick(chosen, options...)
	if shown == nil {
		return nil, nil
	}
	v.Whose = shown.Student.Name
	plan, _ := k.set.Own(shown.StudentID)
	img, err := checkin.Straight(r.Context(), a.Store, k.project.TeacherID, plan, *shown, drawnSide)
	if err != nil || img == nil {
		return nil, err
	}
	return colour.Look(img, mains), nil
}

func (a area) colourSheet(w http.ResponseWriter, r *http.Request, k work) (err error) {
	made, err := sheet.ColourSheet(k.wish, colour.Mains(k.image), paintOf(r))
	if err != nil {
		return asked(err)
	}
	return a.send(w, r, k, "colour", nil, made)
}
