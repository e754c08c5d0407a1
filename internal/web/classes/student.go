package classes

import (
	"bytes"
	"errors"
	"fmt"
	"net/http"
	"slices"

	"zestysketch/internal/records"
	"zestysketch/internal/roster"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

// studentView is what a student's own page in the teacher's hand shows.
type studentView struct {
	Student store.Student
	Class   store.Class
	Others  []store.Class   // they may be moved to
	Mates   []store.Student // who may be the same person
	Since   string          // when they left, empty for here
	Photos  int
}

// one returns the student of the address, with their class.
func (a area) one(r *http.Request) (store.Student, error) {
	id, err := kit.ID(r, "student")
	if err != nil {
		return store.Student{}, err
	}
	return a.Store.Student(r.Context(), kit.Owner(r), id)
}

func studentPath(id uint64) string { return fmt.Sprintf("/students/%d", id) }

func (a area) showStudent(w http.ResponseWriter, r *http.Request, one store.Student) (err error) {
	classes, err := a.Store.Classes(r.Context(), kit.Owner(r))
	if !kit.Owns(r) { // of the owner's other classes a colleague sees nothing
		classes = slices.DeleteFunc(classes, func(c store.Class) bool { return c.ID != one.ClassID })
	}
	if err != nil {
		return err
	}
	photos, err := a.Store.PhotosOf(r.Context(), one.ID)
	if err != nil {
		return err
	}
	v := studentView{Student: one, Photos: len(photos)}
	if one.LeftAt != nil {
		v.Since = kit.Clock(r).Long(*one.LeftAt)
	}
	for _, c := range classes {
		if c.ID != one.ClassID {
			v.Others = append(v.Others, c)
			continue
		}
		v.Class = c
		for _, s := range c.Students {
			if s.ID != one.ID {
				v.Mates = append(v.Mates, s)
			}
		}
	}
	return pages.Whole(w, r, "student.html", one.Name, v)
}

func (a area) rename(w http.ResponseWriter, r *http.Request, one store.Student) (err error) {
	name := kit.Tidy(r.FormValue("name"))
	if name == "" || len([]rune(name)) > roster.LongestName {
		return kit.AskAt("name", "Write a first name or a code, of at most %d letters.", roster.LongestName)
	}
	err = a.Store.RenameStudent(r.Context(), kit.Owner(r), one.ID, name)
	if errors.Is(err, store.ErrTaken) {
		return kit.AskAt("name", "There is a “%s” in this class already, perhaps one who has left. A second one gets a letter more, such as “%s B”.", name, name)
	}
	if err != nil {
		return err
	}
	return kit.Go(w, r, studentPath(one.ID))
}

func (a area) move(w http.ResponseWriter, r *http.Request, one store.Student) (err error) {
	to, err := kit.Number(r.FormValue("to"))
	if err != nil {
		return kit.AskAt("to", "Choose the class to move to.")
	}
	there, err := a.Store.MoveStudent(r.Context(), kit.Owner(r), one.ID, to, r.FormValue("work") != "stays")
	if err != nil {
		return err
	}
	return kit.Go(w, r, studentPath(there))
}

func (a area) leave(w http.ResponseWriter, r *http.Request, one store.Student) error {
	if err := a.Store.LeaveClass(r.Context(), kit.Owner(r), one.ID, r.FormValue("back") == ""); err != nil {
		return err
	}
	return kit.Go(w, r, studentPath(one.ID))
}

func (a area) merge(w http.ResponseWriter, r *http.Request, one store.Student) (err error) {
	into, err := kit.Number(r.FormValue("into"))
	if err != nil {
		return kit.AskAt("into", "Choose who is the same person.")
	}
	if err := a.Store.MergeStudents(r.Context(), kit.Owner(r), one.ID, into); err != nil {
		return err
	}
	return kit.Go(w, r, studentPath(into))
}

// forget asks for the name to be written: what is forgotten does not come back.
func (a area) forget(w http.ResponseWriter, r *http.Request, one store.Student) error {
	if kit.Tidy(r.FormValue("sure")) != one.Name {
		return kit.AskAt("sure", "Write “%s” to forget everything of theirs. It does not come back.", one.Name)
	}
	if err := a.Store.ForgetStudent(r.Context(), kit.Owner(r), one.ID); err != nil {
		return err
	}
	return kit.Go(w, r, "/classes")
}

// export hands out everything that is kept of a student.
func (a area) export(w http.ResponseWriter, r *http.Request, one store.Student) (err error) {
	var out bytes.Buffer
	if err := records.Write(r.Context(), a.Store, kit.Owner(r), one.ID, kit.Clock(r).Date, &out); err != nil {
		return err
	}
	w.Header().Set("Content-Type", "application/zip")
	w.Header().Set("Content-Disposition", kit.Attachment(one.Name, "zip"))
	w.Header().Set("Cache-Control", "no-store")
	_, err = w.Write(out.Bytes())
	return err
}
