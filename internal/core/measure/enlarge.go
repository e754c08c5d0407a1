package measure

import "math"

// SameWithin is how far a scale may be from 1 and count as the same size: what
// no ruler shows on a school's sheet.
const SameWithin = 0.005

// EnlargementAdvice says what a scale means for the drawing, and whether it is
// hard (common practice: enlarge, or keep the size; × 1.5 and × 2 are usual).
func EnlargementAdvice(scale float64) (words string, hard bool) {
	switch {
	case scale < 1-SameWithin:
		return "Drawing smaller than the picture is hard: keep its size, or enlarge.", true
	case scale < 1+SameWithin:
		return "Same size: the picture can be laid on the drawing to check it.", false
	case math.Abs(scale-1.5) < 0.01 || math.Abs(scale-2) < 0.01:
		return "One of the two usual enlargements: easy to reckon.", false
	}
	return "× 1.5 and × 2 are the usual enlargements.", false
}

// SeenSquash is the squash in per cent past which it can be seen (common
// practice: nobody sees less).
const SeenSquash = 2.0
