package transfer

import (
	"errors"
	"fmt"
	"math"
	"math/rand/v2"
	"regexp"
	"slices"
	"strings"
	"testing"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/measure"
)

// usual is a wish with everything at hand.
func usual() Wish {
	return Wish{Drawing: Paper{80, 95}, Final: Paper{160, 95}, Medium: Graphite, Have: slices.Clone(Tools), Hour: 11, Hands: Class, Times: 1}
}

func planned(t testing.TB, w Wish) Plan {
	t.Helper()
	p, err := New(w)
	if err != nil {
		t.Fatal(err)
	}
	for _, way := range append(slices.Clone(p.Ways), p.Not...) {
		if way.Works == (way.Not != "") || len(way.Steps) == 0 || len(way.Good) == 0 {
			t.Errorf("%s: works %v, %q, %d steps", way.Name, way.Works, way.Not, len(way.Steps))
		}
	}
	return p
}

func named(p Plan, part string) (Way, bool) {
	for _, way := range append(slices.Clone(p.Ways), p.Not...) {
		if strings.HasSuffix(way.Name, part) || strings.Contains(way.Name, part) && part != "over and rubbed" {
			return way, true
		}
	}
	return Way{}, false
}

// The ways of the trade and whether they mirror (common practice), written by
// hand: turn-overs of what carries the lines, and how the result looks.
func TestTurnOversOfEveryWay(t *testing.T) {
	w := usual()
	w.Printed = true
	p := planned(t, w)
	for name, want := range map[string]struct {
		turns  int
		result Look
	}{
		"light table": {0, Right}, "window": {0, Right}, "lamp": {0, Right},
		"pressed through": {2, Right}, "over and rubbed": {1, Mirrored}, "mirrored print": {1, Right},
		"redrawn": {2, Right}, "Measured": {0, Right},
	} {
		way, ok := named(p, name)
		if !ok || way.TurnOvers != want.turns || way.Result != want.result {
			t.Errorf("%s (found %v): %d turn-overs, %s; want %d, %s", name, ok, way.TurnOvers, way.Result, want.turns, want.result)
		}
	}
}

// Every run of up to six moves with a drawing, a tracing paper and a final
// sheet, played with papers that have real sides and a point off their middle:
// the desk's looks agree with where that point lies, and the result is mirrored
// just where the turn-overs of what carried it are odd.
func TestTurnOversAgainstAllCombinations(t *testing.T) {
	moves := []string{"turn drawing", "turn thin", "trace", "redraw", "press thin", "press drawing"}
	runs := 0
	var try func(sofar []string)
	try = func(sofar []string) {
		if len(sofar) > 0 {
			runs++
			playBoth(t, sofar)
		}
		if len(sofar) == 6 {
			return
		}
		for _, m := range moves {
			try(append(slices.Clone(sofar), m))
		}
	}
	try(nil)
	if runs < 50000 {
		t.Errorf("only %d runs", runs)
	}
}

// point is where a dot of a paper lies: right (+1) or left (−1) of its middle
// as one looks down, and on which side of the paper; 0 where there is none.
type solid struct{ top, bottom float64 }

func (s solid) over() solid { return solid{-s.bottom, -s.top} }

// seen is where a dot shows from above: through the paper it lies as it lies.
func (s solid) seen() float64 {
	if s.top != 0 {
		return s.top
	}
	return s.bottom
}

func playBoth(t *testing.T, moves []string) {
	d := begin(false)
	d.paper("thin", Thin, Nothing)
	paper := map[string]solid{drawing: {top: 1}, "thin": {}, final: {}}
	put := func(name string, at float64) {
		s := paper[name]
		s.top = at
		paper[name] = s
	}
	for _, m := range moves {
		switch m {
		case "turn drawing", "turn thin":
			name := map[string]string{"turn drawing": drawing, "turn thin": "thin"}[m]
			d.turn(name)
			paper[name] = paper[name].over()
		case "trace":
			d.carry(drawing, "thin")
			put("thin", paper[drawing].seen())
		case "redraw":
			d.redraw("thin")
			put("thin", paper["thin"].bottom)
		case "press thin":
			d.carry("thin", final)
			put(final, paper["thin"].seen())
		case "press drawing":
			d.carry(drawing, final)
			put(final, paper[drawing].seen())
		}
	}
	for name, s := range paper {
		want := map[float64]Look{0: Nothing, 1: Right, -1: Mirrored}[s.seen()]
		if got := d.leaves[name].seen(); got != want {
			t.Fatalf("after %v %s looks %q; its dot says %q", moves, name, got, want)
		}
	}
}

// What is chosen to shade with, by paper and medium (common practice).
func TestBacking(t *testing.T) {
	for _, c := range []struct {
		light  float64
		medium Medium
		want   string
	}{
		{95, Graphite, "soft pencil"}, {95, Ink, "soft pencil"}, {95, Coloured, "light tint"}, {95, Watercolor, "light tint"},
		{16, Graphite, "white"}, {16, Metallic, "white"}, {16, Coloured, "light tint"}, {65, Graphite, "soft pencil"}, {58, Pastel, "white"}, {95, Pastel, "grey pastel"},
	} {
		b := backing(Wish{Final: Paper{120, c.light}, Medium: c.medium})
		if !strings.Contains(b.Name, c.want) || math.Abs(b.Light-c.light) < shows {
			t.Errorf("%s on L* %.0f: %s (%.0f); want %s", c.medium, c.light, b.Name, b.Light, c.want)
		}
	}
	if firm, light := pressure(softPencil), pressure(whiteChalk); !strings.Contains(firm, "firmly") || !strings.Contains(light, "lightly") {
		t.Errorf("pencil: %s chalk: %s", firm, light)
	}
}

// What works where, and the reason why something does not.
func TestWhatWorks(t *testing.T) {
	with := func(change func(*Wish)) Wish {
		w := usual()
		change(&w)
		return w
	}
	for _, c := range []struct {
		name string
		wish Wish
		best string
		not  map[string]string // a way's name, a word of the reason
	}{
		{"everything at hand", usual(), "light table", map[string]string{"over and rubbed": "mirrored"}},
		{"black paper", with(func(w *Wish) { w.Final.Light = 16 }), "pressed", map[string]string{"light table": "dark paper", "window": "dark"}},
		{"heavy paper", with(func(w *Wish) { w.Final.GSM = 640 }), "pressed", nil},
		{"a window by day", with(func(w *Wish) { w.Have = []Tool{Window, Tape} }), "window", map[string]string{"light table": "no light table", "redrawn": "no tracing paper"}},
		{"a window by night", with(func(w *Wish) { w.Have, w.Hour = []Tool{Window, Tape}, 21.5 }), "pressed", map[string]string{"window": "21:30"}},
		{"half as large again", with(func(w *Wish) { w.Times = 1.5 }), "Measured",
			map[string]string{"light table": "1.5 times", "pressed": "1.5 times", "redrawn": "1.5 times",
				"rubbed": "1.5 times"}},
		{"mirror is fine, tracing paper only", with(func(w *Wish) { w.MirrorFine, w.Have = true, []Tool{Tracing, Tape, SoftBase} }), "pressed", nil},
		{"baking paper at home, from a print", with(func(w *Wish) { w.Printed, w.Have, w.Hour = true, []Tool{Baking}, 20 }), "pressed", nil},
	} {
		p := planned(t, c.wish)
		if len(p.Ways) == 0 || !strings.Contains(p.Ways[0].Name, c.best) {
			t.Errorf("%s: the best is %v; want %s", c.name, p.Ways, c.best)
		}
		for name, why := range c.not {
			if way, ok := named(p, name); !ok || way.Works || !strings.Contains(way.Not, why) {
				t.Errorf("%s: %s works %v, because %q; want %q", c.name, name, way.Works, way.Not, why)
			}
		}
	}
}

// With nothing at hand there is still a way, and it says how to do without.
func TestNothingAtHand(t *testing.T) {
	for _, times := range []float64{1, 2} {
		w := usual()
		w.Have, w.Times, w.Hour, w.Hands = nil, times, 22, Young
		p := planned(t, w)
		last := p.Ways[len(p.Ways)-1]
		if !strings.Contains(last.Name, "Measured") || !strings.Contains(strings.Join(last.But, " "), "folded") {
			t.Errorf("×%g: %s %v", times, last.Name, last.But)
		}
		if !strings.Contains(p.Tape, "clips") || !strings.Contains(p.Beneath, "newspaper") {
			t.Errorf("tape: %s beneath: %s", p.Tape, p.Beneath)
		}
	}
}

// Laws of ranking: taking a tool away never makes a way better, and no way that
// works is hidden.
func TestFewerToolsAreNeverBetter(t *testing.T) {
	full := planned(t, usual())
	for i, gone := range Tools {
		w := usual()
		w.Have = slices.Delete(slices.Clone(w.Have), i, i+1)
		p := planned(t, w)
		if len(p.Ways) > len(full.Ways) || len(p.Ways)+len(p.Not) != len(full.Ways)+len(full.Not) {
			t.Errorf("without %s: %d ways, %d not", gone, len(p.Ways), len(p.Not))
		}
		for _, way := range p.Ways {
			if with, ok := named(full, way.Name); ok && way.worth > with.worth { // baking paper stands in under its own name
				t.Errorf("without %s, %s is worth %v; with it %v", gone, way.Name, way.worth, with.worth)
			}
		}
	}
}

func TestWishesThatCannotBe(t *testing.T) {
	for name, change := range map[string]func(*Wish){
		"no weight":      func(w *Wish) { w.Final.GSM = 0 },
		"not a number":   func(w *Wish) { w.Drawing.GSM = math.NaN() },
		"too light":      func(w *Wish) { w.Final.Light = 101 },
		"hour 25":        func(w *Wish) { w.Hour = 25 },
		"no size":        func(w *Wish) { w.Times = 0 },
		"unknown medium": func(w *Wish) { w.Medium = "mud" },
		"whose hands":    func(w *Wish) { w.Hands = "" },
	} {
		w := usual()
		change(&w)
		if _, err := New(w); !errors.Is(err, ErrWish) {
			t.Errorf("%s: %v; want ErrWish", name, err)
		}
	}
}

// Graphite on black paper is answered with what does show; watercolour with tape and weight.
func TestNotes(t *testing.T) {
	w := usual()
	w.Final.Light = 16
	if p := planned(t, w); len(p.Notes) == 0 || !strings.Contains(p.Notes[0], "only as a sheen") {
		t.Errorf("notes %q", p.Notes)
	}
	w = usual()
	w.Medium = Watercolor
	if p := planned(t, w); len(p.Notes) != 2 || !strings.Contains(p.Notes[1], "buckles") {
		t.Errorf("notes %q", p.Notes)
	}
}

// Cautions stand at the tools, and defer to the school.
func TestCautionsOfWays(t *testing.T) {
	w := usual()
	w.Final.Light = 16
	p := planned(t, w)
	for name, want := range map[string]string{"lamp": "cool lamp", "window": "no climbing", "pressed": "asthma"} {
		way, _ := named(p, name)
		words := strings.Join(way.Cautions(p.Backing), " ")
		if !strings.Contains(words, want) || !strings.HasSuffix(words, "these notes do not replace them.") {
			t.Errorf("%s: %s", name, words)
		}
	}
}

// A head alone on a larger sheet has its corner measured from the edges; a grid
// that fills its sheet needs no words.
func TestPlaceOnALargerSheet(t *testing.T) {
	head, err := grid.Make(grid.Request{Reference: "100x100mm", Paper: "A2", Method: "parts", Parts: "4 x 4", Scale: "2", Units: "cm", Margin: "5cm"})
	if err != nil {
		t.Fatal(err)
	}
	words := strings.Join(NewFinal(head, 1).Say(), " ")
	for _, want := range []string{"from the left edge and", "20 cm further along"} {
		if !strings.Contains(words, want) {
			t.Errorf("%s; want %s", words, want)
		}
	}
	full, err := grid.Make(grid.Request{Reference: "148.5x105mm", Paper: "297x210mm", Method: "parts", Parts: "4 x 4", Units: "cm"})
	if err != nil {
		t.Fatal(err)
	}
	if got := NewFinal(full, 1).Say(); got != nil {
		t.Errorf("a grid that fills its sheet: %v", got)
	}
}

// Rules of the trade that hold in every step of every way (common practice):
// the new sheet is never shaded; what is traced or pressed is taped first; the
// soft base lies at the bottom; and the last step but for measuring looks for
// missing lines before the tape comes off.
func TestRulesOfEveryStep(t *testing.T) {
	w := usual()
	w.Printed, w.MirrorFine = true, true
	for _, way := range planned(t, w).Ways {
		carried := false
		for i, s := range way.Steps {
			if len(s.Stack) == 0 || s.Do == "" {
				t.Fatalf("%s: step %d has no papers or no words", way.Name, i+1)
			}
			for k, l := range s.Stack {
				if l.Name == final && (l.Shaded || l.ShadedUp) {
					t.Errorf("%s: step %d shades the new sheet", way.Name, i+1)
				}
				if l.Stuff == Soft && k != len(s.Stack)-1 {
					t.Errorf("%s: step %d has the soft base above something", way.Name, i+1)
				}
				if l.Name == final && l.Above != Nothing && !carried {
					carried = true
					if !l.Taped && !strings.Contains(way.Name, "Measured") {
						t.Errorf("%s: lines come to the new sheet before it is taped", way.Name)
					}
				}
			}
		}
		last := way.Steps[len(way.Steps)-1]
		if !carried || !strings.Contains(way.Name, "Measured") && !strings.Contains(last.Do, "take the tape off") {
			t.Errorf("%s: carried %v, ends with %q", way.Name, carried, last.Do)
		}
	}
}

// The hour matters to the window alone, and a heavier paper never makes light
// tracing better.
func TestHourAndWeight(t *testing.T) {
	worth := map[float64]float64{}
	for _, gsm := range []float64{60, 120, 180, 240, 300, 360, 420} {
		w := usual()
		w.Final.GSM = gsm
		way, _ := named(planned(t, w), "light table")
		if !way.Works {
			t.Errorf("by light %g g/m²: %s; thick papers are only hard", gsm, way.Not)
		}
		worth[gsm] = way.worth
		for lighter, v := range worth {
			if lighter < gsm && way.Works && way.worth > v {
				t.Errorf("%g g/m² is worth %v, %g only %v", gsm, way.worth, lighter, v)
			}
		}
	}
	w := usual()
	w.Final.GSM = 420
	if way, _ := named(planned(t, w), "light table"); !strings.Contains(strings.Join(way.But, " "), "Hard to see through: both papers together have 500 g/m²") {
		t.Errorf("500 g/m² on a light table: %q", way.But)
	}
	for hour := 0.0; hour <= 24; hour += 0.5 {
		w := usual()
		w.Hour = hour
		for _, way := range planned(t, w).Not {
			if strings.Contains(way.Name, "window") == (hour >= dayBegins && hour <= dayEnds) && !strings.Contains(way.Name, "rubbed") {
				t.Errorf("at %g: %s does not work: %s", hour, way.Name, way.Not)
			}
		}
	}
}

// What a room shades with is its own choice, as is how much of the back; what
// hardly shows is said, and what is none of it refused.
func TestBackingIsAChoice(t *testing.T) {
	for key, c := range map[string]struct {
		light     float64
		name, why string
	}{"hb": {95, "HB", "own choice. Try"}, "soft": {16, "soft pencil", "seen as a sheen"}, "chalk": {95, "chalk", "hardly shows on this paper. Try"}, "": {95, "soft pencil", "darker"}} {
		w := usual()
		w.Backing, w.Final.Light = key, c.light
		if p := planned(t, w); !strings.Contains(p.Backing.Name, c.name) || !strings.Contains(p.Backing.Why, c.why) {
			t.Errorf("%q on L* %g: %s, %q", key, c.light, p.Backing.Name, p.Backing.Why)
		}
	}
	w := usual()
	for whole, want := range map[bool]string{true: "the whole of its back", false: "only behind the lines"} {
		w.WholeBack = whole
		way, _ := named(planned(t, w), "pressed")
		if !strings.Contains(way.Steps[0].Do, "Darken the main lines first") || !strings.Contains(way.Steps[1].Do, want) {
			t.Errorf("whole %v: %+v", whole, way.Steps[:2])
		}
	}
	w.Backing = "butter"
	if _, err := New(w); !errors.Is(err, ErrWish) {
		t.Errorf("butter: %v", err)
	}
}

// Of a print nothing is darkened, and no drawing's back gets dirty; of a drawing both are said.
func TestAPrintNeedsNoDarkening(t *testing.T) {
	for _, printed := range []bool{true, false} {
		w := Usual
		w.Printed, w.Have = printed, []Tool{LightTable, Tape}
		p, err := New(w)
		if err != nil {
			t.Fatal(err)
		}
		said := ""
		for _, way := range append(p.Ways, p.Not...) {
			said += strings.Join(way.But, " ")
			for _, s := range way.Steps {
				said += s.Do + " "
			}
		}
		for _, words := range []string{"Darken the main lines", "its own back gets dirty"} {
			if strings.Contains(said, words) == printed {
				t.Errorf("printed %v: %q said %v", printed, words, !printed)
			}
		}
	}
}

// A final sheet of its own size: what is written adds up to the paper, in inches and in centimetres, wherever the
// drawing is put; over the edge or on the strip it cannot be.
func TestFinalSheetAddsUp(t *testing.T) {
	rng := rand.New(rand.NewPCG(4, 16))
	number := regexp.MustCompile(`((?:\d+ )?\d+/\d+|[\d.]+) (in|cm)`)
	for trial := range 400 {
		u := []measure.Unit{measure.Inch, measure.Centimetre}[trial%2]
		plan, err := grid.Make(grid.Request{Reference: "7 x 9 in", Scale: fmt.Sprint(1 + float64(rng.IntN(9))/7), Method: "parts", Parts: "4 x 4", Units: string(u)})
		if err != nil {
			t.Fatal(err)
		}
		f := NewFinal(plan, 1)
		f.Paper = measure.Size{W: f.Drawing.W + measure.Length(10+rng.Float64()*90), H: f.Drawing.H + measure.Length(40+rng.Float64()*90)}
		f.Paper.W, f.Paper.H, f.Strip = f.Paper.W.RoundTo(u.Step()), f.Paper.H.RoundTo(u.Step()), 25
		if f.Centre(); trial%3 == 0 {
			f.Left, f.Top = measure.Length(rng.Float64()*8), measure.Length(rng.Float64()*12)
		}
		if err := f.Check(); err != nil {
			t.Fatal(err)
		}
		var said []measure.Length
		for _, m := range number.FindAllString(strings.Join(f.Say()[:3], " "), -1) {
			l, err := measure.Parse(m, u)
			if err != nil {
				t.Fatal(err)
			}
			said = append(said, l)
		}
		if len(said) != 6 {
			t.Fatalf("%v in %q", said, f.Say())
		}
		for _, sum := range []measure.Length{said[0] + said[2] + said[4] - f.Paper.W, said[1] + said[3] + said[5] - f.Paper.H} {
			if math.Abs(float64(sum)) > 0.06 { // centimetres are written to a tenth of a millimetre at the most
				t.Errorf("%q does not add up to %s", f.Say(), f.Paper.Text(u))
			}
		}
		f.Left = f.Paper.W - f.Drawing.W + 1
		if err := f.Check(); !errors.Is(err, ErrWish) {
			t.Errorf("over the edge: %v", err)
		}
		f.Centre()
		if f.Strip = f.Paper.H - f.Drawing.H + 1; !errors.Is(f.Check(), ErrWish) {
			t.Error("on the strip")
		}
	}
}
