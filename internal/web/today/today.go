// Package today is the first page: what is going on, and what waits.
package today

import (
	"cmp"
	"context"
	"embed"
	"net/http"
	"slices"
	"time"

	"github.com/go-chi/chi/v5"

	"zestysketch/internal/core/lesson"
	"zestysketch/internal/plans"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

//go:embed *.html
var files embed.FS

var pages = kit.NewPages(files)

type area struct{ *kit.Kit }

// Routes adds the area's addresses.
func Routes(r chi.Router, k *kit.Kit) {
	r.Get("/", k.Handle(area{k}.show))
}

type view struct {
	Lessons  []class
	Projects []row
}

// class is a class's next lesson, at the project it draws.
type class struct {
	store.Project
	Lesson lesson.Lesson
	On     bool // now
	Today  bool
	Left   float64 // minutes to draw
}

// Starts and Ends return the lesson's times of day.
func (c class) Starts() string { return kit.Clock(c.Lesson.Start) }
func (c class) Ends() string   { return kit.Clock(c.Lesson.Start + c.Lesson.Minutes) }

// Date returns the lesson's day.
func (c class) Date() time.Time { return kit.DateOf(c.Lesson.Day) }

// lessonsShown bounds the lessons on the page: a day's.
const lessonsShown = 6

// row is one project as Today shows it.
type row struct {
	store.Project
	Plan     string // its size and count in words, empty without a plan
	Students int
	Done     int // boxes done by everyone together
	All      int
	Waiting  int        // photos that wait for their corners or for a name
	Behind   []progress // the furthest behind, while the class is drawing
	Finished int        // students with every box done
	Next     string
	NextPath string
}

// progress is how far one student is.
type progress struct {
	store.Student
	Done, Boxes int
}

// behindShown is how many names "furthest behind" lists.
const behindShown = 3

// Percent returns how much of all boxes is done.
func (r row) Percent() int {
	if r.All == 0 {
		return 0
	}
	return 100 * r.Done / r.All
}

func (a area) show(w http.ResponseWriter, r *http.Request) error {
	projects, err := a.Store.Projects(r.Context(), kit.Teacher(r).ID)
	if err != nil {
		return err
	}
	rows := make([]row, len(projects))
	for i, p := range projects {
		if rows[i], err = a.row(r, p); err != nil {
			return err
		}
	}
	lessons, err := a.lessons(r.Context(), projects, time.Now())
	if err != nil {
		return err
	}
	return pages.Whole(w, r, "today.html", "Today", view{lessons, rows})
}

// lessons returns the lesson of each class that is on or comes next, with the
// project that the class was last seen at; in order of time.
func (a area) lessons(ctx context.Context, projects []store.Project, now time.Time) (next []class, err error) {
	seen, day, minute := map[uint64]bool{}, kit.DayOf(now), kit.MinuteOf(now)
	for _, p := range projects {
		if p.ClassID == nil || seen[*p.ClassID] || p.PlanVersion == 0 {
			continue
		}
		seen[*p.ClassID] = true
		all, err := a.Lessons(ctx, p)
		if err != nil {
			return nil, err
		}
		if l, on, found := lesson.Next(all, day, minute); found {
			left := lesson.MinutesLeft([]lesson.Lesson{l}, day, minute)
			next = append(next, class{p, l, on, l.Day == day, left})
		}
	}
	slices.SortStableFunc(next, func(a, b class) int {
		return cmp.Or(cmp.Compare(a.Lesson.Day, b.Lesson.Day), cmp.Compare(a.Lesson.Start, b.Lesson.Start))
	})
	return next[:min(lessonsShown, len(next))], nil
}

func (a area) row(r *http.Request, p store.Project) (row, error) {
	ctx, out := r.Context(), row{Project: p}
	plan, err := plans.Kept(ctx, a.Store, p)
	if err != nil {
		return row{}, err
	}
	out.Next, out.NextPath = "Make the plan", kit.ProjectPath(p.ID)
	if plan == nil {
		return out, nil
	}
	out.Plan = plan.SheetSize().Text(plan.Units)
	ticks, err := a.Store.Ticks(ctx, p.ID)
	if err != nil {
		return row{}, err
	}
	if p.ClassID != nil {
		class, err := a.Store.Class(ctx, p.TeacherID, *p.ClassID)
		if err != nil {
			return row{}, err
		}
		out.Students = len(class.Students)
		planned, err := plans.Load(ctx, a.Store, p, *plan)
		if err != nil {
			return row{}, err
		}
		out.count(planned, class.Students, ticks)
	}
	if out.Waiting, err = a.Store.CountWaiting(ctx, p.ID); err != nil {
		return row{}, err
	}
	out.next()
	return out, nil
}

// next says what the project is waiting for.
func (r *row) next() {
	base := kit.ProjectPath(r.ID)
	switch {
	case r.Students == 0:
		r.Next, r.NextPath = "Choose a class", base+"/wall"
	case r.Waiting == 1:
		r.Next, r.NextPath = "1 photo to measure", base+"/check"
	case r.Waiting > 1:
		r.Next, r.NextPath = "Photos to measure", base+"/check"
	case r.Done == 0:
		r.Next, r.NextPath = "Print the pages", base+"/print"
	default:
		r.Next, r.NextPath = "Open the wall", base+"/wall"
	}
}

// count adds up the boxes done and finds who is furthest behind.
func (r *row) count(planned plans.Set, students []store.Student, ticks map[uint64]map[string]bool) {
	all := make([]progress, len(students))
	for i, s := range students {
		p := planned.Of(s.ID)
		all[i] = progress{s, kit.CountDone(p, ticks[s.ID]), p.Count()}
		r.All += all[i].Boxes
		r.Done += all[i].Done
		if all[i].Done == all[i].Boxes {
			r.Finished++
		}
	}
	if r.Done == 0 {
		return
	}
	slices.SortStableFunc(all, func(a, b progress) int { return a.Done*b.Boxes - b.Done*a.Boxes })
	for _, one := range all[:min(behindShown, len(all))] {
		if one.Done < one.Boxes {
			r.Behind = append(r.Behind, one)
		}
	}
}
