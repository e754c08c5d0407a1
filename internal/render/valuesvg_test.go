package render

import (
	"bytes"
	"encoding/xml"
	"fmt"
	"image"
	"image/color"
	"image/png"
	"math"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"zestysketch/internal/core/page"
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

// The SVG is well formed, holds one path for every area, and, drawn by librsvg,
// shows each pixel its own step; so does the PDF, drawn by poppler.
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
	file := func(name string, b []byte) string {
		path := filepath.Join(dir, name)
		if err := os.WriteFile(path, b, 0o644); err != nil {
			t.Fatal(err)
		}
		return path
	}
	pg := sheet.ValueMap(m, sheet.ValueLook{Style: sheet.ValueFilled})
	var pdf bytes.Buffer
	if err := PDF(&pdf, "Values", []page.Page{pg}, nil); err != nil {
		t.Fatal(err)
	}
	ours := Pixels(pg, m.PerMM, nil)
	asDrawn(t, m, ours, ours, "our own")
	asDrawn(t, m, ours, drawnBy(t, filepath.Join(dir, "svg.png"), "rsvg-convert", "-w", fmt.Sprint(m.W), "-o", filepath.Join(dir, "svg.png"), file("map.svg", svg.Bytes())), "librsvg")
	asDrawn(t, m, ours, drawnBy(t, filepath.Join(dir, "pdf.png"), "pdftoppm", "-png", "-singlefile", "-r", "76.2", file("map.pdf", pdf.Bytes()), filepath.Join(dir, "pdf")), "poppler")
}

// drawnBy runs a program and returns the picture that it makes.
func drawnBy(t *testing.T, made, program string, args ...string) image.Image {
	t.Helper()
	if out, err := exec.Command(program, args...).CombinedOutput(); err != nil {
		t.Fatalf("%s: %v %s", program, err, out)
	}
	f, err := os.Open(made)
	if err != nil {
		t.Fatal(err)
	}
	defer f.Close()
	img, err := png.Decode(f)
	if err != nil {
		t.Fatal(err)
	}
	return img
}

// asDrawn compares a drawn map with the map itself, wherever no border is
// within two pixels, and with our own drawing of it: the same to 1 % of white.
func asDrawn(t *testing.T, m values.Map, ours, drawn image.Image, by string) {
	t.Helper()
	grey := func(img image.Image, x, y int) int {
		r, _, _, _ := img.At(x, y).RGBA()
		return int(r >> 8)
	}
	away, inside, wrong := 0, 0, 0
	for y := range m.H {
		for x := range m.W {
			away += max(grey(drawn, x, y)-grey(ours, x, y), grey(ours, x, y)-grey(drawn, x, y))
			a, clear := m.At[y*m.W+x], true
			for j := max(0, y-2); j <= min(m.H-1, y+2); j++ {
				for i := max(0, x-2); i <= min(m.W-1, x+2); i++ {
					clear = clear && m.At[j*m.W+i] == a
				}
			}
			if clear {
				inside++
				if d := grey(drawn, x, y) - int(picture.GreyOf(m.Levels[m.Areas[a].Step].Light)); d > 2 || d < -2 {
					wrong++
				}
			}
		}
	}
	if share := float64(away) / 255 / float64(m.W*m.H); share > 0.01 {
		t.Errorf("%s and our own drawing differ by %.2f %%; want 1 %% at most", by, 100*share)
	}
	if inside < m.W*m.H/4 || wrong*200 > inside {
		t.Errorf("%s: %d of %d pixels away from borders have another step", by, wrong, inside)
	}
}
