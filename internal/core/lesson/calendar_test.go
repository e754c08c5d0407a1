package lesson

import "testing"

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
