package classes

import (
	"errors"
	"net/http"
	"regexp"
	"strconv"
	"time"

	"zestysketch/internal/roster"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

// yearView is the page on which a school year begins.
type yearView struct {
	Classes  []yearClass
	Projects []yearProject
}

// yearClass is a class with the name that it may have next.
type yearClass struct {
	store.Class
	Next string
}

type yearProject struct {
	store.Project
	Class string
}

func (a area) showYear(w http.ResponseWriter, r *http.Request) error {
	me := kit.Teacher(r).ID
	list, err := a.Store.Classes(r.Context(), me)
	if err != nil {
		return err
	}
	var v yearView
	for _, c := range list {
		v.Classes = append(v.Classes, yearClass{c, nextName(c.Name)})
	}
	projects, err := a.Store.ProjectList(r.Context(), me)
	if err != nil {
		return err
	}
	for _, p := range projects {
		one := yearProject{Project: p}
		if p.Class != nil {
			one.Class = p.Class.Name
		}
		v.Projects = append(v.Projects, one)
	}
	return pages.Whole(w, r, "year.html", "A new school year", v)
}

// yearIn finds the year in a class's name: its first number of one or two digits.
var yearIn = regexp.MustCompile(`(^|[^0-9])([0-9]{1,2})([^0-9]|$)`)

// nextName returns a class's name a year later: 7b is 8b then. A name without a year
// stays.
func nextName(name string) string {
	at := yearIn.FindStringSubmatchIndex(name)
	if at == nil {
		return name
	}
	n, err := strconv.Atoi(name[at[4]:at[5]])
	if err != nil {
		return name
	}
	return name[:at[4]] + strconv.Itoa(n+1) + name[at[5]:]
}

// newYear moves the classes on and puts away what is over, all of it or nothing.
func (a area) newYear(w http.ResponseWriter, r *http.Request) error {
	me := kit.Teacher(r).ID
	list, err := a.Store.Classes(r.Context(), me)
	if err != nil {
		return err
	}
	var moves []store.YearMove
	for _, c := range list {
		id := strconv.FormatUint(c.ID, 10)
		if !r.Form.Has("then_" + id) {
			continue // made since the page was opened
		}
		m := store.YearMove{Class: c.ID}
		if r.FormValue("then_"+id) == "on" {
			m.Name = kit.Tidy(r.FormValue("name_" + id))
			if m.Name == "" || len([]rune(m.Name)) > roster.LongestName {
				return kit.AskAt("name_"+id, "Write the new name of %s, of at most %d letters.", c.Name, roster.LongestName)
			}
		}
		moves = append(moves, m)
	}
	var away []uint64
	for _, text := range r.Form["away"] {
		id, err := kit.Number(text)
		if err != nil {
			return err
		}
		away = append(away, id)
	}
	if err := a.Store.NewYear(r.Context(), me, moves, away); err != nil {
		return err
	}
	return kit.Go(w, r, "/classes")
}

// undoYear takes the new school year back, within a week.
func (a area) undoYear(w http.ResponseWriter, r *http.Request) error {
	err := a.Store.UndoYear(r.Context(), kit.Teacher(r).ID, time.Now())
	if errors.Is(err, store.ErrNotFound) {
		return kit.Ask("There is no new school year of the last seven days to take back. Classes and projects can be brought back one by one.")
	}
	if err != nil {
		return err
	}
	return kit.Go(w, r, "/classes")
}
