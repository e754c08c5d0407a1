package finish

import (
	"fmt"
	"image"
	"math"
	"slices"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/lines"
	"zestysketch/internal/core/values"
)

// Step is one step of tone, in the order in which it is laid on.
type Step struct {
	Number int // as on the value map: 1 is the darkest
	Light  float64
	Share  float64
	Grade  string   // of pencil
	Boxes  []string // where it covers a fifth or more, as the hand goes
}

// Kind is a kind of marks.
type Kind int

// The marks of the trade (common practice).
const (
	LeavePaper Kind = iota
	PointAlong
	Even
	Blend
	CrossHatch
	LongStrokes
	Hatch
	ShortStrokes
	Stipple
	Scribble
)

// Mark says how to fill a box, and why.
type Mark struct {
	Box, Mark, Why string
	Kind           Kind
	Along          float64 // of strokes: degrees clockwise from lying
}

// Tone is the tone plan of a drawing.
type Tone struct {
	Steps  []Step
	Marks  []Mark   // box by box
	Whites []string // boxes with white paper to be kept, and cleaned at the end
	Edges  Edges

	LineDrawing bool // the picture has no tones: nothing is planned
}

// Steps of a tone plan: no area smaller, and no neck thinner, than a soft pencil
// lays down (ours), mm² and mm.
const toneLeast, toneNeck = 60, 2

// ToneSteps returns a picture in the steps that a tone plan is made of. perMM is
// how many of its pixels are a millimetre of the sheet. Errors are those of values.New.
func ToneSteps(img *image.RGBA, perMM float64, steps int) (values.Map, error) {
	return values.New(img, values.Wish{Steps: steps, Rule: values.Otsu, PerMM: perMM, LeastArea: toneLeast, Neck: toneNeck})
}

// ToneWish is what is wanted of a tone plan.
type ToneWish struct {
	Plan      grid.Plan
	DarksLast bool
	Drawing   bool // the picture is lines on paper
	Hand      grid.Hand
}

// covers is the share of a box from which on a step is named for it (ours).
const covers = 0.2

// NewTone plans the tones of a picture that is framed as the sheet is, with its
// value map: the order of steps, and for every box the marks that fit its
// texture.
func NewTone(img *image.RGBA, m values.Map, w ToneWish) Tone {
	if w.Drawing {
		return Tone{LineDrawing: true}
	}
	share := stepShares(m, w.Plan)
	order := w.Plan.Order(w.Hand)
	var t Tone
	for s, l := range m.Levels {
		if l.Areas == 0 {
			continue
		}
		step := Step{Number: s + 1, Light: l.Light, Share: l.Share, Grade: l.Grade}
		for _, c := range order {
			if share[c.Label][s] >= covers {
				step.Boxes = append(step.Boxes, c.Label)
			}
		}
		t.Steps = append(t.Steps, step)
	}
	if w.DarksLast {
		slices.Reverse(t.Steps)
	}
	t.Edges = NewEdges(img, m.PerMM, w.Plan)
	white := len(m.Levels) - 1
	light := lines.Lightness(img)
	feel := textures(light, m, w.Plan)
	for _, c := range order {
		t.Marks = append(t.Marks, feel[c.Label].mark(c.Label))
		if m.Levels[white].Light > 85 && share[c.Label][white] >= covers {
			t.Whites = append(t.Whites, c.Label)
		}
	}
	return t
}

// stepShares returns how much of every box each step covers.
func stepShares(m values.Map, p grid.Plan) map[string][]float64 {
	share := map[string][]float64{}
	all := map[string]float64{}
	for i, boxes := range boxesOf(m, p) {
		for label, n := range boxes {
			if share[label] == nil {
				share[label] = make([]float64, len(m.Levels))
			}
			share[label][m.Areas[i].Step] += float64(n)
			all[label] += float64(n)
		}
	}
	for _, c := range p.Cells() {
		if share[c.Label] == nil {
			share[c.Label] = make([]float64, len(m.Levels))
		}
		for s := range share[c.Label] {
			share[c.Label][s] /= max(1, all[c.Label])
		}
	}
	return share
}

// texture is what a box feels like, away from the borders of its areas.
type texture struct {
	rough  float64 // mean change of lightness, L* a millimetre, of what is finer than form
	along  float64 // degrees clockwise from lying, 0 to 180, of its grain
	grain  float64 // 0 without a direction to 1
	light  float64 // mean L*
	graded float64 // how far its tone goes from dark to light, L*
}

// Of textures, in millimetres: what is finer than a pencil's point is noise;
// what is broader than form is tone; and near a border nothing is texture (ours).
const finest, formBroad, nearBorder = 0.3, 2.0, 1.2

// textures measures every box by the structure tensor of its fine detail
// (Bigün and Granlund 1987, First International Conference on Computer Vision).
func textures(light lines.Plane, m values.Map, p grid.Plan) map[string]texture {
	fine, form := light.Blur(max(0.7, finest*m.PerMM)), light.Blur(formBroad*m.PerMM)
	clear := lines.Distances(m.W, m.H, func(x, y int) bool {
		a := m.At[y*m.W+x]
		return x > 0 && m.At[y*m.W+x-1] != a || y > 0 && m.At[(y-1)*m.W+x] != a
	})
	type sum struct {
		xx, yy, xy, n, light float64
		tones                []float64
	}
	sums := make([]sum, p.Count())
	column, row := strips(p.Marks.SheetX, m.W, m.PerMM), strips(p.Marks.SheetY, m.H, m.PerMM)
	apart := nearBorder * m.PerMM
	detail := func(i int) float64 { return float64(fine.Pix[i]-form.Pix[i]) * 100 * m.PerMM }
	for y := 1; y < m.H-1; y++ {
		for x := 1; x < m.W-1; x++ {
			i := y*m.W + x
			s := &sums[row[y]*p.Grid.Columns+column[x]]
			if clear[i] < apart*apart {
				continue
			}
			gx, gy := (detail(i+1)-detail(i-1))/2, (detail(i+m.W)-detail(i-m.W))/2
			s.xx, s.yy, s.xy, s.n = s.xx+gx*gx, s.yy+gy*gy, s.xy+gx*gy, s.n+1
			s.light += float64(light.Pix[i]) * 100
			if (x+y*3)%23 == 0 {
				s.tones = append(s.tones, float64(form.Pix[i])*100)
			}
		}
	}
	out := map[string]texture{}
	for k, c := range p.Cells() {
		s := sums[k]
		if s.n < 20 {
			out[c.Label] = texture{light: -1} // borders all over
			continue
		}
		t := texture{rough: math.Sqrt((s.xx + s.yy) / s.n), light: s.light / s.n}
		if s.xx+s.yy > 0 {
			t.grain = math.Hypot(s.xx-s.yy, 2*s.xy) / (s.xx + s.yy)
		}
		// The grain runs across the change.
		t.along = math.Mod(0.5*math.Atan2(2*s.xy, s.xx-s.yy)*180/math.Pi+90+180, 180)
		if len(s.tones) > 4 {
			slices.Sort(s.tones)
			t.graded = s.tones[len(s.tones)*9/10] - s.tones[len(s.tones)/10]
		}
		out[c.Label] = t
	}
	return out
}

// From here on a box is rough, and its tone graded (ours).
const roughFrom, gradedFrom = 4.0, 9.0

// mark chooses how to fill a box (common practice; the bounds are ours).
func (t texture) mark(box string) Mark {
	m := Mark{Box: box, Along: t.along}
	is := func(k Kind, mark, why string) { m.Kind, m.Mark, m.Why = k, mark, why }
	switch {
	case t.light < 0:
		is(PointAlong, "the point, along the edges", "many small areas")
	case t.rough < roughFrom && t.light > 92:
		is(LeavePaper, "leave the paper", "nearly white")
	case t.rough < roughFrom && t.graded > gradedFrom:
		is(Blend, "blend by pressure, from dark to light", "smooth and rounded")
	case t.rough < roughFrom && t.light < 35:
		is(CrossHatch, "cross-hatch closely, in layers", "even and dark")
	case t.rough < roughFrom:
		is(Even, "side of the lead, even and soft", "even and smooth")
	case t.grain > 0.75:
		is(LongStrokes, "long strokes, "+slope(t.along), "a clear grain")
	case t.grain > 0.5:
		is(Hatch, "hatch, "+slope(t.along), "a grain")
	case t.grain > 0.3:
		is(ShortStrokes, "short strokes, most of them "+slope(t.along), "rough, with a slight grain")
	case t.light > 60:
		is(Stipple, "stipple", "rough and light")
	default:
		is(Scribble, "scribble, or stipple closely", "rough and dark")
	}
	return m
}

// slope says which way strokes run, from degrees clockwise from lying.
func slope(deg float64) string {
	switch d := math.Mod(deg+180, 180); {
	case d < 15 || d > 165:
		return "lying"
	case d > 75 && d < 105:
		return "upright"
	case d < 90:
		return fmt.Sprintf("falling to the right by about %.0f°", 5*math.Round(d/5))
	default:
		return fmt.Sprintf("rising to the right by about %.0f°", 5*math.Round((180-d)/5))
	}
}

// NearlyPaper reports whether a picture is bare paper but for its lines: there
// is no tone to lay on.
func (t Tone) NearlyPaper() bool {
	for _, s := range t.Steps {
		if s.Share > 0.92 && s.Light > 85 {
			return true
		}
	}
	return false
}
