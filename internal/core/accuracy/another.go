package accuracy

import (
	"slices"

	"zestysketch/internal/core/lines"
)

// agreement is how a picture suits a drawing: how much of the drawn boxes' wanted lines was found
// again closely, and how much of what is drawn those lines explain closely, each 0 to 1.
type agreement struct{ found, explained float64 }

func (s agreement) whole() float64 { return s.found + s.explained }

// A drawing is of its picture where so much of the picture's lines is found again, or the
// picture suits it so well. It is another's where hardly any are, where so many boxes hold
// other lines, or where the picture suits it hardly better than chance does; also where of
// several boxes with lines hardly one knows its place: a dense drawing has lines of any picture.
const (
	surelyLike, surelyAgrees, leastLikeness = 0.75, 1.6, 0.25
	severalBoxes, hardlyKnown               = 6, 0.125
	mostBoxesOther                          = 0.4
	overChance                              = 0.3
)

// A drawing is the mirror's where most of the mirror's lines are found again and the mirror
// suits it better, both ways: of a picture that is much like its mirror either is found. Where
// the picture suits it so well no mirror can.
const mostMirrored, betterAgreement, betterEach, bestAgreement = 0.5, 0.06, 0.01, 1.7

// another says why a drawing, of which so many boxes are drawn, is none of this
// picture; nothing where it may be.
func (d Boxes) another(drawn float64) string {
	is := d.agreementIn(d.inBox)
	if d.mirrors(is) {
		return "This drawing looks like the picture in a mirror: left and right are exchanged. Was the picture, or the photo, turned over?"
	}
	if is.found >= surelyLike || is.whole() >= surelyAgrees {
		return ""
	}
	over, other := overChance, 0.0
	if d.Tonal { // of a photograph's edges everyone draws others
		over /= 2
	}
	for _, c := range d.Cells {
		if c.Other {
			other++
		}
	}
	know, of := d.boxesKnown()
	lost := of >= severalBoxes && know < hardlyKnown*of
	if lost || is.found < leastLikeness || other > mostBoxesOther*drawn || is.whole() < d.agreementOf(d.exchanged()).whole()+over {
		return "This does not look like a drawing of this picture by this plan. Is it the right drawing, the right way up, with its corners in the right places?"
	}
	return ""
}

// mirrors reports whether a drawing that the picture suits so is the mirror's.
func (d Boxes) mirrors(is agreement) bool {
	return is.whole() < bestAgreement && slices.ContainsFunc([]bool{false, true}, func(upside bool) bool {
		m := d.agreementOf(d.mirrored(upside))
		return m.found > max(mostMirrored, is.found+betterEach) && m.explained > is.explained+betterEach && m.whole() > is.whole()+betterAgreement
	})
}

// agreementIn returns how the picture suits the drawing, given what is drawn in its boxes.
func (m Matched) agreementIn(in []drawnIn) agreement {
	marks, foreign := 0.0, 0.0
	for _, box := range in {
		marks, foreign = marks+box.marks, foreign+box.foreign
	}
	return agreement{m.likeness(in), 1 - foreign/max(marks, 1)}
}

// agreementOf returns how a picture of other lines suits the drawing.
func (d Seen) agreementOf(wanted [][]lines.Mark) agreement {
	d.wanted = wanted
	m := d.Match()
	return m.agreementIn(m.extras())
}

// likeness returns how much of the drawn boxes' wanted lines was found again
// closely, 0 to 1.
func (m Matched) likeness(in []drawnIn) float64 {
	there, of := 0.0, 0.0
	for i, points := range m.wanted {
		if in[i].marks < 0.3*float64(len(points)) {
			continue // not drawn yet
		}
		for _, p := range m.pairs[i] {
			there += p.w
		}
		of += float64(len(points))
	}
	return there / max(of, 1)
}

// exchanged returns the same boxes in other places, the first where the last is: lines
// as crowded that are found by chance alone.
func (d Seen) exchanged() [][]lines.Mark {
	other := make([][]lines.Mark, d.net.count())
	for i := range other {
		other[i] = d.carried(len(other)-1-i, i)
	}
	return other
}

// mirrored returns the picture's lines with left and right exchanged, or with top and
// foot, which is the same on a sheet that lies upside down.
func (d Seen) mirrored(upside bool) [][]lines.Mark {
	n := d.net
	other := make([][]lines.Mark, n.count())
	for i, marks := range d.wanted {
		c, r := i%n.columns, i/n.columns
		to := r*n.columns + n.columns - 1 - c
		if upside {
			to = (n.rows-1-r)*n.columns + c
		}
		for _, m := range marks {
			if upside {
				m.Y, m.NY = float32(n.h)-m.Y, -m.NY
			} else {
				m.X, m.NX = float32(n.w)-m.X, -m.NX
			}
			other[to] = append(other[to], m)
		}
	}
	return other
}
