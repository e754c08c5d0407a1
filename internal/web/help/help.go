// Package help is the handbook inside: how a project goes, and what the words mean.
package help

import (
	"embed"
	"html/template"
	"net/http"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/lesson"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/sheet"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
	"zestysketch/internal/web/static"
)

//go:embed *.html
var files embed.FS

var pages = kit.NewPages(files)

// Routes adds the area's addresses.
func Routes(r kit.Routes, k *kit.Kit) {
	r.Get("/help", store.Owns, kit.NoAudit, show)
	r.Get("/help/parts", store.Owns, kit.NoAudit, showParts)
}

// showParts shows whoever builds pages what they are made of.
func showParts(w http.ResponseWriter, r *http.Request) error {
	return pages.Whole(w, r, "parts.html", "The parts", nil)
}

// view is the handbook, with drawings of a made-up plan.
type view struct {
	Terms             []kit.Term
	Ways              []lesson.Way
	Plan              grid.Plan
	Sizes, Marks, Cut template.HTML
}

// examples are the plans whose drawings it shows, by the units people measure in:
// both come out even and are cut from a larger paper.
var examples = map[measure.Unit]grid.Request{
	measure.Inch:       {Picture: [2]int{700, 900}, Units: "in", Reference: "7 x 9 in", ReferenceSquare: "1 in", Scale: "1.5", Paper: "12 x 18 in"},
	measure.Centimetre: {Picture: [2]int{700, 900}, Units: "cm", Reference: "14 x 18 cm", ReferenceSquare: "2 cm", Scale: "2", Paper: "A3"},
}

// examplePicture is what they are made for.
func examplePicture(string) string { return static.Path("example.svg") }

func show(w http.ResponseWriter, r *http.Request) error {
	units, _ := kit.Habits(r)
	plan, err := grid.Make(examples[units])
	if err != nil {
		return err
	}
	v := view{Terms: kit.Terms(), Ways: lesson.Ways(), Plan: plan}
	if v.Sizes, err = kit.InlineSVG(sheet.Sizes(plan), examplePicture); err != nil {
		return err
	}
	if v.Marks, err = kit.InlineSVG(sheet.MarkUpDrawing(plan, plan.CardFor(plan.Panels()[0])), examplePicture); err != nil {
		return err
	}
	stock := measure.Paper{Name: plan.StockSize().Text(plan.Units), Size: plan.StockSize()}
	if c, ok := measure.Cut(stock, plan.SheetSize(), 1); ok {
		if v.Cut, err = kit.InlineSVG(sheet.CutDiagram(c, plan.Units), examplePicture); err != nil {
			return err
		}
	}
	return pages.Whole(w, r, "help.html", "Handbook", v)
}
