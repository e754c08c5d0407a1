package lesson

import (
	"fmt"
	"slices"
	"testing"
)

// The lesson that is on comes first until its last minute.
func TestNext(t *testing.T) {
	two := []Lesson{{Day: 10, Start: 540, Minutes: 60}, {Day: 12, Start: 600, Minutes: 50}}
	for _, c := range []struct {
		day        Day
		minute     int
		want       Day
		on, exists bool
	}{
		{9, 1439, 10, false, true}, {10, 539, 10, false, true}, {10, 540, 10, true, true}, {10, 599, 10, true, true},
		{10, 600, 12, false, true}, {12, 649, 12, true, true}, {12, 650, 0, false, false}, {13, 0, 0, false, false},
	} {
		if l, on, found := Next(two, c.day, c.minute); l.Day != c.want || on != c.on || found != c.exists {
			t.Errorf("on day %d at %d: %+v, on %v, found %v", c.day, c.minute, l, on, found)
		}
	}
}

// Of a two-week timetable each lesson falls in its own weeks, counted from the
// Monday before the first day; single lessons stand among them, once, also on a
// day that is otherwise free.
func TestTwoWeeksAndSingleLessons(t *testing.T) {
	const monday = Day(18) // 19 January 1970
	c := Calendar{From: monday + 2, Until: monday + 27, Weekly: []Weekly{{Weekday: 0, Start: 540, Minutes: 50, Week: 2}, {Weekday: 4, Start: 600, Minutes: 50, Week: 1}},
		Single: []Single{{monday + 5, 700, 90}, {monday + 7, 540, 50}}, Holidays: []Day{monday + 5}}
	got, err := c.Lessons()
	want := []string{"4 600", "5 700", "7 540", "18 600", "21 540"}
	var have []string
	for _, l := range got {
		have = append(have, fmt.Sprintf("%d %d", l.Day-monday, l.Start))
	}
	if err != nil || !slices.Equal(have, want) {
		t.Errorf("lessons at %v, %v; want %v", have, err, want)
	}
	for name, bad := range map[string]Single{"before the first day": {monday, 540, 50}, "after the last": {monday + 28, 540, 50}, "of no minutes": {monday + 3, 540, 0}} {
		c.Single = []Single{bad}
		if _, err := c.Lessons(); err == nil {
			t.Errorf("a single lesson %s is taken", name)
		}
	}
}
