package classes

import (
	"cmp"
	"encoding/csv"
	"encoding/json"
	"errors"
	"net/http"
	"slices"
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
	As      roster.As // how it was read
	Only    string    // the list's own class that is shown, empty for all
	New     []roster.Entry
	Changed []changed
	Same    []roster.Entry
	Doubled []string        // names that stand in the list more than once
	Gone    []store.Student // in the class and not in the list
	Room    int             // how many more the class holds
	Entries string          // JSON of what would be taken in
	Rows    string          // the list as CSV, to be read in another way
}

// changed is somebody known of whom the list says something else.
type changed struct {
	Name string
	Says []string
}

// given is a list as it came with a form.
type given struct {
	roster.List
	As    roster.As
	none  bool // nothing came
	plain bool // names, one a line, and each was understood as it stands
}

// listOf reads the list of a form: a file, or what was pasted.
func listOf(r *http.Request) (g given, err error) {
	b := []byte(r.FormValue("students"))
	pasted := !kit.HasFile(r, "list")
	if !pasted {
		if _, b, err = kit.ReadFile(r, "list"); err != nil {
			return g, err
		}
	}
	if g.none = pasted && strings.TrimSpace(string(b)) == ""; g.none {
		return g, nil
	}
	g.As = roster.As{Columns: r.Form["column"], Heads: r.FormValue("heads") != "", Whole: r.FormValue("whole") != "", All: r.FormValue("all") != ""}
	g.List, err = roster.Read(b, g.As)
	if errors.Is(err, roster.ErrList) && len(g.Rows) == 0 {
		return g, kit.AskAt("students", "This is no list of students: %s", kit.Said(err))
	}
	g.plain = pasted && err == nil && g.Plain(string(b))
	return g, nil // of rows without a name somebody says what they hold
}

// read reads a list and takes it in, or shows first what taking it in would do.
func (a area) read(w http.ResponseWriter, r *http.Request, class store.Class) error {
	g, err := listOf(r)
	if err != nil {
		return err
	}
	if g.none {
		return kit.AskAt("students", "Paste names, one a line, or choose a file.")
	}
	return a.understood(w, r, class, g)
}

// understood takes a list in that was understood as it stands and names nobody who is here; else it shows
// what was understood, and what taking it in would do.
func (a area) understood(w http.ResponseWriter, r *http.Request, class store.Class, g given) error {
	p := preview{Class: class, List: g.List, As: g.As, Only: kit.Tidy(r.FormValue("only")), Room: mostStudents - len(class.Students)}
	entries := slices.DeleteFunc(slices.Clone(g.Entries), func(e roster.Entry) bool { return p.Only != "" && e.Class != p.Only })
	p.sort(entries)
	if g.plain && p.Fits() && len(p.New) == len(entries) {
		return a.keep(w, r, class, entries)
	}
	text, err := json.Marshal(entries)
	if err != nil {
		return err
	}
	p.Entries = string(text)
	if len(g.Columns) > 0 {
		var rows strings.Builder
		err = csv.NewWriter(&rows).WriteAll(g.Rows)
		p.Rows = rows.String()
	}
	return errors.Join(err, pages.Whole(w, r, "roster.html", class.Name+" · list", p))
}

// Meanings returns what a column can be said to hold.
func (p preview) Meanings() []roster.Meaning { return roster.Meanings }

// sort tells who is new, who is known and changed, who stands there twice and
// who is gone.
func (p *preview) sort(entries []roster.Entry) {
	here, twice := map[uint64]bool{}, map[string]int{}
	for i, known := range store.Match(p.Class.Students, enrols(entries)) {
		e := entries[i]
		if twice[e.Name]++; twice[e.Name] == 2 {
			p.Doubled = append(p.Doubled, e.Name)
		}
		if known == nil {
			p.New = append(p.New, e)
			continue
		}
		here[known.ID] = true
		if says := differs(*known, e); len(says) > 0 {
			p.Changed = append(p.Changed, changed{known.Name, says})
		} else {
			p.Same = append(p.Same, e)
		}
	}
	for _, s := range p.Class.Students {
		if !here[s.ID] {
			p.Gone = append(p.Gone, s)
		}
	}
}

// differs says in words what a list says otherwise of a known student.
func differs(s store.Student, e roster.Entry) (says []string) {
	id := ""
	if s.OutsideID != nil {
		id = *s.OutsideID
	}
	for _, c := range []struct{ what, is, says string }{{"id", id, e.OutsideID}, {"group", s.Team, e.Team},
		{"hand", string(s.Hand), string(e.Hand)}, {"units", s.Units, e.Units}, {"pace", s.Pace, e.Pace},
		{"at home", s.Home, e.Home}} {
		if c.says != "" && c.says != c.is {
			says = append(says, c.what+" "+c.says)
		}
	}
	return says
}

// enrols returns a list's entries as the class takes them.
func enrols(entries []roster.Entry) (list []store.Enrol) {
	for _, e := range entries {
		list = append(list, store.Enrol{Name: e.Name, OutsideID: e.OutsideID,
			Traits: store.Traits{Hand: e.Hand, Units: e.Units, Team: e.Team, Pace: e.Pace, Home: e.Home, Needs: needsOf(strings.Split(e.Needs, ","))}})
	}
	return list
}

// Fits reports whether the class holds everybody new.
func (p preview) Fits() bool { return len(p.New) <= p.Room }

func (a area) class(r *http.Request) (store.Class, error) {
	id, err := kit.ID(r, "class")
	if err != nil {
		return store.Class{}, err
	}
	return a.Store.Class(r.Context(), kit.Owner(r), id)
}

// takeIn takes in the list that was shown.
func (a area) takeIn(w http.ResponseWriter, r *http.Request, class store.Class) error {
	var entries []roster.Entry
	if err := json.Unmarshal([]byte(r.FormValue("entries")), &entries); err != nil || len(entries) == 0 {
		return kit.Ask("The list did not arrive whole. Read it again.")
	}
	return a.keep(w, r, class, entries)
}

func (a area) keep(w http.ResponseWriter, r *http.Request, class store.Class, entries []roster.Entry) error {
	p := preview{Class: class, Room: mostStudents - len(class.Students)}
	if p.sort(entries); !p.Fits() {
		return kit.Ask("A class holds %d students at most, and this would make %d. Choose one class of the list.", mostStudents, len(class.Students)+len(p.New))
	}
	list := enrols(entries)
	for _, e := range list {
		t := e.Traits
		t.Hand = cmp.Or(t.Hand, grid.RightHand) // empty keeps that of a student who is here
		if e.Name == "" || len([]rune(e.Name)) > roster.LongestName || len([]rune(e.OutsideID)) > 80 || check(t) != nil {
			return kit.Ask("The list did not arrive whole. Read it again.")
		}
	}
	if _, err := a.Store.ImportStudents(r.Context(), kit.Owner(r), class.ID, list); err != nil {
		return err
	}
	return kit.Go(w, r, "/classes")
}

// listCSV answers with a class as CSV, which may be read back.
func (a area) listCSV(w http.ResponseWriter, r *http.Request, class store.Class) error {
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
