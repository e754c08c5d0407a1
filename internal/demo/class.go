package demo

import (
	"math"
	"time"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/lesson"
	"zestysketch/internal/store"
)

// The demo's lessons: this one began a while ago, and two more went before it.
const (
	lessonMinutes = 60
	setup, clear  = 5, 5
	beganAgo      = 25 * time.Minute
)

// calendar gives the class two lessons a week, one of which is on now.
func (l *loader) calendar(now time.Time) error {
	began := now.Add(-beganAgo)
	y, m, d := now.Date()
	today := lesson.Day(time.Date(y, m, d, 0, 0, 0, 0, time.UTC).Unix() / 86400)
	start := min(24*60-lessonMinutes, began.Hour()*60+began.Minute())
	other := (today.Weekday() + 5) % 7
	if other > 4 { // no school
		other = (today.Weekday() + 2) % 7
	}
	return l.s.SetCalendar(l.ctx, l.teacher.ID, l.class.ID, lesson.Calendar{From: today - 10, Until: today + 26, Setup: setup, Clear: clear,
		Weekly: []lesson.Weekly{{Weekday: today.Weekday(), Start: start, Minutes: lessonMinutes}, {Weekday: other, Start: 9 * 60, Minutes: lessonMinutes}}})
}

// draw ticks each student's boxes in their order, at their own pace, over the
// lesson a week ago and the one that is on.
func (l *loader) draw(p store.Project, plan grid.Plan, now time.Time) error {
	for i, s := range l.class.Students {
		cells := plan.Order(s.Hand)
		pace := 2.1 * math.Exp(l.rng.NormFloat64()*0.4) // minutes a box
		if i == 5 {
			pace = 0.8 // one is done early
		}
		at := now.Add(-7 * 24 * time.Hour).Add(-beganAgo).Add(setup * time.Minute)
		end := at.Add((lessonMinutes - setup - clear) * time.Minute)
		for _, c := range cells {
			at = at.Add(time.Duration(pace * math.Exp(l.rng.NormFloat64()*0.45) * float64(time.Minute)))
			if at.After(end) && end.Before(now.Add(-24*time.Hour)) { // on with it a week later
				begin := now.Add(-beganAgo).Add(setup * time.Minute)
				at, end = begin.Add(at.Sub(end)), now
			}
			if at.After(now) || i%9 == 4 && at.After(now.Add(-14*time.Minute)) {
				break
			}
			if err := l.s.Tick(l.ctx, l.teacher.ID, p.ID, s.ID, c.Label, true, at); err != nil {
				return err
			}
		}
	}
	return nil
}

// stages brings everybody to the drawing, all but two, and lifts some hands.
func (l *loader) stages(p store.Project) error {
	for i, s := range l.class.Students {
		for _, k := range []lesson.StageID{"pick", "compose", "markup"} {
			if err := l.s.DoStage(l.ctx, l.teacher.ID, p.ID, s.ID, k, true); err != nil {
				return err
			}
		}
		if i == 7 || i == 20 {
			continue // their grids wait for a look
		}
		v := store.Verdict{ProjectID: p.ID, StudentID: s.ID, Stage: lesson.StageID(lesson.MarkUp), Verdict: lesson.Passed, ByWhom: l.teacher.Name}
		if err := l.s.AddVerdict(l.ctx, l.teacher.ID, &v); err != nil {
			return err
		}
	}
	for _, i := range []int{2, 14} {
		if err := l.s.RaiseHand(l.ctx, l.teacher.ID, p.ID, l.class.Students[i].ID, true); err != nil {
			return err
		}
	}
	return l.s.Flag(l.ctx, l.teacher.ID, p.ID, l.class.Students[18].ID, "grid pressed too dark")
}
