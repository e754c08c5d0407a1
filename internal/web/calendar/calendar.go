// Package calendar gives a class its lessons, and others a calendar file.
package calendar

import (
	"embed"
	"errors"
	"fmt"
	"html/template"
	"net/http"
	"regexp"
	"strconv"
	"strings"
	"time"

	ics "github.com/arran4/golang-ical"
	"github.com/go-chi/chi/v5"

	"zestysketch/internal/core/lesson"
	"zestysketch/internal/core/sheet"
	"zestysketch/internal/letters"
	"zestysketch/internal/room"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

//go:embed *.html
var files embed.FS

var pages = kit.NewPages(files)

type area struct{ *kit.Kit }

// Routes adds the area's addresses.
func Routes(r kit.Routes, k *kit.Kit) {
	a := area{k}
	r.Get("/classes/{class}/calendar", store.ToLook, kit.NoAudit, kit.With(a.class, a.show))
	r.Post("/classes/{class}/calendar", store.ToOwn, "changed the lessons", kit.With(a.class, a.keep))
	r.Post("/classes/{class}/calendar/feed", store.Owns, "gave the calendar a new address", kit.With(a.class, a.renewFeed))
}

// Feed adds the address of calendars' feeds, which their secret opens.
func Feed(r chi.Router, k *kit.Kit) { r.Get("/feed/{feed}.ics", k.Handle(area{k}.feed)) }

// view is what the page shows.
type view struct {
	Class    store.Class
	From     string
	Until    string
	Weekly   [4]weekly
	Single   string
	Holidays string
	Off      string // what the whole school has off
	Setup    string
	Clear    string
	Zone     string // of the school's clock
	Lessons  []shown
	Week     template.HTML // its weekly lessons, drawn
	Mine     bool          // the class is the teacher's own: the feed's address is nobody else's
	Feed     string
	Problem  string
}

// weekly is one line of the form as typed.
type weekly struct{ Day, Start, Minutes, Week string }

// shown is one lesson in words.
type shown struct {
	Date    string
	Start   string
	Drawing float64
	Past    bool
}

func (a area) class(r *http.Request) (store.Class, error) {
	id, err := kit.ID(r, "class")
	if err != nil {
		return store.Class{}, err
	}
	return a.Store.Class(r.Context(), kit.Owner(r), id)
}

func (a area) show(w http.ResponseWriter, r *http.Request, class store.Class) (err error) {
	now := kit.Clock(r).At(time.Now())
	v := view{Class: class, Zone: kit.Teacher(r).School.Zone, Setup: "5", Clear: "5", From: now.Format(time.DateOnly), Until: now.AddDate(0, 3, 0).Format(time.DateOnly)}
	c, err := a.Store.Calendar(r.Context(), kit.Owner(r), class.ID)
	if err != nil && !errors.Is(err, store.ErrNotFound) {
		return err
	}
	if err == nil {
		v.fill(c, room.DayOf(now), kit.Clock(r))
		if v.Mine = kit.Owns(r); !v.Mine {
			v.Feed = ""
		}
		if len(c.Calendar.Weekly) > 0 {
			if v.Week, err = kit.InlineSVG(sheet.Week(c.Calendar), nil); err != nil {
				return err
			}
		}
	}
	return pages.Whole(w, r, "calendar.html", class.Name+" · lessons", v)
}

func (v *view) fill(c store.Calendar, today lesson.Day, clock room.Clock) {
	cal := c.Calendar
	v.From, v.Until = room.DateOf(cal.From).Format(time.DateOnly), room.DateOf(cal.Until).Format(time.DateOnly)
	v.Setup, v.Clear = strconv.Itoa(cal.Setup), strconv.Itoa(cal.Clear)
	for i, w := range cal.Weekly {
		if i < len(v.Weekly) {
			v.Weekly[i] = weekly{strconv.Itoa(w.Weekday), room.TimeOfDay(w.Start), strconv.Itoa(w.Minutes), strconv.Itoa(w.Week)}
		}
	}
	var single []string
	for _, s := range cal.Single {
		single = append(single, fmt.Sprintf("%s %s %d", room.DateOf(s.Day).Format(time.DateOnly), room.TimeOfDay(s.Start), s.Minutes))
	}
	v.Single = strings.Join(single, "\n")
	v.Holidays, v.Off = kit.Stretches(cal.Holidays), kit.Stretches(cal.Off)
	if c.Feed != "" {
		v.Feed = "/feed/" + c.Feed + ".ics"
	}
	lessons, err := cal.Lessons()
	if err != nil {
		return // it was checked when it was kept
	}
	for _, l := range lessons {
		v.Lessons = append(v.Lessons, shown{clock.Weekday(l.Day), room.TimeOfDay(l.Start), l.Drawing(), l.Day < today})
	}
}

// keep reads the form. What cannot be read is said, and everything typed stays.
func (a area) keep(w http.ResponseWriter, r *http.Request, class store.Class) (err error) {
	v := view{Class: class, From: r.FormValue("from"), Until: r.FormValue("until"), Single: r.FormValue("single"),
		Holidays: r.FormValue("holidays"), Setup: r.FormValue("setup"), Clear: r.FormValue("clear"),
		Zone: kit.Teacher(r).School.Zone}
	for i := range v.Weekly {
		n := strconv.Itoa(i)
		v.Weekly[i] = weekly{r.FormValue("day" + n), r.FormValue("start" + n), r.FormValue("minutes" + n), r.FormValue("week" + n)}
	}
	c, err := v.read()
	if trouble := (kit.Trouble{}); errors.As(err, &trouble) && !kit.IsFragment(r) {
		v.Problem = trouble.Message
		return pages.WholeStatus(w, r, "calendar.html", class.Name+" · lessons", http.StatusUnprocessableEntity, v)
	}
	if err != nil {
		return err // what was typed stays where it is
	}
	if err := a.Store.SetCalendar(r.Context(), kit.Owner(r), class.ID, c); err != nil {
		return err
	}
	return kit.Go(w, r, fmt.Sprintf("/classes/%d/calendar", class.ID))
}

// read understands the form, or says at which field it does not.
func (v view) read() (c lesson.Calendar, err error) {
	for _, part := range []func(*lesson.Calendar) error{v.readDays, v.readMinutes, v.readWeekly, v.readSingle} {
		if err := part(&c); err != nil {
			return c, err
		}
	}
	if _, err := c.Lessons(); err != nil {
		return c, kit.Ask("%s", kit.Said(err))
	}
	return c, nil
}

func (v view) readDays(c *lesson.Calendar) (err error) {
	if c.From, err = kit.ReadDate("from", v.From, 0); err != nil {
		return err
	}
	if c.Until, err = kit.ReadDate("until", v.Until, c.From); err != nil {
		return err
	}
	c.Holidays, err = kit.ReadDays("holidays", v.Holidays, c.From)
	return err
}

func (v view) readMinutes(c *lesson.Calendar) (err error) {
	for _, n := range []struct {
		field, text string
		into        *int
		what        string
	}{{"setup", v.Setup, &c.Setup, "Setting up"}, {"clear", v.Clear, &c.Clear, "Clearing away"}} {
		if *n.into, err = strconv.Atoi(strings.TrimSpace(n.text)); err != nil || *n.into < 0 || *n.into > 120 {
			return kit.AskAt(n.field, "%s takes 0 to 120 minutes, got “%s”.", n.what, n.text)
		}
	}
	return nil
}

func (v view) readWeekly(c *lesson.Calendar) error {
	for i, w := range v.Weekly {
		if w.Day == "" {
			continue
		}
		day, err := strconv.Atoi(w.Day)
		start, minutes, ok := startAndMinutes(w.Start, w.Minutes)
		week := map[string]int{"": 0, "0": 0, "1": 1, "2": 2}
		if _, known := week[w.Week]; err != nil || !ok || day < 0 || day > 6 || !known {
			return kit.AskAt("start"+strconv.Itoa(i), "Wanted a day, a start such as 9:30 and minutes, got “%s” and “%s”.", w.Start, w.Minutes)
		}
		c.Weekly = append(c.Weekly, lesson.Weekly{Weekday: day, Start: start, Minutes: minutes, Week: week[w.Week]})
	}
	return nil
}

func (v view) readSingle(c *lesson.Calendar) (err error) {
	for line := range strings.Lines(v.Single) {
		words := strings.Fields(line)
		if len(words) == 0 {
			continue
		}
		s, m := lesson.Single{}, single.FindStringSubmatch(strings.Join(words, " "))
		ok := m != nil
		if ok {
			if s.Day, err = kit.ReadDate("single", m[1], c.From); err != nil {
				return err
			}
			s.Start, s.Minutes, ok = startAndMinutes(m[2], m[3])
		}
		if !ok {
			return kit.AskAt("single", "Wanted a single lesson such as 3 Dec 9:30 50, got “%s”.", letters.Cut(strings.TrimSpace(line), 40))
		}
		if c.Single = append(c.Single, s); len(c.Single) > mostSingle {
			return kit.AskAt("single", "That is more than %d single lessons.", mostSingle)
		}
	}
	return nil
}

// single is a lesson in a line: its day, when it begins and how many minutes it takes.
var single = regexp.MustCompile(`(?i)^(.+?) (\d{1,2}(?:[:.,h]\d{2})? ?(?:[ap]\.?m\.?|h)?) (\d+)(?: ?min(?:utes)?\.?)?$`)

// mostSingle bounds a calendar's lessons outside the weeks: a year of school days.
const mostSingle = 200

// startAndMinutes reads when a lesson begins, in minutes after midnight, and how long it is.
func startAndMinutes(start, long string) (from, minutes int, ok bool) {
	from, ok = kit.TimeOf(start)
	minutes, err := strconv.Atoi(strings.TrimSpace(long))
	return from, minutes, ok && err == nil
}

// renewFeed gives the feed a new address: the old one, wherever it went, opens
// nothing any more.
func (a area) renewFeed(w http.ResponseWriter, r *http.Request, class store.Class) error {
	if err := a.Store.RenewFeed(r.Context(), kit.Owner(r), class.ID); err != nil {
		return err
	}
	return kit.Go(w, r, fmt.Sprintf("/classes/%d/calendar", class.ID))
}

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
