package reading_test

import (
	"flag"
	"fmt"
	"image"
	_ "image/jpeg"
	_ "image/png"
	"math"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/core/reading"
)

// A literal-minded child, who knows nothing but the sentences, draws each box; the drawing is laid over the picture.
// The child knows halves, thirds, quarters, fifths and tenths, and puts what is vague where most people would.
var parts = map[string]float64{"a half": 0.5, "a third": 1. / 3, "two thirds": 2. / 3, "a quarter": 0.25, "three quarters": 0.75, "a tenth": 0.1,
	"nine tenths": 0.9, "a fifth": 0.2, "two fifths": 0.4, "three fifths": 0.6, "four fifths": 0.8, "hardly anything": 0.05, "most": 0.85, "all": 1}

// far returns how far along "a little more than a third" is.
func far(words string) (float64, error) {
	words = strings.TrimSpace(words)
	if v, ok := parts[words]; ok {
		return v, nil
	}
	for _, c := range []struct {
		begins string
		at     func(v float64) float64
	}{
		{"a little more than ", func(v float64) float64 { return v + 0.05 }}, {"not quite ", func(v float64) float64 { return v - 0.05 }},
		{"less than ", func(v float64) float64 { return 0.6 * v }}, {"more than ", func(v float64) float64 { return 1 - 0.6*(1-v) }},
	} {
		if rest, ok := strings.CutPrefix(words, c.begins); ok {
			v, err := far(rest)
			return c.at(v), err
		}
	}
	if rest, ok := strings.CutPrefix(words, "between "); ok {
		two := strings.Split(rest, " and ")
		a, err := far(two[0])
		b, err2 := far(two[len(two)-1])
		if err == nil {
			err = err2
		}
		return (a + b) / 2, err
	}
	switch words {
	case "half-way":
		return 0.5, nil
	case "a little way":
		return 0.06, nil
	case "almost all the way":
		return 0.94, nil
	}
	return 0, fmt.Errorf("how far is %q?", words)
}

// spot returns the place in a box that words name.
func spot(words string) (plane.Point, error) {
	words = strings.TrimSuffix(strings.TrimSpace(words), ".")
	if corner, ok := strings.CutPrefix(words, "just at the "); ok {
		p := plane.Pt(0, 0)
		if strings.Contains(corner, "right") {
			p.X = 1
		}
		if strings.Contains(corner, "lower") {
			p.Y = 1
		}
		return p, nil
	}
	for end, at := range map[string]func(v float64) plane.Point{
		"along the top": func(v float64) plane.Point { return plane.Pt(v, 0) }, "along the bottom": func(v float64) plane.Point { return plane.Pt(v, 1) },
		"down the left side": func(v float64) plane.Point { return plane.Pt(0, v) }, "down the right side": func(v float64) plane.Point { return plane.Pt(1, v) },
	} {
		if part, ok := strings.CutSuffix(words, end); ok {
			v, err := far(part)
			return at(v), err
		}
	}
	across, down, ok := strings.Cut(words, ", ")
	if !ok {
		return plane.Point{}, fmt.Errorf("where is %q?", words)
	}
	axis := func(words, start, end, way string) (float64, error) {
		switch words {
		case start:
			return 0, nil
		case end:
			return 1, nil
		}
		return far(strings.TrimSuffix(words, way))
	}
	x, err := axis(across, "at the left", "at the right", "across")
	y, err2 := axis(down, "at the top", "at the bottom", "down")
	if err == nil {
		err = err2
	}
	return plane.Pt(x, y), err
}

// bow draws "bending a little, bulging up and to the left" from a to b.
func bow(words string, a, b plane.Point) []plane.Point {
	high := 0.0
	for _, c := range []struct {
		words string
		high  float64
	}{{"half a disc", 0.5}, {"strongly", 0.3}, {"a little", 0.06}, {"bending", 0.15}} {
		if strings.Contains(words, c.words) {
			high = c.high
			break
		}
	}
	if high == 0 {
		return []plane.Point{a, b}
	}
	_, towards, _ := strings.Cut(words, "bulging ")
	var want plane.Point
	for word, d := range map[string]plane.Point{"up": plane.Pt(0, -1), "down": plane.Pt(0, 1), "left": plane.Pt(-1, 0), "right": plane.Pt(1, 0)} {
		if strings.Contains(towards, word) {
			want = want.Add(d)
		}
	}
	way := b.Sub(a)
	out := plane.Pt(-way.Y, way.X)
	if out.X*want.X+out.Y*want.Y < 0 {
		out = out.Mul(-1)
	}
	var line []plane.Point
	for i := range 17 { // an ellipse over the chord: as a hand does it
		sin, cos := math.Sincos(math.Pi * float64(i) / 16)
		line = append(line, a.Add(way.Mul(0.5-0.5*cos)).Add(out.Mul(high*sin)))
	}
	return line
}

var (
	oneLine  = regexp.MustCompile(`^A (?:line|border|soft border) (?:inside )?(?:goes from|comes in) (.+?) (to|and ends) (.+?)(?:; it (?:is|goes) (.+)|(?:, (?:with a|like an?|almost round like a) [^.]+)?\. It goes (.+))\.$`)
	aShape   = regexp.MustCompile(`^A closed (.+?) lies inside, its middle (.+), (.+) of the box wide and (.+) of it high\.$`)
	roundIt  = regexp.MustCompile(`^A closed .+? lies inside, its highest place (.+?)\. Round it goes (.+)\.$`)
	endsThis = regexp.MustCompile(`^(straight|bending.*?bulging [a-z ]+),? to (.+)$`)
)

// legs draws "straight to half-way across, a third down; then bending, bulging up, to the end".
func legs(words string, a, end plane.Point, last string) (line []plane.Point, err error) {
	line = []plane.Point{a}
	for _, part := range strings.Split(words, "; then ") {
		m := endsThis.FindStringSubmatch(part)
		if m == nil {
			return nil, fmt.Errorf("how does one go %q?", part)
		}
		to := end
		if m[2] != last {
			if to, err = spot(m[2]); err != nil {
				return nil, err
			}
		}
		line = append(line, bow(m[1], a, to)[1:]...)
		a = to
	}
	return line, nil
}

// childDraws returns the line that a sentence tells; nil for one that tells of none.
func childDraws(say string) (line []plane.Point, err error) {
	if m := aShape.FindStringSubmatch(say); m != nil {
		mid, err := spot(m[2])
		if err != nil {
			return nil, err
		}
		w, err := far(m[3])
		if err != nil {
			return nil, err
		}
		h, err := far(m[4])
		if err != nil {
			return nil, err
		}
		if m[1] == "rectangle" {
			for _, c := range [5][2]float64{{-1, -1}, {1, -1}, {1, 1}, {-1, 1}, {-1, -1}} {
				line = append(line, mid.Add(plane.Pt(w/2*c[0], h/2*c[1])))
			}
			return line, nil
		}
		for i := range 25 {
			sin, cos := math.Sincos(2 * math.Pi * float64(i) / 24)
			line = append(line, mid.Add(plane.Pt(w/2*cos, h/2*sin)))
		}
		return line, nil
	}
	if m := roundIt.FindStringSubmatch(say); m != nil {
		at, err := spot(m[1])
		if err != nil {
			return nil, err
		}
		return legs(m[2], at, at, "where it began")
	}
	m := oneLine.FindStringSubmatch(say)
	if m == nil {
		return nil, nil
	}
	a, err := spot(m[1])
	if err != nil {
		return nil, err
	}
	b, err := spot(m[3])
	if err != nil {
		return nil, err
	}
	if m[4] != "" {
		return bow(m[4], a, b), nil
	}
	return legs(m[5], a, b, m[3])
}

// toldBox is what came of a box: lengths in boxes.
type toldBox struct{ line, redrawn, drawn, untrue float64 }

const childOff = 0.12 // boxes

func nearAny(p plane.Point, all [][]plane.Point) bool {
	for _, line := range all {
		for i := 1; i < len(line); i++ {
			d := line[i].Sub(line[i-1])
			t := 0.0
			if long := d.X*d.X + d.Y*d.Y; long > 0 {
				t = max(0, min(1, ((p.X-line[i-1].X)*d.X+(p.Y-line[i-1].Y)*d.Y)/long))
			}
			if p.Sub(line[i-1].Add(d.Mul(t))).Len() <= childOff {
				return true
			}
		}
	}
	return false
}

// near returns how long lines are, and how much of that lies near others.
func near(lines, others [][]plane.Point) (long, there float64) {
	for _, line := range lines {
		for i := 1; i < len(line); i++ {
			d := line[i].Sub(line[i-1]).Len()
			n := max(1, int(d/0.02))
			for k := range n {
				long += d / float64(n)
				if nearAny(line[i-1].To(line[i], (float64(k)+0.5)/float64(n)), others) {
					there += d / float64(n)
				}
			}
		}
	}
	return long, there
}

func drawnByWords(t *testing.T, b reading.Box) (got toldBox) {
	var told, want [][]plane.Point
	for _, say := range b.Say {
		line, err := childDraws(say)
		if err != nil {
			t.Errorf("%s: %v, in %q", b.Label, err, say)
		}
		if line != nil {
			told = append(told, line)
		}
	}
	for _, p := range b.Pieces {
		want = append(want, p.Points)
	}
	if len(told) != len(want) {
		t.Errorf("%s: %d lines, %d of them told: %q", b.Label, len(want), len(told), b.Say)
	}
	got.line, got.redrawn = near(want, told)
	drawn, there := near(told, want)
	got.drawn, got.untrue = drawn, drawn-there
	return got
}

var pictures = flag.String("pictures", "", "pictures on which the words are tried too: files, as the shell names them")

// What is told of lines of known geometry is drawn by a child where they are.
func TestToldLines(t *testing.T) {
	var sum toldBox
	p := plan(t)
	for seed := range uint64(12) {
		for _, b := range reading.Read(p, strokes(curves(100+seed, 30)), reading.Wish{}).Boxes {
			got := drawnByWords(t, b)
			sum = toldBox{sum.line + got.line, sum.redrawn + got.redrawn, sum.drawn + got.drawn, sum.untrue + got.untrue}
		}
	}
	t.Logf("of %.0f boxes of line %.1f %% are redrawn, %.1f %% of what is drawn is untrue", sum.line, 100*sum.redrawn/sum.line, 100*sum.untrue/sum.drawn)
	if sum.redrawn < 0.97*sum.line || sum.untrue > 0.02*sum.drawn {
		t.Error("want 97 % redrawn, and at most 2 % untrue")
	}
}

// seen returns the places of a picture at which its tone or colour changes most, found here without any of the
// program's own finding of lines: Sobel's gradient of a blurred picture, its maxima across, in runs that are
// strong somewhere and not short. In pixels.
func seen(img *image.RGBA, blur int, least float64) (all []plane.Point) {
	w, h := img.Rect.Dx(), img.Rect.Dy()
	var channels [3][]float64
	for c := range channels {
		v := make([]float64, w*h)
		for i := range v {
			v[i] = float64(img.Pix[4*i+c]) / 255
		}
		for range 2 { // a box twice is near a Gaussian
			v = boxed(v, w, h, blur)
		}
		channels[c] = v
	}
	strength, gx, gy := make([]float64, w*h), make([]float64, w*h), make([]float64, w*h)
	for y := 1; y < h-1; y++ {
		for x := 1; x < w-1; x++ {
			i := y*w + x
			for _, v := range channels {
				dx := v[i+1-w] + 2*v[i+1] + v[i+1+w] - v[i-1-w] - 2*v[i-1] - v[i-1+w]
				dy := v[i+w-1] + 2*v[i+w] + v[i+w+1] - v[i-w-1] - 2*v[i-w] - v[i-w+1]
				if s := math.Hypot(dx, dy) / 8 * float64(2*blur+1); s > strength[i] {
					strength[i], gx[i], gy[i] = s, dx, dy
				}
			}
		}
	}
	top := make([]bool, w*h)
	for y := 2; y < h-2; y++ {
		for x := 2; x < w-2; x++ {
			i := y*w + x
			if strength[i] < least/2 {
				continue
			}
			step := int(math.Round(gx[i]/math.Hypot(gx[i], gy[i]))) + w*int(math.Round(gy[i]/math.Hypot(gx[i], gy[i])))
			top[i] = strength[i] >= strength[i-step] && strength[i] > strength[i+step]
		}
	}
	done := make([]bool, w*h)
	for i := range top {
		if !top[i] || done[i] {
			continue
		}
		run, best := []int{i}, 0.0
		done[i] = true
		for k := 0; k < len(run); k++ {
			best = max(best, strength[run[k]])
			for _, d := range [8]int{-w - 1, -w, -w + 1, -1, 1, w - 1, w, w + 1} {
				if j := run[k] + d; top[j] && !done[j] {
					done[j] = true
					run = append(run, j)
				}
			}
		}
		if best >= least && len(run) > (w+h)/2/20 {
			for _, j := range run {
				all = append(all, plane.Pt(float64(j%w)+0.5, float64(j/w)+0.5))
			}
		}
	}
	return all
}

func boxed(v []float64, w, h, r int) []float64 {
	out := make([]float64, len(v))
	pass := func(from, to []float64, n, lines, step, next int) {
		for l := range lines {
			sum, at := 0.0, func(i int) float64 { return from[l*next+max(0, min(n-1, i))*step] }
			for i := -r; i <= r; i++ {
				sum += at(i)
			}
			for i := range n {
				to[l*next+i*step] = sum / float64(2*r+1)
				sum += at(i+r+1) - at(i-r)
			}
		}
	}
	mid := make([]float64, len(v))
	pass(v, mid, w, h, 1, w)
	pass(mid, out, h, w, w, 1)
	return out
}

// drawnFrom returns how much of what is seen in a picture a child draws from the words, and how much of what it
// draws lies where nothing is seen, in parts.
func drawnFrom(t *testing.T, img *image.RGBA, drawing bool, p grid.Plan) (redrawn, untrue float64, calledEmpty int) {
	r, err := reading.Picture(p, img, drawing, reading.Lines, reading.Thirds)
	if err != nil {
		t.Fatal(err)
	}
	img = picture.Shrink(img, 800)
	k := float64(p.Frame.Picture[0]) / float64(img.Rect.Dx())
	there := map[string][]plane.Point{}
	weak := map[string][]plane.Point{}
	blur := 1
	if !drawing {
		blur = 2
	}
	for least, into := range map[float64]map[string][]plane.Point{0.2: there, 0.07: weak} {
		for _, px := range seen(img, blur, least) {
			at := p.ToSheet(p.FromPicture(px.Mul(k)))
			for _, c := range p.Cells() {
				if at.X >= c.Sheet.Min.X && at.X < c.Sheet.Max.X && at.Y >= c.Sheet.Min.Y && at.Y < c.Sheet.Max.Y {
					into[c.Label] = append(into[c.Label], plane.Pt((at.X-c.Sheet.Min.X)/c.Sheet.Width(), (at.Y-c.Sheet.Min.Y)/c.Sheet.Height()))
				}
			}
		}
	}
	var found, all, wrong, drawn float64
	for _, b := range r.Boxes {
		var told, spots [][]plane.Point
		for _, say := range b.Say {
			if line, _ := childDraws(say); line != nil {
				told = append(told, line)
			}
		}
		within := 0 // what lies nearer to a side is told in the box beside it
		for _, q := range there[b.Label] {
			if min(q.X, q.Y, 1-q.X, 1-q.Y) > childOff {
				within++
			}
			all++
			if nearAny(q, told) {
				found++
			}
		}
		for _, q := range weak[b.Label] {
			spots = append(spots, []plane.Point{q, q})
		}
		long, near := near(told, spots)
		drawn, wrong = drawn+long, wrong+long-near
		if strings.Contains(strings.Join(b.Say, " "), "Nothing is drawn here") && within > 6 {
			calledEmpty++
		}
	}
	return found / max(1, all), wrong / max(1e-9, drawn), calledEmpty
}

// The same on pictures that -pictures names, on a beginner's grid.
func TestToldPictures(t *testing.T) {
	files, _ := filepath.Glob(*pictures)
	var sum [2][3]float64
	for _, name := range files {
		img := load(t, name)
		drawing := picture.Look(img, img).Drawing && filepath.Ext(name) != ".jpg" // photographs are files of that kind
		p, err := grid.Make(grid.Request{Name: "Told", Picture: [2]int{img.Rect.Dx(), img.Rect.Dy()}, Reference: "180 mm", Paper: "A3", Method: "parts", Parts: "6 x 6", Margin: "10 mm", Units: "cm"})
		if err != nil {
			t.Fatal(err)
		}
		redrawn, untrue, empty := drawnFrom(t, img, drawing, p)
		kind := map[bool]int{true: 0, false: 1}[drawing]
		for i, v := range [3]float64{1, redrawn, untrue} {
			sum[kind][i] += v
		}
		t.Logf("%s: drawing %v, %.1f %% redrawn, %.1f %% untrue, %d boxes called empty that are not", filepath.Base(name), drawing, 100*redrawn, 100*untrue, empty)
	}
	for i, kind := range []string{"line drawings", "photographs"} {
		t.Logf("%.0f %s: %.1f %% redrawn, %.1f %% untrue", sum[i][0], kind, 100*sum[i][1]/sum[i][0], 100*sum[i][2]/sum[i][0])
	}
}

func load(t *testing.T, name string) *image.RGBA {
	f, err := os.Open(name)
	if err != nil {
		t.Fatal(err)
	}
	defer f.Close()
	img, _, err := image.Decode(f)
	if err != nil {
		t.Fatal(err)
	}
	out := image.NewRGBA(image.Rect(0, 0, img.Bounds().Dx(), img.Bounds().Dy()))
	for y := range out.Rect.Dy() {
		for x := range out.Rect.Dx() {
			out.Set(x, y, img.At(img.Bounds().Min.X+x, img.Bounds().Min.Y+y))
		}
	}
	return out
}
