package room

import (
	"cmp"
	"slices"
	"time"

	"github.com/goodsign/monday"

	"zestysketch/internal/core/lesson"
)

// Dates is how a language writes a day: its name for people, and the order of day
// and month in few letters and in many. The names of months are the language's own.
type Dates struct {
	Locale, Name string
	short, long  string
}

// datesOf are the languages that dates can be written in (layouts from memory).
var datesOf = map[string]Dates{}

func init() {
	for _, d := range []Dates{
		{"en_GB", "English, 31 December", "2 Jan", "2 January"}, {"en_US", "English, December 31", "Jan 2", "January 2"},
		{"cs_CZ", "Čeština", "2. Jan", "2. January"}, {"da_DK", "Dansk", "2. Jan", "2. January"}, {"de_DE", "Deutsch", "2. Jan", "2. January"},
		{"es_ES", "Español", "2 Jan", "2 de January"}, {"fr_FR", "Français", "2 Jan", "2 January"}, {"it_IT", "Italiano", "2 Jan", "2 January"},
		{"nl_NL", "Nederlands", "2 Jan", "2 January"}, {"nb_NO", "Norsk", "2. Jan", "2. January"}, {"pl_PL", "Polski", "2 Jan", "2 January"},
		{"pt_PT", "Português", "2 Jan", "2 de January"}, {"fi_FI", "Suomi", "2. Jan", "2. January"}, {"sv_SE", "Svenska", "2 Jan", "2 January"},
	} {
		datesOf[d.Locale] = d
	}
}

// AllDates returns the languages, by name.
func AllDates() (all []Dates) {
	for _, d := range datesOf {
		all = append(all, d)
	}
	slices.SortFunc(all, func(a, b Dates) int { return cmp.Compare(a.Name, b.Name) })
	return all
}

// KnownDates reports whether a school's dates can be written by a locale.
func KnownDates(locale string) bool { _, ok := datesOf[locale]; return ok }

func (c Clock) write(t time.Time, layout string) string {
	return monday.Format(t, layout, monday.Locale(cmp.Or(c.dates.Locale, "en_GB")))
}

func (d Dates) days() (short, long string) {
	return cmp.Or(d.short, "2 Jan"), cmp.Or(d.long, "2 January")
}

// Short returns the school's day at a moment in few letters, 2 Jan.
func (c Clock) Short(t time.Time) string {
	short, _ := c.dates.days()
	return c.write(c.At(t), short)
}

// Long returns the school's day at a moment, 2 January 2006.
func (c Clock) Long(t time.Time) string {
	_, long := c.dates.days()
	return c.write(c.At(t), long+" 2006")
}

// Months returns the school's day at a moment without its year, 2 January.
func (c Clock) Months(t time.Time) string {
	_, long := c.dates.days()
	return c.write(c.At(t), long)
}

// Month returns the month, January 2006.
func (c Clock) Month(t time.Time) string { return c.write(c.At(t), "January 2006") }

// Moment returns day and time, 2 January, 15:04.
func (c Clock) Moment(t time.Time) string {
	_, long := c.dates.days()
	return c.write(c.At(t), long+", 15:04")
}

// Stamp returns day and time with the year, in few letters: 2 Jan 2006, 15:04.
func (c Clock) Stamp(t time.Time) string {
	short, _ := c.dates.days()
	return c.write(c.At(t), short+" 2006, 15:04")
}

// Weekday returns a day with its weekday, Mon 2 Jan.
func (c Clock) Weekday(d lesson.Day) string {
	short, _ := c.dates.days()
	return c.write(DateOf(d), "Mon "+short)
}

// Written returns a day that was written down, as UTC has it, in few letters: 2 Jan 2006.
func (c Clock) Written(day time.Time) string {
	short, _ := c.dates.days()
	return c.write(day.UTC(), short+" 2006")
}

// ISO returns a moment for machines that read the page.
func (c Clock) ISO(t time.Time) string { return c.At(t).Format(time.RFC3339) }
