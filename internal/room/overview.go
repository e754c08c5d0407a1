package room

import (
	"cmp"
	"context"
	"slices"
	"time"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/lesson"
	"zestysketch/internal/plans"
	"zestysketch/internal/store"
)

// Standing is how far one project's class is.
type Standing struct {
	store.Project
	Plan      *grid.Plan // nil where there is none yet
	Students  int
	Done, All int // boxes of everybody together
	Finished  int // students with every box done
	Waiting   int // photos that wait for their corners or for a name
	Behind    []Progress
}

// Progress is how far one student is.
type Progress struct {
	store.Student
	Done, Boxes int
}

// Coming is a class's lesson that is on or comes next, at the project that the
// class was last seen at.
type Coming struct {
	store.Project
	Lesson lesson.Lesson
	On     bool // now
	Today  bool
	Left   float64 // minutes of it to draw
}

// Overview returns how far a teacher's projects at work are, the newest first, each
// class that draws one by itself; the next lesson of every class, the soonest first;
// and the projects that are not at work.
func (rd *Reader) Overview(ctx context.Context, teacher uint64, clock Clock, now time.Time) (standings []Standing, next []Coming, rest []store.Project, err error) {
	all, err := rd.store.Overview(ctx, teacher, now)
	if err != nil {
		return nil, nil, nil, err
	}
	var each []store.Project
	for _, p := range all.Projects {
		plan, err := plans.Kept(ctx, rd.store, p)
		if err != nil {
			return nil, nil, nil, err
		}
		for i, p := range ofEach(p, all.Classes[p.ID]) {
			one := Standing{Project: p, Plan: plan}
			if p.ClassID != nil {
				one.Waiting = all.Waiting[p.ID][*p.ClassID]
			}
			if i == 0 {
				one.Waiting += all.Waiting[p.ID][0]
			}
			if plan != nil && p.ClassID != nil {
				students := all.Students[*p.ClassID]
				one.count(plans.New(p, *plan, all.Given[p.ID], students), students, all.Ticked[p.ID])
			}
			standings, each = append(standings, one), append(each, p)
		}
	}
	return standings, coming(each, clock, now), all.Rest, nil
}

// ofEach returns a project as each of its classes sees it; one without a class as it is.
func ofEach(p store.Project, classes []store.Class) []store.Project {
	if len(classes) < 2 {
		return []store.Project{p}
	}
	var each []store.Project
	for i, c := range classes {
		one := p
		if i > 0 {
			one.ClassID, one.Class, one.Chosen = &c.ID, &c, c.ID
		}
		each = append(each, one)
	}
	return each
}

// count adds up the boxes done, and sorts students by how far they are behind.
// Ticks are always of the present plan: what an earlier one had is history.
func (st *Standing) count(set plans.Set, students []store.Student, ticked map[uint64]int) {
	st.Students = len(students)
	for _, s := range students {
		boxes := set.Count(s.ID)
		one := Progress{s, min(ticked[s.ID], boxes), boxes}
		st.All, st.Done = st.All+one.Boxes, st.Done+one.Done
		if one.Done == one.Boxes {
			st.Finished++
		} else {
			st.Behind = append(st.Behind, one)
		}
	}
	slices.SortStableFunc(st.Behind, func(a, b Progress) int { return a.Done*b.Boxes - b.Done*a.Boxes })
}

func coming(projects []store.Project, clock Clock, now time.Time) (next []Coming) {
	seen, day, minute := map[uint64]bool{}, clock.Day(now), clock.Minute(now)
	for _, p := range projects {
		if p.ClassID == nil || seen[*p.ClassID] || p.PlanVersion == 0 {
			continue
		}
		seen[*p.ClassID] = true
		if l, on, found := lesson.Next(LessonsOf(p.Class), day, minute); found {
			left := lesson.MinutesLeft([]lesson.Lesson{l}, clock.Minutes(now))
			next = append(next, Coming{p, l, on, l.Day == day, left})
		}
	}
	slices.SortStableFunc(next, func(a, b Coming) int {
		return cmp.Or(cmp.Compare(a.Lesson.Day, b.Lesson.Day), cmp.Compare(a.Lesson.Start, b.Lesson.Start))
	})
	return next
}
