package room

import (
	"time"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/lesson"
	"zestysketch/internal/store"
)

// spans returns the lessons' drawing time.
func (r *Room) spans() []lesson.Span {
	spans := make([]lesson.Span, len(r.Lessons))
	for i, l := range r.Lessons {
		spans[i] = l.Span()
	}
	return spans
}

// learn learns everybody's pace from their ticks.
func (r *Room) learn() {
	worked, known, spans := map[uint64][]lesson.Worked{}, map[uint64]float64{}, r.spans()
	for _, s := range r.Students {
		worked[s.ID] = lesson.WorkOf(r.ticked(s.ID), spans)
		known[s.ID] = map[string]float64{"slow": lesson.SlowFactor, "quick": lesson.QuickFactor}[s.Pace]
	}
	r.pace = lesson.Learn(worked, known)
}

// ticked returns a student's ticks of their present plan, each with its box's weight.
func (r *Room) ticked(student uint64) (ticks []lesson.Ticked) {
	plan := r.Plans.Of(student)
	for _, t := range r.ticks[student] {
		if r.Plans.Parts() != nil {
			if r.Plans.Counts(student, t.Label) {
				ticks = append(ticks, lesson.Ticked{At: r.Clock.Minutes(t.TickedAt), Weight: 1})
			}
			continue
		}
		if c, ok := plan.Find(t.Label); ok {
			ticks = append(ticks, lesson.Ticked{At: r.Clock.Minutes(t.TickedAt), Weight: r.weight(student, plan, c)})
		}
	}
	return ticks
}

// weight returns how heavy a box is for a student: 1 where they draw by a plan of their own.
func (r *Room) weight(student uint64, plan grid.Plan, c grid.Cell) float64 {
	i := c.Row*plan.Grid.Columns + c.Column
	if !r.Plans.IsClass(student) || i >= len(r.weights) {
		return 1
	}
	return r.weights[i]
}

// Pace returns what is known of how fast a student draws.
func (r *Room) Pace(student uint64) lesson.Pace { return r.pace.Students[student] }

// MinutesLeft is TimeToDraw of the room's own project.
func (r *Room) MinutesLeft() (left float64, known bool) {
	return timeToDraw(r.Road, r.Lessons, r.Clock.Minutes(r.Now))
}

// TimeToDraw returns how many minutes there are to draw still: the drawing time
// of the class's lessons from now on, what comes after drawing taken off. known
// is false without a calendar. It is the one figure that the wall, the road and
// the grid's proposals go by.
func TimeToDraw(p store.Project, clock Clock, now time.Time) (left float64, known bool) {
	return timeToDraw(p.EffectiveRoad(), LessonsOf(p.Class), clock.Minutes(now))
}

func timeToDraw(road lesson.Road, lessons []lesson.Lesson, now float64) (left float64, known bool) {
	if len(lessons) == 0 {
		return 0, false
	}
	return max(0, lesson.MinutesLeft(lessons, now)-road.After()), true
}

// Forecast returns how long a student's other boxes will take, and how many they are.
func (r *Room) Forecast(student uint64) (in lesson.Range, boxes int) {
	plan, done := r.Plans.Of(student), r.Done(student)
	var rest []float64
	for _, part := range r.Plans.Parts() {
		if !done[part.Label] {
			rest = append(rest, 1)
		}
	}
	if r.Plans.Parts() != nil {
		return r.pace.Forecast(r.pace.Students[student], rest), len(rest)
	}
	counts := r.Plans.Counter(student)
	for _, c := range r.Cells(student) {
		if !done[c.Label] && counts(c.Label) {
			rest = append(rest, r.weight(student, plan, c))
		}
	}
	return r.pace.Forecast(r.pace.Students[student], rest), len(rest)
}

// LeftOf returns how long one box of a student's plan still takes, 0 where it is drawn.
func (r *Room) LeftOf(student uint64, label string) float64 {
	plan := r.Plans.Of(student)
	c, there := plan.Find(label)
	if !there || r.Done(student)[label] {
		return 0
	}
	return r.pace.Forecast(r.pace.Students[student], []float64{r.weight(student, plan, c)}).Middle
}

// Told reports whether a student's pace can be foretold: there is evidence of it.
func (r *Room) Told(student uint64) bool { return r.pace.Evidence(r.Pace(student)) == 0 }

// Help returns what is to be said of a student's pace; nil without a calendar.
func (r *Room) Help(student uint64) *lesson.Help {
	left, known := r.MinutesLeft()
	in, boxes := r.Forecast(student)
	if !known && boxes > 0 {
		return nil
	}
	h := r.Road.HelpFor(in, left, boxes)
	if more := r.pace.Evidence(r.Pace(student)); boxes > 0 && more > 0 {
		h = r.Road.Wait(more)
	}
	return &h
}

// Silence returns the minutes of drawing time now under way since a student's
// last box, 0 outside it.
func (r *Room) Silence(student uint64) float64 {
	now := r.Clock.Minutes(r.Now)
	for _, span := range r.spans() {
		if now < span.From || now > span.To {
			continue
		}
		last := span.From
		for _, t := range r.ticks[student] {
			last = max(last, r.Clock.Minutes(t.TickedAt))
		}
		return max(0, now-last)
	}
	return 0
}

// BurnDown returns the boxes that the class has still to draw, lesson by lesson.
func (r *Room) BurnDown() []int {
	var at []float64
	all := 0
	for _, s := range r.Students {
		all += r.Plans.Count(s.ID)
		for _, t := range r.ticked(s.ID) {
			at = append(at, t.At)
		}
	}
	return lesson.BurnDown(at, r.spans(), all, r.Clock.Minutes(r.Now))
}

// Needs returns everybody in the order in which they need the teacher, not to be changed.
func (r *Room) Needs() []lesson.Need {
	if r.needs == nil {
		r.needs = r.whoNeeds()
	}
	return r.needs
}

func (r *Room) whoNeeds() []lesson.Need {
	var seats []lesson.Seat
	for _, s := range r.Students {
		sits := r.Seats[s.ID]
		seat := lesson.Seat{ID: s.ID, Place: r.Place(s.ID), PerBox: r.Pace(s.ID).PerBox(), Flag: sits.Flag, Absent: sits.Absent}
		if sits.HandAt != nil {
			seat.Hand = max(1, r.Now.Sub(*sits.HandAt).Minutes())
		}
		if h := r.Help(s.ID); h != nil {
			seat.Prospect = h.Prospect
		}
		if r.Road.DrawsIn(seat.Place.Stage) {
			seat.SinceTick = r.Silence(s.ID)
		}
		seats = append(seats, seat)
	}
	return lesson.FirstTo(seats)
}
