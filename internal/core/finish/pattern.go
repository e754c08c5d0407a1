package finish

import (
	"cmp"
	"fmt"
	"image"
	"maps"
	"slices"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/core/values"
)

// Pattern is how an area is filled.
type Pattern int

// The patterns, from light to dark (common practice): paper, what leaves most of it, what
// leaves half, what leaves little, black.
const (
	Bare Pattern = iota
	Dots
	Stripes
	Waves
	Bricks
	Crossed
	Scales
	Black
)

// patternNames are what the patterns are called.
var patternNames = [...]string{"leave the paper", "dots", "stripes", "waves", "bricks", "crossed lines", "close scales", "black"}

func (p Pattern) String() string { return patternNames[p] }

// suited are the patterns for an area of a step of four, the usual one first.
var suited = [...][]Pattern{{Black, Crossed, Scales}, {Crossed, Scales, Bricks}, {Stripes, Waves, Bricks, Dots}, {Bare, Dots, Waves}}

// Filled is an area with its pattern and the line round it.
type Filled struct {
	Number  int
	Area    int // of the map
	At      plane.Point
	MM2     float64
	Box     string // it lies in mostly
	Pattern Pattern
	Line    float64 // mm broad
}

// Patterns is a picture in areas, each with a pattern that those it touches have not.
type Patterns struct {
	Map   values.Map
	Areas []Filled // the largest first
	Small int      // areas too small for a pattern
}

// Of patterns: the least area that holds one, and from which shares of the picture the
// line round it is broad or middling (ours), in mm² and mm.
const (
	leastPattern            = 120.0
	mostPatterns            = 40
	broadShare, middleShare = 0.05, 0.015
	broadLine, middleLine   = 0.8, 0.5
	thinLine                = 0.3
)

// For the areas of a line drawing, which have no tones, patterns are taken in turn: the
// largest stays paper. What lies within a line's breadth of another touches it, in mm (ours).
var inTurn = []Pattern{Dots, Stripes, Waves, Bricks, Crossed, Scales}

const acrossLine = 3.0

// patterned suggests patterns and line weights for the areas of a picture's map: of four steps
// of tone, dark areas are filled closely and light ones loosely; of a line drawing's two, those
// between the lines in turn. Large ones have a broad line, and no two that touch have the same.
// Numbers go by size.
func patterned(m values.Map, p grid.Plan, drawing bool) Patterns {
	out := toFill(m, drawing)
	reach := 1
	if drawing {
		reach = max(1, int(acrossLine*m.PerMM))
	}
	touch, places, boxes := touching(m, reach), m.Numbers(), boxesOf(m, p)
	chosen, twin := map[int32]Pattern{}, twins(m)
	whole := float64(m.W*m.H) / (m.PerMM * m.PerMM)
	for i := range out.Areas {
		a := &out.Areas[i]
		a.Number, a.At, a.Line = i+1, places[a.Area].At.Mul(1/m.PerMM), lineOf(a.MM2/whole)
		suits := suited[m.Areas[a.Area].Step*len(suited)/len(m.Levels)]
		if drawing {
			suits = turned(i)
		}
		other, paired := twin[int32(a.Area)]
		if pattern, done := chosen[other]; paired && done { // the picture's other half is filled alike
			suits = append([]Pattern{pattern}, suits...)
		}
		a.Pattern = free(suits, both(touch[int32(a.Area)], touch[other], paired), chosen)
		chosen[int32(a.Area)] = a.Pattern
		most := 0
		for label, n := range boxes[a.Area] {
			if n > most || n == most && label < a.Box {
				most, a.Box = n, label
			}
		}
	}
	return out
}

// toFill returns the areas that hold a pattern, the largest first.
func toFill(m values.Map, drawing bool) Patterns {
	out := Patterns{Map: m}
	for i, a := range m.Areas {
		switch {
		case drawing && a.Step == 0: // the lines themselves
		case m.MM2(a) < leastPattern:
			out.Small++
		default:
			out.Areas = append(out.Areas, Filled{Area: i, MM2: m.MM2(a)})
		}
	}
	slices.SortStableFunc(out.Areas, func(a, b Filled) int { return cmp.Compare(b.MM2, a.MM2) })
	if len(out.Areas) > mostPatterns {
		out.Small, out.Areas = out.Small+len(out.Areas)-mostPatterns, out.Areas[:mostPatterns]
	}
	return out
}

// lineOf returns how broad the line round an area is that covers such a share of the picture.
func lineOf(share float64) float64 {
	switch {
	case share >= broadShare:
		return broadLine
	case share >= middleShare:
		return middleLine
	}
	return thinLine
}

// both returns what lies beside an area, and what lies beside its twin, if it has one, without what has its own.
func both(beside, besideTwin map[int32]bool, paired bool) map[int32]bool {
	if !paired {
		return beside
	}
	all := maps.Clone(beside)
	if all == nil {
		all = map[int32]bool{}
	}
	maps.Copy(all, besideTwin)
	return all
}

// A picture is symmetrical where at least mostTwins of it lies in areas of which twinShare lies on another of the same
// tone when it is mirrored, or turned half round (ours).
const twinShare, mostTwins = 0.7, 0.5

// twins returns for each area the one that is its mirror image about the upright or the level middle, or under half a turn,
// whichever the picture is more like; none where it is like neither.
func twins(m values.Map) map[int32]int32 {
	best, most := map[int32]int32{}, mostTwins
	for _, onto := range []func(x, y int) (int, int){
		func(x, y int) (int, int) { return m.W - 1 - x, y },
		func(x, y int) (int, int) { return x, m.H - 1 - y },
		func(x, y int) (int, int) { return m.W - 1 - x, m.H - 1 - y },
	} {
		shared, size := map[[2]int32]int{}, make([]int, len(m.Areas))
		for y := range m.H {
			for x := range m.W {
				a := m.At[y*m.W+x]
				ox, oy := onto(x, y)
				size[a]++
				shared[[2]int32{a, m.At[oy*m.W+ox]}]++
			}
		}
		found, covered := map[int32]int32{}, 0
		for two, n := range shared {
			a, b := two[0], two[1]
			if m.Areas[a].Step != m.Areas[b].Step || float64(n) < twinShare*float64(max(size[a], size[b])) {
				continue
			}
			covered += size[a]
			if a != b {
				found[a] = b
			}
		}
		if share := float64(covered) / float64(m.W*m.H); share > most {
			best, most = found, share
		}
	}
	return best
}

// turned returns the patterns in turn, for the area of a line drawing that is the n-th by size.
func turned(n int) []Pattern {
	if n == 0 {
		return append([]Pattern{Bare}, inTurn...)
	}
	n %= len(inTurn)
	return append(slices.Clone(inTurn[n:]), inTurn[:n]...)
}

// free returns the first pattern that none of an area's neighbours has; where all are taken,
// the one of the whole list that is.
func free(suits []Pattern, neighbours map[int32]bool, chosen map[int32]Pattern) Pattern {
	taken := map[Pattern]bool{}
	for n := range neighbours {
		if p, ok := chosen[n]; ok {
			taken[p] = true
		}
	}
	for _, p := range suits {
		if !taken[p] {
			return p
		}
	}
	for p := range Pattern(len(patternNames)) {
		if !taken[p] {
			return p
		}
	}
	return suits[0]
}

// touching returns which areas lie within so many pixels of each, across and down.
func touching(m values.Map, reach int) map[int32]map[int32]bool {
	by := map[int32]map[int32]bool{}
	meet := func(a, b int32) {
		if a == b {
			return
		}
		for _, pair := range [2][2]int32{{a, b}, {b, a}} {
			if by[pair[0]] == nil {
				by[pair[0]] = map[int32]bool{}
			}
			by[pair[0]][pair[1]] = true
		}
	}
	for y := range m.H {
		row := m.At[y*m.W : (y+1)*m.W]
		for x, a := range row {
			if x >= reach {
				meet(a, row[x-reach])
			}
			if y >= reach {
				meet(a, m.At[(y-reach)*m.W+x])
			}
		}
	}
	return by
}

// lineDark is the lightness below which a line drawing's lines are (ours).
const lineDark = 60

// NewPatterns suggests patterns and line weights for the areas of a picture, framed as the
// sheet is; perMM is its pixels a millimetre of the sheet. Of a line drawing the areas are what
// its lines close in, of any other its four steps of tone. The error wraps ErrWish.
func NewPatterns(img *image.RGBA, perMM float64, p grid.Plan, drawing bool) (Patterns, error) {
	wish := values.Wish{Steps: len(suited), Rule: values.Otsu, PerMM: perMM, LeastArea: toneLeast, Neck: toneNeck}
	if drawing {
		wish = values.Wish{Steps: 2, Rule: values.ByHand, Cuts: []float64{lineDark}, PerMM: perMM, LeastArea: leastDark, Neck: neck}
	}
	m, err := values.New(img, wish)
	if err != nil {
		return Patterns{}, fmt.Errorf("%w: %w", ErrWish, err)
	}
	return patterned(m, p, drawing), nil
}
