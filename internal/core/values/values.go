// Package values reduces a picture to a few steps of tone, whose every area is
// a closed shape that a student can fill. Neighbours share one border: there is
// no gap and no overlap.
package values

import (
	"errors"
	"fmt"
	"image"
	"math"
	"regexp"
	"slices"
	"sync"

	"zestysketch/internal/core/lines"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/core/plane"
)

// Rule says where one step ends and the next begins.
type Rule string

// The rules.
const (
	EvenLight Rule = "light" // steps of equal lightness between the picture's darkest and lightest
	EvenArea  Rule = "area"  // steps that cover equal areas
	Otsu      Rule = "otsu"  // steps whose tones differ least within (Otsu 1979)
	ByHand    Rule = "hand"  // where Wish.Cuts has them
)

// FewestSteps and MostSteps bound a map: two are a stencil, and more than seven
// nobody tells apart (common practice).
const FewestSteps, MostSteps = 2, 7

// Wish is what is wanted of a map.
type Wish struct {
	Steps     int
	Rule      Rule
	Cuts      []float64     // L*, rising, one fewer than the steps, for ByHand
	PerMM     float64       // pixels of the picture a millimetre, as printed
	LeastArea float64       // mm²: smaller areas join a neighbour
	Darks     float64       // mm²: from how large on dark shapes inside a lighter area are kept, whatever LeastArea says; 0 for none
	Keep      []plane.Point // pixels where a landmark lies: the area there is kept, however small
	Neck      float64       // mm: what is thinner is closed or cut through, and what is thinner than three pixels
}

// Usual is what a map is like where nobody wishes otherwise, but for PerMM (ours).
var Usual = Wish{Steps: 4, Rule: Otsu, LeastArea: 80, Neck: 1.5}

// ErrWish is wrapped by errors about what was asked for.
var ErrWish = errors.New("value map")

func (w Wish) check() error {
	switch {
	case w.Steps < FewestSteps || w.Steps > MostSteps:
		return fmt.Errorf("%w: wanted %d to %d steps, got %d", ErrWish, FewestSteps, MostSteps, w.Steps)
	case !(w.PerMM > 0) || math.IsInf(w.PerMM, 0):
		return fmt.Errorf("%w: wanted the picture's printed size, got %g pixels a millimetre", ErrWish, w.PerMM)
	case !(w.LeastArea >= 0) || !(w.Neck >= 0) || !(w.Darks >= 0):
		return fmt.Errorf("%w: wanted sizes of 0 and more, got %g mm², %g mm² and %g mm", ErrWish, w.LeastArea, w.Darks, w.Neck)
	case w.Rule == ByHand:
		return w.checkCuts()
	case w.Rule != EvenLight && w.Rule != EvenArea && w.Rule != Otsu:
		return fmt.Errorf("%w: there is no rule %q; wanted light, area, otsu or hand", ErrWish, w.Rule)
	}
	return nil
}

func (w Wish) checkCuts() error {
	if len(w.Cuts) != w.Steps-1 {
		return fmt.Errorf("%w: %d steps want %d cuts between them, got %d", ErrWish, w.Steps, w.Steps-1, len(w.Cuts))
	}
	if !slices.IsSorted(w.Cuts) || w.Cuts[0] <= 0 || w.Cuts[len(w.Cuts)-1] >= 100 {
		return fmt.Errorf("%w: cuts rise between 0 and 100, got %v", ErrWish, w.Cuts)
	}
	return nil
}

// Map is a picture in steps. Step 0 is the darkest.
type Map struct {
	W, H   int
	PerMM  float64
	Cuts   []float64 // L* between the steps, rising
	Levels []Level
	Areas  []Area
	At     []int32 // the area of every pixel, row by row

	reach int // points over which borders are rounded
}

// Level is one step.
type Level struct {
	Light float64 // mean L* of what it covers
	Share float64 // of the picture, 0 to 1
	Grade string  // of pencil
	Areas int
}

// Area is one closed shape.
type Area struct {
	Step   int
	Pixels int
	Rings  []plane.Ring // the outer one first, then holes; the shape lies to the left as one goes along, y down
}

// MM2 returns an area's size on paper.
func (m Map) MM2(a Area) float64 { return float64(a.Pixels) / (m.PerMM * m.PerMM) }

// New returns the value map of a picture. Its cost grows with the pixels and
// with the lengths of the borders.
func New(img *image.RGBA, w Wish) (Map, error) {
	if err := w.check(); err != nil {
		return Map{}, err
	}
	light := lines.Lightness(img)
	// A little blur takes the grain; the filter after it takes the necks.
	smooth := light.Blur(min(8, w.Neck*w.PerMM/6))
	m := Map{W: light.W, H: light.H, PerMM: w.PerMM, Cuts: w.cuts(smooth)}
	steps := quantized(smooth, m.Cuts)
	m.reach = w.half() / 2
	steps = broadened(steps, m.W, m.H, w.half())
	least := int(math.Ceil(w.LeastArea * w.PerMM * w.PerMM))
	pins := make([]image.Point, len(w.Keep))
	for i, at := range w.Keep {
		pins[i] = image.Pt(int(at.X), int(at.Y))
	}
	if m.At, m.Areas = settle(steps, m.W, m.H, least, pins...); w.Darks > 0 {
		for i, a := range m.At {
			steps[i] = uint8(m.Areas[a].Step)
		}
		w.darks(img, light, steps)
		m.At, m.Areas = settle(steps, m.W, m.H, least, pins...)
	}
	m.levels(light, w.Steps)
	m.outline()
	return m, nil
}

// Figure returns the wish for a picture at its barest: outlines of the main
// areas alone, each at least a fiftieth of a picture of the given mm². That is
// an outline that a young hand can follow (ours).
func (w Wish) Figure(mm2 float64) Wish {
	if w.Rule != ByHand {
		w.Steps = min(w.Steps, 3)
	}
	w.LeastArea, w.Neck, w.Darks = max(w.LeastArea, mm2/50), max(w.Neck, math.Sqrt(mm2)/60), traceable
	return w
}

// recipe says what a simplified figure makes of what it is known by (common practice), and which landmarks name it.
var recipe = []struct {
	named *regexp.Regexp
	words string
}{
	{regexp.MustCompile(`(?i)\beyes?\b|iris|pupil`), "Eyes: plain discs, a little smaller than the iris."},
	{regexp.MustCompile(`(?i)nose|nostril`), "Nostrils: two small flat shapes."},
	{regexp.MustCompile(`(?i)mouth|lips?\b`), "Mouth: one line, and a short one under it."},
	{regexp.MustCompile(`(?i)brow`), "Eyebrows: by their area."},
	{regexp.MustCompile(`(?i)hair`), "Hair: a single shape."},
}

// Recipe returns what a simplified figure makes of the features that landmarks name; nothing where nobody pressed any.
func Recipe(landmarks []string) (lines []string) {
	for _, r := range recipe {
		if slices.ContainsFunc(landmarks, r.named.MatchString) {
			lines = append(lines, r.words)
		}
	}
	return lines
}

// traceable is the smallest area that a pencil traces as a shape, mm² (ours).
const traceable = 3.0

// Bars is how many bars a histogram has, from black to white.
const Bars = 50

// Histogram returns how much of a picture has each lightness, as shares of the
// fullest bar.
func Histogram(img *image.RGBA) (bars [Bars]float64) {
	most := 0.0
	for _, v := range lines.Lightness(img).Pix {
		b := min(Bars-1, int(v*Bars))
		bars[b]++
		most = max(most, bars[b])
	}
	for i := range bars {
		bars[i] /= max(1, most)
	}
	return bars
}

// half returns r of the square of 2r + 1 pixels that is as broad as the neck; of
// three pixels at least: the picture's own grain has no areas.
func (w Wish) half() int { return max(1, int((w.Neck*w.PerMM-1)/2+0.5)) }

const bins = 256

// cuts returns where the steps part, L*.
func (w Wish) cuts(p lines.Plane) []float64 {
	if w.Rule == ByHand {
		return w.Cuts
	}
	histogram := counted(p)
	var at []int
	switch w.Rule {
	case EvenArea:
		at = evenAreas(histogram, w.Steps)
	case Otsu:
		at = otsu(histogram, w.Steps)
	default:
		at = evenLight(histogram, w.Steps)
	}
	cuts := make([]float64, len(at))
	for i, b := range at {
		cuts[i] = (float64(b) + 0.5) * 100 / (bins - 1)
	}
	return cuts
}

// counted returns how many pixels have each tone.
func counted(p lines.Plane) (all [bins]float64) {
	var adding sync.Mutex
	picture.Bands(p.H, func(from, to int) {
		var some [bins]int
		for _, v := range p.Pix[from*p.W : to*p.W] {
			some[int(v*(bins-1)+0.5)]++
		}
		adding.Lock()
		defer adding.Unlock()
		for b, n := range some {
			all[b] += float64(n)
		}
	})
	return all
}

// evenLight parts the span between the darkest and lightest hundredth.
func evenLight(h [bins]float64, steps int) []int {
	total := 0.0
	for _, n := range h {
		total += n
	}
	low, high, sum := -1, 0, 0.0
	for b, n := range h {
		sum += n
		if low < 0 && sum > 0.01*total {
			low = b
		}
		if sum <= 0.99*total {
			high = b
		}
	}
	high = max(high, low)
	at := make([]int, steps-1)
	for i := range at {
		at[i] = low + (high-low)*(i+1)/steps
	}
	return at
}

// evenAreas parts the pixels into equal heaps, as nearly as whole tones allow.
func evenAreas(h [bins]float64, steps int) []int {
	total := 0.0
	for _, n := range h {
		total += n
	}
	at := make([]int, 0, steps-1)
	sum := 0.0
	for b, n := range h {
		for len(at) < steps-1 && sum+n/2 > total*float64(len(at)+1)/float64(steps) {
			at = append(at, max(0, b-1))
		}
		sum += n
	}
	for len(at) < steps-1 {
		at = append(at, bins-1)
	}
	return at
}

// otsu parts the tones so that the variance between the steps is greatest:
// Otsu's criterion for several thresholds (Otsu 1979, section IV), found exactly
// by dynamic programming over the histogram.
func otsu(h [bins]float64, steps int) []int {
	var n, s [bins + 1]float64
	for b, v := range h {
		n[b+1], s[b+1] = n[b]+v, s[b]+v*float64(b)
	}
	worth := func(from, to int) float64 { // of one step of the tones from to to−1
		if w := n[to] - n[from]; w > 0 {
			d := s[to] - s[from]
			return d * d / w
		}
		return 0
	}
	best := make([][bins + 1]float64, steps+1)
	cut := make([][bins + 1]int, steps+1)
	for to := 1; to <= bins; to++ {
		best[1][to] = worth(0, to)
	}
	for k := 2; k <= steps; k++ {
		for to := k; to <= bins; to++ {
			best[k][to] = -1
			for from := k - 1; from < to; from++ {
				if v := best[k-1][from] + worth(from, to); v > best[k][to] {
					best[k][to], cut[k][to] = v, from
				}
			}
		}
	}
	at := make([]int, steps-1)
	to := bins
	for k := steps; k >= 2; k-- {
		to = cut[k][to]
		at[k-2] = to - 1
	}
	return at
}

func quantized(p lines.Plane, cuts []float64) []uint8 {
	var step [1025]uint8
	for i := range step {
		l := float64(i) / 1024 * 100
		for _, c := range cuts {
			if l > c {
				step[i]++
			}
		}
	}
	out := make([]uint8, len(p.Pix))
	picture.Bands(p.H, func(from, to int) {
		for i := from * p.W; i < to*p.W; i++ {
			out[i] = step[int(p.Pix[i]*1024+0.5)]
		}
	})
	return out
}

// Unused returns how many steps cover nothing.
func (m Map) Unused() (n int) {
	for _, l := range m.Levels {
		if l.Areas == 0 {
			n++
		}
	}
	return n
}

// levels says how light each step is, how much it covers, and by which pencil.
func (m *Map) levels(light lines.Plane, steps int) {
	m.Levels = make([]Level, steps)
	count := make([]float64, steps)
	var adding sync.Mutex
	picture.Bands(m.H, func(from, to int) {
		n, sum := make([]int, len(m.Areas)), make([]float64, len(m.Areas))
		for i := from * m.W; i < to*m.W; i++ {
			n[m.At[i]]++
			sum[m.At[i]] += float64(light.Pix[i])
		}
		adding.Lock()
		defer adding.Unlock()
		for i, a := range m.Areas {
			count[a.Step] += float64(n[i])
			m.Levels[a.Step].Light += sum[i] * 100
		}
	})
	for _, a := range m.Areas {
		m.Levels[a.Step].Areas++
	}
	for s := range m.Levels {
		l := &m.Levels[s]
		if count[s] > 0 {
			l.Light /= count[s]
		}
		l.Share = count[s] / float64(len(m.At))
		l.Grade = Grade(s, steps)
	}
}

// Grade returns the pencil for a step: the lightest is bare paper (common practice).
func Grade(step, steps int) string {
	grades := map[int][]string{
		2: {"4B"}, 3: {"6B", "HB"}, 4: {"6B", "2B", "H"}, 5: {"8B", "4B", "B", "2H"},
		6: {"8B", "4B", "2B", "HB", "2H"}, 7: {"8B", "6B", "4B", "2B", "HB", "2H"},
	}[steps]
	if step >= len(grades) {
		return "paper"
	}
	return grades[step]
}
