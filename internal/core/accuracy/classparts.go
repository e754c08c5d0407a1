package accuracy

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"zestysketch/internal/core/plane"
)

// samePart is how much of what two parts cover together both must cover to be one.
const samePart = 0.3

// SharedParts returns, in words, which parts several of a class's drawings have elsewhere, otherwise or
// not yet, and how: three at most, the one that most get wrong first.
func SharedParts(drawings []Gist) (say []string) {
	var alike [][]Part
	for _, g := range drawings {
		for _, p := range g.Parts {
			i := slices.IndexFunc(alike, func(all []Part) bool { return all[0].same(p) })
			if i < 0 {
				alike, i = append(alike, nil), len(alike)
			}
			alike[i] = append(alike[i], p)
		}
	}
	slices.SortStableFunc(alike, func(a, b []Part) int { return cmp.Compare(len(b), len(a)) })
	for _, all := range alike {
		if len(all) >= 2 && len(say) < mostAdvice {
			say = append(say, usually(all, len(drawings)))
		}
	}
	return say
}

// same reports whether two drawings' parts are one part of the picture.
func (q Part) same(p Part) bool {
	both := plane.Rect{Min: plane.Pt(max(q.Where.Min.X, p.Where.Min.X), max(q.Where.Min.Y, p.Where.Min.Y)),
		Max: plane.Pt(min(q.Where.Max.X, p.Where.Max.X), min(q.Where.Max.Y, p.Where.Max.Y))}
	all := q.Where.Union(p.Where)
	return q.Name == p.Name && both.Width() > 0 && both.Height() > 0 && both.Width()*both.Height() > samePart*all.Width()*all.Height()
}

// usually says what most drawings of so many have done with one part.
func usually(all []Part, of int) string {
	var moved []Part
	for _, p := range all {
		if p.State == PartMoved {
			moved = append(moved, p)
		}
	}
	if len(moved) == 0 {
		return fmt.Sprintf("%s %s not there yet in %d of %d drawings.", all[0].called(), all[0].verb("is", "are"), len(all), of)
	}
	middle := func(of func(Part) float64) float64 {
		var values []float64
		for _, p := range moved {
			values = append(values, of(p))
		}
		return median(values)
	}
	p := moved[0]
	p.Move = plane.Pt(middle(func(p Part) float64 { return p.Move.X }), middle(func(p Part) float64 { return p.Move.Y }))
	p.Size, p.Turn = middle(func(p Part) float64 { return p.Size }), middle(func(p Part) float64 { return p.Turn })
	is := strings.Join(p.is(0), " and ")
	if is == "" {
		is = p.verb("sits elsewhere, another way in each,", "sit elsewhere, another way in each,")
	}
	words := fmt.Sprintf("%s %s in %d of %d drawings.", p.called(), is, len(moved), of)
	if missing := len(all) - len(moved); missing > 0 {
		words += fmt.Sprintf(" In %d more %s not there yet.", missing, p.verb("it is", "they are"))
	}
	return words
}
