package render

import (
	"bytes"
	"encoding/xml"
	"image"
	"image/color"
	"image/png"
	"math"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"zestysketch/internal/core/picture"
	"zestysketch/internal/core/sheet"
	"zestysketch/internal/core/values"
)

// rippled is a picture with rings, so that areas have holes.
func rippled(t testing.TB) values.Map {
	t.Helper()
	img := image.NewRGBA(image.Rect(0, 0, 300, 220))
	for y := range 220 {
		for x := range 300 {
			g := uint8(128 + 110*math.Sin(math.Hypot(float64(x)-130, float64(y)-100)/14))
			img.SetRGBA(x, y, color.RGBA{g, g, g, 255})
		}
	}
	m, err := values.New(img, values.Wish{Steps: 4, Rule: values.EvenLight, PerMM: 3, LeastArea: 8, Neck: 1})
	if err != nil {
		t.Fatal(err)
	}
	return m
}

// The SVG is well formed, holds one path for every area, and, drawn by another
// program (the browser's engine by way of a PDF would do as well), shows each
// pixel its own step: here the PDF of the same map, drawn by poppler.
func TestValueMapIsDrawnAsItIs(t *testing.T) {
	m := rippled(t)
	var svg bytes.Buffer
	if err := ValueSVG(&svg, m, false, false); err != nil {
		t.Fatal(err)
	}
	paths, groups := 0, 0
	decoder := xml.NewDecoder(bytes.NewReader(svg.Bytes()))
	for {
		token, err := decoder.Token()
		if token == nil {
			if err.Error() != "EOF" {
				t.Fatal(err)
			}
			break
		}
		if e, ok := token.(xml.StartElement); ok {
			switch e.Name.Local {
			case "path":
				paths++
			case "g":
				groups++
			}
		}
	}
	if paths != len(m.Areas) || groups != len(m.Levels) {
		t.Errorf("%d paths in %d groups; want %d areas in %d steps", paths, groups, len(m.Areas), len(m.Levels))
	}
	for _, d := range strings.Split(svg.String(), ` d="`)[1:] {
		if d, _, _ := strings.Cut(d, `"`); strings.Count(d, "M") != strings.Count(d, "Z") {
			t.Errorf("a path that is not closed: %.60s", d)
		}
	}

	dir := t.TempDir()
	var pdf bytes.Buffer
	if err := PDF(&pdf, []sheet.Page{sheet.ValueMap(m, sheet.ValueFilled, nil)}, nil); err != nil {
		t.Fatal(err)
	}
	file := filepath.Join(dir, "map.pdf")
	if err := os.WriteFile(file, pdf.Bytes(), 0o644); err != nil {
		t.Fatal(err)
	}
	if out, err := exec.Command("pdftoppm", "-png", "-singlefile", "-r", "76.2", file, filepath.Join(dir, "map")).CombinedOutput(); err != nil {
		t.Fatalf("pdftoppm: %v %s", err, out)
	}
	f, err := os.Open(filepath.Join(dir, "map.png"))
	if err != nil {
		t.Fatal(err)
	}
	defer f.Close()
	drawn, err := png.Decode(f)
	if err != nil {
		t.Fatal(err)
	}
	wrong := 0
	for i, a := range m.At {
		want := picture.GreyOf(m.Levels[m.Areas[a].Step].Light)
		r, _, _, _ := drawn.At(i%m.W, i/m.W).RGBA()
		if d := int(r>>8) - int(want); d > 6 || d < -6 {
			wrong++
		}
	}
	// Along borders the renderer mixes two steps within a pixel, and rounding moves them by as much.
	border := 0
	for y := 1; y < m.H; y++ {
		for x := 1; x < m.W; x++ {
			if a := m.At[y*m.W+x]; a != m.At[y*m.W+x-1] || a != m.At[(y-1)*m.W+x] {
				border++
			}
		}
	}
	if inside := wrong - 2*border; float64(inside) > 0.01*float64(len(m.At)) {
		t.Errorf("%d of %d pixels are drawn with another step, %d of them not at a border", wrong, len(m.At), inside)
	}
}
