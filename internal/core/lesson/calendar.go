package lesson

import (
	"cmp"
	"errors"
	"fmt"
	"slices"
)

// Day is a date as the number of days since 1 January 1970.
type Day int

// Weekday returns 0 for Monday to 6 for Sunday.
func (d Day) Weekday() int { return ((int(d)+3)%7 + 7) % 7 }

// Weekly is a lesson of every week, or of every other one.
type Weekly struct {
	Weekday int `json:"weekday"` // 0 Monday to 6 Sunday
	Start   int `json:"start"`   // minutes after midnight
	Minutes int `json:"minutes"`
	Week    int `json:"week,omitempty"` // 0 every week; 1 that of the calendar's first day and every other one after it; 2 those between
}

// Single is a lesson of its own, outside the weeks.
type Single struct {
	Day     Day
	Start   int // minutes after midnight
	Minutes int
}

// Calendar says when a class draws.
type Calendar struct {
	From, Until Day
	Weekly      []Weekly
	Single      []Single `json:",omitempty"`
	Holidays    []Day
	Off         []Day `json:",omitempty"` // what the whole school has off
	Setup       int   // minutes at the beginning of each lesson that are not drawn
	Clear       int   // and at its end
}

// ErrCalendar is wrapped by the error of a calendar without lessons.
var ErrCalendar = errors.New("no lessons")

// Lesson is one lesson on a day.
type Lesson struct {
	Day     Day
	Start   int // minutes after midnight
	Minutes int // from bell to bell
	Setup   int // minutes at its beginning that are not drawn
	Clear   int // and at its end
}

// Drawing returns the minutes of the lesson in which it is drawn.
func (l Lesson) Drawing() float64 { return float64(l.Minutes - l.Setup - l.Clear) }

// Span returns the lesson's time of drawing in minutes since 1 January 1970, by
// the clock on the wall.
func (l Lesson) Span() Span {
	bell := float64(int(l.Day)*minutesADay + l.Start)
	return Span{bell + float64(l.Setup), bell + float64(l.Minutes-l.Clear)}
}

const minutesADay = 24 * 60

// longest calendar, in days: two school years.
const longestCalendar = 750

// check says what cannot be of a lesson.
func (l Lesson) check() error {
	switch {
	case l.Minutes <= 0 || l.Minutes > 600 || l.Start < 0 || l.Start+l.Minutes > minutesADay:
		return fmt.Errorf("%w: a lesson is 1 to 600 minutes within one day, got %d", ErrCalendar, l.Minutes)
	case l.Drawing() <= 0:
		return fmt.Errorf("%w: setting up and clearing away take %d of %d minutes; nothing is left to draw", ErrCalendar, l.Setup+l.Clear, l.Minutes)
	}
	return nil
}

// weekly returns the lessons of every week, holidays left out.
func (c Calendar) weekly() (lessons []Lesson) {
	for day := c.From; day <= c.Until; day++ {
		if slices.Contains(c.Holidays, day) || slices.Contains(c.Off, day) {
			continue
		}
		for _, w := range c.Weekly {
			if w.Weekday == day.Weekday() && (w.Week == 0 || w.Week == c.weekOf(day)) {
				lessons = append(lessons, Lesson{day, w.Start, w.Minutes, c.Setup, c.Clear})
			}
		}
	}
	return lessons
}

// Lessons returns every lesson in order, holidays left out. The error wraps
// ErrCalendar.
func (c Calendar) Lessons() ([]Lesson, error) {
	if c.Until < c.From || c.Until-c.From > longestCalendar {
		return nil, fmt.Errorf("%w: the last day must come after the first, within two years", ErrCalendar)
	}
	if len(c.Weekly) == 0 && len(c.Single) == 0 {
		return nil, fmt.Errorf("%w: write at least one weekly lesson, or a single one", ErrCalendar)
	}
	lessons := c.weekly()
	for _, s := range c.Single {
		if s.Day < c.From || s.Day > c.Until {
			return nil, fmt.Errorf("%w: a single lesson lies outside the first and the last day", ErrCalendar)
		}
		lessons = append(lessons, Lesson{s.Day, s.Start, s.Minutes, c.Setup, c.Clear})
	}
	for _, l := range lessons {
		if err := l.check(); err != nil {
			return nil, err
		}
	}
	slices.SortStableFunc(lessons, func(a, b Lesson) int { return cmp.Or(cmp.Compare(a.Day, b.Day), cmp.Compare(a.Start, b.Start)) })
	// A single lesson written for when a weekly one is held anyway is that lesson.
	return slices.CompactFunc(lessons, func(a, b Lesson) bool { return a.Day == b.Day && a.Start == b.Start }), nil
}

// weekOf returns 1 in the week of the calendar's first day and every other one
// after it, else 2. Weeks begin on Monday.
func (c Calendar) weekOf(day Day) int {
	monday := c.From - Day(c.From.Weekday())
	return int(day-monday)/7%2 + 1
}

// Part is some minutes of a stage in a lesson.
type Part struct {
	Stage   Stage
	Minutes float64
	Ends    bool // the stage is finished in this lesson
}

// Laid is a lesson with what is done in it.
type Laid struct {
	Lesson
	Parts []Part
}

// Lay lays stages over lessons one after the other. What does not fit is
// returned in minutes.
func Lay(stages []Stage, lessons []Lesson) (laid []Laid, over float64) {
	i, rest := 0, 0.0
	if len(stages) > 0 {
		rest = stages[0].Minutes
	}
	for _, l := range lessons {
		one, room := Laid{Lesson: l}, l.Drawing()
		for i < len(stages) && room > 0 {
			part := min(rest, room)
			room, rest = room-part, rest-part
			if part > 0 {
				one.Parts = append(one.Parts, Part{stages[i], part, rest <= 0})
			}
			if rest <= 0 {
				if i++; i < len(stages) {
					rest = stages[i].Minutes
				}
			}
		}
		laid = append(laid, one)
	}
	if i < len(stages) {
		over = rest
		for _, s := range stages[i+1:] {
			over += s.Minutes
		}
	}
	return laid, over
}

// Next returns the lesson that is on at a moment, or else the next; false after the last.
func Next(lessons []Lesson, day Day, minute int) (l Lesson, on, found bool) {
	for _, l := range lessons {
		if l.Day > day || l.Day == day && l.Start+l.Minutes > minute {
			return l, l.Day == day && l.Start <= minute, true
		}
	}
	return Lesson{}, false, false
}

// MinutesLeft returns the drawing minutes of lessons from a moment on, given in
// minutes since 1970 as Span has them: a lesson that has begun counts for what
// is left of its drawing time.
func MinutesLeft(lessons []Lesson, now float64) (left float64) {
	for _, l := range lessons {
		s := l.Span()
		left += max(0, s.To-max(s.From, now))
	}
	return left
}
