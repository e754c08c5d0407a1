package kit

import (
	"context"
	"fmt"
	"time"

	"zestysketch/internal/core/lesson"
	"zestysketch/internal/store"
)

// DayOf returns the day on which a moment lies, by its own clock.
func DayOf(t time.Time) lesson.Day {
	y, m, d := t.Date()
	return lesson.Day(time.Date(y, m, d, 0, 0, 0, 0, time.UTC).Unix() / 86400)
}

// DateOf returns a day's beginning, in UTC, to be written as a date.
func DateOf(d lesson.Day) time.Time { return time.Unix(int64(d)*86400, 0).UTC() }

// MinuteOf returns the minutes after midnight at a moment, by its own clock.
func MinuteOf(t time.Time) int { return t.Hour()*60 + t.Minute() }

// Clock writes minutes after midnight as the time of day.
func Clock(minute int) string { return fmt.Sprintf("%d:%02d", minute/60, minute%60) }

// Lessons returns the lessons of the project's class, none without a calendar.
func (k *Kit) Lessons(ctx context.Context, p store.Project) ([]lesson.Lesson, error) {
	if p.ClassID == nil {
		return nil, nil
	}
	c, err := k.Store.Calendar(ctx, p.TeacherID, *p.ClassID)
	if err == store.ErrNotFound {
		return nil, nil
	}
	if err != nil {
		return nil, err
	}
	lessons, err := c.Calendar.Lessons()
	if err != nil {
		return nil, nil // it was checked when it was kept; nothing can be said with it now
	}
	return lessons, nil
}
