package accuracy

import (
	"cmp"
	"errors"
	"fmt"
	"math"
	"slices"

	"zestysketch/internal/core/photo"
	"zestysketch/internal/core/plane"
)

// errAsk is wrapped by the errors of a photo in which it is not sure where a drawing lies: errCut by that
// of a sheet of which a side lies outside. errEitherWay is that of a drawing that looks much the same
// the other way up: its place is known.
var (
	errAsk       = errors.New("the place of the grid is not sure")
	errCut       = fmt.Errorf("%w: the sheet goes on beyond the photo", errAsk)
	errEitherWay = errors.New("the drawing looks the same the other way up")
)

// A place where a drawing may lie is worth what is found of the picture's lines there,
// less what they are off: a place a little wrong finds many lines, all of them off, and
// off the more the further they are from the middle. The plan's own place is worth more
// than paper cut to the drawing, and the photo's own top more than another. Places whose
// worths differ by less are as likely.
const (
	lookCell    = 24  // pixels a box, to tell places apart
	offCosts    = 0.8 // a box of root mean square
	sizeCosts   = 2.0 // a size or turn off by all
	ownTop      = 0.06
	ownPlace    = 0.1
	asLikely    = 0.05
	topAsLikely = 0.12
	leastScore  = 0.55 // of a place that the paper alone tells
	samePlace   = 0.12 // boxes
	mostlyRuled = 0.5  // share of the inner lines that show where the ruled grid is
)

// location is a place, and what it is worth.
type location struct {
	photo.Found
	score float64
	top   bool // the photo's own
}

// located returns where the drawing lies in a photo without tags. The error wraps
// ErrNotFound where nothing is found, and with the best place errAsk, where it may lie
// in two, or errEitherWay.
func (j Job) located() (plane.Quad, photo.FoundBy, error) {
	found := photo.Locate(j.Photo, j.Plan)
	if len(found) == 0 {
		return plane.Quad{}, "", fmt.Errorf("%w: neither corner tags nor a sheet nor a ruled grid; photograph the whole sheet from above, or give the corners by hand", ErrNotFound)
	}
	if j.Reference == nil {
		q, _ := photo.Snap(j.Photo, j.Plan, found[0].Corners)
		return q, found[0].By, nil
	}
	all := j.locations(found)
	best := slices.MaxFunc(all, func(a, b location) int { return cmp.Compare(a.score, b.score) })
	q, ruled := photo.Snap(j.Photo, j.Plan, best.Corners)
	by := best.By
	if ruled {
		by = photo.ByGrid
	}
	return q, by, j.doubtful(all, best, by)
}

// doubtful returns errCut or errAsk where the best place is none to go by, or another is as likely, and errEitherWay
// where the picture looks alike the other way up.
func (j Job) doubtful(all []location, best location, by photo.FoundBy) error {
	switch {
	case best.Cut:
		return errCut
	case best.By == photo.ByPaper && best.score < leastScore:
		return errAsk
	}
	if slices.ContainsFunc(all, func(c location) bool { return j.asLikely(c, best, by) }) {
		return errAsk
	}
	if slices.ContainsFunc(all, func(c location) bool {
		return !c.top && best.top && turnedFrom(c.Corners, best.Corners) && c.score > best.score-ownTop-asLikely
	}) {
		return errEitherWay
	}
	return nil
}

// asLikely reports whether a place, or the best one the photo's own way up, may as well be where the drawing lies.
func (j Job) asLikely(c, best location, by photo.FoundBy) bool {
	if turnedFrom(c.Corners, best.Corners) {
		return c.top && c.score < best.score && c.score > best.score-topAsLikely
	}
	return by == photo.ByPaper && c.score > best.score-asLikely && photo.Apart(j.Plan, c.Corners, best.Corners) > samePlace
}

// locations returns what places are worth.
func (j Job) locations(found []photo.Found) (all []location) {
	for i, f := range found {
		top := i == 0 || !turnedFrom(f.Corners, found[i-1].Corners)
		score := j.score(f.Corners)
		if top {
			score += ownTop
		}
		if f.Planned {
			score += ownPlace
		}
		all = append(all, location{f, score, top})
	}
	return all
}

// turnedFrom reports whether two places are one, turned.
func turnedFrom(a, b plane.Quad) bool {
	for turn := range 4 {
		t, most := photo.Turned(a, turn), 0.0
		for i := range t {
			most = max(most, t[i].Sub(b[i]).Len())
		}
		if most < 0.02*math.Sqrt(a.Area()) {
			return true
		}
	}
	return false
}

// score returns what a place is worth.
func (j Job) score(q plane.Quad) float64 {
	v, err := photo.NewView(j.Plan, q, j.lens(0))
	if err != nil {
		return -1
	}
	m := See(j, v, lookCell).Match()
	b := m.boxes(NormalTolerance, m.extras(), make([]bool, m.net.count()))
	off, known, drawn := 0.0, 0.0, 0.0
	for i, s := range b.shifts {
		if b.Cells[i].State == Empty || b.Cells[i].Lines < leastToDraw {
			continue
		}
		drawn++
		if s.sure != None {
			off, known = off+sq(s.shift.Len()/b.net.cell), known+1
		}
	}
	// Lines that tell nothing are found anywhere.
	score := b.likeness(b.inBox) * (1 + known/max(1, drawn)) / 2
	return score - offCosts*math.Sqrt(off/max(1, known)) - sizeCosts*math.Hypot(b.whole.grow, b.whole.turn)
}
