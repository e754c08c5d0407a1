// Package today is the first page: what is going on, and what waits.
package today

import (
	"embed"
	"net/http"
	"slices"
	"strconv"
	"time"

	"zestysketch/internal/plans"
	"zestysketch/internal/room"
	"zestysketch/internal/starters"
	"zestysketch/internal/store"
	"zestysketch/internal/watch"
	"zestysketch/internal/web/kit"
)

//go:embed *.html
var files embed.FS

var pages = kit.NewPages(files)

type area struct{ *kit.Kit }

// Routes adds the area's addresses.
func Routes(r kit.Routes, k *kit.Kit) {
	a := area{k}
	r.Get("/", store.Owns, kit.NoAudit, a.show)
	r.Get("/shelf", store.Owns, kit.NoAudit, a.shelf)
	r.Post("/projects/{project}/away", store.Owns, "put a project away", a.away)
	r.Post("/projects/{project}/delete", store.Owns, "deleted a project", a.remove)
	r.Post("/projects/{project}/back", store.Owns, "brought a project back", a.back)
	r.Post("/projects/{project}/copy", store.ToOwn, "copied a project", kit.With(kit.IDOf("project"), a.copy))
}

type view struct {
	Lessons  []coming
	Waiting  []row // that wait for something, and have no lesson here
	Projects []row
	More     []row // past those that are shown large
	Rest     []year
	Shared   []sharedView
	First    *store.FirstSteps  // nil where nothing is left to begin
	Opened   []openedView       // by an administrator, in this teacher's place
	Starters []starters.Picture // for whoever has no picture yet
	Wrong    int                // wrong tries to sign in before this one, where they were many
	Ending   store.Ending
	// For administrators:
	Full        []full               // disks that are nearly full
	Certificate string               // what is wrong with it, empty for nothing
	Untold      []store.BackupFolder // backups that do not know of everybody who was forgotten
}

// full is a disk that is nearly full, in words.
type full struct{ Folder, Free string }

// disks says which disks are nearly full.
func (a area) disks() (list []full) {
	if a.Disks == nil {
		return nil
	}
	seen := map[watch.Disk]bool{} // folders may be on one disk
	for _, d := range a.Disks() {
		if same := (watch.Disk{Free: d.Free, Total: d.Total}); d.NearlyFull() && !seen[same] {
			seen[same] = true
			list = append(list, full{d.Folder, kit.Bytes(int64(d.Free))})
		}
	}
	return list
}

// year is the projects that were at work last in a year.
type year struct {
	Year     int
	Projects []store.Project
}

// sharedView is a colleague's project in words.
type sharedView struct {
	store.SharedProject
	May, Until string
}

// coming is a class's next lesson in words.
type coming struct {
	room.Coming
	Date  string
	Needs []need
}

// need is something to do before or in a lesson, and where.
type need struct{ Words, Path string }

// needs says what a lesson needs: what its project waits for first, then what is always
// at hand.
func needs(r row) (list []need) {
	base := kit.ProjectPath(r.Project)
	if r.Waiting > 0 || r.Plan == nil || r.Done == 0 {
		list = append(list, need{r.Next, r.NextPath})
	}
	if r.Plan == nil {
		return list
	}
	if r.Done == 0 {
		list = append(list, need{"Materials", base + "/materials"})
	}
	return append(list, need{"The wall", base + "/wall"}, need{"For the projector", base + "/projector"})
}

// Starts and Ends return the lesson's times of day.
func (c coming) Starts() string { return room.TimeOfDay(c.Lesson.Start) }
func (c coming) Ends() string   { return room.TimeOfDay(c.Lesson.Start + c.Lesson.Minutes) }

// lessonsShown bounds the lessons on the page: a day's. behindShown is how many
// names "furthest behind" lists. largeShown is how many projects are shown large, once they
// are more than can be seen at one look.
const lessonsShown, behindShown, largeShown, oneLook, shownStarters = 6, 3, 6, 9, 6

// openedView is a class that an administrator opened, and until when.
type openedView struct {
	store.OpenedClass
	Until string
}

// row is one project in words.
type row struct {
	room.Standing
	Next, NextPath string
	Double         bool // another project has its name
}

// Unreadable reports whether the project's plan cannot be read.
func (r row) Unreadable() bool { return plans.Unreadable(r.Project, r.Plan) }

// Size returns the drawing's, empty without a plan.
func (r row) Size() string {
	if r.Plan == nil {
		return ""
	}
	return r.Plan.SheetSize().Text(r.Plan.Units)
}

// Percent returns how much of all boxes is done.
func (r row) Percent() int {
	if r.All == 0 {
		return 0
	}
	return 100 * r.Done / r.All
}

// Last returns who is furthest behind, once the class is drawing.
func (r row) Last() []room.Progress {
	if r.Done == 0 {
		return nil
	}
	return r.Behind[:min(behindShown, len(r.Behind))]
}

// lay puts the projects in work and the lessons to come on the page.
func (v *view) lay(standings []room.Standing, lessons []room.Coming, clock room.Clock) {
	for _, s := range standings {
		one := newRow(s)
		one.Double = slices.ContainsFunc(standings, func(o room.Standing) bool { return o.ID != s.ID && o.Name == s.Name })
		v.Projects = append(v.Projects, one)
	}
	for _, c := range lessons[:min(lessonsShown, len(lessons))] {
		one := coming{Coming: c, Date: clock.Weekday(c.Lesson.Day)}
		for _, p := range v.Projects {
			if p.Key() == c.Project.Key() {
				one.Needs = needs(p)
			}
		}
		v.Lessons = append(v.Lessons, one)
	}
	for _, p := range v.Projects {
		inLesson := slices.ContainsFunc(v.Lessons, func(c coming) bool { return c.Project.Key() == p.Key() })
		if p.Waiting > 0 && !inLesson {
			v.Waiting = append(v.Waiting, p)
		}
	}
	if len(v.Projects) > oneLook {
		v.Projects, v.More = v.Projects[:largeShown], v.Projects[largeShown:]
	}
}

func (a area) show(w http.ResponseWriter, r *http.Request) error {
	me, clock, now := kit.Teacher(r), kit.Clock(r), time.Now()
	standings, lessons, rest, err := a.Rooms.Overview(r.Context(), me.ID, clock, now)
	if err != nil {
		return err
	}
	v := view{Wrong: a.WrongTries(r), Rest: byYear(rest, clock)}
	v.lay(standings, lessons, clock)
	if !slices.ContainsFunc(standings, func(s room.Standing) bool { return s.PrintedAt != nil }) {
		first, err := a.Store.FirstSteps(r.Context(), me.ID)
		if err != nil {
			return err
		}
		if !first.All() {
			v.First, v.Starters = &first, starters.All()[:shownStarters]
		}
	}
	if err := a.shared(r, &v, clock, now); err != nil {
		return err
	}
	opened, err := a.Store.Opened(r.Context(), me.ID, clock.Date(now))
	if err != nil {
		return err
	}
	for _, o := range opened {
		v.Opened = append(v.Opened, openedView{o, clock.Written(o.UntilDay)})
	}
	if me.Admin {
		v.Full, v.Certificate = a.disks(), a.CertificateTrouble(r.Host, now)
		if v.Untold, err = a.Store.Untold(r.Context()); err != nil {
			return err
		}
	}
	if v.Ending, err = a.Store.Ending(r.Context(), me.School, me.ID, now); err != nil {
		return err
	}
	return pages.Whole(w, r, "today.html", "Today", v)
}

// byYear puts projects that are not at work under their years.
func byYear(rest []store.Project, clock room.Clock) (years []year) {
	for _, p := range rest {
		y := clock.At(p.UpdatedAt).Year()
		if n := len(years); n == 0 || years[n-1].Year != y {
			years = append(years, year{Year: y})
		}
		one := &years[len(years)-1]
		one.Projects = append(one.Projects, p)
	}
	return years
}

// shared fills in what colleagues share.
func (a area) shared(r *http.Request, v *view, clock room.Clock, now time.Time) error {
	if !kit.HasShares(r) {
		return nil
	}
	list, err := a.Store.SharedWith(r.Context(), kit.Teacher(r).ID, clock.Date(now))
	for _, p := range list {
		one := sharedView{SharedProject: p, May: kit.LevelWords(p.Level)}
		if p.UntilDay != nil {
			one.Until = clock.Written(*p.UntilDay)
		}
		v.Shared = append(v.Shared, one)
	}
	return err
}

// newRow says what the project is waiting for.
func newRow(s room.Standing) row {
	r, base := row{Standing: s}, kit.ProjectPath(s.Project)
	switch {
	case r.Unreadable():
		r.Next, r.NextPath = "Keep the plan again", base
	case s.Plan == nil:
		r.Next, r.NextPath = "Make the plan", base
	case s.Students == 0:
		r.Next, r.NextPath = "Choose a class", base+"/wall"
	case s.Waiting == 1:
		r.Next, r.NextPath = "1 photo to measure", base+"/check"
	case s.Waiting > 1:
		r.Next, r.NextPath = strconv.Itoa(s.Waiting)+" photos to measure", base+"/check"
	case s.Done == 0:
		r.Next, r.NextPath = "Print the pages", base+"/print"
	default:
		r.Next, r.NextPath = "Open the wall", base+"/wall"
	}
	return r
}
