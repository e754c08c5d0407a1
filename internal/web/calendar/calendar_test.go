package calendar

import (
	"testing"
	"time"

	"zestysketch/internal/core/lesson"
	"zestysketch/internal/room"
)

func date(t *testing.T, text string) lesson.Day {
	t.Helper()
	at, err := time.Parse(time.DateOnly, text)
	if err != nil {
		t.Fatal(err)
	}
	return room.DayOf(at)
}

// Single lessons and days off, all written by hand.
func TestLessonsAsWritten(t *testing.T) {
	v := view{From: "2026-09-07", Until: "2027-06-30", Setup: "5", Clear: "5", Single: "3 Dec 2pm 50\n2027-01-12 9:30 45 min\nThu 14 Jan 10.15 60",
		Holidays: "21 Dec to 4 Jan\n8 Dec, 9 Dec\n2027-02-15 2027-02-16"}
	c, err := v.read()
	if err != nil {
		t.Fatal(err)
	}
	want := []lesson.Single{{Day: date(t, "2026-12-03"), Start: 840, Minutes: 50}, {Day: date(t, "2027-01-12"), Start: 570, Minutes: 45}, {Day: date(t, "2027-01-14"), Start: 615, Minutes: 60}}
	if len(c.Single) != 3 || c.Single[0] != want[0] || c.Single[1] != want[1] || c.Single[2] != want[2] {
		t.Errorf("single lessons %+v; want %+v", c.Single, want)
	}
	if len(c.Holidays) != 15+2+2 {
		t.Errorf("%d days off; want 19", len(c.Holidays))
	}
}
