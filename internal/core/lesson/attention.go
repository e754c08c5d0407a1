package lesson

import (
	"cmp"
	"fmt"
	"slices"
)

// Seat is what is known of a student at work, for finding who needs the
// teacher first.
type Seat struct {
	ID        uint64
	Hand      float64 // minutes since the hand went up, 0 for down
	Place     Place
	SinceTick float64 // minutes of this lesson since the last box, or since it began
	PerBox    float64 // the student's own minutes a box
	Prospect  Prospect
	Flag      string
	Absent    bool
}

// Need is who needs the teacher, and why.
type Need struct {
	ID     uint64
	Score  float64 // more is sooner; 0 needs nothing
	Reason string  // empty for nothing
	Now    bool    // they cannot go on well without; else it is good to know
}

// stuckAfter is how many times their own time for a box somebody may be silent
// before they seem stuck, and at least how many minutes (ours).
const stuckAfter, leastSilence = 3.0, 6.0

// soon is the score from which on somebody needs the teacher now: a hand, a look, a flag, long silence,
// or a drawing that will not be finished.
const soon = 30

// FirstTo returns everybody with why they need the teacher, who needs it most
// first, others in the order given.
func FirstTo(seats []Seat) []Need {
	needs := make([]Need, len(seats))
	for i, s := range seats {
		needs[i] = s.need()
	}
	slices.SortStableFunc(needs, func(a, b Need) int { return cmp.Compare(b.Score, a.Score) })
	return needs
}

func (s Seat) need() Need {
	say := func(score float64, format string, args ...any) Need {
		return Need{ID: s.ID, Score: score, Reason: fmt.Sprintf(format, args...), Now: score >= soon}
	}
	silence := max(leastSilence, stuckAfter*s.PerBox)
	switch {
	case s.Absent:
		return Need{ID: s.ID}
	case s.Hand > 0:
		return say(100+s.Hand, "hand up %.0f min", s.Hand)
	case s.Place.Waiting && !s.Place.Again:
		return say(80, "needs a look")
	case s.Flag != "":
		return say(70, "flag: %s", s.Flag)
	case s.Prospect == Finished:
		return Need{ID: s.ID, Score: 50, Reason: "all done"}
	case s.SinceTick > silence:
		return say(40+min(19, s.SinceTick-silence), "quiet %.0f min", s.SinceTick)
	case s.Prospect == WillNot:
		return say(30, "will not finish")
	case s.Prospect == MayNot:
		return say(15, "may not finish")
	case s.Prospect == Early:
		return say(5, "will be early")
	}
	return Need{ID: s.ID}
}
