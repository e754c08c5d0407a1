package accuracy

import (
	"cmp"
	"math"
	"slices"

	"zestysketch/internal/core/lines"
)

// Tone compares how dark the parts are, in L* from 0 to 100 with the paper at
// 100, by quarters of a box.
type Tone struct {
	Judged    bool       `json:"judged"`           // false where there is no tone to judge, or the light forbids it
	Why       string     `json:"why,omitempty"`    // it is not judged
	Rank      float64    `json:"rank_correlation"` // of all quarters, −1 to 1: do darks and lights agree in order
	Darkest   float64    `json:"darkest"`
	Lightest  float64    `json:"lightest"`
	Wanted    [2]float64 `json:"wanted"`       // the reference's darkest and lightest
	Darks     float64    `json:"darks"`        // mean difference of the reference's darkest quarter, plus is too light
	Whites    float64    `json:"whites"`       // and of its lightest, minus is greyed
	Edges     float64    `json:"edges"`        // how hard edges are beside the reference's: 1 alike, less is softer
	Change    []string   `json:"change_first"` // up to five boxes
	Cells     []CellTone `json:"cells"`        // the boxes that were begun
	Uncertain float64    `json:"uncertain"`    // of a difference, L*
}

// CellTone is one box's tone: drawn minus wanted, minus too dark.
type CellTone struct {
	Label      string     `json:"label"`
	Difference float64    `json:"difference"`
	Quarters   [4]float64 `json:"quarters"` // top left, top right, bottom left, bottom right
}

// What counts in tone. All ours, but for the paper that greys: common practice.
const (
	leastToned  = 0.06 // share of quarters that are clearly toned
	clearTone   = 88.0 // L* below which a quarter is clearly toned
	deepFall    = 0.5  // of the light, past which tones are not judged
	timidDarks  = 10.0 // L*
	greyWhites  = 6.0
	toneDoubt   = 2.5 // L*: what is left of uneven light and of a camera's own curve
	changeFirst = 5

	strokesApart = 0.06 // boxes: what lies closer makes a tone, a line alone makes none
)

// quarter is one quarter of a box, drawn and wanted, L*.
type quarter struct {
	cell, part    int
	drawn, wanted float64
}

// Tones compares the tones of the boxes that were begun.
func (d Boxes) Tones() Tone {
	cells := d.Cells
	var soft lines.Plane // between lines it is light: only what lies close together makes a tone
	if d.Tonal {
		soft = d.Even.Tone.Blur(strokesApart * d.net.cell)
	}
	t := Tone{Uncertain: toneDoubt, Cells: []CellTone{}, Change: []string{}}
	wanted := d.light
	var all []quarter
	toned := 0
	for i, c := range cells {
		if d.free[i] || c.State == Empty && !d.Tonal {
			continue
		}
		for part := range 4 {
			box := d.part(i, part)
			all = append(all, quarter{i, part, 100 * mean(d.Even.Tone, box), 100 * mean(wanted, box)})
			if d.Tonal && 100*middle(soft, box) < clearTone {
				toned++
			}
		}
	}
	if len(all) == 0 {
		t.Why = "Nothing is drawn yet."
		return t
	}
	a, b := make([]float64, len(all)), make([]float64, len(all))
	for i, q := range all {
		a[i], b[i] = q.drawn, q.wanted
	}
	t.Rank = Spearman(a, b)
	t.Darkest, t.Lightest = ends(d.Even.Tone.Blur(0.04*d.Frame.Cell), d.Seen)
	t.Wanted[0], t.Wanted[1] = ends(wanted.Blur(0.04*d.Frame.Cell), d.Seen)
	t.Darks, t.Whites = extremes(all)
	t.cells(all, cells)
	t.Edges = d.edges(wanted)
	switch {
	case d.Even.Dark:
		t.Why = "On dark paper tones are not judged."
	case d.Even.Fall > deepFall:
		t.Why = "The light is too uneven to judge tones. Photograph it in even light."
	case !d.Tonal:
		t.Why = "The picture is a line drawing: it has no tones to compare."
	case float64(toned) < leastToned*float64(len(all)):
		t.Why = "There is hardly any tone yet, only lines."
	default:
		t.Judged = true
	}
	return t
}

func (t *Tone) cells(all []quarter, cells []Cell) {
	for i := 0; i < len(all); i += 4 {
		c := CellTone{Label: cells[all[i].cell].Label}
		for k, q := range all[i : i+4] {
			c.Quarters[k] = q.drawn - q.wanted
			c.Difference += c.Quarters[k] / 4
		}
		t.Cells = append(t.Cells, c)
	}
	order := slices.Clone(t.Cells)
	slices.SortStableFunc(order, func(a, b CellTone) int { return cmp.Compare(math.Abs(b.Difference), math.Abs(a.Difference)) })
	for _, c := range order {
		if math.Abs(c.Difference) > 2*toneDoubt && len(t.Change) < changeFirst {
			t.Change = append(t.Change, c.Label)
		}
	}
}

// extremes returns the mean difference of the quarters that the reference has
// darkest, and lightest: a fifth of all each.
func extremes(all []quarter) (darks, whites float64) {
	order := slices.Clone(all)
	slices.SortStableFunc(order, func(a, b quarter) int { return cmp.Compare(a.wanted, b.wanted) })
	n := max(1, len(order)/5)
	for i := range n {
		dark, light := order[i], order[len(order)-1-i]
		darks += (dark.drawn - dark.wanted) / float64(n)
		whites += (light.drawn - light.wanted) / float64(n)
	}
	return darks, whites
}

// part returns a quarter of a box in pixels, kept clear of the ruled lines.
func (d Seen) part(cell, part int) [4]int {
	c, r := cell%d.net.columns, cell/d.net.columns
	x0, x1, y0, y1 := d.net.x[c], d.net.x[c+1], d.net.y[r], d.net.y[r+1]
	if mx := (x0 + x1) / 2; part%2 == 0 {
		x1 = mx
	} else {
		x0 = mx
	}
	if my := (y0 + y1) / 2; part/2 == 0 {
		y1 = my
	} else {
		y0 = my
	}
	clear := 0.05 * d.net.cell
	return [4]int{int(x0 + clear), int(y0 + clear), max(int(x0+clear)+1, int(x1-clear)), max(int(y0+clear)+1, int(y1-clear))}
}

func mean(p lines.Plane, box [4]int) float64 {
	sum, n := 0.0, 0
	for y := max(0, box[1]); y < min(p.H, box[3]); y++ {
		for _, v := range p.Row(y)[max(0, box[0]):min(p.W, box[2])] {
			sum += float64(v)
			n++
		}
	}
	return sum / float64(max(1, n))
}

// middle returns the median of what lies in a box of pixels.
func middle(p lines.Plane, box [4]int) float64 {
	var all []float64
	for y := max(0, box[1]); y < min(p.H, box[3]); y += 2 {
		for x := max(0, box[0]); x < min(p.W, box[2]); x += 2 {
			all = append(all, float64(p.At(x, y)))
		}
	}
	return median(all)
}

// ends returns the darkest and lightest L* inside the grid but for one part in
// a hundred.
func ends(p lines.Plane, d Seen) (dark, light float64) {
	var values []float64
	for y := int(d.net.y[0]); y < int(d.net.y[d.net.rows]); y += 2 {
		for x := int(d.net.x[0]); x < int(d.net.x[d.net.columns]); x += 2 {
			values = append(values, float64(p.At(x, y)))
		}
	}
	slices.Sort(values)
	at := func(share float64) float64 { return 100 * values[int(share*float64(len(values)-1))] }
	return at(0.01), at(0.99)
}

// edges returns how hard the drawing's edges between tones are beside the
// reference's: the median, over the wanted edges, of how much of a change
// happens close to the edge, drawn ÷ wanted; wanted is the reference's lightness. 1 where there are too few.
func (d Boxes) edges(wanted lines.Plane) float64 {
	var ratios []float64
	for i, points := range d.wanted {
		if d.Cells[i].State == Empty {
			continue
		}
		for k, m := range points {
			if m.Ridge || k%3 != 0 {
				continue
			}
			x, y := float64(m.X)+d.moved[i].X, float64(m.Y)+d.moved[i].Y
			have, ok := hardness(d.Even.Tone, x, y, m, d.Frame.Cell)
			want, ok2 := hardness(wanted, float64(m.X), float64(m.Y), m, d.Frame.Cell)
			if ok && ok2 {
				ratios = append(ratios, have/want)
			}
		}
	}
	if len(ratios) < 30 {
		return 1
	}
	return median(ratios)
}

func hardness(p lines.Plane, x, y float64, m lines.Mark, cell float64) (float64, bool) {
	step := func(r float64) float64 {
		dx, dy := float64(m.NX)*r*cell, float64(m.NY)*r*cell
		return math.Abs(float64(p.At(int(x+dx), int(y+dy)) - p.At(int(x-dx), int(y-dy))))
	}
	far, near := step(0.12), step(0.03)
	return max(0.05, min(1.5, near/max(far, 1e-6))), far > 0.08
}

// Spearman returns the rank correlation of two rows of numbers of one length,
// −1 to 1, ties sharing their mean rank (Spearman 1904, American Journal of
// Psychology 15(1)); 0 where all of one row are alike.
func Spearman(a, b []float64) float64 {
	ra, rb := ranks(a), ranks(b)
	mid := (float64(len(a)) + 1) / 2
	var ab, aa, bb float64
	for i := range ra {
		x, y := ra[i]-mid, rb[i]-mid
		ab += x * y
		aa += x * x
		bb += y * y
	}
	if aa == 0 || bb == 0 {
		return 0
	}
	return ab / math.Sqrt(aa*bb)
}

func ranks(v []float64) []float64 {
	order := make([]int, len(v))
	for i := range order {
		order[i] = i
	}
	slices.SortFunc(order, func(i, j int) int { return cmp.Compare(v[i], v[j]) })
	out := make([]float64, len(v))
	for i := 0; i < len(order); {
		j := i
		for j < len(order) && v[order[j]] == v[order[i]] {
			j++
		}
		for k := i; k < j; k++ {
			out[order[k]] = float64(i+j+1) / 2
		}
		i = j
	}
	return out
}
