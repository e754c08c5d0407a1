package roster

import (
	"archive/zip"
	"bytes"
	"fmt"
	"slices"
	"strings"
)

// Set is the list of a whole school: its classes.
type Set struct{ Classes []SetClass }

// SetClass is one, who teaches it and who is in it.
type SetClass struct {
	ID, Title string
	Teachers  []string // their e-mails, in small letters
	Students  []Entry
}

// ReadSet reads a OneRoster 1.1 archive whole: users.csv, classes.csv and enrollments.csv. What is to be deleted
// there is not in it. The error wraps ErrList.
func ReadSet(b []byte) (Set, error) {
	z, err := zip.NewReader(bytes.NewReader(b), int64(len(b)))
	if err != nil {
		return Set{}, fmt.Errorf("%w: wanted a OneRoster archive, a ZIP with users.csv, classes.csv and enrollments.csv", ErrList)
	}
	tables := map[string][]map[string]string{}
	for _, name := range []string{"users.csv", "classes.csv", "enrollments.csv"} {
		if tables[name], err = tableOf(z, name); err != nil {
			return Set{}, err
		}
		if tables[name] == nil {
			return Set{}, fmt.Errorf("%w: wanted %s in the archive", ErrList, name)
		}
	}
	users := map[string]map[string]string{}
	for _, u := range tables["users.csv"] {
		if stands(u) {
			users[u["sourcedid"]] = u
		}
	}
	var set Set
	at := map[string]int{}
	for _, c := range tables["classes.csv"] {
		if stands(c) && c["title"] != "" {
			at[c["sourcedid"]] = len(set.Classes)
			set.Classes = append(set.Classes, SetClass{ID: c["sourcedid"], Title: c["title"]})
		}
	}
	rows := map[int]*List{}
	for i, e := range tables["enrollments.csv"] {
		class, known := at[e["classsourcedid"]]
		user := users[e["usersourcedid"]]
		if !known || user == nil || !stands(e) {
			continue
		}
		switch strings.ToLower(e["role"]) {
		case "teacher":
			set.Classes[class].Teachers = append(set.Classes[class].Teachers, strings.ToLower(user["email"]))
		case "student":
			if rows[class] == nil {
				rows[class] = &List{}
			}
			rows[class].read([]string{user["givenname"], user["familyname"], user["sourcedid"]}, map[string]int{"given": 0, "family": 1, "id": 2}, i+2)
		}
	}
	for class, list := range rows {
		list.shorten()
		set.Classes[class].Students = list.Entries
	}
	return set, nil
}

func stands(row map[string]string) bool { return !strings.EqualFold(row["status"], "tobedeleted") }

// HereClass is a class as it is here.
type HereClass struct {
	ID, Teacher     uint64
	Email           string // its teacher's
	OutsideID, Name string
	Students        []HereStudent
}

// HereStudent is somebody in it.
type HereStudent struct {
	ID              uint64
	OutsideID, Name string
	Left            bool
}

// ChangeKind is what a list of the school would change.
type ChangeKind string

// What it may change. Nobody's work is deleted by any.
const (
	NewClass ChangeKind = "class" // there is none like it here
	Joins    ChangeKind = "join"  // somebody new, or back
	Known    ChangeKind = "known" // somebody here of that name is who the list means
	Moves    ChangeKind = "move"  // from another class of the same teacher, with their work
	Leaves   ChangeKind = "leave" // somebody whom the list has no more in this class
)

// Change is one difference between a school's list and what is here.
type Change struct {
	Kind    ChangeKind `json:"kind"`
	Class   uint64     `json:"class"`   // here, 0 for one that is to be made
	Outside string     `json:"outside"` // how the list knows it
	Title   string     `json:"title"`
	Teacher uint64     `json:"teacher"`
	Student uint64     `json:"student,omitempty"` // who moves or leaves
	Name    string     `json:"name,omitempty"`
	ID      string     `json:"id,omitempty"` // of who joins, as the list knows them
	From    string     `json:"from,omitempty"`
}

// Differences returns what a set would change here, class by class, and which classes of it have no teacher
// here. Teachers are known by e-mail. A class is the one with the list's id, else one of the same name of
// one of its teachers; somebody who is here without an id is meant by their name. Who the list never knew
// stays: a teacher may have added them.
func Differences(set Set, here []HereClass, teachers map[string]uint64) (changes []Change, nobodys []string) {
	home := map[string]*HereClass{} // of each class of the set
	where := map[string]HereClass{} // students' classes here, by their id
	for _, c := range here {
		for _, s := range c.Students {
			if s.OutsideID != "" && !s.Left {
				where[s.OutsideID] = c
			}
		}
	}
	for _, c := range set.Classes {
		home[c.ID] = homeOf(c, here)
	}
	moved := map[uint64]bool{}
	var out []Change
	for _, c := range set.Classes {
		at := home[c.ID]
		var teacher uint64
		if at != nil {
			teacher = at.Teacher
		} else if i := slices.IndexFunc(c.Teachers, func(email string) bool { return teachers[email] > 0 }); i >= 0 {
			teacher = teachers[c.Teachers[i]]
		} else {
			nobodys = append(nobodys, c.Title)
			continue
		}
		base := Change{Outside: c.ID, Title: c.Title, Teacher: teacher}
		if at != nil {
			base.Class = at.ID
		} else {
			out = append(out, with(base, NewClass))
		}
		for _, e := range c.Students {
			if at != nil && at.has(e) {
				continue
			}
			joins := with(base, Joins)
			joins.Name, joins.ID = e.Name, e.OutsideID
			if at != nil && at.named(e) {
				joins.Kind = Known
			}
			from, there := where[e.OutsideID]
			if i := slices.IndexFunc(from.Students, func(s HereStudent) bool { return s.OutsideID == e.OutsideID }); there && i >= 0 && from.Teacher == teacher && !stays(set, home, from.ID, e.OutsideID) && !moved[from.Students[i].ID] {
				joins.Kind, joins.Student, joins.From = Moves, from.Students[i].ID, from.Name
				moved[joins.Student] = true
			}
			out = append(out, joins)
		}
		if at == nil {
			continue
		}
		for _, s := range at.Students {
			if s.Left || s.OutsideID == "" || slices.ContainsFunc(c.Students, func(e Entry) bool { return e.OutsideID == s.OutsideID }) {
				continue
			}
			leaves := with(base, Leaves)
			leaves.Student, leaves.Name = s.ID, s.Name
			out = append(out, leaves)
		}
	}
	return slices.DeleteFunc(out, func(c Change) bool { return c.Kind == Leaves && moved[c.Student] }), nobodys
}

func with(c Change, kind ChangeKind) Change {
	c.Kind = kind
	return c
}

// homeOf returns the class here that a class of a set is, nil for none.
func homeOf(c SetClass, here []HereClass) *HereClass {
	i := slices.IndexFunc(here, func(h HereClass) bool { return h.OutsideID != "" && h.OutsideID == c.ID })
	if i < 0 {
		i = slices.IndexFunc(here, func(h HereClass) bool {
			return h.OutsideID == "" && strings.EqualFold(h.Name, c.Title) && slices.Contains(c.Teachers, strings.ToLower(h.Email))
		})
	}
	if i < 0 {
		return nil
	}
	return &here[i]
}

// has reports whether somebody of a list is in a class already.
func (h HereClass) has(e Entry) bool {
	return slices.ContainsFunc(h.Students, func(s HereStudent) bool {
		return !s.Left && s.OutsideID != "" && s.OutsideID == e.OutsideID
	})
}

// named reports whether somebody here whom no list has known yet has the name.
func (h HereClass) named(e Entry) bool {
	return slices.ContainsFunc(h.Students, func(s HereStudent) bool { return !s.Left && s.OutsideID == "" && s.Name == e.Name })
}

// stays reports whether a set still has somebody in the class of here that they are in.
func stays(set Set, home map[string]*HereClass, class uint64, id string) bool {
	for _, c := range set.Classes {
		if at := home[c.ID]; at != nil && at.ID == class {
			return slices.ContainsFunc(c.Students, func(e Entry) bool { return e.OutsideID == id })
		}
	}
	return true // of a class that the set does not know
}
