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
	set, at := classesOf(tables["classes.csv"])
	set.enrol(at, tables["users.csv"], tables["enrollments.csv"])
	return set, nil
}

// classesOf returns the classes that stand, and at which place each is.
func classesOf(rows []map[string]string) (set Set, at map[string]int) {
	at = map[string]int{}
	for _, c := range rows {
		if stands(c) && c["title"] != "" {
			at[c["sourcedid"]] = len(set.Classes)
			set.Classes = append(set.Classes, SetClass{ID: c["sourcedid"], Title: c["title"]})
		}
	}
	return set, at
}

// enrol puts teachers and students into their classes.
func (set Set) enrol(at map[string]int, people, rows []map[string]string) {
	users := map[string]map[string]string{}
	for _, u := range people {
		if stands(u) {
			users[u["sourcedid"]] = u
		}
	}
	lists := make([]List, len(set.Classes))
	for i, e := range rows {
		class, known := at[e["classsourcedid"]]
		user := users[e["usersourcedid"]]
		if !known || user == nil || !stands(e) {
			continue
		}
		switch strings.ToLower(e["role"]) {
		case "teacher":
			set.Classes[class].Teachers = append(set.Classes[class].Teachers, strings.ToLower(user["email"]))
		case "student":
			lists[class].read([]string{user["givenname"], user["familyname"], user["sourcedid"]}, map[string]int{"given": 0, "family": 1, "id": 2}, i+2)
		}
	}
	for class := range lists {
		lists[class].shorten()
		set.Classes[class].Students = lists[class].Entries
	}
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
	d := differing{set: set, home: map[string]*HereClass{}, where: map[string]HereClass{}, moved: map[uint64]bool{}}
	for _, c := range here {
		for _, s := range c.Students {
			if s.OutsideID != "" && !s.Left {
				d.where[s.OutsideID] = c
			}
		}
	}
	for _, c := range set.Classes {
		d.home[c.ID] = homeOf(c, here)
	}
	for _, c := range set.Classes {
		teacher := d.teacherOf(c, teachers)
		if teacher == 0 {
			nobodys = append(nobodys, c.Title)
			continue
		}
		changes = append(changes, d.come(c, teacher)...)
		changes = append(changes, d.leave(c, teacher)...)
	}
	return slices.DeleteFunc(changes, func(c Change) bool { return c.Kind == Leaves && d.moved[c.Student] }), nobodys
}

// differing is a set beside what is here.
type differing struct {
	set   Set
	home  map[string]*HereClass // of each class of the set, nil for none
	where map[string]HereClass  // students' classes here, by the list's id
	moved map[uint64]bool       // who moves, and so does not leave
}

// teacherOf returns whose a class of the set is here, 0 for nobody's.
func (d differing) teacherOf(c SetClass, teachers map[string]uint64) uint64 {
	if at := d.home[c.ID]; at != nil {
		return at.Teacher
	}
	for _, email := range c.Teachers {
		if teachers[email] > 0 {
			return teachers[email]
		}
	}
	return 0
}

// change begins one of a class.
func (d differing) change(kind ChangeKind, c SetClass, teacher uint64) Change {
	one := Change{Kind: kind, Outside: c.ID, Title: c.Title, Teacher: teacher}
	if at := d.home[c.ID]; at != nil {
		one.Class = at.ID
	}
	return one
}

// come returns the class, where it is new, and who comes to it.
func (d differing) come(c SetClass, teacher uint64) (out []Change) {
	at := d.home[c.ID]
	if at == nil {
		out = append(out, d.change(NewClass, c, teacher))
	}
	for _, e := range c.Students {
		if at != nil && at.has(e) {
			continue
		}
		one := d.change(Joins, c, teacher)
		one.Name, one.ID = e.Name, e.OutsideID
		if at != nil && at.named(e) {
			one.Kind = Known
		}
		if from, who := d.comesFrom(e, teacher); who > 0 {
			one.Kind, one.Student, one.From = Moves, who, from
			d.moved[who] = true
		}
		out = append(out, one)
	}
	return out
}

// comesFrom returns the class of the same teacher that somebody leaves for another, and their number; 0 for nobody who does.
func (d differing) comesFrom(e Entry, teacher uint64) (from string, who uint64) {
	class, there := d.where[e.OutsideID]
	if !there || class.Teacher != teacher || d.stays(class.ID, e.OutsideID) {
		return "", 0
	}
	i := slices.IndexFunc(class.Students, func(s HereStudent) bool { return s.OutsideID == e.OutsideID })
	if d.moved[class.Students[i].ID] {
		return "", 0
	}
	return class.Name, class.Students[i].ID
}

// leave returns who is in a class here and, by the list, no more.
func (d differing) leave(c SetClass, teacher uint64) (out []Change) {
	at := d.home[c.ID]
	if at == nil {
		return nil
	}
	for _, s := range at.Students {
		if s.Left || s.OutsideID == "" || slices.ContainsFunc(c.Students, func(e Entry) bool { return e.OutsideID == s.OutsideID }) {
			continue
		}
		one := d.change(Leaves, c, teacher)
		one.Student, one.Name = s.ID, s.Name
		out = append(out, one)
	}
	return out
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

// stays reports whether the set still has somebody in the class of here that they are in.
func (d differing) stays(class uint64, id string) bool {
	for _, c := range d.set.Classes {
		if at := d.home[c.ID]; at != nil && at.ID == class {
			return slices.ContainsFunc(c.Students, func(e Entry) bool { return e.OutsideID == id })
		}
	}
	return true // of a class that the set does not know
}
