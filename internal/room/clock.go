package room

import (
	"fmt"
	"time"
	_ "time/tzdata" // a school's zone is known on every machine

	"zestysketch/internal/core/lesson"
	"zestysketch/internal/store"
)

// Clock tells the school's time: every day and hour that a person reads comes
// from it, wherever the server stands, in the language that the school's dates have.
type Clock struct {
	zone  *time.Location
	dates Dates
}

// ClockOf returns a school's clock; the server's own where the school named no
// zone, or one that is no longer known.
func ClockOf(school store.School) Clock {
	zone, err := time.LoadLocation(school.Zone)
	if school.Zone == "" || err != nil {
		zone = time.Local
	}
	dates, known := datesOf[school.Dates]
	if !known {
		dates = datesOf["en_GB"]
	}
	return Clock{zone, dates}
}

// KnownZone reports whether a school's clock can be in a zone; the empty one is
// the server's own.
func KnownZone(zone string) bool {
	_, err := time.LoadLocation(zone)
	return err == nil && len(zone) <= 64
}

// At returns a moment by the school's clock.
func (c Clock) At(t time.Time) time.Time {
	if c.zone == nil {
		return t.Local()
	}
	return t.In(c.zone)
}

// Date returns the school's day at a moment, 2006-01-02.
func (c Clock) Date(t time.Time) string { return c.At(t).Format(time.DateOnly) }

// Day returns the school's day at a moment.
func (c Clock) Day(t time.Time) lesson.Day { return DayOf(c.At(t)) }

// Minute returns the minutes after the school's midnight.
func (c Clock) Minute(t time.Time) int {
	t = c.At(t)
	return t.Hour()*60 + t.Minute()
}

// Minutes returns a moment in minutes since 1970 by the clock on the school's
// wall, as lesson.Span has them.
func (c Clock) Minutes(t time.Time) float64 {
	return float64(int(c.Day(t))*24*60+c.Minute(t)) + float64(t.Second())/60
}

// DayOf returns the day that a date names, in its own zone.
func DayOf(t time.Time) lesson.Day {
	y, m, d := t.Date()
	return lesson.Day(time.Date(y, m, d, 0, 0, 0, 0, time.UTC).Unix() / 86400)
}

// DateOf returns a day's beginning, in UTC, to be written as a date.
func DateOf(d lesson.Day) time.Time { return time.Unix(int64(d)*86400, 0).UTC() }

// TimeOfDay writes minutes after midnight as the time of day.
func TimeOfDay(minute int) string { return fmt.Sprintf("%d:%02d", minute/60, minute%60) }
