package printroom

import (
	"errors"
	"html/template"
	"net/http"
	"slices"
	"strconv"
	"time"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/render"
	rooms "zestysketch/internal/room"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

// onScreen is what the page of students' links on screen shows.
type onScreen struct {
	Project  store.Project
	Rail     kit.Rail
	Base     string
	OnlyHere bool
	Code     string // that opens the class's pages now, in two groups; empty for none
	Until    string
	Links    []shownLink
	One      bool // one student's alone, large
}

// shownLink is a student's link as a code to point a tablet at.
type shownLink struct {
	Student store.Student
	Link    string
	QR      template.HTML
}

// lessonTime is how long a code opens where no lesson is going on, and lateness how
// much longer than the lesson.
const (
	lessonTime = 90 * time.Minute
	lateness   = 10 * time.Minute
)

// screen shows the links of a class on screen, or one student's, and the class's code.
func (a area) screen(w http.ResponseWriter, r *http.Request, p store.Project, _ grid.Plan) (err error) {
	v := onScreen{Project: p, Rail: kit.NewRail(p, kit.StepPrint), Base: a.Base(r)}
	v.OnlyHere = kit.OnlyHere(v.Base)
	code, err := a.Store.CodeOf(r.Context(), p)
	if err != nil && !errors.Is(err, store.ErrNotFound) {
		return err
	}
	if err == nil {
		v.Code, v.Until = code.Code[:3]+" "+code.Code[3:], kit.Clock(r).At(code.Until).Format("15:04")
	}
	if p.Class == nil {
		return pages.Whole(w, r, "screen.html", p.Name+" · links on screen", v)
	}
	shown := p.Class.Students
	if v.One = r.FormValue("student") != ""; v.One {
		asked, _ := strconv.ParseUint(r.FormValue("student"), 10, 63)
		at := slices.IndexFunc(shown, func(s store.Student) bool { return s.ID == asked })
		if at < 0 {
			return store.ErrNotFound
		}
		shown = shown[at : at+1]
	}
	if v.Links, err = a.shown(r, p, shown, v.Base); err != nil {
		return err
	}
	return pages.Whole(w, r, "screen.html", p.Name+" · links on screen", v)
}

// shown returns the links of students as codes.
func (a area) shown(r *http.Request, p store.Project, students []store.Student, base string) (list []shownLink, err error) {
	var ids []uint64
	for _, s := range students {
		ids = append(ids, s.ID)
	}
	secrets, err := a.Store.Links(r.Context(), p, ids)
	if err != nil {
		return nil, err
	}
	for _, s := range students {
		link := base + "/s/" + secrets[s.ID]
		drawn, err := render.QR(link)
		if err != nil {
			return nil, err
		}
		list = append(list, shownLink{s, link, template.HTML(drawn)}) // numbers alone
	}
	return list, nil
}

// code gives the class a code for this lesson, or ends the one it has.
func (a area) code(w http.ResponseWriter, r *http.Request, p store.Project) (err error) {
	if p.Class == nil {
		return kit.Ask("This project has no class yet. Choose one on the wall first.")
	}
	if r.FormValue("do") == "end" {
		err = a.Store.EndCode(r.Context(), p)
	} else {
		_, err = a.Store.MakeCode(r.Context(), p, codeUntil(p.Class.Calendar, kit.Clock(r), time.Now()))
	}
	if err != nil {
		return err
	}
	return kit.Go(w, r, kit.ProjectPath(p)+"/links/screen")
}

// codeUntil returns until when a code made now opens: the end of the lesson that is
// going on or begins soon, and a little more.
func codeUntil(c *store.Calendar, clock rooms.Clock, now time.Time) time.Time {
	if c == nil {
		return now.Add(lessonTime)
	}
	lessons, err := c.Calendar.Lessons()
	if err != nil {
		return now.Add(lessonTime)
	}
	day, minute := clock.Day(now), clock.Minute(now)
	for _, l := range lessons {
		ends := l.Start + l.Minutes
		if l.Day == day && minute < ends && l.Start-minute < int(lateness/time.Minute) {
			return now.Add(time.Duration(ends-minute)*time.Minute + lateness)
		}
	}
	return now.Add(lessonTime)
}
