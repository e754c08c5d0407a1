package wall

import (
	"errors"
	"fmt"
	"net/http"
	"strconv"

	"zestysketch/internal/core/lesson"
	"zestysketch/internal/core/reading"
	"zestysketch/internal/press"
	"zestysketch/internal/room"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

// desk is one student's tile large, with all that a teacher does there.
type desk struct {
	tile
	Clock    room.Clock
	road     lesson.Road
	Pace     string
	Help     *lesson.Help
	Flag     string
	Last     store.Verdict // at the present checkpoint
	History  []store.Verdict
	Notes    []store.Note
	Helpers  bool        // somebody else may approve
	Earlier  map[int]int // boxes done of grids that the project no longer has, by plan
	Previous uint64      // neighbours by name, 0 at the ends
	Next     uint64
	LastDone *lesson.Stage // that may be taken back; nil for none
	Part     string        // of the boxes, that they draw alone; empty for all
	Best     *reading.Part // to be drawn instead of all, where the time does not do; nil for none
}

func (a area) deskOf(r *http.Request, work *room.Room, t tile) (d desk, err error) {
	id := t.Student.ID
	d = desk{tile: t, Clock: work.Clock, road: work.Road, Help: work.Help(id), Flag: work.Seats[id].Flag, Helpers: work.Road.Helpers,
		Last: work.State.Last(id, t.Place.Stage.ID), History: work.State.Verdicts[id]}
	if last, ok := work.Road.LastDone(work.State.Done[id]); ok {
		d.LastDone = &last
	}
	if p := work.Pace(id); p.Boxes > 0 {
		d.Pace = strconv.FormatFloat(p.PerBox(), 'f', 1, 64) + " minutes a " + t.Unit.One
	}
	for i, s := range work.Students {
		if s.ID != id {
			continue
		}
		if i > 0 {
			d.Previous = work.Students[i-1].ID
		}
		if i+1 < len(work.Students) {
			d.Next = work.Students[i+1].ID
		}
	}
	d.Part = work.Plans.Part(id)
	if d.Part == "" && d.Help != nil && d.Help.Prospect.Short() {
		if d.Best, err = a.bestPart(r, work, id); err != nil {
			return d, err
		}
	}
	if d.Earlier, err = a.Store.History(r.Context(), work.Project.ID, id); err != nil {
		return d, err
	}
	d.Notes, err = a.Store.Notes(r.Context(), work.Project.ID, id, "")
	d.Notes = d.Notes[:min(len(d.Notes), 3)]
	return d, err
}

// bestPart returns the part that a student does best where the time does not do for all; nil
// where none is to be offered.
func (a area) bestPart(r *http.Request, work *room.Room, student uint64) (*reading.Part, error) {
	plan, pic := work.Plans.Of(student), work.Plans.PictureOf(student)
	left, known := work.MinutesLeft()
	if pic == nil || plan.Frame == nil || !known || work.Plans.Parts() != nil {
		return nil, nil
	}
	read, err := a.Boxes(r.Context(), work.Project, plan, pic)
	if err != nil {
		return nil, err
	}
	marks, err := a.Store.Landmarks(r.Context(), work.Project.ID, &pic.ID)
	if err != nil {
		return nil, err
	}
	best, ok := read.BestPart(plan, press.PinsOn(plan, marks), func(label string) float64 { return work.LeftOf(student, label) }, left)
	if !ok {
		return nil, nil
	}
	return &best, nil
}

// part gives a student a part of the boxes to draw, or all of them again.
func (a area) part(w http.ResponseWriter, r *http.Request) error {
	return a.changed(w, r, func(work *room.Room, s store.Student) error {
		part := r.FormValue("part")
		if _, ok := work.Plans.Of(s.ID).Block(part); part != "" && !ok {
			return kit.Ask("A part goes from one box to another of the grid, such as B2:E6; got “%.20s”.", part)
		}
		return a.Store.AssignPart(r.Context(), work.Project.TeacherID, work.Project.ID, s.ID, part)
	})
}

// MayTakeBack reports whether a verdict is a pass that nothing has followed.
func (d desk) MayTakeBack(v store.Verdict) bool {
	for _, later := range d.History {
		if later.Stage == v.Stage && later.ID > v.ID {
			return false
		}
	}
	return v.Verdict == lesson.Passed
}

// StageName returns what a verdict's stage is called.
func (d desk) StageName(id lesson.StageID) string { return d.road.StageName(id) }

func (a area) desk(w http.ResponseWriter, r *http.Request, work *room.Room) (err error) {
	s, err := student(r, work)
	if err != nil {
		return err
	}
	if !kit.IsFragment(r) {
		return kit.Go(w, r, path(work.Project, s.ID))
	}
	return a.answerDesk(w, r, work, s)
}

func (a area) answerDesk(w http.ResponseWriter, r *http.Request, work *room.Room, s store.Student) error {
	t := a.newTile(work, s, needs(work)[s.ID])
	t.Shown = true
	d, err := a.deskOf(r, work, t)
	if err != nil {
		return err
	}
	return pages.Part(w, r, "wall.html", "desk", http.StatusOK, d)
}

// changed does something to a student in the address and answers with their desk.
func (a area) changed(w http.ResponseWriter, r *http.Request, change func(work *room.Room, s store.Student) error) error {
	work, s, err := a.posted(r)
	if err != nil {
		return err
	}
	if err := change(work, s); err != nil {
		return err
	}
	if next, err := kit.Number(r.FormValue("round")); err == nil { // on the round the next one's turn comes
		return kit.Go(w, r, fmt.Sprintf("%s/round?student=%d", kit.ProjectPath(work.Project), next))
	}
	if !kit.IsFragment(r) {
		return kit.Go(w, r, path(work.Project, s.ID))
	}
	if work, err = a.load(r); err != nil {
		return err
	}
	return a.answerDesk(w, r, work, s)
}

// stage records that a student has done a stage of the road, or has not. A
// stage that is closed stays closed.
func (a area) stage(w http.ResponseWriter, r *http.Request) error {
	return a.changed(w, r, func(work *room.Room, s store.Student) error {
		stage, done := lesson.StageID(r.FormValue("stage")), r.FormValue("on") != "0"
		if done && !work.Road.Open(stage, work.Stages(s.ID), work.State.VerdictsOf(s.ID)) {
			return kit.Ask("This stage is still closed. Finish the one before it, and have it looked at.")
		}
		return a.Store.DoStage(r.Context(), work.Project.TeacherID, work.Project.ID, s.ID, stage, done)
	})
}

const longestNote = 300

// verdict keeps what the teacher says at the present checkpoint.
func (a area) verdict(w http.ResponseWriter, r *http.Request) error {
	return a.changed(w, r, func(work *room.Room, s store.Student) error {
		v := store.Verdict{ProjectID: work.Project.ID, StudentID: s.ID, Stage: lesson.StageID(r.FormValue("stage")), Verdict: lesson.Verdict(r.FormValue("verdict")),
			ByWhom: kit.Teacher(r).Name, Note: kit.Tidy(r.FormValue("note"))}
		var err error
		if v.Seen, err = strconv.ParseUint(r.FormValue("seen"), 10, 63); err != nil {
			return kit.Ask("The verdict did not arrive whole. Give it again.")
		}
		if by := kit.Tidy(r.FormValue("by")); by != "" {
			if !work.Road.Helpers {
				return kit.Ask("In this project only the teacher approves. Allow helpers on the road first.")
			}
			v.ByWhom = by
		}
		switch {
		case v.Verdict != lesson.Passed && v.Verdict != lesson.Again && v.Verdict != lesson.TakenBack:
			return kit.Ask("Choose passed, again, or take it back.")
		case v.Verdict == lesson.TakenBack && v.Note == "":
			return kit.Ask("Write why it is taken back: the reason is kept.")
		case len([]rune(v.Note)) > longestNote || len([]rune(v.ByWhom)) > 60:
			return kit.Ask("Write a shorter note, of at most %d letters.", longestNote)
		case !work.Road.HasCheckpoint(v.Stage):
			return kit.Ask("This stage has no checkpoint.")
		}
		err = a.Store.AddVerdict(r.Context(), work.Project.TeacherID, &v)
		if errors.Is(err, store.ErrConflict) {
			return kit.Ask("Somebody else decided meanwhile. Look at their verdict, then decide again.")
		}
		return err
	})
}

// seat puts a hand down, writes a flag, or marks somebody absent today.
func (a area) seat(w http.ResponseWriter, r *http.Request) error {
	return a.changed(w, r, func(work *room.Room, s store.Student) error {
		p := work.Project
		switch r.FormValue("what") {
		case "hand":
			return a.Store.RaiseHand(r.Context(), p.TeacherID, p.ID, s.ID, r.FormValue("on") == "1")
		case "absent":
			return a.Store.MarkAbsent(r.Context(), p.TeacherID, p.ID, s.ID, work.Clock.Date(work.Now), r.FormValue("on") == "1")
		case "flag":
			words := kit.Tidy(r.FormValue("flag"))
			if len([]rune(words)) > 120 {
				return kit.Ask("Write a shorter flag, of at most 120 letters.")
			}
			return a.Store.Flag(r.Context(), p.TeacherID, p.ID, s.ID, words)
		}
		return kit.Ask("Choose the hand, the flag or absent.")
	})
}

// note writes something down about a student.
func (a area) note(w http.ResponseWriter, r *http.Request) error {
	return a.changed(w, r, func(work *room.Room, s store.Student) error {
		words := kit.Tidy(r.FormValue("words"))
		if words == "" || len([]rune(words)) > 1000 {
			return kit.AskAt("words", "Write a note of at most 1000 letters.")
		}
		return a.Store.AddNote(r.Context(), work.Project.TeacherID, &store.Note{ProjectID: work.Project.ID, StudentID: &s.ID, Words: words, ByWhom: kit.Teacher(r).Name})
	})
}
