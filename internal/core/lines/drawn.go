package lines

import (
	"cmp"
	"image"
	"math"
	"slices"

	"zestysketch/internal/core/plane"
)

// What is broader than so many times a drawing's usual line is an area: its border is drawn, not its middle. The usual
// line is no broader than mostUsualMM, but where all are of one breadth: within evenBreadth, of the middle half. A
// border differs from what lies beside it by at least leastBorder, or in its hue by leastHue.
const areaBreadth, mostUsualMM, evenBreadth, leastBorder, leastHue = 2.2, 2.0, 1.3, 0.12, 0.05

// marksOfDrawing returns the marks of a line drawing: its lines, and the borders of what is filled, each once.
func marksOfDrawing(img *image.RGBA, p Plane, s Search, perMM float64) []Mark {
	s.Edges = true
	all := Find(p, s)
	var lines, borders []Mark
	for _, m := range all {
		switch {
		case m.Ridge:
			lines = append(lines, m)
		case m.Weight >= leastBorder:
			borders = append(borders, m)
		}
	}
	s.Least = leastHue
	borders = append(borders, edgesOfHues(img, s, slices.Concat(lines, borders))...)
	broad := breadths(p, lines, 3*s.Wide)
	usual, even := middleOf(broad)
	if !even { // what is of all breadths is no line of a pen's
		usual = min(cmp.Or(usual, mostUsualMM*perMM), mostUsualMM*perMM)
	}
	reach := 0.0
	kept, halves := lines[:0], lines[:0:0] // halves: the lines again, with half their breadth as weight
	for i, m := range lines {
		if broad[i] > areaBreadth*usual {
			continue
		}
		kept = append(kept, m)
		half := math.Max(broad[i], usual) / 2
		m.Weight = float32(half + 2*s.Sigma)
		halves, reach = append(halves, m), math.Max(reach, half+2*s.Sigma)
	}
	near := NewIndex(halves, p.W, p.H, max(1, reach))
	for _, m := range borders {
		free := true
		near.Around(m.X, m.Y, float32(reach), func(o Mark) bool {
			free = math.Hypot(float64(o.X-m.X), float64(o.Y-m.Y)) > float64(o.Weight) || absf(o.NX*m.NX+o.NY*m.NY) < 0.5
			return free
		})
		if free {
			kept = append(kept, m)
		}
	}
	return kept
}

// UsualBreadth returns how broad a picture's own lines are mostly, in pixels; 0 where it has none.
func UsualBreadth(img *image.RGBA, perMM float64) float64 {
	p := Lightness(img)
	s := searchOfDrawing(perMM, Rich)
	usual, _ := middleOf(breadths(p, Find(p, s), 3*s.Wide))
	return usual
}

// searchOfDrawing says how a line drawing's lines are looked for: a marker's line beside a pen's.
func searchOfDrawing(perMM float64, d Detail) Search {
	sigma := max(leastSigma, 0.4*perMM)
	return Search{Sigma: sigma, Wide: 3 * sigma, Least: details[d].least, Shortest: 4}
}

func breadths(p Plane, lines []Mark, reach float64) []float64 {
	broad := make([]float64, len(lines))
	for i, m := range lines {
		broad[i] = Breadth(p, plane.Pt(float64(m.X), float64(m.Y)), plane.Pt(-float64(m.NY), float64(m.NX)), reach)
	}
	return broad
}

// middleOf returns the median of the breadths that are known, 0 for none, and whether they are of one breadth.
func middleOf(broad []float64) (middle float64, even bool) {
	known := slices.DeleteFunc(slices.Clone(broad), func(b float64) bool { return b == 0 })
	if len(known) == 0 {
		return 0, false
	}
	slices.Sort(known)
	return known[len(known)/2], known[len(known)*3/4] < evenBreadth*known[len(known)/4]
}

// breadthDark is how much darker than what lies beside it a line is.
const breadthDark = 0.06

// Breadth returns how broad a dark line is that goes a way, in pixels, at the height half-way between it and the
// paper, looked for so far to each side; 0 where there is none.
func Breadth(light Plane, at, way plane.Point, reach float64) float64 {
	across := plane.Pt(-way.Y, way.X)
	value := func(off float64) float64 {
		q := at.Add(across.Mul(off))
		return float64(light.At(int(q.X), int(q.Y)))
	}
	const step = 0.25
	sum := 0.0
	for _, side := range [2]float64{1, -1} {
		ground := 0.0
		for off := 0.0; off < reach; off++ {
			ground = max(ground, value(side*off))
		}
		dark := min(value(0), value(1), value(-1))
		if ground-dark < breadthDark {
			return 0
		}
		for off := 0.0; off < reach && value(side*off) < (ground+dark)/2; off += step {
			sum += step
		}
	}
	return sum
}
