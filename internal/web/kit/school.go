package kit

import (
	"net/http"
	"strconv"
	"unicode/utf8"

	"zestysketch/internal/room"
	"zestysketch/internal/store"
)

// longestCurrency bounds a currency's sign, in letters, and mostMonths what may be
// kept, in months.
const longestCurrency, mostMonths = 8, 240

// SchoolForm is what a form about a school shows.
type SchoolForm struct {
	store.School
	Papers   []string
	AllDates []Option // how dates can be written
}

// NewSchoolForm returns the form of a school.
func NewSchoolForm(place store.School) SchoolForm {
	f := SchoolForm{School: place, Papers: Papers()}
	for _, d := range room.AllDates() {
		f.AllDates = append(f.AllDates, Option{d.Locale, d.Name, d.Locale == place.Dates})
	}
	return f
}

// ReadSchool reads what a form says of a school into one.
func ReadSchool(r *http.Request, place store.School) (store.School, error) {
	place.Name, place.Zone, place.Currency = Tidy(r.FormValue("school")), Tidy(r.FormValue("zone")), Tidy(r.FormValue("currency"))
	place.Units, place.Paper, place.Dates = r.FormValue("units"), r.FormValue("paper"), r.FormValue("dates")
	if err := CheckHabits(place.Units, place.Paper, false); err != nil {
		return place, err
	}
	switch {
	case place.Name == "" || utf8.RuneCountInString(place.Name) > store.LongestSchool:
		return place, AskAt("school", "Write the school's name, of at most %d letters.", store.LongestSchool)
	case !room.KnownZone(place.Zone):
		return place, AskAt("zone", "Write the place whose time the school keeps, such as Europe/Lisbon, or leave it empty.")
	case utf8.RuneCountInString(place.Currency) > longestCurrency:
		return place, AskAt("currency", "Write the currency's sign, such as €, of at most %d letters.", longestCurrency)
	case !room.KnownDates(place.Dates):
		return place, AskAt("dates", "Choose how dates are written from the list.")
	}
	return place, nil
}

// ReadMonths returns the months in a form's field, 0 where it is empty.
func ReadMonths(r *http.Request, field string) (int, error) {
	typed := Tidy(r.FormValue(field))
	if typed == "" {
		return 0, nil
	}
	n, err := strconv.Atoi(typed)
	if err != nil || n < 0 || n > mostMonths {
		return 0, AskAt(field, "Write how many months, 1 to %d, or leave it empty to keep them.", mostMonths)
	}
	return n, nil
}
