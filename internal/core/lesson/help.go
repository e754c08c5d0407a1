package lesson

import (
	"fmt"
	"math"
	"slices"
)

// Help is what would help somebody to be done in time, or give them something
// to do who is early.
type Help struct {
	Prospect Prospect
	Why      string
	Ideas    []string
}

// Wait is the help where nothing can be foretold before so many more boxes, or what
// progress is counted in, were ticked in lessons.
func (r Road) Wait(more int) Help {
	return Help{Prospect: Untold, Why: fmt.Sprintf("who will be done in time shows when about %d more %s are ticked in lessons", more, r.Unit().Many)}
}

// HelpFor proposes help from a forecast, the minutes of lessons left and the
// boxes, or parts, that are left. Who is early gets the teacher's own work, where there is
// a list of it.
func (road Road) HelpFor(r Range, left float64, boxes int) Help {
	unit := road.Unit()
	h := Help{Prospect: Judge(r, left)}
	h.Why = fmt.Sprintf("about %.0f minutes to go (%.0f to %.0f), and %.0f left", r.Middle, r.Low, r.High, left)
	switch h.Prospect {
	case WillNot, MayNot:
		can := int(math.Floor(float64(boxes) * left / max(r.Middle, 1)))
		over := max(5, math.Ceil((r.Middle-left)/5)*5)
		h.Ideas = []string{
			fmt.Sprintf("Do one part well: about %d of the %d %s fit the time.", can, boxes, unit.Many),
			fmt.Sprintf("Take %.0f minutes home, if that suits.", over),
			"Sit down for one " + unit.One + " together.",
		}
		if unit == ByBox.Unit() {
			h.Ideas = append(h.Ideas, "Join four quiet boxes into one: a coarser grid where little happens.")
		}
	case Early:
		ideas := []string{"Work on values: light, middle and dark, then gradual tone.", "Choose a second frame of the same picture."}
		if unit == ByBox.Unit() {
			ideas = slices.Insert(ideas, 0, "Divide the crowded boxes again, and look closer.")
		}
		h.Ideas = road.ideas(ideas)
	case Finished:
		h.Why = "every " + unit.One + " is done"
		h.Ideas = road.ideas([]string{"Check against the picture, both upside down, and mend what differs.", "Then tone, or a second frame."})
	}
	return h
}
