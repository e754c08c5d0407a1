package student

import (
	"html/template"
	"net/http"
	"slices"

	"github.com/go-chi/chi/v5"

	"zestysketch/internal/core/training"
	"zestysketch/internal/room"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

// trainer is what the page of exercises shows.
type trainer struct {
	Link, Name, Project string
	Kinds               []training.About
	Mine, First, Others []training.About // those made of the last photo, those that it asks for, and the rest
	Mistakes            *mistakes
	Stairs              training.Stairs
	Desk                kit.Desk
	Done                []trained
	Plots               []template.HTML
}

// trained is one exercise that was done.
type trained struct{ When, Say, Figures string }

// shownTrained is how many exercises the page shows.
const shownTrained = 10

// train shows the exercises, and how those before went. No one else's are shown.
func (a area) train(w http.ResponseWriter, r *http.Request, o own) (err error) {
	list, err := a.Store.Trainings(r.Context(), o.project.ID, o.student.ID)
	if err != nil {
		return err
	}
	school, err := a.Store.SchoolOf(r.Context(), o.project.TeacherID)
	if err != nil {
		return err
	}
	v := trainer{Link: chi.URLParam(r, "link"), Name: o.student.Name, Project: o.project.Name, Kinds: training.Kinds, Stairs: training.NewStairs(),
		Desk: kit.NewDesk(o.project, o.plan, o.picture, o.plan.Order(o.plan.Hand))}
	last, err := a.lastMeasured(r, o)
	if err != nil {
		return err
	}
	v.Mistakes = mistakesOf(last, o, v.Link)
	v.choose(last)
	clock := room.ClockOf(school)
	for _, t := range list[:min(len(list), shownTrained)] {
		v.Done = append(v.Done, trained{clock.Months(t.DoneAt), t.Result.Plain(), t.Result.Say()})
	}
	if v.Plots, err = kit.Growth(clock, list); err != nil {
		return err
	}
	return pages.Whole(w, r, "train.html", o.student.Name+" · eye training", v)
}

// mostFirst is how many exercises are put first.
const mostFirst = 2

// choose puts the exercises first that the student's last measured photo asks for.
func (v *trainer) choose(last *store.CheckIn) {
	var first []training.Kind
	if last != nil {
		first = training.Next(last.Report.Faults())
	}
	first = first[:min(len(first), mostFirst)]
	for _, k := range first {
		about, _ := training.Named(k)
		v.First = append(v.First, about)
	}
	for _, about := range training.Kinds {
		switch made := v.Mistakes; {
		case about.Drawn && (made == nil || about.Kind == training.Yours && len(made.Slid) == 0 || about.Kind == training.Leaves && len(made.Leaves) == 0):
		case about.Drawn:
			v.Mine = append(v.Mine, about)
		case !slices.Contains(first, about.Kind):
			v.Others = append(v.Others, about)
		}
	}
}

// keepTraining measures the trials of an exercise and keeps what they tell.
func (a area) keepTraining(w http.ResponseWriter, r *http.Request, o own) (err error) {
	if err := kit.ReadTick(w, r); err != nil {
		return err
	}
	about, known := training.Named(training.Kind(r.FormValue("kind")))
	if !known {
		return kit.Ask("There is no such exercise. Open the page of exercises again.")
	}
	trials, err := training.Parse(about, r.FormValue("trials"))
	if err != nil {
		return kit.Ask("%s", kit.Said(err))
	}
	result, err := training.Measure(about, trials)
	if err != nil {
		return kit.Ask("%s", kit.Said(err))
	}
	t := store.Training{ProjectID: o.project.ID, StudentID: o.student.ID, Kind: about.Kind, DoneAt: kit.TickedAt(r), Result: result}
	if err := a.Store.Train(r.Context(), o.project.TeacherID, t); err != nil {
		return err
	}
	return kit.Go(w, r, "/s/"+chi.URLParam(r, "link")+"/train")
}
