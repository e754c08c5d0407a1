package kit

import (
	"cmp"
	"net/http"
	"slices"

	"zestysketch/internal/core/measure"
	"zestysketch/internal/store"
)

// CheckPerson says at its field what of a name or an address cannot be taken.
func CheckPerson(name, email string) error {
	if err := store.CheckPerson(name, "a@b"); err != nil {
		return AskAt("name", "%s", Said(err))
	}
	if err := store.CheckPerson("a", email); err != nil {
		return AskAt("email", "%s", Said(err))
	}
	return nil
}

// NewPassword returns the password in a form's field, which is written there and
// in the field "again", and is about nobody.
func NewPassword(r *http.Request, field string, about ...string) (string, error) {
	next := r.FormValue(field)
	if err := store.CheckPassword(next, about...); err != nil {
		return "", AskAt(field, "%s", Said(err))
	}
	if next != r.FormValue("again") {
		return "", AskAt("again", "The two are not alike. Write the password once more.")
	}
	return next, nil
}

// Papers returns the names of what printers hold.
func Papers() (names []string) {
	for _, p := range measure.Papers {
		if p.Kind == measure.Office {
			names = append(names, p.Name)
		}
	}
	return names
}

// PaperOf returns what pages are printed on: what is asked for, what the teacher's printers
// hold, or the usual of the units.
func PaperOf(r *http.Request, units measure.Unit) string {
	_, habit := Habits(r)
	return cmp.Or(r.FormValue("paper"), habit, measure.OfficePaper(units).Name)
}

// PaperOptions returns what pages may be printed on, with what they are chosen.
func PaperOptions(paper string) (list []Option) {
	for _, name := range Papers() {
		list = append(list, Option{name, name, name == paper})
	}
	return list
}

// CheckHabits says what of units and paper cannot be a habit; empty ones are, where
// there is something to fall back on.
func CheckHabits(units, paper string, mayBeEmpty bool) error {
	if units != "in" && units != "cm" && (units != "" || !mayBeEmpty) {
		return AskAt("units", "Choose inches or centimetres.")
	}
	if paper != "" && !slices.Contains(Papers(), paper) {
		return AskAt("paper", "Choose a paper from the list.")
	}
	return nil
}

// Habits returns the units that the teacher's projects begin with, and the paper
// that their printers hold, empty for the usual one: their own, or the school's.
func Habits(r *http.Request) (units measure.Unit, paper string) {
	me := Teacher(r)
	u, err := measure.ParseUnit(cmp.Or(me.Units, me.School.Units, string(measure.Inch)))
	if err != nil {
		u = measure.Inch
	}
	return u, cmp.Or(me.Paper, me.School.Paper)
}
