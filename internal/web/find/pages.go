package find

import (
	"strings"

	"zestysketch/internal/core/lesson"
	"zestysketch/internal/core/sheet"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

// own are the program's pages, and ofProject those that every project has, by what stands behind its address.
var own = []kit.Destination{
	{Name: "Today", What: "lessons of today and what waits", Path: "/"},
	{Name: "Pictures", What: "the library of references, their level and tags", Path: "/library"},
	{Name: "Printers", What: "measured once, prints are true to size", Path: "/printers"},
	{Name: "Classes", What: "students, lists, lessons, seats and shares", Path: "/classes"},
	{Name: "A new school year", What: "classes go up, or are put away", Path: "/classes/year"},
	{Name: "New project", What: "a picture, a class and a way of working", Path: "/projects/new"},
	{Name: "School", What: "teachers, clock, backups and who did what", Path: "/school"},
	{Name: "Your account", What: "password, second step and sessions", Path: "/account"},
	{Name: "Words and keys", What: "what the words of the trade mean, and every key", Path: "/help"},
}

var ofProject = []kit.Destination{
	{Name: "Compose", What: "the frame, thumbnails, thirds and balance", Path: "?step=compose"},
	{Name: "Size", What: "sizes that come out even, panels and margins", Path: "?step=size"},
	{Name: "Grid", What: "squares, equal parts, quarter marks and diagonals", Path: "?step=grid"},
	{Name: "Print", What: "pages, class sets, shares and the printer", Path: "/print"},
	{Name: "Wall", What: "who draws what, hands, looks and ticks", Path: "/wall"},
	{Name: "Road", What: "stages, checkpoints and minutes", Path: "/road"},
	{Name: "Materials", What: "what to buy and to lay out", Path: "/materials"},
	{Name: "Check", What: "photos of drawings, measured: accuracy, parts and tones", Path: "/check"},
	{Name: "Value map", What: "light and dark in steps: squint", Path: "/values"},
	{Name: "Line sheet", What: "the picture's lines, thin or bold", Path: "/lines"},
	{Name: "Transfer", What: "tracing, graphite, light table, tape and the transfer list", Path: "/finish"},
	{Name: "Ink", What: "outlines, darks and pens", Path: "/finish/ink"},
	{Name: "Tone", What: "shading with pencils, from dark to light", Path: "/finish/tone"},
	{Name: "Colour", What: "mixing and which parts to paint first", Path: "/finish/colour"},
	{Name: "Tiles", What: "a pattern of turned tiles", Path: "/finish/tiles"},
	{Name: "Show a box", What: "one box large, in front of the class", Path: "/demonstration"},
	{Name: "Projector", What: "the class's progress on the wall", Path: "/projector"},
	{Name: "Train eyes", What: "exercises for proportions, angles and tones", Path: "/eyes"},
	{Name: "Report", What: "progress, accuracy and growth", Path: "/report"},
	{Name: "Log", What: "notes and photos of lessons", Path: "/log"},
}

// found is where words lead that are no names of one's own.
type found struct {
	Pages, Ways, Sums, Prints []kit.Destination
	Project                   string // whose pages those of a project are
}

// goTo returns the program's pages, ways of working, sums and printed pages that hold all words. Those of a
// project are the latest one's; without any, a new one's.
func (a area) goTo(words string, latest *store.Project) (f found) {
	wanted := strings.Fields(strings.ToLower(words))
	if len(wanted) == 0 {
		return f
	}
	matching := func(all []kit.Destination, into func(path string) string) (some []kit.Destination) {
		for _, d := range all {
			text, holds := strings.ToLower(d.Name+" "+d.What), true
			for _, w := range wanted {
				holds = holds && strings.Contains(text, w)
			}
			if holds {
				d.Path = into(d.Path)
				some = append(some, d)
			}
		}
		return some
	}
	as := func(path string) string { return path }
	behind := func(string) string { return "/projects/new" }
	if latest != nil {
		f.Project = latest.Name
		behind = func(path string) string { return kit.ProjectPath(*latest) + path }
	}
	f.Pages = append(matching(own, as), matching(ofProject, behind)...)
	f.Sums = matching(a.Destinations, as)
	var ways, prints []kit.Destination
	for _, w := range lesson.Ways() {
		ways = append(ways, kit.Destination{Name: w.Name(), What: w.Good(), Path: "/projects/new?way=" + string(w)})
	}
	for _, k := range sheet.Kinds {
		prints = append(prints, kit.Destination{Name: k.Name, What: k.Why, Path: "/print"})
	}
	f.Ways, f.Prints = matching(ways, as), matching(prints, behind)
	return f
}

// None reports whether words lead nowhere.
func (f found) None() bool { return len(f.Pages)+len(f.Ways)+len(f.Sums)+len(f.Prints) == 0 }
