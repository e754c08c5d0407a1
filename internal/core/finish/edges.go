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
	find := func(blur, least float64) []lines.Mark {
		return lines.Find(light, lines.Search{Sigma: max(1, blur*perMM), Least: least, Shortest: 4, Edges: true})
	}
	hard := find(hardBlur, hardLeast)
	bucket := func(m lines.Mark, dx, dy int) [2]int {
		return [2]int{int(math.Floor(float64(m.X)/(sameEdge*perMM))) + dx, int(math.Floor(float64(m.Y)/(sameEdge*perMM))) + dy}
	}
	there := map[[2]int]bool{}
	for _, m := range hard {
		there[bucket(m, 0, 0)] = true
	}
	soft := slices.DeleteFunc(find(softBlur, softLeast), func(m lines.Mark) bool {
		for k := range 9 {
			if there[bucket(m, k%3-1, k/3-1)] {
				return true
			}
		}
		return false
	})
	return Edges{named(hard, perMM, p), named(soft, perMM, p)}
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
