package wall

import (
	"context"
	"fmt"
	"net/http"
	"strconv"
	"time"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/lesson"
	"zestysketch/internal/core/survey"
	"zestysketch/internal/plans"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

// atWork is a class at work on a project: everything that the wall knows.
type atWork struct {
	project  store.Project
	students []store.Student
	plans    plans.Set
	road     lesson.Road
	ticks    map[uint64][]store.Tick
	state    store.RoadState
	seats    map[uint64]store.Seat
	absent   map[uint64]bool
	lessons  []lesson.Lesson
	now      time.Time
	pace     lesson.Class
	weights  []float64 // of the class plan's boxes
}

// posted reads a form and fetches the class at work and the student in its address.
func (a area) posted(w http.ResponseWriter, r *http.Request) (work atWork, s store.Student, err error) {
	if err := kit.ReadForm(w, r); err != nil {
		return work, s, err
	}
	if work, err = a.load(r); err != nil {
		return work, s, err
	}
	s, err = work.student(r)
	return work, s, err
}

// load fetches a class at work.
func (a area) load(r *http.Request) (w atWork, err error) {
	ctx := r.Context()
	p, plan, err := a.Planned(r)
	if err != nil {
		return w, err
	}
	w = atWork{project: p, now: time.Now(), road: p.EffectiveRoad()}
	if p.Class != nil {
		w.students = p.Class.Students
	}
	if w.plans, err = plans.Load(ctx, a.Store, p, plan); err != nil {
		return w, err
	}
	if w.ticks, err = a.Store.TickTimes(ctx, p.ID); err != nil {
		return w, err
	}
	if w.state, err = a.Store.RoadState(ctx, p.ID); err != nil {
		return w, err
	}
	if w.seats, err = a.Store.Seats(ctx, p.ID); err != nil {
		return w, err
	}
	ids := make([]uint64, len(w.students))
	for i, s := range w.students {
		ids[i] = s.ID
	}
	if w.absent, err = a.Store.Absent(ctx, ids, w.now.Format(time.DateOnly)); err != nil {
		return w, err
	}
	if w.lessons, err = a.Lessons(ctx, p); err != nil {
		return w, err
	}
	if w.weights, err = a.weights(ctx, p, plan); err != nil {
		return w, err
	}
	w.learn()
	return w, nil
}

// weights returns how heavy the boxes of the class's plan are, by the detail
// of its picture.
func (a area) weights(ctx context.Context, p store.Project, plan grid.Plan) ([]float64, error) {
	if p.PictureID == nil || plan.Frame == nil {
		return lesson.Weights(nil, plan.Count()), nil
	}
	key := weighing{p.ID, p.PlanVersion, *p.PictureID}
	if w, ok := a.weighed.Get(key); ok {
		return w, nil
	}
	img, err := a.Pixels(ctx, p.TeacherID, *p.PictureID)
	if err != nil {
		return nil, err
	}
	_, boxes, err := survey.Detail(img, plan)
	if err != nil {
		return nil, err
	}
	w := lesson.Weights(boxes, plan.Count())
	a.weighed.Add(key, w)
	return w, nil
}

// spans returns the lessons' drawing time in minutes since 1970, local time.
func (w *atWork) spans() (spans []lesson.Span) {
	for _, l := range w.lessons {
		from := float64(int(l.Day)*24*60 + l.Start)
		// Setting up comes first; clearing away is the rest.
		spans = append(spans, lesson.Span{From: from, To: from + float64(l.Minutes)})
	}
	return spans
}

func localMinutes(t time.Time) float64 {
	t = t.Local()
	return float64(int(kit.DayOf(t))*24*60+kit.MinuteOf(t)) + float64(t.Second())/60
}

// learn learns everybody's pace from their ticks.
func (w *atWork) learn() {
	worked, spans := map[uint64][]lesson.Worked{}, w.spans()
	for _, s := range w.students {
		plan := w.plans.Of(s.ID)
		var ticks []lesson.Ticked
		for _, t := range w.ticks[s.ID] {
			if c, ok := plan.Find(t.Label); ok {
				ticks = append(ticks, lesson.Ticked{At: localMinutes(t.TickedAt), Weight: w.weight(s.ID, plan, c)})
			}
		}
		worked[s.ID] = lesson.WorkOf(ticks, spans)
	}
	known := map[uint64]float64{}
	for _, s := range w.students {
		known[s.ID] = map[string]float64{"slow": lesson.SlowFactor, "quick": lesson.QuickFactor}[s.Pace]
	}
	w.pace = lesson.Learn(worked, known)
}

// weight returns how heavy a box is for a student: 1 where they draw by a plan of their own.
func (w *atWork) weight(student uint64, plan grid.Plan, c grid.Cell) float64 {
	if i := c.Row*plan.Grid.Columns + c.Column; w.plans.IsClass(student) && i < len(w.weights) {
		return w.weights[i]
	}
	return 1
}

// minutesLeft returns how long there is to draw still: the lessons from now on,
// what comes after drawing taken off. known is false without a calendar.
func (w *atWork) minutesLeft() (left float64, known bool) {
	if len(w.lessons) == 0 {
		return 0, false
	}
	left = lesson.MinutesLeft(w.lessons, kit.DayOf(w.now), kit.MinuteOf(w.now))
	after := false
	for _, s := range w.road.On() {
		if after {
			left -= s.Minutes
		}
		after = after || s.Kind == lesson.Draw
	}
	return max(0, left), true
}

// done returns a student's ticked boxes of their present plan.
func (w *atWork) done(student uint64) map[string]bool {
	plan, done := w.plans.Of(student), map[string]bool{}
	for _, t := range w.ticks[student] {
		if _, ok := plan.Find(t.Label); ok {
			done[t.Label] = true
		}
	}
	return done
}

// forecast returns how long a student's other boxes will take.
func (w *atWork) forecast(student uint64) (r lesson.Range, boxes int) {
	plan, done := w.plans.Of(student), w.done(student)
	var rest []float64
	for _, c := range plan.Cells() {
		if !done[c.Label] {
			rest = append(rest, w.weight(student, plan, c))
		}
	}
	return w.pace.Forecast(w.pace.Students[student], rest), len(rest)
}

// help returns what is to be said of a student's pace; nil without a calendar.
func (w *atWork) help(student uint64) *lesson.Help {
	left, known := w.minutesLeft()
	r, boxes := w.forecast(student)
	if !known && boxes > 0 {
		return nil
	}
	h := lesson.HelpFor(r, left, boxes)
	return &h
}

func (w *atWork) place(student uint64) lesson.Place {
	return w.road.Where(w.state.Done[student], w.state.VerdictsOf(student))
}

// needs returns everybody in the order in which they need the teacher.
func (w *atWork) needs() []lesson.Need {
	var seats []lesson.Seat
	for _, s := range w.students {
		seat := lesson.Seat{ID: s.ID, Place: w.place(s.ID), PerBox: w.pace.Students[s.ID].PerBox(), Flag: w.seats[s.ID].Flag, Absent: w.absent[s.ID]}
		if up := w.seats[s.ID].HandAt; up != nil {
			seat.Hand = max(1, w.now.Sub(*up).Minutes())
		}
		if h := w.help(s.ID); h != nil {
			seat.Prospect = h.Prospect
		}
		if seat.Place.Stage.Kind == lesson.Draw {
			seat.SinceTick = w.silence(s.ID)
		}
		seats = append(seats, seat)
	}
	return lesson.FirstTo(seats)
}

// silence returns the minutes of the lesson now under way since a student's
// last box, 0 outside lessons.
func (w *atWork) silence(student uint64) float64 {
	now := localMinutes(w.now)
	for _, span := range w.spans() {
		if now < span.From || now > span.To {
			continue
		}
		last := span.From
		for _, t := range w.ticks[student] {
			last = max(last, localMinutes(t.TickedAt))
		}
		return now - last
	}
	return 0
}

// student returns the student in the address, who must be in the class shown.
func (w *atWork) student(r *http.Request) (store.Student, error) {
	id, err := kit.ID(r, "student")
	if err != nil {
		return store.Student{}, err
	}
	for _, s := range w.students {
		if s.ID == id {
			return s, nil
		}
	}
	return store.Student{}, store.ErrNotFound
}

func path(project, student uint64) string {
	return fmt.Sprintf("%s/wall?student=%s", kit.ProjectPath(project), strconv.FormatUint(student, 10))
}
