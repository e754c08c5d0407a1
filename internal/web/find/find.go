// Package find searches a teacher's projects, classes, students and pictures, and the program's pages,
// ways of working, sums and printed pages.
package find

import (
	"embed"
	"net/http"
	"time"

	"zestysketch/internal/letters"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

//go:embed *.html
var files embed.FS

var pages = kit.NewPages(files)

type area struct{ *kit.Kit }

// Routes adds the area's address.
func Routes(r kit.Routes, k *kit.Kit) { r.Get(kit.SearchPath, store.Owns, kit.NoAudit, area{k}.show) }

// view is what was found.
type view struct {
	store.Hits
	found
	Words string
}

// None reports whether nothing was found.
func (v view) None() bool {
	return v.found.None() && len(v.Projects)+len(v.Classes)+len(v.Students)+len(v.Pictures) == 0
}

// longestWords bounds what is looked for, in bytes.
const longestWords = 100

func (a area) show(w http.ResponseWriter, r *http.Request) (err error) {
	v := view{Words: kit.Tidy(letters.Cut(r.URL.Query().Get("q"), longestWords))}
	me, day := kit.Teacher(r).ID, kit.Clock(r).Date(time.Now())
	if v.Hits, err = a.Store.Search(r.Context(), me, day, v.Words); err != nil {
		return err
	}
	projects, err := a.Store.Projects(r.Context(), me)
	if err != nil {
		return err
	}
	var latest *store.Project
	if len(projects) > 0 {
		latest = &projects[0]
	}
	v.found = a.goTo(v.Words, latest)
	return pages.Whole(w, r, "find.html", "Search", v)
}
