package school

import (
	"encoding/json"
	"errors"
	"net/http"
	"strconv"

	"zestysketch/internal/roster"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

// listsView is the page of the school's own lists, and what one would change.
type listsView struct {
	Tabs    kit.Tabs
	Read    bool
	Classes []listedClass
	Nobodys []string // classes whose teachers are not here
	Done    int      // changes that were made, -1 for none
}

// listedClass is a class with its changes.
type listedClass struct {
	Title   string
	New     bool
	Changes []listedChange
}

type listedChange struct {
	roster.Change
	JSON string
}

func (a area) lists(w http.ResponseWriter, r *http.Request) error {
	v := listsView{Tabs: tabs("/school/lists"), Done: -1}
	if n, err := strconv.Atoi(r.URL.Query().Get("done")); err == nil {
		v.Done = n
	}
	return pages.Whole(w, r, "lists.html", "Lists", v)
}

// compareList shows what a list of the school would change.
func (a area) compareList(w http.ResponseWriter, r *http.Request) error {
	_, b, err := kit.ReadFile(r, "list")
	if err != nil {
		return err
	}
	set, err := roster.ReadSet(b)
	if errors.Is(err, roster.ErrList) {
		return kit.AskAt("list", "This is no list of a school: %s", kit.Said(err))
	}
	if err != nil {
		return err
	}
	here, teachers, err := roster.Here(r.Context(), a.Store, kit.Teacher(r).SchoolID)
	if err != nil {
		return err
	}
	changes, nobodys := roster.Differences(set, here, teachers)
	v := listsView{Tabs: tabs("/school/lists"), Read: true, Nobodys: nobodys, Done: -1}
	for _, c := range changes {
		kept, err := json.Marshal(c)
		if err != nil {
			return err
		}
		if n := len(v.Classes); n == 0 || v.Classes[n-1].Title != c.Title {
			v.Classes = append(v.Classes, listedClass{Title: c.Title})
		}
		last := &v.Classes[len(v.Classes)-1]
		last.New = last.New || c.Kind == roster.NewClass
		last.Changes = append(last.Changes, listedChange{c, string(kept)})
	}
	return pages.Whole(w, r, "lists.html", "Lists", v)
}

// takeList makes the changes that are ticked.
func (a area) takeList(w http.ResponseWriter, r *http.Request) error {
	if err := r.ParseForm(); err != nil {
		return kit.Ask("The form did not arrive whole. Check the connection and send it again.")
	}
	var changes []roster.Change
	for _, kept := range r.Form["change"] {
		var c roster.Change
		if err := json.Unmarshal([]byte(kept), &c); err != nil {
			return kit.Ask("A change could not be read. Choose the list again.")
		}
		changes = append(changes, c)
	}
	err := roster.Take(r.Context(), a.Store, kit.Teacher(r).SchoolID, changes)
	if errors.Is(err, store.ErrNotFound) {
		return kit.Ask("Somebody changed these classes meanwhile, and nothing was taken in. Choose the list again.")
	}
	if err != nil {
		return err
	}
	return kit.Go(w, r, "/school/lists?done="+strconv.Itoa(len(changes)))
}
