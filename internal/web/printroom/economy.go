package printroom

import (
	"fmt"
	"html/template"

	"zestysketch/internal/core/sheet"
	"zestysketch/internal/press"
	"zestysketch/internal/store"
)

// saving is a cheaper way to print what was chosen.
type saving struct {
	Words string
	Query template.URL
}

// Darkness of a picture that was never measured (ours), and the least share of a page in
// ink at which grey is worth a word: below it there is no picture.
const usualDark, leastInk = 0.4, 0.02

// economy says how much ink a sample takes, and which cheaper ways there are for n students.
func (v *room) economy(set press.Set, made press.Made, n int) {
	dark := usualDark
	if pic := v.Project.Picture; pic != nil && pic.Facts != nil {
		dark = 1 - pic.Facts.Mean/100
	}
	for _, p := range made.Pages {
		v.Ink += sheet.Inked(p, func(string) float64 { return dark }) / float64(len(made.Pages))
	}
	offer := func(words string, spec press.Spec, of press.Made) {
		once, each := shared(of)
		sheets := sheet.SheetsNeeded(each, spec.Duplex)*n + sheet.SheetsNeeded(once, spec.Duplex)
		if fewer := v.Sheets - sheets; fewer > 0 {
			v.Cheaper = append(v.Cheaper, saving{fmt.Sprintf("%s: %d sheets fewer.", words, fewer), address(spec)})
		}
	}
	if v.Spec.Share != sheet.Booklet && !v.Spec.Duplex {
		both := v.Spec
		both.Duplex = true
		offer("On both sides", both, made)
	}
	if v.Spec.Share == sheet.Alone {
		half := v.Spec
		half.Share = sheet.Halves
		set.Printer.Paper = sheet.Half(set.Printer.Paper)
		if small, err := set.Sample(half); err == nil { // else they do not go on half the paper
			offer("Two pages a sheet, cut apart", half, small)
		}
	}
	if !v.Spec.Grey && v.Ink > leastInk && coloured(v.Project.Picture) {
		grey := v.Spec
		grey.Grey = true
		v.Cheaper = append(v.Cheaper, saving{"The picture in grey: no coloured ink.", address(grey)})
	}
}

// coloured reports whether a picture is known to have colours.
func coloured(p *store.Picture) bool {
	return p != nil && p.Facts != nil && !p.Facts.Grey && !p.Facts.Drawing
}
