package lesson

import "zestysketch/internal/core/picture"

// Suited returns the way of working that suits a picture, and why in words that a teacher reads. Facts are
// nil where there is no picture; hard is how hard it was measured to be, 1 to 3, or 0 for not yet. What
// suits what is common practice; which of two comes first is ours.
func Suited(facts *picture.Facts, hard int) (Way, string) {
	switch {
	case facts == nil:
		return FromLife, "there is no picture: the thing itself is drawn"
	case facts.Halves == picture.Mirrored:
		return ByFold, "its left half is the mirror of its right: a fold shows where each line comes again"
	case facts.Halves == picture.Turned:
		return ByTurn, "it looks the same upside down: one half is drawn, then turned"
	case !facts.Drawing && hard == 1:
		return ByQuarters, "it is a few large shapes: marks at halves and quarters are enough"
	case !facts.Drawing && hard == 3:
		return ByTracing, "it is all detail and tones: closed areas are traced first, then carried to good paper"
	case facts.Drawing && hard == 3:
		return ByBox, "it has much detail: measured boxes take it a little at a time"
	case facts.Drawing:
		return ByBox, "its lines are there to be copied: measured boxes carry them to any size"
	}
	return ByBox, "measured boxes show where its edges and tones stand"
}
