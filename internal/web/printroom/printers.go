package printroom

import (
	"html/template"
	"net/http"
	"strings"

	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/sheet"
	"zestysketch/internal/press"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

// printersView is what the page of printers shows.
type printersView struct {
	Printers []printerView
	Papers   []string
}

// printerView is one printer with what is known of it.
// knownError is what was measured of a printer on one paper, in words and drawn.
type knownError struct {
	Words   string
	Drawing template.HTML
}

type printerView struct {
	store.Printer
	Known []knownError
}

func (a area) printers(w http.ResponseWriter, r *http.Request) error {
	list, err := a.Store.Printers(r.Context(), kit.Teacher(r).ID)
	if err != nil {
		return err
	}
	v := printersView{}
	for _, p := range measure.Papers {
		if p.Kind == measure.Office {
			v.Papers = append(v.Papers, p.Name)
		}
	}
	for _, p := range list {
		one := printerView{Printer: p}
		for _, c := range p.Corrections {
			drawing, err := kit.InlineSVG(sheet.PrinterError(c.Across, c.Down), nil)
			if err != nil {
				return err
			}
			one.Known = append(one.Known, knownError{percentWords(c), drawing})
		}
		v.Printers = append(v.Printers, one)
	}
	return pages.Whole(w, r, "printers.html", "Printers", v)
}

// most printers and letters in their names, and the widest margin, in millimetres.
const mostPrinters, longestPrinter, widestMargin = 20, 40, 30

func (a area) addPrinter(w http.ResponseWriter, r *http.Request) error {
	name := kit.Tidy(r.FormValue("name"))
	if name == "" || len([]rune(name)) > longestPrinter {
		return kit.AskAt("name", "Write a name for the printer, such as staff room, of at most %d letters.", longestPrinter)
	}
	margin := measure.Length(page.UsualMargin)
	if text := strings.TrimSpace(r.FormValue("margin")); text != "" {
		var err error
		if margin, err = measure.Parse(text, measure.Millimetre); err != nil || margin < 0 || margin > widestMargin {
			return kit.AskAt("margin", "Wanted the edge that the printer leaves free, 0 to %d mm, got “%s”.", widestMargin, text)
		}
	}
	list, err := a.Store.Printers(r.Context(), kit.Teacher(r).ID)
	if err != nil {
		return err
	}
	if len(list) >= mostPrinters {
		return kit.Ask("There are %d printers already. Remove one first.", mostPrinters)
	}
	if err := a.Store.AddPrinter(r.Context(), &store.Printer{TeacherID: kit.Teacher(r).ID, Name: name, Margin: float64(margin)}); err != nil {
		return err
	}
	return kit.Go(w, r, "/printers")
}

// printer returns the printer in the address.
func (a area) printer(r *http.Request) (store.Printer, error) {
	id, err := kit.ID(r, "printer")
	if err != nil {
		return store.Printer{}, err
	}
	return a.Store.Printer(r.Context(), kit.Teacher(r).ID, id)
}

// check returns the printer's check page on the paper that the form names.
func (a area) check(r *http.Request) (p store.Printer, pr page.Printer, spec press.Spec, err error) {
	if p, err = a.printer(r); err != nil {
		return p, pr, spec, err
	}
	spec = press.Spec{Paper: r.FormValue("paper")}
	size, err := spec.Size()
	if err != nil {
		return p, pr, spec, asked(err)
	}
	pr = page.On(size)
	pr.Margin = p.Margin
	return p, pr, spec, nil
}

func unitsOf(r *http.Request) measure.Unit {
	if u, err := measure.ParseUnit(r.FormValue("units")); err == nil {
		return u
	}
	return measure.Millimetre
}

func (a area) checkPage(w http.ResponseWriter, r *http.Request) error {
	p, pr, spec, err := a.check(r)
	if err != nil {
		return err
	}
	pg, _, _ := sheet.CheckPage(pr, unitsOf(r))
	return kit.SendPDF(w, p.Name+" check "+spec.Paper, []page.Page{pg}, nil)
}

// correct keeps what a ruler said of the check page's bars.
func (a area) correct(w http.ResponseWriter, r *http.Request) error {
	p, pr, spec, err := a.check(r)
	if err != nil {
		return err
	}
	units := unitsOf(r)
	_, trueAcross, trueDown := sheet.CheckPage(pr, units)
	var read [2]measure.Length
	for i, field := range []string{"across", "down"} {
		if read[i], err = measure.Parse(r.FormValue(field), units); err != nil {
			return kit.AskAt(field, "Wanted what the ruler says of the bar %s, such as %s, got “%s”.", field, trueAcross.Text(units), r.FormValue(field))
		}
	}
	pr, err = pr.Measured(read[0], trueAcross, read[1], trueDown)
	if err != nil {
		return asked(err)
	}
	if err := a.Store.Correct(r.Context(), store.Correction{PrinterID: p.ID, Paper: spec.Paper, Across: pr.Across, Down: pr.Down}); err != nil {
		return err
	}
	return kit.Go(w, r, "/printers")
}

func (a area) removePrinter(w http.ResponseWriter, r *http.Request, p store.Printer) error {
	if err := a.Store.RemovePrinter(r.Context(), p.TeacherID, p.ID); err != nil {
		return err
	}
	return kit.Go(w, r, "/printers")
}
