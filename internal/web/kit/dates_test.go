package kit

import (
	"testing"
	"time"

	"zestysketch/internal/core/lesson"
	"zestysketch/internal/room"
)

func day(t *testing.T, text string) lesson.Day {
	t.Helper()
	at, err := time.Parse(time.DateOnly, text)
	if err != nil {
		t.Fatal(err)
	}
	return room.DayOf(at)
}

// Days, stretches and hours are read as people write them.
func TestDatesAsWritten(t *testing.T) {
	from := day(t, "2026-09-07")
	for text, want := range map[string]string{
		"21 Dec": "2026-12-21", "Dec 21": "2026-12-21", "21st of December": "2026-12-21", "Mon 21 dec 2026": "2026-12-21", "21.12.": "2026-12-21",
		"21/12/2026": "2026-12-21", "2026-12-21": "2026-12-21", "4 January": "2027-01-04", "7 Sep": "2026-09-07", "6 September": "2027-09-06",
		"29 Feb": "2028-02-29", "March 3, 2027": "2027-03-03",
	} {
		if got, ok := dayOf(text, from); !ok || got != day(t, want) {
			t.Errorf("%q: %v, %v; want %s", text, room.DateOf(got), ok, want)
		}
	}
	for _, text := range []string{"", "tomorrow", "31 Feb", "12/31", "1999-01-01", "Dec", "21 Dec 2500"} {
		if got, ok := dayOf(text, from); ok {
			t.Errorf("%q is taken for %v", text, room.DateOf(got))
		}
	}
	for text, want := range map[string][2]string{
		"21 Dec to 4 Jan": {"2026-12-21", "2027-01-04"}, "21-24 Dec": {"2026-12-21", "2026-12-24"}, "26 Oct – 30 Oct": {"2026-10-26", "2026-10-30"},
		"2026-12-21 - 2027-01-04": {"2026-12-21", "2027-01-04"}, "8 Dec": {"2026-12-08", "2026-12-08"},
	} {
		days, err := readStretch("holidays", text, from)
		if err != nil || days[0] != day(t, want[0]) || days[len(days)-1] != day(t, want[1]) || len(days) != int(days[len(days)-1]-days[0])+1 {
			t.Errorf("%q: %d days, %v; want %s to %s", text, len(days), err, want[0], want[1])
		}
	}
	if _, err := readStretch("holidays", "2026-12-21 to 2026-12-01", from); err == nil {
		t.Error("a stretch that ends before it begins is taken")
	}
	for text, want := range map[string]int{"9:30": 570, "9.30": 570, "9h30": 570, "2pm": 840, "2:15 pm": 855, "12 am": 0, "12pm": 720, "14h": 840, "14:05": 845} {
		if got, ok := TimeOf(text); !ok || got != want {
			t.Errorf("%q: %d, %v; want %d", text, got, ok, want)
		}
	}
	for _, text := range []string{"", "9", "25:00", "13pm", "9:75", "noon", "0pm"} {
		if got, ok := TimeOf(text); ok {
			t.Errorf("%q is taken for %d minutes", text, got)
		}
	}
}

// What is written of days is read again as the same days, stretches as one line.
func TestStretches(t *testing.T) {
	from := day(t, "2026-09-07")
	days, err := ReadDays("holidays", "21 Dec to 4 Jan\n8 Dec, 2026-12-09", from)
	if err != nil {
		t.Fatal(err)
	}
	const want = "2026-12-08 to 2026-12-09\n2026-12-21 to 2027-01-04"
	if got := Stretches(days); got != want {
		t.Errorf("written %q; want %q", got, want)
	}
	again, err := ReadDays("holidays", Stretches(days), from)
	if err != nil || Stretches(again) != want || len(again) != len(days) {
		t.Errorf("read again %v, %v; want %d days", again, err, len(days))
	}
}
