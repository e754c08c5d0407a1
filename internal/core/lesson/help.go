package lesson

import (
	"fmt"
	"math"
)

// Help is what would help somebody to be done in time, or give them something
// to do who is early.
type Help struct {
	Prospect Prospect
	Why      string
	Ideas    []string
}

// Wait is the help where nothing can be foretold before so many more boxes were
// ticked in lessons.
func Wait(more int) Help {
	return Help{Prospect: Untold, Why: fmt.Sprintf("who will be done in time shows when about %d more boxes are ticked in lessons", more)}
}

// HelpFor proposes help from a forecast, the minutes of lessons left and the
// boxes that are left.
func HelpFor(r Range, left float64, boxes int) Help {
	h := Help{Prospect: Judge(r, left)}
	h.Why = fmt.Sprintf("about %.0f minutes to go (%.0f to %.0f), and %.0f left", r.Middle, r.Low, r.High, left)
	switch h.Prospect {
	case WillNot, MayNot:
		can := int(math.Floor(float64(boxes) * left / max(r.Middle, 1)))
		over := max(5, math.Ceil((r.Middle-left)/5)*5)
		h.Ideas = []string{
			fmt.Sprintf("Do one part well: about %d of the %d boxes fit the time.", can, boxes),
			fmt.Sprintf("Take %.0f minutes home, if that suits.", over),
			"Join four quiet boxes into one: a coarser grid where little happens.",
			"Sit down for one box together.",
		}
	case Early:
		h.Ideas = []string{
			"Divide the crowded boxes again, and look closer.",
			"Work on values: light, middle and dark, then gradual tone.",
			"Choose a second frame of the same picture.",
		}
	case Finished:
		h.Why = "every box is done"
		h.Ideas = []string{"Check against the picture, both upside down, and mend what differs.", "Then tone, or a second frame."}
	}
	return h
}
