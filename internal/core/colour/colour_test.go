package colour

import (
	"image"
	"image/color"
	"math"
	"math/rand/v2"
	"strings"
	"testing"
)

// Against scikit-image 0.19.3, color.rgb2lab, D65 and the 2° observer.
func TestLabAgainstScikitImage(t *testing.T) {
	for rgb, want := range map[[3]uint8]Lab{
		{255, 0, 0}: {53.241, 80.092, 67.203}, {0, 255, 0}: {87.735, -86.183, 83.18}, {0, 0, 255}: {32.296, 79.186, -107.857},
		{200, 120, 40}: {57.912, 25.295, 54.083}, {18, 90, 140}: {36.618, -2.011, -33.597}, {128, 128, 128}: {53.585, -0.001, 0.003},
		{250, 244, 230}: {96.303, -0.355, 7.454}, {5, 3, 9}: {1.058, 1.357, -2.086},
	} {
		if got := Of(rgb[0], rgb[1], rgb[2]); got.Apart(want) > 0.05 {
			t.Errorf("%v: %.3f; want %.3f", rgb, got, want)
		}
	}
}

// Plain names, as people would say them (common practice).
func TestNames(t *testing.T) {
	for rgb, want := range map[[3]uint8]string{
		{255, 255, 255}: "white", {0, 0, 0}: "black", {128, 128, 128}: "grey", {70, 70, 72}: "dark grey", {205, 205, 205}: "light grey",
		{220, 30, 30}: "red", {240, 220, 40}: "yellow", {30, 140, 60}: "green", {30, 70, 190}: "blue", {240, 140, 30}: "orange",
		{120, 75, 45}: "brown", {15, 30, 90}: "dark blue", {170, 210, 245}: "pale blue", {110, 50, 150}: "violet", {245, 170, 180}: "pink", {250, 240, 215}: "cream",
		{148, 193, 221}: "pale blue", {147, 139, 125}: "warm grey", {20, 120, 130}: "blue-green", {60, 35, 20}: "dark brown",
	} {
		if got := Of(rgb[0], rgb[1], rgb[2]).Name(); got != want {
			c := Of(rgb[0], rgb[1], rgb[2])
			t.Errorf("%v (L %.0f, chroma %.0f, hue %.0f): %s; want %s", rgb, c.L, c.Chroma(), c.Hue(), got, want)
		}
	}
}

// Mixing begins from the paints of a school's box alone.
func TestMixingStarts(t *testing.T) {
	for rgb, want := range map[[3]uint8]string{
		{255, 255, 255}: "the paper is white", {240, 140, 30}: "yellow with some red", {30, 140, 60}: "yellow and blue",
		{170, 210, 245}: "much white", {15, 30, 90}: "touch of black", {120, 75, 45}: "touch of blue",
	} {
		if got := Of(rgb[0], rgb[1], rgb[2]).Mix(Opaque); !strings.Contains(got, want) {
			t.Errorf("%v: %q; want %q", rgb, got, want)
		}
	}
	if white, blue := Of(250, 250, 250).Begin(Watercolour), Of(30, 70, 190).Begin(Opaque); white != "Leave the paper white." || blue != "Begin with blue." {
		t.Errorf("%q, %q", white, blue)
	}
	for h := range 360 {
		for _, chroma := range []float64{3, 15, 30, 60} {
			sin, cos := math.Sincos(float64(h) * math.Pi / 180)
			for l := 5.0; l < 100; l += 10 {
				c := Lab{l, chroma * cos, chroma * sin}
				if c.Name() == "" || c.Mix(Opaque) == "" || strings.Contains(c.Mix(Watercolour), "white") && !c.bare() || strings.Contains(c.Name(), "  ") {
					t.Fatalf("%+v: %q, %q", c, c.Name(), c.Mix(Watercolour))
				}
			}
		}
	}
}

// patches is a picture of coloured cells with a little noise.
func patches(w, h, columns, rows int, at func(column, row int) color.RGBA) *image.RGBA {
	rng := rand.New(rand.NewPCG(1, 1))
	img := image.NewRGBA(image.Rect(0, 0, w, h))
	noisy := func(v uint8) uint8 { return uint8(max(0, min(255, float64(v)+rng.NormFloat64()*3))) }
	for y := range h {
		for x := range w {
			c := at(x*columns/w, y*rows/h)
			img.SetRGBA(x, y, color.RGBA{noisy(c.R), noisy(c.G), noisy(c.B), 255})
		}
	}
	return img
}

var (
	sea  = color.RGBA{30, 90, 150, 255}
	sand = color.RGBA{220, 190, 120, 255}
	buoy = color.RGBA{210, 40, 40, 255}
)

// A picture of three colours has three, with their shares and places.
func TestMainsOfKnownPatches(t *testing.T) {
	img := patches(300, 300, 10, 10, func(column, row int) color.RGBA {
		switch {
		case column < 2 && row < 2:
			return buoy
		case (column+row)%2 == 0:
			return sea
		}
		return sand
	})
	mains := Mains(img)
	if len(mains) != 3 {
		t.Fatalf("%d colours: %+v", len(mains), mains)
	}
	for _, c := range []struct {
		of          color.RGBA
		share, even float64
		spread      string
	}{{sea, 0.48, 0.9, "all over"}, {sand, 0.48, 0.9, "all over"}, {buoy, 0.04, 0, "mostly top left"}} {
		want := Of(c.of.R, c.of.G, c.of.B)
		ok := false
		for _, m := range mains {
			if m.Colour.Apart(want) < 3 {
				ok = math.Abs(m.Share-c.share) < 0.01 && math.Abs(m.Even-c.even) < 0.1 && strings.Contains(m.Spread(), c.spread)
				if !ok {
					t.Errorf("%v: share %.3f, even %.2f, %s", c.of, m.Share, m.Even, m.Spread())
				}
			}
		}
		if !ok {
			t.Errorf("%v is not found as it is", c.of)
		}
	}
}

// Shares add up to no more than all, evenness lies between its bounds, and one
// tone, noise and a single pixel are answered.
func TestLawsOfColours(t *testing.T) {
	rng := rand.New(rand.NewPCG(3, 3))
	for name, img := range map[string]*image.RGBA{
		"one tone":  patches(50, 50, 1, 1, func(int, int) color.RGBA { return sea }),
		"one pixel": patches(1, 1, 1, 1, func(int, int) color.RGBA { return sea }),
		"noise": patches(90, 90, 90, 90, func(int, int) color.RGBA {
			return color.RGBA{uint8(rng.IntN(256)), uint8(rng.IntN(256)), uint8(rng.IntN(256)), 255}
		}),
		"a thread": patches(900, 1, 30, 1, func(c, _ int) color.RGBA { return [...]color.RGBA{sea, sand, buoy}[c%3] }),
	} {
		mains := Mains(img)
		if len(mains) == 0 {
			t.Errorf("%s has no colour", name)
		}
		sum := 0.0
		for _, m := range mains {
			sum += m.Share
			if m.Even < 0 || m.Even > 1 || m.Spread() == "" {
				t.Errorf("%s: %+v", name, m)
			}
		}
		if sum > 1+1e-9 {
			t.Errorf("%s: shares of %v", name, sum)
		}
	}
}

// Two colours that are apart have two names, and are begun apart.
func TestNamesAreApart(t *testing.T) {
	bright, brownish := color.RGBA{230, 40, 30, 255}, color.RGBA{170, 70, 60, 255}
	mains := Mains(patches(200, 200, 2, 1, func(c, _ int) color.RGBA { return [...]color.RGBA{bright, brownish}[c] }))
	if len(mains) != 2 || mains[0].Name == mains[1].Name || mains[0].Begin(Opaque) == mains[1].Begin(Opaque) {
		t.Errorf("%+v; want two names and two beginnings", mains)
	}
	rng := rand.New(rand.NewPCG(9, 9))
	for range 60 {
		var some [6]color.RGBA
		for i := range some {
			some[i] = color.RGBA{uint8(150 + rng.IntN(100)), uint8(rng.IntN(120)), uint8(rng.IntN(90)), 255}
		}
		seen := map[string]bool{}
		for _, m := range Mains(patches(180, 60, 6, 1, func(c, _ int) color.RGBA { return some[c] })) {
			if seen[m.Name] {
				t.Errorf("two colours of %v are called %q", some, m.Name)
			}
			seen[m.Name] = true
		}
	}
}

// In a drawing's photo each colour counts where it is; another colour does not.
func TestLookInADrawing(t *testing.T) {
	mains := Mains(patches(200, 200, 2, 1, func(c, _ int) color.RGBA { return [...]color.RGBA{sea, buoy}[c] }))
	found := Look(patches(200, 200, 4, 1, func(c, _ int) color.RGBA {
		return [...]color.RGBA{sea, {255, 255, 255, 255}, {255, 255, 255, 255}, {255, 255, 255, 255}}[c]
	}), mains)
	for i, m := range mains {
		want := 0.0
		if m.Colour.Apart(Of(sea.R, sea.G, sea.B)) < 5 {
			want = 0.25
		}
		if math.Abs(found[i].Share-want) > 0.02 {
			t.Errorf("%s: %.3f of the drawing; want %.2f", m.Colour.Name(), found[i].Share, want)
		}
	}
}

func BenchmarkMains(b *testing.B) {
	img := patches(1200, 900, 12, 9, func(c, r int) color.RGBA { return [...]color.RGBA{sea, sand, buoy}[(c*r)%3] })
	for b.Loop() {
		Mains(img)
	}
}

// Mirrored, a picture has the same colours with their fields mirrored; in words
// three fields of a row are that row.
func TestMirroredColours(t *testing.T) {
	at := func(c, r int) color.RGBA {
		switch {
		case r == 2:
			return sea
		case c == 0:
			return buoy
		}
		return sand
	}
	a := Mains(patches(150, 150, 3, 3, at))
	b := Mains(patches(150, 150, 3, 3, func(c, r int) color.RGBA { return at(2-c, r) }))
	if len(a) != 3 || len(b) != 3 {
		t.Fatalf("%d and %d colours", len(a), len(b))
	}
	for i := range a {
		if a[i].Colour.Apart(b[i].Colour) > 1 || math.Abs(a[i].Share-b[i].Share) > 0.01 {
			t.Errorf("%+v; mirrored %+v", a[i], b[i])
		}
		for f, v := range a[i].Fields {
			if m := b[i].Fields[f/3*3+2-f%3]; math.Abs(v-m) > 0.05 {
				t.Errorf("field %d has %.2f, mirrored %.2f", f, v, m)
			}
		}
		if a[i].Colour.Apart(Of(sea.R, sea.G, sea.B)) < 3 && a[i].Spread() != "mostly along the bottom" {
			t.Errorf("the sea is %s", a[i].Spread())
		}
	}
}

// How a drawing's colour is told against the picture's.
func TestAgainst(t *testing.T) {
	m := Main{Share: 0.4, Even: 0.8}
	for f, want := range map[Found]string{{Share: 0.01}: "hardly", {Share: 0.2, Even: 0.8}: "less than",
		{Share: 0.7, Even: 0.8}: "more than", {Share: 0.4, Even: 0.4}: "repeat it elsewhere",
		{Share: 0.45, Even: 0.75}: "much as"} {
		if got := m.Against(f); !strings.Contains(got, want) {
			t.Errorf("%+v: %q; want %q", f, got, want)
		}
	}
}
