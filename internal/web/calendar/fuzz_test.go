package calendar

import (
	"errors"
	"strings"
	"testing"

	"zestysketch/internal/web/kit"
)

// Whatever is typed for a class's lessons, they are known or the form says at
// which field not.
func FuzzLessons(f *testing.F) {
	f.Add("2026-11-02", "2026-12-20", "1", "9:30", "50", "1", "2026-11-20 13.05 45", "2026-12-08", "5", "5")
	f.Add("2026-11-02", "2036-12-20", "9", "25:00", "x", "3", "tomorrow", "Christmas", "-1", "700")
	f.Fuzz(func(t *testing.T, from, until, day, start, minutes, week, single, holidays, setup, clear string) {
		v := view{From: from, Until: until, Single: single, Holidays: holidays, Setup: setup, Clear: clear}
		v.Weekly[0] = weekly{day, start, minutes, week}
		c, err := v.read()
		if err != nil {
			if trouble := (kit.Trouble{}); !errors.As(err, &trouble) || strings.TrimSpace(trouble.Message) == "" {
				t.Errorf("%+v: %v; want words", v, err)
			}
			return
		}
		lessons, err := c.Lessons()
		if err != nil {
			t.Fatalf("%+v is taken: %v", v, err)
		}
		for i, l := range lessons {
			if l.Drawing() <= 0 || l.Day < c.From || l.Day > c.Until || i > 0 && l.Span().From <= lessons[i-1].Span().From {
				t.Errorf("%+v: lesson %d is %+v", v, i, l)
			}
		}
	})
}
