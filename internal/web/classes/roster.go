package classes

import (
	"cmp"
	"encoding/json"
	"errors"
	"net/http"
	"strings"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/roster"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

// preview is a list that was read and not taken in yet.
type preview struct {
	Class   store.Class
	List    roster.List
	Only    string // the list's own class that is shown, empty for all
	New     []roster.Entry
	Known   []roster.Entry
	Room    int    // how many more the class holds
	Entries string // JSON of what would be taken in
}

// read reads a list and shows what taking it in would do.
func (a area) read(w http.ResponseWriter, r *http.Request) error {
	class, err := a.class(r)
	if err != nil {
		return err
	}
	if err := kit.ReadList(w, r); err != nil {
		return err
	}
	b := []byte(r.FormValue("pasted"))
	if kit.HasFile(r, "list") {
		if _, b, err = kit.ReadFile(r, "list"); err != nil {
			return err
		}
	}
	list, err := roster.Read(b)
	if errors.Is(err, roster.ErrList) {
		return kit.Ask("This is no list of students: %s", kit.Said(err))
	}
	if err != nil {
		return err
	}
	p := preview{Class: class, List: list, Only: r.FormValue("only"), Room: mostStudents - len(class.Students)}
	p.sort()
	text, err := json.Marshal(append(append([]roster.Entry{}, p.New...), p.Known...))
	if err != nil {
		return err
	}
	p.Entries = string(text)
	return pages.Whole(w, r, "roster.html", class.Name+" · list", p)
}

// sort tells who is new.
func (p *preview) sort() {
	known := map[string]bool{}
	for _, s := range p.Class.Students {
		known["name "+s.Name] = true
		if s.OutsideID != nil {
			known["id "+*s.OutsideID] = true
		}
	}
	for _, e := range p.List.Entries {
		switch {
		case p.Only != "" && e.Class != p.Only:
		case e.OutsideID != "" && known["id "+e.OutsideID], known["name "+e.Name]:
			p.Known = append(p.Known, e)
		default:
			p.New = append(p.New, e)
		}
	}
}

// Fits reports whether the class holds everybody new.
func (p preview) Fits() bool { return len(p.New) <= p.Room }

func (a area) class(r *http.Request) (store.Class, error) {
	id, err := kit.ID(r, "class")
	if err != nil {
		return store.Class{}, err
	}
	return a.Store.Class(r.Context(), kit.Teacher(r).ID, id)
}

// takeIn takes in the list that was shown.
func (a area) takeIn(w http.ResponseWriter, r *http.Request) error {
	if err := kit.ReadList(w, r); err != nil {
		return err
	}
	class, err := a.class(r)
	if err != nil {
		return err
	}
	var entries []roster.Entry
	if err := json.Unmarshal([]byte(r.FormValue("entries")), &entries); err != nil || len(entries) == 0 {
		return kit.Ask("The list did not arrive whole. Read it again.")
	}
	var list []store.Enrol
	p := preview{Class: class, List: roster.List{Entries: entries}, Room: mostStudents - len(class.Students)}
	if p.sort(); !p.Fits() {
		return kit.Ask("A class holds %d students at most, and this would make %d. Choose one class of the list.", mostStudents, len(class.Students)+len(p.New))
	}
	for _, e := range entries {
		t := store.Traits{Hand: cmp.Or(e.Hand, grid.RightHand), Units: e.Units, Team: e.Team, Pace: e.Pace, Home: e.Home, Needs: needsOf(strings.Split(e.Needs, ","))}
		if e.Name == "" || len([]rune(e.Name)) > roster.LongestName || len([]rune(e.OutsideID)) > 80 || check(t) != nil {
			return kit.Ask("The list did not arrive whole. Read it again.")
		}
		t.Hand = e.Hand // empty keeps that of a student who is here
		list = append(list, store.Enrol{Name: e.Name, OutsideID: e.OutsideID, Traits: t})
	}
	if _, err := a.Store.ImportStudents(r.Context(), kit.Teacher(r).ID, class.ID, list); err != nil {
		return err
	}
	return kit.Go(w, r, "/classes")
}

// listCSV answers with a class as CSV, which may be read back.
func (a area) listCSV(w http.ResponseWriter, r *http.Request) error {
	class, err := a.class(r)
	if err != nil {
		return err
	}
	rows := [][]string{roster.Head}
	for _, s := range class.Students {
		e := roster.Entry{Name: s.Name, Team: s.Team, Hand: s.Hand, Units: s.Units, Pace: s.Pace, Home: s.Home, Needs: s.Needs}
		if s.OutsideID != nil {
			e.OutsideID = *s.OutsideID
		}
		rows = append(rows, e.Cells())
	}
	return kit.SendCSV(w, class.Name+" students", rows)
}
