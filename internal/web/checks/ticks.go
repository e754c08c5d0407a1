package checks

import (
	"fmt"
	"net/http"
	"strconv"
	"strings"

	"zestysketch/internal/checkin"
	"zestysketch/internal/core/lesson"
	"zestysketch/internal/plans"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

// ticked is what the photos of a whole stack ticked, and how to take it back.
type ticked struct {
	Project  string
	Boxes    int
	Students int
	Undone   bool
	Undo     []string // a student each, as 12:A1,B1
}

// tickStack ticks for everybody the boxes that their latest measured photo shows as drawn, or
// takes back what it ticked just before.
func (a area) tickStack(w http.ResponseWriter, r *http.Request, j checkin.Job) (err error) {
	done, undo := ticked{Project: j.Project.Key()}, r.Form["undo"]
	var ticks []store.Tick
	if done.Undone = len(undo) > 0; done.Undone {
		ticks, err = ticksOf(j.Project.ID, undo)
	} else {
		ticks, err = a.shownDrawn(r, j)
	}
	if err != nil {
		return err
	}
	by := map[uint64][]string{}
	for _, t := range ticks {
		by[t.StudentID] = append(by[t.StudentID], t.Label)
	}
	if err := a.Store.TickMany(r.Context(), j.Project.TeacherID, j.Project.ID, ticks, !done.Undone); err != nil {
		return err
	}
	done.Boxes, done.Students = len(ticks), len(by)
	for id, labels := range by {
		done.Undo = append(done.Undo, fmt.Sprintf("%d:%s", id, strings.Join(labels, ",")))
	}
	if !kit.IsFragment(r) {
		return kit.Go(w, r, kit.ProjectPath(j.Project)+"/check")
	}
	return pages.Part(w, r, "stack.html", "ticked", http.StatusOK, done)
}

// shownDrawn returns the ticks that are missing by everybody's latest photo, where it was
// measured by the plan that they draw by.
func (a area) shownDrawn(r *http.Request, j checkin.Job) (ticks []store.Tick, err error) {
	if j.Project.EffectiveRoad().Counts() != nil {
		return nil, kit.Ask("This project counts %s, and photos tell boxes. Tick them on the wall.", j.Project.EffectiveRoad().Unit().Many)
	}
	class, err := plans.Needed(r.Context(), a.Store, j.Project)
	if err != nil {
		return nil, err
	}
	set, err := plans.Shown(r.Context(), a.Store, j.Project, class)
	if err != nil {
		return nil, err
	}
	checkIns, err := a.Store.CheckIns(r.Context(), j.Project)
	if err != nil {
		return nil, err
	}
	have, err := a.Store.Ticks(r.Context(), j.Project.ID)
	if err != nil {
		return nil, err
	}
	seen := map[uint64]bool{}
	for _, c := range checkIns { // the newest first
		if c.Gist == nil || !c.Gist.Measured || seen[c.StudentID] {
			continue
		}
		seen[c.StudentID] = true
		own := j
		own.Plan, own.Picture = set.Of(c.StudentID), set.PictureOf(c.StudentID)
		if !own.Fresh(c) {
			continue
		}
		for _, label := range unticked(*c.Gist, have[c.StudentID]) {
			ticks = append(ticks, store.Tick{ProjectID: j.Project.ID, StudentID: c.StudentID, Label: label, TickedAt: c.CreatedAt.UTC()})
		}
	}
	return ticks, nil
}

// ticksOf reads what is to be taken back.
func ticksOf(project uint64, undo []string) (ticks []store.Tick, err error) {
	for _, line := range undo {
		id, labels, _ := strings.Cut(line, ":")
		student, err := strconv.ParseUint(id, 10, 63)
		if err != nil {
			return nil, kit.Ask("What was to be taken back did not arrive whole. Take the ticks back on the wall.")
		}
		for _, label := range strings.Split(labels, ",") {
			if len(label) <= 8 && !lesson.IsPart(label) {
				ticks = append(ticks, store.Tick{ProjectID: project, StudentID: student, Label: label})
			}
		}
	}
	return ticks, nil
}

// Says says in words what was done.
func (t ticked) Says() string {
	switch {
	case t.Undone:
		return fmt.Sprintf("%d ticks of %d students are taken back.", t.Boxes, t.Students)
	case t.Boxes == 0:
		return "The photos show nothing that is not ticked already."
	}
	return fmt.Sprintf("%d boxes of %d students are ticked.", t.Boxes, t.Students)
}
