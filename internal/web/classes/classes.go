// Package classes makes classes and fills them with names.
package classes

import (
	"embed"
	"errors"
	"net/http"
	"slices"
	"strings"
	"time"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/roster"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

//go:embed *.html
var files embed.FS

var pages = kit.NewPages(files)

// mostStudents bounds a class.
const mostStudents = 60

type area struct{ *kit.Kit }

// Routes adds the area's addresses.
func Routes(r kit.Routes, k *kit.Kit) {
	a := area{k}
	r.Get("/classes", store.Owns, kit.NoAudit, a.list)
	r.Take("/classes", kit.List, store.Owns, "made a class", a.add)
	r.Get("/classes/{class}/seats", store.ToLook, kit.NoAudit, kit.With(a.class, a.showSeats))
	r.Post("/classes/{class}/seats", store.ToOwn, "gave a class its seats", kit.With(a.class, a.setSeats))
	r.Post("/classes/{class}/bypace", store.ToOwn, "gave a class sets by pace", a.byPace)
	r.Post("/classes/{class}/several", store.ToOwn, "changed several students at once", a.several)
	r.Get("/classes/year", store.Owns, kit.NoAudit, a.showYear)
	r.Post("/classes/year", store.Owns, "began a new school year", a.newYear)
	r.Post("/classes/year/undo", store.Owns, "took a new school year back", a.undoYear)
	r.Post("/classes/{class}/name", store.ToOwn, "renamed a class", kit.With(a.class, a.renameClass))
	r.Post("/classes/{class}/away", store.Owns, "put a class away, or brought it back", kit.With(a.class, a.putAway))
	r.Give("/classes/{class}/list.csv", store.ToLook, "exported a class's list", kit.With(a.class, a.listCSV))
	r.Post("/classes/{class}/remove", store.Owns, "deleted an empty class", kit.With(a.class, a.removeClass))
	r.Take("/classes/{class}/roster", kit.List, store.ToOwn, "gave a class a list", kit.With(a.class, a.read))
	r.Take("/classes/{class}/roster/keep", kit.List, store.ToOwn, "took a list in", kit.With(a.class, a.takeIn))
	r.Post("/students/{student}", store.ToOwn, "changed what is known of a student", kit.With(kit.IDOf("student"), a.describe))
	r.Post("/students/{student}/links/revoke", store.ToOwn, "revoked a student's links", kit.With(kit.IDOf("student"), a.revoke))
	r.Get("/students/{student}", store.ToLook, "saw what is kept of a student", kit.With(a.one, a.showStudent))
	r.Give("/students/{student}/export.zip", store.ToOwn, "exported everything of a student", kit.With(a.one, a.export))
	r.Post("/students/{student}/name", store.ToOwn, "renamed a student", kit.With(a.one, a.rename))
	r.Post("/students/{student}/move", store.Owns, "moved a student", kit.With(a.one, a.move))
	r.Post("/students/{student}/leave", store.ToOwn, "let a student leave, or come back", kit.With(a.one, a.leave))
	r.Post("/students/{student}/merge", store.ToOwn, "made one of two students", kit.With(a.one, a.merge))
	r.Post("/students/{student}/forget", store.InPlace, "forgot a student", kit.With(a.one, a.forget))
}

// listView is the page of classes.
type listView struct {
	Classes []classView
	Away    []store.Class
	Shared  []sharedView
	Undo    string // until when a new school year may be taken back; empty for none
}

// sharedView is a colleague's class in words.
type sharedView struct {
	store.SharedClass
	May string
}

// classView is a class with those who have left it.
type classView struct {
	store.Class
	Left  []store.Student
	Alike []string // pairs of names that may be one student
}

func (a area) list(w http.ResponseWriter, r *http.Request) error {
	classes, err := a.Store.Classes(r.Context(), kit.Owner(r))
	if err != nil {
		return err
	}
	left, err := a.Store.LeftOf(r.Context(), kit.Owner(r))
	if err != nil {
		return err
	}
	var views []classView
	for _, c := range classes {
		views = append(views, classView{c, left[c.ID], nearlyAlike(c.Students)})
	}
	away, err := a.Store.ClassesAway(r.Context(), kit.Owner(r))
	if err != nil {
		return err
	}
	v := listView{Classes: views, Away: away}
	if until, ok := kit.Teacher(r).YearBegun.Undo(time.Now()); ok {
		v.Undo = kit.Clock(r).Long(until)
	}
	if kit.HasShares(r) {
		shared, err := a.Store.ClassesSharedWith(r.Context(), kit.Owner(r), kit.Clock(r).Date(time.Now()))
		if err != nil {
			return err
		}
		for _, c := range shared {
			v.Shared = append(v.Shared, sharedView{c, kit.LevelWords(c.Level)})
		}
	}
	return pages.Whole(w, r, "classes.html", "Classes", v)
}

// add makes a class, and takes its list in, or shows first what was understood of it.
func (a area) add(w http.ResponseWriter, r *http.Request) error {
	name := kit.Tidy(r.FormValue("name"))
	if name == "" || len([]rune(name)) > roster.LongestName {
		return kit.AskAt("name", "Write a name for the class, such as 7b, of at most %d letters.", roster.LongestName)
	}
	given, err := listOf(r)
	if err != nil {
		return err
	}
	if given.plain && len(given.Entries) > mostStudents {
		return kit.AskAt("students", "These are %d names. Keep a class to %d at most, and make a second one for the rest.", len(given.Entries), mostStudents)
	}
	class, err := a.Store.AddClass(r.Context(), kit.Owner(r), name)
	if err != nil {
		return err
	}
	if given.none {
		return kit.Go(w, r, "/classes")
	}
	return a.understood(w, r, class, given)
}

// describe keeps what the teacher knows of a student.
func (a area) describe(w http.ResponseWriter, r *http.Request, id uint64) error {
	t := store.Traits{Hand: grid.Hand(r.FormValue("hand")), Units: r.FormValue("units"), Pace: r.FormValue("pace"),
		Team: kit.Tidy(r.FormValue("team")), Home: kit.Tidy(r.FormValue("home")), Needs: needsOf(r.Form["needs"])}
	if err := check(t); err != nil {
		return err
	}
	if err := a.keepTraits(r, id, t); err != nil {
		return err
	}
	return a.done(w, r)
}

// revoke ends a student's links: a lost or shared code opens nothing then.
func (a area) revoke(w http.ResponseWriter, r *http.Request, id uint64) error {
	if err := a.Store.RevokeLinks(r.Context(), kit.Owner(r), id); err != nil {
		return err
	}
	return a.done(w, r)
}

// done answers where the page needs no change, or goes back to it.
func (a area) done(w http.ResponseWriter, r *http.Request) error {
	if kit.IsFragment(r) {
		w.WriteHeader(http.StatusNoContent)
		return nil
	}
	return kit.Go(w, r, "/classes")
}

// needsOf returns those words that are needs, as they are kept.
func needsOf(words []string) string {
	var needs []string
	for _, need := range store.Needs {
		if need == store.NeedMore && slices.Contains(needs, store.NeedFewer) {
			continue // both would be neither
		}
		if slices.ContainsFunc(words, func(w string) bool { return strings.TrimSpace(w) == need }) {
			needs = append(needs, need)
		}
	}
	return strings.Join(needs, ", ")
}

func check(t store.Traits) error {
	switch {
	case t.Hand != grid.RightHand && t.Hand != grid.LeftHand || t.Units != "" && t.Units != "in" && t.Units != "cm" || t.Pace != "" && t.Pace != "slow" && t.Pace != "quick":
		return kit.Ask("Choose the right or left hand; inches, centimetres or the class's own; slow, usual or quick.")
	case len([]rune(t.Team)) > roster.LongestName || len([]rune(t.Home)) > roster.LongestHome:
		return kit.Ask("Write a shorter group, of at most %d letters, and at most %d for what is at home.", roster.LongestName, roster.LongestHome)
	}
	return nil
}

// renameClass gives a class another name; one that another class has is allowed,
// for years repeat, and said.
func (a area) renameClass(w http.ResponseWriter, r *http.Request, class store.Class) error {
	name := kit.Tidy(r.FormValue("name"))
	if name == "" || len([]rune(name)) > roster.LongestName {
		return kit.AskAt("name", "Write a name for the class, such as 7b, of at most %d letters.", roster.LongestName)
	}
	if err := a.Store.RenameClass(r.Context(), kit.Owner(r), class.ID, name); err != nil {
		return err
	}
	return kit.Go(w, r, "/classes")
}

// putAway takes a class off the lists, or brings it back.
func (a area) putAway(w http.ResponseWriter, r *http.Request, class store.Class) error {
	if err := a.Store.PutClassAway(r.Context(), kit.Owner(r), class.ID, r.FormValue("back") == ""); err != nil {
		return err
	}
	return kit.Go(w, r, "/classes")
}

// removeClass deletes a class in which nobody is or was.
func (a area) removeClass(w http.ResponseWriter, r *http.Request, class store.Class) error {
	err := a.Store.RemoveClass(r.Context(), kit.Owner(r), class.ID)
	if errors.Is(err, store.ErrTaken) {
		return kit.Ask("%s has students, or had some. Put it away instead: their work stays.", class.Name)
	}
	if err != nil {
		return err
	}
	return kit.Go(w, r, "/classes")
}

// Double reports whether another class has a class's name.
func (v listView) Double(c classView) bool {
	return slices.ContainsFunc(v.Classes, func(o classView) bool { return o.ID != c.ID && o.Name == c.Name })
}

// nearlyAlike returns pairs of names that may be one student twice.
func nearlyAlike(students []store.Student) (pairs []string) {
	for i, s := range students {
		for _, o := range students[i+1:] {
			if roster.NearlyAlike(s.Name, o.Name) {
				pairs = append(pairs, s.Name+" and "+o.Name)
			}
		}
	}
	return pairs
}
