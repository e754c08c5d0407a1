package finish

import (
	"cmp"
	"image"
	"math"
	"slices"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/lines"
	"zestysketch/internal/core/plane"
)

// Edges are the boxes in which a picture's edges are hard, such as a cut or a near thing's shadow, and those in which
// they are soft, such as a round form or a far shadow: most of them, the most first.
type Edges struct{ Hard, Soft []string }

// Of edges, millimetres on the sheet and strengths (ours): how broad a blur still shows a hard one and how broad a soft
// one; how strong each is at least; how near a hard one a soft one is the same; the shortest in a box that counts, as a
// share of its side; and how many boxes are named.
const (
	hardBlur, softBlur = 0.6, 2.4
	hardLeast          = 0.2
	softLeast          = 0.12
	sameEdge           = 2.5
	shortestEdge       = 0.4
	mostEdges          = 5
)

// NewEdges looks at a toned picture that is framed as the sheet is; perMM is how many of its pixels are a millimetre.
func NewEdges(img *image.RGBA, perMM float64, p grid.Plan) Edges {
	light := lines.Lightness(img)
	hard, near := hardEdges(light, perMM)
	soft := lines.Find(light, lines.Search{Sigma: max(1, softBlur*perMM), Least: softLeast, Shortest: 4, Edges: true})
	soft = slices.DeleteFunc(soft, func(m lines.Mark) bool { return near(float64(m.X), float64(m.Y)) })
	return Edges{named(hard, perMM, p), named(soft, perMM, p)}
}

// hardEdges returns the marks of hard edges and dark lines, and whether a pixel lies at one.
func hardEdges(light lines.Plane, perMM float64) (hard []lines.Mark, near func(x, y float64) bool) {
	hard = lines.Find(light, lines.Search{Sigma: max(1, hardBlur*perMM), Least: hardLeast, Shortest: 4, Edges: true})
	bucket := func(x, y float64, dx, dy int) [2]int {
		return [2]int{int(math.Floor(x/(sameEdge*perMM))) + dx, int(math.Floor(y/(sameEdge*perMM))) + dy}
	}
	there := map[[2]int]bool{}
	for _, m := range hard {
		there[bucket(float64(m.X), float64(m.Y), 0, 0)] = true
	}
	return hard, func(x, y float64) bool {
		for k := range 9 {
			if there[bucket(x, y, k%3-1, k/3-1)] {
				return true
			}
		}
		return false
	}
}

// named returns the boxes that have most of some marks.
func named(marks []lines.Mark, perMM float64, p grid.Plan) (boxes []string) {
	long := map[string]float64{}
	for _, m := range marks {
		long[p.CellAt(plane.Pt(float64(m.X)/perMM, float64(m.Y)/perMM)).Label]++
	}
	for label, n := range long {
		if n >= shortestEdge*perMM*min(p.Grid.SheetCell[0], p.Grid.SheetCell[1]) {
			boxes = append(boxes, label)
		}
	}
	slices.SortFunc(boxes, func(a, b string) int { return cmp.Or(cmp.Compare(long[b], long[a]), cmp.Compare(a, b)) })
	return boxes[:min(len(boxes), mostEdges)]
}
