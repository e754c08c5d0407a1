// Package calendar gives a class its lessons, and others a calendar file.
package calendar

import (
	"embed"
	"errors"
	"fmt"
	"net/http"
	"strconv"
	"strings"
	"time"

	ics "github.com/arran4/golang-ical"
	"github.com/go-chi/chi/v5"

	"zestysketch/internal/core/lesson"
	"zestysketch/internal/room"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

//go:embed *.html
var files embed.FS

var pages = kit.NewPages(files)

type area struct{ *kit.Kit }

// Routes adds the area's addresses.
func Routes(r chi.Router, k *kit.Kit) {
	a := area{k}
	r.Get("/classes/{class}/calendar", k.Handle(a.show))
	r.Post("/classes/{class}/calendar", k.Handle(a.keep))
	r.Post("/classes/{class}/calendar/feed", k.Handle(a.renewFeed))
}

// Feed adds the address of calendars' feeds, which their secret opens.
func Feed(r chi.Router, k *kit.Kit) { r.Get("/feed/{feed}.ics", k.Handle(area{k}.feed)) }

// view is what the page shows.
type view struct {
	Class    store.Class
	From     string
	Until    string
	Weekly   [4]weekly
	Holidays string
	Setup    string
	Clear    string
	Zone     string // of the school's clock
	Lessons  []shown
	Feed     string
	Problem  string
}

// weekly is one line of the form as typed.
type weekly struct{ Day, Start, Minutes string }

// shown is one lesson in words.
type shown struct {
	Date    time.Time
	Start   string
	Drawing float64
	Past    bool
}

func (a area) class(r *http.Request) (store.Class, error) {
	id, err := kit.ID(r, "class")
	if err != nil {
		return store.Class{}, err
	}
	return a.Store.Class(r.Context(), kit.Teacher(r).ID, id)
}

func (a area) show(w http.ResponseWriter, r *http.Request) error {
	class, err := a.class(r)
	if err != nil {
		return err
	}
	now := kit.Clock(r).At(time.Now())
	v := view{Class: class, Zone: kit.Teacher(r).School.Zone, Setup: "5", Clear: "5", From: now.Format(time.DateOnly), Until: now.AddDate(0, 3, 0).Format(time.DateOnly)}
	c, err := a.Store.Calendar(r.Context(), kit.Teacher(r).ID, class.ID)
	if err != nil && !errors.Is(err, store.ErrNotFound) {
		return err
	}
	if err == nil {
		v.fill(c, room.DayOf(now))
	}
	return pages.Whole(w, r, "calendar.html", class.Name+" · lessons", v)
}

func (v *view) fill(c store.Calendar, today lesson.Day) {
	cal := c.Calendar
	v.From, v.Until = room.DateOf(cal.From).Format(time.DateOnly), room.DateOf(cal.Until).Format(time.DateOnly)
	v.Setup, v.Clear = strconv.Itoa(cal.Setup), strconv.Itoa(cal.Clear)
	for i, w := range cal.Weekly {
		if i < len(v.Weekly) {
			v.Weekly[i] = weekly{strconv.Itoa(w.Weekday), room.TimeOfDay(w.Start), strconv.Itoa(w.Minutes)}
		}
	}
	var off []string
	for _, h := range cal.Holidays {
		off = append(off, room.DateOf(h).Format(time.DateOnly))
	}
	v.Holidays = strings.Join(off, "\n")
	if c.Feed != "" {
		v.Feed = "/feed/" + c.Feed + ".ics"
	}
	lessons, err := cal.Lessons()
	if err != nil {
		return // it was checked when it was kept
	}
	for _, l := range lessons {
		v.Lessons = append(v.Lessons, shown{room.DateOf(l.Day), room.TimeOfDay(l.Start), l.Drawing(), l.Day < today})
	}
}

// keep reads the form. What cannot be read is said, and everything typed stays.
func (a area) keep(w http.ResponseWriter, r *http.Request) error {
	if err := kit.ReadForm(w, r); err != nil {
		return err
	}
	class, err := a.class(r)
	if err != nil {
		return err
	}
	v := view{Class: class, From: r.FormValue("from"), Until: r.FormValue("until"), Holidays: r.FormValue("holidays"), Setup: r.FormValue("setup"), Clear: r.FormValue("clear"), Zone: strings.TrimSpace(r.FormValue("zone"))}
	for i := range v.Weekly {
		n := strconv.Itoa(i)
		v.Weekly[i] = weekly{r.FormValue("day" + n), r.FormValue("start" + n), r.FormValue("minutes" + n)}
	}
	c, err := v.read()
	if err == nil {
		_, err = c.Lessons()
	}
	if err == nil && !room.KnownZone(v.Zone) {
		err = fmt.Errorf("%w: wanted the clock of a place such as Europe/Lisbon, got “%s”", lesson.ErrCalendar, v.Zone)
	}
	if errors.Is(err, lesson.ErrCalendar) {
		v.Problem = kit.Said(err)
		if kit.IsFragment(r) {
			return kit.Ask("%s", v.Problem) // what was typed stays where it is
		}
		return pages.WholeStatus(w, r, "calendar.html", class.Name+" · lessons", http.StatusUnprocessableEntity, v)
	}
	if err != nil {
		return err
	}
	if err := a.Store.SetCalendar(r.Context(), kit.Teacher(r).ID, class.ID, c); err != nil {
		return err
	}
	if school := kit.Teacher(r).School; school.Zone != v.Zone && r.Form.Has("zone") {
		if err := a.Store.SetZone(r.Context(), school.ID, v.Zone); err != nil {
			return err
		}
	}
	return kit.Go(w, r, fmt.Sprintf("/classes/%d/calendar", class.ID))
}

func (v view) read() (c lesson.Calendar, err error) {
	ask := func(format string, args ...any) error {
		return fmt.Errorf("%w: %s", lesson.ErrCalendar, fmt.Sprintf(format, args...))
	}
	date := func(text string) (lesson.Day, error) {
		t, err := time.Parse(time.DateOnly, strings.TrimSpace(text))
		if err != nil || t.Year() < 2000 || t.Year() > 2200 {
			return 0, ask("wanted a date such as 2026-11-24, got “%s”", text)
		}
		return room.DayOf(t), nil
	}
	if c.From, err = date(v.From); err != nil {
		return c, err
	}
	if c.Until, err = date(v.Until); err != nil {
		return c, err
	}
	for _, line := range strings.Fields(strings.ReplaceAll(v.Holidays, ",", " ")) {
		day, err := date(line)
		if err != nil {
			return c, err
		}
		if c.Holidays = append(c.Holidays, day); len(c.Holidays) > 300 {
			return c, ask("that is more than 300 days without lessons")
		}
	}
	for _, n := range []struct {
		text string
		into *int
		what string
	}{{v.Setup, &c.Setup, "setting up"}, {v.Clear, &c.Clear, "clearing away"}} {
		if *n.into, err = strconv.Atoi(strings.TrimSpace(n.text)); err != nil || *n.into < 0 || *n.into > 120 {
			return c, ask("%s takes 0 to 120 minutes, got “%s”", n.what, n.text)
		}
	}
	for _, w := range v.Weekly {
		if w.Day == "" {
			continue
		}
		day, err := strconv.Atoi(w.Day)
		at, err2 := time.Parse("15:04", clockMarks.Replace(strings.TrimSpace(w.Start)))
		minutes, err3 := strconv.Atoi(strings.TrimSpace(w.Minutes))
		if err != nil || err2 != nil || err3 != nil || day < 0 || day > 6 {
			return c, ask("wanted a day, a start such as 9:30 and minutes, got “%s” and “%s”", w.Start, w.Minutes)
		}
		c.Weekly = append(c.Weekly, lesson.Weekly{Weekday: day, Start: at.Hour()*60 + at.Minute(), Minutes: minutes})
	}
	return c, nil
}

// renewFeed gives the feed a new address: the old one, wherever it went, opens
// nothing any more.
func (a area) renewFeed(w http.ResponseWriter, r *http.Request) error {
	class, err := a.class(r)
	if err != nil {
		return err
	}
	if err := a.Store.RenewFeed(r.Context(), kit.Teacher(r).ID, class.ID); err != nil {
		return err
	}
	return kit.Go(w, r, fmt.Sprintf("/classes/%d/calendar", class.ID))
}

// clockMarks writes a time of day as 9:30, however it was typed: 9.30, 9h30.
var clockMarks = strings.NewReplacer(".", ":", "h", ":", "H", ":", ",", ":")

// feed answers with the class's lessons as iCalendar (RFC 5545), in the
// school's own time of day. Nobody's name is in it.
func (a area) feed(w http.ResponseWriter, r *http.Request) error {
	class, c, err := a.Store.Feed(r.Context(), chi.URLParam(r, "feed"))
	if err != nil {
		return err
	}
	lessons, err := c.Calendar.Lessons()
	if err != nil {
		return err
	}
	cal := ics.NewCalendarFor("Zesty Sketch")
	cal.SetMethod(ics.MethodPublish)
	cal.SetName(class.Name)
	for i, l := range lessons {
		e := cal.AddEvent(fmt.Sprintf("class-%d-%d@zesty-sketch", class.ID, int(l.Day)*1440+l.Start))
		e.SetDtStampTime(room.DateOf(c.Calendar.From))
		start := room.DateOf(l.Day).Add(time.Duration(l.Start) * time.Minute)
		// A time without a zone is the same on every clock in the room.
		e.SetProperty(ics.ComponentPropertyDtStart, start.Format("20060102T150405"))
		e.SetProperty(ics.ComponentPropertyDtEnd, start.Add(time.Duration(l.Minutes)*time.Minute).Format("20060102T150405"))
		e.SetSummary(fmt.Sprintf("%s: drawing, lesson %d of %d", class.Name, i+1, len(lessons)))
		e.SetDescription(fmt.Sprintf("%.0f minutes to draw.", l.Drawing()))
	}
	w.Header().Set("Content-Type", "text/calendar; charset=utf-8")
	w.Header().Set("Cache-Control", "no-store")
	_, err = w.Write([]byte(cal.Serialize(ics.WithNewLine("\r\n")))) // RFC 5545, 3.1
	return err
}
