package store

import (
	"context"
	"errors"
	"sync"
	"testing"
	"time"

	"zestysketch/internal/core/lesson"
)

// A student has one live link to a project: whoever prints it again, or at the
// same moment, gets the same letters; renewing gives others, and the old open
// nothing. Nothing that is kept holds the letters.
func TestOneLink(t *testing.T) {
	s, ctx := open(t), context.Background()
	teacher, class, p := room(t, s, "links@quay.example")
	ada := class.Students[0].ID
	first, err := s.Link(ctx, p, ada)
	if err != nil || len(first) != 26 {
		t.Fatalf("%q, %v", first, err)
	}
	var all sync.WaitGroup
	for range 20 {
		all.Go(func() {
			if again, err := s.Link(ctx, p, ada); err != nil || again != first {
				t.Errorf("printed again %q, %v; want %q", again, err, first)
			}
		})
	}
	all.Wait()
	bo := make([]string, 8) // nobody has made this one before
	for i := range bo {
		all.Go(func() {
			var err error
			if bo[i], err = s.Link(ctx, p, class.Students[1].ID); err != nil {
				t.Error(err)
			}
		})
	}
	all.Wait()
	for _, b := range bo {
		if b != bo[0] || b == first {
			t.Errorf("made at once: %q", bo)
		}
	}
	if n, err := s.CountLinks(ctx, p.ID); err != nil || n != 2 {
		t.Errorf("%d links, %v; want 2", n, err)
	}
	if got, student, err := s.Linked(ctx, first); err != nil || got.ID != p.ID || student.ID != ada {
		t.Errorf("opens project %d of %d, %v", got.ID, student.ID, err)
	}
	if err := s.EndLinks(ctx, teacher.ID+1, p.ID); !errors.Is(err, ErrNotFound) {
		t.Errorf("another teacher ends them: %v", err)
	}
	if err := s.EndLinks(ctx, teacher.ID, p.ID); err != nil {
		t.Fatal(err)
	}
	if _, _, err := s.Linked(ctx, first); !errors.Is(err, ErrNotFound) {
		t.Errorf("an ended link: %v", err)
	}
	if next, err := s.Link(ctx, p, ada); err != nil || next == first {
		t.Errorf("renewed %q, %v; want other letters", next, err)
	}
}

// Links open until the end of their last day, wherever the school lies.
func TestLastDayOfLinks(t *testing.T) {
	s, ctx := open(t), context.Background()
	teacher, class, p := room(t, s, "until@quay.example")
	link, err := s.Link(ctx, p, class.Students[0].ID)
	if err != nil {
		t.Fatal(err)
	}
	for _, c := range []struct {
		days int
		open bool
	}{{0, true}, {7, true}, {-2, false}} {
		day := time.Now().UTC().AddDate(0, 0, c.days)
		if err := s.LinksUntil(ctx, teacher.ID, p.ID, &day); err != nil {
			t.Fatal(err)
		}
		if _, _, err := s.Linked(ctx, link); (err == nil) != c.open {
			t.Errorf("last day in %d days: %v; open %v", c.days, err, c.open)
		}
	}
	if err := s.LinksUntil(ctx, teacher.ID, p.ID, nil); err != nil {
		t.Fatal(err)
	}
	if _, _, err := s.Linked(ctx, link); err != nil {
		t.Errorf("without a last day: %v", err)
	}
}

// A feed's address stays when the calendar changes, and not when it is renewed.
func TestFeedsAddress(t *testing.T) {
	s, ctx := open(t), context.Background()
	teacher, class, _ := room(t, s, "feed@quay.example")
	cal := lesson.Calendar{From: 20781, Until: 20788, Weekly: []lesson.Weekly{{Weekday: 1, Start: 540, Minutes: 50}}}
	var feeds []string
	for i, step := range []func() error{
		func() error { return s.SetCalendar(ctx, teacher.ID, class.ID, cal) },
		func() error { return s.SetCalendar(ctx, teacher.ID, class.ID, cal) },
		func() error { return s.RenewFeed(ctx, teacher.ID, class.ID) },
	} {
		if err := step(); err != nil {
			t.Fatal(i, err)
		}
		c, err := s.Calendar(ctx, teacher.ID, class.ID)
		if err != nil || len(c.Feed) != 26 {
			t.Fatalf("step %d: %q, %v", i, c.Feed, err)
		}
		feeds = append(feeds, c.Feed)
	}
	if feeds[0] != feeds[1] || feeds[1] == feeds[2] {
		t.Errorf("addresses %q", feeds)
	}
	if _, _, err := s.Feed(ctx, feeds[0]); !errors.Is(err, ErrNotFound) {
		t.Errorf("the old address: %v", err)
	}
	if got, _, err := s.Feed(ctx, feeds[2]); err != nil || got.ID != class.ID {
		t.Errorf("the new address opens %d, %v", got.ID, err)
	}
}
