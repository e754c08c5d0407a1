package room

import (
	"testing"
	"time"

	"zestysketch/internal/store"
)

// Days and minutes are those on the school's clock, wherever the server stands;
// at the turn of summer time too. Offsets of the zones: IANA time zone database.
func TestClock(t *testing.T) {
	local := time.Local
	t.Cleanup(func() { time.Local = local })
	at := time.Date(2027, 3, 28, 12, 30, 30, 0, time.UTC) // hours after Europe's clocks went forward
	for _, server := range []*time.Location{time.UTC, time.FixedZone("far", 11*3600)} {
		time.Local = server
		for _, c := range []struct {
			zone, date string
			minute     int
		}{
			{"Europe/Berlin", "2027-03-28", 14*60 + 30},
			{"Pacific/Auckland", "2027-03-29", 60 + 30},
			{"America/New_York", "2027-03-28", 8*60 + 30},
			{"UTC", "2027-03-28", 12*60 + 30},
		} {
			clock := ClockOf(store.School{Zone: c.zone})
			if got := clock.Date(at); got != c.date {
				t.Errorf("in %s it is %s; want %s", c.zone, got, c.date)
			}
			if got := clock.Minute(at); got != c.minute {
				t.Errorf("in %s it is %d minutes after midnight; want %d", c.zone, got, c.minute)
			}
			if got, want := clock.Minutes(at), float64(int(clock.Day(at))*1440+c.minute)+0.5; got != want {
				t.Errorf("in %s it is minute %g; want %g", c.zone, got, want)
			}
			if got := DateOf(clock.Day(at)).Format(time.DateOnly); got != c.date {
				t.Errorf("day %d is written %s; want %s", clock.Day(at), got, c.date)
			}
		}
		for _, unknown := range []string{"", "Harbour/Quay"} {
			if got, want := ClockOf(store.School{Zone: unknown}).At(at), at.In(server); got.String() != want.String() {
				t.Errorf("zone %q: %v; want the server's %v", unknown, got, want)
			}
		}
	}
	for minute, want := range map[int]string{0: "0:00", 545: "9:05", 1439: "23:59"} {
		if got := TimeOfDay(minute); got != want {
			t.Errorf("%d minutes are %q; want %q", minute, got, want)
		}
	}
}
