package transfer

import (
	"math"
	"strings"
	"testing"

	"zestysketch/internal/core/grid"
)

// has reports whether one of some words holds a part.
func has(words []string, part string) bool { return strings.Contains(strings.Join(words, "\n"), part) }

// What shades shows from 25 steps of lightness off the paper on, and says on
// which side of it. The first that shows is taken; else what shows most.
func TestBackingAtItsEdges(t *testing.T) {
	for _, c := range []struct {
		light     float64
		medium    Medium
		want, why string
	}{
		{60, Graphite, "a soft pencil", "darker"}, {59, Graphite, "white chalk", "lighter"}, {10, Graphite, "a soft pencil", "lighter"},
		{93, Coloured, "a coloured pencil", "darker"}, {92, Coloured, "a soft pencil", "darker"}, {43, Coloured, "a coloured pencil", "lighter"},
		{85, Pastel, "grey pastel", "darker"}, {84, Pastel, "a soft pencil", "darker"}, {69, Metallic, "white chalk", "lighter"}, {70, Metallic, "a soft pencil", "darker"},
	} {
		b := backing(Wish{Final: Paper{120, c.light}, Medium: c.medium})
		if !strings.HasPrefix(b.Name, c.want) || !strings.Contains(b.Why, c.why+" than the paper") {
			t.Errorf("%s on L* %g: %s, %s; want %s, %s", c.medium, c.light, b.Name, b.Why, c.want, c.why)
		}
	}
	for light := 0.0; light <= 100; light++ {
		for _, m := range Media {
			b, most := backing(Wish{Final: Paper{120, light}, Medium: m}), 0.0
			for _, other := range []Backing{softPencil, tint, greyPastel, whiteChalk} {
				if other == tint && m != Coloured && m != Watercolor || other == greyPastel && (m == Coloured || m == Watercolor) {
					continue
				}
				most = max(most, math.Abs(other.Light-light))
			}
			off := math.Abs(b.Light - light)
			if off < 25 && off < most || (off < 25) != strings.HasPrefix(b.Why, "Nothing shows well") {
				t.Errorf("%s on L* %g: %s is %g off, the best %g: %s", m, light, b.Name, off, most, b.Why)
			}
		}
	}
}

// Worked by hand: a grid of 20 cm on an A2 sheet with its corner at some place
// leaves 42 − left − 20 on the right and 59.4 − top − 20 below; one to be cut
// out lies in the middle of what it is cut from, where it fits.
func TestPlaceInNumbers(t *testing.T) {
	p := grid.Plan{Units: "cm"}
	p.Sheet.Stock, p.Sheet.Width, p.Sheet.Height = [2]float64{420, 594}, 200, 200
	p.Sheet.Origin.X, p.Sheet.Origin.Y = 50, 80
	if got := strings.Join(NewFinal(p, 1).Say(), " "); !strings.Contains(got, "5 cm from the left edge and 8 cm from the top") || !strings.Contains(got, "17 cm on the right and 31.4 cm below") {
		t.Errorf("at 5 and 8 cm: %s", got)
	}
}

// The bounds of a wish stand in it.
func TestWishesAtTheirEdges(t *testing.T) {
	for name, change := range map[string]func(*Wish){
		"thinnest": func(w *Wish) { w.Drawing.GSM = 10 }, "thickest": func(w *Wish) { w.Final.GSM = 1000 },
		"black": func(w *Wish) { w.Final.Light = 0 }, "white": func(w *Wish) { w.Drawing.Light = 100 },
		"midnight": func(w *Wish) { w.Hour = 0 }, "midnight again": func(w *Wish) { w.Hour = 24 },
	} {
		w := usual()
		change(&w)
		if err := w.Check(); err != nil {
			t.Errorf("%s: %v", name, err)
		}
	}
	for times, want := range map[float64]bool{1: true, 1.004: true, 1.006: false, 0.994: false, 2: false} {
		if got := (Wish{Times: times}).sameSize(); got != want {
			t.Errorf("×%g is the same size: %v; want %v", times, got, want)
		}
	}
}

// Each note comes at its bound and not before.
func TestNotesAtTheirEdges(t *testing.T) {
	for _, c := range []struct {
		medium     Medium
		light, gsm float64
		part       string
		want       bool
	}{
		{Graphite, 44, 160, "only as a sheen", true}, {Ink, 44, 160, "Ink hardly shows", true}, {Graphite, 45, 160, "only as a sheen", false},
		{Pastel, 16, 160, "hardly shows", false}, {Watercolor, 95, 189, "buckles", true}, {Watercolor, 95, 190, "buckles", false},
		{Pastel, 95, 100, "buckles", false}, {Metallic, 45, 160, "they are lost", true}, {Metallic, 44, 160, "they are lost", false}, {Ink, 95, 160, "they are lost", false},
	} {
		w := usual()
		w.Medium, w.Final = c.medium, Paper{c.gsm, c.light}
		if got := has(w.notes(), c.part); got != c.want {
			t.Errorf("%s on L* %g of %g g/m²: “%s” %v; want %v", c.medium, c.light, c.gsm, c.part, got, c.want)
		}
	}
}

// What is held against a way comes at its bound, for the hands and tools it is about.
func TestAgainstWaysAtTheirEdges(t *testing.T) {
	for _, c := range []struct {
		name, way, part string
		change          func(*Wish)
		want            bool
	}{
		{"three quarters of what passes", "light table", "papers are thick", func(w *Wish) { w.Final.GSM = 235 }, false}, // 80 + 235 = 0.75 × 420
		{"a little more", "light table", "papers are thick", func(w *Wish) { w.Final.GSM = 236 }, true},
		{"a lamp for the young", "lamp", "an adult", func(w *Wish) { w.Hands = Young }, true},
		{"a lamp for a class", "lamp", "an adult", func(*Wish) {}, false},
		{"a window for the young", "window", "an adult", func(w *Wish) { w.Hands = Young }, false},
		{"a window", "window", "Arms tire", func(*Wish) {}, true},
		{"a light table", "light table", "Arms tire", func(*Wish) {}, false},
		{"a sheet of 200 g/m²", "pressed", "stiff", func(w *Wish) { w.Drawing.GSM = 200 }, false},
		{"a sheet of 201 g/m²", "pressed", "stiff", func(w *Wish) { w.Drawing.GSM = 201 }, true},
		{"shading 25 off", "pressed", "hardly shows", func(w *Wish) { w.Final.Light = 60 }, false},
		{"redrawn by the young", "redrawn", "“front”", func(w *Wish) { w.Hands = Young }, true},
		{"redrawn by a class", "redrawn", "“front”", func(*Wish) {}, false},
		{"a plain tracing", "over and rubbed", "comes out mirrored", func(*Wish) {}, true},
		{"a mirrored print", "mirrored print", "comes out mirrored", func(*Wish) {}, false},
		{"light colours", "redrawn", "stays under light colours", func(w *Wish) { w.Medium = Coloured }, true},
		{"graphite", "redrawn", "stays under light colours", func(*Wish) {}, false},
	} {
		w := usual()
		c.change(&w)
		way, ok := named(planned(t, w), c.way)
		if !ok || has(way.But, c.part) != c.want {
			t.Errorf("%s: against %s stands %q; “%s” wanted %v", c.name, way.Name, way.But, c.part, c.want)
		}
	}
	w := usual()
	w.Final.GSM = 340 // both 420: just what a light table passes
	if way, _ := named(planned(t, w), "light table"); !way.Works {
		t.Errorf("420 g/m²: %s", way.Not)
	}
	for light, want := range map[float64]string{45: "a light pencil", 44: "a white pencil"} {
		w := usual()
		w.Final.Light = light
		way, _ := named(planned(t, w), "Measured")
		table, _ := named(planned(t, w), "light table")
		if !strings.Contains(way.Steps[0].Do, want) || table.Works != (light == 45) {
			t.Errorf("L* %g: %s; by light %v", light, way.Steps[0].Do, table.Works)
		}
	}
}

// A turn counts where the paper carries lines, on whichever side, and not for a bare one.
func TestBarePaperTurnsForNothing(t *testing.T) {
	d := newDesk()
	d.paper("bare", Sheet, Nothing)
	d.turn("bare")
	if d.turns != 0 {
		t.Errorf("a bare sheet counts %d turns", d.turns)
	}
	d.leaves["bare"].back = Right
	d.turn("bare")
	if d.turns != 1 {
		t.Errorf("with lines on its back %d turns; want 1", d.turns)
	}
}
